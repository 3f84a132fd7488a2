package form

import (
	"bytes"
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"

	"jetprimer/core/quantity"
)

// Bounds of what is read: nesting, and how much of a foreign text an error
// repeats.
const (
	MaxDepth   = 64
	maxClipped = 80
)

// Clip shortens a foreign text for an error.
func Clip(text string) string {
	if len(text) <= maxClipped {
		return text
	}
	cut := maxClipped
	for cut > 0 && text[cut]&0xC0 == 0x80 { // not inside a letter
		cut--
	}
	return text[:cut] + "…"
}

// Printable keeps an error on one line, whatever a request was made of.
func Printable(text string) string {
	return strings.Map(func(r rune) rune {
		if !unicode.IsPrint(r) {
			return unicode.ReplacementChar
		}
		return r
	}, text)
}

// Depth is how deep JSON text nests its objects and arrays, counted without
// reading it: what is deeper than MaxDepth need not be read.
func Depth(data []byte) int {
	depth, deepest := 0, 0
	quoted, escaped := false, false
	for _, c := range data {
		switch {
		case escaped:
			escaped = false
		case quoted:
			escaped, quoted = c == '\\', c != '"'
		case c == '"':
			quoted = true
		case c == '{' || c == '[':
			depth++
			deepest = max(deepest, depth)
		case c == '}' || c == ']':
			depth--
		}
	}
	return deepest
}

// ParseObject reads one JSON object; its numbers keep their text.
func ParseObject(data []byte) (map[string]any, error) {
	if Depth(data) > MaxDepth {
		return nil, Bad("request", "nests deeper than %d levels", MaxDepth)
	}
	d := json.NewDecoder(bytes.NewReader(data))
	d.UseNumber()
	var object map[string]any
	if err := d.Decode(&object); err != nil {
		var wrongType *json.UnmarshalTypeError
		if errors.As(err, &wrongType) {
			return nil, Bad("request", "must be one JSON object")
		}
		return nil, Bad("request", "is not valid JSON: %v", err)
	}
	if object == nil {
		return nil, Bad("request", "must be one JSON object, not null")
	}
	if _, err := d.Token(); !errors.Is(err, io.EOF) {
		return nil, Bad("request", "must be one JSON object with nothing after it")
	}
	return object, nil
}

// WholeNumber is a member of an object as a whole number between two bounds.
func WholeNumber(name string, raw any, low, high int) (int, error) {
	n, ok := raw.(json.Number)
	if ok {
		if i, err := strconv.Atoi(n.String()); err == nil && i >= low && i <= high {
			return i, nil
		}
	}
	return 0, Bad(name, "must be a whole number from %d to %d", low, high)
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

// Text is the choice, text or day in the field, empty when it was not given.
func (r Record) Text(name string) string {
	s, _ := r.cells[name].(string)
	return s
}

// Rows are the records of a Rows field.
func (r Record) Rows(name string) []Record {
	rows, _ := r.cells[name].([]Record)
	return rows
}

// Names are the given names, sorted: the order of a Named record.
func (r Record) Names() []string { return slices.Sorted(maps.Keys(r.cells)) }

// Sub is the record in an Inner field, or under a name of a Named one.
func (r Record) Sub(name string) Record {
	sub, _ := r.cells[name].(Record)
	return sub
}

// With is the record with one more text.
func (r Record) With(name, text string) Record {
	cells := maps.Clone(r.cells)
	cells[name] = text
	return Record{cells}
}

// Object lists the given values in the order of the fields.
func (r Record) Object(fields []Field) Object {
	o := Object{}
	for _, f := range fields {
		if r.Has(f.Name) {
			o = append(o, Member{f.Name, r.cells[f.Name]})
		}
	}
	return o
}

// Read decodes an object by declared fields: what is unknown, missing or of
// another kind is an Problem that names the field at its path.
func (t Tachometer) Read(path string, object map[string]any, fields []Field) (Record, error) {
	for _, name := range slices.Sorted(maps.Keys(object)) {
		if name == "" {
			return Record{}, Bad(path, "has a field without a name; allowed: %s", Names(fields))
		}
		if _, known := Find(fields, name); !known {
			return Record{}, Bad(path+"."+Clip(name), "is not known here; allowed: %s", Names(fields))
		}
	}
	r := Record{make(map[string]any, len(fields))}
	for _, f := range fields {
		raw, given := object[f.Name]
		cell, err := t.cell(path+"."+f.Name, f, raw)
		switch {
		case err != nil:
			return Record{}, err
		case !given && !f.Optional:
			return Record{}, Bad(path+"."+f.Name, "is missing: %s", f.wanted(t))
		case cell != nil:
			r.cells[f.Name] = cell
		}
	}
	for _, f := range fields {
		if r.cells[f.Name] == nil && !f.Optional && !f.Nullable && !f.cannotBeRead(r.Has, r.Flag) {
			return Record{}, Bad(path+"."+f.Name, "may not be null here: %s", f.wanted(t))
		}
	}
	return r, nil
}

// cannotBeRead reports whether a flag beside the field says that there is
// nothing to read.
func (f Field) cannotBeRead(has, flag func(string) bool) bool {
	return slices.ContainsFunc(f.NullWhen, func(name string) bool {
		if name, inverted := strings.CutPrefix(name, "!"); inverted {
			return has(name) && !flag(name)
		}
		return flag(name)
	})
}

// wanted describes what the field takes.
func (f Field) wanted(t Tachometer) string {
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
	if unit := t.UnitOf(f); unit != "" {
		return "a number in " + unit
	}
	return "a number"
}

func (t Tachometer) cell(path string, f Field, raw any) (any, error) {
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
		if s, ok := raw.(string); ok && IsDay(s) {
			return s, nil
		}
	case Text:
		if s, ok := raw.(string); ok && s != "" && (f.Max == 0 || int64(len(s)) <= f.Max) {
			return s, nil
		}
		if f.Max > 0 {
			return nil, Bad(path, "must be text of 1 to %d bytes", f.Max)
		}
		return nil, Bad(path, "must be text, not empty")
	case Inner:
		if object, ok := raw.(map[string]any); ok {
			return t.Read(path, object, f.Each)
		}
	case Number:
		return t.number(path, f, raw)
	case Rows:
		if list, ok := raw.([]any); ok {
			return t.rows(path, f, list)
		}
	case Named:
		if object, ok := raw.(map[string]any); ok {
			return t.ReadNamed(path, object, f, nil)
		}
	}
	return nil, Bad(path, "must be %s", f.wanted(t))
}

func (t Tachometer) number(path string, f Field, raw any) (any, error) {
	unit := t.UnitOf(f)
	if object, ok := raw.(map[string]any); ok && (unit == "" || len(quantity.Convertible(unit)) > 0) {
		v, err := measured(path, unit, object)
		if err != nil {
			return nil, err
		}
		return f.within(path, v)
	}
	n, ok := raw.(json.Number)
	if !ok {
		return nil, Bad(path, "must be %s", f.wanted(t))
	}
	v, err := quantity.Parse(n.String(), t.decimalsOf(f))
	if err != nil {
		return nil, Bad(path, "%v: %s", err, Clip(n.String()))
	}
	return f.within(path, v)
}

// within refuses a number that the field cannot have.
func (f Field) within(path string, v quantity.Value) (any, error) {
	if v.Sign() < 0 && !f.Signed {
		return nil, Bad(path, "may not be below zero: %s", v)
	}
	if f.Max > 0 && v.Above(quantity.Scaled(f.Max, 0)) {
		return nil, Bad(path, "may not be above %d: %s", f.Max, v)
	}
	return v, nil
}

func (t Tachometer) rows(path string, f Field, list []any) (any, error) {
	if len(list) < f.AtLeast || len(list) > f.AtMost {
		return nil, Bad(path, "must be %s, not %d", f.wanted(t), len(list))
	}
	rows := make([]Record, len(list))
	for i, raw := range list {
		at := fmt.Sprintf("%s[%d]", path, i)
		object, ok := raw.(map[string]any)
		if !ok {
			return nil, Bad(at, "must be an object with %s", Names(f.Each))
		}
		row, err := t.Read(at, object, f.Each)
		if err != nil {
			return nil, err
		}
		rows[i] = row
	}
	return rows, nil
}

// ReadNamed decodes an object whose names are those of gauges. unitOf is the
// unit of each, where it is known.
func (t Tachometer) ReadNamed(path string, object map[string]any, f Field,
	unitOf func(name string) string) (Record, error) {
	r := Record{make(map[string]any, len(object))}
	for _, name := range slices.Sorted(maps.Keys(object)) {
		if name == "" {
			return Record{}, Bad(path, "has a field without a name")
		}
		at := path + "." + Clip(name)
		unit := f.Unit
		if unitOf != nil {
			unit = unitOf(name)
		}
		var cell any
		var err error
		if len(f.Each) == 0 {
			cell, err = t.number(at, Field{Kind: Number, Unit: unit, Decimals: f.Decimals, Signed: f.Signed},
				object[name])
		} else {
			sub, ok := object[name].(map[string]any)
			if !ok {
				return Record{}, Bad(at, "must be an object with %s", Names(f.Each))
			}
			cell, err = t.Read(at, sub, inUnit(f.Each, unit))
		}
		if err != nil {
			return Record{}, err
		}
		r.cells[name] = cell
	}
	return r, nil
}

// inUnit is fields with a unit that they take from elsewhere.
func inUnit(fields []Field, unit string) []Field {
	if unit == "" {
		return fields
	}
	out := slices.Clone(fields)
	for i := range out {
		out[i].Unit = cmp.Or(out[i].Unit, unit)
	}
	return out
}

// IsDay reports whether text is a day of the calendar, written 2026-11-24.
func IsDay(text string) bool {
	_, err := time.Parse(time.DateOnly, text)
	return err == nil
}
