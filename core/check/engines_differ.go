package check

// enginesDiffer is the one verdict across both engines of a twin: drops,
// gauges, times. Each is read in its own unit, to hundredths.
var enginesDiffer = Definition{
	Name:   "engines-differ",
	Title:  "Engines compared",
	Rule:   "Two engines that are alike show alike. What lies apart is found while each is still within its own limits.",
	Fields: []Field{},
	Limits: []Field{},
	NamedReading: &Field{Name: "reading", Label: "compared", Kind: Named, Each: []Field{
		{Name: "left", Label: "left engine", Kind: Number, Taken: ReadOff, Decimals: 2, Signed: true},
		{Name: "right", Label: "right engine", Kind: Number, Taken: ReadOff, Decimals: 2, Signed: true},
	}},
	NamedLimits: &Field{Name: "limits", Label: "compared", Kind: Named, Each: []Field{
		{Name: "apartMax", Label: "apart at most", Kind: Number, Decimals: 2},
	}},
	judge: func(in input, out *sheet) {
		for _, name := range in.reading.names() {
			r := in.reading.Sub(name)
			apart, most := r.Value("left").Sub(r.Value("right")).Abs(), in.limits.Sub(name).Value("apartMax")
			out.value(name, apart)
			if apart.Above(most) {
				out.add(Caution, Recheck, "engines-differ", name, "The engines are %s apart in %s; %s are allowed.", apart, name, most).
					because("one-engine-weak").do("repeat-check")
			}
		}
	},
}
