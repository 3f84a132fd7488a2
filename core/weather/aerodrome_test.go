package weather_test

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/form"
	"jetprimer/core/weather"
)

func field() weather.Aerodrome {
	return weather.Aerodrome{ID: "XFRW", Name: "Fen Row", ElevationFt: 61, VariationDegEast: -2.5,
		Runways: []weather.Runway{
			{Name: "18", HeadingDegMagnetic: 178, LengthM: 900, Surface: "asphalt"},
			{Name: "36", HeadingDegMagnetic: 358, LengthM: 900, Surface: "asphalt"},
			{Name: "09L", HeadingDegMagnetic: 92, LengthM: 600, Surface: "grass"}, {
				Name: "27R", HeadingDegMagnetic: 272, LengthM: 600, Surface: "grass",
			}}}
}

// TestWhatAFieldCannotBe: bounds at their edges, each refusal by its field.
func TestWhatAFieldCannotBe(t *testing.T) {
	require.NoError(t, field().Check("base"))
	for _, good := range []func(*weather.Aerodrome){
		func(a *weather.Aerodrome) { a.ElevationFt = -1500 }, func(a *weather.Aerodrome) { a.ElevationFt = 20_000 },
		func(a *weather.Aerodrome) { a.VariationDegEast = 60 }, func(a *weather.Aerodrome) { a.VariationDegEast = -60 },
		func(a *weather.Aerodrome) { a.Runways[0].HeadingDegMagnetic = 160 },
		func(a *weather.Aerodrome) { a.Runways[0].HeadingDegMagnetic = 200 },
		func(a *weather.Aerodrome) { a.Runways[1].HeadingDegMagnetic = 20 }, // across north
		func(a *weather.Aerodrome) { a.Runways[1].HeadingDegMagnetic = 360 },
		func(a *weather.Aerodrome) { a.Runways[0].LengthM = 20 },
		func(a *weather.Aerodrome) { a.Runways[0].LengthM = 9000 },
		func(a *weather.Aerodrome) { a.Name = strings.Repeat("ß", 60) },
	} {
		a := field()
		good(&a)
		assert.NoError(t, a.Check("base"), "%+v", a)
	}
	for name, bad := range map[string][]func(*weather.Aerodrome){
		"base.id": {
			func(a *weather.Aerodrome) { a.ID = "x" }, func(a *weather.Aerodrome) { a.ID = "X" },
			func(a *weather.Aerodrome) { a.ID = "XFRWXFRWX" }, func(a *weather.Aerodrome) { a.ID = "XF RW" },
		},
		"base.name": {
			func(a *weather.Aerodrome) { a.Name = " " },
			func(a *weather.Aerodrome) { a.Name = strings.Repeat("ß", 61) },
			func(a *weather.Aerodrome) { a.Name = "Fen\nRow" },
		},
		"base.elevationFt": {
			func(a *weather.Aerodrome) { a.ElevationFt = -1501 }, func(a *weather.Aerodrome) { a.ElevationFt = 20_001 },
		},
		"base.variationDegEast": {
			func(a *weather.Aerodrome) { a.VariationDegEast = 60.1 },
			func(a *weather.Aerodrome) { a.VariationDegEast = math.NaN() },
		},
		"base.runways": {
			func(a *weather.Aerodrome) { a.Runways = nil },
			func(a *weather.Aerodrome) { a.Runways = make([]weather.Runway, 25) },
		},
		"base.runways[0].name": {
			func(a *weather.Aerodrome) { a.Runways[0].Name = "37" },
			func(a *weather.Aerodrome) { a.Runways[0].Name = "9" },
			func(a *weather.Aerodrome) { a.Runways[0].Name = "18X" },
			func(a *weather.Aerodrome) { a.Runways[0].Name = "00" },
		},
		"base.runways[1].name": {func(a *weather.Aerodrome) { a.Runways[1] = a.Runways[0] }},
		"base.runways[0].headingDegMagnetic": {
			func(a *weather.Aerodrome) { a.Runways[0].HeadingDegMagnetic = 159 },
			func(a *weather.Aerodrome) { a.Runways[0].HeadingDegMagnetic = 0 },
			func(a *weather.Aerodrome) { a.Runways[0].HeadingDegMagnetic = 361 },
		},
		"base.runways[1].headingDegMagnetic": {func(a *weather.Aerodrome) { a.Runways[1].HeadingDegMagnetic = 21 }},
		"base.runways[0].lengthM": {
			func(a *weather.Aerodrome) { a.Runways[0].LengthM = 19 },
			func(a *weather.Aerodrome) { a.Runways[0].LengthM = 9001 },
		},
		"base.runways[0].surface": {func(a *weather.Aerodrome) { a.Runways[0].Surface = "ice" }},
	} {
		for i, change := range bad {
			a := field()
			change(&a)
			var refused form.Problem
			require.ErrorAs(t, a.Check("base"), &refused, "%s %d", name, i)
			assert.Equal(t, name, refused.Field, i)
		}
	}
	tidy := weather.Aerodrome{ID: " xfrw", Name: " Fen Row "}.Tidy()
	assert.Equal(t, weather.Aerodrome{ID: "XFRW", Name: "Fen Row", Climate: weather.Temperate}, tidy)
	warm := weather.Climate{MeanC: 24}
	assert.Equal(t, warm, weather.Aerodrome{Climate: warm}.Tidy().Climate, "what was said stays")
}

// TestTheRunwayMostIntoTheWind: by the magnetic heading, with the variation, and
// the first where the wind says nothing.
func TestTheRunwayMostIntoTheWind(t *testing.T) {
	for wind, want := range map[string]string{
		"18010KT": "18", "35510KT": "36", "00012KT": "36", "08510KT": "09L", "27010G20KT": "27R", "VRB03KT": "18",
		"13210KT": "09L", "13310KT": "18",
	} {
		r := weather.ParseReport("METAR XFRW 241150Z " + wind + " 9999 FEW040 08/02 Q1013")
		require.NotNil(t, r.Wind, wind)
		assert.Equal(t, want, field().InUse(r), wind)
	}
	assert.Equal(t, "18", field().InUse(weather.ParseReport("METAR XFRW 241150Z 9999 Q1013")))
	assert.Empty(t, weather.Aerodrome{}.InUse(weather.ParseReport("METAR XFRW 241150Z 18010KT 9999 Q1013")))
}

// TestTheSkyInALine: what the report says of it, in words, and nothing more.
func TestTheSkyInALine(t *testing.T) {
	for said, want := range map[string]string{
		"CAVOK":                  "no cloud below 5000 ft, visibility 10 km or more",
		"9999 FEW040":            "visibility 10 km or more, few clouds 4000 ft",
		"0400 FG VV001":          "visibility 400 m, fog",
		"4000 -RA BKN012":        "visibility 4000 m, light rain, broken 1200 ft",
		"8000 -RA SCT010 BKN022": "visibility 8000 m, light rain, scattered 1000 ft, broken 2200 ft",
		"9999":                   "visibility 10 km or more",
	} {
		sky := weather.ParseReport("METAR XFRW 241150Z 18010KT " + said + " 08/02 Q1013").Sky()
		assert.True(t, strings.HasPrefix(sky, want), "%s: %s", said, sky)
	}
}
