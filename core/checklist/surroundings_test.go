package checklist_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
)

// around is what the documents of these tests may refer to.
var around = checklist.Surroundings{
	Type: aircraft.Type{ID: "alder", Name: "Alder", Engines: 1, Cockpit: []aircraft.Place{{ID: "panel"}},
		Limits: map[string]map[string]any{"magneto": {}, "gauges": {"oilPressure": map[string]any{"min": 25}}}},
	Elements: []string{"start"}, Equipment: []string{"autopilot"},
}

func soundItem() checklist.Item {
	return checklist.Item{
		ID: "magnetos", Challenge: "Magnetos", Response: "checked", Why: "each must run it", Check: "magneto",
		Place: "panel", Elements: []string{"start"},
	}
}

func listOf(items ...checklist.Item) checklist.List {
	return checklist.List{
		ID: "l", Title: "L", Version: 1, AircraftType: "alder", Source: "s",
		Phases: []checklist.Phase{{ID: "run-up", Title: "Run-up", Items: items}},
	}
}

// TestWhatAListRefersToMustBeThere: each reference outside the list, one at a
// time, with its place.
func TestWhatAListRefersToMustBeThere(t *testing.T) {
	require.Empty(t, around.ListProblems(listOf(soundItem())))
	for _, c := range []struct {
		spoil      func(*checklist.Item)
		path, want string
	}{
		{
			func(i *checklist.Item) { i.Check = "lanes" }, "$.phases[0].items[0].check",
			`"lanes" is no check that the Alder has limits for`,
		},
		{
			func(i *checklist.Item) { i.Check, i.Gauges = "gauges", []string{"oilPressure", "fuelFlow"} },
			"$.phases[0].items[0].gauges[1]", `"fuelFlow" is no gauge that the Alder has limits for`,
		},
		{
			func(i *checklist.Item) { i.Place = "wing" }, "$.phases[0].items[0].place",
			`"wing" is no place in the cockpit of the Alder`,
		},
		{
			func(i *checklist.Item) { i.Elements = []string{"start", "stop"} }, "$.phases[0].items[0].elements[1]",
			`"stop" is in no standards pack`,
		},
		{
			func(i *checklist.Item) { i.Knowledge = []string{"stop"} }, "$.phases[0].items[0].knowledge[0]",
			`"stop" is in no standards pack`,
		},
		{
			func(i *checklist.Item) { i.When = "fitted(skis)" }, "$.phases[0].items[0].when",
			`"skis" is equipment of no type`,
		},
		{
			func(i *checklist.Item) { i.When = "planned(stalls) and planned(loops)" }, "$.phases[0].items[0].when",
			`"loops" is no exercise`,
		},
		{func(i *checklist.Item) { i.When = "oat << 5" }, "$.phases[0].items[0].when", "column 6"},
		{func(i *checklist.Item) { i.Why = "" }, "$.phases[0].items[0].why", "is missing"},
		{
			func(i *checklist.Item) { i.Response = " checked" }, "$.phases[0].items[0].response",
			"without spaces at its ends",
		},
		{func(i *checklist.Item) { i.Errors = []string{"a\nb"} }, "$.phases[0].items[0].errors[0]", "must be one line"},
		{func(i *checklist.Item) { i.NoStandard = "none" }, "$.phases[0].items[0].noStandard",
			"stands beside elements"},
		{func(i *checklist.Item) { i.Per = "some" }, "$.phases[0].items[0].per", "neither each nor block"},
		{func(i *checklist.Item) { i.Only = "first" }, "$.phases[0].items[0].only", "on an item that is per block"},
		{
			func(i *checklist.Item) { i.After = []string{"crank"} }, "$.phases[0].items[0].after[0]",
			"no item that stands before this one",
		},
	} {
		item := soundItem()
		c.spoil(&item)
		faults := around.ListProblems(listOf(item))
		require.NotEmpty(t, faults, c.want)
		assert.Equal(t, c.path, faults[0].Field, c.want)
		assert.Contains(t, faults[0].Reason, c.want)
	}
	other := listOf(soundItem())
	other.AircraftType = "kestrel"
	assert.Equal(t, `"kestrel" is no known aircraft type`, around.ListProblems(other)[0].Reason)
}

// TestWhatALayerRefersToMustBeThere: in what it adds, sets and asks for.
func TestWhatALayerRefersToMustBeThere(t *testing.T) {
	layer := func(c checklist.Change) checklist.Layer {
		c.Why = "because"
		return checklist.Layer{
			ID: "x", Title: "X", Version: 1, Rank: "school", AircraftType: "alder", Source: "s", Date: "2026-11-24",
			Author: "a", Changes: []checklist.Change{c},
		}
	}
	added := soundItem()
	for _, c := range []struct {
		change checklist.Change
		want   string
	}{
		{checklist.Change{Op: checklist.OpDrop, Item: "magnetos"}, ""},
		{
			checklist.Change{Op: checklist.OpChange, Item: "magnetos",
				Set: map[string]any{"response": "checked twice"}},
			"",
		},
		{
			checklist.Change{Op: checklist.OpChange, Item: "magnetos", Set: map[string]any{"check": "lanes"}},
			`"lanes" is no check`,
		},
		{
			checklist.Change{Op: checklist.OpChange, Item: "magnetos", Set: map[string]any{"critical": "very"}},
			"cannot unmarshal",
		},
		{
			checklist.Change{Op: checklist.OpChange, Item: "magnetos", Set: map[string]any{"colour": "red"}},
			`unknown field "colour"`,
		},
		{
			checklist.Change{Op: checklist.OpChange, Item: "magnetos", Set: map[string]any{"id": "other"}},
			"id may not become another",
		},
		{checklist.Change{Op: checklist.OpAdd, New: &added, Phase: "run-up"}, ""},
		{checklist.Change{Op: checklist.OpAdd, New: &added}, "needs new, the item to add, and phase"},
		{
			checklist.Change{Op: checklist.OpDrop, Item: "magnetos", When: "fitted(skis)"},
			`"skis" is equipment of no type`,
		},
		{checklist.Change{Op: "turn", Item: "magnetos"}, `"turn" is none of add, change, drop`},
	} {
		faults := around.LayerProblems(layer(c.change))
		if c.want == "" {
			assert.Empty(t, faults, "%+v", c.change)
			continue
		}
		require.NotEmpty(t, faults, c.want)
		assert.Contains(t, faults[0].Reason, c.want)
	}
	twice := layer(checklist.Change{Op: checklist.OpDrop, Item: "magnetos"})
	twice.Changes = append(twice.Changes, twice.Changes[0])
	assert.Contains(t, around.LayerProblems(twice)[0].Reason, "a second time under the same condition")
}

// TestWhatAMemoryAidRefersToMustBeThere: its phase and its items.
func TestWhatAMemoryAidRefersToMustBeThere(t *testing.T) {
	aid := func(phase string, items ...string) checklist.Aid {
		return checklist.Aid{
			ID: "a", Title: "A", Version: 1, AircraftType: "alder", Phase: phase, Source: "s",
			Letters: []checklist.Letter{{Letter: "M", Word: "Mags", Items: items}},
		}
	}
	list := listOf(soundItem())
	assert.Empty(t, around.AidProblems(aid("run-up", "magnetos"), list))
	assert.Equal(t, `"taxi" is no phase of the list L`, around.AidProblems(aid("taxi"), list)[0].Reason)
	found := around.AidProblems(aid("run-up", "magnetos", "props"), list)
	require.Len(t, found, 1)
	assert.Equal(t, form.Problem{Field: "$.letters[0].items[1]", Reason: `"props" is no item of the phase Run-up`},
		found[0])
}

// TestFindingAnItemOfAListAsFlown: the id of an item for one engine leads to
// the printed one; an id that only looks like it does not.
func TestFindingAnItemOfAListAsFlown(t *testing.T) {
	each, plain := soundItem(), soundItem()
	each.Per, plain.ID = "each", "tank-2"
	list := listOf(each, plain)
	for id, want := range map[string]string{
		"magnetos": "magnetos", "magnetos-2": "magnetos", "tank-2": "tank-2", "tank": "", "tank-1": "",
		"magnetos-9": "", "": "",
	} {
		found, ok := list.Find(id)
		assert.Equal(t, want, found.ID, id)
		assert.Equal(t, want != "", ok, id)
	}
}
