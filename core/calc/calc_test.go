package calc_test

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/aircraft"
	"jetprimer/core/calc"
	"jetprimer/core/form"
	"jetprimer/internal/parsertest"
)

// tables are a made-up type and chart.
var tables = calc.Tables{
	Type: func(id string) (aircraft.Type, bool) {
		five := 5.0
		t := aircraft.Type{ID: "alder", Name: "Alder", Class: "airplane-single-engine-land", Engines: 1,
			Source: "handbook",
			Speeds: []aircraft.Speed{
				{ID: "rotate", Label: "rotate", Knots: 52}, {ID: "glide", Label: "best glide", Knots: 65},
				{ID: "best-rate", Label: "best rate", Knots: 70},
			},
			Winds: &aircraft.Winds{CrosswindKt: 12, TailwindKt: 5},
			Fuel: &aircraft.Fuel{
				Tanks: []aircraft.Tank{{ID: "left", UsableL: 48}, {ID: "right", UsableL: 48}}, BurnLPerHour: 24,
				ImbalanceMaxL: 20,
			},
			Prime: &aircraft.Prime{PreheatBelowC: -12, HotWithinMinutes: 25, WarmWithinMinutes: 90,
				Rows: []aircraft.PrimeRow{
					{
						Engine: "cold", BelowC: &five, Method: "primer", Amount: 5, Unit: "strokes",
						Throttle: "a finger open", Mixture: "rich", Note: "more while cranking",
					},
					{
						Engine: "cold", Method: "primer", Amount: 2, Unit: "strokes", Throttle: "a finger open",
						Mixture: "rich",
					},
					{
						Engine: "warm", Method: "primer", Amount: 1, Unit: "strokes", Throttle: "a finger open",
						Mixture: "rich",
					},
					{Engine: "hot", Method: "none", Unit: "strokes", Throttle: "a finger open", Mixture: "rich"}},
				Flooded: aircraft.PrimeRow{Method: "none", Throttle: "fully open", Mixture: "cut-off"}},
			Power: &aircraft.Table{Label: "limit", Unit: "inHg", AltitudesFt: []int{0, 2000, 6000},
				OATC:   []int{-10, 10, 30},
				Values: [][]float64{{24, 25, 26}, {23, 24, 25}, {21, 22, 23}}, Hold: []string{"cold"}}}
		return t, id == t.ID
	},
	Icing: []calc.IcingBand{
		{Band: "serious", FromC: -2, ToC: 20, HumidityMinPercent: 80},
		{Band: "light", FromC: -10, ToC: 30, HumidityMinPercent: 40},
	},
}

func run(t require.TestingT, name, request string) (values map[string]any, advice []string) {
	out, err := calc.Run(name, []byte(request), tables)
	require.NoError(t, err, request)
	var answer struct {
		Values map[string]any
		Advice []calc.Advice
	}
	require.NoError(t, json.Unmarshal(out, &answer))
	for _, a := range answer.Advice {
		advice = append(advice, a.Code)
	}
	return answer.Values, advice
}

func refuse(t *testing.T, name, request, field string) {
	t.Helper()
	_, err := calc.Run(name, []byte(request), tables)
	var input form.Problem
	require.ErrorAs(t, err, &input, request)
	assert.Equal(t, field, input.Field, "%s: %v", request, err)
}

// TestWindTriangles are worked by hand: 30° takes half across, 60° half along.
func TestWindTriangles(t *testing.T) {
	request := func(direction, speed, more string) string {
		return fmt.Sprintf(`{"directionDeg":%s,"speedKt":%s,%s"reference":"magnetic","variationDegEast":0,
			"runways":[{"name":"18","headingDegMagnetic":180},{"name":"36","headingDegMagnetic":360}],"limits":{"crosswindKt":12,"tailwindKt":5}}`, direction, speed, more)
	}
	for _, c := range []struct {
		direction, speed, more string
		head, cross            float64
		best                   any
	}{
		{"180", "10", "", 10, 0, "18"},
		{"210", "10", "", 8.7, 5, "18"},
		{"240", "10", "", 5, 8.7, "18"},
		{"150", "10", "", 8.7, -5, "18"},
		{"0", "10", "", -10, 0, "36"},
		{"360", "10", "", -10, 0, "36"},
		{"270", "12", "", 0, 12, "18"},
		{"270", "13", "", 0, 13, nil},
		{"240", "10", `"gustKt":14,`, 5, 8.7, nil},
		{"null", "4", "", -4, 4, "18"},
		{"null", "6", "", -6, 6, nil},
		{"123", "0", "", 0, 0, "18"},
	} {
		v, _ := run(t, "wind", request(c.direction, c.speed, c.more))
		first := v["runways"].([]any)[0].(map[string]any)
		assert.Equal(t, c.head, first["headwindKt"], c)
		assert.Equal(t, c.cross, first["crosswindKt"], c)
		assert.Equal(t, c.best, v["best"], c)
		assert.NotEmpty(t, v["reason"])
	}
	v, _ := run(t, "wind",
		`{"directionDeg":203,"speedKt":10,"reference":"true","variationDegEast":3,"runways":[{"name":"20","headingDegMagnetic":200}],"limits":{"crosswindKt":12,"tailwindKt":5}}`)
	assert.Equal(t, 10.0, v["runways"].([]any)[0].(map[string]any)["headwindKt"],
		"true less variation east is magnetic")
	refuse(t, "wind", request("180", "10", `"gustKt":9,`), "gustKt")
	refuse(t, "wind", request("361", "10", ""), "directionDeg")
	refuse(t, "wind", request("180", "-1", ""), "speedKt")
	refuse(t, "wind",
		`{"directionDeg":1,"speedKt":1,"reference":"magnetic","variationDegEast":0,"runways":[],"limits":{"crosswindKt":12,"tailwindKt":5}}`, "runways")
	refuse(t, "wind",
		`{"directionDeg":1,"speedKt":1,"reference":"magnetic","variationDegEast":0,"runways":[{"name":"20","headingDegMagnetic":200}],"limits":{"crosswindKt":12}}`, "limits.tailwindKt")
}

// TestMirroredWind: the same wind from the other side is across the other way.
func TestMirroredWind(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		angle, speed := rapid.IntRange(0, 180).Draw(t, "angle"), rapid.IntRange(0, 60).Draw(t, "speed")
		part := func(direction int) (float64, float64) {
			v, _ := run(t, "wind",
				fmt.Sprintf(`{"directionDeg":%d,"speedKt":%d,"reference":"magnetic","variationDegEast":0,"runways":[{"name":"18","headingDegMagnetic":180}],"limits":{"crosswindKt":12,"tailwindKt":5}}`, direction, speed))
			r := v["runways"].([]any)[0].(map[string]any)
			return r["headwindKt"].(float64), r["crosswindKt"].(float64)
		}
		rightHead, rightCross := part((180 + angle) % 360)
		leftHead, leftCross := part((540 - angle) % 360)
		assert.Equal(t, rightHead, leftHead)
		assert.Equal(t, rightCross, -leftCross)
		assert.InDelta(t, float64(speed), math.Hypot(rightHead, rightCross), 0.1)
	})
}

func TestPowerTable(t *testing.T) {
	at := func(altitude, oat string) string {
		return fmt.Sprintf(`{"aircraftType":"alder","pressureAltitudeFt":%s,"oatC":%s}`, altitude, oat)
	}
	for _, c := range []struct {
		altitude, oat string
		want          float64
		held          int
	}{
		{"0", "-10", 24, 0}, {"2000", "10", 24, 0}, {"6000", "30", 23, 0}, {"1000", "0", 24, 0},
		{"4000", "20", 23.5, 0}, {"500", "10", 24.8, 0}, {"0", "-40", 24, 1},
	} {
		v, advice := run(t, "power-limit", at(c.altitude, c.oat))
		assert.Equal(t, c.want, v["limit"], c)
		assert.Len(t, advice, c.held, c)
	}
	refuse(t, "power-limit", at("-1", "10"), "pressureAltitudeFt")
	refuse(t, "power-limit", at("-1501", "10"), "pressureAltitudeFt")
	refuse(t, "power-limit", at("6001", "10"), "pressureAltitudeFt")
	refuse(t, "power-limit", at("0", "30.1"), "oatC")
	refuse(t, "power-limit", `{"aircraftType":"kestrel","pressureAltitudeFt":0,"oatC":0}`, "aircraftType")
}

func TestPrime(t *testing.T) {
	for request, want := range map[string]string{
		`"engineState":"cold","oatC":4.9`:   "cold primer 5 [note if-flooded]",
		`"engineState":"cold","oatC":5`:     "cold primer 2 [if-flooded]",
		`"engineState":"cold","oatC":-12.1`: "cold primer 5 [preheat note if-flooded]",
		`"engineState":"cold","oatC":-12`:   "cold primer 5 [note if-flooded]",
		`"lastRunMinutes":25,"oatC":10`:     "hot none 0 [if-flooded]",
		`"lastRunMinutes":26,"oatC":10`:     "warm primer 1 [if-flooded]",
		`"lastRunMinutes":90,"oatC":10`:     "warm primer 1 [if-flooded]",
		`"lastRunMinutes":91,"oatC":10`:     "cold primer 2 [if-flooded]",
	} {
		v, advice := run(t, "prime", `{"aircraftType":"alder",`+request+`}`)
		assert.Equal(t, want, fmt.Sprintf("%v %v %v %v", v["engineState"], v["method"], v["amount"], advice), request)
	}
	refuse(t, "prime", `{"aircraftType":"alder","engineState":"cold","lastRunMinutes":3,"oatC":1}`, "lastRunMinutes")
	refuse(t, "prime", `{"aircraftType":"alder","oatC":1}`, "engineState")
	refuse(t, "prime", `{"aircraftType":"alder","engineState":"tepid","oatC":1}`, "engineState")
}

func TestIcing(t *testing.T) {
	for _, c := range []struct {
		oat, dew string
		humidity float64
		band     string
	}{
		{"10", "10", 100, "serious"}, {"20", "16.4", 80, "serious"}, {"20.1", "16.4", 79, "light"},
		{"21", "21", 100, "light"}, {"30", "15", 40, "light"}, {"30", "14", 38, "none"}, {"-15", "-15", 100, "none"},
	} {
		v, advice := run(t, "carb-ice", fmt.Sprintf(`{"oatC":%s,"dewPointC":%s}`, c.oat, c.dew))
		assert.Equal(t, c.humidity, v["humidityPercent"], c)
		assert.Equal(t, c.band, v["band"], c)
		assert.Contains(t, advice, "general-chart")
	}
	refuse(t, "carb-ice", `{"oatC":10,"dewPointC":10.1}`, "dewPointC")
	refuse(t, "carb-ice", `{"oatC":51,"dewPointC":10}`, "oatC")
}

func TestFuelAndHalfWay(t *testing.T) {
	for _, c := range []struct{ request, want string }{
		{`"leftL":40,"rightL":32,"burnLPerHour":24,"imbalanceMaxL":20`, "right left 70 []"},
		{`"leftL":32,"rightL":40,"burnLPerHour":24,"imbalanceMaxL":20`, "left right 70 []"},
		{`"leftL":40,"rightL":40,"burnLPerHour":24,"imbalanceMaxL":20`, "right left 50 []"},
		{`"leftL":45,"rightL":20,"burnLPerHour":24,"imbalanceMaxL":20`, "right left 82 [imbalance]"},
		{`"leftL":10,"rightL":9,"burnLPerHour":30,"imbalanceMaxL":20`, "right left 0 [change-too-soon]"},
		{
			`"leftL":40,"rightL":6,"burnLPerHour":24,"imbalanceMaxL":40,"leastStartL":8,"leastTakeOffL":16,"climbMinutes":10`,
			"left left 70 [tank-low]",
		},
		{
			`"leftL":2,"rightL":3,"burnLPerHour":24,"imbalanceMaxL":20,"leastStartL":8,"leastTakeOffL":16,"climbMinutes":10`,
			"right right 0 [no-fuel no-fuel change-too-soon]",
		},
		{
			`"leftL":15,"rightL":14,"burnLPerHour":24,"imbalanceMaxL":20,"leastStartL":8,"leastTakeOffL":16,"climbMinutes":10`,
			"right left 7 [no-fuel change-too-soon]",
		},
		{`"aircraftType":"alder","leftL":40,"rightL":32`, "right left 70 []"},
		{`"aircraftType":"alder","leftL":40,"rightL":32,"intervalMinutes":90`, "right left 70 [interval-too-long]"},
		{`"leftL":0,"rightL":30,"burnLPerHour":24,"imbalanceMaxL":40`, "right right 45 [empty-tank]"},
		{`"leftL":40,"rightL":32,"burnLPerHour":24,"imbalanceMaxL":20,"method":"fuller-first"`, "left left 70 []"},
		{`"leftL":40,"rightL":32,"burnLPerHour":24,"imbalanceMaxL":20,"method":"prove-both"`, "right left 70 []"},
		{`"leftL":40,"burnLPerHour":24`, "<nil> <nil> <nil> [one-tank]"},
	} {
		v, advice := run(t, "fuel-plan", "{"+c.request+"}")
		if advice == nil {
			advice = []string{}
		}
		assert.Equal(t, c.want,
			fmt.Sprintf("%v %v %v %v", v["startTank"], v["takeoffTank"], v["firstChangeMinutes"], advice), c.request)
	}
	refuse(t, "fuel-plan", `{"leftL":10,"rightL":9,"burnLPerHour":0,"imbalanceMaxL":20}`, "burnLPerHour")
	v, _ := run(t, "half-way-speed", `{"liftOffKt":52,"headwindKt":0}`)
	assert.Equal(t, 36.8, v["halfWayKt"])
	v, _ = run(t, "half-way-speed", `{"liftOffKt":60,"headwindKt":10}`)
	assert.Equal(t, 45.4, v["halfWayKt"])
	refuse(t, "half-way-speed", `{"liftOffKt":52,"headwindKt":52}`, "headwindKt")
}

// TestTheBrief: every sentence has its element and the sources of its numbers.
func TestTheBrief(t *testing.T) {
	brief := func(school string) []any {
		v, _ := run(t, "takeoff-brief", `{"aircraftType":"alder","runway":{"name":"20","headingDegMagnetic":198,"availableM":920},"wind":{"directionDeg":228,"speedKt":12},
			"performance":{"groundRunM":310},"school":{`+school+`},"elevationFt":412,"densityAltitudeFt":1240}`)
		return v["sentences"].([]any)
	}
	said := map[string]string{}
	for _, s := range brief(`"turnBackFt":900`) {
		one := s.(map[string]any)
		said[one["element"].(string)] = one["text"].(string)
		assert.NotEmpty(t, one["sources"], one)
	}
	for element, want := range map[string]string{
		"runway":      "Runway 20, 920 m available.",
		"wind":        "Wind 228 degrees 12 knots: headwind 10 knots, crosswind 6 knots from the right.",
		"performance": "Ground run 310 m, 920 m available.",
		"flying-by": "Flying by 388 m, or the throttle closed at 388 m. On the way, at half of the run, 155 m, " +
			"40 knots show that it goes as computed.",
		"no-runway-low": "No runway left below 900 feet, 1312 feet on the altimeter: 65 knots, straight ahead, " +
			"small turns only.",
		"who": "If anything happens: fly first, then the list. Any doubt before 388 m: stop.",
	} {
		assert.Equal(t, want, said[element])
	}
	assert.Contains(t, fmt.Sprint(brief(`"turnBackFt":null`)), "No turn back from this runway")
	refuse(t, "takeoff-brief",
		`{"aircraftType":"alder","runway":{"name":"20","headingDegMagnetic":198,"availableM":920},"wind":{"directionDeg":228,"speedKt":12},"performance":{"groundRunM":310},"school":{"turnBackFt":199},"elevationFt":412}`, "school.turnBackFt")
	refuse(t, "takeoff-brief",
		`{"aircraftType":"alder","runway":{"name":"20","headingDegMagnetic":198,"availableM":920},"wind":{"directionDeg":228,"speedKt":12},"performance":{"groundRunM":310},"school":{"turnBackFt":400,"turnBackLeastFt":500},"elevationFt":412}`, "school.turnBackFt")
	refuse(t, "takeoff-brief",
		`{"aircraftType":"alder","runway":{"name":"20","headingDegMagnetic":198,"availableM":0},"wind":{"directionDeg":228,"speedKt":12},"performance":{"groundRunM":310},"school":{"turnBackFt":900},"elevationFt":412}`, "runway.availableM")
}

// TestTheBriefSaysWhatWasGiven: each thing that is given for the runway, and
// nothing that was not.
func TestTheBriefSaysWhatWasGiven(t *testing.T) {
	brief := func(runway, wind, performance, school string) (string, []string) {
		v, advice := run(t, "takeoff-brief", `{"aircraftType":"alder","runway":{"name":"36","headingDegMagnetic":0,"availableM":920`+runway+`},"wind":`+wind+`,
			"performance":{`+performance+`},"school":{"turnBackFt":900`+school+`},"elevationFt":412}`)
		out := ""
		for _, s := range v["sentences"].([]any) {
			out += s.(map[string]any)["text"].(string) + "\n"
		}
		return out, advice
	}
	bare, _ := brief("", `{"directionDeg":0,"speedKt":8}`, "", "")
	assert.Contains(t, bare, "Wind 360 degrees")
	assert.Contains(t, bare, "Any doubt while the wheels are down: stop.")
	for _, claimed := range []string{"half", "Flying by", "Ground run", "Flaps 1", "decision speed", "to the left"} {
		assert.NotContains(t, bare, claimed)
	}
	full, advice := brief(`,"fieldAhead":"the stubble behind the brook","landmark":"the windsock","turnSide":"left"`,
		`{"directionDeg":60,"speedKt":8,"gustKt":17}`, `"groundRunM":310,"flapsDeg":10`, `,"decisionKt":45`)
	for _, said := range []string{"Flying by 388 m, the windsock, or the throttle closed at 388 m.", "Flaps 10 degrees",
		"decision speed 45 knots", "any fault below the decision speed of 45 knots",
		"small turns only, the stubble behind the brook", "a turn back may be tried to the left",
		"Any doubt before 388 m, the windsock: stop.", "crosswind 7 knots from the right, 15 in gusts"} {
		assert.Contains(t, strings.ToLower(full), strings.ToLower(said))
	}
	assert.Equal(t, []string{"crosswind"}, advice)
}

// TestWhatWasNotSaid: the student's own words are held to the numbers of each
// sentence, and nothing is claimed that nobody computed.
func TestWhatWasNotSaid(t *testing.T) {
	brief := func(performance, more string) (map[string]map[string]any, []string) {
		v, advice := run(t, "takeoff-brief", `{"aircraftType":"alder","runway":{"name":"02","headingDegMagnetic":18,"availableM":920},"wind":{"directionDeg":20,"speedKt":8},
			"performance":{`+performance+`},"school":{"turnBackFt":900},"elevationFt":412`+more+`}`)
		out := map[string]map[string]any{}
		for _, s := range v["sentences"].([]any) {
			one := s.(map[string]any)
			out[one["element"].(string)] = one
		}
		return out, advice
	}
	silent, _ := brief(`"groundRunM":310`, "")
	for element, s := range silent {
		assert.NotContains(t, s, "missing", element)
	}
	said, _ := brief(`"groundRunM":310`,
		`,"said":"Runway 2, 920 metres. Wind 020 at 8. Run 310, below 900 feet ahead at 65."`)
	assert.NotContains(t, said["runway"], "missing", "2 is 02")
	assert.NotContains(t, said["wind"], "missing", "knots are spoken whole")
	inWords, _ := brief(`"groundRunM":310,"over50FtM":600`,
		`,"said":"Runway zero two, nine hundred and twenty metres. Wind zero two zero at eight. Run three hundred ten, six hundred to fifty feet."`)
	for _, element := range []string{"runway", "wind", "performance"} {
		assert.NotContains(t, inWords[element], "missing", "numbers in words count: %s", element)
	}
	assert.NotContains(t, said["performance"], "missing")
	assert.Equal(t, []any{"1312"}, said["no-runway-low"]["missing"])
	assert.Equal(t, []any{"52", "70"}, said["speeds"]["missing"])

	long, advice := brief(`"groundRunM":950`, "")
	assert.Equal(t, "Ground run 950 m, 920 m available.", long["performance"]["text"])
	assert.NotContains(t, long, "flying-by", "a run beyond the runway is a stop, not a sentence")
	assert.Equal(t, []string{"run-too-long"}, advice)
	long, advice = brief(`"groundRunM":800`, "")
	assert.NotContains(t, long, "flying-by", "nor with its margin")
	assert.Equal(t, []string{"little-to-spare"}, advice)
	_, advice = brief(`"groundRunM":300,"over50FtM":930`, "")
	assert.Equal(t, []string{"obstacle"}, advice)
	refuse(t, "takeoff-brief",
		`{"aircraftType":"alder","runway":{"name":"02","headingDegMagnetic":18,"availableM":920},"wind":{"directionDeg":20,"speedKt":8,"gustKt":7},"performance":{"groundRunM":1},"school":{"turnBackFt":900},"elevationFt":412}`, "wind.gustKt")
}

func TestBadInputNamesItsField(t *testing.T) {
	for request, field := range map[string]string{
		`-`: "request", `[]`: "request", `{"elevationFt":1e999,"qnhHPa":1013,"oatC":1}`: "elevationFt",
		`{"elevationFt":"412","qnhHPa":1013,"oatC":1}`: "elevationFt",
		`{"elevationFt":4,"qnhHPa":1013,"oatC":99}`:    "oatC", `{"elevationFt":4,"qnhHPa":10,"oatC":9}`: "qnhHPa",
		`{"elevationFt":4,"oatC":9}`:                                    "qnhHPa",
		`{"elevationFt":4,"qnhHPa":1013,"altimeterInHg":29.9,"oatC":9}`: "altimeterInHg",
		`{"elevationFt":4,"qnhHPa":1013,"oatC":9,"oatF":1}`:             "oatF",
	} {
		refuse(t, "altitudes", request, field)
	}
	refuse(t, "song", `{}`, "calculator")
}

// BenchmarkCalc measures an answer of the wind and a parsed report, against the
// floor of reading and writing the same request as JSON.
func BenchmarkCalc(b *testing.B) {
	wind := []byte(`{"directionDeg":230,"speedKt":14,"gustKt":22,"reference":"true","variationDegEast":3,"runways":[{"name":"20","headingDegMagnetic":198},{"name":"02","headingDegMagnetic":18}],"limits":{"crosswindKt":12,"tailwindKt":5}}`)
	report := []byte(`{"text":"METAR XTHW 241150Z 21014G24KT 180V250 9999 -RA SCT014 BKN022 09/06 Q1009 NOSIG RMK QUIET"}`)
	for name, request := range map[string][]byte{"wind": wind, "metar": report} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				_, err := calc.Run(name, request, tables)
				require.NoError(b, err)
			}
		})
		b.Run(name+"-json", func(b *testing.B) {
			for b.Loop() {
				var v any
				require.NoError(b, json.Unmarshal(request, &v))
				_, err := json.Marshal(v)
				require.NoError(b, err)
			}
		})
	}
}

func FuzzRun(f *testing.F) {
	f.Add("wind", []byte(`{"directionDeg":null,"speedKt":1e3}`))
	f.Add("metar", []byte(`{"text":"XTHW 1 1/0SM"}`))
	f.Add("wind", []byte(`{"":0}`))
	f.Add("wind", []byte(`{"runways":`+strings.Repeat("[", 50_000)))
	f.Add("fuel-plan", []byte(`{"leftL":-0,"rightL":9e18,"burnLPerHour":0.1,"imbalanceMaxL":1}`))
	f.Fuzz(func(t *testing.T, name string, request []byte) {
		var out []byte
		var err error
		parsertest.Run(t, request, func() { out, err = calc.Run(name, request, tables) })
		var input form.Problem
		if err != nil {
			require.ErrorAs(t, err, &input)
			require.NotEmpty(t, input.Field)
			return
		}
		require.True(t, json.Valid(out))
	})
}

// TestTheStandardDayIsNoAltitude: the setting counts to a hundredth.
func TestTheStandardDayIsNoAltitude(t *testing.T) {
	for _, setting := range []string{`"qnhHPa":1013.25`, `"qnhHPa":1013.250`} {
		v, _ := run(t, "altitudes", `{"elevationFt":0,`+setting+`,"oatC":15}`)
		assert.Equal(t, []any{0.0, 0.0}, []any{v["pressureAltitudeFt"], v["densityAltitudeFt"]}, setting)
	}
	v, _ := run(t, "altitudes", `{"elevationFt":0,"altimeterInHg":29.92,"oatC":15}`)
	assert.Equal(t, 1.0, v["pressureAltitudeFt"])
}

// TestAVariableWindCountsWhole: as cross and as tail, though its steady part is
// nothing.
func TestAVariableWindCountsWhole(t *testing.T) {
	v, advice := run(t, "wind", `{"directionDeg":null,"speedKt":0,"gustKt":14,"reference":"magnetic","variationDegEast":0,
		"runways":[{"name":"20","headingDegMagnetic":198}],"limits":{"crosswindKt":12,"tailwindKt":5}}`)
	assert.Nil(t, v["best"])
	assert.Contains(t, advice, "no-runway")
	one := v["runways"].([]any)[0].(map[string]any)
	assert.Equal(t, []any{-14.0, 14.0}, []any{one["gustHeadwindKt"], one["gustCrosswindKt"]})
}
