package compare_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"jetprimer/core/compare"
)

// TestWhatIsTaughtBadly: what surely goes wrong stands in front of what may have
// done so by chance, small numbers stand last and say so, and a change is told
// only where the months surely differ.
func TestWhatIsTaughtBadly(t *testing.T) {
	tally := func(item string, recent bool, observed, prompted, wrong int) compare.Tally {
		return compare.Tally{
			Type: "alder-110", Item: item, Recent: recent, Observed: observed, Prompted: prompted, Wrong: wrong,
		}
	}
	taught := compare.TaughtOf([]compare.Tally{
		tally("brief", false, 40, 10, 16), tally("brief", true, 40, 1, 2),
		tally("crank", false, 10, 0, 3), tally("crank", true, 4, 0, 1),
		tally("rare", true, 4, 2, 2),
		tally("mixture", false, 60, 30, 0), tally("mixture", true, 20, 9, 0),
		tally("sound", false, 50, 0, 0),
	})
	var order []string
	for _, one := range taught {
		order = append(order, one.Item+" "+one.Change)
	}
	assert.Equal(t, []string{"brief better", "crank ", "mixture ", "sound ", "rare "}, order)
	assert.Equal(t, "wrong in 18 of 80 lessons, a word or a hand in 11; better than before", taught[0].Words)
	assert.Equal(t, "observed in 4 of the 12 lessons that a rate needs", taught[4].Words)
	assert.InDelta(t, 0.147, taught[0].Wrong.Low, 0.001)
	assert.InDelta(t, 0.328, taught[0].Wrong.High, 0.001)
	assert.Empty(t, compare.TaughtOf(nil))
}

// TestARateLiesInItsInterval, which lies from none to all.
func TestARateLiesInItsInterval(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		of := rapid.IntRange(1, 500).Draw(t, "of")
		wrong := rapid.IntRange(0, of).Draw(t, "wrong")
		one := compare.TaughtOf([]compare.Tally{{Item: "i", Observed: of, Wrong: wrong}})[0]
		assert.True(t,
			0 <= one.Wrong.Low && one.Wrong.Low <= one.Wrong.Rate && one.Wrong.Rate <= one.Wrong.High &&
				one.Wrong.High <= 1, one.Wrong)
	})
}

// TestGroupsAreTheSumOfTheirItems: whatever is counted, each group has what its items
// have, and what has no group is in none.
func TestGroupsAreTheSumOfTheirItems(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var tallies []compare.Tally
		want := map[string]int{}
		for range rapid.IntRange(0, 30).Draw(t, "items") {
			one := compare.Tally{Type: rapid.SampledFrom([]string{"a", "b"}).Draw(t, "type"),
				Item:     rapid.SampledFrom([]string{"x", "y", "z"}).Draw(t, "item"),
				Observed: rapid.IntRange(1, 40).Draw(t, "observed"), Recent: rapid.Bool().Draw(t, "recent")}
			tallies = append(tallies, one)
			if one.Item != "z" {
				want["of "+one.Item] += one.Observed
			}
		}
		got := map[string]int{}
		for _, g := range compare.TaughtOf(compare.By(tallies, func(t compare.Tally) string {
			if t.Item == "z" {
				return ""
			}
			return "of " + t.Item
		})) {
			got[g.Item] += g.Wrong.Of
		}
		assert.Equal(t, want, got)
	})
}

func TestQuestionsThatAreMissed(t *testing.T) {
	got := compare.QuestionsOf([]compare.QuestionTally{{"seldom", 3, 3}, {"known", 200, 2}, {"missed", 40, 12}})
	var names []string
	for _, q := range got {
		names = append(names, q.Question)
	}
	assert.Equal(t, []string{"missed", "known", "seldom"}, names)
	assert.True(t, got[2].Few)
	assert.InDelta(t, 0.3, got[0].Missed.Rate, 1e-9)
	assert.Equal(t, 1.0, compare.Done(1, 1e-9))
	assert.Less(t, compare.Done(1, 0.5), compare.Done(1, 0.1))
}
