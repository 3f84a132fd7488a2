package practice_test

import (
	"context"
	"encoding/json"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/check"
	"jetprimer/core/lesson"
	"jetprimer/core/practice"
	"jetprimer/core/stand"
)

// TestAnythingThatIsDoneIsARun: whatever is moved, called, looked at and changed while a
// practice goes on, the run that it leaves comes to the same events, the same levels and
// the same score again; what is refused leaves nothing behind.
func TestAnythingThatIsDoneIsARun(t *testing.T) {
	c, err := shipped()
	require.NoError(t, err)
	rapid.Check(t, func(t *rapid.T) {
		rig := rapid.SampledFrom(c.Rigs).Draw(t, "rig")
		course, _ := c.Course(rig.Type)
		run := practice.Run{Scenario: rapid.SampledFrom(course.Scenarios).Draw(t, "scenario"),
			Seed: rapid.Uint64().Draw(t, "seed"),
			Mode: rapid.SampledFrom(practice.Modes).Draw(t, "mode").ID, Student: "student", Began: began}
		s, err := course.Begin(run)
		require.NoError(t, err)
		panel := s.Machine.Panel()
		for range rapid.IntRange(0, 25).Draw(t, "deeds") {
			item := rapid.SampledFrom(s.State.Items).Draw(t, "item").ID
			var d practice.Deed
			switch rapid.IntRange(0, 5).Draw(t, "kind") {
			case 0, 1:
				p := rapid.SampledFrom(panel.Controls).Draw(t, "control")
				d = moved(0, p.Control, p.Engine, rapid.SampledFrom([]float64{0, 0.2, 0.6, 1}).Draw(t, "to"))
			case 2, 3:
				d = called(0,
					rapid.SampledFrom([]string{"done", "normal", "abnormal", "ask", "open", "reading", "undo",
						"hope"}).Draw(t, "call"), item)
			case 4:
				d = practice.Deed{
					Look: &practice.Look{
						Gauge: rapid.IntRange(-1, 30).Draw(t, "gauge"), Open: rapid.Bool().Draw(t, "open"),
					},
				}
			default:
				d = practice.Deed{
					Change: &practice.Change{
						Slip: &stand.Slipped{Fault: rapid.SampledFrom(c.Faults).Draw(t, "fault").ID, Severity: 1},
					},
				}
			}
			before := len(s.Run().Deeds)
			if err := s.Do(d); err != nil {
				assert.Len(t, s.Run().Deeds, before)
			}
			for range rapid.IntRange(0, 200).Draw(t, "ticks") {
				s.Step()
			}
		}
		require.NoError(t,
			s.Decide(rapid.SampledFrom([]string{"normal-for-type", "cleared", "carried-on", "deferred", "grounded"}).
				Draw(t, "decision"), ""))
		score, err := s.Score(context.Background())
		require.NoError(t, err)
		again, err := course.Replay(context.Background(), s.Run(), nil)
		require.NoError(t, err)
		twice, err := again.Score(context.Background())
		require.NoError(t, err)
		if score.Digest() != twice.Digest() {
			t.Fatalf("%d events once, %d again", score.State.Events, twice.State.Events)
		}
		assert.Empty(t, score.State.Refused)
		assert.Len(t, score.Noticed, len(s.Faults()))
		for _, i := range score.State.Items {
			assert.True(t, i.Level == nil || *i.Level >= 0 && *i.Level <= 4)
		}
		for _, n := range score.Noticed {
			assert.True(t, n.Reaction == nil || *n.Reaction >= 0 && n.Seen != nil)
		}
	})
}

// TestGoingBack: a run up to a tick is as if nothing later had been done.
func TestGoingBack(t *testing.T) {
	c := course(t, "willow-t5")
	run := good(t, c, scenario(t, c, "turbine-first"))
	half := run.Until(run.Ticks / 2)
	assert.Empty(t, half.Decision)
	s, err := c.Replay(context.Background(), half, nil)
	require.NoError(t, err)
	assert.Equal(t, half.Ticks, s.Machine.Tick())
	for s.Machine.Tick() < run.Ticks {
		for _, d := range run.Deeds {
			if d.Tick == s.Machine.Tick() && d.Tick > half.Ticks {
				require.NoError(t, s.Do(d))
			}
		}
		s.Step()
	}
	for _, d := range run.Deeds {
		if d.Tick == run.Ticks {
			require.NoError(t, s.Do(d))
		}
	}
	whole, err := c.Replay(context.Background(), run.Until(run.Ticks), nil)
	require.NoError(t, err)
	assert.Equal(t, whole.State.EventHash, s.State.EventHash)
}

// TestPortions: what is weak is brought back in portions of at most ten minutes on every
// type: the stand works the list up to where the student begins, and what the student
// then does is graded alone.
func TestPortions(t *testing.T) {
	c, err := shipped()
	require.NoError(t, err)
	for _, rig := range c.Rigs {
		t.Run(rig.Type, func(t *testing.T) {
			t.Parallel()
			c := course(t, rig.Type)
			flown, err := c.Flown(c.Scenarios[0])
			require.NoError(t, err)
			weak := []practice.Weak{}
			for i, p := range flown.List.Places() {
				if i%4 == 0 {
					weak = append(weak, practice.Weak{
						Item: p.Item.ID, Why: "shown once, 40 days ago", Weight: float64(1 + i%3),
					})
				}
			}
			portions, err := c.Portions(context.Background(), weak, 3)
			require.NoError(t, err)
			require.NotEmpty(t, portions)
			assert.LessOrEqual(t, len(portions), 3)
			for n, p := range portions {
				assert.LessOrEqual(t, p.Minutes, 10)
				assert.Positive(t, p.Minutes)
				assert.Equal(t, p.Items[0].Item, p.From)
				assert.Equal(t, "shown once, 40 days ago", p.Items[0].Why)
				assert.True(t, n%2 == 1 || len(p.Scenario.Faults) == 0)
				assert.Empty(t, p.Scenario.Problems(c.Library()))
				s, err := c.Begin(practice.Run{
					Scenario: p.Scenario, Seed: 1, Mode: practice.Alone, Student: "student", Began: began, From: p.From,
				})
				require.NoError(t, err)
				require.NoError(t, s.LeadIn())
				assert.Equal(t, p.From, s.Next().Item, p.Title)
				shown := 0
				for _, i := range s.State.Items {
					if i.Status == "shown" {
						shown++
					}
				}
				assert.Equal(t, s.Live, shown, "what the stand did is no work of the student")
				assert.Empty(t, s.State.Errors)
				require.NoError(t, s.Decide(stand.Normal, ""))
				score, err := s.Score(context.Background())
				require.NoError(t, err)
				assert.Nil(t, score.Level)
				assert.Equal(t, len(p.Scenario.Faults) == 0, score.Answer.Right)
			}
			none, err := c.Portions(context.Background(), nil, 3)
			require.NoError(t, err)
			assert.Empty(t, none)
		})
	}
}

// TestShownItemByItem: in the mode that shows, every item of every scenario is shown in
// its order until a check says stop, and no level comes of it.
func TestShownItemByItem(t *testing.T) {
	c, err := shipped()
	require.NoError(t, err)
	for _, rig := range c.Rigs {
		course := course(t, rig.Type)
		for _, s := range course.Scenarios {
			t.Run(s.ID, func(t *testing.T) {
				t.Parallel()
				run, err := course.Show(s, 1, "student", began, "")
				require.NoError(t, err)
				done, err := course.Replay(context.Background(), run, nil)
				require.NoError(t, err)
				stopped := false
				for _, item := range done.State.Items {
					assert.Nil(t, item.Level, item.ID)
					if stopped = stopped || item.Status == ""; stopped {
						assert.Empty(t, item.Status, "%s after one that was not shown", item.ID)
					} else {
						assert.Equal(t, "shown", item.Status)
					}
				}
				assert.Empty(t, done.State.Errors)
				if len(s.Faults) == 0 {
					assert.False(t, stopped, "a sound engine is shown to the end")
				}
				ordered := slices.IsSortedFunc(run.Deeds, func(a, b practice.Deed) int { return a.Tick - b.Tick })
				assert.True(t, ordered)
			})
		}
	}
}

// FuzzRun: a run that comes from outside is refused or replayed, whatever is in it.
func FuzzRun(f *testing.F) {
	c, err := shipped()
	require.NoError(f, err)
	alder, _ := c.Course("alder-110")
	short := practice.Run{Scenario: alder.Scenarios[0], Seed: 1, Mode: practice.Guided, Student: "s", Began: began,
		Ticks: 200, Decision: "grounded", Deeds: []practice.Deed{
			moved(1, "master", 0, 1), called(2, "done", "brakes-set"),
			{Tick: 3, Look: &practice.Look{Gauge: 1, Open: true}},
			{Tick: 4, Change: &practice.Change{Outside: &stand.Passer{What: "person", For: 3}}}, called(9, "open",
				"crank"), moved(10, "starter", 1, 1)}}
	seed, err := json.Marshal(short)
	require.NoError(f, err)
	f.Add(seed)
	f.Fuzz(func(t *testing.T, data []byte) {
		var run practice.Run
		if json.Unmarshal(data, &run) != nil {
			return
		}
		run.Ticks = min(run.Ticks, 2000)
		if s, err := alder.Replay(context.Background(), run, nil); err == nil && run.Decision != "" {
			_, err := s.Score(context.Background())
			require.NoError(t, err)
		}
	})
}

// TestWhatIsSpoiltCanBeFound: where a portion has something wrong, whoever works it on from
// there as it should be reads a finding that its fault makes.
func TestWhatIsSpoiltCanBeFound(t *testing.T) {
	c, err := shipped()
	require.NoError(t, err)
	all := 0
	for _, rig := range c.Rigs {
		t.Run(rig.Type, func(t *testing.T) {
			c := course(t, rig.Type)
			flown, err := c.Flown(c.Scenarios[0])
			require.NoError(t, err)
			weak := []practice.Weak{}
			for _, p := range flown.List.Places() {
				weak = append(weak, practice.Weak{Item: p.Item.ID, Why: "shown once", Weight: 1})
			}
			spoilt := 0
			for seed := range uint64(1) {
				portions, err := c.Portions(context.Background(), weak, seed)
				require.NoError(t, err)
				for _, p := range portions {
					if len(p.Scenario.Faults) == 0 {
						continue
					}
					spoilt++
					run, err := c.Show(p.Scenario, 1, "student", began, "")
					require.NoError(t, err)
					s, err := c.Replay(context.Background(), run, nil)
					require.NoError(t, err)
					fault, known := c.Library().Fault(p.Scenario.Faults[0].Fault)
					require.True(t, known)
					found := slices.ContainsFunc(s.State.Readings, func(r lesson.Reading) bool {
						return r.Verdict != nil && slices.ContainsFunc(r.Verdict.Findings, func(f check.Finding) bool {
							return slices.ContainsFunc(slices.Concat(fault.Finds, fault.Also),
								func(s stand.Sign) bool { return s.Check == r.Check && s.Finding == f.Code })
						})
					})
					assert.True(t, found, "%s in %s", fault.ID, p.Title)
				}
			}
			all += spoilt
		})
	}
	assert.Greater(t, all, 3)
}
