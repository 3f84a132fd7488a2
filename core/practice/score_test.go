package practice_test

import (
	"context"
	"encoding/json"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/lesson"
	"jetprimer/core/practice"
	"jetprimer/core/stand"
)

// TestAFaultThatIsFoundWasSeen: of every fault that a check finds, on the first type that
// it fits, the second from which it could be seen is told, and is not before it began; the
// others can be said when something is said at all.
func TestAFaultThatIsFoundWasSeen(t *testing.T) {
	c, err := shipped()
	require.NoError(t, err)
	for _, fault := range c.Faults {
		if len(fault.Finds) == 0 {
			continue
		}
		t.Run(fault.ID, func(t *testing.T) {
			t.Parallel()
			for _, rig := range c.Rigs {
				if typ, _ := c.Type(rig.Type); !typ.Fits(fault.Has) {
					continue
				}
				c := course(t, rig.Type)
				s := c.Scenarios[0]
				s.Faults = []stand.Slipped{{Fault: fault.ID, Severity: 1, Engine: 1}}
				switch fault.Needs {
				case "damp":
					s.Day.OATC, s.Day.DewPointC = 9, 8
				case "cold":
					s.Day.EngineState = "cold"
				}
				score := scored(t, c, good(t, c, s))
				require.Len(t, score.Noticed, 1)
				if n := score.Noticed[0]; assert.NotNil(t, n.Seen, "%s: %s", rig.Type, n.Words) {
					assert.GreaterOrEqual(t, *n.Seen, 0.0)
					assert.LessOrEqual(t, *n.Seen, score.Seconds)
				}
				return
			}
		})
	}
}

// TestADigestNamesItsRun: whatever of a run is another, the score has another digest, or
// the run is refused.
func TestADigestNamesItsRun(t *testing.T) {
	c := course(t, "alder-110")
	run := good(t, c, scenario(t, c, "first-start")).Until(4000)
	run.Decision, run.Why = "grounded", "enough"
	text, err := json.Marshal(run)
	require.NoError(t, err)
	digest := scored(t, c, run).Digest()
	for name, change := range map[string][2]string{
		"a value":         {`"value":0.1`, `"value":0.2`},
		"a tick":          {`"ticks":4000`, `"ticks":4001`},
		"the seed":        {`"seed":1,`, `"seed":2,`},
		"the mode":        {`"mode":"alone"`, `"mode":"checkride"`},
		"the student":     {`"student":"student"`, `"student":"another"`},
		"the weather":     {`"oatC":14`, `"oatC":15`},
		"the decision":    {`"decision":"grounded"`, `"decision":"deferred"`},
		"the reason":      {`"why":"enough"`, `"why":"too much"`},
		"what was called": {`"name":"done"`, `"name":"ask"`},
		"when it began":   {"2026-11-27T09:00:00Z", "2026-11-27T09:00:01Z"},
		"the title":       {`"title":"First start"`, `"title":"Second start"`},
	} {
		changed := strings.Replace(string(text), change[0], change[1], 1)
		require.NotEqual(t, string(text), changed, name)
		var other practice.Run
		require.NoError(t, json.Unmarshal([]byte(changed), &other))
		s, err := c.Replay(context.Background(), other, nil)
		if err != nil {
			continue
		}
		score, err := s.Score(context.Background())
		require.NoError(t, err)
		assert.NotEqual(t, digest, score.Digest(), name)
	}
}

// TestATraceIsWhatWasSeen: a second a row, a gauge a column, each as it is printed.
func TestATraceIsWhatWasSeen(t *testing.T) {
	c := course(t, "hornbeam-twin")
	run := good(t, c, scenario(t, c, "twin-first")).Until(3070)
	var last practice.Seen
	s, err := c.Replay(context.Background(), run, func(s *practice.Session) {
		if s.Machine.Tick()%stand.TicksASecond == 0 {
			last = s.Seen()
		}
	})
	require.NoError(t, err)
	rows, err := c.Trace(run)
	require.NoError(t, err)
	require.Len(t, rows, 61)
	gauges := s.Machine.Panel().Gauges
	for i, text := range rows[60] {
		v, err := strconv.ParseFloat(text, 64)
		require.NoError(t, err)
		assert.InDelta(t, last.Values[i], v, 0.51, gauges[i].ID)
	}
	assert.Len(t, last.Stands, len(s.Machine.Panel().Controls))
	assert.Len(t, last.Lamps, len(s.Machine.Panel().Lamps))
	_, err = c.Trace(practice.Run{})
	assert.Error(t, err)
}

// TestAWholeScore: every item that was worked counts once, and the level that they show
// together is that of a lesson with the same levels.
func TestAWholeScore(t *testing.T) {
	c := course(t, "sorrel-100")
	run := good(t, c, c.Scenarios[0])
	place := at(t, run, "avionics-on")
	worse := called(0, "wrong", "avionics-off")
	worse.Call.Instructor = true
	score := scored(t, c, then(run, place, 0, worse))
	assert.Equal(t, len(score.State.Items), score.Right+score.Off)
	levels := []int{}
	for level := range 5 {
		for _, i := range score.State.Items {
			if *i.Level == level {
				levels = append(levels, level)
			}
		}
	}
	together, _ := lesson.ShownLevel(levels)
	assert.Equal(t, together, *score.Level)
	for _, i := range score.State.Items {
		assert.NotEmpty(t, score.Names[i.ID], i.ID)
	}
}

// TestDecisionsAreHeldToTheGravestFault: of several faults the gravest decides what is
// right, whether it was in the scenario or slipped in, and each is told with its checks.
func TestDecisionsAreHeldToTheGravestFault(t *testing.T) {
	c := course(t, "alder-110")
	s := scenario(t, c, "first-start")
	s.Faults = []stand.Slipped{{Fault: "right-plug-fouled", Severity: 0.5, Engine: 1}}
	run := good(t, c, s)
	light := scored(t, c, run).Answer
	place := at(t, run, "avionics-on")
	grave := then(run, place, 0, practice.Deed{
		Change: &practice.Change{Slip: &stand.Slipped{Fault: "left-magneto-ungrounded", Severity: 1, Engine: 1}},
	})
	both := scored(t, c, grave)
	assert.NotEqual(t, light.Asked, both.Answer.Asked)
	assert.Equal(t, "grounded", both.Answer.Asked)
	assert.Len(t, both.Answer.Faults, 2)
	assert.Len(t, both.Noticed, 2)
	for i, f := range both.Answer.Faults {
		assert.NotEmpty(t, f.Shows, f.Title)
		assert.Equal(t, f.Title, both.Noticed[i].Title)
	}
	grave.Decision = "grounded"
	assert.True(t, scored(t, c, grave).Answer.Right)
	run.Decision = "grounded"
	assert.Contains(t, scored(t, c, run).Answer.Words, "more than it had to be")
}

// TestAFaultWaitsForAnItem: what waits for an item of the list begins when the list comes
// to it, for the hand that shows as for the student, and could not be seen before.
func TestAFaultWaitsForAnItem(t *testing.T) {
	c := course(t, "alder-110")
	s := scenario(t, c, "first-start")
	s.Faults = []stand.Slipped{{Fault: "left-plug-dead", Severity: 1, Engine: 1,
		Once: &stand.Trigger{Item: "magnetos"}}}
	require.Empty(t, s.Problems(c.Library()))
	run := good(t, c, s)
	score := scored(t, c, run)
	began := 0
	require.NotNil(t, score.Noticed[0].Seen)
	for i, d := range run.Deeds[:at(t, run, "magnetos")] {
		if d.Call != nil && d.Call.Name == "done" {
			began = run.Deeds[i].Tick
		}
	}
	assert.GreaterOrEqual(t, *score.Noticed[0].Seen, float64(began)*stand.Step-0.1, "not before the list came to it")
	assert.Contains(t, codes(score), "abnormal-not-noticed", "and the hand reads what it does")
	for _, b := range score.Beside {
		for _, line := range b.Lines {
			assert.False(t, line.Apart && line.Unit == "rpm",
				"the hand that shows and the student meet the same engine: %v", line)
		}
	}
	waits := s
	waits.Faults = []stand.Slipped{{Fault: "left-plug-dead", Severity: 1, Once: &stand.Trigger{Item: "lunch"}}}
	sound := scored(t, c, good(t, c, waits))
	assert.Empty(t, codes(sound))
	assert.Nil(t, sound.Noticed[0].Seen)
	for _, once := range []stand.Trigger{
		{}, {Item: "magnetos", Gauge: "speed"}, {Item: strings.Repeat("x", 65)}, {Control: "parachute"},
	} {
		bad := s
		bad.Faults = []stand.Slipped{{Fault: "left-plug-dead", Severity: 1, Once: &once}}
		assert.Contains(t, bad.Problems(c.Library())[0].Reason, "one gauge, one control or one item")
	}
}
