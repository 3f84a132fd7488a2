// Package weather computes from the weather: altitudes, wind components, what
// a report says.
package weather

import (
	"math"

	"jetprimer/core/quantity"
)

// The standard atmosphere's constants, as used by the altitude formulas.
const (
	scaleFt     = 145442.16 // ft; temperature at sea level divided by the lapse rate
	standardHPa = 1013.25
	standardK   = 288.15
)

// Altitudes are the pressure altitude and the density altitude of dry air, in
// whole feet, of a place at an elevation (ft), with a QNH (hPa, two decimals)
// and an outside air temperature (°C, one decimal).
//
//	PA = elevation + H·(1 − (QNH/1013.25)^0.190263), H = 145442.16 ft
//	δ = (1 − PA/H)^5.25588, θ = (oat + 273.15)/288.15
//	DA = H·(1 − (δ/θ)^0.234969)
//
// They are the barometric formulas of the standard atmosphere's troposphere:
// meant for elevations below 20,000 ft and temperatures from −60 to 60 °C.
func Altitudes(elevationFt, qnhHPa, oatC quantity.Value) (pressureFt, densityFt quantity.Value) {
	pressure := elevationFt.Float() + scaleFt*(1-math.Pow(qnhHPa.Float()/standardHPa, 0.190263))
	delta := math.Pow(1-pressure/scaleFt, 5.25588)
	theta := (oatC.Float() + 273.15) / standardK
	density := scaleFt * (1 - math.Pow(delta/theta, 0.234969))
	return whole(pressure), whole(density)
}

// inHgHPa is one inch of mercury in hPa.
const inHgHPa = 33.8638866667

// FieldPressureInHg is the pressure of the air, in inches of mercury to
// hundredths, at an elevation (ft) with a QNH (hPa): the standard atmosphere
// above the sea level that the QNH speaks of.
//
//	P = QNH·(1 − elevation/H)^5.25588, H = 145442.16 ft
func FieldPressureInHg(elevationFt, qnhHPa quantity.Value) quantity.Value {
	hPa := qnhHPa.Float() * math.Pow(1-elevationFt.Float()/scaleFt, 5.25588)
	return quantity.Scaled(int64(math.Round(hPa/inHgHPa*100)), 2)
}

func whole(feet float64) quantity.Value { return quantity.Scaled(int64(math.Round(feet)), 0) }
