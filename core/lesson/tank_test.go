package lesson_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/quantity"
)

// TestTheTimeOnATank: what was dipped makes the plan; the time runs from the
// take-off, passed or marked, stands against the first change, and is refused
// where it cannot be computed. A type without a choice of tanks has none.
func TestTheTimeOnATank(t *testing.T) {
	typ := aircraft.Type{
		ID: "t", Version: 1, Name: "Single", Engines: 1,
		Fuel: &aircraft.Fuel{
			Tanks: []aircraft.Tank{{ID: "left", UsableL: 48}, {ID: "right", UsableL: 48}}, BurnLPerHour: 24,
			ImbalanceMaxL: 20, OneTank: true,
		},
	}
	item := func(id string, timers ...string) checklist.Item {
		return checklist.Item{ID: id, Challenge: id, Response: "done", Why: "so", NoStandard: "none", Timers: timers}
	}
	list := checklist.List{ID: "l", Title: "L", Version: 1, AircraftType: "t", Source: "s",
		Phases: []checklist.Phase{
			{ID: "p", Title: "P", Items: []checklist.Item{item("lights"), item("time",
				lesson.TankTimer), item("power")}},
		}}
	c := lesson.Choice{Student: "s", Instructor: "i", Aircraft: "a", Method: "read-and-do", Scale: "five",
		Purpose: "training", Date: "2026-11-24", Day: checklist.FreshDay(), List: list, Type: typ,
		FuelLeft: "40", FuelRight: "32"}
	for want, change := range map[string]func(c *lesson.Choice){
		"fuelRight is not said yet: the plan needs both": func(c *lesson.Choice) { c.FuelRight = " " },
		"fuelLeft “lots” is not a plain number in L":     func(c *lesson.Choice) { c.FuelLeft = "lots" },
		"may not be below zero":                          func(c *lesson.Choice) { c.FuelRight = "-4" },
	} {
		wrong := c
		change(&wrong)
		_, err := wrong.Opened()
		assert.ErrorContains(t, err, want)
	}
	work := func(c lesson.Choice) *hands {
		o, err := c.Opened()
		require.NoError(t, err)
		payload, err := json.Marshal(o)
		require.NoError(t, err)
		h := &hands{TB: t}
		e := lesson.Event{
			ID: h.id(), Device: "d", Seq: h.next(), Counter: 1, Kind: lesson.KindOpened, V: 1, Payload: payload,
		}
		book, err := lesson.BookFrom(oneShelf{typ: c.Type, list: list}, e.ID, o)
		require.NoError(t, err)
		h.Session = lesson.NewSession(lesson.New(book))
		h.Add(e)
		return h
	}
	h := work(c)
	h.touch(lesson.Mark{Name: "open", Item: "power"})
	state := h.State()
	require.Len(t, state.Timers, 1, "passed, it was done")
	assert.True(t, state.Timers[0].Running)
	assert.Equal(t, lesson.Timed{Label: "on the left tank", Shown: "69:59", Words: "change after 70 min"},
		h.Timed(lesson.TankTimer, "time", 4199))
	assert.Equal(t, lesson.Timed{Label: "on the left tank", Shown: "70:01", Words: "change after 70 min", State: "out"},
		h.Timed(lesson.TankTimer, "time", 4201))
	h.touch(lesson.Mark{Name: "done", Item: "time"})
	assert.Len(t, h.State().Timers, 1, "it is begun once")

	c.FuelLeft, c.FuelRight, c.Day.Units = "10.6", "8.5", quantity.Units{Volume: "gal"}
	assert.Equal(t, "change after 69 min", work(c).Timed(lesson.TankTimer, "time", 0).Words, "40.1 and 32.2 litres")
	c.FuelLeft, c.FuelRight = "", ""
	assert.Equal(t, lesson.Timed{Label: "on this tank", Shown: "5 s"}, work(c).Timed(lesson.TankTimer, "time", 5),
		"nothing was dipped: it is counted, and held to nothing")
	c.FuelLeft, c.Type.Fuel = "40", nil
	assert.Equal(t, "on this tank", work(c).Timed(lesson.TankTimer, "time", 5).Label)
}

// oneShelf holds one type and one list.
type oneShelf struct {
	typ  aircraft.Type
	list checklist.List
}

func (s oneShelf) TypeVersion(string, int) (aircraft.Type, bool)  { return s.typ, true }
func (s oneShelf) ListVersion(string, int) (checklist.List, bool) { return s.list, true }
func (s oneShelf) Scale(string) (lesson.Scale, bool)              { return lesson.Scale{}, true }
