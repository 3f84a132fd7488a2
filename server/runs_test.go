package server_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/record"
	"jetprimer/demo"
)

// TestAMaintenanceRunReturnsTheAircraft: what a magneto without a drop grounded at its
// reading stays on the ground by words alone, and by a run without the check, unsigned,
// or with the same again; a signed run whose try answers it brings it back. The run has
// no student and no grade, and its record proves itself.
func TestAMaintenanceRunReturnsTheAircraft(t *testing.T) {
	url := start(t)
	tunde, anne := as(t, url, demo.Okonjo), as(t, url, demo.Achterberg)
	const registration = "QZ-AAA"
	for _, one := range fly(t, tunde) {
		require.Equal(t, 200, one.status, one.body)
	}
	f := grounding(t, anne, registration)
	status, body := tunde.call("POST", "/api/v1/lessons/"+uuid.NewString()+"/events?now=true",
		batch(opening(demo.Okonjo.ID)))
	assert.Equal(t, http.StatusUnprocessableEntity, status, "no lesson opens on it: "+body)
	assert.Contains(t, body, "stays on the ground")

	back := func(more string) (int, string) {
		return anne.call("POST", "/api/v1/findings/"+f.Lesson+"/"+f.Event+"/return",
			`{"words":"ground lead renewed"`+more+`}`)
	}
	status, body = back(`,"retest":"drops 90 and 84"`)
	assert.Equal(t, 422, status, "words alone")
	assert.Contains(t, body, "run must be named")

	for who, want := range map[*client]int{tunde: 403, as(t, url, demo.Moreau): 403} {
		status, _ = who.call("POST", "/api/v1/aircraft/"+registration+"/runs", runBody("", ""))
		assert.Equal(t, want, status, "who does not maintain opens none")
	}
	run := openRun(t, anne, registration, f.Item)
	first := got[runView](t, anne, "GET", "/api/v1/lessons/"+run, "")
	require.Equal(t, "looked-at-first", first.Book.List.Phases[0].ID)
	assert.Equal(t, f.Item, first.Book.List.Phases[0].Items[0].ID, "those of the finding first")
	checks := 0
	for _, p := range first.Book.List.Phases {
		for _, i := range p.Items {
			assert.NotEmpty(t, i.Check, i.ID)
			checks++
		}
	}
	assert.Greater(t, checks, 8, "and all others at hand")
	assert.Empty(t, first.Lesson.StudentID)
	status, _ = as(t, url, demo.Moreau).call("GET", "/api/v1/lessons/"+run, "")
	assert.Equal(t, 404, status, "it is no student's business")
	status, body = back(`,"run":"` + run + `"`)
	assert.Contains(t, body, "It is not signed yet.")
	assert.Equal(t, 422, status)

	add := func(run string, events ...map[string]any) {
		status, body := anne.call("POST", "/api/v1/lessons/"+run+"/events", batch(events...))
		require.Equal(t, 200, status, body)
		require.NotContains(t, body, "refused")
	}
	add(run, event(2, "lesson-ended", map[string]any{}))
	signRun(t, anne, run)
	status, body = back(`,"run":"` + run + `"`)
	assert.Contains(t, body, "was not measured again", "a run without the check")
	assert.Equal(t, 422, status)

	again := openRun(t, anne, registration, f.Item)
	add(again, event(2, "reading", magnetoAt(f.Item, 1750)),
		event(3, "item-result", map[string]any{"item": f.Item, "result": "done"}), event(4, "lesson-ended",
			map[string]any{}))
	status, body = anne.call("POST", "/api/v1/lessons/"+again+"/sign", signing(t, anne, again))
	assert.Equal(t, 409, status, "a stop in it asks for a decision as anywhere: "+body)

	good := openRun(t, anne, registration, f.Item)
	add(good, event(2, "reading", magnetoAt(f.Item, 1670)),
		event(3, "item-result", map[string]any{"item": f.Item, "result": "done"}), event(4, "lesson-ended",
			map[string]any{}))
	signRun(t, anne, good)
	view := got[runView](t, anne, "GET", "/api/v1/lessons/"+good, "")
	for _, i := range view.State.Items {
		assert.Nil(t, i.Level, "nobody is graded")
	}
	status, body = back(`,"run":"` + good + `"`)
	require.Equal(t, 204, status, body)
	held := grounding(t, anne, registration)
	assert.Equal(t, again, held.Lesson, "the run that stopped holds it still")
	status, body = anne.call("POST", "/api/v1/findings/"+held.Lesson+"/"+held.Event+"/return",
		`{"words":"the same","run":"`+good+`"}`)
	require.Equal(t, 204, status, body)
	status, body = tunde.call("POST", "/api/v1/lessons/"+uuid.NewString()+"/events?now=true",
		batch(opening(demo.Okonjo.ID)))
	assert.Equal(t, 200, status, "it flies again: "+body)

	status, body = anne.call("GET", "/api/v1/lessons/"+good+"/record", "")
	require.Equal(t, 200, status, body)
	proved, err := record.Verify([]byte(body))
	require.NoError(t, err)
	assert.Contains(t, proved.Line(), "maintenance run of "+demo.Achterberg.Name+" on "+registration)
	status, _ = anne.call("GET", "/api/v1/lessons/"+good+"/grade-sheet.pdf", "")
	assert.Equal(t, 403, status, "there is no grade to print")
	trends := got[struct {
		Series []struct{ Points []struct{ Lesson string } }
	}](t, anne, "GET", "/api/v1/aircraft/"+registration+"/trends", "")
	counted := false
	for _, s := range trends.Series {
		for _, p := range s.Points {
			counted = counted || p.Lesson == good
		}
	}
	assert.True(t, counted, "it counts in the trends")
}

// runView is what the test looks at in a run.
type runView struct {
	Lesson struct{ StudentID string }
	Book   struct {
		List struct {
			Phases []struct {
				ID    string
				Items []struct{ ID, Check string }
			}
		}
	}
	State struct {
		EventHash string
		Items     []struct{ Level *int }
	}
}

type tried struct {
	status int
	body   string
}

// fly opens a lesson on the aircraft in which the right magneto shows no drop, and
// grounds it at the reading.
func fly(t *testing.T, c *client) []tried {
	t.Helper()
	path := "/api/v1/lessons/" + uuid.NewString() + "/events"
	open := opening(demo.Okonjo.ID)
	reading := event(2, "reading", magnetoAt("magnetos", 1750))
	decided := event(3, "decision", map[string]any{
		"about": reading["id"], "decision": "grounded", "told": demo.Achterberg.Name,
	})
	status, body := c.call("POST", path, batch(open, reading, decided))
	require.NotContains(t, body, "refused")
	return []tried{{status, body}}
}

func magnetoAt(item string, right int) map[string]any {
	return map[string]any{"item": item, "check": "magneto",
		"reading": map[string]any{"unit": "rpm", "base": 1750, "left": 1664, "bothAfterLeft": 1750,
			"right": right, "bothAfterRight": 1750, "roughLeft": false, "roughRight": false, "stoppedLeft": false,
			"stoppedRight": false}}
}

type heldBy struct {
	Event, Lesson, Item string
	Grounds             bool
}

// grounding is what keeps an aircraft on the ground.
func grounding(t *testing.T, c *client, registration string) heldBy {
	t.Helper()
	for _, f := range got[struct{ Findings []heldBy }](t, c, "GET", "/api/v1/aircraft/"+registration+"/trends",
		"").Findings {
		if f.Grounds {
			return f
		}
	}
	t.Fatal("nothing keeps it on the ground")
	return heldBy{}
}

func runBody(id, item string) string {
	if id == "" {
		id = uuid.NewString()
	}
	return fmt.Sprintf(`{"id":%q,"event":%q,"device":"d","item":%q,"oat":"12","qnh":"1015"}`, id,
		uuid.Must(uuid.NewV7()), item)
}

func openRun(t *testing.T, c *client, registration, item string) string {
	t.Helper()
	id := uuid.NewString()
	status, body := c.call("POST", "/api/v1/aircraft/"+registration+"/runs", runBody(id, item))
	require.Equal(t, 204, status, body)
	return id
}

func signing(t *testing.T, c *client, id string) string {
	t.Helper()
	text, err := json.Marshal(map[string]string{"password": demo.Password, "event": uuid.Must(uuid.NewV7()).String(),
		"eventHash": got[runView](t, c, "GET", "/api/v1/lessons/"+id, "").State.EventHash})
	require.NoError(t, err)
	return string(text)
}

func signRun(t *testing.T, c *client, id string) {
	t.Helper()
	status, body := c.call("POST", "/api/v1/lessons/"+id+"/sign", signing(t, c, id))
	require.Equal(t, 200, status, body)
}
