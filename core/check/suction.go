package check

import "jetprimer/core/form"

// suction holds the vacuum that drives the gyros to its band. Without rules
// and night stated it is judged for instrument flight.
var suction = Definition{
	Name: "suction", fits: []string{"vacuum-gyros"},
	Title: "Suction",
	Rule:  "Vacuum drives the gyro instruments. Low suction matters most when they are all there is to look at.",
	Fields: []form.Field{
		{Name: "inHg", Label: "suction", Unit: "inHg", Kind: form.Number, Taken: form.ReadOff, Decimals: 1, Step: 0.1},
	},
	Limits: []form.Field{
		{Name: "min", Label: "lowest", Unit: "inHg", Kind: form.Number, Decimals: 1},
		{Name: "max", Label: "highest", Unit: "inHg", Kind: form.Number, Decimals: 1},
	},
	Scales: []Scale{
		{Label: "suction", Unit: "inHg", Of: "inHg", Low: "min", High: "max", Followed: true},
	},
	ordered: [][2]string{{"min", "max"}},
	Causes:  []Cause{pumpOrFilter},
	Actions: orderedActions(groundAircraft, writeSquawk, stayInDaylightVfr, repeatCheck),
	example: func(s sample) map[string]any {
		return object("inHg", s.within("min", "max", 0.1))
	},
	judge: func(in input, out *sheet) {
		v, l := in.reading.Value("inHg"), in.limits
		if v.Below(l.Value("min")) {
			low := out.add(Caution, Continue, "suction-low", "", "Suction is %s inHg; the lowest allowed is %s inHg.",
				v, l.Value("min")).because(pumpOrFilter)
			if in.instrument() || in.dark() {
				low.outcome, low.decision = Abnormal, Stop
				low.do(groundAircraft)
			} else {
				low.do(writeSquawk, stayInDaylightVfr)
			}
		}
		if v.Above(l.Value("max")) {
			out.add(Caution, Recheck, "suction-high", "", "Suction is %s inHg; the highest allowed is %s inHg.", v,
				l.Value("max")).because(pumpOrFilter).do(repeatCheck)
		}
	},
}

var (
	pumpOrFilter = because("pump-or-filter", "The vacuum pump, its regulator or its filter.")
)
