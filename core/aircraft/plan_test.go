package aircraft_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jetprimer/core/aircraft"
)

// planned is a sound twin with everything that a flight is planned with.
func planned() aircraft.Type {
	a := sound()
	below := 5.0
	a.Engines, a.EngineNames, a.StartOrder = 2, []string{"left", "right"}, []int{1, 2}
	a.Cockpit = []aircraft.Place{{ID: "panel", Label: "panel", X: 50, Y: 50}}
	a.Durations = []aircraft.Duration{{ID: "hold", Label: "hold", MinSeconds: 2, MaxSeconds: 10}}
	a.Minimums = []aircraft.Minimum{{Gauge: "oilPressure", Before: "taxi", Value: 25}}
	a.Winds = &aircraft.Winds{CrosswindKt: 15, TailwindKt: 5}
	a.Fuel = &aircraft.Fuel{Tanks: []aircraft.Tank{{ID: "left", Label: "left", UsableL: 60}}, BurnLPerHour: 24}
	a.Prime = &aircraft.Prime{HotWithinMinutes: 25, WarmWithinMinutes: 120,
		Rows:    []aircraft.PrimeRow{{Engine: "cold", BelowC: &below, Method: "primer", Amount: 4, Unit: "strokes"}},
		Flooded: aircraft.PrimeRow{Method: "throttle open"}}
	a.Power = &aircraft.Table{
		Label: "torque", Unit: "%", AltitudesFt: []int{0, 5000}, OATC: []int{0, 30},
		Values: [][]float64{{100, 90}, {85, 75}}, Hold: []string{"cold"},
	}
	return a
}

// TestPlansNameTheirPath: each mistake in what a flight is planned with is found
// at its place.
func TestPlansNameTheirPath(t *testing.T) {
	assert.Empty(t, planned().Problems())
	for _, c := range []struct {
		spoil func(*aircraft.Type)
		want  string
	}{
		{func(a *aircraft.Type) { a.EngineNames = nil }, "engineNames must name each of the 2 engines"},
		{func(a *aircraft.Type) { a.StartOrder = []int{1, 1} }, "startOrder must name each of the 2 engines once"},
		{func(a *aircraft.Type) { a.StartOrder = nil }, "startOrder must name each"},
		{
			func(a *aircraft.Type) { a.Cockpit = append(a.Cockpit, a.Cockpit[0]) },
			`cockpit[1].id "panel" is empty or used twice`,
		},
		{func(a *aircraft.Type) { a.Cockpit[0].X = 101 }, "cockpit[0] must lie within 0 to 100"},
		{
			func(a *aircraft.Type) { a.Durations = append(a.Durations, a.Durations[0]) },
			`durations[1].id "hold" is empty or used twice`,
		},
		{func(a *aircraft.Type) { a.Durations[0].MinSeconds = 11 }, "durations[0] must run from a time to a later one"},
		{func(a *aircraft.Type) { a.Durations[0].MaxSeconds = -1 }, "durations[0] must run"},
		{
			func(a *aircraft.Type) { a.Minimums[0].Gauge = "none" },
			`minimums[0].gauge "none" is not among the type's gauges`,
		},
		{func(a *aircraft.Type) { a.Winds.CrosswindKt = 0 }, "winds.crosswindKt must be knots"},
		{func(a *aircraft.Type) { a.Winds.TailwindKt = -1 }, "winds.tailwindKt must be knots"},
		{func(a *aircraft.Type) { a.Fuel.Tanks = nil }, "fuel.tanks needs a tank"},
		{func(a *aircraft.Type) { a.Fuel.BurnLPerHour = 0 }, "fuel.burnLPerHour must be at least 1 litre an hour"},
		{func(a *aircraft.Type) { a.Fuel.Tanks = append(a.Fuel.Tanks, a.Fuel.Tanks[0]) }, `fuel.tanks[`},
		{
			func(a *aircraft.Type) { a.Fuel.Tanks[0].UsableL = 0 },
			"fuel.tanks." + planned().Fuel.Tanks[0].ID + " the tank must hold",
		},
		{
			func(a *aircraft.Type) { a.Fuel.OneTank, a.Fuel.Tanks = true, []aircraft.Tank{{ID: "left", UsableL: 1}} },
			"fuel.oneTank where one tank at a time is chosen",
		},
		{func(a *aircraft.Type) { a.Minimums = append(a.Minimums, a.Minimums[0]) }, "minimums[1].before"},
		{
			func(a *aircraft.Type) { a.Prime.Rows[0].Engine = "tepid" },
			`prime.rows[0].engine "tepid" is none of cold, warm, hot`,
		},
		{func(a *aircraft.Type) { a.Prime.WarmWithinMinutes = 25 }, "prime needs hotWithinMinutes"},
		{func(a *aircraft.Type) { a.Prime.Flooded.Method = "" }, "prime.flooded is missing"},
		{
			func(a *aircraft.Type) { a.Power.AltitudesFt = []int{5000, 0} },
			"power.altitudesFt must hold at least two altitudes, rising",
		},
		{func(a *aircraft.Type) { a.Power.OATC = []int{0, 0} },
			"power.oatC must hold at least two temperatures, rising"},
		{
			func(a *aircraft.Type) { a.Power.Values = a.Power.Values[:1] },
			"power.values must have one row for each altitude",
		},
		{
			func(a *aircraft.Type) { a.Power.Values[1] = []float64{1} },
			"power.values[1] must have one value for each temperature",
		},
		{func(a *aircraft.Type) { a.Power.Hold = []string{"left"} }, `power.hold[0] "left" is none of low-altitude`},
	} {
		a := planned()
		c.spoil(&a)
		var said []string
		for _, f := range a.Problems() {
			said = append(said, f.Error())
		}
		assert.Condition(t, func() bool {
			for _, s := range said {
				if len(s) >= len(c.want) && s[:len(c.want)] == c.want {
					return true
				}
			}
			return false
		}, "%s not in %v", c.want, said)
	}
}

// TestDurationsSayWhatTheyAskFor: by their bounds, one, both or none of them.
func TestDurationsSayWhatTheyAskFor(t *testing.T) {
	for _, c := range []struct {
		low, high float64
		words     string
		stands    map[float64]string
	}{
		{
			2, 10, "at least 2 s, at most 10 s",
			map[float64]string{0: "attend", 1.9: "attend", 2: "within", 10: "within", 10.1: "out"},
		},
		{2, 0, "at least 2 s", map[float64]string{1: "attend", 2: "within", 9999: "within"}},
		{0, 2.5, "at most 2.5 s", map[float64]string{0: "", 2.5: "", 2.6: "out"}},
		{0, 0, "", map[float64]string{0: "", 9999: ""}},
	} {
		d := aircraft.Duration{MinSeconds: c.low, MaxSeconds: c.high}
		assert.Equal(t, c.words, d.Words())
		for seconds, state := range c.stands {
			assert.Equal(t, state, d.Stands(seconds), "%v of %s", seconds, c.words)
		}
	}
}
