package check

import (
	"fmt"
	"strconv"

	"jetprimer/core/quantity"
)

// altimeter compares every altimeter with the elevation where the aircraft
// stands, once all are set alike and to the reported setting. A setting below
// 40 is in inches of mercury (1 inHg = 33.8638866667 hPa), else in
// hectopascals. Settings are compared to 0.1 hPa.
var altimeter = Definition{
	Name:  "altimeter",
	Title: "Altimeters",
	Rule:  "Set in every place they are set, each must show the elevation of the place within its tolerance.",
	Fields: []Field{
		{Name: "altimeters", Label: "altimeters", Kind: Rows, AtLeast: 1, AtMost: 4, Each: []Field{
			{Name: "setting", Label: "setting", Unit: "inHg or hPa", Kind: Number, Taken: ReadOff, Decimals: 2, Step: 1},
			{Name: "indicatedFt", Label: "shows", Unit: "ft", Kind: Number, Taken: ReadOff, Step: 10, Signed: true},
		}},
	},
	Limits: []Field{
		{Name: "toleranceFt", Label: "within", Unit: "ft", Kind: Number},
	},
	needs: []string{"elevationFt"},
	judge: judgeAltimeter,
}

// settingTolerance is the largest difference of settings that still counts as
// the same setting: 0.4 hPa, about 11 ft.
var settingTolerance = quantity.Scaled(4, 1)

// Hectopascals converts an altimeter setting to hPa at one decimal, in whole
// numbers: 338638866667·10⁻¹⁰ hPa a hundredth of an inch.
func Hectopascals(setting quantity.Value) quantity.Value {
	if !setting.Below(quantity.Scaled(40, 0)) {
		return setting.At(1)
	}
	hundredths, _ := setting.At(2).Units()
	const perHundredth = 338_638_866_667 // 10⁻¹² hPa
	const perTenth = 100_000_000_000     // 10⁻¹² hPa
	return quantity.Scaled((hundredths*perHundredth+perTenth/2)/perTenth, 1)
}

func judgeAltimeter(in input, out *sheet) {
	rows := in.reading.Rows("altimeters")
	if !altimetersSet(in, out, rows) {
		return
	}
	f := seen{outcome: Caution, decision: Continue, actions: []string{"write-squawk", "stay-in-daylight-vfr"}}
	if in.instrument() {
		f = seen{outcome: Abnormal, decision: Stop, actions: []string{"ground-aircraft"}}
	}
	f.causes = []Cause{Cause{Code: "altimeter-or-static", Message: causes["altimeter-or-static"]}}
	elevation, tolerance := in.conditions.Value("elevationFt"), in.limits.Value("toleranceFt")
	lowest, highest := rows[0].Value("indicatedFt"), rows[0].Value("indicatedFt")
	var errors []quantity.Value
	for i, row := range rows {
		shows := row.Value("indicatedFt")
		off := shows.Sub(elevation)
		errors = append(errors, off)
		if shows.Below(lowest) {
			lowest = shows
		}
		if shows.Above(highest) {
			highest = shows
		}
		if off.Abs().Above(tolerance) {
			f.Finding = Finding{"altimeter-out", strconv.Itoa(i + 1), fmt.Sprintf("Altimeter %d shows %s ft where the elevation is %s ft: %s ft off; %s ft are allowed.",
				i+1, shows, elevation, off.Abs(), tolerance)}
			out.find(f)
		}
	}
	out.value("errorsFt", errors)
	if apart := highest.Sub(lowest); apart.Above(tolerance) {
		f.Finding = Finding{"altimeters-disagree", "", fmt.Sprintf("The altimeters are %s ft apart; %s ft are allowed.", apart, tolerance)}
		out.find(f)
	}
}

// altimetersSet reports whether all settings are alike and, where the reported
// setting is known, equal to it.
func altimetersSet(in input, out *sheet, rows []Record) bool {
	set := true
	first := Hectopascals(rows[0].Value("setting"))
	lowest, highest := first, first
	for i, row := range rows {
		hPa := Hectopascals(row.Value("setting"))
		if hPa.Below(lowest) {
			lowest = hPa
		}
		if hPa.Above(highest) {
			highest = hPa
		}
		if in.conditions.Has("qnhHPa") && hPa.Sub(in.conditions.Value("qnhHPa")).Abs().Above(settingTolerance) {
			set = false
			out.find(seen{
				Finding: Finding{"setting-wrong", strconv.Itoa(i + 1), fmt.Sprintf("Altimeter %d is set to %s hPa; the reported setting is %s hPa.",
					i+1, hPa, in.conditions.Value("qnhHPa"))},
				outcome: Caution, decision: Recheck, actions: []string{"set-altimeters"},
			})
		}
	}
	if apart := highest.Sub(lowest); apart.Above(settingTolerance) {
		set = false
		out.find(seen{
			Finding: Finding{"settings-differ", "", fmt.Sprintf("The altimeters are set %s hPa apart.", apart)},
			outcome: Caution, decision: Recheck, actions: []string{"set-altimeters"},
		})
	}
	return set
}
