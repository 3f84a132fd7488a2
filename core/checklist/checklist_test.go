package checklist_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jetprimer/core/checklist"
)

func sound() checklist.List {
	item := func(id string, after ...string) checklist.Item {
		return checklist.Item{ID: id, Challenge: "c", Response: "r", Why: "w", After: after}
	}
	return checklist.List{ID: "l", Title: "t", Version: 1, AircraftType: "a", Source: "s", Phases: []checklist.Phase{
		{ID: "one", Title: "One", Items: []checklist.Item{item("brakes"), item("beacon")}},
		{ID: "two", Title: "Two", Items: []checklist.Item{item("crank", "brakes")}},
	}}
}

func TestPlacesCountThroughThePhases(t *testing.T) {
	places := sound().Places()
	assert.Len(t, places, 3)
	assert.Equal(t, "crank", places[2].Item.ID)
	assert.Equal(t, 1, places[2].Phase)
	assert.Equal(t, 2, places[2].Position)
}

func TestFaultsNameTheirPath(t *testing.T) {
	assert.Empty(t, sound().Problems())
	for _, c := range []struct {
		spoil func(*checklist.List)
		want  string
	}{
		{func(l *checklist.List) { l.Title = "" }, "title is missing"},
		{func(l *checklist.List) { l.Version = -1 }, "version must be 1 or more"},
		{func(l *checklist.List) { l.Phases = nil }, "phases has no phase"},
		{func(l *checklist.List) { l.Phases[1].ID = "one" }, `phases[1].id "one" is empty or used twice`},
		{func(l *checklist.List) { l.Phases[1].Items = nil }, "phases[1].items has no item"},
		{
			func(l *checklist.List) { l.Phases[1].Items[0].ID = "beacon" },
			`phases[1].items[0].id "beacon" is empty or used twice`,
		},
		{func(l *checklist.List) { l.Phases[0].Items[1].Why = "" }, "phases[0].items[1].why is missing"},
		{func(l *checklist.List) { l.Phases[0].Items[1].Challenge = "" }, "phases[0].items[1].challenge is missing"},
		{
			func(l *checklist.List) { l.Phases[0].Items[0].After = []string{"crank"} },
			`phases[0].items[0].after[0] "crank" is no item that stands before this one`,
		},
		{
			func(l *checklist.List) { l.Phases[0].Items[0].After = []string{"brakes"} },
			`"brakes" is no item that stands before this one`,
		},
		{
			func(l *checklist.List) { l.Phases[0].Items[0].Gauges = []string{"oil"} },
			"phases[0].items[0].gauges is only for items whose check is gauges",
		},
	} {
		l := sound()
		c.spoil(&l)
		faults := l.Problems()
		if assert.NotEmpty(t, faults, c.want) {
			assert.Contains(t, faults[0].Error(), c.want)
		}
	}
}
