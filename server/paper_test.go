package server_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
)

// TestALessonFromPaper: whom the policy lets write it down does, for its own day and
// without claiming minutes; it says so in its row, its times and on the printed sheet,
// and an aircraft that stands on the ground today does not refuse it.
func TestALessonFromPaper(t *testing.T) {
	url := start(t)
	chief, tunde := as(t, url, demo.Ferreira), as(t, url, demo.Okonjo)
	day := func(n int) string { return schooltest.Day.AddDate(0, 0, n).Format("2006-01-02") }
	open := func(c *client, instructor string, paper map[string]any) (id string, status int, body string) {
		e := opening(instructor)
		e["payload"].(map[string]any)["paper"] = paper
		id = uuid.NewString()
		status, body = c.call("POST", "/api/v1/lessons/"+id+"/events?now=true", batch(e))
		return id, status, body
	}
	kept := map[string]any{"day": day(-4), "off": "23:40", "on": "00:55"}
	_, status, body := open(tunde, demo.Okonjo.ID, kept)
	assert.Equal(t, 422, status, "by the policy the chief instructor writes it down")
	assert.Contains(t, body, "payload.paper is not open to you")
	for name, c := range map[string]struct {
		paper map[string]any
		says  string
	}{
		"tomorrow":     {map[string]any{"day": day(1)}, "paper.day is not over yet"},
		"too long ago": {map[string]any{"day": day(-400)}, "paper.day is more than 366 days ago"},
		"no day":       {map[string]any{"day": "yesterday"}, "payload.paper.day must be a day"},
		"no time": {
			map[string]any{"day": day(-4), "off": "25:00", "on": "26:00"}, "payload.paper.off must be a time of day",
		},
		"half the time": {
			map[string]any{"day": day(-4), "off": "10:00"}, "payload.paper.on and off stand on the paper together",
		},
	} {
		_, status, body := open(chief, demo.Ferreira.ID, c.paper)
		assert.Contains(t, body, c.says, name)
		assert.Contains(t, []int{200, 422}, status, name)
	}
	for _, one := range fly(t, tunde) { // grounds it today
		require.Equal(t, 200, one.status)
	}
	id, status, body := open(chief, demo.Ferreira.ID, kept)
	require.Equal(t, 200, status, body)
	late := event(2, "item-result", map[string]any{"item": "papers", "result": "done"})
	late["atMs"] = 900_000
	end := event(3, "lesson-ended", map[string]any{})
	end["atMs"] = 1_000_000
	status, body = chief.call("POST", "/api/v1/lessons/"+id+"/events", batch(late, end))
	require.Equal(t, 200, status, body)
	view := got[struct {
		Lesson struct{ OpenedAt, Flag string }
		Beside struct {
			Times struct {
				BlockMinutes, GroundMinutes int
				Paper                       string
			}
		}
		State struct {
			EventHash  string
			DurationMs int64
			Items      []struct{ AtMs int64 }
		}
	}](t, chief, "GET", "/api/v1/lessons/"+id, "")
	assert.Equal(t, fmt.Sprintf("written down from paper by %s on %s", demo.Ferreira.Name, day(0)), view.Lesson.Flag)
	assert.Contains(t, view.Lesson.OpenedAt, day(-4))
	assert.Equal(t, 75, view.Beside.Times.BlockMinutes, "as read, over midnight")
	assert.Zero(t, view.Beside.Times.GroundMinutes)
	assert.Contains(t, view.Beside.Times.Paper,
		"Written down afterwards from paper: flown on "+day(-4)+", off 23:40, on 00:55, as read.")
	assert.Zero(t, view.State.DurationMs, "how long the writing took is nobody's flight")
	for _, i := range view.State.Items {
		assert.Zero(t, i.AtMs)
	}
	sign, err := json.Marshal(map[string]string{
		"password": demo.Password, "eventHash": view.State.EventHash, "event": uuid.Must(uuid.NewV7()).String(),
	})
	require.NoError(t, err)
	status, body = chief.call("POST", "/api/v1/lessons/"+id+"/sign", string(sign))
	require.Equal(t, 200, status, body)
	assert.Contains(t, body, `"paper":{"day":"`+day(-4))
	status, sheet := chief.call("GET", "/api/v1/lessons/"+id+"/grade-sheet.pdf", "")
	assert.Equal(t, 200, status)
	assert.Contains(t, sheet, "%PDF")
	status, record := chief.call("GET", "/api/v1/lessons/"+id+"/record", "")
	assert.Equal(t, 200, status)
	assert.Contains(t, record, "written down from paper by")
}
