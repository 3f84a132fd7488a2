package check

import "jetprimer/core/form"

// enginesDiffer is the one verdict across both engines of a twin: drops,
// gauges, times. Each is read in its own unit, to hundredths.
var enginesDiffer = Definition{
	Name: "engines-differ", fits: []string{"engines-two"},
	Title:  "Engines compared",
	Rule:   "Two engines that are alike show alike. What lies apart is found while each is still within its own limits.",
	Fields: []form.Field{},
	Limits: []form.Field{},
	NamedReading: &form.Field{Name: "reading", Label: "compared", Kind: form.Named, Each: []form.Field{
		{Name: "left", Label: "left engine", Kind: form.Number, Taken: form.ReadOff, Decimals: 2, Signed: true},
		{Name: "right", Label: "right engine", Kind: form.Number, Taken: form.ReadOff, Decimals: 2, Signed: true},
	}},
	NamedLimits: &form.Field{Name: "limits", Label: "compared", Kind: form.Named, Each: []form.Field{
		{Name: "apartMax", Label: "apart at most", Kind: form.Number, Decimals: 2},
	}},
	Scales:  []Scale{},
	Causes:  []Cause{oneEngineWeak},
	Actions: orderedActions(repeatCheck, groundAircraft),
	example: func(s sample) map[string]any {
		r := map[string]any{}
		for pair, limits := range s.limits {
			apart, _ := limits.(map[string]any)["apartMax"].(float64)
			r[pair] = object("left", 4*apart, "right", s.between(3.5*apart, 4.5*apart, 0.1))
		}
		return r
	},
	judge: func(in input, out *sheet) {
		for _, name := range in.reading.Names() {
			r := in.reading.Sub(name)
			apart, most := r.Value("left").Sub(r.Value("right")).Abs(), in.limits.Sub(name).Value("apartMax")
			out.value(name, apart)
			if called, unit := nameWords(out.typ, name); apart.Above(most) {
				out.add(Caution, Recheck, "engines-differ", name,
					"The engines are %s apart in %s; %s apart is allowed.", withUnit(apart, unit), called,
					withUnit(most, unit)).
					because(oneEngineWeak).do(repeatCheck)
			}
		}
	},
}

var (
	oneEngineWeak = because("one-engine-weak", "One engine, its propeller or its instrument differs from the other.")
)
