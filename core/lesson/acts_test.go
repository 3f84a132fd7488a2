package lesson_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/lesson"
)

const (
	longCrank = `"check":"piston-start","reading":{"attempts":[{"crankSeconds":12,"restSeconds":0}],"fired":true,"rpmPeak":1000,"secondsToOilPressure":5,"starterLampOut":true,"chargeRestored":true}`
	goodCrank = `"check":"piston-start","reading":{"attempts":[{"crankSeconds":3,"restSeconds":0}],"fired":true,"rpmPeak":1000,"secondsToOilPressure":5,"starterLampOut":true,"chargeRestored":true}`
	earlyFuel = `"check":"turbine-start","reading":{"batteryVolts":25,"tailwindKt":0,"fuelAtSpoolPercent":8,"fuelAtTempC":90,"lightOffSeconds":2,"peakTempC":700,
		"secondsAboveLimit":0,"secondsToIdle":30,"idleSpoolPercent":62,"spoolAlwaysRising":true,"oilPressureAtIdle":true}`
	goodFuel = `"check":"turbine-start","reading":{"batteryVolts":25,"tailwindKt":0,"fuelAtSpoolPercent":16,"fuelAtTempC":90,"lightOffSeconds":2,"peakTempC":700,
		"secondsAboveLimit":0,"secondsToIdle":30,"idleSpoolPercent":62,"spoolAlwaysRising":true,"oilPressureAtIdle":true}`
)

func (w *tape) read(item, checkAndReading string) string {
	return w.add(lesson.KindReading, fmt.Sprintf(`{"item":%q,%s}`, item, checkAndReading))
}

// TestReadingsSpeakForThePerson: unsafe acts and errors of technique that a
// reading or a timer shows hold the level down, over all tries.
func TestReadingsSpeakForThePerson(t *testing.T) {
	for _, c := range []struct {
		name string
		acts func(w *tape)
		want string
	}{
		{"fuel before the gate is unsafe", func(w *tape) { w.read("crank", earlyFuel) }, "crank=0"},
		{
			"and stays so after a clean try", func(w *tape) { w.read("crank", earlyFuel); w.read("crank", goodFuel) },
			"crank=0",
		},
		{
			"a long crank is technique, over all tries",
			func(w *tape) { w.read("crank", longCrank); w.read("crank", goodCrank) }, "crank=1",
		},
		{"a clean start", func(w *tape) { w.read("crank", goodCrank) }, "crank=4"},
		{"a timer of the person's own overrun", func(w *tape) {
			w.add(lesson.KindTimerStarted, `{"timer":"crank","item":"crank"}`)
			for range 10 {
				w.add(lesson.KindNote, `{"words":"turning"}`)
			}
			w.add(lesson.KindTimerStopped, `{"timer":"crank","item":"crank"}`)
		}, "crank=1"},
		{"the engine's own time is not the person's", func(w *tape) {
			w.add(lesson.KindTimerStarted, `{"timer":"oil","item":"crank"}`)
			w.add(lesson.KindNote, `{"words":"waiting"}`)
			w.add(lesson.KindTimerStopped, `{"timer":"oil","item":"crank"}`)
		}, "crank=4"},
		{
			"control taken",
			func(w *tape) { w.add(lesson.KindControlTaken, `{"item":"crank","why":"rolled","level":0}`) }, "crank=0",
		},
		{
			"control taken in time",
			func(w *tape) { w.add(lesson.KindControlTaken, `{"item":"crank","why":"slow","level":1}`) }, "crank=1",
		},
	} {
		w := opened("read-and-do")
		w.mark("crank")
		c.acts(w)
		assert.Equal(t, c.want, levels(fold(t, w.events)), c.name)
	}
	w := opened("read-and-do")
	w.read("crank", earlyFuel)
	w.add(lesson.KindShown, `{"item":"crank"}`)
	s := fold(t, w.events)
	assert.Equal(t, "", levels(s), "what the instructor showed has no level")
	assert.Equal(t, "shown", s.Items[3].Mark)
}

// TestOmissionsFoundByTheStudent: what the own check by the list finds missing
// is level 3 and no omission, whatever was marked before.
func TestOmissionsFoundByTheStudent(t *testing.T) {
	w := opened("flow-then-verify")
	w.add(lesson.KindOmitted, `{"item":"clear"}`)
	w.add(lesson.KindLate, `{"item":"clear","found":"verification"}`)
	w.mark("crank")
	assert.Equal(t, "clear=3 crank=4", levels(fold(t, w.events)))
}

// TestAnInvalidTryIsNone: attempts count tries that could be judged, so that the
// first real one is a first one.
func TestAnInvalidTryIsNone(t *testing.T) {
	w := opened("read-and-do")
	idle := func(rpm, seconds int) {
		w.read("idle", fmt.Sprintf(`"check":"idle","reading":{"rpm":%d,"seconds":%d,"stopped":false}`, rpm, seconds))
	}
	idle(600, 2)
	idle(500, 6)
	r := fold(t, w.events).Readings
	assert.Equal(t, "invalid", string(r[0].Verdict.Outcome))
	assert.Equal(t, []int{1, 1}, []int{r[0].Attempt, r[1].Attempt})
	assert.Equal(t, "recheck", string(r[1].Verdict.Decision), "its first try does not ground the aircraft")
}

// TestConditionsFollowTheLesson: a reading is judged under the conditions of its
// moment: the opening's, what changed since, and its own over both.
func TestConditionsFollowTheLesson(t *testing.T) {
	late := func(own string) string {
		return `"check":"piston-start","reading":{"attempts":[{"crankSeconds":3,"restSeconds":0}],"fired":true,"rpmPeak":1000,"secondsToOilPressure":45,"starterLampOut":true,"chargeRestored":true}` + own
	}
	w := opened("read-and-do")
	w.add(lesson.KindConditions, `{"conditions":{"engineState":"cold","oatC":-10}}`)
	w.read("crank", late(""))
	w.add(lesson.KindConditions, `{"conditions":{"engineState":"hot"}}`)
	w.read("crank", late(""))
	w.read("crank", late(`,"conditions":{"engineState":"cold"}`))
	s := fold(t, w.events)
	var decided []string
	for _, r := range s.Readings {
		decided = append(decided, string(r.Verdict.Decision))
	}
	assert.Equal(t, []string{"continue", "stop", "continue"}, decided,
		"45 s to oil pressure is allowed to an engine cold at −10 °C alone")
	assert.Equal(t, map[string]any{"rules": "VFR", "night": false, "engineState": "cold", "oatC": -10.0},
		s.Readings[2].Conditions)
	assert.Equal(t, "hot", s.Conditions["engineState"])
}

// TestNothingStaysOpen: every stop, and a recheck that nothing better followed,
// waits for a decision, who was told and, unless grounded, why.
func TestNothingStaysOpen(t *testing.T) {
	idle := func(rpm int) func(w *tape) string {
		return func(w *tape) string {
			return w.read("idle",
				fmt.Sprintf(`"check":"idle","reading":{"rpm":%d,"seconds":6,"stopped":%t}`, rpm, rpm == 0))
		}
	}
	low, good, stopped := idle(500), idle(600), idle(0)
	short := func(w *tape) string {
		return w.read("idle", `"check":"idle","reading":{"rpm":600,"seconds":1,"stopped":false}`)
	}
	for _, c := range []struct {
		name  string
		tries []func(w *tape) string
		open  int
	}{
		{"normal", []func(w *tape) string{good}, 0},
		{"a recheck never repeated", []func(w *tape) string{low}, 1},
		{"a recheck that cleared", []func(w *tape) string{low, good}, 0},
		{"a recheck that came back as a stop", []func(w *tape) string{low, low}, 1},
		{"a recheck followed by what could not be judged", []func(w *tape) string{low, short}, 1},
		{"only what could not be judged", []func(w *tape) string{short}, 1},
		{"a stop is not cleared by a normal second try", []func(w *tape) string{stopped, good}, 1},
	} {
		w := opened("read-and-do")
		for _, try := range c.tries {
			try(w)
		}
		assert.Len(t, fold(t, w.events).Problems, c.open, c.name)
	}
	for _, d := range lesson.Decisions {
		w := opened("read-and-do")
		about := stopped(w)
		say := func(told, why string) int {
			w.add(lesson.KindDecision,
				fmt.Sprintf(`{"about":%q,"decision":%q,"told":%q,"why":%q}`, about, d, told, why))
			return len(fold(t, w.events).Problems)
		}
		assert.Equal(t, 1, say(".", "seen before"), "%s: who was told", d)
		without := 1
		if d == "grounded" {
			without = 0
		}
		assert.Equal(t, without, say("maintenance", "."), "%s: why in words", d)
		again := 0
		if d == "cleared" {
			again = 1
		}
		assert.Equal(t, again, say("maintenance", "seen before"), "%s: without another try", d)
		good(w)
		assert.Empty(t, fold(t, w.events).Problems, "%s: tried again since", d)
	}
}

// TestASecondRound: a phase begun again has items and attempts of its own; the
// first round is kept, and neither blames the other's order.
func TestASecondRound(t *testing.T) {
	w := opened("read-and-do")
	for _, item := range []string{"brakes", "beacon", "clear", "crank"} {
		w.mark(item)
	}
	w.read("crank", longCrank)
	w.mark("power")
	w.add(lesson.KindRound, `{"phase":"start"}`)
	assert.Equal(t, "power=4", levels(fold(t, w.events)), "its items are open again")
	for _, item := range []string{"brakes", "beacon", "clear", "crank"} {
		w.mark(item)
	}
	w.read("crank", goodCrank)
	s := fold(t, w.events)
	assert.Equal(t, "brakes=4 beacon=4 clear=4 crank=4 power=4", levels(s), "nothing is out of order")
	require.Len(t, s.Rounds, 1)
	assert.Equal(t, "start", s.Rounds[0].Phase)
	assert.Equal(t, 1, *s.Rounds[0].Items[3].Level, "the first round keeps its error")
	assert.Equal(t, [][2]int{{1, 1}, {2, 1}},
		[][2]int{{s.Readings[0].Round, s.Readings[0].Attempt}, {s.Readings[1].Round, s.Readings[1].Attempt}})

	w = opened("read-and-do")
	w.add(lesson.KindRound, `{"phase":"start"}`)
	assert.Empty(t, fold(t, w.events).Rounds, "what was not begun is not begun again")
}

// TestTheHourMeterRunsForward: in a touch, and in what keeps a lesson from being
// signed; what is held under the meter's earlier name reads as the hour meter.
func TestTheHourMeterRunsForward(t *testing.T) {
	h := twin(t, "read-and-do")
	h.touch(lesson.Mark{Name: "hours", Meter: "hour", When: "start", Hours: ptr(1204.3)})
	_, err := h.try(lesson.Mark{Name: "hours", Meter: "hour", When: "end", Hours: ptr(1204.2)})
	assert.ErrorContains(t, err, "run backwards")
	h.touch(lesson.Mark{Name: "hours", Meter: "hour", When: "end", Hours: ptr(1205.0)})
	assert.Equal(t, []lesson.Hours{
		{Meter: "hour", When: "start", Value: 1204.3}, {Meter: "hour", When: "end", Value: 1205},
	}, h.State().HourMeter)

	w := opened("read-and-do")
	w.add(lesson.KindHourMeter, `{"meter":"former","when":"start","value":10}`)
	w.add(lesson.KindHourMeter, `{"meter":"hour","when":"end","value":9}`)
	s := fold(t, w.events)
	assert.Equal(t, "hour", s.HourMeter[0].Meter)
	require.Len(t, s.Problems, 1)
	assert.Contains(t, s.Problems[0].Message, "ends at 9, below the 10")
	assert.Error(t, w.events[1].Validate(), "under that name none is taken in")
}

// TestGradeByException: a list with few deviations takes few touches.
func TestGradeByException(t *testing.T) {
	h := twin(t, "read-and-do")
	h.touch(lesson.Mark{Name: "prompted", Item: "brakes"})
	h.touch(lesson.Mark{Name: "pass-phase"})
	assert.Equal(t, "passed,prompted,passed,passed,passed,passed", h.marks())
	h.touch(lesson.Mark{Name: "undo"})
	assert.Equal(t, "passed,prompted,,,,", h.marks(), "one undo takes back the whole pass")
}
