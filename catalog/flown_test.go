package catalog_test

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
)

func ptr[T any](v T) *T { return &v }

// fair is a mild day on which nothing special holds.
func fair() checklist.Day {
	return checklist.Day{OATC: ptr(14.0), DewPointC: ptr(4.0), WindKt: ptr(6.0), ElevationFt: ptr(412.0),
		QNHHPa: ptr(1013.0),
		Night:  ptr(false), FirstFlight: ptr(false), Rules: "VFR", EngineState: "cold", FuelMethod: "prove-both"}
}

// sixDays are days that change a list, each by one thing.
var sixDays = []struct {
	name   string
	change func(*checklist.Day)
}{
	{"cold soaked", func(d *checklist.Day) { d.OATC, d.DewPointC = ptr(-18.0), ptr(-24.0) }},
	{"hot engine", func(d *checklist.Day) { d.EngineState = "hot" }},
	{"night", func(d *checklist.Day) { d.Night = ptr(true) }},
	{"instrument rules", func(d *checklist.Day) { d.Rules = "IFR" }},
	{"hot and high", func(d *checklist.Day) { d.OATC, d.DewPointC, d.ElevationFt = ptr(34.0), ptr(6.0), ptr(5200.0) }},
	{"gusty", func(d *checklist.Day) { d.WindKt, d.GustKt = ptr(18.0), ptr(27.0) }},
}

// TestARunHasEveryMeasuredCheck: of every type, whatever is looked at first; it opens,
// nothing is graded in it, and a run that names a student or another list is refused.
func TestARunHasEveryMeasuredCheck(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, typ := range newestTypes(c) {
		list, _ := c.ListFor(typ.ID)
		var equipment, measured []string
		for _, e := range typ.Equipment {
			equipment = append(equipment, e.ID)
		}
		choice := lesson.RunChoice{
			By: "m", Aircraft: "QZ-AAA", Equipment: equipment, ElevationFt: 412, Date: "2026-12-01", Scale: "five",
			List: list, Type: typ,
		}
		all, err := choice.Opened()
		require.NoError(t, err, typ.ID)
		checks := map[string]bool{}
		for _, p := range all.Flown.List.Places() {
			measured = append(measured, p.Item.ID)
			checks[p.Item.Check] = true
		}
		for name := range typ.Limits {
			if _, listed := check.Find(name); listed &&
				slices.ContainsFunc(list.Places(), func(p checklist.Place) bool { return p.Item.Check == name }) {
				assert.True(t, checks[name], "%s: %s is left off", typ.ID, name)
			}
		}
		for _, first := range measured {
			choice.First = first
			opened, err := choice.Opened()
			require.NoError(t, err, "%s: %s first", typ.ID, first)
			assert.Empty(t, opened.Flown.List.Problems())
			assert.Len(t, opened.Flown.List.Places(), len(measured), "%s: none is lost and none doubled", typ.ID)
			ahead := opened.Flown.List.Phases[0]
			assert.True(t, slices.ContainsFunc(ahead.Items, func(i checklist.Item) bool { return i.ID == first }),
				"%s: %s", typ.ID, first)
			for _, i := range ahead.Items {
				assert.NotEmpty(t, i.Check)
			}
		}
	}
}

// TestListsAsFlownOnSixDays keeps, for each type, what each day adds to and
// takes from the list of a fair day. Set UPDATE_GOLDEN=1 to write them anew.
func TestListsAsFlownOnSixDays(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	types := 0
	for _, typ := range newestTypes(c) {
		types++
		list, ok := c.ListFor(typ.ID)
		require.True(t, ok, typ.ID)
		printed := len(list.Places())
		flown := func(d checklist.Day) (map[string]bool, checklist.Flown) {
			f, err := checklist.Tailor(list, nil, typ, checklist.Aircraft{}, d)
			require.NoError(t, err, typ.ID)
			require.Empty(t, f.List.Problems())
			ids := map[string]bool{}
			for _, p := range f.List.Places() {
				ids[p.Item.ID] = true
			}
			return ids, f
		}
		usual, f := flown(fair())
		lines := map[int]bool{}
		for _, p := range f.List.Places() {
			lines[p.Row] = true
		}
		assert.GreaterOrEqual(t, len(lines), 80, typ.ID)
		assert.LessOrEqual(t, len(lines), 170, typ.ID)
		var golden strings.Builder
		fmt.Fprintf(&golden, "%s: %d items printed, %d flown on %d lines on a fair day\n", list.Title, printed,
			len(f.List.Places()), len(lines))
		for _, day := range sixDays {
			d := fair()
			day.change(&d)
			ids, f := flown(d)
			assert.NotEqual(t, usual, ids, "%s on the day %s: nothing differs", typ.ID, day.name)
			fmt.Fprintf(&golden, "\n%s: %d flown\n", day.name, len(f.List.Places()))
			for _, p := range f.List.Places() {
				if !usual[p.Item.ID] {
					fmt.Fprintf(&golden, "  + %s: %s\n", p.Item.ID, because(f, p.Item))
				}
			}
			for _, p := range list.Places() {
				if id := p.Item.ID; usual[id] && !ids[id] {
					fmt.Fprintf(&golden, "  - %s: %s\n", id, because(f, p.Item))
				}
			}
		}
		file := filepath.Join("testdata", "flown", typ.ID+".txt")
		if os.Getenv("UPDATE_GOLDEN") != "" {
			require.NoError(t, os.MkdirAll(filepath.Dir(file), 0o755))
			require.NoError(t, os.WriteFile(file, []byte(golden.String()), 0o644))
		}
		want, err := os.ReadFile(file)
		require.NoError(t, err)
		assert.Equal(t, string(want), golden.String(), typ.ID)
	}
	assert.Equal(t, 7, types)
}

func because(f checklist.Flown, item checklist.Item) string {
	for _, r := range f.Reasons {
		if r.Item == item.ID || r.Item == item.Of {
			return r.Because
		}
	}
	return "no reason given"
}

func newestTypes(c *catalog.Catalog) []aircraft.Type {
	var out []aircraft.Type
	for _, t := range c.Types {
		if newest, _ := c.Type(t.ID); newest.Version == t.Version {
			out = append(out, t)
		}
	}
	return out
}

// TestEveryListIsWhole: each item says why, how abnormal looks and which
// standard it shows, or that there is none; each part of the trade is there.
func TestEveryListIsWhole(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, typ := range newestTypes(c) {
		list, _ := c.ListFor(typ.ID)
		durations := map[string]bool{"tank-change": true}
		for _, d := range typ.Durations {
			durations[d.ID] = true
		}
		checks := map[string]bool{}
		for _, phase := range list.Phases {
			assert.LessOrEqual(t, len(phase.Title), 15, "%s: nine of them stand side by side over a lesson: %s", typ.ID,
				phase.Title)
		}
		for _, p := range list.Places() {
			at := typ.ID + " " + p.Item.ID
			for field, value := range map[string]string{
				"why": p.Item.Why, "look": p.Item.Look, "abnormal": p.Item.Abnormal, "place": p.Item.Place,
			} {
				assert.NotEmpty(t, value, "%s has no %s", at, field)
			}
			assert.NotEmpty(t, p.Item.Errors, at)
			assert.True(t, len(p.Item.Elements)+len(p.Item.Knowledge) > 0 != (p.Item.NoStandard != ""), at)
			for _, timer := range p.Item.Timers {
				assert.True(t, durations[timer] || timer == lesson.TankTimer && typ.Has("tank-choice"),
					"%s times %s, which the type does not know", at, timer)
			}
			if p.Item.Check != "" {
				assert.Contains(t, typ.Limits, p.Item.Check, at)
				checks[p.Item.Check] = true
			}
		}
		for check := range typ.Limits {
			assert.True(t, checks[check], "%s has limits for %s, but no item measures it", typ.ID, check)
		}
	}
}

// TestTwinsStartInEitherOrder: whatever engine is first, its own checks come
// before the second one is cranked, and what is worked side by side stays so.
func TestTwinsStartInEitherOrder(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, id := range []string{"hornbeam-twin", "larch-d2"} {
		typ, _ := c.Type(id)
		list, _ := c.ListFor(id)
		for _, order := range [][]int{{1, 2}, {2, 1}} {
			f, err := checklist.Tailor(list, nil, typ, checklist.Aircraft{StartOrder: order}, fair())
			require.NoError(t, err)
			at := map[string]checklist.Place{}
			for _, p := range f.List.Places() {
				at[p.Item.ID] = p
			}
			first, second := fmt.Sprint(order[0]), fmt.Sprint(order[1])
			assert.Less(t, at["crank-"+first].Position, at["oil-pressure-"+first].Position)
			assert.Less(t, at["first-charging-"+first].Position, at["crank-"+second].Position)
			assert.Contains(t, at, "second-split-"+second)
			assert.NotContains(t, at, "second-split-"+first)
			assert.Equal(t, at["idle-1"].Row, at["idle-2"].Row, "worked side by side")
			assert.NotEqual(t, at["crank-1"].Row, at["crank-2"].Row, "one after the other")
			assert.Contains(t, at["crank-1"].Item.Challenge, ", left")
			assert.Contains(t, at["crank-"+second].Item.After, "area-clear-"+second)
		}
		_, err := checklist.Tailor(list, nil, typ, checklist.Aircraft{StartOrder: []int{2}}, fair())
		assert.ErrorContains(t, err, "startOrder")
	}
}

// TestASoundAircraftPassesEveryCheck: what each type's checks show as an
// example lies within its limits, wherever in the room they leave.
func TestASoundAircraftPassesEveryCheck(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	judged := map[string]bool{}
	for _, typ := range newestTypes(c) {
		for name := range typ.Limits {
			for _, lean := range []float64{-1, 0, 1} {
				reading, conditions, ok := check.Example(name, typ, nil, lean)
				require.True(t, ok, "%s has no example of %s", typ.ID, name)
				request, err := json.Marshal(map[string]any{
					"aircraftType": typ.ID, "reading": reading, "conditions": conditions,
				})
				require.NoError(t, err)
				out, err := check.Run(name, request, c.Type)
				require.NoError(t, err, "%s %s: %s", typ.ID, name, request)
				assert.Contains(t, string(out), `"outcome":"normal"`, "%s: %s", typ.ID, request)
				judged[name] = true
			}
		}
	}
	assert.Len(t, judged, len(check.All()), "every check is one of some type")
}

// TestEveryTypeHasQuestions: at least 25 a type, of each kind, each at an item
// of its list or for the debrief, answered with the type's own limits.
func TestEveryTypeHasQuestions(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, typ := range newestTypes(c) {
		kinds := map[string]int{}
		for _, q := range c.QuestionsFor(typ.ID) {
			kinds[q.Kind]++
			assert.NotContains(t, q.Answer, "{", q.ID)
			assert.NotContains(t, q.Answer, "(no limit)", "%s: %s", typ.ID, q.ID)
		}
		assert.GreaterOrEqual(t, kinds["limit"]+kinds["why"]+kinds["what-if"], 25, typ.ID)
		assert.GreaterOrEqual(t, kinds["limit"], 7, typ.ID)
	}
	alder := c.QuestionsFor("alder-110")
	i := slices.IndexFunc(alder, func(q catalog.Question) bool { return q.ID == "limit-magneto-drop" })
	assert.Equal(t, "At most 130 rpm, not more than 60 rpm apart, at least 20 rpm.", alder[i].Answer)
}
