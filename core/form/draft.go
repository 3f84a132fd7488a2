package form

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"jetprimer/core/quantity"
)

// Draft is what has been typed and touched in an entry form so far: texts and
// flags under the paths of their boxes. Two kinds of path are not boxes: a
// field's name with "#" holds how many of its rows are open, and a box's path
// with "!" says that it never happened.
type Draft map[string]any

// Typed is a reading as it is typed into the boxes of its form.
func Typed(reading map[string]any) Draft {
	d := Draft{}
	d.put("", reading)
	return d
}

func (d Draft) put(path string, v any) {
	switch v := v.(type) {
	case map[string]any:
		for name, inner := range v {
			d.put(strings.TrimPrefix(path+"."+name, "."), inner)
		}
	case []any:
		d[path+"#"] = strconv.Itoa(len(v))
		for i, inner := range v {
			d.put(path+"."+strconv.Itoa(i), inner)
		}
	case nil:
		d[path+"!"] = true
	case bool:
		d[path] = v
	case float64:
		d[path] = strconv.FormatFloat(v, 'f', -1, 64)
	default:
		d[path] = fmt.Sprint(v)
	}
}

func (d Draft) text(path string) string {
	s, _ := d[path].(string)
	return s
}

func (d Draft) flag(path string) bool { return d[path] == true }

// Name is a gauge, or something else that is read under its own name.
type Name struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	Unit  string `json:"unit"`
	// Beside are fields that may be said beside the number.
	Beside []Field `json:"-"`
}

// Box is one place of an entry form: a declared field at its path.
type Box struct {
	Path    string   `json:"path"`
	Label   string   `json:"label"`
	Unit    string   `json:"unit"`
	Kind    Kind     `json:"kind"`
	Taken   Taken    `json:"taken,omitempty"`
	Timer   string   `json:"timer,omitempty"`
	Choices []string `json:"choices,omitempty"`
	// Row names the row or gauge that the box belongs to.
	Row string `json:"row,omitempty"`
	// Side says which of the row's numbers it is, where they stand side by side.
	Side     string `json:"side,omitempty"`
	Optional bool   `json:"optional,omitempty"`
	Nullable bool   `json:"nullable,omitempty"`
	// Closed says that a flag beside it leaves nothing to read.
	Closed bool `json:"closed,omitempty"`
	// Beside says that it is said beside a number, where it was taken.
	Beside bool `json:"beside,omitempty"`
	// Drops says that a drop may be typed for the number.
	Drops bool `json:"drops,omitempty"`

	field Field
	// base is the unit that rules use, where Unit is another.
	base string
	// name, index and inner take the path apart.
	name, inner string
	index       int
}

// Rows says how many rows of a field are open, and the most there may be.
type OpenRows struct {
	Name  string `json:"name"`
	Label string `json:"label"`
	Open  int    `json:"open"`
	Most  int    `json:"most"`
}

// Form is a declared set of fields to be filled in: plain ones, or a field
// that is read once for each of some names.
type Form struct {
	Fields []Field
	Named  *Field
	Names  []Name
	// Given are members of the object that are not asked for.
	Given map[string]any
	// Units are those that numbers are typed in.
	Units quantity.Units
	Tachometer
}

// Fresh is what an empty form begins with: first choices, and the flags that
// are usually seen.
func (f Form) Fresh() Draft {
	d := Draft{}
	for _, field := range f.Fields {
		switch field.Kind {
		case Choice:
			d[field.Name] = field.Choices[0]
		case Flag:
			d[field.Name] = field.Usual
		}
	}
	return d
}

// OpenRows are the fields that are lists, with the rows a draft has opened.
func (f Form) OpenRows(d Draft) []OpenRows {
	out := []OpenRows{}
	for _, field := range f.Fields {
		if field.Kind == Rows {
			out = append(out, OpenRows{field.Name, field.Label, d.rows(field), field.AtMost})
		}
	}
	return out
}

func (d Draft) rows(f Field) int {
	least := f.AtLeast
	if f.Optional {
		least = 0
	}
	opened, err := strconv.Atoi(d.text(f.Name + "#"))
	if err != nil {
		opened = 0
	}
	return min(max(least, opened), f.AtMost)
}

// Boxes lists the boxes in the order one reads them off, with as many rows as
// the draft has opened.
func (f Form) Boxes(d Draft) []Box {
	boxes := []Box{}
	add := func(field Field, path, label, unit, row string) *Box {
		boxes = append(boxes,
			Box{Path: path, Label: label, Unit: f.Units.For(unit), base: unit, Kind: field.Kind, Taken: field.Taken,
				Timer:   field.Timer,
				Choices: field.Choices, Row: row, Optional: field.Optional, Nullable: field.Nullable,
				Drops: field.DropsFrom != "", field: field, index: -1,
				Closed: field.cannotBeRead(func(string) bool { return true }, d.flag)})
		return &boxes[len(boxes)-1]
	}
	if f.Named != nil {
		for _, n := range f.Names {
			if len(f.Named.Each) == 0 {
				plain := *f.Named
				plain.Kind = Number
				add(plain, n.ID, n.Label, n.Unit, "").name = n.ID
				for _, own := range n.Beside {
					b := add(own, n.ID+"."+own.Name, n.Label+", "+own.Label, own.Unit, "")
					b.name, b.inner, b.Beside = n.ID, own.Name, true
				}
				continue
			}
			for _, inner := range f.Named.Each {
				b := add(inner, n.ID+"."+inner.Name, n.Label+", "+inner.Label, n.Unit, n.Label)
				b.name, b.inner, b.Side = n.ID, inner.Name, inner.Label
			}
		}
		return boxes
	}
	for _, field := range f.Fields {
		if field.Kind != Rows {
			add(field, field.Name, field.Label, f.UnitOf(field), "").name = field.Name
			continue
		}
		for i := range d.rows(field) {
			for _, inner := range field.Each {
				b := add(inner, fmt.Sprintf("%s.%d.%s", field.Name, i, inner.Name), inner.Label, f.UnitOf(inner),
					fmt.Sprintf("%s %d", field.Label, i+1))
				b.name, b.index, b.inner = field.Name, i, inner.Name
			}
		}
	}
	return boxes
}

// Built is what a draft makes: the object to judge, the paths that are still
// empty, and what is wrong with a text, by its path.
type Built struct {
	Object  map[string]any    `json:"object"`
	Missing []string          `json:"missing"`
	Wrong   map[string]string `json:"wrong"`
}

// Whole reports whether the object can be judged.
func (b Built) Whole() bool { return len(b.Missing) == 0 && len(b.Wrong) == 0 }

// Build makes the object of what was typed; numbers are read strictly, and
// refused in words.
func (f Form) Build(d Draft) Built {
	out := Built{Object: maps.Clone(f.Given), Missing: []string{}, Wrong: map[string]string{}}
	if out.Object == nil {
		out.Object = map[string]any{}
	}
	for _, b := range f.Boxes(d) {
		value, given := out.value(b, d)
		if !given {
			continue
		}
		switch {
		case b.index >= 0:
			rows, _ := out.Object[b.name].([]any)
			for len(rows) <= b.index {
				rows = append(rows, map[string]any{})
			}
			rows[b.index].(map[string]any)[b.inner] = value
			out.Object[b.name] = rows
		case b.inner != "":
			sub, whole := out.Object[b.name].(map[string]any)
			if !whole {
				sub = map[string]any{}
				if plain := out.Object[b.name]; plain != nil {
					sub["value"] = plain // what is said beside a number makes a record of it
				}
			}
			sub[b.inner] = value
			out.Object[b.name] = sub
		default:
			out.Object[b.name] = value
		}
	}
	return out
}

func (out *Built) value(b Box, d Draft) (value any, given bool) {
	if b.Closed {
		return nil, true
	}
	switch b.Kind {
	case Flag:
		return d.flag(b.Path), true
	case Choice:
		if chosen := d.text(b.Path); chosen != "" {
			return chosen, true
		}
		return b.Choices[0], true
	}
	text := strings.TrimSpace(d.text(b.Path))
	switch {
	case text == "" && b.Nullable && d.flag(b.Path+"!"):
		return nil, true
	case text == "":
		if !b.Optional {
			out.Missing = append(out.Missing, b.Path)
		}
		return nil, false
	case b.Kind == Number:
		n, unit, why := typedNumber(text, b.Unit, b.base)
		if why != "" {
			out.Wrong[b.Path] = why
			return nil, false
		}
		if unit != b.base {
			return Measured(n, unit), true
		}
		return fallen(n, b.field, d), true
	}
	return text, true
}

// fallen is the number that a typed one stands for: itself, or where it is a
// drop what is left of the number it falls from.
func fallen(n json.Number, f Field, d Draft) json.Number {
	from, why := PlainNumber(d.text(f.DropsFrom), "")
	if f.DropsFrom == "" || why != "" {
		return n
	}
	high, err := quantity.Parse(from.String(), 1)
	if err != nil {
		return n
	}
	drop, err := quantity.Parse(n.String(), 1)
	if err != nil || drop.Sign() < 0 || !drop.Add(drop).Below(high) {
		return n
	}
	return json.Number(high.Sub(drop).String())
}

// typedNumber reads a number with the unit that it was typed in, which stands behind it
// where it is another than that of its box: "3.5 bar". A pressure setting that only inches
// of mercury can be is one.
func typedNumber(text, unit, base string) (n json.Number, read, why string) {
	digits := strings.TrimRightFunc(text, func(r rune) bool { return unicode.IsLetter(r) || strings.ContainsRune("°/%", r) })
	read = unit
	if typed := strings.TrimSpace(text[len(digits):]); typed != "" && strings.TrimSpace(digits) != "" {
		known := append([]string{unit, base}, quantity.Convertible(base)...)
		i := slices.IndexFunc(known, func(u string) bool {
			return strings.EqualFold(u, typed) || u == "percent" && typed == "%" || strings.EqualFold(u, "°"+typed)
		})
		if i < 0 {
			return "", "", fmt.Sprintf("“%s” is not in %s", Clip(text), unit)
		}
		read, text = known[i], digits
	}
	n, why = PlainNumber(text, read)
	if v, err := n.Float64(); err == nil && read == "hPa" && v >= 25 && v <= 33 {
		read = "inHg"
	}
	return n, read, why
}

// PlainNumber reads what a person typed as a number: digits, one point or decimal comma, a
// minus in front. why says what is wrong with anything else, and is empty when
// nothing is. A comma with three digits behind it may part thousands, and is refused.
func PlainNumber(text, unit string) (n json.Number, why string) {
	text = strings.TrimSpace(text)
	if whole, fraction, comma := strings.Cut(text, ","); comma && len(fraction) != 3 && isDigits(fraction) {
		text = whole + "." + fraction
	}
	digits, negative := strings.CutPrefix(text, "-")
	whole, fraction, point := strings.Cut(digits, ".")
	if !isDigits(whole) || point && !isDigits(fraction) || len(text) > 24 {
		if before, after, comma := strings.Cut(text, ","); comma && isDigits(strings.TrimPrefix(before, "-")) &&
			isDigits(after) {
			return "", fmt.Sprintf("“%s”: write %s%s, or %s.%s with a point", Clip(text), before, after, before, after)
		}
		if unit == "" {
			return "", fmt.Sprintf("“%s” is not a plain number; write it like 12.5", Clip(text))
		}
		return "", fmt.Sprintf("“%s” is not a plain number in %s; write it like 12.5", Clip(text), unit)
	}
	whole = strings.TrimLeft(whole, "0")
	if whole == "" {
		whole = "0"
	}
	out := whole
	if point {
		out += "." + fraction
	}
	if negative {
		out = "-" + out
	}
	return json.Number(out), ""
}

func isDigits(s string) bool {
	for i := range len(s) {
		if s[i] < '0' || s[i] > '9' {
			return false
		}
	}
	return s != ""
}
