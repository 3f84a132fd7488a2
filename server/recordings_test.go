package server_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/url"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/lesson"
	"jetprimer/core/recorder"
	"jetprimer/demo"
	"jetprimer/exchange"
)

type recording struct {
	Problem string
	Kept    bool
	Map     exchange.RecorderMap
	RunUps  []struct {
		Lesson         string
		Seconds, Speed []float64
		Checks         []struct {
			Check, Item string
			Reading     map[string]any
			Typed       *struct{ Outcome string }
			Taken       bool
			Beside      []recorder.Beside
		}
	}
	Lessons []struct {
		ID  string
		Own bool
	}
}

// TestARecorderBecomesACheck: its columns are guessed, or mapped once and kept; its
// run-up stands beside what was typed in the lesson, and goes into it as the same try
// when its instructor takes it, and nobody else.
func TestARecorderBecomesACheck(t *testing.T) {
	base := start(t)
	c := as(t, base, demo.Okonjo)
	shipped, err := catalog.Shipped()
	require.NoError(t, err)
	typ, _ := shipped.Type("alder-110")
	var b bytes.Buffer
	_, err = exchange.WriteRecording(&b, recorder.Make(typ, recorder.Making{Seed: 2, Interval: 1, RunUps: 1}).Track,
		typ)
	require.NoError(t, err)
	file := b.String()

	id := uuid.Must(uuid.NewV7()).String()
	status, body := c.call("POST", "/api/v1/lessons/"+id+"/events",
		batch(opening(demo.Okonjo.ID), event(2, "reading", map[string]any{"item": "magnetos", "check": "magneto",
			"reading": map[string]any{
				"unit": "rpm", "base": 1750, "left": 1690, "bothAfterLeft": 1750, "right": 1600, "bothAfterRight": 1750,
				"roughLeft": false, "roughRight": false, "stoppedLeft": false, "stoppedRight": false,
			}})))
	require.Equal(t, 200, status, body)

	path := "/api/v1/aircraft/QZ-AAA/recording"
	// Names that say nothing have to be mapped.
	odd := strings.NewReplacer("E1 RPM", "Spin", "Time", "Clock").Replace(file)
	v := got[recording](t, c, "POST", path, odd)
	assert.Contains(t, v.Problem, "map time")
	assert.False(t, v.Kept)
	m := v.Map
	m.Time, m.Engines[0].Speed = "Clock", "Spin"
	text, err := json.Marshal(m)
	require.NoError(t, err)
	mapped := path + "?map=" + url.QueryEscape(string(text))
	v = got[recording](t, c, "POST", mapped, odd)
	assert.Empty(t, v.Problem)
	assert.True(t, v.Kept)
	v = got[recording](t, c, "POST", path, odd)
	require.Empty(t, v.Problem, "the map was kept")
	require.Len(t, v.RunUps, 1)
	run := v.RunUps[0]
	assert.Equal(t, id, run.Lesson, "the newest, as the file has no day")
	assert.Greater(t, len(run.Seconds), 30)
	assert.Len(t, run.Speed, len(run.Seconds))
	require.Equal(t, "magneto magnetos", run.Checks[0].Check+" "+run.Checks[0].Item)
	assert.False(t, run.Checks[0].Taken)
	require.NotNil(t, run.Checks[0].Typed)
	assert.Equal(t, "abnormal", run.Checks[0].Typed.Outcome)
	apart := 0
	for _, one := range run.Checks[0].Beside {
		if one.Apart {
			apart++
		}
	}
	assert.Positive(t, apart, "the typed drops are not those of the file")

	take := func() string {
		text, err := json.Marshal(map[string]any{
			"event": uuid.Must(uuid.NewV7()).String(), "item": "magnetos", "check": "magneto", "engine": 1,
			"reading": run.Checks[0].Reading,
		})
		require.NoError(t, err)
		return string(text)
	}
	status, _ = as(t, base, demo.Solheim).call("POST", "/api/v1/lessons/"+id+"/recorded", take())
	assert.Equal(t, 422, status, "another instructor's lesson")
	status, body = c.call("POST", "/api/v1/lessons/"+id+"/recorded", take())
	require.Equal(t, 204, status, body)
	state := got[struct{ State lesson.State }](t, c, "GET", "/api/v1/lessons/"+id, "").State
	require.Len(t, state.Readings, 2)
	assert.Equal(t, "1 recorder", fmt.Sprint(state.Readings[1].Attempt, " ", state.Readings[1].Source))
	v = got[recording](t, c, "POST", path, odd)
	assert.True(t, v.RunUps[0].Checks[0].Taken)
	assert.Equal(t, "abnormal", v.RunUps[0].Checks[0].Typed.Outcome, "what was typed stays beside it")

	// Maintenance reads it, and cannot take it; what is no file is said by line.
	v = got[recording](t, as(t, base, demo.Achterberg), "POST", path, odd)
	require.Len(t, v.RunUps, 1)
	assert.False(t, v.Lessons[0].Own)
	for name, wrong := range map[string]struct{ path, body, says string }{
		"no file":       {path, "1,2,3\n", "file"},
		"no map":        {path + "?map=%7B%22a%22%3A1%7D", odd, "map"},
		"no aircraft":   {"/api/v1/aircraft/QZ-ZZZ/recording", odd, ""},
		"nothing":       {path, "", ""},
		"other lessons": {path + "?map=" + strings.Repeat("x", 5000), odd, "map"},
	} {
		status, body := c.call("POST", wrong.path, wrong.body)
		assert.True(t, status == 404 || status == 400 || status == 422, "%s: %d %s", name, status, body)
		assert.Contains(t, body, wrong.says, name)
	}
}
