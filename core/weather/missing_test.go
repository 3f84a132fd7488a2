package weather_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/weather"
)

// TestWhatIsMissingIsUnderstood: slashes, runway ranges, weather that has passed
// and wind shear are no foreign groups.
func TestWhatIsMissingIsUnderstood(t *testing.T) {
	r := weather.ParseReport("METAR XTHW 011150Z ///05KT 1400 R20/0600V1000U R02/P2000N R20/0550D -RA BKN004 22/// " +
		"Q1009 RERA RESHRA WS R20 WS ALL RWY")
	assert.Empty(t, r.Unknown)
	require.NotNil(t, r.Wind)
	assert.Nil(t, r.Wind.DirectionDeg)
	assert.False(t, r.Wind.Calm)
	assert.Equal(t, []weather.RunwayRange{
		{Runway: "20", RangeM: 550, Tendency: "down"}, {Runway: "02", RangeM: 2000, Beyond: "more", Tendency: "none"},
	}, r.RunwayRanges)
	assert.Equal(t, 22, *r.OATC)
	assert.Nil(t, r.DewPointC)
	assert.Equal(t, []string{"RA", "SHRA"}, r.Recent)
	assert.Equal(t, []string{"20", "all"}, r.WindShear)

	r = weather.ParseReport("XTHW 011150Z AUTO /////KT //// // ////// ///// Q////")
	assert.Empty(t, r.Unknown)
	assert.Nil(t, r.Wind)
	assert.Nil(t, r.OATC)
	assert.Nil(t, r.QNHHPa)

	r = weather.ParseReport("XTHW 011150Z 19011KT 0600 R27/1800FT ///015CB 12/ R99/0600 REXX")
	assert.Equal(t, []string{"R99/0600", "REXX"}, r.Unknown)
	assert.Equal(t, 549, r.RunwayRanges[0].RangeM)
	assert.Equal(t, 1500, *r.Clouds[0].BaseFt)
}
