package handbook_test

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/handbook"
	"jetprimer/core/quantity"
)

func shipped(t require.TestingT) []aircraft.Type {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	return c.Types
}

func named(t require.TestingT, id string) aircraft.Type {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	newest, known := c.Type(id)
	require.True(t, known)
	data, err := json.Marshal(newest) // tests change it, and what ships is everybody's
	require.NoError(t, err)
	var own aircraft.Type
	require.NoError(t, json.Unmarshal(data, &own))
	return own
}

func sheet(t require.TestingT, a aircraft.Type, older *aircraft.Type) handbook.Sheet {
	s, err := handbook.SheetOf(a, older)
	require.NoError(t, err)
	return s
}

func row(t require.TestingT, s handbook.Sheet, path string) handbook.Row {
	for _, p := range s.Parts {
		for _, r := range p.Rows {
			if r.Path == path {
				return r
			}
		}
	}
	t.Errorf("no row %s", path)
	t.FailNow()
	return handbook.Row{}
}

// put types a number and its page.
func put(t require.TestingT, a aircraft.Type, path, text, page string) aircraft.Type {
	out, err := handbook.Apply(a, handbook.Edit{Path: path, Text: &text, Page: &page})
	require.NoError(t, err, path)
	return out
}

// TestEveryTypeIsDescribedAnew: of each type that ships only its kind is taken;
// typing its numbers with their pages, one after another, makes every check that
// it had judged, with nothing left to ask, and the same limits.
func TestEveryTypeIsDescribedAnew(t *testing.T) {
	for _, model := range shipped(t) {
		whole := sheet(t, model, nil)
		blank, err := handbook.Blank(model)
		require.NoError(t, err)
		blank.ID, blank.Name, blank.Source = "dove-"+model.ID, "Dove", "fictional type, Dove handbook data, rev 1"
		empty := sheet(t, blank, nil)
		assert.Equal(t, whole.Checks, empty.Checks, model.Name)
		for _, p := range empty.Parts {
			for _, r := range p.Rows {
				assert.Empty(t, r.Text, "%s %s", model.Name, r.Path)
			}
		}
		a := blank
		for _, p := range whole.Parts {
			for _, r := range p.Rows {
				if r.Text == "" || strings.Contains(r.Path, ".at.") || strings.HasPrefix(r.Path, "prime.") || r.Table {
					continue
				}
				a = put(t, a, r.Path, r.Text, "4-1")
			}
		}
		full := sheet(t, a, nil)
		assert.Empty(t, full.Waits, model.Name)
		assert.Equal(t, full.Checks, full.Judged, model.Name)
		settled, err := handbook.Settle(a)
		require.NoError(t, err, model.Name)
		for name, limits := range model.Limits {
			if name == "gauges" { // the bands by power are this handbook's own
				continue
			}
			want, _ := json.Marshal(limits)
			got, _ := json.Marshal(settled.Limits[name])
			assert.JSONEq(t, string(want), string(got), "%s %s", model.Name, name)
		}
		assert.Empty(t, check.LimitProblems(settled), model.Name)
		assert.Empty(t, settled.Problems(), model.Name)
	}
}

// TestACopyAsksForItsPages: what was copied is there, differs in nothing, and no
// number has a page of the new handbook yet.
func TestACopyAsksForItsPages(t *testing.T) {
	model := named(t, "alder-110")
	a, err := handbook.Copy(model)
	require.NoError(t, err)
	a.ID, a.Name, a.Source = "alder-112", "Alder 112", "fictional type, Alder 112 handbook data, rev 1"
	s := sheet(t, a, &model)
	assert.Empty(t, s.Changed)
	assert.Equal(t, s.Checks, s.Judged)
	require.Len(t, s.Waits, 1)
	assert.Contains(t, s.Waits[0], "numbers without their page")
	_, err = handbook.Settle(a)
	assert.ErrorContains(t, err, "without their page")

	a = put(t, a, "limits.magneto.base", "1800", "4-17")
	s = sheet(t, a, &model)
	require.Len(t, s.Changed, 1)
	assert.Equal(t, "Magneto check: run-up speed", s.Changed[0].Label)
	assert.Equal(t, "1750", *s.Changed[0].Was)
	assert.Equal(t, "1800", s.Changed[0].Text)
	assert.Equal(t, []string{"4-17"}, pagesOf(s))
}

func pagesOf(s handbook.Sheet) []string {
	var out []string
	for _, p := range s.Pages {
		out = append(out, p.Page)
	}
	return out
}

// TestTheHandbooksUnitsStay: what was typed in another unit is kept as it stands
// in the handbook, and judged in the unit of the rules.
func TestTheHandbooksUnitsStay(t *testing.T) {
	a, err := handbook.Blank(named(t, "alder-110"))
	require.NoError(t, err)
	a.ID, a.Name, a.Source = "dove", "Dove", "fictional"
	a.Handbook.Units = quantity.Units{Temperature: "°F", Speed: "mph", Volume: "gal"}
	a = put(t, a, "limits.gauges.oilTemperature.max", "245", "2-4")
	a = put(t, a, "speeds.rotate", "60", "4-3")
	a = put(t, a, "fuel.tanks.left", "13", "2-7")
	s := sheet(t, a, nil)
	for path, want := range map[string][3]string{
		"limits.gauges.oilTemperature.max": {"245", "°F", "118.33 °C"}, "speeds.rotate": {"60", "mph", "52 kt"},
		"fuel.tanks.left": {"13", "gal", "49 L"},
	} {
		r := row(t, s, path)
		assert.Equal(t, want, [3]string{r.Text, r.Unit, r.Kept}, path)
		assert.Empty(t, r.Problem)
	}
	a.Speeds[0].Knots = 53
	assert.Contains(t, row(t, sheet(t, a, nil), "speeds.rotate").Problem,
		"60 mph of the handbook is not the 53 kt that is kept")
}

// TestWhereTheHandbookIsSilent: a habit is taken and said to be one, an optional
// limit and one that may be 0 are left out, any other is not.
func TestWhereTheHandbookIsSilent(t *testing.T) {
	a, err := handbook.Blank(named(t, "sorrel-100"))
	require.NoError(t, err)
	yes := true
	leave := func(path string) error {
		next, err := handbook.Apply(a, handbook.Edit{Path: path, Left: &yes})
		if err == nil {
			a = next
		}
		return err
	}
	assert.Equal(t, "number", row(t, sheet(t, a, nil), "limits.lanes.dwellMinSeconds").Lacks,
		"asked for until it is left out")
	require.NoError(t, leave("limits.lanes.dropMin"))
	require.NoError(t, leave("limits.lanes.dwellMinSeconds"))
	assert.ErrorContains(t, leave("limits.lanes.dropMax"), "cannot be left out")
	a, err = handbook.Apply(a, handbook.Edit{Path: "limits.lanes.baseTolerance", Habit: true})
	require.NoError(t, err)
	_, err = handbook.Apply(a, handbook.Edit{Path: "limits.lanes.dropMax", Habit: true})
	assert.ErrorContains(t, err, "has no usual number")
	s := sheet(t, a, nil)
	assert.Equal(t,
		handbook.Row{Path: "limits.lanes.baseTolerance", Label: "run-up speed within", Unit: "rpm", Text: "25",
			Source: "habit", Habit: "25",
			Words: row(t, s, "limits.lanes.baseTolerance").Words}, row(t, s, "limits.lanes.baseTolerance"))
	assert.Equal(t, "left", row(t, s, "limits.lanes.dropMin").Source)
	assert.Empty(t, row(t, s, "limits.lanes.dropMin").Lacks)
	assert.Empty(t, row(t, s, "limits.lanes.dwellMinSeconds").Lacks)
	assert.Equal(t, []string{"our habit"}, pagesOf(s)[len(pagesOf(s))-1:])
}

// TestTypedNumbersAreReadStrictly: with the sentence for each, and nothing changed.
func TestTypedNumbersAreReadStrictly(t *testing.T) {
	a := named(t, "alder-110")
	for _, c := range [][3]string{
		{"limits.magneto.base", "17.5.0", "is not a plain number in rpm"},
		{"limits.magneto.base", "1,750", "or 1.750 with a point"},
		{"limits.magneto.base", "1750.5", "is read in whole numbers"},
		{"limits.battery.startMin", "12.05", "is read in steps of 0.1"},
		{"limits.magneto.dropMax", "-5", "cannot be below 0"}, {"limits.magneto.base", "999999", "beyond anything"},
		{"limits.magneto.base", "99999999999999999999", "too large"},
		{"limits.magneto.song", "1", "is no number of the Alder 110"},
		{"limits.gauges.oilTemperature.lowDecision", "pray", "is one of warm-up"},
		{"prime.rows", "7", "is typed as a table"},
	} {
		text := c[1]
		_, err := handbook.Apply(a, handbook.Edit{Path: c[0], Text: &text})
		assert.ErrorContains(t, err, c[2], "%v", c)
	}
	long := strings.Repeat("9", 25)
	_, err := handbook.Apply(a, handbook.Edit{Path: "limits.magneto.base", Page: &long})
	assert.ErrorContains(t, err, "more than 24 characters")
}

// TestCrossedLimitsAreSaid: of one check and of two, beside the number.
func TestCrossedLimitsAreSaid(t *testing.T) {
	a := put(t, named(t, "alder-110"), "limits.idle.min", "800", "4-12")
	assert.Contains(t, row(t, sheet(t, a, nil), "limits.idle.min").Problem,
		"lowest, 800, lies above highest, 750. One of the two is misread.")
	a = put(t, a, "limits.idle.max", "1800", "4-12")
	s := sheet(t, a, nil)
	assert.Contains(t, row(t, s, "limits.idle.max").Problem,
		"on page 4-12, is not below Magneto check, run-up speed: 1750 rpm")
	a = put(t, named(t, "juniper-h2"), "limits.gauges.oilPressure.min", "200", "2-4")
	assert.Contains(t, row(t, sheet(t, a, nil), "limits.gauges.oilPressure.min").Problem, "lies above")
}

// TestChecksAreAskedAndLeftOff: one that lacks limits is left off when the type
// goes to the second person; one of another kind of engine is not asked at all.
func TestChecksAreAskedAndLeftOff(t *testing.T) {
	a := named(t, "alder-110")
	_, err := handbook.Ask(a, "diesel-start", true)
	assert.ErrorContains(t, err, "no check of such a type")
	off, err := handbook.Ask(a, "carb-heat", false)
	require.NoError(t, err)
	assert.Equal(t, []handbook.Asked{{Check: "carb-heat", Title: "Carburettor heat"}}, sheet(t, off, nil).LeftOff)
	on, err := handbook.Ask(off, "carb-heat", true)
	require.NoError(t, err)
	s := sheet(t, on, nil)
	assert.Equal(t, s.Checks-1, s.Judged)
	for _, p := range s.Parts {
		for _, r := range p.Rows {
			if page := "4-1"; r.Table {
				on, err = handbook.Apply(on, handbook.Edit{Path: r.Path, Page: &page})
				require.NoError(t, err)
			} else if r.Text != "" {
				on = put(t, on, r.Path, r.Text, page)
			}
		}
	}
	settled, err := handbook.Settle(on)
	require.NoError(t, err)
	assert.Nil(t, settled.Limits["carb-heat"])
	assert.Equal(t, []string{"carb-heat"}, settled.Handbook.LeftOff)

	missed, err := handbook.Compared(settled, []string{"limits.magneto.base"})
	require.NoError(t, err)
	assert.NotContains(t, missed, "Magneto check: run-up speed")
	assert.Contains(t, missed, "Magneto check: largest drop")
	_, err = handbook.Settle(a)
	assert.ErrorContains(t, err, "nothing says where the numbers stand")
}

// TestWhateverIsReadAsATypeHasASheet: a draft may hold anything that can be read as
// a type: parts missing, limits of another shape. Its sheet says what is wrong.
func TestWhateverIsReadAsATypeHasASheet(t *testing.T) {
	for want, text := range map[string]string{
		"":                                     `{}`,
		`"oil" is not among the type's gauges`: `{"minimums": [{"gauge": "oil", "before": "taxi", "value": 1}]}`,
		"has limits but is not among":          `{"limits": {"gauges": {"oil": 7, "water": {"at": "idle"}, "air": {"min": "low", "at": {"idle": 3, "song": {}}}}}}`,
		"a type of this kind has nothing":      `{"limits": {"magneto": {"base": null, "dropMax": [1]}, "song": {}, "engines-differ": {"x": null}}}`,
		"needs a tank":                         `{"fuel": {"tanks": null, "burnLPerHour": 0, "oneTank": true}, "prime": {"rows": null}, "power": {"values": null}}`,
		"units":                                `{"handbook": {"units": {"speed": "knots"}, "numbers": {"": {"as": "x"}, "speeds.": {"as": "1e9", "unit": "mph"}}}, "speeds": [{}, {}]}`,
	} {
		var a aircraft.Type
		require.NoError(t, json.Unmarshal([]byte(text), &a))
		said := ""
		for _, f := range sheet(t, a, &a).Problems {
			said += f.Error() + "\n"
		}
		assert.Contains(t, said, want)
		_, err := handbook.Settle(a)
		assert.Error(t, err, text)
		_, err = handbook.Compared(a, nil)
		assert.NoError(t, err, text)
	}
}

// TestPagesLieAsInTheHandbook: by their numbers, not by their letters.
func TestPagesLieAsInTheHandbook(t *testing.T) {
	a := named(t, "alder-110")
	for i, page := range []string{"4-17", "10", "4-9", "Supplement 2", "4-9a"} {
		a = put(t, a, []string{
			"limits.magneto.base", "limits.magneto.dropMax", "limits.idle.min", "limits.idle.max", "limits.suction.min",
		}[i], "4", page)
	}
	assert.Equal(t, []string{"4-9", "4-9a", "4-17", "10", "Supplement 2"}, pagesOf(sheet(t, a, nil)))
}

// TestAnyEditsKeepASoundSheet: whatever is typed where, the counts agree, no
// edit changes another number, and taking a number away and typing it again
// gives the same type.
func TestAnyEditsKeepASoundSheet(t *testing.T) {
	types := shipped(t)
	rapid.Check(t, func(r *rapid.T) {
		a := rapid.SampledFrom(types).Draw(r, "type")
		s := sheet(r, a, nil)
		var rows []handbook.Row
		for _, p := range s.Parts {
			for _, one := range p.Rows {
				if one.Text != "" && len(one.Choices) == 0 && !one.Table {
					rows = append(rows, one)
				}
			}
		}
		one := rapid.SampledFrom(rows).Draw(r, "row")
		none := ""
		without, err := handbook.Apply(a, handbook.Edit{Path: one.Path, Text: &none})
		require.NoError(r, err)
		after := sheet(r, without, &a)
		for _, changed := range after.Changed {
			assert.Equal(r, one.Path, changed.Path)
		}
		again := put(r, without, one.Path, one.Text, "1-1")
		assert.Empty(r, sheet(r, again, &a).Changed)
		total, given, lacks := 0, 0, 0
		for _, p := range after.Parts {
			assert.LessOrEqual(r, p.Given, p.Of)
			total, given, lacks = total+p.Of, given+p.Given, lacks+p.Lacks
		}
		assert.Equal(r, after.Of, total)
		assert.Equal(r, after.Given, given)
		assert.Equal(r, total, given+lacks)
	})
}

// TestWhatAHandbookHasBesidesChecks: winds, tanks, priming and power begin empty,
// are asked for, and go again with all that was said of them.
func TestWhatAHandbookHasBesidesChecks(t *testing.T) {
	for _, typ := range shipped(t) {
		copied, err := handbook.Copy(typ)
		require.NoError(t, err)
		for _, part := range []string{"winds", "fuel", "prime", "power"} {
			without, err := handbook.Have(copied, part, false)
			require.NoError(t, err)
			s := sheet(t, without, nil)
			assert.False(t, slices.ContainsFunc(s.Parts, func(p handbook.Part) bool { return p.ID == part }), "%s %s",
				typ.Name, part)
			with, err := handbook.Have(without, part, true)
			require.NoError(t, err)
			for _, p := range sheet(t, with, nil).Parts {
				for _, r := range p.Rows {
					if p.ID == part && !r.Table {
						assert.NotEmpty(t, r.Lacks, "%s %s", typ.Name, r.Path)
						assert.Empty(t, r.Problem, r.Path)
					}
				}
			}
		}
	}
	_, err := handbook.Have(named(t, "alder-110"), "wings", true)
	assert.EqualError(t, err, `part "wings" is none of fuel, power, prime, winds`)

	a, err := handbook.Copy(named(t, "hornbeam-twin"))
	require.NoError(t, err)
	a.ID, a.Name, a.Source = "dove-twin", "Dove Twin", "fictional"
	page := "5-1"
	a, err = handbook.Apply(a, handbook.Edit{Path: "fuel.tanks.right", Page: &page})
	require.NoError(t, err)
	a.Fuel.Tanks = a.Fuel.Tanks[:1]
	for _, p := range sheet(t, a, nil).Parts {
		for _, r := range p.Rows {
			edit := handbook.Edit{Path: r.Path, Page: &page}
			if r.Lacks == "number" {
				left := true
				edit = handbook.Edit{Path: r.Path, Left: &left}
			}
			if len(r.Choices) == 0 {
				a, err = handbook.Apply(a, edit)
				require.NoError(t, err)
			}
		}
	}
	a, err = handbook.Settle(a)
	require.NoError(t, err)
	assert.NotContains(t, a.Handbook.Numbers, "fuel.tanks.right")
	assert.Contains(t, a.Handbook.Numbers, "fuel.tanks.left")
}
