package check

import (
	"fmt"
	"strconv"

	"jetprimer/core/form"
)

// charging holds each side's voltage and current to limits. A battery ammeter
// shows what flows into the battery, a load meter what the alternator gives.
var charging = Definition{
	Name:  "charging",
	Title: "Charging",
	Rule:  "With the engine running the alternator must carry the load and refill the battery.",
	Fields: []form.Field{
		{Name: "meter", Label: "ammeter shows", Kind: form.Choice, Choices: []string{"battery", "load"}},
		{Name: "sides", Label: "sides", Kind: form.Rows, AtLeast: 1, AtMost: 2, Each: []form.Field{
			{
				Name: "volts", Label: "voltage", Unit: "V", Kind: form.Number, Taken: form.ReadOff, Decimals: 1,
				Step: 0.1, Optional: true,
			},
			{
				Name: "amps", Label: "current", Unit: "A", Kind: form.Number, Taken: form.ReadOff, Decimals: 1, Step: 1,
				Signed: true,
			},
		}},
	},
	Limits: []form.Field{
		{
			Name: "voltsMin", Label: "lowest voltage", Unit: "V", Kind: form.Number, Decimals: 1, Optional: true,
			Silent: &form.Silent{Words: "Left out where there is no voltmeter."},
		},
		{
			Name: "voltsMax", Label: "highest voltage", Unit: "V", Kind: form.Number, Decimals: 1, Optional: true,
			Silent: &form.Silent{Words: "Left out where there is no voltmeter: over-voltage is then not seen."},
		},
		{Name: "ampsMin", Label: "lowest current", Unit: "A", Kind: form.Number, Decimals: 1, Signed: true},
		{
			Name: "splitMax", Label: "sides apart by", Unit: "A", Kind: form.Number, Decimals: 1, Optional: true,
			Silent: &form.Silent{Words: "Without it two sides that share the load unevenly are not seen."},
		},
	},
	Scales: []Scale{
		{Label: "voltage", Unit: "V", Of: "sides.volts", Low: "voltsMin", High: "voltsMax", Followed: true},
		{Label: "current", Unit: "A", Of: "sides.amps", Low: "ampsMin", Followed: true},
	},
	ordered: [][2]string{{"voltsMin", "voltsMax"}},
	Causes:  []Cause{alternatorOrBelt, regulator},
	Actions: orderedActions(groundAircraft, repeatCheck),
	example: func(s sample) map[string]any {
		side := object("amps", s.between(s.limit("ampsMin")+2, s.limit("ampsMin")+20, 1))
		if _, voltmeter := s.limits["voltsMin"]; voltmeter {
			side["volts"] = s.within("voltsMin", "voltsMax", 0.1)
		}
		sides := []any{side}
		if s.typ.Engines > 1 {
			sides = append(sides, side)
		}
		return object("meter", "battery", "sides", sides)
	},
	judge: judgeCharging,
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
		low := s.Has("volts") && l.Has("voltsMin") && volts.Below(l.Value("voltsMin"))
		idle := in.reading.Text("meter") == "load" && amps.Sign() <= 0
		var message string
		switch {
		case low:
			message = fmt.Sprintf("The voltage is %s V; the lowest allowed is %s V.", volts, l.Value("voltsMin"))
		case idle:
			message = fmt.Sprintf("The load meter shows %s A: the alternator carries nothing.", amps)
		case amps.Below(l.Value("ampsMin")):
			message = fmt.Sprintf("The ammeter shows %s A; at least %s A must flow.", amps, l.Value("ampsMin"))
		default:
			continue
		}
		if in.reading.Text("meter") == "battery" && amps.Sign() < 0 {
			message += " The battery is being emptied."
		}
		out.add(Abnormal, Stop, "not-charging", name(i), "%s", message).because(alternatorOrBelt).do(groundAircraft)
	}
	for i, s := range sides {
		if volts := s.Value("volts"); s.Has("volts") && l.Has("voltsMax") && volts.Above(l.Value("voltsMax")) {
			out.add(Abnormal, Stop, "over-voltage", name(i), "The voltage is %s V; the highest allowed is %s V.", volts,
				l.Value("voltsMax")).
				because(regulator).do(groundAircraft)
		}
	}
	if len(sides) == 2 && l.Has("splitMax") {
		split := sides[0].Value("amps").Sub(sides[1].Value("amps")).Abs()
		out.value("split", split)
		if split.Above(l.Value("splitMax")) {
			out.add(Caution, Recheck, "load-split", "", "The two sides are %s A apart; the limit is %s A.", split,
				l.Value("splitMax")).
				because(regulator).do(repeatCheck)
		}
	}
}

var (
	regulator = because("regulator", "The voltage regulator.")
)
