package check

import "jetprimer/core/form"

// gauges holds any of a type's gauges to a normal band, a caution band around
// it and hard limits. Numbers are taken to hundredths of the gauge's own unit.
var gauges = Definition{
	Name:    "gauges",
	byPower: true,
	Title:   "Pressures and temperatures",
	Rule:    "Every needle in its band before power goes up; a temperature that is low only needs time.",
	Fields:  []form.Field{},
	Limits:  []form.Field{},
	NamedReading: &form.Field{
		Name: "reading", Label: "gauge", Kind: form.Named, Taken: form.ReadOff, Decimals: 2, Signed: true,
	},
	NamedLimits: &form.Field{
		Name: "limits", Label: "gauge", Kind: form.Named, Each: []form.Field{
			{Name: "min", Label: "lowest", Kind: form.Number, Decimals: 2, Signed: true},
			{Name: "cautionMin", Label: "normal from", Kind: form.Number, Decimals: 2, Signed: true, Optional: true, Silent: &form.Silent{Words: "Without it all from the lowest on is normal."}},
			{Name: "cautionMax", Label: "normal to", Kind: form.Number, Decimals: 2, Signed: true, Optional: true, Silent: &form.Silent{Words: "Without it all up to the highest is normal."}},
			{Name: "max", Label: "highest", Kind: form.Number, Decimals: 2, Signed: true},
			{Name: "lowDecision", Label: "when low", Kind: form.Choice, Choices: []string{"warm-up"}, Optional: true, Silent: &form.Silent{Words: "Without it a low number stops the flight; with it the engine only needs time."}},
		},
	},
	ordered: [][2]string{
		{"min", "max"}, {"min", "cautionMin"}, {"min", "cautionMax"},
		{"cautionMin", "cautionMax"}, {"cautionMin", "max"}, {"cautionMax", "max"},
	},
	Scales:  []Scale{},
	Causes:  []Cause{},
	Actions: asked(groundAircraft, repeatCheck, warmUp),
	example: func(s sample) map[string]any {
		return s.named()
	},
	judge: func(in input, out *sheet) {
		for _, name := range in.reading.Names() {
			judgeLowGauge(name, in, out)
		}
		for _, name := range in.reading.Names() {
			judgeHighGauge(name, in, out)
		}
	},
}

func judgeLowGauge(name string, in input, out *sheet) {
	v, l := in.reading.Value(name), in.limits.Sub(name)
	called, unit := gaugeWords(out.typ, name)
	var low *seen
	switch {
	case v.Below(l.Value("min")):
		low = out.add(Abnormal, Stop, "gauge-low", name, "The %s reads %s; the lowest allowed is %s.", called, withUnit(v, unit), withUnit(l.Value("min"), unit)).do(groundAircraft)
	case l.Has("cautionMin") && v.Below(l.Value("cautionMin")):
		low = out.add(Caution, Recheck, "gauge-low", name, "The %s reads %s; normal is from %s.", called, withUnit(v, unit), withUnit(l.Value("cautionMin"), unit)).do(repeatCheck)
	default:
		return
	}
	if l.Text("lowDecision") == "warm-up" {
		low.outcome, low.decision, low.actions, low.steady = Caution, Recheck, nil, true
		low.do(warmUp)
	}
}

func judgeHighGauge(name string, in input, out *sheet) {
	v, l := in.reading.Value(name), in.limits.Sub(name)
	called, unit := gaugeWords(out.typ, name)
	switch {
	case v.Above(l.Value("max")):
		out.add(Abnormal, Stop, "gauge-high", name, "The %s reads %s; the highest allowed is %s.", called, withUnit(v, unit), withUnit(l.Value("max"), unit)).do(groundAircraft)
	case l.Has("cautionMax") && v.Above(l.Value("cautionMax")):
		out.add(Caution, Recheck, "gauge-high", name, "The %s reads %s; normal is up to %s.", called, withUnit(v, unit), withUnit(l.Value("cautionMax"), unit)).do(repeatCheck)
	}
}

var (
	warmUp = do(180, "warm-up", "Wait at the warm-up speed until it has come up.")
)
