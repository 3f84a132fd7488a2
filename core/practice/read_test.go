package practice_test

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/practice"
	"jetprimer/core/stand"
)

// TestEveryBoxIsReadOffSomething: on every type each number that a measured check asks for
// is read off a needle of the panel, counted by the stopwatch, or one of the few that a
// student works out.
func TestEveryBoxIsReadOffSomething(t *testing.T) {
	workedOut := []string{
		"splitPercent", "rpmSwing", "cycles", "tailwindKt", "leftDrop.left", "leftDrop.right", "rightDrop.left",
		"rightDrop.right", "propellerSeconds.left", "propellerSeconds.right",
	}
	c, err := shipped()
	require.NoError(t, err)
	for _, rig := range c.Rigs {
		t.Run(rig.Type, func(t *testing.T) {
			t.Parallel()
			c := course(t, rig.Type)
			s, err := c.Begin(practice.Run{
				Scenario: c.Scenarios[0], Seed: 1, Mode: practice.Alone, Student: "student", Began: began,
			})
			require.NoError(t, err)
			flown, err := c.Flown(c.Scenarios[0])
			require.NoError(t, err)
			asked := 0
			for _, p := range flown.List.Places() {
				if !stand.Works(p.Item.Check) || p.Item.Check == "altimeter" || p.Item.Check == "heading" ||
					p.Item.Check == "database" {
					continue
				}
				panel, err := s.Panel(p.Item.ID, form.Draft{})
				require.NoError(t, err)
				for _, b := range panel.Boxes {
					if b.Kind != form.Number || b.Taken == form.Timed {
						continue
					}
					asked++
					field := b.Path[strings.LastIndexByte(b.Path, '.')+1:]
					if slices.Contains(workedOut, field) || slices.Contains(workedOut, b.Path) {
						continue
					}
					shown := s.Read(p.Item.ID, b.Path, b.Unit)
					_, err := strconv.ParseFloat(shown, 64)
					assert.NoError(t, err, "%s, %s (%s) is read off nothing", p.Item.ID, b.Path, b.Unit)
				}
			}
			assert.Greater(t, asked, 8)
			assert.Empty(t, s.Read("lunch", "rpm", "rpm"))
		})
	}
}

// TestWhatIsReadIsWhatTheNeedleShows: a box takes the figure of its own engine's gauge.
func TestWhatIsReadIsWhatTheNeedleShows(t *testing.T) {
	c := course(t, "hornbeam-twin")
	run := good(t, c, scenario(t, c, "twin-first"))
	run.Decision = ""
	place := at(t, run, "magnetos-2")
	s, err := c.Replay(context.Background(), run.Until(run.Deeds[place].Tick-1), nil)
	require.NoError(t, err)
	for item, engine := range map[string]int{"magnetos-1": 1, "magnetos-2": 2} {
		v, _ := s.Machine.Gauge("speed", engine)
		assert.Equal(t, strconv.FormatFloat(v, 'f', 0, 64), s.Read(item, "base", "rpm"), item)
	}
	for _, at := range []struct {
		check, path, unit, gauge string
		item, engine             int
	}{
		{"charging", "sides.0.volts", "V", "volts", 2, 1}, {"charging", "sides.0.amps", "A", "amps", 2, 2},
		{"suction", "inHg", "inHg", "suction", 1, 1},
		{"fuel-pressure", "runUp", "psi", "fuelPressure", 2, 2}, {"gauges", "oilPressure", "psi", "oilPressure", 2, 2},
		{"engines-differ", "manifold.right", "inHg", "manifold", 0, 2},
		{"governor-hold", "manifoldBeforeInHg", "inHg", "manifold", 1, 1},
		{"turbine-start", "peakTempC", "°C", "turbineTemperature", 0, 1},
		{"turbine-start", "idleSpoolPercent", "%", "spool", 0, 1},
		{"low-rotor-warning", "onAtPercent", "%", "rotor", 0, 1}, {"needle-split", "splitPercent", "%", "", 0, 1},
		{"idle", "rpm", "%", "speed", 0, 1}, {"hydraulics", "x", "", "", 0, 1},
	} {
		gauge, engine := practice.GaugeOf(at.check, at.path, at.unit, at.item)
		assert.Equal(t, at.gauge, gauge, at.path)
		assert.Equal(t, at.engine, engine, at.path)
	}
}

// TestTheStopwatch: what it counts is what a good student counts by hand, on every type:
// seconds of cranking and rest, to oil pressure, on one side, at idle, of belts and blades,
// of a turbine's start, within what a thumb is off.
func TestTheStopwatch(t *testing.T) {
	c, err := shipped()
	require.NoError(t, err)
	counted := 0
	for _, rig := range c.Rigs {
		t.Run(rig.Type, func(t *testing.T) {
			c := course(t, rig.Type)
			run := good(t, c, c.Scenarios[0])
			s, err := c.Begin(run)
			require.NoError(t, err)
			for _, d := range run.Deeds {
				for s.Machine.Tick() < d.Tick {
					s.Step()
				}
				if d.Call != nil && d.Call.Name == "reading" {
					own, err := s.Panel(d.Call.Item, form.Draft{})
					require.NoError(t, err)
					for _, b := range own.Boxes {
						by, is := d.Call.Draft[b.Path].(string)
						watch, has := own.Draft[b.Path].(string)
						if b.Taken != form.Timed || !is || !has || strings.HasSuffix(b.Path, "restSeconds") ||
							watch == "0.0" {
							continue
						}
						hand, err := strconv.ParseFloat(by, 64)
						require.NoError(t, err)
						thumb, err := strconv.ParseFloat(watch, 64)
						require.NoError(t, err)
						if strings.HasPrefix(b.Path, "secondsHeld") && hand > thumb {
							continue // the hand reads when the needle has settled
						}
						counted++
						if b.Path == "seconds" && hand < thumb {
							continue // and counts an idle from when it is steady
						}
						assert.InDelta(t, hand, thumb, math.Max(2.5, 0.15*hand), "%s, %s", d.Call.Item, b.Path)
					}
				}
				require.NoError(t, s.Do(d))
			}
		})
	}
	assert.Greater(t, counted, 12)
}

// TestReadingsHalfTyped: what a student leaves to the stopwatch it fills in; a box that is
// still empty is named, and nothing is passed over for it.
func TestReadingsHalfTyped(t *testing.T) {
	c := course(t, "alder-110")
	run := good(t, c, scenario(t, c, "first-start"))
	place := at(t, run, "crank") - 1
	require.Equal(t, "reading", run.Deeds[place].Call.Name)
	for i := range run.Deeds[place:] {
		if d := &run.Deeds[place+i]; d.Call != nil && d.Call.Name == "reading" && d.Call.Item == "crank" {
			for path := range d.Call.Draft {
				if strings.HasPrefix(path, "attempts") || path == "secondsToOilPressure" || path == "rpmPeak" {
					delete(d.Call.Draft, path)
				}
			}
		}
	}
	score := scored(t, c, run)
	assert.Empty(t, codes(score))
	i := slices.IndexFunc(score.State.Readings, func(r lesson.Reading) bool { return r.Item == "crank" })
	require.GreaterOrEqual(t, i, 0)
	assert.Equal(t, check.Normal, score.State.Readings[i].Verdict.Outcome, "%v",
		score.State.Readings[i].Verdict.Findings)

	half := run.Until(run.Deeds[at(t, run, "magnetos")].Tick - 1)
	s, err := c.Replay(context.Background(), half, nil)
	require.NoError(t, err)
	before := s.State.Events
	d := called(0, "reading", "magnetos")
	d.Call.Draft = form.Draft{"base": "1750"}
	assert.ErrorContains(t, s.Do(d), "draft.left is still empty")
	assert.Equal(t, before, s.State.Events)
}

// TestMistakesOfOtherTypes: the mistakes that are made on a twin, a helicopter, a turbine
// and with two lanes are found at the engine and the item that they belong to; what cannot
// be done wrong on a type is never said.
func TestMistakesOfOtherTypes(t *testing.T) {
	drop := func(run practice.Run, item string) practice.Run {
		run.Deeds = slices.DeleteFunc(slices.Clone(run.Deeds),
			func(d practice.Deed) bool { return d.Call != nil && d.Call.Item == item })
		return run
	}
	for _, of := range []struct {
		typ, code, item string
		run             func(t *testing.T, run practice.Run) practice.Run
	}{
		{
			"hornbeam-twin", "no-verbal-clear", "area-clear-2",
			func(_ *testing.T, run practice.Run) practice.Run { return drop(run, "area-clear-2") },
		},
		{"hornbeam-twin", "over-speed", "crank-1", func(t *testing.T, run practice.Run) practice.Run {
			return then(run, at(t, run, "crank-1"), 10*50, moved(0, "throttle", 1, 0.9),
				moved(5*50, "throttle", 1, 0.1))
		}},
		{"juniper-h2", "heat-left-on", "", func(t *testing.T, run practice.Run) practice.Run {
			return then(run, at(t, run, "gauges-runup"), 8*50, moved(0, "heat", 1, 1), moved(1, "throttle", 1, 0.95),
				moved(6*50, "throttle", 1, 0.4), moved(6*50, "heat", 1, 0))
		}},
		{
			"willow-t5", "no-verbal-clear", "area-clear",
			func(_ *testing.T, run practice.Run) practice.Run { return drop(run, "area-clear") },
		},
		{"sorrel-100", "starter-too-long", "crank", func(t *testing.T, run practice.Run) practice.Run {
			return then(run, at(t, run, "area-clear"), 14*50, moved(0, "ignition", 1, 0), moved(1, "starter", 1, 1),
				moved(12*50, "starter", 1, 0), moved(13*50, "ignition", 1, 3))
		}},
		{"larch-d2", "unsafe-act", "area-clear-1", func(_ *testing.T, run practice.Run) practice.Run {
			run.Scenario.Outside = []stand.Passer{{What: stand.SomebodyNear, From: 0, For: 5000}}
			return run
		}},
		{"rowan-180i", "brake-creep", "brakes-held", func(t *testing.T, run practice.Run) practice.Run {
			return then(run, at(t, run, "runup-power"), 6*50, moved(0, "throttle", 1, 0.8), moved(1, "brakes", 0, 0),
				moved(5*50, "brakes", 0, 1), moved(5*50, "throttle", 1, 0.2))
		}},
	} {
		t.Run(fmt.Sprint(of.typ, " ", of.code), func(t *testing.T) {
			t.Parallel()
			c := course(t, of.typ)
			score := scored(t, c, of.run(t, good(t, c, c.Scenarios[0])))
			require.Contains(t, codes(score), of.code)
			i := slices.Index(codes(score), of.code)
			if of.item != "" {
				assert.Equal(t, of.item, score.State.Errors[i].Item)
			}
			if level := item(t, score, score.State.Errors[i].Item).Level; assert.NotNil(t, level) {
				assert.Less(t, *level, 4)
			}
			has := map[string]bool{}
			for _, e := range score.State.Errors {
				has[e.Code] = true
			}
			assert.False(t, has["mixture-moment"] && !c.Type.Has("mixture"))
			assert.False(t, has["back-to-both"] && !c.Type.Has("magnetos"))
		})
	}
}

// TestAListCutForTheStand: a scenario that is done after an item ends with it, of each
// engine that it is worked for, and no item asks for one that is not there.
func TestAListCutForTheStand(t *testing.T) {
	c := course(t, "hornbeam-twin")
	s := scenario(t, c, "twin-first")
	last := func(until string) checklist.Item {
		s.Until = until
		flown, err := c.Flown(s)
		require.NoError(t, err)
		places := flown.List.Places()
		return places[len(places)-1].Item
	}
	assert.Equal(t, "crank-2", last("crank").ID)
	assert.Equal(t, "brakes-set", last("brakes-set").ID)
	whole := last("")
	assert.Equal(t, whole, last("lunch"), "an item that is not on the list cuts nothing")
	c.Acts = nil
	flown, err := c.Flown(s)
	require.NoError(t, err)
	for _, p := range flown.List.Places() {
		assert.True(t, stand.Works(p.Item.Check), p.Item.ID)
	}
	c.List.Phases = c.List.Phases[:1]
	_, err = c.Flown(s)
	assert.ErrorContains(t, err, "nothing on it that a stand can show")
}
