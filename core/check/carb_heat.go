package check

import "fmt"

// carbHeat is the carburettor heat check: drop = base − hot, recovery =
// coldAfter − base. A speed that comes back higher than it was means that ice
// has gone, and then the drop says nothing.
var carbHeat = Definition{
	Name:  "carb-heat",
	Title: "Carburettor heat",
	Rule: "Hot air is thinner, so the speed must drop when heat reaches the carburettor and come back when it is shut off. " +
		"A speed that ends higher than it began means there was ice.",
	Fields: []Field{
		{Name: "base", Label: "COLD", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10},
		{Name: "hot", Label: "HOT", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10},
		{Name: "coldAfter", Label: "COLD again", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10},
	},
	Limits: []Field{
		{Name: "dropMin", Label: "smallest drop", Unit: "rpm", Kind: Number},
		{Name: "dropMax", Label: "largest drop", Unit: "rpm", Kind: Number},
		{Name: "recoveryTolerance", Label: "back on COLD within", Unit: "rpm", Kind: Number},
	},
	ordered: [][2]string{{"dropMin", "dropMax"}},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		drop := r.Value("base").Sub(r.Value("hot"))
		recovery := r.Value("coldAfter").Sub(r.Value("base"))
		out.value("drop", drop)
		out.value("recovery", recovery)
		if recovery.Above(l.Value("recoveryTolerance")) {
			out.find(seen{
				Finding: Finding{"ice-cleared", "", fmt.Sprintf("The speed came back %s rpm higher than before: ice has been cleared. The drop was not judged.", recovery)},
				outcome: Caution, decision: Recheck, steady: true,
				causes: []Cause{Cause{Code: "ice-in-carburettor", Message: causes["ice-in-carburettor"]}}, actions: []string{"hold-heat-until-steady"},
			})
			return
		}
		if drop.Below(l.Value("dropMin")) {
			out.find(seen{
				Finding: Finding{"no-heat", "", fmt.Sprintf("The drop with heat is %s rpm; at least %s rpm must be seen. Heat does not reach the carburettor.", drop, l.Value("dropMin"))},
				outcome: Abnormal, decision: Stop,
				causes: []Cause{Cause{Code: "heat-cable-or-box", Message: causes["heat-cable-or-box"]}}, actions: []string{"ground-aircraft"},
			})
		}
		if drop.Above(l.Value("dropMax")) {
			out.find(seen{
				Finding: Finding{"drop-excessive", "", fmt.Sprintf("The drop with heat is %s rpm; the limit is %s rpm.", drop, l.Value("dropMax"))},
				outcome: Caution, decision: Recheck,
				causes: []Cause{Cause{Code: "over-rich", Message: causes["over-rich"]}}, actions: []string{"repeat-check"},
			})
		}
		if behind := recovery.Abs(); recovery.Sign() < 0 && behind.Above(l.Value("recoveryTolerance")) {
			out.find(seen{
				Finding: Finding{"heat-stays-on", "", fmt.Sprintf("Back on cold the speed stayed %s rpm low; within %s rpm is allowed. The heat may not be fully off.", behind, l.Value("recoveryTolerance"))},
				outcome: Caution, decision: Recheck,
				causes: []Cause{Cause{Code: "heat-flap-stays", Message: causes["heat-flap-stays"]}}, actions: []string{"repeat-check"},
			})
		}
	},
}
