package check

import (
	"fmt"
	"math"

	"jetprimer/core/form"
)

// fuelPressure holds the fuel pressure to its limits at idle, at run-up power
// and, where it was read, at full power. All pressures are in psi.
var fuelPressure = Definition{
	Name: "fuel-pressure", fits: []string{"no turbine"},
	Title: "Fuel pressure",
	Rule: "The pump must feed the engine at every power. A pressure that sags as power comes up is a line or a " +
		"filter that will not feed the climb.",
	Fields: []form.Field{
		{Name: "idle", Label: "at idle", Unit: "psi", Kind: form.Number, Taken: form.ReadOff, Decimals: 1, Step: 0.5},
		{
			Name: "runUp", Label: "at run-up power", Unit: "psi", Kind: form.Number, Taken: form.ReadOff, Decimals: 1,
			Step: 0.5,
		},
		{
			Name: "fullPower", Label: "at full power", Unit: "psi", Kind: form.Number, Taken: form.ReadOff, Decimals: 1,
			Step: 0.5, Optional: true,
		},
		{Name: "pumps", Label: "pumps alone", Kind: form.Rows, Optional: true, AtLeast: 1, AtMost: 4,
			Each: []form.Field{
				{Name: "name", Label: "pump", Kind: form.Text, Max: 40},
				{
					Name: "pressure", Label: "alone", Unit: "psi", Kind: form.Number, Taken: form.ReadOff, Decimals: 1,
					Step: 0.5,
				},
			}},
	},
	Limits: []form.Field{
		{Name: "idleMin", Label: "lowest at idle", Unit: "psi", Kind: form.Number, Decimals: 1},
		{Name: "runUpMin", Label: "lowest at run-up", Unit: "psi", Kind: form.Number, Decimals: 1},
		{
			Name: "fullPowerMin", Label: "lowest at full power", Unit: "psi", Kind: form.Number, Decimals: 1,
			Optional: true,
			Silent:   &form.Silent{Words: "Without it the pressure at full power is held to the sag only."},
		},
		{Name: "max", Label: "highest", Unit: "psi", Kind: form.Number, Decimals: 1},
		{Name: "sagMax", Label: "sags at most", Unit: "psi", Kind: form.Number, Decimals: 1},
	},
	Scales: []Scale{
		{Label: "idle", Unit: "psi", Of: "idle", Low: "idleMin", High: "max", Followed: true},
		{Label: "run-up", Unit: "psi", Of: "runUp", Low: "runUpMin", High: "max", Followed: true},
		{Label: "full power", Unit: "psi", Of: "fullPower", Low: "fullPowerMin", High: "max", Followed: true},
		{Label: "sag", Unit: "psi", Of: "sag", Computed: true, High: "sagMax", Followed: true},
	},
	ordered: [][2]string{{"idleMin", "max"}, {"runUpMin", "max"}, {"fullPowerMin", "max"}},
	Causes:  []Cause{fuelPumpOrFilter, fuelRegulator, onePump},
	Actions: orderedActions(groundAircraft),
	example: func(s sample) map[string]any {
		low := math.Max(s.limit("idleMin"), math.Max(s.limit("runUpMin"), s.limit("fullPowerMin")))
		p := s.between(low, s.limit("max"), 1)
		r := object("idle", p, "runUp", p)
		if _, has := s.limits["fullPowerMin"]; has {
			r["fullPower"] = math.Max(low, p-s.limit("sagMax")/2)
		}
		return r
	},
	sound: func(in input) error { return namedOnce("reading.pumps", in.reading.Rows("pumps")) },
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		defer judgePumps(in, out)
		points := []struct{ field, least, side, at string }{
			{"idle", "idleMin", "idle", "at idle"}, {"runUp", "runUpMin", "run-up", "at run-up power"},
			{"fullPower", "fullPowerMin", "full-power", "at full power"},
		}
		for _, p := range points {
			if v := r.Value(p.field); r.Has(p.field) && l.Has(p.least) && v.Below(l.Value(p.least)) {
				out.add(Abnormal, Stop, "pressure-low", p.side,
					"Fuel pressure %s is %s psi; the lowest allowed is %s psi.", p.at, v, l.Value(p.least)).
					because(fuelPumpOrFilter).do(groundAircraft)
			}
		}
		for _, p := range points {
			if v := r.Value(p.field); r.Has(p.field) && v.Above(l.Value("max")) {
				out.add(Abnormal, Stop, "pressure-high", p.side,
					"Fuel pressure %s is %s psi; the highest allowed is %s psi.", p.at, v, l.Value("max")).
					because(fuelRegulator).do(groundAircraft)
			}
		}
		if !r.Has("fullPower") {
			return
		}
		sag := r.Value("runUp").Sub(r.Value("fullPower"))
		out.value("sag", sag)
		if sag.Above(l.Value("sagMax")) {
			out.add(Abnormal, Stop, "pressure-sags", "",
				"Fuel pressure sagged by %s psi from run-up to full power; the limit is %s psi.", sag,
				l.Value("sagMax")).
				because(fuelPumpOrFilter).do(groundAircraft)
		}
	},
}

// judgePumps holds each pump, run alone, to the least that the engine idles on.
func judgePumps(in input, out *sheet) {
	least := in.limits.Value("idleMin")
	for _, p := range in.reading.Rows("pumps") {
		if v := p.Value("pressure"); v.Below(least) {
			out.add(Abnormal, Stop, "pump-weak", p.Text("name"),
				"The pump “%s” alone gives %s psi; each must give at least %s psi.", p.Text("name"), v, least).
				because(onePump).do(groundAircraft)
		}
	}
}

// namedOnce refuses rows that have the same name: the two could not be told apart.
func namedOnce(path string, rows []form.Record) error {
	seen := map[string]bool{}
	for i, row := range rows {
		if name := row.Text("name"); seen[name] {
			return form.Bad(fmt.Sprintf("%s[%d].name", path, i), "%q stands there twice", form.Clip(name))
		}
		seen[row.Text("name")] = true
	}
	return nil
}

var (
	onePump          = because("fuel-pump", "The pump itself, its supply or its breaker.")
	fuelPumpOrFilter = because("fuel-pump-or-filter", "The fuel pump, a filter, or a line that lets in air.")
	fuelRegulator    = because("fuel-regulator", "The fuel pressure regulator, or a blocked return line.")
)
