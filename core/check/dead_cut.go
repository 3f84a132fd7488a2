package check

import "jetprimer/core/form"

// deadCut is the grounding test: at idle the switch goes to OFF for a moment,
// and the engine must begin to stop.
var deadCut = Definition{
	Name: "dead-cut", fits: []string{"magnetos"},
	Title: "Dead-cut test",
	Rule: "At idle only: with the switch at OFF for a moment the engine must begin to die. If it runs on, a " +
		"magneto is live with the key out.",
	Fields: []form.Field{
		{Name: "ranOnAtOff", Label: "ran on at OFF", Kind: form.Flag, Taken: form.Watched},
		{
			Name: "fellAtOff", Label: "speed fell at OFF", Kind: form.Flag, Taken: form.Watched,
			NullWhen: []string{"ranOnAtOff"},
		},
	},
	Limits:  []form.Field{},
	Scales:  []Scale{},
	Causes:  []Cause{groundLeadOpen},
	Actions: orderedActions(keepClearOfPropeller, groundAircraft, repeatCheck, idleOnly),
	example: func(s sample) map[string]any {
		return object("ranOnAtOff", false, "fellAtOff", true)
	},
	judge: func(in input, out *sheet) {
		out.standing = []action{idleOnly}
		switch r := in.reading; {
		case r.Flag("ranOnAtOff"):
			out.add(Abnormal, Stop, "ungrounded-magneto", "",
				"The engine ran on with the switch at OFF: at least one magneto is not grounded.").
				because(groundLeadOpen).do(keepClearOfPropeller, groundAircraft)
		case !r.Flag("fellAtOff"):
			out.add(Invalid, Recheck, "did-not-fall", "",
				"The speed was not seen to fall at OFF, so the test proves nothing.").do(repeatCheck)
		}
	},
}

var (
	groundLeadOpen = because("ground-lead-open",
		"A lead from a magneto to the switch is open, or the switch does not ground it.")
	idleOnly = do(270, "idle-only",
		"At idle only, for a moment, with the area clear: at power the engine backfires when the switch comes back.")
)
