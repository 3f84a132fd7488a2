package check

import (
	"cmp"
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// Station is where an instrument is read: the type and the engine, the gauges, the
// number of the try, and the conditions.
type Station struct {
	Type    aircraft.Type
	Engine  int
	Attempt int
	Gauges  []string
	// Before are the findings that earlier judged tries asked to look at again.
	Before     map[Place]bool
	Conditions map[string]any
	// Units are those that numbers are typed and shown in.
	Units quantity.Units
}

// Instrument is a measured check as it stands before a person: the boxes to
// fill, the scales, the trace, and the verdict as soon as every box is filled.
type Instrument struct {
	Check string `json:"check"`
	Title string `json:"title"`
	Rule  string `json:"rule"`
	// Unit is what the type's tachometer shows, as printed behind a number.
	Unit  string          `json:"unit"`
	Boxes []form.Box      `json:"boxes"`
	Rows  []form.OpenRows `json:"rows"`
	form.Built
	Strips []Strip `json:"strips"`
	Trace  *Trace  `json:"trace,omitempty"`
	Judged
}

// Judged is what a reading gave: a verdict with its tiles, or why there is none.
type Judged struct {
	Verdict *Verdict `json:"verdict,omitempty"`
	Tiles   []Tile   `json:"tiles"`
	State   State    `json:"state,omitempty"`
	Words   string   `json:"words,omitempty"`
	Refusal string   `json:"refusal,omitempty"`
}

// Strip is a number on its printed scale. Min and Max are hard limits, Low and
// High bound what is normal.
type Strip struct {
	// Path is the box whose number stands on it; empty where it is computed.
	Path  string   `json:"path"`
	Label string   `json:"label"`
	Unit  string   `json:"unit"`
	Value *float64 `json:"value,omitempty"`
	Min   *float64 `json:"min,omitempty"`
	Max   *float64 `json:"max,omitempty"`
	Low   *float64 `json:"low,omitempty"`
	High  *float64 `json:"high,omitempty"`
}

// Trace is a speed over the positions of a switch or lever, as plain steps.
type Trace struct {
	Top     float64      `json:"top"`
	DropMax float64      `json:"dropMax"`
	Points  []TracePoint `json:"points"`
}

// TracePoint is one step; it has no value while nothing is read.
type TracePoint struct {
	Label string   `json:"label"`
	Value *float64 `json:"value,omitempty"`
}

// Form is the check's entry form on a type.
func (d Definition) Form(at Station, draft form.Draft) form.Form {
	f := form.Form{Fields: d.Fields, Named: d.NamedReading, Names: d.names(at), Units: at.Units, Tachometer: form.RPM}
	unit, asks := form.Find(f.Fields, "unit")
	if !asks {
		return f
	}
	f.Tachometer = form.TachometerIn(at.Type.Tachometer)
	// What the type's tachometer shows is not asked.
	f.Fields = slices.DeleteFunc(slices.Clone(f.Fields), func(own form.Field) bool { return own.Name == "unit" })
	if !unit.Optional {
		f.Given = map[string]any{"unit": f.Tachometer.Unit}
	}
	return f
}

// Fresh is what the entry form begins with: what is normally seen, and the
// type's own tachometer.
func (d Definition) Fresh(at Station) form.Draft {
	draft := d.Form(at, nil).Fresh()
	for path, text := range d.prefilled(at) {
		draft[path] = text
	}
	return draft
}

// prefilled are the speeds that are as they should be before and after each
// drop: the run-up speed of the type's ignition check.
func (d Definition) prefilled(at Station) form.Draft {
	out := form.Draft{}
	speed, known := asNumber(at.Type.Limits[d.Name]["base"])
	if !known {
		speed, known = ignitionSpeed(at.Type)
	}
	if !known || !slices.ContainsFunc(d.Fields, func(f form.Field) bool { return f.DropsFrom != "" }) {
		return out
	}
	for _, f := range d.Fields {
		speeds := f.Unit == form.Speed || f.Unit == "rpm" && at.Type.Tachometer != "percent"
		if speeds && f.DropsFrom == "" && !f.Optional {
			out[f.Name] = strconv.FormatFloat(speed, 'f', -1, 64)
		}
	}
	return out
}

// names are the gauges of a check that is read by name, with their words.
func (d Definition) names(at Station) []form.Name {
	if d.NamedReading == nil {
		return nil
	}
	var ids []string
	if len(d.NamedReading.Each) > 0 || len(at.Gauges) == 0 {
		ids = slices.Sorted(maps.Keys(at.Type.Limits[d.Name]))
	} else {
		for _, g := range at.Type.Gauges {
			if slices.Contains(at.Gauges, g.ID) {
				ids = append(ids, g.ID)
			}
		}
	}
	names := make([]form.Name, len(ids))
	for i, id := range ids {
		names[i].ID = id
		names[i].Label, names[i].Unit = nameWords(&at.Type, id)
		if band, _ := at.Type.Limits[d.Name][id].(map[string]any); band["timedMax"] != nil &&
			len(d.NamedReading.Each) == 0 {
			names[i].Beside = heldFields
			if band["belowKt"] == nil {
				names[i].Beside = heldFields[:1]
			}
		}
	}
	return names
}

// spaced is a compared value's name in words: leftDrop is left drop.
func spaced(id string) string {
	var b strings.Builder
	for _, r := range id {
		if unicode.IsUpper(r) {
			b.WriteByte(' ')
		}
		b.WriteRune(unicode.ToLower(r))
	}
	return b.String()
}

// Fill shows the check's instrument with what has been typed so far.
func (d Definition) Fill(at Station, draft form.Draft) Instrument {
	f := d.Form(at, draft)
	out := Instrument{Boxes: f.Boxes(draft), Rows: f.OpenRows(draft), Built: f.Build(draft)}
	d.show(&out, at)
	if !out.Whole() || len(out.Object) == 0 {
		out.Judged = Judged{Tiles: []Tile{}}
	}
	return out
}

// Show is the instrument of a reading as it was kept.
func (d Definition) Show(at Station, reading map[string]any) Instrument {
	if data, err := json.Marshal(reading); err == nil { // numbers as they are in JSON
		if object, err := form.ParseObject(data); err == nil {
			reading = object
		}
	}
	out := Instrument{
		Boxes: []form.Box{}, Rows: []form.OpenRows{},
		Built: form.Built{Object: reading, Missing: []string{}, Wrong: map[string]string{}},
	}
	d.show(&out, at)
	return out
}

func (d Definition) show(out *Instrument, at Station) {
	out.Check, out.Title, out.Rule = d.Name, d.Title, d.Rule
	out.Unit = unitWords(d.tachometer(out.Object, &at.Type).Unit)
	plain := d.plain(at, out.Object)
	out.Strips, out.Trace = d.strips(at, plain), d.trace(at, plain)
	for i, s := range out.Strips {
		out.Strips[i] = s.in(at.Units)
	}
	out.Judged = d.judgeAt(at, out.Object)
}

func (d Definition) judgeAt(at Station, reading map[string]any) Judged {
	v, err := Judge(d.Name, Request{
		AircraftType: at.Type.ID, Engine: max(at.Engine, 1), Attempt: max(at.Attempt, 1), Reading: reading,
		Conditions: at.Conditions, Before: at.Before,
	},
		func(string) (aircraft.Type, bool) { return at.Type, true })
	if err != nil {
		return Judged{Tiles: []Tile{}, Refusal: err.Error()}
	}
	return JudgedBy(v, at.Units)
}

// plain is a reading with its numbers in the units of the rules.
func (d Definition) plain(at Station, reading map[string]any) map[string]any {
	fields := d.Fields
	if d.NamedReading != nil {
		fields = nil
		reading = d.bare(reading)
	}
	for _, n := range d.names(at) {
		f := form.Field{Name: n.ID, Kind: form.Number, Unit: n.Unit}
		if each := slices.Clone(d.NamedReading.Each); len(each) > 0 {
			for i := range each {
				each[i].Unit = n.Unit
			}
			f.Kind, f.Each = form.Inner, each
		}
		fields = append(fields, f)
	}
	return d.tachometer(reading, &at.Type).Plain(reading, fields)
}

// bare is a reading of gauges without what was said beside their numbers.
func (d Definition) bare(reading map[string]any) map[string]any {
	if d.NamedReading == nil || len(d.NamedReading.Each) > 0 {
		return reading
	}
	bare, _, err := bareGauges(reading)
	if err != nil {
		return reading // it is refused where it is judged
	}
	return bare
}

// Rating is for how long a gauge of a type may stay above its highest for all times;
// false where it may not.
func (d Definition) Rating(t aircraft.Type, gauge string) (aircraft.Duration, bool) {
	band, _ := t.Limits[d.Name][gauge].(map[string]any)
	most, limited := asNumber(band["timedSeconds"])
	label, _ := nameWords(&t, gauge)
	return aircraft.Duration{ID: gauge, Label: label + ", held", MaxSeconds: most}, limited
}

// in is the strip in the units that a person reads.
func (s Strip) in(u quantity.Units) Strip {
	base, apart := s.Unit, strings.HasSuffix(s.Label, ", apart")
	for _, at := range []**float64{&s.Value, &s.Min, &s.Max, &s.Low, &s.High} {
		if *at == nil {
			continue
		}
		v, err := quantity.Parse(strconv.FormatFloat(**at, 'f', -1, 64), quantity.MaxDecimals)
		if err != nil {
			continue
		}
		show := u.Show
		if apart {
			show = u.ShowDifference
		}
		var f float64
		v, s.Unit = show(v, base)
		f = v.Float()
		*at = &f
	}
	return s
}

// JudgedBy is a verdict with its state and its words, in the units that a
// person reads.
func JudgedBy(v Verdict, u quantity.Units) Judged {
	v = v.In(u)
	words := outcomeWords[v.Outcome]
	if v.Outcome != Normal {
		words += ": " + decisionWords[v.Decision]
	}
	tiles := slices.Clone(v.Tiles)
	if tiles == nil {
		tiles = []Tile{}
	}
	for i, t := range tiles {
		tiles[i].Limit, tiles[i].Words = u.Say(t.Limit), u.Say(t.Words)
	}
	return Judged{Verdict: &v, Tiles: tiles, State: StateOf(v.Outcome), Words: words}
}

var outcomeWords = map[Outcome]string{
	Normal: "Within limits", Caution: "Look again", Invalid: "Cannot be judged", Abnormal: "Out of limits",
}

var decisionWords = map[Decision]string{Continue: "go on", Recheck: "test again", Stop: "stop here"}

// OutcomeWords are the words for an outcome, such as "Within limits".
func OutcomeWords(o Outcome) string { return outcomeWords[o] }

// strips are the readings of a check on the scales that it declares.
func (d Definition) strips(at Station, reading map[string]any) []Strip {
	limits := at.Type.Limits[d.Name]
	if d.NamedReading != nil {
		return d.namedStrips(at, reading)
	}
	strips := []Strip{}
	for _, s := range d.Scales {
		if s.Computed {
			continue
		}
		strip := Strip{
			Path: s.Of, Label: s.Label,
			Unit: unitWords(d.tachometer(reading, &at.Type).UnitOf(form.Field{Unit: s.Unit})),
			Min:  drawn(limits[s.Low]), Max: drawn(limits[s.High]), High: drawn(limits[s.CautionHigh]),
		}
		if s.Within != "" {
			middle, by := drawn(at.Conditions[s.Around]), drawn(limits[s.Within])
			if s.Around != "" && middle == nil {
				middle = drawn(limits[s.Around])
			}
			if middle == nil || by == nil {
				continue
			}
			low, high := *middle-*by, *middle+*by
			strip.Min, strip.Max = &low, &high
		}
		if strip.Min == nil && strip.Max == nil && strip.High == nil {
			continue
		}
		name, inner, inRows := strings.Cut(s.Of, ".")
		if !inRows {
			strip.Value = drawn(reading[name])
			strips = append(strips, strip)
			continue
		}
		rows, _ := reading[name].([]any)
		if len(rows) == 0 {
			rows = []any{nil}
		}
		for i, row := range rows {
			one := strip
			one.Path = name + "." + strconv.Itoa(i) + "." + inner
			if len(rows) > 1 {
				one.Label += " " + strconv.Itoa(i+1)
			}
			r, _ := row.(map[string]any)
			one.Value = drawn(r[inner])
			strips = append(strips, one)
		}
	}
	return strips
}

// namedStrips draw each gauge on its own band, or how far two engines are apart.
func (d Definition) namedStrips(at Station, reading map[string]any) []Strip {
	strips := []Strip{}
	for _, n := range d.names(at) {
		limits, _ := at.Type.Limits[d.Name][n.ID].(map[string]any)
		strip := Strip{Path: n.ID, Label: n.Label, Unit: n.Unit, Value: drawn(reading[n.ID]),
			Min: drawn(limits["min"]), Max: drawn(limits["max"]), Low: drawn(limits["cautionMin"]),
			High: drawn(limits["cautionMax"])}
		if most := drawn(limits["apartMax"]); most != nil {
			strip = Strip{Label: n.Label + ", apart", Unit: n.Unit, Max: most}
			pair, _ := reading[n.ID].(map[string]any)
			if left, right := drawn(pair["left"]), drawn(pair["right"]); left != nil && right != nil {
				apart := math.Round(math.Abs(*left-*right)*100) / 100
				strip.Value = &apart
			}
		}
		strips = append(strips, strip)
	}
	return strips
}

func (d Definition) trace(at Station, reading map[string]any) *Trace {
	if len(d.Trace) == 0 {
		return nil
	}
	limits := at.Type.Limits[d.Name]
	t := Trace{Top: runUpSpeed(at.Type)}
	if base := drawn(limits["base"]); base != nil {
		t.Top = *base
	}
	if base := drawn(reading[d.Trace[0]]); base != nil {
		t.Top = *base
	}
	if most := drawn(limits["dropMax"]); most != nil {
		t.DropMax = *most
	}
	for _, name := range d.Trace {
		f, _ := form.Find(d.Fields, name)
		label := strings.TrimSuffix(strings.TrimSuffix(f.Label, " again"), " at the end")
		t.Points = append(t.Points, TracePoint{Label: label, Value: drawn(reading[name])})
	}
	return &t
}

// drawn is a number for drawing, whatever kind it comes in; nil for none.
func drawn(v any) *float64 {
	if n, ok := v.(json.Number); ok {
		v = string(n)
	}
	if f, ok := asNumber(v); ok {
		return &f
	}
	return nil
}

// Said is a reading in one line, as it was read off: its numbers with their
// units, what was chosen, and what was seen. A number that was read in another
// unit than it is shown in has that behind it.
func (d Definition) Said(at Station, reading map[string]any) string {
	var said []string
	say := func(label, unit string, value any) {
		words := readAs(value, unit, at.Units)
		if words != "" {
			said = append(said, strings.TrimSpace(label+" "+words))
		}
	}
	bare := d.bare(reading)
	for _, n := range d.names(at) {
		say(n.Label, n.Unit, bare[n.ID])
		for _, own := range n.Beside {
			if beside, ok := reading[n.ID].(map[string]any); ok {
				say(own.Label, own.Unit, beside[own.Name])
			}
		}
		if pair, ok := reading[n.ID].(map[string]any); ok {
			for _, inner := range d.NamedReading.Each {
				say(n.Label+", "+inner.Label, n.Unit, pair[inner.Name])
			}
		}
	}
	var fields func(all []form.Field, of map[string]any)
	fields = func(all []form.Field, of map[string]any) {
		for _, f := range all {
			value, given := of[f.Name]
			switch {
			case !given || f.Name == "unit":
			case f.Kind == form.Number && value == nil:
				said = append(said, f.Label+" none")
			case f.Kind == form.Number:
				say(f.Label, unitWords(d.tachometer(reading, &at.Type).UnitOf(f)), value)
			case f.Kind == form.Flag && value == true:
				said = append(said, f.Label)
			case f.Kind == form.Choice || f.Kind == form.Day:
				said = append(said, fmt.Sprintf("%s %v", f.Label, value))
			case f.Kind == form.Rows:
				rows, _ := value.([]any)
				for _, row := range rows {
					if inner, ok := row.(map[string]any); ok {
						fields(f.Each, inner)
					}
				}
			}
		}
	}
	fields(d.Fields, reading)
	if len(said) == 0 {
		return "nothing seen"
	}
	return strings.Join(said, ", ")
}

// readAs is one number of a reading with its unit, empty for none.
func readAs(value any, unit string, u quantity.Units) string {
	if own, ok := value.(map[string]any); ok {
		n, read := drawn(own["value"]), fmt.Sprint(own["unit"])
		plain := form.RPM.Plain(map[string]any{"": own}, []form.Field{{Kind: form.Number, Unit: unit}})[""]
		if n == nil || plain == nil {
			return ""
		}
		words := strconv.FormatFloat(*n, 'f', -1, 64) + " " + read
		if u.For(unit) == read {
			return words
		}
		return readAs(plain, unit, u) + " (read as " + words + ")"
	}
	n := drawn(value)
	if n == nil {
		return ""
	}
	return u.Say(strings.TrimSpace(strconv.FormatFloat(*n, 'f', -1, 64) + " " + unit))
}

// Nearest is of several numbers the one that stands nearest its limit, or beyond
// it by most, measured by the limit itself; nil where none that was read has one.
func Nearest(strips []Strip) *Strip {
	var nearest *Strip
	least := math.Inf(1)
	for _, s := range strips {
		low, high := cmp.Or(s.Min, s.Low), cmp.Or(s.Max, s.High)
		if s.Value == nil || low == nil && high == nil {
			continue
		}
		spare := math.Inf(1)
		if low != nil {
			spare = (*s.Value - *low) / max(math.Abs(*low), 1)
		}
		if high != nil {
			spare = min(spare, (*high-*s.Value)/max(math.Abs(*high), 1))
		}
		if spare < least {
			least, nearest = spare, &s
		}
	}
	return nearest
}
