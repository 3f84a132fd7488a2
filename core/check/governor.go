package check

import (
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// governorHold shows that a governor holds the speed while the power changes:
// speeds in rpm, manifold pressures in inches of mercury.
var governorHold = Definition{
	Name: "governor-hold", fits: []string{"propeller-lever"},
	Title: "Governor holds",
	Rule:  "In the governing range a step of power must not move the speed: the blades take it up.",
	Fields: []form.Field{
		{Name: "rpmBefore", Label: "speed before", Unit: "rpm", Kind: form.Number, Taken: form.ReadOff, Step: 10},
		{
			Name: "manifoldBeforeInHg", Label: "manifold before", Unit: "inHg", Kind: form.Number, Taken: form.ReadOff,
			Decimals: 1, Step: 0.5,
		},
		{
			Name: "manifoldAfterInHg", Label: "manifold after the step", Unit: "inHg", Kind: form.Number,
			Taken: form.ReadOff, Decimals: 1, Step: 0.5,
		},
		{Name: "rpmAfter", Label: "speed after", Unit: "rpm", Kind: form.Number, Taken: form.ReadOff, Step: 10},
	},
	Limits: []form.Field{
		{Name: "governingMinRPM", Label: "governs from", Unit: "rpm", Kind: form.Number},
		{Name: "rpmTolerance", Label: "speed within", Unit: "rpm", Kind: form.Number},
		{Name: "manifoldStepMinInHg", Label: "step at least", Unit: "inHg", Kind: form.Number, Decimals: 1},
	},
	Scales: []Scale{
		{Label: "speed changed by", Unit: "rpm", Of: "rpmChange", Computed: true, Within: "rpmTolerance"},
		{Label: "power changed by", Unit: "inHg", Of: "manifoldStepInHg", Computed: true, Low: "manifoldStepMinInHg"},
		{Label: "speed before", Unit: "rpm", Of: "rpmBefore", Low: "governingMinRPM"},
	},
	Causes:  []Cause{governorOrOil},
	Actions: orderedActions(setBase, repeatCheck, groundAircraft),
	example: func(s sample) map[string]any {
		rpm := s.limit("governingMinRPM") + 200
		return object("rpmBefore", rpm, "manifoldBeforeInHg", 20, "manifoldAfterInHg",
			20+s.limit("manifoldStepMinInHg")+
				1, "rpmAfter", s.between(rpm-s.limit("rpmTolerance"), rpm+s.limit("rpmTolerance"), 10))
	},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		change := r.Value("rpmAfter").Sub(r.Value("rpmBefore"))
		step := r.Value("manifoldAfterInHg").Sub(r.Value("manifoldBeforeInHg")).Abs()
		out.value("rpmChange", change)
		out.value("manifoldStepInHg", step)
		below := r.Value("rpmBefore").Below(l.Value("governingMinRPM"))
		small := step.Below(l.Value("manifoldStepMinInHg"))
		if below {
			out.add(Invalid, Recheck, "below-governing-range", "",
				"At %s rpm the propeller is on its stop; it governs from %s rpm.", r.Value("rpmBefore"),
				l.Value("governingMinRPM")).
				do(setBase)
		}
		if small {
			out.add(Invalid, Recheck, "step-too-small", "",
				"The manifold pressure changed by %s inHg; a step of %s inHg is needed to see whether the governor "+
					"holds.", step, l.Value("manifoldStepMinInHg")).do(repeatCheck)
		}
		if !below && !small && change.Abs().Above(l.Value("rpmTolerance")) {
			out.add(Abnormal, Stop, "governor-not-holding", "",
				"The speed moved by %s rpm with the power; the governor must hold it within %s rpm.", change.Abs(),
				l.Value("rpmTolerance")).
				because(governorOrOil).do(groundAircraft)
		}
	},
}

// dropLimits are the limits of checks that pull a propeller back and let it
// return.
func dropLimits() []form.Field {
	return []form.Field{
		{Name: "dropMin", Label: "drop at least", Unit: "rpm", Kind: form.Number},
		{Name: "dropMax", Label: "drop at most", Unit: "rpm", Kind: form.Number},
		{Name: "recoveryTolerance", Label: "back within", Unit: "rpm", Kind: form.Number},
	}
}

// slowRecovery finds a speed that did not come back to within the tolerance.
func slowRecovery(recovery quantity.Value, limits form.Record, out *sheet) {
	if recovery.Sign() < 0 && recovery.Abs().Above(limits.Value("recoveryTolerance")) {
		out.add(Caution, Recheck, "slow-recovery", "", "The speed came back %s rpm low; within %s rpm is allowed.",
			recovery.Abs(), limits.Value("recoveryTolerance")).
			because(coldOil).do(repeatCheck)
	}
}
