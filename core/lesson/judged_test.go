package lesson_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
)

// warmBook is a list with oil to warm, a magneto check that BOTH closes, and
// suction behind it.
func warmBook() lesson.Book {
	return lesson.Book{
		Type: aircraft.Type{ID: "alder", Engines: 1, Ignition: "magnetos", LeanOnGround: true,
			Durations: []aircraft.Duration{
				{ID: "dwell", Label: "held on one magneto", MinSeconds: 2, MaxSeconds: 10, Act: true},
			},
			Limits: map[string]map[string]any{
				"suction": {"min": 4.5, "max": 5.4},
				"gauges": {"oilPressure": map[string]any{"min": 20, "cautionMin": 50, "cautionMax": 95, "max": 115},
					"oilTemperature": map[string]any{
						"min": 20, "cautionMin": 24, "cautionMax": 110, "max": 118, "lowDecision": "warm-up",
					}},
				"magneto": {
					"base": 1750, "baseTolerance": 25, "dropMax": 130, "differenceMax": 60, "dropMin": 20,
					"recoveryTolerance": 25,
				},
			}},
		List: checklist.List{ID: "alder-full", AircraftType: "alder", Version: 1,
			Phases: []checklist.Phase{{ID: "run-up", Title: "Run-up", Items: []checklist.Item{
				{ID: "warm", Challenge: "Oil", Check: "gauges"},
				{ID: "power", Challenge: "Power", After: []string{"warm"}},
				{ID: "magnetos", Challenge: "Magnetos", Check: "magneto"},
				{ID: "both", Challenge: "BOTH", After: []string{"magnetos"}, Closes: "magnetos"},
				{ID: "suction", Challenge: "Suction", Check: "suction", After: []string{"both"}},
			}}}},
	}
}

const (
	coldOil = `"check":"gauges","reading":{"oilPressure":60,"oilTemperature":10}`
	warmOil = `"check":"gauges","reading":{"oilPressure":60,"oilTemperature":60}`
)

func magnetos(left, right int) string {
	return fmt.Sprintf(`"check":"magneto","reading":{"unit":"rpm","base":1750,"left":%d,"bothAfterLeft":1750,"right":%d,"bothAfterRight":1750,"roughLeft":false,"roughRight":false,"stoppedLeft":false,"stoppedRight":false}`, left, right)
}

func foldWarm(t require.TestingT, w *tape) lesson.State {
	l := lesson.New(warmBook())
	for _, a := range l.Add(w.events...) {
		require.NotEqual(t, "refused", a.Status, a.Reason)
	}
	return l.State()
}

// TestASecondTryIsOfThePlace: what came before escalates only where it comes
// again, and a try that could not be judged is none.
func TestASecondTryIsOfThePlace(t *testing.T) {
	for _, c := range []struct {
		name  string
		tries []string
		want  check.Decision
	}{
		{
			"another gauge's first yellow",
			[]string{
				`"check":"gauges","reading":{"oilPressure":45,"oilTemperature":60}`,
				`"check":"gauges","reading":{"oilPressure":60,"oilTemperature":112}`,
			},
			check.Recheck,
		},
		{
			"the same gauge again",
			[]string{
				`"check":"gauges","reading":{"oilPressure":45,"oilTemperature":60}`, warmOil,
				`"check":"gauges","reading":{"oilPressure":46,"oilTemperature":60}`,
			},
			check.Stop,
		},
		{"oil that only needs time", []string{coldOil, coldOil, coldOil}, check.Recheck},
		{
			"pressure of oil that is still cold",
			[]string{
				`"check":"gauges","reading":{"oilPressure":99,"oilTemperature":10}`,
				`"check":"gauges","reading":{"oilPressure":97,"oilTemperature":18}`,
			},
			check.Recheck,
		},
		{
			"heat that only needs time",
			[]string{
				`"check":"gauges","reading":{"oilPressure":60,"oilTemperature":112}`,
				`"check":"gauges","reading":{"oilPressure":60,"oilTemperature":111}`,
			},
			check.Recheck,
		},
		{"the other side", []string{magnetos(1600, 1700), magnetos(1700, 1600)}, check.Recheck},
		{"the same side", []string{magnetos(1600, 1700), magnetos(1610, 1700)}, check.Stop},
	} {
		w := opened("read-and-do")
		for _, try := range c.tries {
			item := "warm"
			if try[9] == 'm' {
				item = "magnetos"
			}
			w.read(item, try)
		}
		readings := foldWarm(t, w).Readings
		last := readings[len(readings)-1]
		require.NotNil(t, last.Verdict, last.Unusable)
		assert.Equal(t, c.want, last.Verdict.Decision, c.name)
	}
}

// TestWhatAReadingForbade: power that is raised over oil that asked for warmth is
// a broken precedence, and a later reading in its band before the power mends it.
func TestWhatAReadingForbade(t *testing.T) {
	for _, c := range []struct {
		name string
		acts func(w *tape)
		want string
	}{
		{"raised at once", func(w *tape) {
			w.read("warm",
				coldOil)
			w.mark("warm")
			w.mark("power")
		}, "warm=4 power=0"},
		{
			"waited for",
			func(w *tape) { w.read("warm", coldOil); w.read("warm", warmOil); w.mark("warm"); w.mark("power") },
			"warm=4 power=4",
		},
		{
			"read in its band too late",
			func(w *tape) { w.read("warm", coldOil); w.mark("warm"); w.mark("power"); w.read("warm", warmOil) },
			"warm=4 power=0",
		},
		{
			"suction first, by choice", func(w *tape) { w.mark("suction"); w.mark("magnetos"); w.mark("both") },
			"magnetos=4 both=4 suction=4",
		},
		{
			"suction on one magneto", func(w *tape) { w.mark("magnetos"); w.mark("suction"); w.mark("both") },
			"magnetos=4 both=1 suction=0",
		},
		{"a dwell cut short", func(w *tape) {
			w.add(lesson.KindTimerStarted, `{"timer":"dwell","item":"magnetos"}`)
			w.add(lesson.KindTimerStopped, `{"timer":"dwell","item":"magnetos"}`)
			w.mark("magnetos")
		}, "magnetos=1"},
	} {
		w := opened("flow-then-verify")
		c.acts(w)
		assert.Equal(t, c.want, levels(foldWarm(t, w)), c.name)
	}
}

// TestWhatReachesTheAircraft: a decision at a reading, a finding and a stop that
// nobody decided on all reach it; what is not said whole grounds until it is.
func TestWhatReachesTheAircraft(t *testing.T) {
	reports := func(w *tape) string {
		out := ""
		for _, r := range foldWarm(t, w).Reports() {
			out += fmt.Sprintf("%s %s;", r.Item, r.Decision.Decision)
		}
		return out
	}
	for _, c := range []struct {
		name, want string
		acts       func(w *tape)
	}{
		{"a sound reading", "", func(w *tape) { w.read("magnetos", magnetos(1700, 1700)) }},
		{"a look again", "", func(w *tape) { w.read("magnetos", magnetos(1600, 1700)) }},
		{"a stop", "magnetos ;", func(w *tape) { w.read("magnetos", magnetos(1750, 1700)) }},
		{"grounded at the reading", "magnetos grounded;", func(w *tape) {
			w.add(lesson.KindDecision,
				fmt.Sprintf(`{"about":%q,"decision":"grounded","told":"maintenance"}`,
					w.read("magnetos", magnetos(1600, 1700))))
		}},
		{"a stop called normal without a word", "magnetos ;", func(w *tape) {
			w.add(lesson.KindDecision,
				fmt.Sprintf(`{"about":%q,"decision":"normal-for-type","told":".","why":"."}`,
					w.read("magnetos", magnetos(1750, 1700))))
		}},
		{"a stop called cleared, and not tried again", "magnetos ;", func(w *tape) {
			w.add(lesson.KindDecision,
				fmt.Sprintf(`{"about":%q,"decision":"cleared","told":"Ines Marek","why":"key was on LEFT"}`,
					w.read("magnetos", magnetos(1750, 1700))))
		}},
		{"tried again since", "magnetos cleared;", func(w *tape) {
			w.add(lesson.KindDecision,
				fmt.Sprintf(`{"about":%q,"decision":"cleared","told":"Ines Marek","why":"key was on LEFT"}`,
					w.read("magnetos", magnetos(1750, 1700))))
			w.read("magnetos", magnetos(1690, 1700))
		}},
		{"written as a finding", "magnetos grounded;", func(w *tape) {
			r := w.read("magnetos", magnetos(1750, 1700))
			f := w.add(lesson.KindFinding, fmt.Sprintf(`{"item":"magnetos","reading":%q,"words":"no drop on left"}`, r))
			w.add(lesson.KindDecision, fmt.Sprintf(`{"about":%q,"decision":"grounded","told":"maintenance"}`, f))
		}},
		{"a finding that is freed without a word", "magnetos ;", func(w *tape) {
			f := w.add(lesson.KindFinding, `{"item":"magnetos","words":"no drop on left"}`)
			w.add(lesson.KindDecision, fmt.Sprintf(`{"about":%q,"decision":"normal-for-type"}`, f))
		}},
		{"practised elsewhere", "", func(w *tape) {
			w.add(lesson.KindPractice, `{"place":"stand"}`)
			w.read("magnetos", magnetos(1750, 1700))
		}},
	} {
		w := opened("read-and-do")
		c.acts(w)
		assert.Equal(t, c.want, reports(w), c.name)
	}
	w := opened("read-and-do")
	r := w.read("magnetos", magnetos(1750, 1700))
	f := w.add(lesson.KindFinding, `{"item":"magnetos","words":"no drop on left"}`)
	w.add(lesson.KindDecision, fmt.Sprintf(`{"about":%q,"decision":"grounded","told":"maintenance"}`, f))
	s := foldWarm(t, w)
	assert.Empty(t, s.Problems, "what was decided of the finding was decided of the reading")
	assert.Equal(t, f, s.Readings[0].Finding)
	assert.NotContains(t, s.DecisionsFor(r), "cleared", "none is offered that the rule forbids")
}

// TestWhatWasPassedIsCounted: apart from what was marked, with the measured
// checks that have no number.
func TestWhatWasPassedIsCounted(t *testing.T) {
	w := opened("read-and-do")
	w.read("warm", warmOil)
	w.mark("warm")
	for _, item := range []string{"power", "magnetos"} {
		w.add(lesson.KindItemResult, fmt.Sprintf(`{"item":%q,"result":"done","implied":true}`, item))
	}
	p := foldWarm(t, w).Phases[0]
	assert.Equal(t, [3]int{3, 2, 1}, [3]int{p.Marked, p.Passed, p.Unread})
}

// TestWhatStopsThePassing: where the school says so nothing critical and nothing
// measured is passed by a touch on a later line, whoever sends it.
func TestWhatStopsThePassing(t *testing.T) {
	h := twinOpened(t, "read-and-do", `"passing":"not-critical",`)
	assert.Equal(t, "item-result item-opened", h.touch(lesson.Mark{Name: "open", Item: "apart"}))
	assert.Equal(t, "brakes", h.live(), "the first that stops it is open")
	assert.Empty(t, h.touch(lesson.Mark{Name: "pass-phase"}), "and stays so until it has a mark")
	h.touch(lesson.Mark{Name: "done"})
	h.touch(lesson.Mark{Name: "wrong", Item: "apart"})
	assert.Equal(t, "passed,done,,,wrong,", h.marks(), "a mark further on leaves what stops the passing unobserved")

	w := opened("read-and-do")
	w.events[0].Payload = []byte(strings.Replace(string(w.events[0].Payload), `"purpose"`,
		`"passing":"not-critical","purpose"`, 1))
	for _, item := range []string{"brakes", "beacon", "clear"} {
		w.add(lesson.KindItemResult, fmt.Sprintf(`{"item":%q,"result":"done","implied":true}`, item))
	}
	s := fold(t, w.events)
	assert.Equal(t, []string{"", "done", ""}, []string{s.Items[0].Status, s.Items[1].Status, s.Items[2].Status},
		"brakes and area are critical")
}

// TestTheRunwayComesFromTheLesson: where one lines up the heading is held to it
// without being asked, and proves nothing where no runway is known.
func TestTheRunwayComesFromTheLesson(t *testing.T) {
	b := warmBook()
	b.Type.Limits["heading"] = map[string]any{"toleranceDeg": 10, "runwayToleranceDeg": 10}
	b.List.Phases[0].Items = append(b.List.Phases[0].Items, checklist.Item{
		ID: "line-up", Check: "heading", OnRunway: true,
	})
	judged := func(runway string) *check.Verdict {
		w := opened("read-and-do")
		w.events[0].Payload = []byte(strings.Replace(string(w.events[0].Payload), `"purpose"`,
			`"runway":"`+runway+`","purpose"`, 1))
		w.read("line-up", `"check":"heading","reading":{"compassDeg":281,"indicatorDeg":280}`)
		l := lesson.New(b)
		l.Add(w.events...)
		return l.State().Readings[0].Verdict
	}
	assert.Equal(t, check.Stop, judged("31").Decision)
	assert.Equal(t, check.Continue, judged("28L").Decision)
	assert.Equal(t, check.Invalid, judged("").Outcome)
}
