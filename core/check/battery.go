package check

import "jetprimer/core/form"

// battery judges the voltage before cranking. A weak battery makes a turbine
// start hot and leaves a diesel's control units without supply, so for them it
// stops the start; an engine of unknown kind is taken for one of them.
var battery = Definition{
	Name:  "battery",
	Title: "Battery",
	Rule:  "Read before it is asked to crank: a battery that is weak now drops further under the starter.",
	Fields: []form.Field{
		{
			Name: "volts", Label: "voltage before cranking", Unit: "V", Kind: form.Number, Taken: form.ReadOff,
			Decimals: 1, Step: 0.1,
		},
	},
	Limits: []form.Field{{Name: "startMin", Label: "lowest for a start", Unit: "V", Kind: form.Number, Decimals: 1}},
	Scales: []Scale{
		{Label: "voltage", Unit: "V", Of: "volts", Low: "startMin", Followed: true},
	},
	Causes:  []Cause{batteryFlat},
	Actions: orderedActions(useExternalPower, groundAircraft),
	example: func(s sample) map[string]any {
		return object("volts", s.between(s.limit("startMin"), s.limit("startMin")*1.06, 0.1))
	},
	judge: func(in input, out *sheet) {
		volts, least := in.reading.Value("volts"), in.limits.Value("startMin")
		if !volts.Below(least) {
			return
		}
		outcome, decision := Abnormal, Stop
		if in.conditions.Text("engineKind") == "piston" {
			outcome, decision = Caution, Recheck
		}
		out.add(outcome, decision, "battery-low", "",
			"The battery gives %s V; at least %s V are needed before the starter turns.", volts, least).
			because(batteryFlat).do(useExternalPower)
	},
}
