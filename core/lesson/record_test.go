package lesson_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/lesson"
)

func TestTheRecordKeepsWhatWasSaid(t *testing.T) {
	w := opened("read-and-do")
	w.add(lesson.KindHourMeter, `{"meter":"hour","when":"start","value":1204.3}`)
	w.add(lesson.KindHourMeter, `{"meter":"hour","when":"start","value":1204.4}`)
	w.add(lesson.KindHourMeter, `{"meter":"hour","when":"end","value":1205.5}`)
	w.add(lesson.KindNote, `{"item":"beacon","words":"bulb weak"}`)
	w.add(lesson.KindOral, `{"item":"clear","question":"Why call and look?","level":3}`)
	w.add(lesson.KindItemOpened, `{"item":"clear"}`)
	w.add(lesson.KindPhaseClosed, `{"phase":"start"}`)
	w.add(lesson.KindEnded, `{}`)
	w.add(lesson.KindDebriefNote, `{"words":"limits aloud"}`)
	w.add(lesson.KindAcknowledged, `{}`)
	s := fold(t, w.events)
	assert.Equal(t, []lesson.Hours{
		{Meter: "hour", When: "start", Value: 1204.4}, {Meter: "hour", When: "end", Value: 1205.5},
	}, s.HourMeter, "the later of two values wins")
	assert.Equal(t, "bulb weak", s.Notes[0].Words)
	assert.Equal(t, 3, s.Orals[0].Level)
	assert.Equal(t, "clear", s.Live)
	assert.True(t, s.Phases[0].Closed)
	assert.False(t, s.Phases[1].Closed)
	assert.True(t, s.Ended)
	assert.True(t, s.Acknowledged)
	assert.Equal(t, "limits aloud", s.Debrief[0].Words)
	assert.Equal(t, int64(11_000), s.DurationMs)
	assert.Equal(t, 11, s.Events)
}

func TestPhasesCountTheirLevels(t *testing.T) {
	w := opened("read-and-do")
	w.mark("brakes")
	w.add(lesson.KindPrompt, `{"item":"beacon"}`)
	w.mark("beacon")
	w.add(lesson.KindOmitted, `{"item":"clear"}`)
	w.add(lesson.KindNotApplicable, `{"item":"crank"}`)
	p := fold(t, w.events).Phases[0]
	assert.Equal(t, lesson.PhaseState{
		ID: "start", Title: "Start", Total: 4, Marked: 4, Prompted: 1, Levels: [5]int{1, 0, 1, 0, 1},
	}, p)
}

func TestMarksAreDrawnByTheirWorst(t *testing.T) {
	for want, marks := range map[string]func(w *tape){
		"done":       func(w *tape) { w.mark("beacon") },
		"prompted":   func(w *tape) { w.add(lesson.KindPrompt, `{"item":"beacon"}`); w.mark("beacon") },
		"helped":     func(w *tape) { w.add(lesson.KindAssist, `{"item":"beacon"}`); w.mark("beacon") },
		"wrong":      func(w *tape) { w.add(lesson.KindItemResult, `{"item":"beacon","result":"wrong"}`) },
		"self-fixed": func(w *tape) { w.add(lesson.KindSelfCorrection, `{"item":"beacon"}`); w.mark("beacon") },
		"late": func(w *tape) {
			w.add(lesson.KindLate, `{"item":"beacon","found":"instructor"}`)
			w.mark("beacon")
		},
		"out-of-order": func(w *tape) { w.mark("clear"); w.mark("beacon") },
		"passed": func(w *tape) {
			w.add(lesson.KindItemResult, `{"item":"beacon","result":"done","implied":true}`)
		},
		"left-out":   func(w *tape) { w.add(lesson.KindOmitted, `{"item":"beacon"}`) },
		"not-fitted": func(w *tape) { w.add(lesson.KindNotApplicable, `{"item":"beacon"}`) },
		"unsafe": func(w *tape) {
			w.mark("beacon")
			w.add(lesson.KindError, `{"item":"beacon","code":"unsafe-act","severity":"unsafe"}`)
		},
	} {
		w := opened("read-and-do")
		marks(w)
		assert.Equal(t, want, fold(t, w.events).Items[1].Mark)
	}
}

func TestEveryDeviationGivesItsReason(t *testing.T) {
	w := opened("read-and-do")
	w.mark("clear")
	w.add(lesson.KindPrompt, `{"item":"brakes"}`)
	w.add(lesson.KindLate, `{"item":"brakes","found":"instructor"}`)
	w.mark("brakes")
	items := fold(t, w.events).Items
	var said []string
	for _, r := range items[0].Reasons {
		said = append(said, fmt.Sprintf("%d %s", r.Level, r.Message))
	}
	assert.Equal(t, []string{
		"1 It was done after “Area”, which must wait for it.", "2 Done after a word.", "3 Done late.",
		"3 Done out of order, without effect.",
	}, said)
	assert.Equal(t, 1, *items[0].Proposed)
	require.NotEmpty(t, items[2].Reasons)
	assert.Equal(t, "precedence", items[2].Reasons[0].Code)
	assert.Equal(t, []string{"brakes"}, items[2].Broken)
}

func TestScalesMapEveryLevelOnce(t *testing.T) {
	scale := lesson.Scale{ID: "s", Steps: []lesson.Step{
		{Label: "yes", Shows: []int{3, 4}, Means: 3}, {Label: "no", Shows: []int{0, 1, 2}, Means: 1},
	}}
	require.NoError(t, scale.Check())
	for level, want := range []string{"no", "no", "no", "yes", "yes"} {
		step, ok := scale.Show(level)
		require.True(t, ok)
		assert.Equal(t, want, step.Label)
	}
	for _, c := range []struct {
		spoil func(*lesson.Scale)
		want  string
	}{
		{func(s *lesson.Scale) { s.Steps[0].Shows = []int{4} }, "means level 3, which it does not show"},
		{func(s *lesson.Scale) { s.Steps[1].Shows = []int{0, 1} }, "level 2 shows as 0 steps"},
		{func(s *lesson.Scale) { s.Steps[1].Shows = []int{0, 1, 2, 3} }, "level 3 shows as 2 steps"},
		{func(s *lesson.Scale) { s.Steps[1].Shows = []int{0, 1, 2, 5} }, "level 5, which is not 0 to 4"},
	} {
		s := lesson.Scale{ID: "s", Steps: []lesson.Step{scale.Steps[0], scale.Steps[1]}}
		c.spoil(&s)
		assert.ErrorContains(t, s.Check(), c.want)
	}
}

func TestErrorKindsAreWhole(t *testing.T) {
	seen := map[string]bool{}
	for _, k := range lesson.ErrorKinds {
		assert.False(t, seen[k.Code], k.Code)
		seen[k.Code] = true
		assert.NotEmpty(t, k.Label)
		w := opened("read-and-do")
		w.mark("brakes")
		w.add(lesson.KindError, fmt.Sprintf(`{"item":"brakes","code":%q,"severity":%q}`, k.Code, k.Severity))
		assert.Less(t, *fold(t, w.events).Items[0].Level, 4, k.Code)
	}
}

func TestWithoutItsOpeningTheLessonCannotBeSigned(t *testing.T) {
	w := &tape{device: "tablet"}
	w.mark("brakes")
	s := fold(t, w.events)
	assert.Nil(t, s.Opened)
	require.Len(t, s.Problems, 1)
	assert.Contains(t, s.Problems[0].Message, "has not arrived")
}

func TestAReadingJudgedWithoutATypeSaysSo(t *testing.T) {
	w := opened("read-and-do")
	w.add(lesson.KindReading, `{"item":"idle","check":"suction","reading":{"inHg":5}}`)
	r := fold(t, w.events).Readings[0]
	assert.Nil(t, r.Verdict)
	assert.True(t, strings.HasPrefix(r.Unusable, "limits.min is missing"), r.Unusable)
}
