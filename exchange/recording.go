package exchange

import (
	"bufio"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"regexp"
	"strconv"
	"strings"
	"time"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/recorder"
)

// RecorderMap says once which column of a recorder's file is what. Columns are
// named as in the file, without their unit.
type RecorderMap struct {
	// Type is the aircraft type that the file is of.
	Type string `json:"type"`
	// Time is the column of the time: seconds, a time of day, or a date and a time;
	// Date that of the date, where it stands by itself.
	Time string `json:"time"`
	Date string `json:"date,omitempty"`
	// First is the side that is tried first: left (or lane A) when left out, or right.
	First   string           `json:"first,omitempty"`
	Engines []RecorderEngine `json:"engines"`
	// GroundSpeed is the column of the speed over ground.
	GroundSpeed string `json:"groundSpeed,omitempty"`
	// Units are those of columns whose header does not say.
	Units map[string]string `json:"units,omitempty"`
}

// RecorderEngine are the columns of one engine.
type RecorderEngine struct {
	Speed          string   `json:"speed"`
	Manifold       string   `json:"manifold,omitempty"`
	OilTemperature string   `json:"oilTemperature,omitempty"`
	OilPressure    string   `json:"oilPressure,omitempty"`
	Exhaust        []string `json:"exhaust,omitempty"`
}

// ReadRecorderMap reads a map; the error names its line.
func ReadRecorderMap(name string, data []byte) (RecorderMap, error) {
	s := Open(name, data)
	m, ok := Decode[RecorderMap](s)
	if !ok {
		return m, form.Bad(name, "line %d: %s", s.Problems[0].Line, s.Problems[0].Reason)
	}
	return m, m.Check(name)
}

// Check reports the first mistake of a map.
func (m RecorderMap) Check(name string) error {
	switch {
	case m.Type == "":
		return form.Bad(name+" type", "is missing")
	case m.Time == "":
		return form.Bad(name+" time", "is missing: the column of the time")
	case m.First != "" && m.First != "left" && m.First != "right":
		return form.Bad(name+" first", "is %q; it is left or right", form.Clip(m.First))
	case len(m.Engines) == 0 || len(m.Engines) > 4:
		return form.Bad(name+" engines", "must be 1 to 4")
	}
	for i, e := range m.Engines {
		if e.Speed == "" || len(e.Exhaust) > 12 {
			return form.Bad(fmt.Sprintf("%s engines[%d]", name, i),
				"needs the column of its speed, and has at most 12 exhaust temperatures")
		}
	}
	return nil
}

const (
	// maxSamples bounds a recording: a day at ten samples a second.
	maxSamples = 900_000
	// maxSkipped bounds what is told of lines that could not be used.
	maxSkipped = 200
	// maxPreamble is how many lines may stand before the names of the columns.
	maxPreamble = 40
)

// unitIn finds the unit at the end of a column's name: in brackets, or after a
// comma.
var unitIn = regexp.MustCompile(`^(.*?)\s*(?:[\[(]\s*([^\])]*?)\s*[\])]|,\s*(\S+))\s*$`)

// linear brings a number of one unit to another: value × by + plus.
type linear struct{ by, plus float64 }

// in is how a unit of the rules becomes another, so many times over.
func in(read, base string, times float64) linear {
	by, plus, _ := quantity.Linear(read, base)
	return linear{by * times, plus}
}

// units are the units of recorders, in the words that they use, by how they become
// the one that is kept.
var units = map[string]linear{
	"": {1, 0}, "rpm": {1, 0}, "%": {1, 0}, "percent": {1, 0}, "1/min": {1, 0},
	"c": {1, 0}, "°c": {1, 0}, "degc": {1, 0}, "deg c": {1, 0}, "f": in("°F", "°C", 1), "°f": in("°F", "°C", 1),
	"degf": in("°F", "°C", 1), "deg f": in("°F", "°C", 1),
	"inhg": {1, 0}, "in hg": {1, 0}, "hpa": in("hPa", "inHg", 1), "mbar": in("hPa", "inHg", 1),
	"kpa": in("hPa", "inHg", 10),
	"psi": {1, 0}, "bar": {1, 0}, // a pressure of oil is only seen to rise or fall
	"kt": {1, 0}, "kts": {1, 0}, "kn": {1, 0}, "mph": in("mph", "kt", 1), "km/h": {1 / 1.852, 0}, "kph": {1 / 1.852, 0},
	"m/s": {3.6 / 1.852, 0},
	"s":   {1, 0}, "sec": {1, 0}, "ms": {0.001, 0}, "min": {60, 0},
}

// recorded is a column of the file, and where its value of each sample goes.
type recorded struct {
	name string
	at   int
	unit linear
	// known says that its unit is.
	known bool
	to    *[]float64
}

// recording is a file being read.
type recording struct {
	m   RecorderMap
	out recorder.File
	// header are all columns, columns those that the map names.
	header, columns []recorded
	time, date      int     // their columns; -1 for no date
	perTime         float64 // seconds
	comma           bool    // numbers have decimal commas
	rows            *csv.Reader
	above           int // lines above the first of rows
	stamps          []string
	zero            *time.Time // what moments are counted from
	last, shift     float64    // the last moment, and what is added to those that follow
	bad             int
	first           error // of the first line that could not be used
}

// ReadRecording reads an engine recorder's file by its map. What cannot be used at
// all is an form.Problem that names line and column; single values that cannot
// be read are left out and told.
func ReadRecording(r io.Reader, m RecorderMap) (recorder.File, error) {
	in := bufio.NewReaderSize(&bounded{r, maxFigures}, 64<<10)
	f := &recording{
		m: m,
		out: recorder.File{
			Type: m.Type, Options: recorder.Options{SecondFirst: m.First == "right"}, Skipped: []recorder.Skipped{},
		},
		last: math.Inf(-1),
	}
	f.out.Engines = make([]recorder.Engine, len(m.Engines))
	if err := f.head(in); err != nil {
		return f.out, err
	}
	for {
		row, err := f.rows.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			var parse *csv.ParseError
			if !errors.As(err, &parse) || !errors.Is(parse.Err, csv.ErrBareQuote) &&
				!errors.Is(parse.Err, csv.ErrQuote) {
				return f.out, form.Bad("file", "cannot be read: %s", csvReason(err))
			}
			f.skip(f.above+parse.Line, "it is no row: "+parse.Err.Error(), "")
			continue
		}
		line, _ := f.rows.FieldPos(0)
		line += f.above
		if len(f.out.Seconds) >= maxSamples {
			return f.out, form.Bad(fmt.Sprintf("line %d", line), "is one of more than %d samples", maxSamples)
		}
		f.row(line, row)
	}
	switch n := len(f.out.Seconds); {
	case n == 0 && f.first == nil:
		return f.out, form.Bad("file", "holds no sample")
	case f.bad*10 > n+f.bad:
		return f.out, f.first // it is not what the map says
	}
	stamps := f.stamps
	f.out.When = func(sample int) string { return stamps[sample] }
	return f.out, nil
}

// head finds the row that names the columns, and where each is.
func (f *recording) head(in *bufio.Reader) error {
	for n := 1; n <= maxPreamble; n++ {
		found, err := in.ReadSlice('\n')
		if errors.Is(err, bufio.ErrBufferFull) {
			return form.Bad(fmt.Sprintf("line %d", n), "has more than %d bytes", in.Size())
		}
		text, comma := string(found), separator(found)
		row, bad := func() ([]string, error) {
			r := csv.NewReader(strings.NewReader(strings.TrimPrefix(text, "\ufeff")))
			r.Comma, r.LazyQuotes = comma, true
			return r.Read()
		}()
		if bad == nil && f.names(row) {
			f.comma = comma == ';'
			f.rows, f.above = csv.NewReader(in), n
			f.rows.LazyQuotes = true
			f.rows.Comma, f.rows.FieldsPerRecord, f.rows.ReuseRecord, f.rows.TrimLeadingSpace = comma, -1, true, comma != '\t'
			return f.take(n)
		}
		if err != nil {
			break
		}
	}
	return form.Bad("line 1", "and those behind it do not name the column %q of the map", form.Clip(f.m.Time))
}

// names notes the columns of a row, and reports whether that of the time is one.
func (f *recording) names(row []string) bool {
	f.header = f.header[:0]
	for i, cell := range row {
		name, unit := strings.TrimSpace(cell), ""
		if found := unitIn.FindStringSubmatch(name); found != nil && found[1] != "" {
			name, unit = found[1], found[2]+found[3]
		}
		if own, said := f.m.Units[name]; said {
			unit = own
		}
		by, known := units[strings.ToLower(unit)]
		f.header = append(f.header, recorded{name: name, at: i, unit: by, known: known})
	}
	return f.find(f.m.Time) != nil
}

func (f *recording) find(name string) *recorded {
	for i := range f.header {
		if strings.EqualFold(f.header[i].name, strings.TrimSpace(name)) {
			return &f.header[i]
		}
	}
	return nil
}

// take finds the columns that the map names, in the line that names them all.
func (f *recording) take(line int) error {
	var wrong error
	column := func(name string) recorded {
		c := f.find(name)
		if c != nil {
			return *c
		}
		if wrong == nil {
			wrong = form.Bad(fmt.Sprintf("line %d", line), "does not name the column %q of the map", form.Clip(name))
		}
		return recorded{at: -1, known: true}
	}
	value := func(name string, to *[]float64) {
		if name == "" {
			return
		}
		c := column(name)
		if !c.known && wrong == nil {
			wrong = form.Bad(fmt.Sprintf("line %d %s", line, form.Clip(name)),
				"has a unit that is not known; the map can say it under units")
		}
		c.to = to
		f.columns = append(f.columns, c)
	}
	when := column(f.m.Time)
	if f.time, f.date, f.perTime = when.at, -1, when.unit.by; !when.known {
		f.perTime = 1
	}
	if f.m.Date != "" {
		f.date = column(f.m.Date).at
	}
	value(f.m.GroundSpeed, &f.out.GroundKt)
	for i, e := range f.m.Engines {
		own := &f.out.Engines[i]
		value(e.Speed, &own.Speed)
		value(e.Manifold, &own.ManifoldInHg)
		value(e.OilTemperature, &own.OilC)
		value(e.OilPressure, &own.OilPressure)
		own.ExhaustC = make([][]float64, len(e.Exhaust))
		for k, name := range e.Exhaust {
			value(name, &own.ExhaustC[k])
		}
	}
	return wrong
}

// row takes one sample.
func (f *recording) row(line int, row []string) {
	if len(row) == 1 && strings.TrimSpace(row[0]) == "" {
		return
	}
	cell := func(at int) string {
		if at < 0 || at >= len(row) {
			return ""
		}
		return strings.TrimSpace(row[at])
	}
	stamp := strings.TrimSpace(cell(f.date) + " " + cell(f.time))
	seconds, ok := f.moment(stamp)
	if !ok {
		f.skip(line, fmt.Sprintf("its time is %q, which is none", form.Clip(stamp)), f.m.Time)
		return
	}
	seconds += f.shift
	switch {
	case seconds == f.last:
		f.noteSkipped(line, "it has the time of the line before")
		return
	case seconds < f.last:
		f.noteSkipped(line, "the time goes back: a new recording begins")
		f.shift += f.last + 60 - seconds
		seconds = f.last + 60
	}
	f.last = seconds
	f.out.Seconds = append(f.out.Seconds, seconds)
	f.stamps = append(f.stamps, strings.Clone(stamp))
	wrong := ""
	for _, c := range f.columns {
		v, ok := f.number(cell(c.at))
		if !ok && wrong == "" {
			wrong = c.name
			f.skip(line, fmt.Sprintf("%s is %q, which is no number", c.name, form.Clip(cell(c.at))), c.name)
		}
		*c.to = append(*c.to, v*c.unit.by+c.unit.plus)
	}
}

// number is a value; NaN for what a recorder writes where it has none.
func (f *recording) number(text string) (float64, bool) {
	switch strings.ToLower(text) {
	case "", "-", "--", "---", "na", "n/a", "nan", "null":
		return math.NaN(), true
	}
	if f.comma {
		text = strings.Replace(text, ",", ".", 1)
	}
	v, err := strconv.ParseFloat(text, 64)
	if err != nil || math.IsInf(v, 0) || math.Abs(v) > 1e7 {
		return math.NaN(), false
	}
	return v, true
}

// moments are the forms in which recorders write a moment.
var moments = []string{
	time.RFC3339Nano, "2006-01-02T15:04:05", "2006-01-02 15:04:05", "2006/01/02 15:04:05", "02.01.2006 15:04:05",
	"01/02/2006 15:04:05", "1/2/2006 15:04:05", "15:04:05", "15:04:05 PM", "3:04:05 PM",
}

// moment is a time in seconds from the first one.
func (f *recording) moment(text string) (float64, bool) {
	if v, ok := f.number(text); ok && !math.IsNaN(v) && math.Abs(v) < 1e10 {
		return v * f.perTime, true
	}
	for _, form := range moments {
		at, err := time.Parse(form, text)
		if err != nil {
			continue
		}
		if f.zero == nil {
			f.zero = &at
		}
		seconds := at.Sub(*f.zero).Seconds()
		if at.Year() == 0 && seconds+f.shift < f.last-12*3600 { // over midnight
			f.shift += 24 * 3600
		}
		return seconds, math.Abs(seconds) < 366*24*3600
	}
	return 0, false
}

// skip notes a line that cannot be used as the map says.
func (f *recording) skip(line int, why, column string) {
	f.bad++
	if f.first == nil {
		f.first = form.Bad(strings.TrimSpace(fmt.Sprintf("line %d %s", line, form.Clip(column))), "cannot be used: %s",
			why)
	}
	f.noteSkipped(line, why)
}

func (f *recording) noteSkipped(line int, why string) {
	if len(f.out.Skipped) < maxSkipped {
		f.out.Skipped = append(f.out.Skipped, recorder.Skipped{Line: line, Why: why})
	}
}

// RecordingColumns are the names of a recorder's columns, without their units: those
// of the first line of words with as many cells as the line behind it.
func RecordingColumns(r io.Reader) ([]string, error) {
	in := bufio.NewReaderSize(&bounded{r, maxFigures}, 64<<10)
	var names []string
	for n := 1; n <= maxPreamble+1; n++ {
		found, err := in.ReadSlice('\n')
		if errors.Is(err, bufio.ErrBufferFull) {
			return nil, form.Bad(fmt.Sprintf("line %d", n), "has more than %d bytes", in.Size())
		}
		rows := csv.NewReader(strings.NewReader(strings.TrimPrefix(string(found), "\ufeff")))
		rows.Comma, rows.LazyQuotes = separator(found), true
		row, bad := rows.Read()
		numbers := 0
		f := recording{comma: rows.Comma == ';'}
		for _, cell := range row {
			if v, ok := f.number(strings.TrimSpace(cell)); ok && !math.IsNaN(v) {
				numbers++
			}
		}
		switch {
		case bad == nil && numbers > 0 && len(names) > 1 && len(row) == len(names):
			return names, nil
		// a row of units goes below its names
		case bad == nil && numbers == 0 && len(row) > 1 && len(row) != len(names):
			f.names(row)
			names = names[:0]
			for _, c := range f.header {
				names = append(names, c.name)
			}
		}
		if err != nil {
			break
		}
	}
	return nil, form.Bad("file", "has no line of names with numbers behind it")
}

// guesses are words by which recorders call what a map asks for.
var guesses = map[string]*regexp.Regexp{
	"time":   regexp.MustCompile(`(?i)\b(time|seconds|elapsed)\b`),
	"date":   regexp.MustCompile(`(?i)\bdate\b`),
	"ground": regexp.MustCompile(`(?i)gnd|ground|^gs$`),
	"rpm":    regexp.MustCompile(`(?i)\brpm\b|tach`),
	"map":    regexp.MustCompile(`(?i)\bmap\b|manifold|\bmp\b`),
	"oilT":   regexp.MustCompile(`(?i)oil\W*t`),
	"oilP":   regexp.MustCompile(`(?i)oil\W*p`),
	"egt":    regexp.MustCompile(`(?i)egt|exhaust`),
	"engine": regexp.MustCompile(`(?i)\be(?:ng(?:ine)?)?\W?([1-4])\b`),
}

// GuessRecorderMap maps the columns that are called what most recorders call them;
// what it does not know is left empty.
func GuessRecorderMap(columns []string, of aircraft.Type) RecorderMap {
	m := RecorderMap{Type: of.ID, Engines: make([]RecorderEngine, max(of.Engines, 1))}
	first := func(to *string, what, name string) bool {
		if *to != "" || !guesses[what].MatchString(name) {
			return false
		}
		*to = name
		return true
	}
	for _, name := range columns {
		engine := &m.Engines[0]
		if n := guesses["engine"].FindStringSubmatch(name); n != nil && int(n[1][0]-'0') <= len(m.Engines) {
			engine = &m.Engines[n[1][0]-'1']
		}
		switch {
		case first(&m.Date, "date", name), first(&m.Time, "time", name), first(&m.GroundSpeed, "ground", name),
			first(&engine.OilTemperature, "oilT", name), first(&engine.OilPressure, "oilP", name),
			first(&engine.Speed, "rpm", name), first(&engine.Manifold, "map", name):
		case guesses["egt"].MatchString(name) && len(engine.Exhaust) < 12:
			engine.Exhaust = append(engine.Exhaust, name)
		}
	}
	return m
}

// RecordedOn is the day and time of a stamp of a recorder, where it has both.
func RecordedOn(stamp string) (time.Time, bool) {
	for _, form := range moments {
		if at, err := time.Parse(form, stamp); err == nil && at.Year() > 1 {
			return at, true
		}
	}
	return time.Time{}, false
}

// WriteRecording writes a track as a recorder's file, with the map that reads it.
func WriteRecording(w io.Writer, t recorder.Track, of aircraft.Type) (RecorderMap, error) {
	m, unit := RecorderMap{Type: of.ID, Time: "Time", GroundSpeed: "GndSpd"}, form.TachometerIn(of.Tachometer).Unit
	head := []string{"Time (s)", "GndSpd (kt)"}
	for n, e := range t.Engines {
		name := func(what string) string { return fmt.Sprintf("E%d %s", n+1, what) }
		own := RecorderEngine{
			Speed: name("RPM"), Manifold: name("MAP"), OilTemperature: name("OilT"), OilPressure: name("OilP"),
		}
		head = append(head, own.Speed+" ("+unit+")", own.Manifold+" (inHg)", own.OilTemperature+" (C)",
			own.OilPressure+" (psi)")
		for c := range e.ExhaustC {
			own.Exhaust = append(own.Exhaust, name(fmt.Sprintf("EGT%d", c+1)))
			head = append(head, own.Exhaust[c]+" (C)")
		}
		m.Engines = append(m.Engines, own)
	}
	out := csv.NewWriter(w)
	if err := out.Write(head); err != nil {
		return m, err
	}
	told := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }
	for i, at := range t.Seconds {
		row := []string{told(at), told(t.GroundKt[i])}
		for _, e := range t.Engines {
			row = append(row, told(e.Speed[i]), told(e.ManifoldInHg[i]), told(e.OilC[i]), told(e.OilPressure[i]))
			for _, cylinder := range e.ExhaustC {
				row = append(row, told(cylinder[i]))
			}
		}
		if err := out.Write(row); err != nil {
			return m, err
		}
	}
	out.Flush()
	return m, out.Error()
}
