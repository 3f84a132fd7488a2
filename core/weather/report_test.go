package weather_test

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/weather"
	"jetprimer/internal/parsertest"
)

func TestReports(t *testing.T) {
	for _, c := range []struct{ text, want string }{
		{"METAR XTHW 241150Z 21014G24KT 180V250 9999 -RA SCT014 BKN022CB 09/06 Q1009 NOSIG RMK QUIET NOW",
			`{"station":"XTHW","day":24,"time":"11:50","automatic":false,"wind":{"directionDeg":210,"speedKt":14,"gustKt":24,"variable":false,"calm":false,"fromDeg":180,"toDeg":250},"visibilityM":10000,"cavok":false,"weather":["-RA"],"clouds":[{"amount":"SCT","baseFt":1400,"kind":""},{"amount":"BKN","baseFt":2200,"kind":"CB"}],"ceilingFt":2200,"oatC":9,"dewPointC":6,"qnhHPa":1009,"altimeterInHg":29.8,"trend":"NOSIG","remarks":"QUIET NOW","unknown":[]}`},
		{"XSTB 010030Z AUTO VRB02MPS 1 1/2SM BR OVC004 M01/M02 A2992",
			`{"station":"XSTB","day":1,"time":"00:30","automatic":true,"wind":{"directionDeg":null,"speedKt":4,"gustKt":null,"variable":true,"calm":false,"fromDeg":null,"toDeg":null},"visibilityM":2414,"cavok":false,"weather":["BR"],"clouds":[{"amount":"OVC","baseFt":400,"kind":""}],"ceilingFt":400,"oatC":-1,"dewPointC":-2,"qnhHPa":1013.2,"altimeterInHg":29.92,"trend":"","remarks":"","unknown":[]}`},
		{"xthw 241150z 00000kt cavok 21/ q1024=",
			`{"station":"XTHW","day":24,"time":"11:50","automatic":false,"wind":{"directionDeg":null,"speedKt":0,"gustKt":null,"variable":false,"calm":true,"fromDeg":null,"toDeg":null},"visibilityM":10000,"cavok":true,"weather":[],"clouds":[],"ceilingFt":null,"oatC":21,"dewPointC":null,"qnhHPa":1024,"altimeterInHg":30.24,"trend":"","remarks":"","unknown":[]}`},
	} {
		data, err := json.Marshal(weather.ParseReport(c.text))
		require.NoError(t, err)
		assert.JSONEq(t, c.want, string(data), c.text)
	}
	for text, unknown := range map[string]string{
		"XTHW 241199Z 21014KT 9999 Q1009": "241199Z", "XTHW 241150Z 99914KT Q1009": "99914KT",
		"XTHW 241150Z 21014KT 1/0SM Q1009":              "1/0SM",
		"XTHW 241150Z 21014KT R20/1200U 9999 Q1009 ABC": "ABC", "XTHW 241150Z Q9999 Q1009": "Q9999", "": "",
		"\x00\xff ÄÖ": "\x00\ufffd ÄÖ",
	} {
		assert.Equal(t, unknown, strings.Join(weather.ParseReport(text).Unknown, " "), text)
	}
	for text, metres := range map[string]int{"P6SM": 10000, "M1/4SM": 402, "6SM": 9656, "0800": 800, "2 3/4SM": 4426} {
		r := weather.ParseReport("XTHW 241150Z 21014KT " + text)
		require.NotNil(t, r.VisibilityM, text)
		assert.Equal(t, metres, *r.VisibilityM, text)
	}
}

var hollow = weather.Aerodrome{
	ID: "XTHW", Name: "Tarn Hollow", ElevationFt: 412,
	Climate: weather.Climate{MeanC: 9, YearSwingC: 8, DaySwingC: 7, WindFromDeg: 210, WindKt: 9, SpreadC: 4},
}

// TestTheStationIsAStandIn: the same half hour gives the same report, every
// report is understood whole, and a day looks like a day.
func TestTheStationIsAStandIn(t *testing.T) {
	start := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	different := map[string]bool{}
	fog, gusts := 0, 0
	for i := range 365 * 8 {
		at := start.Add(time.Duration(i) * 3 * time.Hour)
		text := weather.Simulated(hollow, at)
		require.Equal(t, text, weather.Simulated(hollow, at.Add(29*time.Minute)))
		different[text[strings.Index(text, "Z"):]] = true
		r := weather.ParseReport(text)
		require.Empty(t, r.Unknown, text)
		require.NotNil(t, r.Wind, text)
		require.NotNil(t, r.QNHHPa, text)
		require.LessOrEqual(t, *r.DewPointC, *r.OATC, text)
		require.True(t, *r.OATC > -25 && *r.OATC < 40, text)
		if strings.Contains(text, "FG") {
			fog++
		}
		if r.Wind.GustKt != nil {
			gusts++
		}
		require.NotContains(t, weather.Broadcast(hollow, r, "20"), "  ", text)
	}
	assert.Greater(t, len(different), 2000)
	assert.Greater(t, fog, 5)
	assert.Greater(t, gusts, 20)
}

func TestTheBroadcastIsReadAloud(t *testing.T) {
	r := weather.ParseReport("XTHW 241150Z 21014G24KT 9999 -RA BKN022 M01/M02 Q1009")
	assert.Equal(t,
		"Tarn Hollow information X-ray, time one one five zero. Runway in use two zero. Wind two one zero degrees, "+
			"one four knots, gusting two four. "+
			"Visibility ten kilometres or more. Light rain. Broken two two zero zero feet. Temperature minus one, "+
			"dew point minus two. QNH one zero zero nine. Acknowledge information X-ray.",
		weather.Broadcast(hollow, r, "20"))
}

func FuzzParseReport(f *testing.F) {
	f.Add("METAR XTHW 241150Z 21014G24KT 180V250 9999 -RA SCT014 BKN022CB 09/06 Q1009 NOSIG RMK QUIET NOW")
	f.Add("XSTB 010030Z AUTO VRB02MPS 1 1/2SM BR OVC004 M01/M02 A2992 1 1/0SM")
	f.Fuzz(func(t *testing.T, text string) {
		var r weather.Report
		parsertest.Run(t, []byte(text), func() { r = weather.ParseReport(text) })
		_, err := json.Marshal(r)
		require.NoError(t, err)
		if r.CeilingFt != nil {
			require.NotEmpty(t, r.Clouds)
		}
	})
}

// TestAForecastIsNoReport: what is expected stays out of what was observed, in
// whatever words it begins; a correction is known wherever it stands.
func TestAForecastIsNoReport(t *testing.T) {
	for _, forecast := range []string{"TEMPO", "BECMG", "INTER", "PROB30", "PROB40 TEMPO", "FM1300", "FM241300"} {
		r := weather.ParseReport("METAR XTHW 241150Z COR 20008KT 9999 FEW040 12/06 Q1013 " + forecast +
			" 2000 TSRA BKN008 RMK OK")
		assert.Equal(t, 1, len(r.Clouds), forecast)
		assert.Empty(t, r.Weather, forecast)
		assert.Empty(t, r.Unknown, forecast)
		assert.Equal(t, forecast+" 2000 TSRA BKN008", r.Trend)
		assert.Equal(t, 10000, *r.VisibilityM)
	}
}
