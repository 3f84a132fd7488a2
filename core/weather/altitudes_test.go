package weather_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/quantity"
	"jetprimer/core/weather"
)

// TestAltitudes: a place whose pressure and temperature are those of the
// standard atmosphere at a height (its published table, in steps of 500 m) has
// both altitudes there; elsewhere the values are worked from the formulas.
func TestAltitudes(t *testing.T) {
	for _, c := range []struct {
		elevation, qnh, oat string
		pressure, density   float64
	}{
		{"0", "1013.25", "15", 0, 0},
		{"0", "954.61", "11.75", 1640, 1640},
		{"0", "898.75", "8.5", 3281, 3281},
		{"0", "845.56", "5.25", 4921, 4921},
		{"0", "794.95", "2", 6562, 6562},
		{"0", "746.83", "-1.24", 8202, 8202},
		{"0", "701.09", "-4.49", 9843, 9843},
		{"5000", "1013.25", "5.1", 5000, 5000},
		{"0", "1003.25", "15", 274, 339},
		{"412", "1013.25", "30", 412, 2227},
		{"5200", "1013", "34", 5207, 8474},
		{"412", "1030", "-20", -45, -4548},
	} {
		value := func(text string) quantity.Value {
			v, err := quantity.Parse(text, 2)
			require.NoError(t, err)
			return v
		}
		pressure, density := weather.Altitudes(value(c.elevation), value(c.qnh), value(c.oat))
		assert.InDelta(t, c.pressure, pressure.Float(), 3, c)
		assert.InDelta(t, c.density, density.Float(), 6, c)
	}
}
