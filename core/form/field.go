// Package form holds what is not about engines: fields with their unit,
// resolution and order, requests read strictly by them, errors that name the
// field, and the boxes of an entry form with what was typed into them. Checks
// and calculators stand on it.
package form

import (
	"slices"
	"strings"

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
	ReadOff Taken = "read"    // read off an instrument
	Timed   Taken = "timed"   // counted by a timer
	Watched Taken = "watched" // seen, heard or felt
)

// Speed is the unit of fields whose unit and resolution follow the request's
// own "unit": whole rpm, or tenths of a percent.
const Speed = "speed"

// Field declares one value of a request: the entry form, the API schema and
// the decoding all follow from it.
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
	// Usual flags are set in a fresh form: it is what is normally seen.
	Usual bool `json:"usual,omitempty"`
	// Optional fields may be missing; what is missing is not judged.
	Optional bool `json:"optional,omitempty"`
	// Nullable fields may be null: it did not happen.
	Nullable bool `json:"nullable,omitempty"`
	// NullWhen names flags of the same record: while one of them is true (or,
	// written "!name", false) this field may be null, as it cannot be read.
	NullWhen []string `json:"nullWhen,omitempty"`
	// Signed numbers may be below zero.
	Signed bool `json:"signed,omitempty"`
	// DropsFrom names the number that this one falls from: people see the drop,
	// and a number typed below half of the other is one.
	DropsFrom string `json:"dropsFrom,omitempty"`
	// Max bounds numbers that cannot be larger by their nature, such as degrees
	// of a circle; 0 leaves them unbounded.
	Max int64 `json:"max,omitempty"`
	// Each is the record of a Rows or Named field; a Named field without it
	// holds plain numbers.
	Each []Field `json:"each,omitempty"`
	// AtLeast and AtMost bound the number of rows.
	AtLeast int `json:"atLeast,omitempty"`
	AtMost  int `json:"atMost,omitempty"`
	// Silent is what a limit is where an aircraft's handbook gives none.
	Silent *Silent `json:"silent,omitempty"`
}

// Silent says of a limit what becomes of it where a handbook is silent.
type Silent struct {
	// Words say what is judged without it, and what is not.
	Words string `json:"words"`
	// Habit is what schools usually take, in the field's unit; 0 where there is no
	// usual number.
	Habit float64 `json:"habit,omitempty"`
	// Zero says that leaving a required limit out is to set it to 0.
	Zero bool `json:"zero,omitempty"`
}

// SilentHabit is a limit that schools set by habit where a handbook gives none.
func SilentHabit(habit float64, words string) *Silent { return &Silent{Words: words, Habit: habit} }

// Tachometer is how a request's speeds are read: its unit's words, and its
// resolution.
type Tachometer struct {
	Unit     string
	Decimals int
}

// The tachometers there are.
var (
	RPM     = Tachometer{Unit: "rpm"}
	Percent = Tachometer{Unit: "percent", Decimals: 1}
)

// TachometerIn is the one that shows a unit; anything but percent is rpm.
func TachometerIn(unit string) Tachometer {
	if unit == Percent.Unit {
		return Percent
	}
	return RPM
}

// UnitOf is the unit that a field has with a tachometer, in words.
func (t Tachometer) UnitOf(f Field) string {
	if f.Unit == Speed {
		return t.Unit
	}
	return f.Unit
}

func (t Tachometer) decimalsOf(f Field) int {
	if f.Unit == Speed {
		return t.Decimals
	}
	return f.Decimals
}

// Names lists the fields' names for an error.
func Names(fields []Field) string {
	names := make([]string, len(fields))
	for i, f := range fields {
		names[i] = f.Name
	}
	return strings.Join(names, ", ")
}

// Find is the field of that name.
func Find(fields []Field, name string) (Field, bool) {
	i := slices.IndexFunc(fields, func(f Field) bool { return f.Name == name })
	if i < 0 {
		return Field{}, false
	}
	return fields[i], true
}

// Schema is the JSON Schema of an object with these fields. speed fields are
// numbers in the unit that the object itself names.
func Schema(fields []Field) map[string]any {
	properties := map[string]any{}
	required := []string{}
	for _, f := range fields {
		properties[f.Name] = f.schema()
		if !f.Optional {
			required = append(required, f.Name)
		}
	}
	return map[string]any{
		"type": "object", "additionalProperties": false, "properties": properties, "required": required,
	}
}

func (f Field) schema() map[string]any {
	s := map[string]any{}
	switch f.Kind {
	case Number:
		s["type"] = "number"
		if !f.Signed {
			s["minimum"] = 0
		}
		if f.Max > 0 {
			s["maximum"] = f.Max
		}
		if others := quantity.Convertible(f.Unit); len(others) > 0 {
			s = orMeasured(s, append([]string{f.Unit}, others...))
		}
	case Flag:
		s["type"] = "boolean"
	case Choice:
		s["type"], s["enum"] = "string", f.Choices
	case Day:
		s["type"], s["format"] = "string", "date"
	case Text:
		s["type"], s["minLength"] = "string", 1
		if f.Max > 0 {
			s["maxLength"] = f.Max
		}
	case Inner:
		s = Schema(f.Each)
	case Rows:
		s["type"], s["items"] = "array", Schema(f.Each)
		s["minItems"], s["maxItems"] = f.AtLeast, f.AtMost
	case Named:
		s["type"], s["additionalProperties"] = "object", orMeasured(map[string]any{"type": "number"}, nil)
		if len(f.Each) > 0 {
			s["additionalProperties"] = Schema(f.Each)
		}
	}
	if f.Nullable || len(f.NullWhen) > 0 {
		s = map[string]any{"anyOf": []any{s, map[string]any{"type": "null"}}}
	}
	if words := strings.TrimSpace(f.Label + unitWords(f.Unit)); words != "" {
		s["description"] = words
	}
	return s
}

// orMeasured is the schema of a number, or of its value in one of some units.
func orMeasured(number map[string]any, units []string) map[string]any {
	unit := map[string]any{"type": "string"}
	if len(units) > 0 {
		unit = map[string]any{"enum": units}
	}
	return map[string]any{"anyOf": []any{number,
		map[string]any{"type": "object", "additionalProperties": false, "required": []string{"value", "unit"},
			"properties": map[string]any{"value": map[string]any{"type": "number"}, "unit": unit}}}}
}

func unitWords(unit string) string {
	switch unit {
	case "":
		return ""
	case Speed:
		return ", rpm or percent"
	}
	return ", " + unit
}
