package handbook_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/handbook"
	"jetprimer/core/quantity"
)

// TestEveryRowSaysWhatItIs: on every type each number has a path of its own, a
// label, a unit where it has one, and words wherever it may be left out by habit;
// a type whose tachometer shows percent has no speed in rpm.
func TestEveryRowSaysWhatItIs(t *testing.T) {
	for _, typ := range shipped(t) {
		s := sheet(t, typ, nil)
		seen := map[string]bool{}
		for _, p := range s.Parts {
			assert.NotEmpty(t, p.Title, p.ID)
			assert.NotEmpty(t, p.Words, p.ID)
			for _, r := range p.Rows {
				assert.False(t, seen[r.Path], "%s: %s is there twice", typ.Name, r.Path)
				seen[r.Path] = true
				assert.NotEmpty(t, r.Label, r.Path)
				if r.Habit != "" {
					assert.NotEmpty(t, r.Words, r.Path)
				}
				assert.NotEqual(t, "percent", r.Unit, "%s: %s", typ.Name, r.Path)
				if typ.Tachometer == "percent" && strings.HasPrefix(r.Path, "limits.idle.m") {
					assert.Equal(t, "%", r.Unit, r.Path)
				}
			}
		}
		assert.Equal(t, s.Checks, s.Judged, typ.Name)
		assert.Empty(t, s.Problems, typ.Name)
	}
}

// TestNoHabitFitsAnotherTachometer: habits are those of engines read in rpm.
func TestNoHabitFitsAnotherTachometer(t *testing.T) {
	for typ, want := range map[string]string{"alder-110": "25", "juniper-h2": ""} {
		assert.Equal(t, want, row(t, sheet(t, named(t, typ), nil), "limits.magneto.baseTolerance").Habit, typ)
	}
}

// TestHabitsAreInTheHandbooksUnits: a habit of feet is offered in metres where the
// handbook has metres, and taken it is the same number of feet.
func TestHabitsAreInTheHandbooksUnits(t *testing.T) {
	a, err := handbook.Blank(named(t, "alder-110"))
	require.NoError(t, err)
	a.ID, a.Name, a.Source = "dove", "Dove", "fictional"
	a.Handbook.Units = quantity.Units{Height: "m"}
	r := row(t, sheet(t, a, nil), "limits.altimeter.toleranceFt")
	assert.Equal(t, [2]string{"22.9", "m"}, [2]string{r.Habit, r.Unit})
	a, err = handbook.Apply(a, handbook.Edit{Path: r.Path, Habit: true})
	require.NoError(t, err)
	assert.EqualValues(t, 75, a.Limits["altimeter"]["toleranceFt"])
	assert.Equal(t, "habit", row(t, sheet(t, a, nil), r.Path).Source)
}

// TestWhatIsAskedFollowsThePartsOfAType: a check is offered just where the type
// has what it tests.
func TestWhatIsAskedFollowsThePartsOfAType(t *testing.T) {
	more := func(a aircraft.Type) []string {
		var out []string
		for _, c := range sheet(t, a, nil).More {
			out = append(out, c.Check)
		}
		return out
	}
	alder := named(t, "alder-110")
	assert.NotContains(t, more(alder), "hydraulics")
	assert.NotContains(t, more(alder), "engines-differ")
	alder.Equipment = append(alder.Equipment, aircraft.Equipment{ID: "hydraulic-controls", Label: "hydraulic controls"})
	assert.Contains(t, more(alder), "hydraulics")
	for _, typ := range shipped(t) {
		for _, name := range more(typ) {
			d, known := check.Find(name)
			require.True(t, known)
			assert.True(t, d.Fits(typ), "%s of the %s", name, typ.Name)
			asked, err := handbook.Ask(typ, name, true)
			require.NoError(t, err)
			assert.Equal(t, sheet(t, typ, nil).Checks+1, sheet(t, asked, nil).Checks)
		}
	}
}

// TestACheckThatDoesNotFitIsSaid: when the type has lost what it tests.
func TestACheckThatDoesNotFitIsSaid(t *testing.T) {
	a := named(t, "alder-110")
	a.Ignition = "lanes"
	var said []string
	for _, f := range sheet(t, a, nil).Problems {
		said = append(said, f.Field)
	}
	assert.Contains(t, said, "$.limits.magneto")
	assert.Contains(t, said, "$.limits.dead-cut")
}

// TestASecondSourceTakesTheFirstsPlace: a page after a habit, a habit after a page,
// leaving out after both; and a number that is typed anew is no habit any more.
func TestASecondSourceTakesTheFirstsPlace(t *testing.T) {
	a := named(t, "sorrel-100")
	const path = "limits.lanes.dropMin"
	apply := func(e handbook.Edit) handbook.Row {
		e.Path = path
		next, err := handbook.Apply(a, e)
		require.NoError(t, err)
		a = next
		return row(t, sheet(t, a, nil), path)
	}
	page, text, yes, no := "4-17", "15", true, false
	assert.Equal(t, "habit", apply(handbook.Edit{Habit: true}).Source)
	r := apply(handbook.Edit{Page: &page})
	assert.Equal(t, [3]string{"page", "4-17", "10"}, [3]string{r.Source, r.Page, r.Text})
	r = apply(handbook.Edit{Habit: true})
	assert.Equal(t, [2]string{"habit", ""}, [2]string{r.Source, r.Page})
	r = apply(handbook.Edit{Text: &text})
	assert.Equal(t, [3]string{"", "15", "page"}, [3]string{r.Source, r.Text, r.Lacks})
	r = apply(handbook.Edit{Left: &yes})
	assert.Equal(t, [3]string{"left", "0", ""}, [3]string{r.Source, r.Text, r.Lacks})
	r = apply(handbook.Edit{Left: &no})
	assert.Equal(t, "number", r.Lacks, "it is asked for again")
	assert.Empty(t, a.Problems())
}

// TestHandbooksAreReadWithTheirMistakes: what a file says of its sources is held
// to the same rules as what is typed.
func TestHandbooksAreReadWithTheirMistakes(t *testing.T) {
	for want, h := range map[string]aircraft.Handbook{
		"must name one of a page, habit and left": {
			Numbers: map[string]aircraft.Provenance{"limits.idle.min": {Page: "4-1", Habit: true}},
		},
		"must have at most 24 characters": {
			Numbers: map[string]aircraft.Provenance{"limits.idle.min": {Page: strings.Repeat("4", 25)}},
		},
		"must give both as and unit":    {Numbers: map[string]aircraft.Provenance{"limits.idle.min": {As: "7"}}},
		"has limits, or is named twice": {LeftOff: []string{"idle"}},
		"speed must be one of":          {Units: quantity.Units{Speed: "knots"}},
	} {
		a := named(t, "alder-110")
		a.Handbook = &h
		said := ""
		for _, f := range a.Problems() {
			said += f.Error() + "\n"
		}
		assert.Contains(t, said, want)
	}
	a := named(t, "alder-110")
	a.Gauges[0].From, a.Gauges[0].To = 120, 0
	assert.Contains(t, a.Problems()[0].Error(), "gauges[0].from lies above the other end of the scale")
}

// TestEquipmentHasItsOwnLimits: a check is described twice where optional equipment
// changes it; what is left empty stays as without, what cannot be is said, and what
// was typed goes with the check or the equipment's limits.
func TestEquipmentHasItsOwnLimits(t *testing.T) {
	at := func(a aircraft.Type, id string) *handbook.Part {
		for _, p := range sheet(t, a, nil).Parts {
			if p.ID == id {
				return &p
			}
		}
		return nil
	}
	const winter = "equipment.winter-kit.limits.static-rpm"
	a := named(t, "alder-110")
	assert.Contains(t, at(a, "limits.static-rpm").Fitted, handbook.Asked{Check: winter, Title: "winter cowl plates"})
	begun, err := handbook.Ask(a, winter, true)
	require.NoError(t, err)
	p := at(begun, winter)
	require.NotNil(t, p)
	assert.Equal(t, "Static speed, with winter cowl plates", p.Title)
	assert.True(t, p.Equipment)
	assert.Zero(t, p.Lacks, "nothing has to differ")
	assert.NotContains(t, at(begun, "limits.static-rpm").Fitted, handbook.Asked{
		Check: winter, Title: "winter cowl plates",
	})

	typed := put(t, begun, winter+".max", "2380", "9-4")
	assert.Empty(t, sheet(t, typed, nil).Problems)
	assert.Empty(t, check.LimitProblems(typed))
	assert.EqualValues(t, 2380, typed.With([]string{"winter-kit"}).Limits["static-rpm"]["max"])
	assert.EqualValues(t, a.Limits["static-rpm"]["min"], typed.With([]string{"winter-kit"}).Limits["static-rpm"]["min"])
	assert.EqualValues(t, a.Limits["static-rpm"]["max"], typed.With(nil).Limits["static-rpm"]["max"])
	crossed := put(t, typed, winter+".max", "1000", "9-4")
	require.NotEmpty(t, sheet(t, crossed, nil).Problems)
	assert.Contains(t, sheet(t, crossed, nil).Problems[0].Reason, "With winter cowl plates")

	for _, gone := range []string{winter, "static-rpm"} {
		without, err := handbook.Ask(typed, gone, false)
		require.NoError(t, err)
		assert.Nil(t, at(without, winter))
		assert.NotContains(t, without.Handbook.Numbers, winter+".max")
		assert.Empty(t, check.LimitProblems(without))
	}
	blank, err := handbook.Blank(typed)
	require.NoError(t, err)
	assert.Nil(t, at(blank, winter))
	_, err = handbook.Ask(a, "equipment.carburettor.limits.static-rpm", true)
	assert.Error(t, err, "every such aircraft has it")
}
