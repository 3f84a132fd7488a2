package checklist_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
)

func ptr[T any](v T) *T { return &v }

func alder() aircraft.Type {
	return aircraft.Type{
		ID: "alder-110", Name: "Alder 110", Engines: 1,
		Equipment: []aircraft.Equipment{{ID: "primer"}, {ID: "autopilot", Optional: true}},
	}
}

func item(id string, after ...string) checklist.Item {
	return checklist.Item{ID: id, Challenge: strings.ToUpper(id), Response: "set", Why: "because", After: after}
}

func shortList() checklist.List {
	crank := item("crank", "brakes")
	crank.Critical = true
	pitot := item("pitot")
	pitot.When = "oat < 5 °C"
	return checklist.List{ID: "short", Title: "Short", Version: 3, AircraftType: "alder-110", Source: "invented",
		Phases: []checklist.Phase{
			{ID: "before", Title: "Before", Items: []checklist.Item{item("papers"), item("brakes"), pitot}},
			{ID: "start", Title: "Start", Items: []checklist.Item{crank, item("oil", "crank")}},
		}}
}

func layer(rank, date string, changes ...checklist.Change) checklist.Layer {
	return checklist.Layer{
		ID: rank + date, Title: rank + " layer", Version: 1, Rank: rank, AircraftType: "alder-110", Source: "invented",
		Date: date, Author: "Ilse Ferreira", Changes: changes,
	}
}

func tailor(t *testing.T, day checklist.Day, layers ...checklist.Layer) checklist.Flown {
	t.Helper()
	f, err := checklist.Tailor(shortList(), layers, alder(), checklist.Aircraft{}, day)
	require.NoError(t, err)
	return f
}

// line is a list as flown in a line, and reasons the reasons in lines.
func line(f checklist.Flown) string {
	var out []string
	for _, p := range f.List.Places() {
		out = append(out, p.Item.ID)
	}
	return strings.Join(out, " ")
}

func reasons(f checklist.Flown) []string {
	out := []string{}
	for _, r := range f.Reasons {
		out = append(out,
			strings.TrimSpace(fmt.Sprintf("%s %s %s [%s] %s", r.Kind, r.Item, r.Layer, strings.Join(r.Fields, " "),
				r.Because)))
	}
	return out
}

func TestTheDayDropsAndKeeps(t *testing.T) {
	warm := tailor(t, checklist.Day{OATC: ptr(12.0)})
	assert.Equal(t, "papers brakes crank oil", line(warm))
	assert.Equal(t, []string{"dropped pitot  [] outside air is 12 °C"}, reasons(warm))
	cold := tailor(t, checklist.Day{OATC: ptr(-2.0)})
	assert.Equal(t, "papers brakes pitot crank oil", line(cold))
	assert.Equal(t, []string{"included pitot  [] outside air is -2 °C"}, reasons(cold))
	assert.Equal(t, []string{"included pitot  [] outside air is not known"}, reasons(tailor(t, checklist.Day{})),
		"what is not known drops nothing")
}

func TestLayersAreResolvedByRank(t *testing.T) {
	set := func(field string, value any) checklist.Change {
		return checklist.Change{Op: "change", Item: "brakes", Why: "why", Set: map[string]any{field: value}}
	}
	added := item("fuel-cap")
	bulletin := layer("bulletin", "2026-05-01",
		checklist.Change{
			Op: "add", New: &added, Phase: "before", Follows: "papers", Why: "caps were lost", When: "oat > 0 °C",
		},
		set("response", "held by feet"))
	school := layer("school", "2026-06-01", checklist.Change{
		Op: "change", Item: "brakes", Why: "why",
		Set: map[string]any{"response": "set", "caution": "Feet on the brakes."},
	},
		checklist.Change{Op: "drop", Item: "papers", Why: "done at the desk"})
	habit := layer("instructor", "2026-07-01", checklist.Change{Op: "drop", Item: "brakes", Why: "habit"},
		checklist.Change{Op: "drop", Item: "crank", Why: "pulled by hand", When: "oat > 0"},
		checklist.Change{Op: "change", Item: "crank", Why: "why", Set: map[string]any{"critical": false}},
		checklist.Change{
			Op: "change", Item: "oil", Why: "said aloud", Set: map[string]any{"response": "said aloud"},
		})
	f := tailor(t, checklist.Day{OATC: ptr(12.0)}, habit, school, bulletin)
	assert.Equal(t, "fuel-cap brakes crank oil", line(f))
	assert.Equal(t, []string{
		"added fuel-cap bulletin2026-05-01 [] outside air is 12 °C",
		"changed brakes bulletin2026-05-01 [response]",
		"overruled brakes school2026-06-01 [response]",
		"changed brakes school2026-06-01 [caution]",
		"dropped papers school2026-06-01 []",
		"overruled brakes instructor2026-07-01 []",
		"refused crank instructor2026-07-01 [] an instructor's technique cannot drop a critical item",
		"refused crank instructor2026-07-01 [critical] an instructor's technique cannot make a critical item less",
		"changed oil instructor2026-07-01 [response]",
		"dropped pitot  [] outside air is 12 °C",
	}, reasons(f))
	assert.Equal(t, "held by feet", f.List.Places()[1].Item.Response)
	assert.Equal(t, "Feet on the brakes.", f.List.Places()[1].Item.Caution)
	assert.Equal(t,
		[]checklist.LayerRef{{ID: "bulletin2026-05-01", Version: 1, Title: "bulletin layer", Rank: "bulletin"},
			{ID: "school2026-06-01", Version: 1, Title: "school layer", Rank: "school"}, {
				ID: "instructor2026-07-01", Version: 1, Title: "instructor layer", Rank: "instructor",
			}}, f.Layers)
	assert.Equal(t, shortList().Phases, shortList().Phases, "the printed list stays as it was")
}

func TestChangesThatCannotBeMadeSayWhy(t *testing.T) {
	early := item("late", "oil")
	known := item("brakes")
	f := tailor(t, checklist.Day{OATC: ptr(12.0)}, layer("bulletin", "2026-05-01",
		checklist.Change{Op: "add", New: &early, Phase: "before", Why: "w"},
		checklist.Change{Op: "add", New: &known, Phase: "start", Why: "w"},
		checklist.Change{Op: "add", New: ptr(item("x")), Phase: "landing", Why: "w"},
		checklist.Change{Op: "add", New: ptr(item("y")), Phase: "start", Follows: "papers", Why: "w"},
		checklist.Change{Op: "drop", Item: "nothing", Why: "w"},
		checklist.Change{Op: "change", Item: "nothing-else", Set: map[string]any{"why": "x"}, Why: "w"},
		checklist.Change{Op: "change", Item: "papers", Set: map[string]any{"after": []string{"oil"}}, Why: "w"}))
	assert.Equal(t, "papers brakes crank oil", line(f))
	assert.Equal(t, []string{
		`refused late bulletin2026-05-01 [] "oil" is no item that stands before this one`,
		"refused brakes bulletin2026-05-01 [] the list already has an item of that id",
		"refused x bulletin2026-05-01 [] the list has no phase landing",
		"refused y bulletin2026-05-01 [] the phase has no item papers to come behind",
		"refused nothing bulletin2026-05-01 [] the list has no such item",
		"refused nothing-else bulletin2026-05-01 [] the list has no such item",
		`refused papers bulletin2026-05-01 [after] "oil" is no item that stands before this one`,
		"dropped pitot  [] outside air is 12 °C",
	}, reasons(f))
}

func TestFaultsOfLayersNameTheirPath(t *testing.T) {
	assert.Empty(t, layer("school", "2026-06-01", checklist.Change{Op: "drop", Item: "papers", Why: "w"}).Problems())
	for _, c := range []struct {
		change checklist.Change
		want   string
	}{
		{checklist.Change{Op: "drop", Item: "papers"}, "changes[0].why is missing"},
		{checklist.Change{Op: "drop", Why: "w"}, "changes[0] needs item"},
		{checklist.Change{Op: "swap", Why: "w"}, `changes[0].op "swap" is none of`},
		{checklist.Change{Op: "drop", Item: "papers", Why: "w", When: "oat <"}, "changes[0].when column 6"},
		{checklist.Change{Op: "add", Why: "w"}, "changes[0] needs new"},
		{
			checklist.Change{
				Op: "add", Why: "w", Phase: "start", New: &checklist.Item{ID: "x", Challenge: "X", Response: "y"},
			},
			"changes[0].new.why is missing",
		},
		{
			checklist.Change{Op: "change", Why: "w", Item: "papers", Set: map[string]any{"responze": "x"}},
			`changes[0].set unknown field "responze"`,
		},
		{
			checklist.Change{Op: "change", Why: "w", Item: "papers", Set: map[string]any{"id": "x"}},
			"changes[0].set id may not become another",
		},
	} {
		l := layer("school", "2026-06-01", c.change)
		faults := l.Problems()
		if assert.NotEmpty(t, faults, c.want) {
			assert.Contains(t, faults[0].Error(), c.want)
		}
		_, err := checklist.Tailor(shortList(), []checklist.Layer{l}, alder(), checklist.Aircraft{}, checklist.Day{})
		assert.ErrorContains(t, err, "has mistakes")
	}
	twice := checklist.Change{Op: "drop", Item: "papers", Why: "w"}
	assert.Contains(t, layer("school", "x", twice, twice).Problems()[0].Error(), "touches \"papers\" a second time")
	assert.Contains(t, layer("king", "x", twice).Problems()[1].Error(),
		"none of instructor, school, handbook, bulletin")
}

// TestTailoringIsOneForAnyOrderOfLayers and keeps the list sound.
func TestTailoringIsOneForAnyOrderOfLayers(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		ids := []string{"papers", "brakes", "pitot", "crank", "oil", "new-a", "new-b"}
		var layers []checklist.Layer
		for n := range rapid.IntRange(1, 4).Draw(t, "layers") {
			l := layer(rapid.SampledFrom(checklist.Ranks).Draw(t, "rank"), "2026-01-0"+fmt.Sprint(n+1))
			touched := map[string]bool{}
			for range rapid.IntRange(1, 4).Draw(t, "changes") {
				id := rapid.SampledFrom(ids).Draw(t, "item")
				if touched[id] {
					continue
				}
				touched[id] = true
				c := checklist.Change{Op: rapid.SampledFrom([]string{"add", "change", "drop"}).Draw(t, "op"), Item: id,
					Why:  "w",
					When: rapid.SampledFrom([]string{"", "night", "oat < 5", "firstFlight"}).Draw(t, "when")}
				switch c.Op {
				case "add":
					c.New, c.Phase = ptr(item(id,
						rapid.SampledFrom([][]string{nil, {"brakes"}, {"oil"}}).Draw(t, "after")...)),
						rapid.SampledFrom([]string{
							"before", "start",
						}).Draw(t, "phase")
				case "change":
					c.Set = map[string]any{
						rapid.SampledFrom([]string{"response", "caution"}).Draw(t, "field"): fmt.Sprint(n),
					}
				}
				l.Changes = append(l.Changes, c)
			}
			layers = append(layers, l)
		}
		day := checklist.Day{OATC: ptr(3.0), Night: ptr(rapid.Bool().Draw(t, "night"))}
		first, refused := checklist.Tailor(shortList(), layers, alder(), checklist.Aircraft{}, day)
		again, err := checklist.Tailor(shortList(), rapid.Permutation(layers).Draw(t, "order"), alder(),
			checklist.Aircraft{}, day)
		require.Equal(t, refused, err)
		require.Equal(t, first, again)
		if refused == nil {
			require.Empty(t, first.List.Problems())
		} else {
			require.ErrorContains(t, refused, "has no phase", "layers that leave no item leave no list")
		}
	})
}

func TestDifferencesItemByItem(t *testing.T) {
	older, newer := shortList(), shortList()
	before, start := newer.Phases[0].Items, newer.Phases[1].Items
	start[1].Response = "rising"
	newer.Phases[0].Items = []checklist.Item{before[1], before[0], item("beacon")}
	var got []string
	for _, d := range checklist.Differences(older, newer) {
		got = append(got, strings.TrimSpace(fmt.Sprintf("%s %s %s %s %s", d.Kind, d.Item, d.Field, d.Before, d.After)))
	}
	assert.Equal(t, []string{
		`moved papers behind "" "BRAKES"`, "added beacon", `changed oil response "set" "rising"`, "removed pitot",
	}, got)
	assert.Empty(t, checklist.Differences(older, shortList()))
}

// TestDifferencesAreExactlyWhatWasDone: adding, removing, moving and changing
// are each seen, and nothing else.
func TestDifferencesAreExactlyWhatWasDone(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(2, 30).Draw(t, "items")
		older := checklist.List{Phases: []checklist.Phase{{ID: "one"}}}
		for i := range n {
			older.Phases[0].Items = append(older.Phases[0].Items, item(fmt.Sprintf("i%d", i)))
		}
		data, _ := json.Marshal(older)
		var newer checklist.List
		require.NoError(t, json.Unmarshal(data, &newer))
		items := newer.Phases[0].Items
		moved := rapid.IntRange(0, n-1).Draw(t, "from")
		one := items[moved]
		one.Response = "other"
		items = append(items[:moved:moved], items[moved+1:]...)
		to := rapid.IntRange(0, n-1).Draw(t, "to")
		newer.Phases[0].Items = append(append(append([]checklist.Item{}, items[:to]...), one), items[to:]...)
		kinds := map[string]int{}
		for _, d := range checklist.Differences(older, newer) {
			kinds[d.Kind]++
		}
		want := map[string]int{"changed": 1}
		if to != moved {
			want["moved"] = 1
		}
		require.Equal(t, want, kinds)
	})
}
