package lesson_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/lesson"
)

// TestPowerIsHeldToTheDayAndTheItem: what the shipped lists read is held to the
// band of its power, to the day's limit, and to the type's minimums before power.
func TestPowerIsHeldToTheDayAndTheItem(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, r := range []struct {
		name, typ, item, gauge string
		value                  float64
		conditions, want       string
	}{
		{
			"hover torque over a hot day's limit", "willow-t5", "hover-power", "torque", 84,
			`{"elevationFt":6000,"oatC":40,"qnhHPa":1013.25}`, "stop",
		},
		{
			"the same on a cool day at the coast", "willow-t5", "hover-power", "torque", 84,
			`{"elevationFt":18,"oatC":10,"qnhHPa":1013.25}`, "continue",
		},
		{
			"torque that is not there", "willow-t5", "hover-power", "torque", 20,
			`{"elevationFt":18,"oatC":10,"qnhHPa":1013.25}`, "stop",
		},
		{
			"manifold over the limit of a cold day", "juniper-h2", "hover-power", "manifold", 23.5,
			`{"elevationFt":18,"oatC":-10,"qnhHPa":1013.25}`, "stop",
		},
		{"half load is no full load", "larch-d2", "load-even-1", "load", 55, `{}`, "stop"},
		{"nor is a part throttle full power", "hornbeam-twin", "power-even-1", "manifold", 20, `{}`, "stop"},
		{
			"hover torque on a day beyond the table", "willow-t5", "hover-power", "torque", 60,
			`{"elevationFt":18,"oatC":60,"qnhHPa":1013.25}`, "recheck",
		},
		{"over the limit of any day", "willow-t5", "hover-power", "torque", 130, `{}`, "stop"},
		{"a warm healthy engine at idle", "willow-t5", "oil-pressures", "engineOilPressure", 60, `{}`, "continue"},
		{"oil below its minimum before power", "alder-110", "temps-warm", "oilTemperature", 20, `{}`, "recheck"},
		{"oil at its minimum before power", "alder-110", "temps-warm", "oilTemperature", 24, `{}`, "continue"},
	} {
		typ, ok := c.Type(r.typ)
		require.True(t, ok)
		h := shipped(t, c, typ)
		id := r.item
		if _, there := h.Book().List.Find(id); !there || !listed(h, id) {
			id = id[:len(id)-2]
		}
		payload := fmt.Sprintf(`{"item":%q,"check":"gauges","reading":{%q:%g},"conditions":%s}`, id, r.gauge, r.value,
			r.conditions)
		if r.conditions == "{}" {
			payload = fmt.Sprintf(`{"item":%q,"check":"gauges","reading":{%q:%g}}`, id, r.gauge, r.value)
		}
		answers := h.Add(lesson.Event{
			ID: h.id(), Device: "d", Seq: h.next(), Counter: h.LastCounter() + 1, Kind: lesson.KindReading, V: 1,
			Payload: []byte(payload),
		})
		require.Equal(t, "held", answers[0].Status, answers[0].Reason)
		got := h.State().Readings[0]
		if assert.NotNil(t, got.Verdict, "%s: %s", r.name, got.Unusable) {
			assert.Equal(t, r.want, string(got.Verdict.Decision), "%s: %v", r.name, got.Verdict.Findings)
		}
	}
}

func listed(h *hands, id string) bool {
	for _, row := range h.Rows() {
		if row.Item == id {
			return true
		}
	}
	return false
}

// TestWhatIsFittedIsHeldToItsLimits: a lesson judges by the equipment that it was opened
// with, and by the strictest where its opening says nothing of any.
func TestWhatIsFittedIsHeldToItsLimits(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	typ, _ := c.Type("alder-110")
	list, _ := c.ListFor(typ.ID)
	typ.Equipment = append([]aircraft.Equipment{{ID: "climb-propeller", Label: "climb propeller", Optional: true,
		Limits: map[string]map[string]any{"static-rpm": {"min": 2450, "max": 2600}}}}, typ.Equipment...)
	for fitted, passes := range map[string][2]bool{
		"":                                 {false, false},
		`,"equipment":["winter-kit"]`:      {true, false},
		`,"equipment":["climb-propeller"]`: {false, true},
	} {
		var o lesson.Opened
		require.NoError(t,
			json.Unmarshal([]byte(`{"aircraftType":"alder-110","list":"x","scale":"five"`+fitted+`}`), &o))
		book, err := lesson.BookFrom(oneShelf{typ: typ, list: list}, "o", o)
		require.NoError(t, err)
		for i, rpm := range []int{2300, 2550} {
			request, err := check.ParseRequest(fmt.Appendf(nil,
				`{"aircraftType":"alder-110","reading":{"rpm":%d},"conditions":{"elevationFt":0,"oatC":15,"qnhHPa":1013.25}}`, rpm))
			require.NoError(t, err)
			v, err := check.Judge("static-rpm", request, func(string) (aircraft.Type, bool) { return book.Type, true })
			require.NoError(t, err)
			assert.Equal(t, passes[i], v.Decision == check.Continue, "%s %d", fitted, rpm)
		}
	}
}
