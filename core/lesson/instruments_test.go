package lesson_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
)

// shipped opens a lesson on what ships for a type, by its printed list.
func shipped(t testing.TB, c *catalog.Catalog, typ aircraft.Type) *hands {
	list, known := c.ListFor(typ.ID)
	require.True(t, known, typ.ID)
	h := &hands{TB: t, Session: lesson.NewSession(lesson.New(lesson.Book{Type: typ, List: list}))}
	payload, err := json.Marshal(map[string]any{"student": "s", "instructor": "i", "aircraft": "a",
		"aircraftType": typ.ID, "typeVersion": typ.Version,
		"list": list.ID, "listVersion": list.Version, "method": "read-and-do", "scale": "five", "purpose": "training",
		"conditions": map[string]any{
			"rules": "VFR", "night": false, "oatC": 12, "elevationFt": 412, "qnhHPa": 1013, "engineState": "cold",
			"date": "2026-11-24",
		}})
	require.NoError(t, err)
	answer := h.Add(lesson.Event{
		ID: h.id(), Device: "d", Seq: h.next(), Counter: 1, Kind: lesson.KindOpened, V: 1, Payload: payload,
	})
	require.Equal(t, "held", answer[0].Status, answer[0].Reason)
	return h
}

// plain is a value as JSON has it, its numbers kept as text.
func plain(t testing.TB, v any) map[string]any {
	data, err := json.Marshal(v)
	require.NoError(t, err)
	out, err := form.ParseObject(data)
	require.NoError(t, err)
	return out
}

// TestEveryInstrumentOfEveryType: each measured item of every shipped type asks
// for what its check reads, says nothing while it is empty, judges what is typed
// as the record will, and shows what was kept.
func TestEveryInstrumentOfEveryType(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	seen := map[string]bool{}
	for _, typ := range c.Types {
		if newest, _ := c.Type(typ.ID); newest.Version != typ.Version {
			continue
		}
		h := shipped(t, c, typ)
		for _, row := range h.Rows() {
			if !strings.Contains(row.Kind, "measured") {
				_, err := h.Panel(h.State(), row.Item, nil)
				assert.ErrorContains(t, err, "is not measured", row.Item)
				continue
			}
			at := typ.ID + " " + row.Item
			empty, err := h.Panel(h.State(), row.Item, nil)
			require.NoError(t, err, at)
			seen[empty.Check] = true
			assert.True(t, empty.Entering, at)
			assert.Equal(t, "first try", empty.TryWords, at)
			assert.NotContains(t, empty.Source, "fictional", at)
			assert.NotEmpty(t, empty.Boxes, at)
			paths := map[string]bool{}
			for _, b := range empty.Boxes {
				assert.NotEmpty(t, b.Label, "%s %s", at, b.Path)
				assert.False(t, paths[b.Path], "%s has two boxes %s", at, b.Path)
				paths[b.Path] = true
				if b.Timer != "" {
					assert.True(t, h.Timed(b.Path, row.Item, 1).Boxed, "%s: the time of %s is stopped in its box", at,
						b.Path)
				}
			}
			if len(empty.Missing) > 0 {
				assert.Nil(t, empty.Verdict, "%s says something of nothing", at)
				_, err = h.try(lesson.Mark{Name: "reading", Item: row.Item, Draft: empty.Draft})
				assert.ErrorContains(t, err, "draft."+empty.Missing[0]+" is still empty", at)
			}

			place := h.Book().List.Places()[slices.IndexFunc(h.Rows(),
				func(r lesson.Row) bool { return r.Item == row.Item })]
			reading, conditions, ok := check.Example(empty.Check, typ, place.Item.Gauges, 0)
			if !ok || conditions["date"] != nil && conditions["date"] != "2026-11-24" {
				continue
			}
			filled, err := h.Panel(h.State(), row.Item, form.Typed(plain(t, reading)))
			require.NoError(t, err, at)
			require.Empty(t, filled.Missing, at)
			require.Empty(t, filled.Wrong, at)
			require.Empty(t, filled.Refusal, at)
			require.NotNil(t, filled.Verdict, at)
			assert.Equal(t, check.StateOf(filled.Verdict.Outcome), filled.State, at)
			for _, s := range filled.Strips {
				assert.NotEmpty(t, s.Label, at)
				assert.False(t, s.Min != nil && s.Max != nil && *s.Min > *s.Max, "%s %s", at, s.Label)
			}
			for _, tile := range filled.Tiles {
				assert.NotEmpty(t, tile.Value, "%s %s", at, tile.Label)
			}

			h.touch(lesson.Mark{Name: "reading", Item: row.Item, Draft: form.Typed(plain(t, reading))})
			kept, err := h.Panel(h.State(), row.Item, nil)
			require.NoError(t, err, at)
			assert.False(t, kept.Entering, at)
			assert.NotEmpty(t, kept.Event, at)
			assert.Equal(t, filled.Verdict, kept.Verdict, "%s: the screen and the record say the same", at)
			assert.Equal(t, filled.Tiles, kept.Tiles, at)
			assert.Equal(t, filled.Words, kept.Words, at)

			again, err := h.Panel(h.State(), row.Item, form.Draft{})
			require.NoError(t, err, at)
			assert.True(t, again.Entering, at)
			assert.Equal(t, "second try", again.TryWords, at)
			require.Len(t, again.Earlier, 1, at)
			assert.NotEmpty(t, again.Earlier[0].Said, at)
			assert.Equal(t, check.OutcomeWords(kept.Verdict.Outcome), again.Earlier[0].Words, at)
			for _, n := range again.Beside {
				assert.NotEqual(t, again.Engine, n.Engine, at)
			}
		}
	}
	for _, d := range check.All() {
		assert.True(t, seen[d.Name], "%s is measured on no shipped list", d.Name)
	}
}

// TestALetterInABoxIsRefusedByItsName: what is no number says so at its box, and
// is kept in no record.
func TestALetterInABoxIsRefusedByItsName(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, typ := range c.Types {
		h := shipped(t, c, typ)
		for _, row := range h.Rows() {
			if !strings.Contains(row.Kind, "measured") {
				continue
			}
			empty, err := h.Panel(h.State(), row.Item, nil)
			require.NoError(t, err)
			for _, b := range empty.Boxes {
				if b.Kind != form.Number {
					continue
				}
				draft := form.Draft{}
				for k, v := range empty.Draft {
					draft[k] = v
				}
				draft[b.Path] = "9;5"
				p, err := h.Panel(h.State(), row.Item, draft)
				require.NoError(t, err)
				assert.Contains(t, p.Wrong, b.Path, "%s %s", typ.ID, row.Item)
				assert.Nil(t, p.Verdict)
			}
		}
	}
}

// TestTimesAreHeldToTheTypesOwn: a duration of the type is said with its words,
// and stands by its bounds.
func TestTimesAreHeldToTheTypesOwn(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, typ := range c.Types {
		h := shipped(t, c, typ)
		for _, d := range typ.Durations {
			assert.Equal(t, d.Label, h.Timed(d.ID, "", 1).Label)
			assert.Equal(t, d.Words(), h.Timed(d.ID, "", 1).Words)
			if d.MinSeconds > 0 {
				assert.Equal(t, "attend", h.Timed(d.ID, "", d.MinSeconds-0.1).State, "%s %s", typ.ID, d.ID)
				assert.Equal(t, "within", h.Timed(d.ID, "", d.MinSeconds).State)
			}
			if d.MaxSeconds > 0 {
				assert.NotEqual(t, "out", h.Timed(d.ID, "", d.MaxSeconds).State, "%s %s", typ.ID, d.ID)
				assert.Equal(t, "out", h.Timed(d.ID, "", d.MaxSeconds+0.1).State)
			}
		}
		assert.Equal(t, lesson.Timed{Label: "unheard of", Shown: "5 s"}, h.Timed("unheard-of", "nowhere", 5))
		for _, row := range h.Rows() {
			for _, id := range row.Timers {
				known := slices.ContainsFunc(typ.Durations, func(d aircraft.Duration) bool { return d.ID == id })
				assert.True(t, known || h.Timed(id, row.Item, 1).Words == "",
					"%s: a time that the type does not know is only counted", row.Item)
				assert.False(t, h.Timed(id, row.Item, 1).Boxed, "%s: %s has a box and a button", row.Item, id)
			}
		}
	}
}

// TestTheBriefOfEveryClass: what a helicopter cannot do is not asked of it, and
// what was not heard is written down.
func TestTheBriefOfEveryClass(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, typ := range c.Types {
		h := shipped(t, c, typ)
		elements := lesson.BriefElements(typ)
		var ids []string
		for _, e := range elements {
			assert.NotEmpty(t, e.Label)
			assert.NotContains(t, ids, e.ID, typ.ID)
			ids = append(ids, e.ID)
		}
		if typ.Class == "helicopter" {
			assert.NotContains(t, ids, "runway-left", typ.ID)
		}
		h.touch(lesson.Mark{Name: "brief", Heard: ids[1:]})
		h.touch(lesson.Mark{Name: "brief", Heard: ids})
		notes := h.State().Notes
		require.Len(t, notes, 2)
		assert.Equal(t, fmt.Sprintf("Brief: %d of %d heard; not heard: %s.", len(ids)-1, len(ids), elements[0].Label),
			notes[0].Words)
		assert.Equal(t, fmt.Sprintf("Brief: %d of %d heard.", len(ids), len(ids)), notes[1].Words)
	}
}

// TestWhatALessonIsOpenedWith: what is missing is named in the order in which it
// is chosen, and what is typed for the day is held to its bounds.
func TestWhatALessonIsOpenedWith(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, typ := range c.Types {
		list, _ := c.ListFor(typ.ID)
		if newest, _ := c.Type(typ.ID); newest.Version != typ.Version || list.AircraftType == "" {
			continue
		}
		choice := lesson.Choice{Student: "s", Instructor: "i", Aircraft: "QZ-AAA", ElevationFt: 412,
			Method: "read-and-do", Scale: "five", Purpose: "training", Runway: "20", Wind: "190/11G18",
			StartOrder: typ.StartOrder, Date: "2026-11-24", Day: checklist.FreshDay(), List: list, Type: typ}
		o, err := choice.Opened()
		require.NoError(t, err, typ.ID)
		assert.Equal(t, []any{412, "2026-11-24", "VFR", false},
			[]any{o.Conditions["elevationFt"], o.Conditions["date"], o.Conditions["rules"], o.Conditions["night"]})
		assert.InDelta(t, 18, *o.Day.GustKt, 0)
		flown, _, err := choice.Tailored()
		require.NoError(t, err)
		assert.Equal(t, &flown, o.Flown, "what was shown is what is opened")
		for _, spoilt := range []struct {
			spoil func(*lesson.Choice)
			said  string
		}{
			{func(c *lesson.Choice) { c.Student = "" }, "student is not chosen yet"},
			{func(c *lesson.Choice) { c.Aircraft = "" }, "aircraft is not chosen yet"},
			{func(c *lesson.Choice) { c.List = checklist.List{} }, "aircraft has no checklist in force"},
			{func(c *lesson.Choice) { c.Wind = "190 at 11" }, "wind “190 at 11” is not written like"},
			{func(c *lesson.Choice) { c.Wind = "400/11" }, "is not written like"},
			{func(c *lesson.Choice) { c.Wind = "190/111" }, "is not written like"},
			{func(c *lesson.Choice) { c.Day.OAT = "9,500" }, "oat"},
			{func(c *lesson.Choice) { c.Day.OAT = "61" }, "oat 61 is outside -60 to 60 °C"},
			{func(c *lesson.Choice) { c.Day.QNH = "12" }, "qnh 12 is outside"},
			{
				func(c *lesson.Choice) { c.Day.OAT, c.Day.Dew = "5", "6" },
				"dew point, 6 °C, cannot be above the outside air, 5 °C",
			},
			{func(c *lesson.Choice) { c.Method = "by heart" }, "method must be one of"},
		} {
			bad := choice
			spoilt.spoil(&bad)
			_, err := bad.Opened()
			assert.ErrorContains(t, err, spoilt.said, typ.ID)
		}
	}
}

// TestARatingLimitedInTimeIsTimed: a gauge that may stay above its highest for a while
// has a box for the time, with a timer, and where it counts one for the speed; what is
// said there is judged, kept and shown, and nothing of it has to be said.
func TestARatingLimitedInTimeIsTimed(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	typ, _ := c.Type("willow-t5")
	typ.Limits = maps.Clone(typ.Limits)
	typ.Limits["gauges"] = maps.Clone(typ.Limits["gauges"])
	typ.Limits["gauges"]["turbineTemperature"] = map[string]any{
		"min": 10, "max": 100, "timedMax": 110, "timedSeconds": 300, "belowKt": 60,
	}
	h := shipped(t, c, typ)
	item := ""
	for _, p := range h.Book().List.Places() {
		if slices.Contains(p.Item.Gauges, "turbineTemperature") {
			item = p.Item.ID
		}
	}
	require.NotEmpty(t, item)
	draft := form.Draft{}
	shown := func() lesson.Panel {
		p, err := h.Panel(h.State(), item, draft)
		require.NoError(t, err)
		return p
	}
	paths := map[string]form.Box{}
	for _, b := range shown().Boxes {
		paths[b.Path] = b
		if !b.Beside {
			draft[b.Path] = "50"
		}
	}
	require.Contains(t, paths, "turbineTemperature.seconds")
	assert.Equal(t, form.Timed, paths["turbineTemperature.seconds"].Taken)
	assert.True(t, paths["turbineTemperature.kt"].Optional)
	draft["turbineTemperature"] = "105"
	assert.Contains(t, shown().Verdict.Findings[0].Message, "The time was not taken.")
	draft["turbineTemperature.seconds"], draft["turbineTemperature.kt"] = "301", "40"
	p := shown()
	assert.Contains(t, fmt.Sprint(p.Verdict.Findings), "It was held for 301 s.")
	require.NotNil(t, p.Strips)
	for _, s := range p.Strips {
		if s.Path == "turbineTemperature" {
			require.NotNil(t, s.Value, "its strip shows the number")
			assert.Equal(t, 105.0, *s.Value)
		}
	}
	for seconds, state := range map[float64]string{299: "", 301: "out"} {
		timed := h.Timed("turbineTemperature.seconds", item, seconds)
		assert.Equal(t, state, timed.State)
		assert.Equal(t, "at most 300 s", timed.Words)
		assert.True(t, timed.Boxed)
	}
	events, err := h.Touch(h.State(), lesson.Mark{Name: "reading", Item: item, Draft: draft},
		lesson.Stamp{Device: "d", Seq: h.next(), ID: h.id})
	require.NoError(t, err)
	h.Add(events...)
	kept, err := h.Panel(h.State(), item, nil)
	require.NoError(t, err)
	assert.Equal(t, check.Stop, kept.Verdict.Decision)
	draft = form.Draft{}
	assert.Contains(t, shown().Earlier[0].Said, "held for 301 s, at 40 kt")
}
