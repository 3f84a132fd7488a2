package exchange_test

import (
	"bytes"
	"errors"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/form"
	"jetprimer/core/recorder"
	"jetprimer/exchange"
	"jetprimer/internal/parsertest"
)

// recorded is a made-up recording of an Alder with one run-up, as a file with its map.
func recorded(t require.TestingT) (string, exchange.RecorderMap, *catalog.Catalog) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	typ, _ := c.Type("alder-110")
	var b bytes.Buffer
	m, err := exchange.WriteRecording(&b,
		recorder.Make(typ, recorder.Making{Seed: 2, Interval: 1, Noise: 0.001, RunUps: 1}).Track, typ)
	require.NoError(t, err)
	return b.String(), m, c
}

func found(t *testing.T, c *catalog.Catalog, text string, m exchange.RecorderMap) ([]recorder.Found,
	[]recorder.Skipped) {
	file, err := exchange.ReadRecording(strings.NewReader(text), m)
	require.NoError(t, err)
	runs, err := file.Judge(c.Type)
	require.NoError(t, err)
	return runs, file.Skipped
}

// each changes the cells of every row but the first.
func each(text string, change func(n int, cells []string) []string) string {
	lines := strings.Split(strings.TrimSpace(text), "\n")
	for i, line := range lines[1:] {
		lines[i+1] = strings.Join(change(i, strings.Split(line, ",")), ",")
	}
	return strings.Join(lines, "\n") + "\n"
}

// TestARecordingIsReadAsItIsWritten: by whatever recorder. Other units, times,
// separators and words for nothing give the same readings.
func TestARecordingIsReadAsItIsWritten(t *testing.T) {
	text, m, c := recorded(t)
	want, skipped := found(t, c, text, m)
	require.Len(t, want, 1)
	require.Len(t, want[0].Checks, 4)
	assert.Empty(t, skipped)
	assert.Contains(t, string(want[0].Verdicts[0]), `"check":"magneto","outcome":"normal"`)
	same := func(what, text string, m exchange.RecorderMap) []recorder.Found {
		runs, skipped := found(t, c, text, m)
		require.Len(t, runs, 1, what)
		assert.Equal(t, want[0].Checks, runs[0].Checks, what)
		assert.Empty(t, skipped, what)
		return runs
	}
	clock := each(text, func(n int, cells []string) []string {
		s := 23*3600 + 59*60 + n
		cells[0] = fmt.Sprintf("%02d:%02d:%02d", s/3600%24, s/60%60, s%60)
		return cells
	})
	runs := same("over midnight", clock, m)
	assert.Regexp(t, `^23:59:\d\d$|^00:0\d:\d\d$`, runs[0].Start)
	dated := m
	dated.Date = "Day"
	same("a date of its own", strings.Replace(each(clock, func(n int, cells []string) []string {
		return append(cells, map[bool]string{true: "2026-11-24", false: "2026-11-25"}[n < 60])
	}), "\n", ",Day\n", 1), dated)
	same("semicolons, decimal commas and a preamble",
		"# recorder 7\n\n"+strings.NewReplacer(",", ";", ".", ",").Replace(text), m)
	fahrenheit := strings.Replace(each(text, func(_ int, cells []string) []string {
		var oil float64
		_, _ = fmt.Sscan(cells[4], &oil)
		cells[4] = fmt.Sprint(oil*1.8 + 32)
		return cells
	}), "E1 OilT (C)", "E1 OilT [deg F]", 1)
	same("Fahrenheit in the header", fahrenheit, m)
	own := m
	own.Units = map[string]string{"E1 OilT": "F"}
	same("Fahrenheit in the map", strings.Replace(fahrenheit, "E1 OilT [deg F]", "E1 OilT", 1), own)
	same("words for nothing", each(text, func(n int, cells []string) []string {
		cells[5] = []string{"", "---", "NaN", "n/a"}[n%4]
		return cells
	}), m)
}

// TestWhatARecordingLacks: a value that is none and a time that goes back are told,
// with their line, and the rest is used; a gap in the run-up leaves it unmeasured.
func TestWhatARecordingLacks(t *testing.T) {
	text, m, c := recorded(t)
	runs, skipped := found(t, c, each(text, func(n int, cells []string) []string {
		if n == 4 {
			cells[2] = "65O"
		}
		return cells
	}), m)
	assert.Len(t, runs, 1)
	assert.Equal(t, []recorder.Skipped{{Line: 6, Why: `E1 RPM is "65O", which is no number`}}, skipped)

	twice := text + text[strings.IndexByte(text, '\n')+1:]
	runs, skipped = found(t, c, twice, m)
	assert.Len(t, runs, 2, "the recorder was switched on again")
	require.Len(t, skipped, 1)
	assert.Equal(t, "the time goes back: a new recording begins", skipped[0].Why)

	lines := strings.Split(text, "\n")
	runs, _ = found(t, c, strings.Join(append(append([]string{}, lines[:64]...), lines[90:]...), "\n"), m)
	for _, r := range runs {
		for _, check := range r.Checks {
			assert.NotContains(t, string(check), "bothAfterRight", "its second side fell into the gap")
		}
	}

	for bad, want := range map[string]string{
		"":                            `line 1 and those behind it do not name the column "Time"`,
		"a,b\n1,2\n":                  `line 1 and those behind it do not name the column "Time"`,
		"Time (s),GndSpd (kt)\n1,2\n": `line 1 does not name the column "E1 RPM"`,
		strings.Replace(text, "(kt)", "(furlongs)",
			1): "line 1 GndSpd has a unit that is not known",
		text[:strings.IndexByte(text, '\n')+1]:                                               "file holds no sample",
		each(text, func(_ int, cells []string) []string { cells[2] = "x"; return cells }):    `line 2 E1 RPM cannot be used: E1 RPM is "x"`,
		each(text, func(_ int, cells []string) []string { cells[0] = "soon"; return cells }): `line 2 Time cannot be used: its time is "soon"`,
	} {
		_, err := exchange.ReadRecording(strings.NewReader(bad), m)
		var input form.Problem
		if assert.ErrorAs(t, err, &input, want) {
			assert.Contains(t, err.Error(), want)
		}
	}
}

func TestAMapIsHeldToItsFields(t *testing.T) {
	for text, want := range map[string]string{
		"type: alder-110\nspeed: x\n":                            "line 2",
		"time: T\nengines: [{speed: R}]\n":                       "type is missing",
		"type: a\nengines: [{speed: R}]\n":                       "time is missing",
		"type: a\ntime: T\n":                                     "engines must be 1 to 4",
		"type: a\ntime: T\nengines: [{}]\n":                      "engines[0] needs the column of its speed",
		"type: a\ntime: T\nfirst: both\nengines: [{speed: R}]\n": `first is "both"`,
	} {
		_, err := exchange.ReadRecorderMap("m.yaml", []byte(text))
		assert.ErrorContains(t, err, want)
	}
	m, err := exchange.ReadRecorderMap("m.yaml",
		[]byte("type: alder-110\ntime: Time\nfirst: right\nunits: {OilT: F}\nengines:\n  - {speed: RPM, exhaust: "+
			"[E1, E2]}\n"))
	require.NoError(t, err)
	assert.Equal(t, []string{"E1", "E2"}, m.Engines[0].Exhaust)
}

// FuzzRecording: any file gives samples, or an error that says where.
func FuzzRecording(f *testing.F) {
	text, m, c := recorded(f)
	f.Add(text[:2000])
	f.Add("Time;E1 RPM;GndSpd;E1 MAP;E1 OilT;E1 OilP;E1 EGT1;E1 EGT2;E1 EGT3;E1 " +
		"EGT4\n00:00:01;1750,5;0;18;70;60;1;2;3;4\n")
	typ, _ := c.Type("alder-110")
	f.Fuzz(func(t *testing.T, text string) {
		var file recorder.File
		var err error
		parsertest.Run(t, []byte(text), func() { file, err = exchange.ReadRecording(strings.NewReader(text), m) })
		var input form.Problem
		if err != nil {
			if !errors.As(err, &input) {
				t.Fatalf("%v", err)
			}
			return
		}
		for i := 1; i < len(file.Seconds); i++ {
			if !(file.Seconds[i] > file.Seconds[i-1]) {
				t.Fatal("the time does not rise")
			}
		}
		parsertest.Run(t, []byte(text), func() { recorder.RunUps(file.Track, typ, file.Options) })
	})
}

// TestARecorderIsMappedByItsNames: for every type with an ignition check, of names
// that most recorders use, and of a file whose units stand in a line of their own.
func TestARecorderIsMappedByItsNames(t *testing.T) {
	_, _, c := recorded(t)
	for _, typ := range c.Types {
		if typ.Ignition == "none" {
			continue
		}
		var b bytes.Buffer
		m, err := exchange.WriteRecording(&b,
			recorder.Make(typ, recorder.Making{Seed: 2, Interval: 1, RunUps: 1}).Track, typ)
		require.NoError(t, err)
		columns, err := exchange.RecordingColumns(&b)
		require.NoError(t, err)
		assert.Equal(t, m, exchange.GuessRecorderMap(columns, typ), typ.ID)
	}
	typ, _ := c.Type("alder-110")
	columns, err := exchange.RecordingColumns(strings.NewReader("\ufeff#log, 7\nDate;Local Time;GS;Eng 1 RPM;Oil " +
		"Temp;Oil Press;MP;EGT 1;EGT 2\nd;h;kt;rpm;F;psi;inHg;F;F\n2026-11-24;10:00:00;0,5;1200;120;60;18,2;900;910\n"))
	require.NoError(t, err)
	assert.Equal(t,
		exchange.RecorderMap{Type: typ.ID, Time: "Local Time", Date: "Date", GroundSpeed: "GS",
			Engines: []exchange.RecorderEngine{
				{
					Speed: "Eng 1 RPM", OilTemperature: "Oil Temp", OilPressure: "Oil Press", Manifold: "MP",
					Exhaust: []string{"EGT 1", "EGT 2"},
				}}}, exchange.GuessRecorderMap(columns, typ))
	for _, rubbish := range []string{
		"", "\n\n", "1,2,3\n4,5,6\n", "a\nb\n", strings.Repeat("x", 100_000), "\x00\x01\x02",
	} {
		_, err := exchange.RecordingColumns(strings.NewReader(rubbish))
		assert.Error(t, err, "%.20q", rubbish)
	}
}
