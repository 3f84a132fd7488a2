package check

import (
	"fmt"
	"strconv"
)

// charging holds each side's voltage and current to limits. A battery ammeter
// shows what flows into the battery, a load meter what the alternator gives.
var charging = Definition{
	Name:  "charging",
	Title: "Charging",
	Rule:  "With the engine running the alternator must carry the load and refill the battery.",
	Fields: []Field{
		{Name: "meter", Label: "ammeter shows", Kind: Choice, Choices: []string{"battery", "load"}},
		{Name: "sides", Label: "sides", Kind: Rows, AtLeast: 1, AtMost: 2, Each: []Field{
			{Name: "volts", Label: "voltage", Unit: "V", Kind: Number, Taken: ReadOff, Decimals: 1, Step: 0.1},
			{Name: "amps", Label: "current", Unit: "A", Kind: Number, Taken: ReadOff, Decimals: 1, Step: 1, Signed: true},
		}},
	},
	Limits: []Field{
		{Name: "voltsMin", Label: "lowest voltage", Unit: "V", Kind: Number, Decimals: 1},
		{Name: "voltsMax", Label: "highest voltage", Unit: "V", Kind: Number, Decimals: 1},
		{Name: "ampsMin", Label: "lowest current", Unit: "A", Kind: Number, Decimals: 1, Signed: true},
		{Name: "splitMax", Label: "sides apart by", Unit: "A", Kind: Number, Decimals: 1, Optional: true},
	},
	ordered: [][2]string{{"voltsMin", "voltsMax"}},
	judge:   judgeCharging,
}

func judgeCharging(in input, out *sheet) {
	l, sides := in.limits, in.reading.Rows("sides")
	name := func(i int) string {
		if len(sides) == 1 {
			return ""
		}
		return strconv.Itoa(i + 1)
	}
	for i, s := range sides {
		volts, amps := s.Value("volts"), s.Value("amps")
		low, starved := volts.Below(l.Value("voltsMin")), amps.Below(l.Value("ampsMin"))
		if !low && !starved {
			continue
		}
		message := fmt.Sprintf("The voltage is %s V; the lowest allowed is %s V.", volts, l.Value("voltsMin"))
		if !low {
			message = fmt.Sprintf("The ammeter shows %s A; at least %s A must flow.", amps, l.Value("ampsMin"))
		}
		if in.reading.Text("meter") == "battery" && amps.Sign() < 0 {
			message += " The battery is being emptied."
		}
		out.find(seen{
			Finding: Finding{"not-charging", name(i), message},
			outcome: Abnormal, decision: Stop,
			causes: []Cause{Cause{Code: "alternator-or-belt", Message: causes["alternator-or-belt"]}}, actions: []string{"ground-aircraft"},
		})
	}
	for i, s := range sides {
		if volts := s.Value("volts"); volts.Above(l.Value("voltsMax")) {
			out.find(seen{
				Finding: Finding{"over-voltage", name(i), fmt.Sprintf("The voltage is %s V; the highest allowed is %s V.", volts, l.Value("voltsMax"))},
				outcome: Abnormal, decision: Stop,
				causes: []Cause{Cause{Code: "regulator", Message: causes["regulator"]}}, actions: []string{"ground-aircraft"},
			})
		}
	}
	if len(sides) == 2 && l.Has("splitMax") {
		split := sides[0].Value("amps").Sub(sides[1].Value("amps")).Abs()
		out.value("split", split)
		if split.Above(l.Value("splitMax")) {
			out.find(seen{
				Finding: Finding{"load-split", "", fmt.Sprintf("The two sides are %s A apart; the limit is %s A.", split, l.Value("splitMax"))},
				outcome: Caution, decision: Recheck,
				causes: []Cause{Cause{Code: "regulator", Message: causes["regulator"]}}, actions: []string{"repeat-check"},
			})
		}
	}
}
