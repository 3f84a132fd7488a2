package check

import "fmt"

// gauges holds any of a type's gauges to a normal band, a caution band around
// it and hard limits. Numbers are taken to hundredths of the gauge's own unit.
var gauges = Definition{
	Name:   "gauges",
	Title:  "Pressures and temperatures",
	Rule:   "Every needle in its band before power goes up; a temperature that is low only needs time.",
	Fields: []Field{},
	Limits: []Field{},
	NamedReading: &Field{
		Name: "reading", Label: "gauge", Kind: Named, Taken: ReadOff, Decimals: 2, Signed: true,
	},
	NamedLimits: &Field{
		Name: "limits", Label: "gauge", Kind: Named, Each: []Field{
			{Name: "min", Label: "lowest", Kind: Number, Decimals: 2, Signed: true},
			{Name: "cautionMin", Label: "normal from", Kind: Number, Decimals: 2, Signed: true, Optional: true},
			{Name: "cautionMax", Label: "normal to", Kind: Number, Decimals: 2, Signed: true, Optional: true},
			{Name: "max", Label: "highest", Kind: Number, Decimals: 2, Signed: true},
			{Name: "lowDecision", Label: "when low", Kind: Choice, Choices: []string{"warm-up"}, Optional: true},
		},
	},
	ordered: [][2]string{
		{"min", "max"}, {"min", "cautionMin"}, {"min", "cautionMax"},
		{"cautionMin", "cautionMax"}, {"cautionMin", "max"}, {"cautionMax", "max"},
	},
	judge: func(in input, out *sheet) {
		for _, name := range in.reading.names() {
			judgeLowGauge(name, in, out)
		}
		for _, name := range in.reading.names() {
			judgeHighGauge(name, in, out)
		}
	},
}

func judgeLowGauge(name string, in input, out *sheet) {
	v, l := in.reading.Value(name), in.limits.Sub(name)
	f := seen{outcome: Abnormal, decision: Stop, actions: []string{"ground-aircraft"}}
	switch {
	case v.Below(l.Value("min")):
		f.Finding = Finding{"gauge-low", name, fmt.Sprintf("%s reads %s; the lowest allowed is %s.", name, v, l.Value("min"))}
	case l.Has("cautionMin") && v.Below(l.Value("cautionMin")):
		f = seen{outcome: Caution, decision: Recheck, actions: []string{"repeat-check"}}
		f.Finding = Finding{"gauge-low", name, fmt.Sprintf("%s reads %s; normal is from %s.", name, v, l.Value("cautionMin"))}
	default:
		return
	}
	if l.Text("lowDecision") == "warm-up" {
		f.outcome, f.decision, f.actions, f.steady = Caution, Recheck, []string{"warm-up"}, true
	}
	out.find(f)
}

func judgeHighGauge(name string, in input, out *sheet) {
	v, l := in.reading.Value(name), in.limits.Sub(name)
	switch {
	case v.Above(l.Value("max")):
		out.find(seen{
			Finding: Finding{"gauge-high", name, fmt.Sprintf("%s reads %s; the highest allowed is %s.", name, v, l.Value("max"))},
			outcome: Abnormal, decision: Stop, actions: []string{"ground-aircraft"},
		})
	case l.Has("cautionMax") && v.Above(l.Value("cautionMax")):
		out.find(seen{
			Finding: Finding{"gauge-high", name, fmt.Sprintf("%s reads %s; normal is up to %s.", name, v, l.Value("cautionMax"))},
			outcome: Caution, decision: Recheck, actions: []string{"repeat-check"},
		})
	}
}
