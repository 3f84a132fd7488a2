package check

import (
	"slices"

	"jetprimer/core/form"
)

// dieselStart judges the start of a diesel: a piston start behind a glow lamp.
var dieselStart = Definition{
	Name: "diesel-start", fits: []string{"diesel"},
	Title: "Diesel start",
	Rule: "The glow lamp must be out before the starter turns. Oil pressure must come within a few seconds, or the " +
		"engine is shut down: " +
		"the loads of a diesel are high from its first stroke.",
	Fields: slices.Concat(
		[]form.Field{{Name: "glowLampOut", Label: "glow lamp out before cranking", Kind: form.Flag,
			Taken: form.Watched}},
		slices.DeleteFunc(slices.Clone(pistonStart.Fields),
			func(f form.Field) bool { return f.Name == "switchAtStart" })),
	Limits: pistonStart.Limits,
	Scales: []Scale{
		{Label: "cranked", Unit: "s", Of: "attempts.crankSeconds", High: "crankMaxSeconds"},
		{Label: "highest speed", Unit: "rpm", Of: "rpmPeak", High: "rpmMax"},
		{Label: "oil pressure after", Unit: "s", Of: "secondsToOilPressure", High: "oilPressureSeconds",
			Followed: true},
	},
	ordered: pistonStart.ordered,
	Causes:  []Cause{starterStuck, floodedOrDry, alternatorOrBelt, noOilToGauge, throttleTooFar},
	Actions: orderedActions(shutDown, isolateBattery, groundAircraft, coolStarter, repeatCheck, writeSquawk),
	example: func(s sample) map[string]any {
		r := s.start()
		r["glowLampOut"] = true
		return r
	},
	judge: func(in input, out *sheet) {
		judgePistonStart(in, out)
		if !in.reading.Flag("glowLampOut") {
			out.add(Caution, Continue, "cranked-on-glow", "", "The starter was turned before the glow lamp was out.")
		}
	},
}
