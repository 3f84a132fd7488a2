package check

import (
	"math"

	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/weather"
)

// staticRPM holds the full-throttle speed of a standing aircraft with a
// fixed-pitch propeller to its band, in rpm. The band is that of sea level in
// the standard atmosphere; where the type gives a fall, both its ends fall by
// that for each 1,000 ft of density altitude, and rise below it.
var staticRPM = Definition{
	Name: "static-rpm", fits: []string{"propeller"},
	Title: "Static speed",
	Rule:  "At full throttle, standing, a fixed propeller tells the engine's power: too slow is power that is not there.",
	Fields: []form.Field{
		{Name: "rpm", Label: "full throttle", Unit: "rpm", Kind: form.Number, Taken: form.ReadOff, Step: 10},
	},
	Limits: []form.Field{
		{Name: "min", Label: "lowest", Unit: "rpm", Kind: form.Number},
		{Name: "max", Label: "highest", Unit: "rpm", Kind: form.Number},
		{
			Name: "fallPer1000Ft", Label: "falls each 1,000 ft by", Unit: "rpm", Kind: form.Number, Optional: true,
			Silent: &form.Silent{
				Words: "Without it the same speed is asked for on a hot day in the mountains, which the air cannot give.",
			},
		},
	},
	Scales: []Scale{
		{Label: "static speed", Unit: "rpm", Of: "rpm", Low: "min", High: "max", Followed: true},
	},
	ordered: [][2]string{{"min", "max"}},
	Causes:  []Cause{powerMissing, tachometerOrPropeller},
	Actions: orderedActions(groundAircraft, repeatCheck, giveTheDay),
	example: func(s sample) map[string]any {
		return object("rpm", s.within("min", "max", 10))
	},
	judge: func(in input, out *sheet) {
		rpm, l := in.reading.Value("rpm"), in.limits
		least, most, fall := l.Value("min"), l.Value("max"), l.Value("fallPer1000Ft")
		density, known := in.densityAltitude()
		day := ""
		if known && fall.Sign() > 0 {
			least, most = ofDay(least, fall, density), ofDay(most, fall, density)
			out.value("densityAltitudeFt", density)
			out.value("minRPM", least)
			out.value("maxRPM", most)
			day = " at a density altitude of " + density.String() + " ft"
		}
		switch {
		case rpm.Below(least) && !known && rpm.Above(ofDay(least, fall, quantity.Scaled(3000, 0))):
			out.add(Invalid, Recheck, "day-limit-unknown", "",
				"Full throttle gives %s rpm; at sea level at least %s rpm are there, and how much of that the day "+
					"takes is not known.", rpm, least).
				do(giveTheDay)
		case rpm.Below(least):
			out.add(Abnormal, Stop, "static-low", "",
				"Full throttle gives %s rpm; at least %s rpm must be there%s before the brakes are let go.", rpm, least,
				day).
				because(powerMissing).do(groundAircraft)
		}
		if rpm.Above(most) {
			out.add(Caution, Recheck, "static-high", "",
				"Full throttle gives %s rpm; the highest expected%s is %s rpm.", rpm, day, most).
				because(tachometerOrPropeller).do(repeatCheck)
		}
	},
}

// densityAltitude is that of the day, in whole feet, where its numbers are known.
func (in input) densityAltitude() (quantity.Value, bool) {
	c := in.conditions
	if !c.Has("elevationFt") || !c.Has("qnhHPa") || !c.Has("oatC") {
		return quantity.Value{}, false
	}
	_, density := weather.Altitudes(c.Value("elevationFt"), c.Value("qnhHPa"), c.Value("oatC"))
	return density, true
}

// ofDay is a speed of sea level at a density altitude, in whole rpm.
func ofDay(rpm, fallPer1000Ft, densityFt quantity.Value) quantity.Value {
	return quantity.Scaled(int64(math.Round(rpm.Float()-fallPer1000Ft.Float()*densityFt.Float()/1000)), 0)
}

var (
	powerMissing = because("power-missing",
		"Power is missing: a cylinder, the mixture, the carburettor heat, or a throttle that does not open fully.").
		to("injection",
			"Power is missing: a cylinder, the mixture, the alternate air, or a throttle that does not open fully.").
		to("no mixture", "Power is missing: a cylinder, its ignition, or a lever that does not open fully.")
	tachometerOrPropeller = because("tachometer-or-propeller", "The tachometer, or a propeller of finer pitch.")
)
