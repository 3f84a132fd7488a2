package check

import "slices"

// dieselStart judges the start of a diesel: a piston start behind a glow lamp.
var dieselStart = Definition{
	Name:  "diesel-start",
	Title: "Diesel start",
	Rule: "The glow lamp must be out before the starter turns. Oil pressure must come within a few seconds, or the engine is shut down: " +
		"the loads of a diesel are high from its first stroke.",
	Fields: slices.Concat(
		[]Field{{Name: "glowLampOut", Label: "glow lamp out before cranking", Kind: Flag, Taken: Watched}},
		pistonStart.Fields),
	Limits:  pistonStart.Limits,
	ordered: pistonStart.ordered,
	judge: func(in input, out *sheet) {
		judgePistonStart(in, out)
		if !in.reading.Flag("glowLampOut") {
			out.add(Caution, Continue, "cranked-on-glow", "", "The starter was turned before the glow lamp was out.")
		}
	},
}
