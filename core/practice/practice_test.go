package practice_test

import (
	"context"
	"encoding/json"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/practice"
	"jetprimer/core/stand"
)

var shipped = sync.OnceValues(catalog.Shipped)

const began = "2026-11-27T09:00:00Z"

func course(t testing.TB, typ string) practice.Course {
	t.Helper()
	c, err := shipped()
	require.NoError(t, err)
	out, known := c.Course(typ)
	require.True(t, known, typ)
	return out
}

func scenario(t testing.TB, c practice.Course, id string) stand.Scenario {
	t.Helper()
	for _, s := range c.Scenarios {
		if s.ID == id {
			return s
		}
	}
	t.Fatalf("no scenario %s", id)
	return stand.Scenario{}
}

// good is a scenario as a good student works it alone: what the stand would show, called
// by the student.
func good(t testing.TB, c practice.Course, s stand.Scenario) practice.Run {
	t.Helper()
	run, err := c.Show(s, 1, "student", began, "")
	require.NoError(t, err)
	run.Mode, run.Decision = practice.Alone, stand.Normal
	for i := range run.Deeds {
		if call := run.Deeds[i].Call; call != nil && call.Name == "shown" {
			call.Name = "done"
		}
	}
	return run
}

func scored(t testing.TB, c practice.Course, run practice.Run) practice.Score {
	t.Helper()
	s, err := c.Replay(context.Background(), run, nil)
	require.NoError(t, err)
	score, err := s.Score(context.Background())
	require.NoError(t, err)
	return score
}

func item(t testing.TB, s practice.Score, id string) lesson.ItemState {
	t.Helper()
	for _, i := range s.State.Items {
		if i.ID == id {
			return i
		}
	}
	t.Fatalf("no item %s", id)
	return lesson.ItemState{}
}

func codes(s practice.Score) []string {
	out := []string{}
	for _, e := range s.State.Errors {
		out = append(out, e.Code)
	}
	return out
}

// at is the place of the deed that calls an item, by the last call of it.
func at(t testing.TB, run practice.Run, id string) int {
	t.Helper()
	for i := len(run.Deeds) - 1; i >= 0; i-- {
		if c := run.Deeds[i].Call; c != nil && c.Item == id {
			return i
		}
	}
	t.Fatalf("%s is not called", id)
	return 0
}

func moved(tick int, control string, engine int, value float64) practice.Deed {
	return practice.Deed{Tick: tick, Move: &practice.Move{Control: control, Engine: engine, Value: value}}
}

func called(tick int, name, item string) practice.Deed {
	return practice.Deed{Tick: tick, Call: &practice.Call{Mark: lesson.Mark{Name: name, Item: item}}}
}

// then puts deeds after a place; whatever comes later comes that much later.
func then(run practice.Run, place, ticks int, deeds ...practice.Deed) practice.Run {
	out := run
	from := run.Deeds[place].Tick
	out.Deeds = slices.Clone(run.Deeds[:place+1])
	for _, d := range deeds {
		d.Tick += from
		out.Deeds = append(out.Deeds, d)
	}
	for _, d := range run.Deeds[place+1:] {
		d.Tick += ticks
		out.Deeds = append(out.Deeds, d)
	}
	out.Ticks += ticks
	return out
}

// TestAGoodStudentIsGradedSo: on every type the list as practised, worked as it should
// be, is at the top level item by item, with no error; the same run is the same score.
func TestAGoodStudentIsGradedSo(t *testing.T) {
	c, err := shipped()
	require.NoError(t, err)
	for _, rig := range c.Rigs {
		t.Run(rig.Type, func(t *testing.T) {
			t.Parallel()
			c := course(t, rig.Type)
			run := good(t, c, c.Scenarios[0])
			score := scored(t, c, run)
			assert.Empty(t, codes(score))
			for _, i := range score.State.Items {
				if assert.NotNil(t, i.Level, i.ID) {
					assert.Equal(t, 4, *i.Level, "%s: %v", i.ID, i.Reasons)
				}
				assert.Empty(t, i.Broken, i.ID)
			}
			for _, r := range score.State.Readings {
				assert.Empty(t, r.Unusable, r.Item)
			}
			assert.Equal(t, 4, *score.Level)
			assert.GreaterOrEqual(t, score.Right, 30)
			assert.Zero(t, score.Off)
			assert.Equal(t, "stand", score.State.Practice)
			assert.True(t, score.State.Ended)
			assert.Empty(t, score.State.Problems)
			assert.True(t, score.Answer.Right)

			// A run is kept as JSON and comes back the same.
			text, err := json.Marshal(run)
			require.NoError(t, err)
			var again practice.Run
			require.NoError(t, json.Unmarshal(text, &again))
			assert.Equal(t, score.Digest(), scored(t, c, again).Digest())
			again.Seed++
			assert.NotEqual(t, score.Digest(), scored(t, c, again).Digest(),
				"another shake of the needles is another run")
		})
	}
}

// TestWhatIsPractisedCanBeShown: nothing on a list as practised is without a needle, a
// control or a word, every act fits an item of some list, and what comes before an item is
// on the list itself.
func TestWhatIsPractisedCanBeShown(t *testing.T) {
	c, err := shipped()
	require.NoError(t, err)
	used := map[string]bool{}
	for _, rig := range c.Rigs {
		course := course(t, rig.Type)
		panel := stand.New(course.Rig, course.Type, stand.StandardDay, 1).Panel()
		for _, s := range course.Scenarios {
			flown, err := course.Flown(s)
			require.NoError(t, err, s.ID)
			require.Empty(t, flown.List.Problems(), s.ID)
			for _, p := range flown.List.Places() {
				of := p.Item.Of
				if of == "" {
					of = p.Item.ID
				}
				used[of] = true
				for _, a := range course.Acts {
					if a.Item != of {
						continue
					}
					for _, w := range slices.Concat(a.Moved, a.Stands) {
						assert.True(t,
							slices.ContainsFunc(panel.Controls,
								func(p stand.PanelControl) bool { return p.Control == w.Control }),
							"%s: the panel has no %s for %s", rig.Type, w.Control, of)
					}
				}
			}
			places := flown.List.Places()
			if slices.ContainsFunc(places, func(p checklist.Place) bool { return p.Item.ID == "fuel-fuller" }) {
				assert.False(t,
					slices.ContainsFunc(places, func(p checklist.Place) bool { return p.Item.ID == "fuel-lower" }),
					"one tank is started on")
			}
			if s.Until != "" {
				last := places[len(places)-1].Item
				assert.Contains(t, []string{last.ID, last.Of}, s.Until, s.ID)
			}
		}
	}
	for _, a := range c.Acts {
		assert.True(t, used[a.Item], "%s is on no list as practised", a.Item)
	}
}

// TestMistakesAreGraded: each mistake in an otherwise good run is the error that an
// instructor would note, on its item, and nothing else.
func TestMistakesAreGraded(t *testing.T) {
	c := course(t, "alder-110")
	s := scenario(t, c, "first-start")
	clean := good(t, c, s)
	cut := func(run practice.Run, drop func(d practice.Deed) bool) practice.Run {
		run.Deeds = slices.DeleteFunc(slices.Clone(run.Deeds), drop)
		return run
	}
	near := func(what string) func(t *testing.T) practice.Run {
		return func(t *testing.T) practice.Run {
			run := clean
			run.Scenario.Outside = []stand.Passer{{What: what, From: 0, For: 2000}}
			return run
		}
	}
	for name, of := range map[string]struct {
		run   func(t *testing.T) practice.Run
		code  string
		level int
		item  string
	}{
		"avionics called off, and left on": {func(t *testing.T) practice.Run {
			return then(clean, at(t, clean, "brakes-set"), 0, moved(0, "avionics", 0, 1))
		}, "answered-without-looking", 2, "avionics-off"},
		"the starter without a call": {func(t *testing.T) practice.Run {
			return cut(clean, func(d practice.Deed) bool { return d.Call != nil && d.Call.Item == "area-clear" })
		}, "no-verbal-clear", 0, ""},
		"the starter held too long": {func(t *testing.T) practice.Run {
			return then(clean, at(t, clean, "area-clear"), 13*50, moved(0, "starter", 1, 1),
				moved(12*50, "starter", 1, 0))
		}, "starter-too-long", 2, ""},
		"the aircraft rolls in the run-up": {func(t *testing.T) practice.Run {
			return then(clean, at(t, clean, "runup-power"), 6*50, moved(0, "throttle", 1, 0.7),
				moved(1, "brakes", 0, 0), moved(5*50, "brakes", 0, 1), moved(5*50, "throttle", 1, 0.2))
		}, "brake-creep", 0, ""},
		"back to BOTH with the throttle open": {func(t *testing.T) practice.Run {
			return then(clean, at(t, clean, "magnetos"), 50, moved(0, "throttle", 1, 0.5), moved(1, "ignition", 1, 0),
				moved(10, "ignition", 1, 3))
		}, "back-to-both", 0, ""},
		"heat left on at full power": {func(t *testing.T) practice.Run {
			return then(clean, at(t, clean, "carb-heat-off"), 6*50, moved(0, "heat", 1, 1), moved(1, "throttle", 1, 1),
				moved(5*50, "heat", 1, 0), moved(5*50, "throttle", 1, 0))
		}, "heat-left-on", 2, ""},
		"full power with the mixture far back": {func(t *testing.T) practice.Run {
			return then(clean, at(t, clean, "mixture-takeoff"), 6*50, moved(0, "mixture", 1, 0.5),
				moved(1, "throttle", 1, 0.95), moved(5*50, "mixture", 1, 1), moved(5*50, "throttle", 1, 0))
		}, "mixture-moment", 2, ""},
		"too fast after the start": {func(t *testing.T) practice.Run {
			return then(clean, at(t, clean, "crank"), 10*50, moved(0, "throttle", 1, 0.8),
				moved(5*50, "throttle", 1, 0.1))
		}, "over-speed", 2, ""},
		"somebody near the propeller":   {near(stand.SomebodyNear), "unsafe-act", 0, ""},
		"another aircraft in the blast": {near(stand.AircraftBehind), "unsafe-act", 0, ""},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			score := scored(t, c, of.run(t))
			require.Contains(t, codes(score), of.code)
			found := score.State.Errors[slices.IndexFunc(score.State.Errors,
				func(e lesson.Error) bool { return e.Code == of.code })]
			if of.item != "" {
				assert.Equal(t, of.item, found.Item)
			}
			assert.LessOrEqual(t, *item(t, score, found.Item).Level, of.level)
			assert.Positive(t, score.Off)
			for _, code := range codes(score) {
				assert.Contains(t, []string{of.code, "answered-without-looking", "over-speed"}, code)
			}
		})
	}
}

// TestWhatIsPassedOver: a student who jumps ahead leaves out what was to be done, and
// passes what was done already.
func TestWhatIsPassedOver(t *testing.T) {
	c := course(t, "alder-110")
	run := practice.Run{Scenario: scenario(t, c, "first-start"), Seed: 3, Mode: practice.Alone, Student: "student",
		Began: began, Ticks: 100, Decision: "grounded",
		Deeds: []practice.Deed{moved(1, "mixture", 1, 1), moved(1, "master", 0, 1), called(60, "open", "area-clear")}}
	score := scored(t, c, run)
	assert.Equal(t, "left-out", item(t, score, "brakes-set").Mark, "the brakes were never set")
	assert.Equal(t, "left-out", item(t, score, "master-on").Mark, "its voltage was never read")
	done := item(t, score, "mixture-rich")
	assert.Equal(t, "passed", done.Mark)
	assert.Equal(t, []string{"Said not to be normal."}, []string{score.State.Findings[0].Words})
	assert.Equal(t, "grounded", score.State.Findings[0].Decision.Decision)
	assert.False(t, score.Answer.Right)
}

// TestAnAbnormalReading: the verdict of the rules is held to what the student says of it.
func TestAnAbnormalReading(t *testing.T) {
	c := course(t, "alder-110")
	s := scenario(t, c, "cold-cylinder")
	missed := good(t, c, s)
	missed.Decision = stand.Normal
	score := scored(t, c, missed)
	assert.Contains(t, codes(score), "abnormal-not-noticed")
	assert.False(t, score.Answer.Right)
	require.Len(t, score.Noticed, 1)
	assert.NotNil(t, score.Noticed[0].Seen)
	assert.Nil(t, score.Noticed[0].Said)

	found := missed
	place := at(t, missed, "magnetos")
	found.Deeds = slices.Insert(slices.Clone(missed.Deeds), place,
		called(missed.Deeds[place].Tick, "abnormal", "magnetos"))
	found.Decision, found.Why = score.Answer.Asked, "the left drop is beyond its limit"
	score = scored(t, c, found)
	assert.NotContains(t, codes(score), "abnormal-not-noticed")
	assert.True(t, score.Answer.Right)
	require.NotNil(t, score.Noticed[0].Reaction)
	assert.InDelta(t, *score.Noticed[0].Said-*score.Noticed[0].Seen, *score.Noticed[0].Reaction, 0.11)
	require.Len(t, score.State.Findings, 1)
	assert.Contains(t, score.State.Findings[0].Words, "drop")
	assert.Equal(t, found.Why, score.State.Findings[0].Decision.Why)
	for _, r := range score.State.Readings {
		assert.False(t, r.Open, "every reading that asks is decided on")
	}
	require.NotEmpty(t, score.Beside)
	for _, b := range score.Beside {
		for _, line := range b.Lines {
			if b.Check == "magneto" && b.Item != "" && line.Unit == "rpm" && line.Typed != "" {
				assert.False(t, line.Apart, "what a good student read is what the recorder has: %v", line)
			}
		}
	}
}

// TestGuided: a wrong step is explained and counts as prompted, what is not done is not
// taken for done, and whoever asks is told.
func TestGuided(t *testing.T) {
	c := course(t, "alder-110")
	s, err := c.Begin(practice.Run{
		Scenario: scenario(t, c, "first-start"), Seed: 1, Mode: practice.Guided, Student: "student", Began: began,
	})
	require.NoError(t, err)
	do := func(d practice.Deed) {
		t.Helper()
		require.NoError(t, s.Do(d))
		s.Step()
	}
	first := s.Next()
	assert.Equal(t, "brakes-set", first.Item)
	assert.Equal(t, []string{"brakes"}, first.Controls)
	assert.NotEmpty(t, first.Why)
	do(moved(0, "master", 0, 1))
	assert.Contains(t, s.Next().Told, "Master switch comes later. First brakes: set")
	do(called(0, "done", ""))
	assert.Contains(t, s.Next().Told, "Brakes: “set, pedals hard” is not so yet.")
	assert.Equal(t, "brakes-set", s.Next().Item)
	do(moved(0, "brakes", 0, 1))
	assert.Equal(t, "avionics-off", s.Next().Item, "what its control shows needs no touch")
	do(called(0, "ask", ""))
	assert.Contains(t, s.Next().Told, "Avionics: off.")
	do(called(0, "done", ""))
	state := s.State
	for _, i := range state.Items[:2] {
		assert.Equal(t, "prompted", i.Mark, i.ID)
		assert.Equal(t, 2, *i.Level, i.ID)
	}
	assert.Empty(t, state.Errors)
	assert.Empty(t, s.Next().Told)
}

// TestCheckrideIsSilent: nothing is said before the end but the names of the items; what
// is asked is asked at items that are done, and counts with its elements.
func TestCheckrideIsSilent(t *testing.T) {
	c := course(t, "alder-110")
	run := good(t, c, scenario(t, c, "first-start"))
	run.Mode = practice.Checkride
	asked := map[string]bool{}
	s, err := c.Begin(run)
	require.NoError(t, err)
	for _, d := range run.Deeds {
		for s.Machine.Tick() < d.Tick {
			s.Step()
		}
		require.NoError(t, s.Do(d))
		n := s.Next()
		assert.Empty(t, n.Response+n.Told+n.Why)
		for _, i := range s.Told().Items {
			assert.Contains(t, []string{"", "done"}, i.Mark)
			assert.Nil(t, i.Level)
		}
		if q := n.Asked; q != nil && !asked[q.ID] {
			asked[q.ID] = true
			level := 3
			require.NoError(t,
				s.Do(practice.Deed{
					Call: &practice.Call{
						Mark: lesson.Mark{Name: "oral", Words: q.Ask, Bank: q.ID, Elements: q.Elements, Level: &level},
					},
				}))
		}
	}
	assert.NotEmpty(t, asked)
	assert.LessOrEqual(t, len(asked), 4)
	require.NoError(t, s.Decide(stand.Normal, ""))
	score, err := s.Score(context.Background())
	require.NoError(t, err)
	assert.Len(t, score.State.Orals, len(asked))
	again := scored(t, c, s.Run())
	assert.Equal(t, score.State.EventHash, again.State.EventHash)
}

// TestTheInstructorsStation: a fault that is slipped in, other weather and a mark of the
// instructor are part of the run; an ungrounded magneto that the student does not see is
// graded as missed.
func TestTheInstructorsStation(t *testing.T) {
	c := course(t, "alder-110")
	run := good(t, c, scenario(t, c, "first-start"))
	run.Mode = practice.Checkride
	place := at(t, run, "avionics-on")
	slip := practice.Deed{
		Change: &practice.Change{Slip: &stand.Slipped{Fault: "left-magneto-ungrounded", Severity: 1, Engine: 1,
			From: 5}},
	}
	colder := practice.Deed{Change: &practice.Change{Weather: &practice.Weather{OATC: 3, DewPointC: 1, WindKt: 12}}}
	note := practice.Deed{
		Call: &practice.Call{
			Instructor: true, Mark: lesson.Mark{Name: "note", Item: "magnetos", Words: "Looked outside."},
		},
	}
	run = then(run, place, 0, slip, colder, note)
	score := scored(t, c, run)
	require.Len(t, score.Answer.Faults, 1)
	assert.Contains(t, score.Answer.Faults[0].Title, "magneto")
	assert.Equal(t, "grounded", score.Answer.Asked)
	assert.False(t, score.Answer.Right)
	require.Len(t, score.Noticed, 1)
	require.NotNil(t, score.Noticed[0].Seen, "the other magneto's side no longer drops")
	assert.Nil(t, score.Noticed[0].Said)
	assert.Equal(t, "Looked outside.", score.State.Notes[0].Words)
	assert.EqualValues(t, 3, score.State.Conditions["oatC"])

	clean := run
	clean.Deeds = slices.DeleteFunc(slices.Clone(run.Deeds),
		func(d practice.Deed) bool { return d.Change != nil && d.Change.Slip != nil })
	assert.True(t, scored(t, c, clean).Answer.Right)
}

// TestWhatWasLookedAt: how long each gauge stood in view is counted in the run's time.
func TestWhatWasLookedAt(t *testing.T) {
	c := course(t, "alder-110")
	look := func(tick, gauge int, open bool) practice.Deed {
		return practice.Deed{Tick: tick, Look: &practice.Look{Gauge: gauge, Open: open}}
	}
	score := scored(t, c,
		practice.Run{Scenario: scenario(t, c, "first-start"), Seed: 1, Mode: practice.Alone, Student: "student",
			Began: began, Ticks: 1000, Decision: "grounded",
			Deeds: []practice.Deed{
				look(0, 0, true), look(500, 0, false), look(500, 2, true), look(600, 2, false), look(900, 2, true),
			}})
	assert.Equal(t, practice.Looked{Gauge: "speed", Engine: 1, Label: "engine speed", Seconds: 10, Share: 50, Times: 1},
		score.Looked[0])
	assert.Equal(t, 4.0, score.Looked[2].Seconds)
	assert.Equal(t, 2, score.Looked[2].Times)
	assert.Zero(t, score.Looked[1].Seconds)
}

// TestRunsThatCannotBe: whatever is out of bounds or impossible is refused by its field,
// before anything of it is run.
func TestRunsThatCannotBe(t *testing.T) {
	c := course(t, "alder-110")
	fine := practice.Run{
		Scenario: scenario(t, c, "first-start"), Seed: 1, Mode: practice.Alone, Student: "student", Began: began,
		Ticks: 100, Deeds: []practice.Deed{moved(3, "master", 0, 1)},
	}
	_, err := c.Replay(context.Background(), fine, nil)
	require.NoError(t, err)
	for want, change := range map[string]func(r *practice.Run){
		"run.mode":                    func(r *practice.Run) { r.Mode = "asleep" },
		"run.student":                 func(r *practice.Run) { r.Student = "" },
		"run.began":                   func(r *practice.Run) { r.Began = "this morning" },
		"run.from":                    func(r *practice.Run) { r.From = "lunch" },
		"run.ticks":                   func(r *practice.Run) { r.Ticks = 1 << 40 },
		"run.why":                     func(r *practice.Run) { r.Why = strings.Repeat("x", 501) },
		"run.decision":                func(r *practice.Run) { r.Decision = "hope" },
		"run.deeds[1].tick":           func(r *practice.Run) { r.Deeds = append(r.Deeds, moved(2, "master", 0, 0)) },
		"run.deeds[0] must be one of": func(r *practice.Run) { r.Deeds = []practice.Deed{{Tick: 1}} },
		"run.deeds must hold at most": func(r *practice.Run) {
			r.Deeds = slices.Repeat([]practice.Deed{called(1, "ask", "")}, practice.MaxCalls+1)
		},
		"deeds must be at most":  func(r *practice.Run) { r.Deeds = make([]practice.Deed, stand.MaxInputs+1) },
		"run.deeds[0].call.name": func(r *practice.Run) { r.Deeds = []practice.Deed{called(1, "override", "")} },
		"call.item":              func(r *practice.Run) { r.Deeds = []practice.Deed{called(1, "done", "lunch")} },
		"control is":             func(r *practice.Run) { r.Deeds = []practice.Deed{moved(1, "parachute", 0, 1)} },
		"engine has no":          func(r *practice.Run) { r.Deeds = []practice.Deed{moved(1, "throttle", 2, 1)} },
		"value must be":          func(r *practice.Run) { r.Deeds = []practice.Deed{moved(1, "throttle", 1, 9)} },
		"look.gauge": func(r *practice.Run) {
			r.Deeds = []practice.Deed{{Tick: 1, Look: &practice.Look{Gauge: 99}}}
		},
		"change must be one of": func(r *practice.Run) {
			r.Deeds = []practice.Deed{{Tick: 1, Change: &practice.Change{}}}
		},
		"change.weather.dewPointC": func(r *practice.Run) {
			r.Deeds = []practice.Deed{
				{Tick: 1, Change: &practice.Change{Weather: &practice.Weather{OATC: 1, DewPointC: 9}}},
			}
		},
		"change.outside.what": func(r *practice.Run) {
			r.Deeds = []practice.Deed{{Tick: 1, Change: &practice.Change{Outside: &stand.Passer{What: "bear", For: 1}}}}
		},
		"change.slip": func(r *practice.Run) {
			r.Deeds = []practice.Deed{{Tick: 1, Change: &practice.Change{Slip: &stand.Slipped{Fault: "bad-luck"}}}}
		},
		"more than 8 faults": func(r *practice.Run) {
			r.Deeds = slices.Repeat([]practice.Deed{
				{Tick: 1, Change: &practice.Change{Slip: &stand.Slipped{Fault: "oil-gauge-low", Severity: 1}}},
			}, 9)
		},
		"scenario type": func(r *practice.Run) { r.Scenario.Type = "glider" },
		"draft.":        func(r *practice.Run) { r.Deeds = []practice.Deed{called(1, "reading", "master-on")} },
	} {
		run := fine
		change(&run)
		s, err := c.Replay(context.Background(), run, nil)
		if assert.Error(t, err, want) {
			assert.Contains(t, err.Error(), want)
		}
		assert.True(t, s == nil || want == "run.decision")
	}
	s, err := c.Replay(context.Background(), fine, nil)
	require.NoError(t, err)
	_, err = s.Score(context.Background())
	assert.ErrorContains(t, err, "run.decision has not been made")
	require.NoError(t, s.Decide("grounded", ""))
	assert.ErrorContains(t, s.Do(called(0, "ask", "")), "after the decision")
	assert.ErrorContains(t, s.Decide("grounded", ""), "has been made")
}

// TestActs: what an act can say.
func TestActs(t *testing.T) {
	one, three, nine := 1.0, 3.0, 9.0
	for want, act := range map[string]practice.Act{
		"names no item":         {Said: true},
		"is either said or":     {Item: "x"},
		"which is no control":   {Item: "x", Stands: []practice.Where{{Control: "parachute", Least: &one}}},
		"for what it cannot be": {Item: "x", Moved: []practice.Where{{Control: "ignition", Most: &nine}}},
	} {
		assert.Contains(t, strings.Join(act.Problems(), "; "), want)
	}
	assert.Empty(t, practice.Act{Item: "x", Stands: []practice.Where{{Control: "ignition", Least: &three}}}.Problems())
}
