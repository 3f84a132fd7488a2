package stand

import "math"

// Day is the day that a run is made on, and how the engines were left.
type Day struct {
	OATC        float64 `json:"oatC"`
	DewPointC   float64 `json:"dewPointC"`
	QNHHPa      float64 `json:"qnhHPa"`
	ElevationFt float64 `json:"elevationFt"`
	WindKt      float64 `json:"windKt"`
	// EngineState is cold, warm or hot.
	EngineState string `json:"engineState"`
	// FuelL is what is in the tanks that a pilot chooses from; both are well filled where it
	// is not said.
	FuelL []float64 `json:"fuelL,omitempty"`
	// Date is of the day, such as 2026-11-27.
	Date string `json:"date"`
}

// StandardDay is a day as the standard atmosphere has it, on the ground at sea level.
var StandardDay = Day{OATC: 15, DewPointC: 5, QNHHPa: 1013.25, EngineState: "cold"}

// air is what stands about the aircraft, relative to a standard day at sea level.
type air struct {
	pressure float64 // of 1013.25 hPa
	tempC    float64
	density  float64
	dewC     float64
	windKt   float64
}

// standardK is the standard temperature at sea level, and zeroK what 0 °C is.
const (
	standardK = 288.15
	zeroK     = 273.15
)

// air of the day. Pressure falls with height by the standard atmosphere of ICAO Doc
// 7488: δ = (1 − H/145442.16 ft)^5.25588, of the pressure reduced to sea level.
func (d Day) air() air {
	p := d.QNHHPa / 1013.25 * math.Pow(1-d.ElevationFt/145442.16, 5.25588)
	p = math.Round(p*1e6) / 1e6 // the same on every processor
	return air{
		pressure: p, tempC: d.OATC, density: p * standardK / (d.OATC + zeroK), dewC: d.DewPointC, windKt: d.WindKt,
	}
}

// left is where a temperature stands when the run begins, between the air's and what
// it has in use: 85 % of the way after a short stop, 45 % after an hour or two; chosen.
func left(state string, airC, useC float64) float64 {
	switch state {
	case "hot":
		return airC + 0.85*(useC-airC)
	case "warm":
		return airC + 0.45*(useC-airC)
	}
	return airC
}
