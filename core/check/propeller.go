package check

import (
	"cmp"

	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// propeller is the cycling of a constant-speed propeller at run-up power, one
// engine at a time: drop = base − low, recovery = after − base, in rpm.
var propeller = Definition{
	Name: "propeller", fits: []string{"propeller-lever"},
	Title: "Propeller cycling",
	Rule: "Pulled back, the speed must fall, the manifold pressure rise and the oil pressure dip; pushed forward, " +
		"all must return. " +
		"The cycles bring warm oil into the hub.",
	Fields: []form.Field{
		{Name: "base", Label: "lever forward", Unit: "rpm", Kind: form.Number, Taken: form.ReadOff, Step: 10},
		{
			Name: "low", Label: "pulled back, lowest", Unit: "rpm", Kind: form.Number, DropsFrom: "base",
			Taken: form.ReadOff, Step: 10,
		},
		{Name: "manifoldRose", Label: "manifold pressure rose", Kind: form.Flag, Taken: form.Watched},
		{Name: "oilPressureDipped", Label: "oil pressure dipped", Kind: form.Flag, Taken: form.Watched},
		{Name: "after", Label: "forward again", Unit: "rpm", Kind: form.Number, Taken: form.ReadOff, Step: 10},
		{Name: "cycles", Label: "cycles", Kind: form.Number, Taken: form.Watched, Step: 1},
	},
	Limits: append(dropLimits(),
		append(baseLimits(), form.Field{
			Name: "cyclesMin", Label: "cycles at least", Kind: form.Number,
			Silent: form.SilentHabit(1, "Two or three on a cold day, to warm the oil in the hub."),
		})...),
	Scales: []Scale{
		{Label: "drop", Unit: "rpm", Of: "drop", Computed: true, Low: "dropMin", High: "dropMax", Followed: true},
		{Label: "recovery", Unit: "rpm", Of: "recovery", Computed: true, Within: "recoveryTolerance"},
		{Label: "cycles", Of: "cycles", Low: "cyclesMin"},
	},
	Trace:   []string{"base", "low", "after"},
	ordered: [][2]string{{"dropMin", "dropMax"}, {"baseMin", "baseMax"}},
	Causes:  []Cause{governorOrOil, leverLinkage, leverMovedTooFar, instrumentOrGovernor, coldOil},
	Actions: orderedActions(groundAircraft, setBase, repeatCheck),
	example: func(s sample) map[string]any {
		return object("base", s.speed(), "low", s.speed()-s.within("dropMin", "dropMax", 10), "manifoldRose", true,
			"oilPressureDipped", true, "after", s.speed(), "cycles", s.limit("cyclesMin"))
	},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		drop, recovery := r.Value("base").Sub(r.Value("low")), r.Value("after").Sub(r.Value("base"))
		out.value("drop", drop)
		out.value("recovery", recovery)
		tooFew, off := r.Value("cycles").Below(l.Value("cyclesMin")), offBase(r.Value("base"), l)
		numbers := !tooFew && !off
		// Cold oil answers little, and at another speed the drop is another.
		if numbers && drop.Below(l.Value("dropMin")) {
			out.add(Abnormal, Stop, "no-governing", "",
				"The speed %s; it must fall by at least %s rpm to show that the propeller governs.", moved(drop),
				l.Value("dropMin")).
				because(governorOrOil, leverLinkage).do(groundAircraft)
		}
		if numbers && drop.Above(l.Value("dropMax")) {
			out.add(Caution, Recheck, "pulled-too-far", "",
				"The speed %s; more than %s rpm loads the engine for nothing.", moved(drop), l.Value("dropMax")).
				because(leverMovedTooFar).do(repeatCheck).again()
		}
		if !r.Flag("manifoldRose") {
			out.add(Caution, Recheck, "tachometer-or-governor", "",
				"The manifold pressure did not rise while the speed fell: one of the two instruments, or the "+
					"governor, does not tell the truth.").
				because(instrumentOrGovernor).do(repeatCheck)
		}
		if !r.Flag("oilPressureDipped") {
			out.add(Caution, Recheck, "no-oil-response", "", "The oil pressure did not dip while the blades moved.").
				because(governorOrOil).do(repeatCheck)
		}
		if numbers {
			slowRecovery(recovery, l, out)
		}
		if tooFew {
			out.add(Invalid, Recheck, "too-few-cycles", "",
				"The propeller was cycled %s; %s are needed to bring warm oil into the hub.", times(r.Value("cycles")),
				l.Value("cyclesMin")).
				do(repeatCheck)
		}
		judgeBase(r.Value("base"), l, out)
	},
}

// feather is the feather check of one propeller: the lever goes to feather for
// a moment and comes back before the speed is lost. Drops are in rpm.
var feather = Definition{
	Name: "feather", fits: []string{"feathering"},
	Title: "Feather check",
	Rule: "A propeller that cannot feather takes away the climb on one engine. The lever goes to feather for a " +
		"moment, and back before the engine labours.",
	Fields: []form.Field{
		{Name: "base", Label: "lever forward", Unit: "rpm", Kind: form.Number, Taken: form.ReadOff, Step: 10},
		{Name: "low", Label: "at feather, lowest", Unit: "rpm", Kind: form.Number, Taken: form.ReadOff, Step: 10},
		{Name: "after", Label: "forward again", Unit: "rpm", Kind: form.Number, Taken: form.ReadOff, Step: 10},
	},
	Limits: append(dropLimits(), baseLimits()...),
	Scales: []Scale{
		{Label: "drop", Unit: "rpm", Of: "drop", Computed: true, Low: "dropMin", High: "dropMax", Followed: true},
		{Label: "recovery", Unit: "rpm", Of: "recovery", Computed: true, Within: "recoveryTolerance"},
	},
	Trace:   []string{"base", "low", "after"},
	ordered: [][2]string{{"dropMin", "dropMax"}, {"baseMin", "baseMax"}},
	Causes:  []Cause{coldOil, featherLinkageOrCharge, leverMovedTooFar},
	Actions: orderedActions(groundAircraft, setBase, warmHub, repeatCheck),
	example: func(s sample) map[string]any {
		base := 1500.0
		if least, most := s.limit("baseMin"), s.limit("baseMax"); least > 0 || most > 0 {
			base = s.between(cmp.Or(least, most), cmp.Or(most, least), 10)
		}
		return object("base", base, "low", base-s.within("dropMin", "dropMax", 10), "after", base)
	},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		drop, recovery := r.Value("base").Sub(r.Value("low")), r.Value("after").Sub(r.Value("base"))
		out.value("drop", drop)
		out.value("recovery", recovery)
		if offBase(r.Value("base"), l) {
			judgeBase(r.Value("base"), l, out)
			return
		}
		if drop.Below(l.Value("dropMin")) {
			out.add(Caution, Recheck, "no-feather", "",
				"The speed %s; it must fall by at least %s rpm to show that the blades move to feather.", moved(drop),
				l.Value("dropMin")).
				because(coldOil, featherLinkageOrCharge).do(warmHub)
		}
		if drop.Above(l.Value("dropMax")) {
			out.add(Caution, Recheck, "feather-too-deep", "", "The speed %s; more than %s rpm labours the engine.",
				moved(drop), l.Value("dropMax")).
				because(leverMovedTooFar).do(repeatCheck).again()
		}
		slowRecovery(recovery, l, out)
	},
}

// baseLimits are the speeds between which a propeller is pulled back, where the
// type gives them.
func baseLimits() []form.Field {
	silent := &form.Silent{Words: "Without it a check at any speed is judged."}
	return []form.Field{
		{Name: "baseMin", Label: "pulled from at least", Unit: "rpm", Kind: form.Number, Optional: true,
			Silent: silent},
		{Name: "baseMax", Label: "pulled from at most", Unit: "rpm", Kind: form.Number, Optional: true, Silent: silent},
	}
}

// offBase reports whether the lever was pulled at a speed at which the drop says
// nothing.
func offBase(base quantity.Value, limits form.Record) bool {
	return limits.Has("baseMin") && base.Below(limits.Value("baseMin")) || limits.Has("baseMax") &&
		base.Above(limits.Value("baseMax"))
}

func judgeBase(base quantity.Value, limits form.Record, out *sheet) {
	if limits.Has("baseMin") && base.Below(limits.Value("baseMin")) {
		out.add(Invalid, Recheck, "base-out-of-range", "",
			"The lever was pulled back at %s rpm; it is done from %s rpm.", base, limits.Value("baseMin")).do(setBase)
	}
	if limits.Has("baseMax") && base.Above(limits.Value("baseMax")) {
		out.add(Invalid, Recheck, "base-out-of-range", "",
			"The lever was pulled back at %s rpm; it is done at %s rpm at most.", base,
			limits.Value("baseMax")).do(setBase)
	}
}

// times is how often something was done, in words.
func times(n quantity.Value) string {
	if n.Cmp(quantity.Scaled(1, 0)) == 0 {
		return "once"
	}
	return n.String() + " times"
}

var (
	warmHub = do(175, "warm-hub-and-repeat",
		"Cycle the propeller until the oil in its hub is warm, then repeat once.")
	leverLinkage           = because("lever-linkage", "The lever does not move the governor.")
	instrumentOrGovernor   = because("instrument-or-governor", "The tachometer, the manifold gauge, or the governor.")
	featherLinkageOrCharge = because("feather-linkage-or-charge",
		"The lever's linkage, the hub's gas charge or its spring.")
)
