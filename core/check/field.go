package check

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"
	"unicode"

	"jetprimer/core/quantity"
)

// Kind is what a field holds.
type Kind string

// The kinds of fields.
const (
	Number Kind = "number" // a finite number in the field's unit
	Flag   Kind = "flag"   // true or false
	Choice Kind = "choice" // one of the field's choices
	Day    Kind = "day"    // a day such as 2026-11-24
	Rows   Kind = "rows"   // a list of records with the fields of Each
	Named  Kind = "named"  // records or numbers under the names of gauges
	Text   Kind = "text"   // words, at most Max characters where that is given
	Inner  Kind = "inner"  // one record with the fields of Each
)

// Taken says how the person gets the value.
type Taken string

// The ways a value is taken.
const (
	ReadOff Taken = "read"  // read off an instrument
	Timed   Taken = "timed" // counted by a timer
	Watched Taken = "watched"
)

// Speed is the unit of fields whose unit and resolution follow the reading's
// own "unit": whole rpm, or tenths of a percent.
const Speed = "speed"

// Field declares one value of a reading or of limits: the entry form, the API
// schema and the decoding all follow from it.
type Field struct {
	Name  string `json:"name"`
	Label string `json:"label"`
	Unit  string `json:"unit,omitempty"`
	Kind  Kind   `json:"kind"`
	Taken Taken  `json:"taken,omitempty"`
	// Timer is the duration of the type that a timed field counts.
	Timer    string   `json:"timer,omitempty"`
	Decimals int      `json:"decimals"`
	Step     float64  `json:"step,omitempty"`
	Choices  []string `json:"choices,omitempty"`
	// Optional fields may be missing; what is missing is not judged.
	Optional bool `json:"optional,omitempty"`
	// Nullable fields may be null: it did not happen.
	Nullable bool `json:"nullable,omitempty"`
	// NullWhen names flags of the same record: while one of them is true (or,
	// written "!name", false) this field may be null, as it cannot be read.
	NullWhen []string `json:"nullWhen,omitempty"`
	// Signed numbers may be below zero.
	Signed bool `json:"signed,omitempty"`
	// Max bounds numbers that cannot be larger by their nature, such as degrees
	// of a circle; 0 leaves them unbounded.
	Max int64 `json:"max,omitempty"`
	// Each is the record of a Rows or Named field; a Named field without it
	// holds plain numbers.
	Each []Field `json:"each,omitempty"`
	// AtLeast and AtMost bound the number of rows.
	AtLeast int `json:"atLeast,omitempty"`
	AtMost  int `json:"atMost,omitempty"`
}

// InputError says which field of a request cannot be used, and why.
type InputError struct {
	Field  string
	Reason string
}

func (e *InputError) Error() string { return e.Field + " " + e.Reason }

func bad(field, format string, args ...any) error {
	return &InputError{printable(field), printable(fmt.Sprintf(format, args...))}
}

// printable keeps an error on one line, whatever a request was made of.
func printable(text string) string {
	return strings.Map(func(r rune) rune {
		if !unicode.IsPrint(r) {
			return unicode.ReplacementChar
		}
		return r
	}, text)
}

// Record holds decoded values under their fields' names. A missing or null
// field has none.
type Record struct {
	cells map[string]any
}

// Has reports whether the field was given.
func (r Record) Has(name string) bool { return r.cells[name] != nil }

// Value is the number in the field, zero when it was not given.
func (r Record) Value(name string) quantity.Value {
	v, _ := r.cells[name].(quantity.Value)
	return v
}

// Flag is the flag in the field, false when it was not given.
func (r Record) Flag(name string) bool {
	b, _ := r.cells[name].(bool)
	return b
}

// Text is the choice or day in the field, empty when it was not given.
func (r Record) Text(name string) string {
	s, _ := r.cells[name].(string)
	return s
}

// Rows are the records of a Rows field.
func (r Record) Rows(name string) []Record {
	rows, _ := r.cells[name].([]Record)
	return rows
}

// names are the given names, sorted: the order of a Named record.
func (r Record) names() []string {
	return slices.Sorted(maps.Keys(r.cells))
}

// Sub is the record in an Inner field, or under a name of a Named one.
func (r Record) Sub(name string) Record {
	sub, _ := r.cells[name].(Record)
	return sub
}

// decoder turns JSON values into Records; speedDecimals is the resolution that
// Speed fields have in this request.
type decoder struct {
	speedDecimals int
	speedUnit     string
}

func (d decoder) record(path string, object map[string]any, fields []Field) (Record, error) {
	for _, name := range slices.Sorted(maps.Keys(object)) {
		if !slices.ContainsFunc(fields, func(f Field) bool { return f.Name == name }) {
			return Record{}, bad(path+"."+name, "is not known here; allowed: %s", fieldNames(fields))
		}
	}
	r := Record{make(map[string]any, len(fields))}
	for _, f := range fields {
		raw, given := object[f.Name]
		cell, err := d.cell(path+"."+f.Name, f, raw)
		switch {
		case err != nil:
			return Record{}, err
		case !given && !f.Optional:
			return Record{}, bad(path+"."+f.Name, "is missing: %s", f.wanted(d))
		case cell != nil:
			r.cells[f.Name] = cell
		}
	}
	for _, f := range fields {
		if r.cells[f.Name] == nil && !f.Optional && !f.Nullable && !f.mayBeNull(r) {
			return Record{}, bad(path+"."+f.Name, "may not be null here: %s", f.wanted(d))
		}
	}
	return r, nil
}

func (f Field) mayBeNull(r Record) bool {
	return slices.ContainsFunc(f.NullWhen, func(flag string) bool {
		if name, inverted := strings.CutPrefix(flag, "!"); inverted {
			return r.Has(name) && !r.Flag(name)
		}
		return r.Flag(flag)
	})
}

// wanted describes what the field takes.
func (f Field) wanted(d decoder) string {
	switch f.Kind {
	case Flag:
		return "true or false"
	case Choice:
		return "one of " + strings.Join(f.Choices, ", ")
	case Day:
		return "a day such as 2026-11-24"
	case Rows:
		return fmt.Sprintf("a list of %d to %d entries", f.AtLeast, f.AtMost)
	case Named, Inner:
		return "an object"
	case Text:
		return "text"
	}
	unit := f.unit(d)
	if unit == "" {
		return "a number"
	}
	return "a number in " + unit
}

func (f Field) unit(d decoder) string {
	if f.Unit == Speed {
		return d.speedUnit
	}
	return f.Unit
}

func (d decoder) cell(path string, f Field, raw any) (any, error) {
	if raw == nil {
		return nil, nil
	}
	switch f.Kind {
	case Flag:
		if b, ok := raw.(bool); ok {
			return b, nil
		}
	case Choice:
		if s, ok := raw.(string); ok && slices.Contains(f.Choices, s) {
			return s, nil
		}
	case Day:
		if s, ok := raw.(string); ok && isDay(s) {
			return s, nil
		}
	case Text:
		if s, ok := raw.(string); ok && s != "" && (f.Max == 0 || int64(len(s)) <= f.Max) {
			return s, nil
		}
		if f.Max > 0 {
			return nil, bad(path, "must be text of 1 to %d bytes", f.Max)
		}
		return nil, bad(path, "must be text, not empty")
	case Inner:
		if object, ok := raw.(map[string]any); ok {
			return d.record(path, object, f.Each)
		}
	case Number:
		return d.number(path, f, raw)
	case Rows:
		if list, ok := raw.([]any); ok {
			return d.rows(path, f, list)
		}
	case Named:
		if object, ok := raw.(map[string]any); ok {
			return d.named(path, f, object)
		}
	}
	return nil, bad(path, "must be %s", f.wanted(d))
}

func (d decoder) number(path string, f Field, raw any) (any, error) {
	n, ok := raw.(json.Number)
	if !ok {
		return nil, bad(path, "must be %s", f.wanted(d))
	}
	decimals := f.Decimals
	if f.Unit == Speed {
		decimals = d.speedDecimals
	}
	v, err := quantity.Parse(n.String(), decimals)
	if err != nil {
		return nil, bad(path, "%v: %s", err, n)
	}
	if v.Sign() < 0 && !f.Signed {
		return nil, bad(path, "may not be below zero: %s", n)
	}
	if f.Max > 0 && v.Above(quantity.Scaled(f.Max, 0)) {
		return nil, bad(path, "may not be above %d: %s", f.Max, n)
	}
	return v, nil
}

func (d decoder) rows(path string, f Field, list []any) (any, error) {
	if len(list) < f.AtLeast || len(list) > f.AtMost {
		return nil, bad(path, "must be %s, not %d", f.wanted(d), len(list))
	}
	rows := make([]Record, len(list))
	for i, raw := range list {
		at := fmt.Sprintf("%s[%d]", path, i)
		if len(f.Each) == 1 && f.Each[0].Name == "" {
			cell, err := d.cell(at, f.Each[0], raw)
			if err != nil {
				return nil, err
			}
			rows[i] = Record{map[string]any{"": cell}}
			continue
		}
		object, ok := raw.(map[string]any)
		if !ok {
			return nil, bad(at, "must be an object with %s", fieldNames(f.Each))
		}
		row, err := d.record(at, object, f.Each)
		if err != nil {
			return nil, err
		}
		rows[i] = row
	}
	return rows, nil
}

func (d decoder) named(path string, f Field, object map[string]any) (any, error) {
	r := Record{make(map[string]any, len(object))}
	for _, name := range slices.Sorted(maps.Keys(object)) {
		raw := object[name]
		var cell any
		var err error
		if len(f.Each) == 0 {
			plain := f
			plain.Kind = Number
			cell, err = d.number(path+"."+name, plain, raw)
		} else {
			sub, ok := raw.(map[string]any)
			if !ok {
				return nil, bad(path+"."+name, "must be an object with %s", fieldNames(f.Each))
			}
			cell, err = d.record(path+"."+name, sub, f.Each)
		}
		if err != nil {
			return nil, err
		}
		r.cells[name] = cell
	}
	return r, nil
}

func fieldNames(fields []Field) string {
	names := make([]string, len(fields))
	for i, f := range fields {
		names[i] = f.Name
	}
	return strings.Join(names, ", ")
}

// isDay reports whether text is a day of the calendar, written 2026-11-24.
func isDay(text string) bool {
	_, err := time.Parse(time.DateOnly, text)
	return err == nil
}

// Decode reads a JSON object by declared fields, as strictly as a check reads
// its own: the error is an *InputError that names the field.
func Decode(path string, object map[string]any, fields []Field) (Record, error) {
	return decoder{speedUnit: "rpm"}.record(path, object, fields)
}

// Bad says that a field cannot be used, and why.
func Bad(field, format string, args ...any) error { return bad(field, format, args...) }

// ParseObject reads one JSON object; its numbers keep their text.
func ParseObject(data []byte) (map[string]any, error) { return decodeObject(data) }
