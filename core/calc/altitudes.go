package calc

import (
	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/weather"
)

// altitudes computes pressure and density altitude; see weather.Altitudes for
// the formulas, their source and their domain. 1 inHg = 33.8638866667 hPa.
var altitudes = Definition{
	Name: "altitudes", Title: "Pressure and density altitude",
	Rule: "Thin air takes power from the engine, lift from the wing and bite from the propeller; density altitude " +
		"says how thin it is.",
	Source: "standard atmosphere (ISO 2533), troposphere, dry air",
	Fields: []form.Field{
		number("elevationFt", "elevation", "ft", 0, signed),
		number("qnhHPa", "QNH", "hPa", 2, optional), number("altimeterInHg", "altimeter", "inHg", 2, optional),
		number("oatC", "outside air", "°C", 1, signed),
	},
	run: func(in input) (form.Object, []Advice, error) {
		qnh, err := in.qnh()
		if err != nil {
			return nil, nil, err
		}
		elevation, oat := in.Value("elevationFt"), in.Value("oatC")
		if err := within("elevationFt", elevation, -1500, 20000, "ft"); err != nil {
			return nil, nil, err
		}
		if err := within("oatC", oat, -60, 60, "°C"); err != nil {
			return nil, nil, err
		}
		pressure, density := weather.Altitudes(elevation, qnh, oat)
		var advice []Advice
		if density.Above(elevation.Add(quantity.Scaled(2000, 0))) {
			advice = append(advice, Advice{
				"thin-air",
				"The air is as thin as " + density.Sub(elevation).String() +
					" ft higher: take the take-off distance and the climb for " + density.String() + " ft.",
			})
		}
		return form.Object{member("pressureAltitudeFt", pressure), member("densityAltitudeFt", density)}, advice, nil
	},
}

// qnh is the pressure in hPa, in whichever unit it was given.
func (in input) qnh() (quantity.Value, error) {
	hpa, inches := in.Has("qnhHPa"), in.Has("altimeterInHg")
	switch {
	case hpa && inches:
		return quantity.Value{}, form.Bad("altimeterInHg", "stands beside qnhHPa: give one of the two")
	case inches:
		v := quantity.Hectopascals(in.Value("altimeterInHg"), 2)
		return v, within("altimeterInHg", in.Value("altimeterInHg"), 25, 33, "inHg")
	case hpa:
		return in.Value("qnhHPa"), within("qnhHPa", in.Value("qnhHPa"), weather.LowestQNH, weather.HighestQNH, "hPa")
	}
	return quantity.Value{}, form.Bad("qnhHPa", "is missing: a number in hPa, or altimeterInHg")
}
