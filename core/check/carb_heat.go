package check

import "jetprimer/core/form"

// carbHeat is the carburettor heat check: drop = base − hot, recovery =
// coldAfter − base. A speed that comes back higher than it was means that ice
// has gone, and then the drop says nothing; one that rises with heat proves that
// heat arrives.
var carbHeat = Definition{
	Name: "carb-heat", fits: []string{"carburettor"},
	Title: "Carburettor heat",
	Rule: "Hot air is thinner, so the speed must drop when heat reaches the carburettor and come back when it is " +
		"shut off. " +
		"A speed that ends higher than it began means there was ice.",
	Fields: []form.Field{
		tachometerUnit,
		{Name: "base", Label: "COLD", Unit: form.Speed, Kind: form.Number, Taken: form.ReadOff, Step: 10},
		{
			Name: "hot", Label: "HOT", Unit: form.Speed, Kind: form.Number, DropsFrom: "base", Taken: form.ReadOff,
			Step: 10,
		},
		{Name: "coldAfter", Label: "COLD again", Unit: form.Speed, Kind: form.Number, Taken: form.ReadOff, Step: 10},
	},
	Limits: []form.Field{
		{Name: "dropMin", Label: "smallest drop", Unit: form.Speed, Kind: form.Number},
		{
			Name: "dropMax", Label: "largest drop", Unit: form.Speed, Kind: form.Number,
			Silent: form.SilentHabit(150, "Few handbooks give the largest drop of carburettor heat."),
		},
		{
			Name: "recoveryTolerance", Label: "back on COLD within", Unit: form.Speed, Kind: form.Number,
			Silent: form.SilentHabit(25, "Few handbooks say how near the speed must come back."),
		},
	},
	Scales: []Scale{
		{
			Label: "drop with heat", Unit: form.Speed, Of: "drop", Unless: "ice-cleared", Computed: true,
			Low: "dropMin", High: "dropMax", Followed: true,
		},
		{Label: "back on cold", Unit: form.Speed, Of: "recovery", Computed: true, Within: "recoveryTolerance"},
	},
	Trace:   []string{"base", "hot", "coldAfter"},
	ordered: [][2]string{{"dropMin", "dropMax"}},
	Causes:  []Cause{iceInCarburettor, leanMixture, heatCableOrBox, overRich, heatFlapStays},
	Actions: orderedActions(holdHeatUntilSteady, groundAircraft, repeatCheck),
	example: func(s sample) map[string]any {
		base := s.speed()
		return object("base", base, "hot", base-s.within("dropMin", "dropMax", s.step(10)), "coldAfter", base)
	},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		drop := r.Value("base").Sub(r.Value("hot"))
		recovery := r.Value("coldAfter").Sub(r.Value("base"))
		out.value("drop", drop)
		out.value("recovery", recovery)
		if recovery.Above(l.Value("recoveryTolerance")) {
			out.add(Caution, Recheck, "ice-cleared", "",
				"The speed came back %s higher than before: ice has been cleared. The drop was not judged.",
				in.speed(recovery)).
				because(iceInCarburettor).do(holdHeatUntilSteady).again()
			return
		}
		if rise := r.Value("hot").Sub(r.Value("base")); rise.Above(l.Value("recoveryTolerance")) {
			out.add(Caution, Recheck, "rise-with-heat", "",
				"The speed rose by %s with heat instead of dropping: heat arrives, and the engine runs better with it.",
				in.speed(rise)).
				because(iceInCarburettor, leanMixture).do(holdHeatUntilSteady).again()
		} else if drop.Below(l.Value("dropMin")) {
			out.add(Abnormal, Stop, "no-heat", "",
				"The drop with heat is %s; at least %s must be seen. Heat does not reach the carburettor.",
				in.speed(drop), in.speed(l.Value("dropMin"))).
				because(heatCableOrBox).do(groundAircraft)
		}
		if drop.Above(l.Value("dropMax")) {
			out.add(Caution, Recheck, "drop-excessive", "", "The drop with heat is %s; the limit is %s.",
				in.speed(drop), in.speed(l.Value("dropMax"))).
				because(overRich).do(repeatCheck)
		}
		if behind := recovery.Abs(); recovery.Sign() < 0 && behind.Above(l.Value("recoveryTolerance")) {
			out.add(Caution, Recheck, "heat-stays-on", "",
				"Back on cold the speed stayed %s low; within %s is allowed. The heat may not be fully off.",
				in.speed(behind), in.speed(l.Value("recoveryTolerance"))).
				because(heatFlapStays).do(repeatCheck)
		}
	},
}

var (
	heatCableOrBox      = because("heat-cable-or-box", "The heat does not reach the carburettor: cable, flap or hose.")
	heatFlapStays       = because("heat-flap-stays", "The heat flap does not close fully.")
	iceInCarburettor    = because("carburettor-ice", "There is ice in the carburettor, which the heat melts.")
	leanMixture         = because("lean-mixture", "The mixture is lean for this speed; hot air makes it richer.")
	overRich            = because("over-rich", "The mixture is too rich for this speed and altitude.")
	holdHeatUntilSteady = do(170, "hold-heat-until-steady",
		"Hold full heat until the speed is steady, then cold, then measure again.")
)
