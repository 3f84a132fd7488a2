package check

import "fmt"

// suction holds the vacuum that drives the gyros to its band. Without rules
// and night stated it is judged for instrument flight.
var suction = Definition{
	Name:  "suction",
	Title: "Suction",
	Rule:  "Vacuum drives the gyro instruments. Low suction matters most when they are all there is to look at.",
	Fields: []Field{
		{Name: "inHg", Label: "suction", Unit: "inHg", Kind: Number, Taken: ReadOff, Decimals: 1, Step: 0.1},
	},
	Limits: []Field{
		{Name: "min", Label: "lowest", Unit: "inHg", Kind: Number, Decimals: 1},
		{Name: "max", Label: "highest", Unit: "inHg", Kind: Number, Decimals: 1},
	},
	ordered: [][2]string{{"min", "max"}},
	judge: func(in input, out *sheet) {
		v, l := in.reading.Value("inHg"), in.limits
		if v.Below(l.Value("min")) {
			f := seen{
				Finding: Finding{"suction-low", "", fmt.Sprintf("Suction is %s inHg; the lowest allowed is %s inHg.", v, l.Value("min"))},
				outcome: Caution, decision: Continue,
				causes: []Cause{Cause{Code: "pump-or-filter", Message: causes["pump-or-filter"]}}, actions: []string{"write-squawk", "stay-in-daylight-vfr"},
			}
			if in.instrument() || in.dark() {
				f.outcome, f.decision, f.actions = Abnormal, Stop, []string{"ground-aircraft"}
			}
			out.find(f)
		}
		if v.Above(l.Value("max")) {
			out.find(seen{
				Finding: Finding{"suction-high", "", fmt.Sprintf("Suction is %s inHg; the highest allowed is %s inHg.", v, l.Value("max"))},
				outcome: Caution, decision: Recheck,
				causes: []Cause{Cause{Code: "pump-or-filter", Message: causes["pump-or-filter"]}}, actions: []string{"repeat-check"},
			})
		}
	},
}
