package check

import "jetprimer/core/form"

// staticRPM holds the full-throttle speed of a standing aircraft with a
// fixed-pitch propeller to its band, in rpm.
var staticRPM = Definition{
	Name: "static-rpm", fits: []string{"propeller"},
	Title:  "Static speed",
	Rule:   "At full throttle, standing, a fixed propeller tells the engine's power: too slow is power that is not there.",
	Fields: []form.Field{{Name: "rpm", Label: "full throttle", Unit: "rpm", Kind: form.Number, Taken: form.ReadOff, Step: 10}},
	Limits: []form.Field{
		{Name: "min", Label: "lowest", Unit: "rpm", Kind: form.Number},
		{Name: "max", Label: "highest", Unit: "rpm", Kind: form.Number},
	},
	Scales: []Scale{
		{Label: "static speed", Unit: "rpm", Of: "rpm", Low: "min", High: "max", Followed: true},
	},
	ordered: [][2]string{{"min", "max"}},
	Causes:  []Cause{powerMissing, tachometerOrPropeller},
	Actions: asked(groundAircraft, repeatCheck),
	example: func(s sample) map[string]any {
		return object("rpm", s.within("min", "max", 10))
	},
	judge: func(in input, out *sheet) {
		rpm, l := in.reading.Value("rpm"), in.limits
		if rpm.Below(l.Value("min")) {
			out.add(Abnormal, Stop, "static-low", "", "Full throttle gives %s rpm; at least %s rpm must be there before the brakes are let go.", rpm, l.Value("min")).
				because(powerMissing).do(groundAircraft)
		}
		if rpm.Above(l.Value("max")) {
			out.add(Caution, Recheck, "static-high", "", "Full throttle gives %s rpm; the highest expected is %s rpm.", rpm, l.Value("max")).
				because(tachometerOrPropeller).do(repeatCheck)
		}
	},
}

var (
	powerMissing = because("power-missing", "Power is missing: a cylinder, the mixture, the carburettor heat, or a throttle that does not open fully.").
			to("injection", "Power is missing: a cylinder, the mixture, the alternate air, or a throttle that does not open fully.").
			to("no mixture", "Power is missing: a cylinder, its ignition, or a lever that does not open fully.")
	tachometerOrPropeller = because("tachometer-or-propeller", "The tachometer, or a propeller of finer pitch.")
)
