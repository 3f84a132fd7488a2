//go:build !js

// Package main's tests run the browser's build of the rules under Node and
// hold it to the native one, byte for byte.
package main_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/calc"
	"jetprimer/core/check"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/quantity"
)

// corpus lists requests around every limit of the Alder 110: each number just
// inside, at and just outside, first and second try.
func corpus() (cases [][2]string) {
	add := func(name, format string, args ...any) {
		for attempt := 1; attempt <= 2; attempt++ {
			reading := fmt.Sprintf(format, args...)
			for _, conditions := range []string{
				`{}`,
				`{"rules":"VFR","night":false,"elevationFt":412,"qnhHPa":1013.2,"engineState":"cold","oatC":-7.1}`,
			} {
				cases = append(cases, [2]string{
					name,
					fmt.Sprintf(`{"aircraftType":"alder-110","attempt":%d,"reading":%s,"conditions":%s}`, attempt,
						reading, conditions),
				})
			}
		}
	}
	for _, left := range []string{"1619", "1619.5", "1620", "1690", "1730", "1731", "1750", "1760"} {
		for _, rough := range []bool{false, true} {
			add("magneto",
				`{"unit":"rpm","base":1750,"left":%s,"bothAfterLeft":1750,"right":1690,"bothAfterRight":1724,"roughLeft":%v,"roughRight":false,"stoppedLeft":false,"stoppedRight":false,"secondsHeldLeft":1.9}`, left, rough)
		}
	}
	for _, v := range []string{"4.4", "4.44", "4.45", "4.5", "5.4", "5.5", "1e0", "49e-1"} {
		add("suction", `{"inHg":%s}`, v)
	}
	for _, v := range []string{"12.4", "13.14", "13.15", "14.8", "14.85"} {
		add("charging", `{"meter":"battery","sides":[{"volts":%s,"amps":-0.04}]}`, v)
	}
	for _, v := range []string{"24.99", "25", "54.99", "95.01", "115.01"} {
		add("gauges", `{"oilPressure":%s,"oilTemperature":20}`, v)
	}
	for _, v := range []string{"549", "550", "750", "751"} {
		add("idle", `{"rpm":%s,"seconds":5,"stopped":false}`, v)
		add("carb-heat", `{"base":1750,"hot":1%s,"coldAfter":1775}`, v)
	}
	for _, v := range []string{"30", "30.1", "60", "60.1", "null"} {
		add("piston-start",
			`{"attempts":[{"crankSeconds":11,"restSeconds":3},{"crankSeconds":3,"restSeconds":0}],"fired":true,"rpmPeak":1201,"secondsToOilPressure":%s,"starterLampOut":true,"chargeRestored":true}`, v)
	}
	for _, v := range []string{"29.92", "29.93", "1013", "1013.6", "1012.7"} {
		add("altimeter", `{"altimeters":[{"setting":%s,"indicatedFt":487},{"setting":1013.2,"indicatedFt":340}]}`, v)
	}
	add("magneto", `{"unit":"rpm"}`)
	add("suction", `{"inHg":"low"}`)
	add("unheard-of", `{}`)
	return cases
}

// sums are requests of every calculator, with bad ones among them.
var sums = [][2]string{
	{"altitudes", `{"elevationFt":412,"qnhHPa":1013.25,"oatC":15}`},
	{"altitudes", `{"elevationFt":412,"altimeterInHg":29.92,"oatC":30}`},
	{"altitudes", `{"elevationFt":-100,"qnhHPa":1040,"oatC":-30}`},
	{"altitudes", `{"elevationFt":5200,"qnhHPa":1000,"oatC":35.5}`},
	{"altitudes", `{"elevationFt":412,"qnhHPa":1013,"altimeterInHg":29.92,"oatC":30}`},
	{"altitudes", `{"elevationFt":412,"oatC":30}`},
	{"altitudes", `{"elevationFt":1e999,"qnhHPa":1013,"oatC":1}`},
	{"altitudes", `{"elevationFt":"412 ft","qnhHPa":1013,"oatC":1}`},
	{
		"wind",
		`{"directionDeg":230,"speedKt":14,"gustKt":22,"reference":"true","variationDegEast":3,"runways":[{"name":"20","headingDegMagnetic":198},{"name":"02","headingDegMagnetic":18}],"limits":{"crosswindKt":12,"tailwindKt":5}}`,
	},
	{
		"wind",
		`{"directionDeg":null,"speedKt":4,"reference":"magnetic","variationDegEast":0,"runways":[{"name":"20","headingDegMagnetic":198}],"limits":{"crosswindKt":12,"tailwindKt":5}}`,
	},
	{
		"wind",
		`{"directionDeg":0,"speedKt":0,"reference":"magnetic","variationDegEast":0,"runways":[{"name":"20","headingDegMagnetic":198},{"name":"02","headingDegMagnetic":18}],"limits":{"crosswindKt":12,"tailwindKt":5}}`,
	},
	{
		"wind",
		`{"directionDeg":110,"speedKt":25,"reference":"magnetic","variationDegEast":0,"runways":[{"name":"20","headingDegMagnetic":198}],"limits":{"crosswindKt":12,"tailwindKt":5}}`,
	},
	{
		"wind",
		`{"directionDeg":110,"speedKt":25,"gustKt":20,"reference":"magnetic","variationDegEast":0,"runways":[{"name":"20","headingDegMagnetic":198}],"limits":{"crosswindKt":12,"tailwindKt":5}}`,
	},
	{
		"wind",
		`{"directionDeg":361,"speedKt":25,"reference":"magnetic","variationDegEast":0,"runways":[],"limits":{"crosswindKt":12,"tailwindKt":5}}`,
	},
	{"metar", `{"text":"METAR XTHW 241150Z 21014G24KT 180V250 9999 -RA SCT014 BKN022 09/06 Q1009 NOSIG RMK QUIET"}`},
	{"metar", `{"text":"XSTB 241150Z VRB02MPS 1 1/2SM BR OVC004 M01/M02 A2992"}`},
	{"metar", `{"text":"XTHW 00000KT CAVOK 21/10 Q1024="}`},
	{"metar", `{"text":"hello 99999Z ///// 12KT"}`}, {"metar", `{"text":""}`}, {"metar", `{}`},
	{"carb-ice", `{"oatC":10,"dewPointC":8}`}, {"carb-ice", `{"oatC":30,"dewPointC":20}`},
	{"carb-ice", `{"oatC":-20,"dewPointC":-21}`}, {"carb-ice", `{"oatC":5,"dewPointC":6}`},
	{"prime", `{"aircraftType":"alder-110","engineState":"cold","oatC":-15}`},
	{"prime", `{"aircraftType":"alder-110","lastRunMinutes":25,"oatC":12}`},
	{"prime", `{"aircraftType":"alder-110","lastRunMinutes":26,"oatC":12}`},
	{"prime", `{"aircraftType":"rowan-180i","engineState":"hot","oatC":30}`},
	{"prime", `{"aircraftType":"larch-d2","engineState":"cold","oatC":3}`},
	{"prime", `{"aircraftType":"kestrel","engineState":"cold","oatC":3}`},
	{"power-limit", `{"aircraftType":"willow-t5","pressureAltitudeFt":1500,"oatC":17.5}`},
	{"power-limit", `{"aircraftType":"juniper-h2","pressureAltitudeFt":2000,"oatC":20}`},
	{"power-limit", `{"aircraftType":"willow-t5","pressureAltitudeFt":-2000,"oatC":-60}`},
	{"power-limit", `{"aircraftType":"willow-t5","pressureAltitudeFt":99999,"oatC":20}`},
	{"fuel-plan", `{"leftL":40,"rightL":32,"burnLPerHour":24,"imbalanceMaxL":20}`},
	{"fuel-plan", `{"leftL":0,"rightL":32,"burnLPerHour":24,"imbalanceMaxL":20}`},
	{"fuel-plan", `{"leftL":10,"rightL":10,"burnLPerHour":0,"imbalanceMaxL":20}`},
	{"half-way-speed", `{"liftOffKt":52,"headwindKt":8}`}, {"half-way-speed", `{"liftOffKt":52,"headwindKt":-5.5}`},
	{"half-way-speed", `{"liftOffKt":52,"headwindKt":52}`},
	{"half-way-speed", `{"liftOffKt":52,"headwindKt":8,"extra":1}`},
	{"takeoff-brief", brief("alder-110", `"turnBackFt":900`)},
	{"takeoff-brief", brief("hornbeam-twin", `"turnBackFt":null`)},
	{"takeoff-brief", brief("juniper-h2", `"turnBackFt":null,"flies":"I","troubleshoots":"you"`)},
	{"takeoff-brief", brief("alder-110", `"turnBackFt":-1`)}, {"unheard-of", `{}`}, {"altitudes", `[]`},
	{"altitudes", `-`},
}

func brief(aircraftType, school string) string {
	return fmt.Sprintf(`{"aircraftType":%q,"runway":{"name":"20","headingDegMagnetic":198,"availableM":920,"surface":"asphalt"},"wind":{"directionDeg":220,"speedKt":12,"gustKt":18},
		"performance":{"groundRunM":310,"over50FtM":560,"flapsDeg":10},"school":{%s},"elevationFt":412,"densityAltitudeFt":1240}`, aircraftType, school)
}

// build compiles the rules for the browser and returns a function that asks
// them, in one run of Node, for the raw answers to calls.
func build(t testing.TB) func(calls [][]string) []string {
	dir := t.TempDir()
	compile := exec.Command("go", "build", "-o", filepath.Join(dir, "rules.wasm"), ".")
	compile.Env = append(os.Environ(), "GOOS=js", "GOARCH=wasm")
	out, err := compile.CombinedOutput()
	require.NoError(t, err, string(out))
	goroot, err := exec.Command("go", "env", "GOROOT").Output()
	require.NoError(t, err)
	script := fmt.Sprintf(`
		const fs = require('fs'); require(%q)
		const go = new Go()
		WebAssembly.instantiate(fs.readFileSync(%q), go.importObject).then(({ instance }) => {
			go.run(instance)
			const calls = JSON.parse(fs.readFileSync(0, 'utf8'))
			fs.writeFileSync(1, JSON.stringify(calls.map(([name, ...args]) => jetprimerRules[name](...args))))
			process.exit(0)
		})`, filepath.Join(strings.TrimSpace(string(goroot)), "lib/wasm/wasm_exec.js"),
		filepath.Join(dir, "rules.wasm"))
	return func(calls [][]string) []string {
		stdin, err := json.Marshal(calls)
		require.NoError(t, err)
		node := exec.Command("node", "-e", script)
		node.Stdin = strings.NewReader(string(stdin))
		node.Stderr = os.Stderr
		stdout, err := node.Output()
		require.NoError(t, err)
		var answers []string
		require.NoError(t, json.Unmarshal(stdout, &answers))
		return answers
	}
}

// golden holds the native answers to those that were kept when a person last
// read them. With UPDATE_GOLDEN set they are kept anew.
func golden(t *testing.T, answers []string) {
	const file = "testdata/verdicts.jsonl"
	text := strings.Join(answers, "\n") + "\n"
	if os.Getenv("UPDATE_GOLDEN") != "" {
		require.NoError(t, os.WriteFile(file, []byte(text), 0o644))
	}
	kept, err := os.ReadFile(file)
	require.NoError(t, err)
	lines := strings.Split(strings.TrimSuffix(string(kept), "\n"), "\n")
	require.Len(t, answers, len(lines), "as many answers as are kept")
	different := 0
	for i := range answers {
		if answers[i] != lines[i] && different < 5 {
			different++
			assert.Equal(t, lines[i], answers[i], "answer %d", i+1)
		}
	}
	assert.Zero(t, different,
		"the rules answer differently: raise RulesVersion, then keep the new answers with UPDATE_GOLDEN=1")
}

// said is the browser's answer with core's: its bytes, or its error with the field.
func said(answer []byte, err error) string {
	if err == nil {
		return `{"ok":` + string(answer) + `}`
	}
	out := map[string]string{"error": err.Error()}
	var input form.Problem
	if errors.As(err, &input) {
		out["field"], out["reason"] = input.Field, input.Reason
	}
	text, _ := json.Marshal(out)
	return string(text)
}

func TestBrowserGivesTheSameBytes(t *testing.T) {
	ask := build(t)
	c, err := catalog.Shipped()
	require.NoError(t, err)
	alder, _ := c.Type("alder-110")
	typeJSON, err := json.Marshal(alder)
	require.NoError(t, err)

	var calls [][]string
	var want []string
	for _, request := range corpus() {
		calls = append(calls, []string{"check", request[0], request[1], string(typeJSON)})
		verdict, err := check.Run(request[0], []byte(request[1]), c.Type)
		want = append(want, said(verdict, err))
	}
	ask1 := func(name string, args []string, answer []byte, err error) {
		calls = append(calls, append([]string{name}, args...))
		want = append(want, said(answer, err))
	}
	typeOf := func(id string) string {
		typ, _ := c.Type(id)
		data, err := json.Marshal(typ)
		require.NoError(t, err)
		return string(data)
	}
	var newest []aircraft.Type
	for _, t := range c.Types {
		if n, _ := c.Type(t.ID); n.Version == t.Version {
			newest = append(newest, t)
		}
	}
	for _, e := range check.Corpus(newest) {
		verdict, err := check.Run(e.Check, e.Request, c.Type)
		ask1("check", []string{e.Check, string(e.Request), typeOf(e.AircraftType)}, verdict, err)
	}
	icing, err := json.Marshal(c.Icing)
	require.NoError(t, err)
	for _, s := range sums {
		var named struct{ AircraftType string }
		_ = json.Unmarshal([]byte(s[1]), &named)
		answer, err := calc.Run(s[0], []byte(s[1]), c.Tables())
		ask1("calc", []string{s[0], s[1], typeOf(named.AircraftType), string(icing)}, answer, err)
	}
	assert.Greater(t, len(calls), 600)
	golden(t, want)

	list, _ := c.ListFor("alder-110")
	book := lesson.Book{Type: alder, List: list}
	bookJSON, err := json.Marshal(book)
	require.NoError(t, err)
	data, err := os.ReadFile("testdata/lesson.jsonl")
	require.NoError(t, err)
	var events []lesson.Event
	for _, line := range strings.Split(strings.TrimSpace(string(data)), "\n") {
		var e lesson.Event
		require.NoError(t, json.Unmarshal([]byte(line), &e))
		events = append(events, e)
	}
	half := len(events) / 2
	first, _ := json.Marshal(events[half:]) // the later half arrives first
	second, _ := json.Marshal(events[:half])
	calls = append(calls, []string{"open", string(bookJSON), string(first), `"tablet"`},
		[]string{"add", string(second)})
	l := lesson.NewSession(lesson.New(book))
	shown := func(part []lesson.Event, more string) {
		answers, err := json.Marshal(l.Add(part...))
		require.NoError(t, err)
		state := l.State()
		text, err := json.Marshal(state)
		require.NoError(t, err)
		want = append(want,
			fmt.Sprintf(`{"ok":{"answers":%s,"state":%s,"live":%d,"counter":%d%s}}`, answers, text, l.Live(state),
				l.LastCounter(), more))
	}
	rows, err := json.Marshal(l.Rows())
	require.NoError(t, err)
	heard, err := json.Marshal(lesson.BriefElements(alder))
	require.NoError(t, err)
	listed, err := json.Marshal(book.List)
	require.NoError(t, err)
	shown(events[half:], `,"rows":`+string(rows)+`,"brief":`+string(heard)+`,"list":`+string(listed))
	shown(events[:half], "")
	field, _ := json.Marshal(c.Aerodromes[0])
	for _, units := range []quantity.Units{
		{}, {Temperature: "°F", Pressure: "inHg", Volume: "gal", Height: "m", Length: "ft", Speed: "mph"},
	} {
		chosen, _ := json.Marshal(units)
		ask1("units", []string{string(chosen)}, []byte("null"), nil)
		l.Units = units
		state := l.State()
		for _, r := range l.Rows() {
			if r.Kind == "item" || r.Kind == "critical" {
				continue
			}
			for _, draft := range []form.Draft{nil, {}} {
				panel, err := l.Panel(state, r.Item, draft)
				require.NoError(t, err, r.Item)
				text, err := json.Marshal(panel)
				require.NoError(t, err)
				typed, _ := json.Marshal(draft)
				ask1("panel", []string{`"` + r.Item + `"`, string(typed)}, text, nil)
			}
		}
		fixes, _ := json.Marshal(l.ToFix(state, map[string]lesson.Tally{"magnetos": {Lessons: 4, Low: 2}}))
		ask1("fixes", []string{`{"magnetos":{"lessons":4,"low":2}}`}, fixes, nil)
		fresh := calc.FreshDay(units)
		begun, _ := json.Marshal(fresh)
		ask1("fresh", nil, begun, nil)
		ask1("say", []string{`"It is 34 °C, the wind 8 kt."`}, []byte(`"`+units.Say("It is 34 °C, the wind 8 kt.")+`"`),
			nil)
		fresh.Report, fresh.Run, fresh.Left, fresh.Right = "XTHW 241150Z 20008KT 9999 FEW040 34/12 Q0996", "420", "40", "32"
		typed, _ := json.Marshal(fresh)
		for _, typ := range newest {
			sheet, err := json.Marshal(calc.PlanDay(fresh, typ, []string{}, c.Aerodromes[0], c.Icing))
			require.NoError(t, err)
			ask1("day", []string{string(typed), typeOf(typ.ID), "[]", string(field), string(icing)}, sheet, nil)
		}
	}

	got := ask(calls)
	require.Len(t, got, len(want))
	for i := range want {
		assert.Equal(t, want[i], got[i], strings.Join(calls[i][:min(2, len(calls[i]))], " "))
	}
	t.Logf("%d answers alike on %s and js/wasm", len(got), runtime.GOARCH)
}

// BenchmarkVerdictInTheBrowser measures a turbine start's verdict as the
// browser's build gives it under Node, and in the same run natively; it reports
// both and their ratio.
func BenchmarkVerdictInTheBrowser(b *testing.B) {
	c, err := catalog.Shipped()
	require.NoError(b, err)
	willow, _ := c.Type("willow-t5")
	reading, conditions, _ := check.Example("turbine-start", willow, nil, 0)
	request, err := json.Marshal(map[string]any{"aircraftType": willow.ID, "reading": reading, "conditions": conditions})
	require.NoError(b, err)
	ask := build(b)
	calls := func(n int) [][]string {
		typ, err := json.Marshal(willow)
		require.NoError(b, err)
		var out [][]string
		for range n {
			out = append(out, []string{"check", "turbine-start", string(request), string(typ)})
		}
		return out
	}
	const few, many = 100, 4100
	var wasm, native time.Duration
	for b.Loop() {
		begun := time.Now()
		ask(calls(few))
		start := time.Since(begun)
		begun = time.Now()
		ask(calls(many))
		wasm += time.Since(begun) - start
		begun = time.Now()
		for range many - few {
			_, err := check.Run("turbine-start", request, c.Type)
			require.NoError(b, err)
		}
		native += time.Since(begun)
	}
	each := float64(b.N) * (many - few)
	b.ReportMetric(float64(wasm.Nanoseconds())/each, "ns/verdict-wasm")
	b.ReportMetric(float64(native.Nanoseconds())/each, "ns/verdict-native")
	b.ReportMetric(float64(wasm)/float64(native), "ratio")
	b.ReportMetric(0, "ns/op")
}
