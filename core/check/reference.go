package check

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// Reference is an instrument whose numbers can be dragged, to see when the
// verdict turns.
type Reference struct {
	Instrument
	Drags []Drag `json:"drags"`
	Flags []Flag `json:"flags"`
}

// Drag is a number of the reading with the range it is worth dragging through.
type Drag struct {
	Path  string  `json:"path"`
	Label string  `json:"label"`
	Unit  string  `json:"unit"`
	Value float64 `json:"value"`
	Min   float64 `json:"min"`
	Max   float64 `json:"max"`
	Step  float64 `json:"step"`
	// Words are the value as a person reads it.
	Words string `json:"words"`
}

// Flag is something seen or not.
type Flag struct {
	Path  string `json:"path"`
	Label string `json:"label"`
	On    bool   `json:"on"`
}

// Reference shows a reading to drag: sound is the reading that it began with,
// around which the ranges lie.
func (d Definition) Reference(at Station, reading, sound map[string]any) Reference {
	out := Reference{Instrument: d.Show(at, reading), Drags: []Drag{}, Flags: []Flag{}}
	strips := d.strips(at, reading)
	add := func(path, label, unit string, signed bool, step, apart float64, value, start *float64) {
		if value == nil {
			return
		}
		low, high := *value, *value
		if start != nil {
			low, high = *start, *start
		}
		middle := low
		for _, s := range strips {
			if s.Path != path {
				continue
			}
			for _, end := range []*float64{s.Min, s.Max, s.Low, s.High} {
				if end != nil {
					low, high = math.Min(low, *end), math.Max(high, *end)
				}
			}
		}
		room := max((high-low)*0.4, math.Abs(middle)*0.12, 2*step, 1.5*apart)
		least := 0.0
		if signed {
			least = -999
		}
		// so that each step is a number one reads
		whole := func(v float64, to func(float64) float64) float64 { return math.Round(to(v/step)*step*100) / 100 }
		out.Drags = append(out.Drags, Drag{
			path, label, unit, *value, math.Max(least, whole(low-room, math.Floor)), whole(high+room, math.Ceil), step,
			at.Units.Say(strings.TrimSpace(fmt.Sprint(*value) + " " + unit)),
		})
	}
	fine := func(f form.Field, unit form.Tachometer) float64 {
		if f.Unit == form.Speed && unit == form.Percent {
			return 0.1
		}
		return math.Pow10(-f.Decimals)
	}
	for _, n := range d.names(at) {
		if len(d.NamedReading.Each) == 0 {
			add(n.ID, n.Label, n.Unit, false, 0.1, 0, drawn(reading[n.ID]), drawn(sound[n.ID]))
			continue
		}
		now, _ := reading[n.ID].(map[string]any)
		then, _ := sound[n.ID].(map[string]any)
		apart := 0.0 // how far the engines may lie apart: dragging one shows it
		if limit, ok := at.Type.Limits[d.Name][n.ID].(map[string]any); ok {
			if most := drawn(limit["apartMax"]); most != nil {
				apart = *most
			}
		}
		for _, inner := range d.NamedReading.Each {
			add(n.ID+"."+inner.Name, n.Label+", "+inner.Label, n.Unit, false, 0.1, apart, drawn(now[inner.Name]),
				drawn(then[inner.Name]))
		}
	}
	unit := d.tachometer(reading, &at.Type)
	for _, f := range d.Fields {
		switch f.Kind {
		case form.Number:
			add(f.Name, f.Label, unitWords(unit.UnitOf(f)), f.Signed, fine(f, unit), 0, drawn(reading[f.Name]),
				drawn(sound[f.Name]))
		case form.Flag:
			on, _ := reading[f.Name].(bool)
			out.Flags = append(out.Flags, Flag{f.Name, f.Label, on})
		case form.Rows:
			rows, _ := reading[f.Name].([]any)
			then, _ := sound[f.Name].([]any)
			for i, row := range rows {
				now, _ := row.(map[string]any)
				var start map[string]any
				if i < len(then) {
					start, _ = then[i].(map[string]any)
				}
				for _, inner := range f.Each {
					if inner.Kind == form.Number {
						add(f.Name+"."+strconv.Itoa(i)+"."+inner.Name, inner.Label, unitWords(unit.UnitOf(inner)),
							inner.Signed, fine(inner, unit), 0, drawn(now[inner.Name]), drawn(start[inner.Name]))
					}
				}
			}
		}
	}
	return out
}

// LimitRow is one limit of a check on each of some types, in words.
type LimitRow struct {
	Label string   `json:"label"`
	Cells []string `json:"cells"`
}

// LimitRows are the limits of a check on types that have it, in their order
// and in the units that a person reads.
func (d Definition) LimitRows(types []aircraft.Type, u quantity.Units) []LimitRow {
	rows := []LimitRow{}
	labelled := func(label, unit string) LimitRow {
		if unit != "" && unit != form.Speed {
			label += ", " + u.For(unit)
		}
		return LimitRow{Label: label}
	}
	for _, l := range d.Limits {
		row := labelled(l.Label, l.Unit)
		for _, t := range types {
			row.Cells = append(row.Cells, cell(t.Limits[d.Name][l.Name], u.Show, l.Unit))
		}
		rows = append(rows, row)
	}
	if d.NamedLimits == nil {
		return rows
	}
	seen := map[string]bool{}
	for _, of := range types {
		for _, n := range d.names(Station{Type: of}) {
			if seen[n.ID] {
				continue
			}
			seen[n.ID] = true
			row := labelled(n.Label, n.Unit)
			for _, t := range types {
				_, unit := nameWords(&t, n.ID)
				row.Cells = append(row.Cells, cell(t.Limits[d.Name][n.ID], u.Show, unit))
			}
			rows = append(rows, row)
		}
	}
	return rows
}

// Limits are a check's limits on one type.
type Limits struct {
	Check string     `json:"check"`
	Title string     `json:"title"`
	Rows  []LimitRow `json:"rows"`
}

// LimitSheet lists the limits of every check that a type has, in the order a
// flight meets them.
func LimitSheet(t aircraft.Type, u quantity.Units) []Limits {
	out := []Limits{}
	for _, d := range table {
		if t.Limits[d.Name] != nil {
			out = append(out, Limits{d.Name, d.Title, d.LimitRows([]aircraft.Type{t}, u)})
		}
	}
	return out
}

// cell is a limit in a table: a number, or a band from its lowest to its
// highest with what is normal in the middle.
func cell(v any, show func(quantity.Value, string) (quantity.Value, string), unit string) string {
	number := func(v any) string {
		if v == nil {
			return ""
		}
		text := fmt.Sprint(v)
		n, err := quantity.Parse(text, 3)
		if err != nil {
			return text
		}
		n, _ = show(n, unit)
		return n.String()
	}
	band, ok := v.(map[string]any)
	if !ok {
		return number(v)
	}
	if apart, ok := band["apartMax"]; ok {
		return number(apart)
	}
	return strings.TrimSpace(fmt.Sprintf("%s … %s – %s … %s", number(band["min"]), number(band["cautionMin"]),
		number(band["cautionMax"]), number(band["max"])))
}
