package calc

import (
	"math"

	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// IcingBand is a part of the general carburettor icing chart: outside air from
// FromC to ToC, and a relative humidity of at least HumidityMinPercent.
type IcingBand struct {
	Band               string `json:"band"`
	FromC              int64  `json:"fromC"`
	ToC                int64  `json:"toC"`
	HumidityMinPercent int64  `json:"humidityMinPercent"`
}

// carbIce gives the relative humidity by the Magnus formula over water, with
// a = 17.625 and b = 243.04 °C (Alduchov and Eskridge, 1996), good from −40 to
// 50 °C, and the band of the icing chart in the data.
//
//	RH = 100·e^(a·Td/(b+Td)) / e^(a·T/(b+T))
var carbIce = Definition{
	Name: "carb-ice", Title: "Carburettor icing",
	Rule: "Fuel that evaporates and air that is throttled cool the carburettor by up to 30 °C: ice grows in it on " +
		"days that are not cold at all.",
	Source: "Magnus formula, Alduchov and Eskridge 1996; a general chart in the data",
	Fields: []form.Field{
		number("oatC", "outside air", "°C", 1, signed), number("dewPointC", "dew point", "°C", 1, signed),
	},
	run: func(in input) (form.Object, []Advice, error) {
		oat, dew := in.Value("oatC"), in.Value("dewPointC")
		if dew.Above(oat) {
			return nil, nil, form.Bad("dewPointC", "may not be above oatC: %s above %s", dew, oat)
		}
		for name, v := range map[string]quantity.Value{"oatC": oat} {
			if err := within(name, v, -40, 50, "°C"); err != nil {
				return nil, nil, err
			}
		}
		if err := within("dewPointC", dew, -60, 50, "°C"); err != nil {
			return nil, nil, err
		}
		const a, b = 17.625, 243.04
		humidity := rounded(100*math.Exp(a*dew.Float()/(b+dew.Float())-a*oat.Float()/(b+oat.Float())), 0)
		band := "none"
		for _, z := range in.tables.Icing {
			if !oat.Below(quantity.Scaled(z.FromC, 0)) && !oat.Above(quantity.Scaled(z.ToC, 0)) &&
				!humidity.Below(quantity.Scaled(z.HumidityMinPercent, 0)) {
				band = z.Band
				break
			}
		}
		advice := []Advice{}
		if band != "none" {
			advice = append(advice, Advice{"ice-" + band, map[string]string{
				"light": "Ice may form at low power: heat before the throttle is closed, and look for a drop " +
					"while taxiing.",
				"moderate": "Ice forms at low power and may form in cruise: heat fully, for half a minute, before " +
					"take-off and at every change of power.",
				"serious": "Ice forms at any power: check with heat while taxiing, before take-off and often in " +
					"flight; expect the engine to run rough as it melts.",
			}[band]})
		}
		advice = append(advice, Advice{
			"general-chart",
			"This is a general chart: engines differ, and rain, wet grass and cloud make ice where it shows none.",
		})
		return form.Object{member("humidityPercent", humidity), member("band", band)}, advice, nil
	},
}
