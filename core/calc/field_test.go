package calc_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/calc"
	"jetprimer/core/quantity"
	"jetprimer/core/weather"
)

// fenRow is a field with a strip into each wind.
var fenRow = weather.Aerodrome{
	ID: "XFRW", Name: "Fen Row", ElevationFt: 400, VariationDegEast: 3,
	Runways: []weather.Runway{
		{Name: "02", HeadingDegMagnetic: 18, LengthM: 920, Surface: "asphalt"},
		{Name: "20", HeadingDegMagnetic: 198, LengthM: 920, Surface: "asphalt"},
		{Name: "09", HeadingDegMagnetic: 92, LengthM: 610, Surface: "grass"},
	},
}

// TestAFieldAtAGlance: the runway in use and the wind on it, the air, the setting
// both ways, and the sky; what the report does not say is empty.
func TestAFieldAtAGlance(t *testing.T) {
	now := func(report string) calc.Field {
		return calc.FieldNow("METAR XFRW 241150Z "+report, fenRow, tables.Icing, quantity.Units{})
	}
	f := now("20010G18KT 9999 SCT030 08/07 Q1013")
	assert.Equal(t, "Fen Row", f.Name)
	assert.Equal(t, "20", f.Runway)
	assert.Equal(t, "from 200°, 10 kt, gusts 18 kt", f.Wind)
	require.NotNil(t, f.FromDeg)
	assert.Equal(t, 197, *f.FromDeg, "magnetic")
	assert.Contains(t, f.Along, "head")
	assert.NotEmpty(t, f.Across)
	assert.Contains(t, f.Gust, "in gusts cross ")
	assert.Equal(t, "8 °C, dew point 7 °C", f.Air)
	assert.Equal(t, "serious", f.Ice)
	assert.Contains(t, f.Setting, "1013 hPa, 29.9")
	assert.Contains(t, f.DensityAltitude, " ft")
	assert.Equal(t, "visibility 10 km or more, scattered 3000 ft", f.Sky)
	assert.Equal(t, []calc.FieldStrip{
		{Name: "02", HeadingDeg: 18},
		{Name: "20", HeadingDeg: 198},
		{Name: "09", HeadingDeg: 92, Grass: true},
	}, f.Strips)

	for report, want := range map[string]string{
		"00000KT 9999 08/07 Q1013":  "calm",
		"VRB03KT 9999 08/07 Q1013":  "variable, 3 kt",
		"35012KT 9999 08/07 Q1013":  "from 350°, 12 kt",
		"09008KT CAVOK 25/M02 Q996": "from 090°, 8 kt",
	} {
		assert.Equal(t, want, now(report).Wind)
	}
	assert.Nil(t, now("00000KT 9999 08/07 Q1013").FromDeg)
	assert.Empty(t, now("00000KT 9999 08/07 Q1013").Along)
	assert.Nil(t, now("VRB03KT 9999 08/07 Q1013").FromDeg)
	assert.Empty(t, now("20010KT 9999 08/07 Q1013").Gust)
	assert.Equal(t, 357, *now("00008KT 9999 08/07 Q1013").FromDeg, "across north")
	assert.Equal(t, "09", now("09008KT 9999 08/07 Q1013").Runway)

	bare := calc.FieldNow("", fenRow, tables.Icing, quantity.Units{})
	for name, said := range map[string]string{
		"wind": bare.Wind, "air": bare.Air, "ice": bare.Ice, "setting": bare.Setting,
		"density altitude": bare.DensityAltitude, "gust": bare.Gust, "along": bare.Along,
	} {
		assert.Empty(t, said, name)
	}
	assert.Len(t, bare.Strips, 3, "the field itself is known")
}

// TestAFieldInOnesOwnUnits: each number as the person reads it, the setting's own
// unit first.
func TestAFieldInOnesOwnUnits(t *testing.T) {
	report := "METAR XFRW 241150Z 20010G18KT 9999 SCT030 08/07 Q1013"
	f := calc.FieldNow(report, fenRow, tables.Icing, quantity.Units{
		Temperature: "°F", Pressure: "inHg", Speed: "mph", Height: "m",
	})
	assert.Equal(t, "46.4 °F, dew point 44.6 °F", f.Air)
	assert.Regexp(t, `^29\.9\d inHg, 1013 hPa$`, f.Setting)
	assert.Contains(t, f.Wind, "mph")
	assert.NotContains(t, f.Wind, "kt")
	assert.Contains(t, f.Gust, "mph")
	assert.Regexp(t, ` m$`, f.DensityAltitude)
}
