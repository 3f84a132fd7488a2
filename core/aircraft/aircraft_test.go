package aircraft_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jetprimer/core/aircraft"
)

func sound() aircraft.Type {
	return aircraft.Type{
		ID: "alder-110", Name: "Alder 110", Version: 1, Source: "fictional type", Class: "airplane-single-engine-land",
		EngineKind: "piston", StartType: "carburetted", Engines: 1, Ignition: "magnetos", Propeller: "fixed",
		Speeds:    []aircraft.Speed{{ID: "rotate", Label: "rotate", Knots: 52}},
		Equipment: []aircraft.Equipment{{ID: "flaps", Label: "flaps"}},
		Gauges:    []aircraft.Gauge{{ID: "oilPressure", Label: "oil pressure", Unit: "psi"}},
		Limits:    map[string]map[string]any{"gauges": {"oilPressure": map[string]any{"min": 25, "max": 115}}},
	}
}

func TestFaultsNameTheirPath(t *testing.T) {
	assert.Empty(t, sound().Problems())
	for _, c := range []struct {
		spoil func(*aircraft.Type)
		want  string
	}{
		{func(a *aircraft.Type) { a.ID = "" }, "id is missing"},
		{func(a *aircraft.Type) { a.Source = "" }, "source is missing"},
		{func(a *aircraft.Type) { a.Version = 0 }, "version must be 1 or more"},
		{func(a *aircraft.Type) { a.Engines = 5 }, "engines must be 1 to 4, not 5"},
		{func(a *aircraft.Type) { a.EngineKind = "steam" }, `engineKind "steam" is none of [piston diesel turbine]`},
		{func(a *aircraft.Type) { a.StartType = "kick" }, `startType "kick" is none of`},
		{func(a *aircraft.Type) { a.Ignition = "match" }, `ignition "match" is none of`},
		{func(a *aircraft.Type) { a.Propeller = "paddle" }, `propeller "paddle" is none of`},
		{
			func(a *aircraft.Type) { a.Speeds = append(a.Speeds, a.Speeds[0]) },
			`speeds[1].id "rotate" is empty or used twice`,
		},
		{func(a *aircraft.Type) { a.Speeds[0].Knots = 0 }, "speeds[0].knots must be 1 to 400, not 0"},
		{func(a *aircraft.Type) { a.Equipment[0].ID = "" }, `equipment[0].id "" is empty or used twice`},
		{func(a *aircraft.Type) { a.Gauges[0].Unit = "" }, "gauges[0].unit is missing"},
		{
			func(a *aircraft.Type) { a.Gauges[0].ID = "oil" },
			"limits.gauges.oilPressure has limits but is not among the type's gauges",
		},
	} {
		a := sound()
		c.spoil(&a)
		faults := a.Problems()
		if assert.NotEmpty(t, faults, c.want) {
			assert.Contains(t, faults[0].Error(), c.want)
		}
	}
}

func TestFaultsComeInOneOrder(t *testing.T) {
	first := aircraft.Type{}.Problems()
	for range 20 {
		assert.Equal(t, first, aircraft.Type{}.Problems())
	}
}
