package check

import "jetprimer/core/form"

// controlUnit is the test that a diesel's engine control unit runs on itself:
// it drops each of its halves in turn, cycles the propeller and shows its
// lamps. The swing of engine speed is in rpm.
var controlUnit = Definition{
	Name: "control-unit", fits: []string{"diesel"},
	Title: "Control-unit test",
	Rule: "The unit tests both of its halves: lamps on in their order, a small swing of speed, the propeller " +
		"cycled, lamps out. " +
		"A lamp that stays on is a half that will not be there in flight.",
	Fields: []form.Field{
		{Name: "engineStopped", Label: "engine stopped", Kind: form.Flag, Taken: form.Watched},
		{
			Name: "lampSequenceComplete", Label: "lamps in their order", Kind: form.Flag, Taken: form.Watched,
			NullWhen: []string{"engineStopped"},
		},
		{
			Name: "rpmSwing", Label: "speed swung by", Unit: "rpm", Kind: form.Number, Taken: form.ReadOff, Step: 10,
			NullWhen: []string{"engineStopped"},
		},
		{
			Name: "propellerCycled", Label: "propeller cycled", Kind: form.Flag, Taken: form.Watched,
			NullWhen: []string{"engineStopped"},
		},
		{
			Name: "lampsOut", Label: "all lamps out", Kind: form.Flag, Taken: form.Watched,
			NullWhen: []string{"engineStopped"},
		},
	},
	Limits: []form.Field{{Name: "rpmSwingMax", Label: "swing at most", Unit: "rpm", Kind: form.Number}},
	Scales: []Scale{
		{Label: "swing", Unit: "rpm", Of: "rpmSwing", High: "rpmSwingMax", Followed: true},
	},
	Causes:  []Cause{controlUnitHalf, testCutShort},
	Actions: orderedActions(shutDown, groundAircraft, repeatCheck),
	example: func(s sample) map[string]any {
		return object("engineStopped", false, "lampSequenceComplete", true, "rpmSwing",
			s.between(0, s.limit("rpmSwingMax"), 10), "propellerCycled", true, "lampsOut", true)
	},
	judge: func(in input, out *sheet) {
		r, most := in.reading, in.limits.Value("rpmSwingMax")
		if r.Flag("engineStopped") {
			out.add(Abnormal, Stop, "engine-stopped", "", "The engine stopped during the control-unit test.").
				because(controlUnitHalf).do(shutDown, groundAircraft)
		}
		if r.Has("lampsOut") && !r.Flag("lampsOut") {
			out.add(Abnormal, Stop, "lamp-stays-on", "", "A control-unit lamp stayed on after the test.").
				because(controlUnitHalf).do(groundAircraft)
		}
		if swing := r.Value("rpmSwing"); r.Has("rpmSwing") && swing.Above(most) {
			out.add(Abnormal, Stop, "swing-excessive", "", "The speed swung by %s rpm; the limit is %s rpm.", swing,
				most).
				because(controlUnitHalf).do(groundAircraft)
		}
		incomplete := r.Has("lampSequenceComplete") && !r.Flag("lampSequenceComplete")
		if incomplete || r.Has("propellerCycled") && !r.Flag("propellerCycled") {
			what := "The propeller did not cycle during the test."
			if incomplete {
				what = "The lamps did not run through their whole order."
			}
			out.add(Caution, Recheck, "sequence-incomplete", "", "%s", what).because(testCutShort).do(repeatCheck)
		}
	},
}

var (
	controlUnitHalf = because("control-unit-half", "One half of the control unit, its supply or a sensor.")
	testCutShort    = because("test-cut-short",
		"The button was let go before the test had ended, or the power lever was not at idle.")
)
