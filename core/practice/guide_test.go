package practice_test

import (
	"context"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/lesson"
	"jetprimer/core/practice"
	"jetprimer/core/stand"
)

// TestAGoodStudentIsNeverTold: on every type whoever works the list as it should be is
// told of nothing while being guided: no item counts as prompted.
func TestAGoodStudentIsNeverTold(t *testing.T) {
	c, err := shipped()
	require.NoError(t, err)
	for _, rig := range c.Rigs {
		t.Run(rig.Type, func(t *testing.T) {
			t.Parallel()
			c := course(t, rig.Type)
			run := good(t, c, c.Scenarios[0])
			run.Mode = practice.Guided
			said := []string{}
			s, err := c.Replay(context.Background(), run, func(s *practice.Session) {
				if s.Said != "" && (len(said) == 0 || said[len(said)-1] != s.Said) {
					said = append(said, s.Said)
				}
			})
			require.NoError(t, err)
			assert.Empty(t, said)
			for _, i := range s.State.Items {
				assert.Equal(t, "done", i.Mark, i.ID)
			}
		})
	}
}

// TestEveryWrongStepIsExplained: wherever a student is, a control that belongs to a later
// item is explained by that item and by what comes first; the controls that the guide names
// are never scolded.
func TestEveryWrongStepIsExplained(t *testing.T) {
	c, err := shipped()
	require.NoError(t, err)
	rapid.Check(t, func(t *rapid.T) {
		rig := rapid.SampledFrom(c.Rigs).Draw(t, "rig")
		course, _ := c.Course(rig.Type)
		s, err := course.Begin(practice.Run{
			Scenario: course.Scenarios[0], Seed: 1, Mode: practice.Guided, Student: "student", Began: began,
		})
		require.NoError(t, err)
		for range rapid.IntRange(0, 6).Draw(t, "on") {
			require.NoError(t, s.Do(called(0, "open", s.State.Items[min(s.Live+1, len(s.State.Items)-1)].ID)))
		}
		g := s.Next()
		p := rapid.SampledFrom(s.Machine.Panel().Controls).Draw(t, "control")
		require.NoError(t, s.Do(moved(0, p.Control, p.Engine, 1)))
		now := s.Next()
		switch {
		case slices.Contains(g.Controls, p.Control) || p.Control == "brakes":
			assert.Empty(t, now.Told, "%s at %s", p.Control, g.Challenge)
		case now.Item == g.Item && now.Told != "":
			assert.Contains(t, now.Told, g.Response)
			assert.Regexp(t, "Not yet|comes later", now.Told)
		}
		require.NoError(t, s.Do(called(0, "ask", "")))
		assert.Contains(t, s.Next().Told, s.Next().Challenge)
		require.NoError(t, s.Do(called(0, "undo", "")))
	})
}

// TestTheInstructorMarks: marks from the station stand in the lesson as an instructor's do,
// at their items, whatever the student calls; a student takes back only what is their own.
func TestTheInstructorMarks(t *testing.T) {
	c := course(t, "alder-110")
	by := func(name, item string, change func(m *lesson.Mark)) practice.Deed {
		d := called(0, name, item)
		d.Call.Instructor = true
		if change != nil {
			change(&d.Call.Mark)
		}
		return d
	}
	level := 1
	clean := good(t, c, scenario(t, c, "first-start"))
	place := at(t, clean, "avionics-on")
	for name, of := range map[string]struct {
		deed practice.Deed
		mark string
		want int
	}{
		"prompted": {by("prompted", "avionics-on", nil), "prompted", 2},
		"helped":   {by("helped", "avionics-on", nil), "helped", 1},
		"wrong":    {by("wrong", "avionics-on", nil), "wrong", 1},
		"an error": {by("error", "avionics-on", func(m *lesson.Mark) { m.Code = "wrong-switch" }), "wrong", 1},
		"override": {
			by("override", "avionics-on",
				func(m *lesson.Mark) { m.Level, m.Why = &level, "a long look for the switch" }),
			"done", 1,
		},
	} {
		score := scored(t, c, then(clean, place, 0, of.deed))
		got := item(t, score, "avionics-on")
		assert.LessOrEqual(t, *got.Level, 3, name)
		if name != "an error" {
			assert.Equal(t, of.mark, got.Mark, name)
			assert.Equal(t, of.want, *got.Level, name)
		}
		assert.Equal(t, 1, score.Off, name)
	}
	kept := scored(t, c, then(clean, place, 0, by("prompted", "avionics-off", nil), called(0, "undo", "")))
	assert.Equal(t, "prompted", item(t, kept, "avionics-off").Mark, "the student takes back their own touch")
	for _, name := range []string{"done", "reading", "undo", "end", "observer", "practice", "sealed"} {
		_, err := c.Replay(context.Background(), then(clean, place, 0, by(name, "avionics-on", nil)), nil)
		assert.ErrorContains(t, err, "nothing that can be called here", name)
	}
	for _, name := range []string{"prompted", "override", "end", "observer", "hours", "control", "round"} {
		_, err := c.Replay(context.Background(), then(clean, place, 0, called(0, name, "avionics-on")), nil)
		assert.ErrorContains(t, err, "nothing that can be called here", name)
	}
}

// TestEveryDecisionEnds: whatever is decided, on whatever was found, the lesson is ended,
// every reading and finding has the decision with its reason, and nothing can follow.
func TestEveryDecisionEnds(t *testing.T) {
	c := course(t, "alder-110")
	run := good(t, c, scenario(t, c, "rough-on-right"))
	for _, decision := range lesson.Decisions {
		for _, why := range []string{"", "as I see it"} {
			run.Decision, run.Why = decision, why
			score := scored(t, c, run)
			assert.True(t, score.State.Ended)
			for _, r := range score.State.Readings {
				assert.False(t, r.Open, "%s: %s", decision, r.Item)
				if r.Decision != nil {
					assert.Contains(t, []string{decision, "grounded"}, r.Decision.Decision)
					assert.True(t, r.Decision.Decision == decision || decision == "cleared",
						"only what was not tried again is not as it was said")
					assert.NotEmpty(t, r.Decision.Why)
				}
			}
			for _, f := range score.State.Findings {
				require.NotNil(t, f.Decision)
				assert.True(t,
					f.Decision.Decision == decision || decision == "cleared" && f.Decision.Decision == "grounded")
			}
			assert.Equal(t, decision == score.Answer.Asked, score.Answer.Right)
			assert.Empty(t, score.State.Problems, "nothing is left to be settled")
		}
	}
}

// TestWear: what a run does to its engines is told in words where it is more than a good
// hand leaves, and a good hand leaves none on a sound engine.
func TestWear(t *testing.T) {
	c := course(t, "alder-110")
	s := scenario(t, c, "first-start")
	assert.Empty(t, scored(t, c, good(t, c, s)).Worn)
	ground := practice.Run{Scenario: s, Seed: 1, Mode: practice.Alone, Student: "student", Began: began,
		Ticks: 3 * 60 * 50, Decision: "grounded",
		Deeds: []practice.Deed{moved(1, "master", 0, 1)}}
	for n := range 5 {
		ground.Deeds = append(ground.Deeds, moved(100+n*1600, "starter", 1, 1), moved(100+n*1600+1500, "starter", 1, 0))
	}
	score := scored(t, c, ground)
	require.NotEmpty(t, score.Worn)
	assert.Contains(t, score.Worn[0], "starter")
	assert.Contains(t, codes(score), "starter-too-long")
	assert.Greater(t, score.Wear.StarterHeat, 0.7)
	assert.Equal(t, stand.Wear{}.HotSeconds, score.Wear.HotSeconds)
}
