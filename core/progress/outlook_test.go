package progress_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/progress"
)

func TestAnOutlookByHand(t *testing.T) {
	// One becomes ready on the tenth day after four lessons; one on the 40th after ten,
	// or, as likely, not before anybody did.
	got := progress.Outlook("2026-11-21", 3, []progress.Ahead{
		{Class: "single", Ways: []progress.Way{{Lessons: 4, Days: 10, Chance: 1}}},
		{Class: "single", Ways: []progress.Way{{Lessons: 10, Days: 40, Chance: 0.5}}},
		{Class: "twin"},
	})
	require.Len(t, got, 3)
	assert.Equal(t, []string{"2026-11", "2026-11-21", "2026-12-01"}, []string{got[0].Month, got[0].From, got[0].To})
	assert.Equal(t, progress.Expected{Low: 1, Mean: 1, High: 1}, got[0].Checkrides)
	assert.Equal(t, progress.Expected{Low: 0, Mean: 0.5, High: 1}, got[1].Checkrides)
	// In the ten days of November four lessons and two and a half, however long the
	// second takes; in December 7.5 of them, or as many as its 31 days hold.
	assert.InDelta(t, 6.5, got[0].Lessons["single"].Mean, 1e-9)
	assert.InDelta(t, 0.5*7.5+0.5*7.75, got[1].Lessons["single"].Mean, 1e-9)
	assert.InDelta(t, 0.5*7.75, got[2].Lessons["single"].Mean, 1e-9)
	assert.NotContains(t, got[0].Lessons, "twin", "of whom nothing can be told")
}

// TestOutlooksHold: what is said of a month holds what comes of it in some eight of
// ten cases, counts being whole.
func TestOutlooksHold(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	var students []progress.Ahead
	for range 40 {
		var ways []progress.Way
		for range 20 {
			days := 10 + r.IntN(120)
			ways = append(ways, progress.Way{Lessons: 2 + days/6, Days: days, Chance: 0.05})
		}
		students = append(students, progress.Ahead{Class: "single", Ways: ways})
	}
	months := progress.Outlook("2026-12-01", 3, students)
	held, lessons := 0, 0
	const times = 2000
	for range times {
		rides, flown := 0.0, 0.0
		for _, s := range students {
			w := s.Ways[r.IntN(len(s.Ways))]
			if w.Days > 31 && w.Days <= 62 {
				rides++
			}
			flown += float64(w.Lessons) * max(0, min(62, float64(w.Days))-31) / float64(w.Days)
		}
		if e := months[1].Checkrides; rides >= e.Low && rides <= e.High {
			held++
		}
		if e := months[1].Lessons["single"]; flown >= e.Low && flown <= e.High {
			lessons++
		}
	}
	assert.InDelta(t, 0.85, float64(held)/times, 0.06)
	assert.InDelta(t, 0.8, float64(lessons)/times, 0.04)
}
