package check

// controlUnit is the test that a diesel's engine control unit runs on itself:
// it drops each of its halves in turn, cycles the propeller and shows its
// lamps. The swing of engine speed is in rpm.
var controlUnit = Definition{
	Name:  "control-unit",
	Title: "Control-unit test",
	Rule: "The unit tests both of its halves: lamps on in their order, a small swing of speed, the propeller cycled, lamps out. " +
		"A lamp that stays on is a half that will not be there in flight.",
	Fields: []Field{
		{Name: "engineStopped", Label: "engine stopped", Kind: Flag, Taken: Watched},
		{Name: "lampSequenceComplete", Label: "lamps in their order", Kind: Flag, Taken: Watched, NullWhen: []string{"engineStopped"}},
		{Name: "rpmSwing", Label: "speed swung by", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10, NullWhen: []string{"engineStopped"}},
		{Name: "propellerCycled", Label: "propeller cycled", Kind: Flag, Taken: Watched, NullWhen: []string{"engineStopped"}},
		{Name: "lampsOut", Label: "all lamps out", Kind: Flag, Taken: Watched, NullWhen: []string{"engineStopped"}},
	},
	Limits: []Field{{Name: "rpmSwingMax", Label: "swing at most", Unit: "rpm", Kind: Number}},
	judge: func(in input, out *sheet) {
		r, most := in.reading, in.limits.Value("rpmSwingMax")
		if r.Flag("engineStopped") {
			out.add(Abnormal, Stop, "engine-stopped", "", "The engine stopped during the control-unit test.").
				because("control-unit-half").do("shut-down", "ground-aircraft")
		}
		if r.Has("lampsOut") && !r.Flag("lampsOut") {
			out.add(Abnormal, Stop, "lamp-stays-on", "", "A control-unit lamp stayed on after the test.").
				because("control-unit-half").do("ground-aircraft")
		}
		if swing := r.Value("rpmSwing"); r.Has("rpmSwing") && swing.Above(most) {
			out.add(Abnormal, Stop, "swing-excessive", "", "The speed swung by %s rpm; the limit is %s rpm.", swing, most).
				because("control-unit-half").do("ground-aircraft")
		}
		incomplete := r.Has("lampSequenceComplete") && !r.Flag("lampSequenceComplete")
		if incomplete || r.Has("propellerCycled") && !r.Flag("propellerCycled") {
			what := "The propeller did not cycle during the test."
			if incomplete {
				what = "The lamps did not run through their whole order."
			}
			out.add(Caution, Recheck, "sequence-incomplete", "", "%s", what).because("test-cut-short").do("repeat-check")
		}
	},
}
