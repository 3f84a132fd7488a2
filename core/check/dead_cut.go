package check

// deadCut is the grounding test: at idle the switch goes to OFF for a moment,
// and the engine must begin to stop.
var deadCut = Definition{
	Name:  "dead-cut",
	Title: "Dead-cut test",
	Rule:  "At idle only: with the switch at OFF for a moment the engine must begin to die. If it runs on, a magneto is live with the key out.",
	Fields: []Field{
		{Name: "ranOnAtOff", Label: "ran on at OFF", Kind: Flag, Taken: Watched},
		{Name: "fellAtOff", Label: "speed fell at OFF", Kind: Flag, Taken: Watched, NullWhen: []string{"ranOnAtOff"}},
	},
	Limits: []Field{},
	judge: func(in input, out *sheet) {
		out.standing = []string{"idle-only"}
		switch r := in.reading; {
		case r.Flag("ranOnAtOff"):
			out.add(Abnormal, Stop, "ungrounded-magneto", "", "The engine ran on with the switch at OFF: at least one magneto is not grounded.").
				because("ground-lead-open").do("keep-clear-of-propeller", "ground-aircraft")
		case !r.Flag("fellAtOff"):
			out.add(Invalid, Recheck, "did-not-fall", "", "The speed was not seen to fall at OFF, so the test proves nothing.").do("repeat-check")
		}
	},
}
