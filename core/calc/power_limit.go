package calc

import (
	"fmt"
	"slices"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/weather"
)

// powerLimit reads the type's table of power over pressure altitude and
// temperature, in straight lines between its nodes (bilinear), to one decimal.
// Beyond an edge the edge's value is used where the table says that this is on
// the safe side; elsewhere there is no answer, never an extrapolation.
var powerLimit = Definition{
	Name: "power-limit", Title: "Power limit of the day",
	Rule: "What the engine may give, and what it can give, falls with altitude and temperature; the number is " +
		"known before power is raised.",
	Source: "the type's own table, bilinear between its nodes",
	Fields: []form.Field{
		aircraftTypeField, number("pressureAltitudeFt", "pressure altitude", "ft", 0, signed),
		number("oatC", "outside air", "°C", 1, signed),
	},
	run: func(in input) (form.Object, []Advice, error) {
		table := in.typ.Power
		if table == nil {
			return nil, nil, form.Bad("aircraftType", "the %s has no table of power", in.typ.Name)
		}
		if err := within("pressureAltitudeFt", in.Value("pressureAltitudeFt"), -1500, 25000, "ft"); err != nil {
			return nil, nil, err
		}
		value, held, err := bilinear(*table, in.Value("pressureAltitudeFt"), in.Value("oatC"))
		if err != nil {
			return nil, nil, err
		}
		advice := []Advice{}
		for _, edge := range held {
			advice = append(advice, Advice{
				"held-" + edge,
				"Beyond the " + edge +
					" edge of the table its last value is used: the limit does not fall there, which is on the safe side.",
			})
		}
		return form.Object{
			member("limit", value), member("unit", table.Unit), member("label", table.Label), member("held", held),
		}, advice, nil
	},
}

// bilinear reads a table; held names the edges whose values were used.
func bilinear(t aircraft.Table, altitudeFt, oatC quantity.Value) (quantity.Value, []string, error) {
	held := []string{}
	axis := func(name, low, high, unit string, v float64, nodes []int) (i int, part float64, err error) {
		last := len(nodes) - 1
		switch {
		case v < float64(nodes[0]):
			if !slices.Contains(t.Hold, low) {
				return 0, 0, form.Bad(name, "must be at least %d %s: the table goes no further, and is not extended",
					nodes[0], unit)
			}
			held = append(held, low)
			return 0, 0, nil
		case v > float64(nodes[last]):
			if !slices.Contains(t.Hold, high) {
				return 0, 0, form.Bad(name, "must be at most %d %s: the table goes no further, and is not extended",
					nodes[last], unit)
			}
			held = append(held, high)
			return last - 1, 1, nil
		}
		for i = 0; i < last-1 && v > float64(nodes[i+1]); i++ {
		}
		return i, (v - float64(nodes[i])) / float64(nodes[i+1]-nodes[i]), nil
	}
	a, alongA, err := axis("pressureAltitudeFt", "low-altitude", "high-altitude", "ft", altitudeFt.Float(),
		t.AltitudesFt)
	if err != nil {
		return quantity.Value{}, nil, err
	}
	c, alongC, err := axis("oatC", "cold", "hot", "°C", oatC.Float(), t.OATC)
	if err != nil {
		return quantity.Value{}, nil, err
	}
	lower := t.Values[a][c]*(1-alongC) + t.Values[a][c+1]*alongC
	upper := t.Values[a+1][c]*(1-alongC) + t.Values[a+1][c+1]*alongC
	return rounded(lower*(1-alongA)+upper*alongA, 1), held, nil
}

// DayLimit is the limit of a table under a lesson's conditions: elevationFt, oatC
// and qnhHPa; nil where one of them is not known, or where the table has no
// answer, and then why.
func DayLimit(t aircraft.Table, conditions map[string]any) (limitOfDay *float64, unknown string) {
	given := map[string]quantity.Value{}
	for _, c := range []struct{ name, words string }{
		{"elevationFt", "elevation"}, {"oatC", "temperature"}, {"qnhHPa", "pressure setting"},
	} {
		v, err := quantity.Parse(fmt.Sprint(conditions[c.name]), 2)
		if err != nil {
			return nil, "the " + c.words + " of the day is not given"
		}
		given[c.name] = v
	}
	pressure, _ := weather.Altitudes(given["elevationFt"], given["qnhHPa"], given["oatC"])
	limit, _, err := bilinear(t, pressure, given["oatC"])
	if err != nil {
		return nil, fmt.Sprintf("the table does not reach a pressure altitude of %s ft at %s °C", pressure,
			given["oatC"])
	}
	value := limit.Float()
	return &value, ""
}
