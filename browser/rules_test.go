//go:build !js

// Package main's tests run the browser's build of the rules under Node and
// hold it to the native one, byte for byte.
package main_test

import (
	"encoding/json"
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

	"jetprimer/browser/bridge"
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

// calls are what a page asks, a call after the other: the name of a function and the JSON
// text of its arguments.
type calls [][]string

// ask adds a call with values.
func (c *calls) ask(t testing.TB, name string, args ...any) {
	call := []string{name}
	for _, a := range args {
		call = append(call, text(t, a))
	}
	*c = append(*c, call)
}

// text is the JSON text of a value.
func text(t testing.TB, v any) string {
	out, err := json.Marshal(v)
	require.NoError(t, err)
	return string(out)
}

// natively answers the calls on one bridge of this machine.
func (c calls) natively(t testing.TB) []string {
	page, functions := &bridge.Bridge{}, map[string]bridge.Function{}
	for _, f := range bridge.Functions() {
		functions[f.Name] = f
	}
	var out []string
	for _, call := range c {
		f, known := functions[call[0]]
		require.True(t, known, call[0])
		out = append(out, page.Ask(f, call[1:]))
	}
	return out
}

// alike asks the calls of the browser's build too, and holds its answers to those here.
func (c calls) alike(t testing.TB) []string {
	here := c.natively(t)
	there := build(t)(c)
	require.Len(t, there, len(here))
	for i := range here {
		if here[i] != there[i] {
			t.Errorf("%.200s\n       here %.400s\nin a browser %.400s", strings.Join(c[i], " "), here[i], there[i])
		}
	}
	t.Logf("%d answers alike on %s and js/wasm", len(here), runtime.GOARCH)
	return here
}

func TestBrowserGivesTheSameBytes(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	typeOf := func(id string) string {
		typ, _ := c.Type(id)
		return text(t, typ)
	}
	alder, _ := c.Type("alder-110")
	var asked calls
	for _, request := range corpus() {
		asked = append(asked, []string{"check", request[0], request[1], text(t, alder)})
	}
	var newest []aircraft.Type
	for _, t := range c.Types {
		if n, _ := c.Type(t.ID); n.Version == t.Version {
			newest = append(newest, t)
		}
	}
	for _, e := range check.Corpus(newest) {
		asked = append(asked, []string{"check", e.Check, string(e.Request), typeOf(e.AircraftType)})
	}
	for _, s := range sums {
		var named struct{ AircraftType string }
		_ = json.Unmarshal([]byte(s[1]), &named)
		asked = append(asked, []string{"calc", s[0], s[1], typeOf(named.AircraftType), text(t, c.Icing)})
	}
	for i := range asked {
		asked[i][1] = text(t, asked[i][1]) // the name; the request goes as the bytes that it is
	}
	assert.Greater(t, len(asked), 600)
	kept := len(asked)

	list, _ := c.ListFor("alder-110")
	book := lesson.Book{Type: alder, List: list}
	data, err := os.ReadFile("testdata/lesson.jsonl")
	require.NoError(t, err)
	var events []lesson.Event
	for _, line := range strings.Split(strings.TrimSpace(string(data)), "\n") {
		var e lesson.Event
		require.NoError(t, json.Unmarshal([]byte(line), &e))
		events = append(events, e)
	}
	half := len(events) / 2
	asked.ask(t, "open", book, events[half:], "tablet") // the later half arrives first
	asked.ask(t, "add", events[:half])
	whole := lesson.New(book)
	whole.Add(events...)
	for _, units := range []quantity.Units{
		{}, {Temperature: "°F", Pressure: "inHg", Volume: "gal", Height: "m", Length: "ft", Speed: "mph"},
	} {
		asked.ask(t, "units", units)
		for _, r := range lesson.NewSession(lesson.New(book)).Rows() {
			if r.Kind != "item" && r.Kind != "critical" {
				asked.ask(t, "panel", r.Item, nil)
				asked.ask(t, "panel", r.Item, form.Draft{})
			}
		}
		asked.ask(t, "fixes", map[string]lesson.Tally{"magnetos": {Lessons: 4, Low: 2}})
		asked.ask(t, "fresh")
		asked.ask(t, "say", "It is 34 °C, the wind 8 kt.")
		asked.ask(t, "strip")
		asked.ask(t, "phases")
		asked.ask(t, "seen")
		asked.ask(t, "sum", whole.State())
		asked.ask(t, "at", 60_000.4)
		day := calc.FreshDay(units)
		day.Report, day.Run, day.Left, day.Right = "XTHW 241150Z 20008KT 9999 FEW040 34/12 Q0996", "420", "40", "32"
		for _, typ := range newest {
			asked.ask(t, "day", day, typ, []string{}, c.Aerodromes[0], c.Icing)
			asked.ask(t, "limits", typ)
			asked.ask(t, "sheet", typ, nil)
		}
	}
	golden(t, asked.alike(t)[:kept])
}

// BenchmarkVerdictInTheBrowser measures a turbine start's verdict as the
// browser's build gives it under Node, and in the same run natively; it reports
// both and their ratio.
func BenchmarkVerdictInTheBrowser(b *testing.B) {
	c, err := catalog.Shipped()
	require.NoError(b, err)
	willow, _ := c.Type("willow-t5")
	reading, conditions, _ := check.Example("turbine-start", willow, nil, 0)
	request, err := json.Marshal(
		map[string]any{"aircraftType": willow.ID, "reading": reading, "conditions": conditions})
	require.NoError(b, err)
	ask := build(b)
	calls := func(n int) [][]string {
		typ, err := json.Marshal(willow)
		require.NoError(b, err)
		var out [][]string
		for range n {
			out = append(out, []string{"check", `"turbine-start"`, string(request), string(typ)})
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
