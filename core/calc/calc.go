// Package calc computes what an instructor otherwise works out in the head:
// altitudes, wind, a weather report, icing, priming, power limits, the half-way
// speed, the fuel plan and the take-off brief. A calculator is declared like a
// check: its fields, its rule, and a function without clock, file or network.
//
// Numbers are brought to their field's resolution on entry and results to
// theirs before anything is compared, so that the same request gives the same
// bytes everywhere.
package calc

import (
	"encoding/json"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// Definition declares a calculator.
type Definition struct {
	Name   string       `json:"name"`
	Title  string       `json:"title"`
	Rule   string       `json:"rule"`
	Source string       `json:"source"`
	Fields []form.Field `json:"fields"`

	run func(in input) (form.Object, []Advice, error)
}

// Advice is a sentence that goes with the values.
type Advice struct {
	Code    string `json:"code"`
	Message string `json:"message"`
}

// Answer is what every calculator gives. Its advice is never null.
type Answer struct {
	Values form.Object `json:"values"`
	Advice []Advice    `json:"advice"`
}

// Tables are the data that calculators work with beside their request.
type Tables struct {
	// Type finds an aircraft type by its id.
	Type aircraft.Finder
	// Icing are the bands of the general carburettor icing chart, worst first.
	Icing []IcingBand
}

// input is one decoded request.
type input struct {
	form.Record
	typ    aircraft.Type
	tables Tables
}

// All lists the calculators in the order a day is prepared.
func All() []Definition {
	return []Definition{metar, altitudes, wind, carbIce, prime, powerLimit, fuelPlan, halfWaySpeed, takeoffBrief}
}

// Find returns the calculator of that name.
func Find(name string) (Definition, bool) {
	all := All()
	i := slices.IndexFunc(all, func(d Definition) bool { return d.Name == name })
	if i < 0 {
		return Definition{}, false
	}
	return all[i], true
}

// Run answers one JSON request with one line of JSON. The error is a
// form.Problem when the request cannot be used.
func Run(name string, request []byte, tables Tables) ([]byte, error) {
	def, ok := Find(name)
	if !ok {
		var names []string
		for _, d := range All() {
			names = append(names, d.Name)
		}
		return nil, form.Bad("calculator", "%q is not known; known: %s", name, strings.Join(names, ", "))
	}
	object, err := form.ParseObject(request)
	if err != nil {
		return nil, err
	}
	in := input{tables: tables}
	if in.Record, err = form.RPM.Read("request", object, def.Fields); err != nil {
		return nil, trimmed(err)
	}
	if id := in.Text("aircraftType"); id != "" {
		if in.typ, ok = tables.Type(id); !ok {
			return nil, form.Bad("aircraftType", "%q is not a known type", id)
		}
	}
	values, advice, err := def.run(in)
	if err != nil {
		return nil, err
	}
	if advice == nil {
		advice = []Advice{}
	}
	return json.Marshal(Answer{values, advice})
}

// Schemas are the JSON Schemas of every calculator's requests, by its name.
func Schemas() map[string]map[string]any {
	out := map[string]map[string]any{}
	for _, d := range All() {
		out[d.Name] = form.Schema(d.Fields)
	}
	return out
}

// trimmed takes the word "request." off the name of a field.
func trimmed(err error) error {
	if bad, ok := err.(form.Problem); ok {
		return form.Problem{Field: strings.TrimPrefix(bad.Field, "request."), Reason: bad.Reason}
	}
	return err
}

// number declares a number that is read off or known.
func number(name, label, unit string, decimals int, more ...func(*form.Field)) form.Field {
	f := form.Field{Name: name, Label: label, Unit: unit, Kind: form.Number, Taken: form.ReadOff, Decimals: decimals}
	for _, m := range more {
		m(&f)
	}
	return f
}

func optional(f *form.Field) { f.Optional = true }
func nullable(f *form.Field) { f.Nullable = true }
func signed(f *form.Field)   { f.Signed = true }

// circle bounds a direction in degrees.
func circle(f *form.Field) { f.Max = 360 }

func text(name, label string, more ...func(*form.Field)) form.Field {
	f := form.Field{Name: name, Label: label, Kind: form.Text}
	for _, m := range more {
		m(&f)
	}
	return f
}

var aircraftTypeField = text("aircraftType", "aircraft type")

func member(name string, value any) form.Member { return form.Member{Name: name, Value: value} }

// within refuses a number outside the domain of its formula.
func within(name string, v quantity.Value, low, high int64, unit string) error {
	if v.Below(quantity.Scaled(low, 0)) || v.Above(quantity.Scaled(high, 0)) {
		return form.Bad(name, "must be from %d to %d %s, not %s", low, high, unit, v)
	}
	return nil
}

// rounded is a result at so many decimals, half away from zero.
func rounded(v float64, decimals int) quantity.Value {
	scale := 1.0
	for range decimals {
		scale *= 10
	}
	n := v * scale
	if n < 0 {
		return quantity.Scaled(-int64(-n+0.5), decimals)
	}
	return quantity.Scaled(int64(n+0.5), decimals)
}
