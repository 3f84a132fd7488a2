package check

// propeller is the cycling of a constant-speed propeller at run-up power, one
// engine at a time: drop = base − low, recovery = after − base, in rpm.
var propeller = Definition{
	Name:  "propeller",
	Title: "Propeller cycling",
	Rule: "Pulled back, the speed must fall, the manifold pressure rise and the oil pressure dip; pushed forward, all must return. " +
		"The cycles bring warm oil into the hub.",
	Fields: []Field{
		{Name: "base", Label: "lever forward", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10},
		{Name: "low", Label: "pulled back, lowest", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10},
		{Name: "manifoldRose", Label: "manifold pressure rose", Kind: Flag, Taken: Watched},
		{Name: "oilPressureDipped", Label: "oil pressure dipped", Kind: Flag, Taken: Watched},
		{Name: "after", Label: "forward again", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10},
		{Name: "cycles", Label: "cycles", Kind: Number, Taken: Watched, Step: 1},
	},
	Limits:  append(dropLimits(), Field{Name: "cyclesMin", Label: "cycles at least", Kind: Number}),
	ordered: [][2]string{{"dropMin", "dropMax"}},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		drop, recovery := r.Value("base").Sub(r.Value("low")), r.Value("after").Sub(r.Value("base"))
		out.value("drop", drop)
		out.value("recovery", recovery)
		tooFew := r.Value("cycles").Below(l.Value("cyclesMin"))
		if drop.Below(l.Value("dropMin")) {
			out.add(Abnormal, Stop, "no-governing", "", "The speed fell by %s rpm; at least %s rpm show that the propeller governs.", drop, l.Value("dropMin")).
				because("governor-or-oil", "lever-linkage").do("ground-aircraft")
		}
		if !tooFew && drop.Above(l.Value("dropMax")) {
			out.add(Caution, Recheck, "pulled-too-far", "", "The speed fell by %s rpm; more than %s rpm loads the engine for nothing.", drop, l.Value("dropMax")).
				because("lever-moved-too-far").do("repeat-check")
		}
		if !r.Flag("manifoldRose") {
			out.add(Caution, Recheck, "tachometer-or-governor", "", "The manifold pressure did not rise while the speed fell: one of the two instruments, or the governor, does not tell the truth.").
				because("instrument-or-governor").do("repeat-check")
		}
		if !r.Flag("oilPressureDipped") {
			out.add(Caution, Recheck, "no-oil-response", "", "The oil pressure did not dip while the blades moved.").
				because("governor-or-oil").do("repeat-check")
		}
		if !tooFew {
			slowRecovery(recovery, l, out)
		}
		if tooFew {
			out.add(Invalid, Recheck, "too-few-cycles", "", "The propeller was cycled %s times; %s are needed to bring warm oil into the hub.", r.Value("cycles"), l.Value("cyclesMin")).
				do("repeat-check")
		}
	},
}

// feather is the feather check of one propeller: the lever goes to feather for
// a moment and comes back before the speed is lost. Drops are in rpm.
var feather = Definition{
	Name:  "feather",
	Title: "Feather check",
	Rule:  "A propeller that cannot feather takes away the climb on one engine. The lever goes to feather for a moment, and back before the engine labours.",
	Fields: []Field{
		{Name: "base", Label: "lever forward", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10},
		{Name: "low", Label: "at feather, lowest", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10},
		{Name: "after", Label: "forward again", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10},
	},
	Limits:  dropLimits(),
	ordered: [][2]string{{"dropMin", "dropMax"}},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		drop, recovery := r.Value("base").Sub(r.Value("low")), r.Value("after").Sub(r.Value("base"))
		out.value("drop", drop)
		out.value("recovery", recovery)
		if drop.Below(l.Value("dropMin")) {
			out.add(Abnormal, Stop, "no-feather", "", "The speed fell by %s rpm; at least %s rpm show that the blades move to feather.", drop, l.Value("dropMin")).
				because("feather-linkage-or-charge", "cold-oil").do("ground-aircraft")
		}
		if drop.Above(l.Value("dropMax")) {
			out.add(Caution, Recheck, "feather-too-deep", "", "The speed fell by %s rpm; more than %s rpm labours the engine.", drop, l.Value("dropMax")).
				because("lever-moved-too-far").do("repeat-check")
		}
		slowRecovery(recovery, l, out)
	},
}
