package check_test

import (
	"maps"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/check"
)

// TestTypesAreNotImpossible: each type that ships fits its own checks, and its
// limits can all be true of one aircraft.
func TestTypesAreNotImpossible(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, typ := range c.Types {
		assert.Empty(t, check.Impossible(typ), typ.Name)
		for name := range typ.Limits {
			def, known := check.Find(name)
			require.True(t, known)
			assert.True(t, def.Fits(typ), "%s of the %s", name, typ.Name)
		}
	}
}

// TestWhatCannotBeIsSaid: in a sentence with both numbers and their pages.
func TestWhatCannotBeIsSaid(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, k := range []struct {
		typ         string
		check, name string
		value       any
		want        string
	}{
		{
			"alder-110", "idle", "max", 1800.0,
			"Idle check, highest: 1800 rpm on page 4-12, is not below Magneto check, run-up speed: 1750 rpm. One of " +
				"the two is misread.",
		},
		{
			"alder-110", "magneto", "dropMax", 1800.0,
			"Magneto check, largest drop: 1800 rpm, is not below Magneto check, run-up speed",
		},
		{"alder-110", "battery", "startMin", 13.5, "is not below Charging, lowest voltage: 13.2 V"},
		{"sorrel-100", "idle", "max", 9000.0, "is not below Lane check, run-up speed: 4000 rpm"},
		{
			"juniper-h2", "low-rotor-warning", "onMax", 970.0,
			"Low-rotor warning, on to: 970 %, is beyond any scale in percent.",
		},
		{"juniper-h2", "idle", "max", 99.0, "Idle check, highest: 99 % on page 4-12, is not below"},
		{
			"rowan-180i", "magneto", "dwellMinSeconds", 2.0,
			"the timer says “held on one magneto” at least 3 s; Magneto check, hold at least: 2 s. The two are one time.",
		},
		{"alder-110", "piston-start", "crankMaxSeconds", 11.0, "the timer says “starter turning” at most 10 s"},
		{
			"alder-110", "suction", "max", 5.25,
			"5.25 is finer than it is read, to 1 places. Round it to the stricter side.",
		},
		{
			"alder-110", "magneto", "differenceMax", 140.0,
			"largest difference: 140 rpm, is not below Magneto check, largest drop: 130 rpm",
		},
		{"alder-110", "magneto", "dropMin", 0.0, "nothing proves that a side was off"},
		{"sorrel-100", "lanes", "dropMin", 0.0, "nothing proves that a side was off"},
		{
			"willow-t5", "turbine-start", "fuelSpoolMinPercent", 61.0,
			"fuel from: 61 %, is not below Turbine start, idle from: 59 %",
		},
	} {
		typ, known := c.Type(k.typ)
		require.True(t, known)
		typ.Limits = maps.Clone(typ.Limits)
		typ.Limits[k.check] = maps.Clone(typ.Limits[k.check])
		typ.Limits[k.check][k.name] = k.value
		typ.Handbook = &aircraft.Handbook{Numbers: map[string]aircraft.Provenance{"limits.idle.max": {Page: "4-12"}}}
		var said string
		for _, f := range check.Impossible(typ) {
			said += f.Reason + "\n"
		}
		assert.Contains(t, said, k.want, "%s %s", k.typ, k.check)
	}
}

// TestBandsLieOnTheirScale: at every power; and a minimum to wait for is one
// that may be reached.
func TestBandsLieOnTheirScale(t *testing.T) {
	typ := aircraft.Type{Gauges: []aircraft.Gauge{{ID: "oil", Label: "oil pressure", Unit: "psi", From: 0, To: 100}},
		Limits: map[string]map[string]any{
			"gauges": {
				"oil": map[string]any{
					"min": 25.0, "max": 115.0, "at": map[string]any{"idle": map[string]any{"min": -5.0}},
				},
			},
		},
		Minimums: []aircraft.Minimum{{Gauge: "oil", Before: "run-up", Value: 120}}}
	var said []string
	for _, f := range check.Impossible(typ) {
		said = append(said, f.Error())
	}
	assert.Equal(t, []string{
		"limits.gauges.oil.at.idle.min oil pressure: lowest, -5 psi, lies outside its scale, which goes from 0 to 100.",
		"limits.gauges.oil.max oil pressure: highest, 115 psi, lies outside its scale, which goes from 0 to 100.",
		"minimums[0].value the oil pressure to wait for, 120 psi, is above the highest allowed, 115 psi.",
	}, said)
}
