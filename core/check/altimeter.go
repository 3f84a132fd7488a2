package check

import (
	"strconv"

	"jetprimer/core/form"
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
	Fields: []form.Field{
		{Name: "altimeters", Label: "altimeters", Kind: form.Rows, AtLeast: 1, AtMost: 4, Each: []form.Field{
			{
				Name: "setting", Label: "setting", Unit: "inHg or hPa", Kind: form.Number, Taken: form.ReadOff,
				Decimals: 2, Step: 1,
			},
			{
				Name: "indicatedFt", Label: "shows", Unit: "ft", Kind: form.Number, Taken: form.ReadOff, Step: 10,
				Signed: true,
			},
		}},
	},
	Limits: []form.Field{
		{
			Name: "toleranceFt", Label: "within", Unit: "ft", Kind: form.Number,
			Silent: form.SilentHabit(75, "The usual tolerance on the ground, where the handbook gives none."),
		},
	},
	Scales: []Scale{
		{Label: "altimeter", Unit: "ft", Of: "altimeters.indicatedFt", Around: "elevationFt", Within: "toleranceFt"},
	},
	needs:   []string{"elevationFt"},
	Causes:  []Cause{altimeterOrStatic},
	Actions: orderedActions(groundAircraft, writeSquawk, stayInDaylightVfr, setAltimeters, compareSetting),
	given:   map[string]any{"elevationFt": 412, "qnhHPa": 1013},
	example: func(s sample) map[string]any {
		return object("altimeters", []any{
			object("setting", 1013, "indicatedFt",
				s.between(412-s.limit("toleranceFt"), 412+s.limit("toleranceFt"), 10)),
		})
	},
	judge: judgeAltimeter,
}

// settingTolerance is the largest difference of settings that still counts as
// the same setting: 0.4 hPa, about 11 ft.
var settingTolerance = quantity.Scaled(4, 1)

// settingHPa is an altimeter's setting in hPa at one decimal.
func settingHPa(setting quantity.Value) quantity.Value {
	if setting.Below(quantity.Scaled(40, 0)) {
		return quantity.Hectopascals(setting, 1)
	}
	return setting.At(1)
}

func judgeAltimeter(in input, out *sheet) {
	rows := in.reading.Rows("altimeters")
	if !altimetersSet(in, out, rows) {
		return
	}
	find := func(code, side, format string, args ...any) {
		if in.instrument() {
			out.add(Abnormal, Stop, code, side, format, args...).because(altimeterOrStatic).do(groundAircraft)
			return
		}
		out.add(Caution, Continue, code, side, format, args...).because(altimeterOrStatic).do(writeSquawk,
			stayInDaylightVfr)
	}
	proves := in.conditions.Has("qnhHPa")
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
		if proves && off.Abs().Above(tolerance) {
			find("altimeter-out", strconv.Itoa(i+1),
				"Altimeter %d shows %s ft where the elevation is %s ft: %s ft off; %s ft are allowed.",
				i+1, shows, elevation, off.Abs(), tolerance)
		}
	}
	out.value("errorsFt", errors)
	if apart := highest.Sub(lowest); apart.Above(tolerance) {
		find("altimeters-disagree", "", "The altimeters are %s ft apart; %s ft are allowed.", apart, tolerance)
	}
	if !proves {
		out.add(Caution, Continue, "not-proven", "",
			"No pressure setting was reported: an altimeter that is set to the elevation shows it, and proves nothing.").
			do(compareSetting)
	}
}

// altimetersSet reports whether all settings are alike and, where the reported
// setting is known, equal to it.
func altimetersSet(in input, out *sheet, rows []form.Record) bool {
	set := true
	first := settingHPa(rows[0].Value("setting"))
	lowest, highest := first, first
	for i, row := range rows {
		hPa := settingHPa(row.Value("setting"))
		if hPa.Below(lowest) {
			lowest = hPa
		}
		if hPa.Above(highest) {
			highest = hPa
		}
		if in.conditions.Has("qnhHPa") && hPa.Sub(in.conditions.Value("qnhHPa")).Abs().Above(settingTolerance) {
			set = false
			out.add(Caution, Recheck, "setting-wrong", strconv.Itoa(i+1),
				"Altimeter %d is set to %s hPa; the reported setting is %s hPa.",
				i+1, hPa, in.conditions.Value("qnhHPa")).do(setAltimeters).again()
		}
	}
	if apart := highest.Sub(lowest); apart.Above(settingTolerance) {
		set = false
		out.add(Caution, Recheck, "settings-differ", "", "The altimeters are set %s hPa apart.",
			apart).do(setAltimeters).again()
	}
	return set
}

var (
	altimeterOrStatic = because("altimeter-or-static",
		"The altimeter itself, its static source, or the elevation of the place it stands on.")
	compareSetting = do(205, "compare-setting", "Compare with a reported setting as soon as there is one.")
	setAltimeters  = do(200, "set-altimeters", "Set every altimeter to the reported setting, then read them again.")
)
