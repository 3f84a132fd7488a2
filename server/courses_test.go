package server_test

import (
	"context"
	"encoding/json"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/reports"
	"jetprimer/store"
)

type sheet struct {
	Groups []struct {
		Students []struct {
			Student              struct{ ID string }
			Stuck, Base          string
			Met, Required, Ready any
		}
	}
}

// TestTheSheetSaysWhoIsStuck: who gained nothing where others did, with what it is
// held against, on the sheet and on their own page; where they fly.
func TestTheSheetSaysWhoIsStuck(t *testing.T) {
	url, d := startWith(t)
	owner, err := pgx.Connect(context.Background(), d.OwnerURL)
	require.NoError(t, err)
	defer owner.Close(context.Background())
	stuck := func() map[string]string {
		out := map[string]string{}
		for _, g := range got[sheet](t, as(t, url, demo.Ferreira), "GET", "/api/v1/school", "").Groups {
			for _, s := range g.Students {
				out[s.Student.ID] = s.Stuck
				if s.Student.ID == demo.Voss.ID {
					assert.Equal(t, "XSTB", s.Base)
				}
			}
		}
		return out
	}
	for id, words := range stuck() {
		assert.Empty(t, words, id)
	}
	_, err = owner.Exec(context.Background(), "update courses set met = '[0,0,25,25,25,24]' where student_id = $1",
		demo.Lindqvist.ID)
	require.NoError(t, err)
	says := "No element more to standard in the last 5 lessons; too few others were where they were to say what is usual."
	assert.Empty(t, stuck()[demo.Lindqvist.ID], "from nothing to 24 is a gain")
	_, err = owner.Exec(context.Background(), "update courses set met = '[25,25,25,25,25,24]' where student_id = $1",
		demo.Lindqvist.ID)
	require.NoError(t, err)
	assert.Equal(t, says, stuck()[demo.Lindqvist.ID])

	view := got[struct {
		Stuck    string
		Forecast struct{ Words []string }
		Practise []struct {
			Item, Words, Why string
			Known            float64
		}
	}](t, as(t, url, demo.Lindqvist), "GET", "/api/v1/students/"+demo.Lindqvist.ID, "")
	assert.Empty(t, view.Stuck, "the own page works from the lessons themselves")
	require.Len(t, view.Forecast.Words, 1)
	assert.Contains(t, view.Forecast.Words[0], "it takes 8")
	require.NotEmpty(t, view.Practise)
	assert.LessOrEqual(t, len(view.Practise), 8)
	for i, p := range view.Practise {
		assert.NotEmpty(t, p.Words)
		assert.NotEmpty(t, p.Why)
		if i > 0 {
			assert.GreaterOrEqual(t, p.Known, view.Practise[i-1].Known, "the least known first")
		}
	}
	o := got[reports.OutlookView](t, as(t, url, demo.Ferreira), "GET", "/api/v1/outlook", "")
	assert.Zero(t, o.Told, "one student became ready here: nothing can be told")
	assert.Equal(t, 13, o.Untold)
	assert.Len(t, o.Months, 6)
}

// TestAPastDayStaysAsItWasShown: a lesson flown before a day and signed after it
// changes nothing of what was shown on it.
func TestAPastDayStaysAsItWasShown(t *testing.T) {
	url, d := startWith(t)
	type view struct {
		Readiness any
		Stuck     string
		Practise  any
		Tasks     []struct {
			Elements []struct{ Standing, ID string }
		}
		Criticals any
	}
	on := func(day time.Time) view {
		return got[view](t, as(t, url, demo.Halloran), "GET",
			"/api/v1/students/"+demo.Halloran.ID+"?asOf="+day.Format(time.DateOnly), "")
	}
	yesterday := schooltest.Day.AddDate(0, 0, -1)
	before, today := on(yesterday), on(schooltest.Day)

	// A lesson of the day before yesterday is brought along and signed only today: all
	// of it is unsafe.
	flown := yesterday.AddDate(0, 0, -1).Add(10 * time.Hour)
	id := uuid.Must(uuid.NewV7()).String()
	open := opening(demo.Okonjo.ID)
	open["wall"] = flown.Format(time.RFC3339)
	open["payload"].(map[string]any)["student"] = demo.Halloran.ID
	events := []map[string]any{open}
	list, _ := d.Catalog.ListFor("alder-110")
	for i, p := range list.Places()[:30] {
		events = append(events, event(i+2, "item-result", map[string]any{"item": p.Item.ID, "result": "wrong"}))
	}
	events = append(events,
		event(40, "error",
			map[string]any{"item": list.Places()[0].Item.ID, "code": "wrong-switch", "severity": "unsafe"}), event(41,
			"lesson-ended", map[string]any{}))
	c := as(t, url, demo.Okonjo)
	status, body := c.call("POST", "/api/v1/lessons/"+id+"/events", batch(events...))
	require.Equal(t, 200, status, body)
	require.NotContains(t, body, "refused")
	require.NoError(t, d.Store.In(context.Background(), demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
		row, err := tx.Lesson(id)
		if err != nil {
			return err
		}
		state, _, _, err := tx.State(row)
		if err != nil {
			return err
		}
		return tx.Sign(id, state.EventHash, store.Signer{ID: demo.Okonjo.ID, Name: demo.Okonjo.Name, How: "password"},
			uuid.Must(uuid.NewV7()).String(), schooltest.Day.Add(11*time.Hour))
	}))
	assert.Equal(t, before, on(yesterday))
	assert.NotEqual(t, today, on(schooltest.Day), "today it counts")
	text, err := json.Marshal(on(schooltest.Day).Criticals)
	require.NoError(t, err)
	assert.Contains(t, string(text), list.Places()[0].Item.ID)
}
