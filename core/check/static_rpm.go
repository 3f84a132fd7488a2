package check

// staticRPM holds the full-throttle speed of a standing aircraft with a
// fixed-pitch propeller to its band, in rpm.
var staticRPM = Definition{
	Name:   "static-rpm",
	Title:  "Static speed",
	Rule:   "At full throttle, standing, a fixed propeller tells the engine's power: too slow is power that is not there.",
	Fields: []Field{{Name: "rpm", Label: "full throttle", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10}},
	Limits: []Field{
		{Name: "min", Label: "lowest", Unit: "rpm", Kind: Number},
		{Name: "max", Label: "highest", Unit: "rpm", Kind: Number},
	},
	ordered: [][2]string{{"min", "max"}},
	judge: func(in input, out *sheet) {
		rpm, l := in.reading.Value("rpm"), in.limits
		if rpm.Below(l.Value("min")) {
			out.add(Abnormal, Stop, "static-low", "", "Full throttle gives %s rpm; at least %s rpm must be there before the brakes are let go.", rpm, l.Value("min")).
				because("power-missing").do("ground-aircraft")
		}
		if rpm.Above(l.Value("max")) {
			out.add(Caution, Recheck, "static-high", "", "Full throttle gives %s rpm; the highest expected is %s rpm.", rpm, l.Value("max")).
				because("tachometer-or-propeller").do("repeat-check")
		}
	},
}
