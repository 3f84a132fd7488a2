package check

import "fmt"

// idle holds the closed-throttle speed to its band, after it was held long
// enough to settle.
var idle = Definition{
	Name:  "idle",
	Title: "Idle check",
	Rule:  "With the throttle closed the engine must keep running: it will have to on every approach.",
	Fields: []Field{
		{Name: "rpm", Label: "idle speed", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10, NullWhen: []string{"stopped"}},
		{Name: "seconds", Label: "held closed", Unit: "s", Kind: Number, Taken: Timed, Decimals: 1, Step: 1, NullWhen: []string{"stopped"}},
		{Name: "stopped", Label: "engine stopped", Kind: Flag, Taken: Watched},
	},
	Limits: []Field{
		{Name: "min", Label: "lowest", Unit: "rpm", Kind: Number},
		{Name: "max", Label: "highest", Unit: "rpm", Kind: Number},
		{Name: "seconds", Label: "hold at least", Unit: "s", Kind: Number, Decimals: 1},
	},
	ordered: [][2]string{{"min", "max"}},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		if r.Flag("stopped") {
			out.find(seen{
				Finding: Finding{"engine-stopped", "", "The engine stopped with the throttle closed."},
				outcome: Abnormal, decision: Stop,
				causes: []Cause{Cause{Code: "idle-adjustment", Message: causes["idle-adjustment"]}}, actions: []string{"ground-aircraft"},
			})
			return
		}
		if r.Value("seconds").Below(l.Value("seconds")) {
			out.find(seen{
				Finding: Finding{"held-too-short", "", fmt.Sprintf("Idle was held for %s s; %s s are needed to see that it keeps running.", r.Value("seconds"), l.Value("seconds"))},
				outcome: Invalid, decision: Recheck, actions: []string{"repeat-check"},
			})
			return
		}
		rpm := r.Value("rpm")
		if rpm.Below(l.Value("min")) {
			out.find(seen{
				Finding: Finding{"idle-low", "", fmt.Sprintf("The idle speed is %s rpm; the lowest allowed is %s rpm.", rpm, l.Value("min"))},
				outcome: Caution, decision: Recheck,
				causes: []Cause{Cause{Code: "idle-adjustment", Message: causes["idle-adjustment"]}}, actions: []string{"repeat-check"},
			})
		}
		if rpm.Above(l.Value("max")) {
			out.find(seen{
				Finding: Finding{"idle-high", "", fmt.Sprintf("The idle speed is %s rpm; the highest allowed is %s rpm.", rpm, l.Value("max"))},
				outcome: Caution, decision: Recheck,
				causes: []Cause{Cause{Code: "idle-adjustment", Message: causes["idle-adjustment"]}}, actions: []string{"repeat-check"},
			})
		}
	},
}
