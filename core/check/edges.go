package check

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strconv"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// Edges are readings around the limits of a type's check: the sound example,
// then that example with one thing else at a time: each flag the other way,
// each number missing, and at, just below and just above each limit; speeds
// also as far as each limit below and above the one they are compared with.
func Edges(name string, t aircraft.Type) (readings []map[string]any, conditions map[string]any) {
	def, known := Find(name)
	sound, conditions, ok := Example(name, t, nil, 0)
	if !known || !ok {
		return nil, nil
	}
	data, err := json.Marshal(sound)
	if err != nil {
		return nil, nil
	}
	with := func(field string, value any) {
		one := map[string]any{}
		_ = json.Unmarshal(data, &one) // as it was written
		if field != "" {
			one[field] = value
		}
		readings = append(readings, one)
	}
	with("", nil)
	for _, f := range def.Fields {
		switch f.Kind {
		case form.Flag:
			with(f.Name, sound[f.Name] != true)
		case form.Number:
			with(f.Name, nil)
			for _, limit := range def.Limits {
				v, given := asNumber(t.Limits[name][limit.Name])
				if !given {
					continue
				}
				step := math.Pow10(-f.Decimals)
				around := []float64{v}
				if from, known := asNumber(sound["base"]); known && f.Unit == form.Speed && f.Name != "base" {
					around = append(around, from-v, from+v)
				}
				for _, middle := range around {
					for _, at := range []float64{middle - step, middle, middle + step} {
						with(f.Name, math.Round(at*1000)/1000)
					}
				}
			}
		}
	}
	return readings, conditions
}

// Case is a request to a check.
type Case struct {
	Check        string
	AircraftType string
	Request      []byte
}

// Corpus lists requests around the limits of every check, on the first of the
// types that has it: what is kept as golden and compared between builds.
func Corpus(types []aircraft.Type) []Case {
	var cases []Case
	seen := map[string]bool{}
	for _, t := range types {
		for _, d := range table {
			readings, conditions := Edges(d.Name, t)
			if len(readings) == 0 || seen[d.Name] {
				continue
			}
			seen[d.Name] = true
			for _, reading := range readings {
				// Readings are made of numbers, texts and flags.
				data, _ := json.Marshal(map[string]any{
					"aircraftType": t.ID, "reading": reading, "conditions": conditions,
				})
				cases = append(cases, Case{d.Name, t.ID, data})
			}
		}
	}
	return cases
}

// asNumber is a limit as a number, whatever kind its data has it in.
func asNumber(v any) (float64, bool) {
	if v == nil {
		return 0, false
	}
	f, err := strconv.ParseFloat(fmt.Sprint(v), 64)
	return f, err == nil
}

// Usual is a finding that a check of a type can have, with what most often lies
// behind it and what to do.
type Usual struct {
	Finding
	Outcome Outcome `json:"outcome"`
	// Reading is one that shows it; Trace is what it looks like, or Strip, the
	// scale whose number is out of its limits.
	Reading map[string]any `json:"reading"`
	Trace   *Trace         `json:"trace,omitempty"`
	Strip   *Strip         `json:"strip,omitempty"`
	Causes  []Cause        `json:"causes"`
	Actions []Action       `json:"actions"`
}

// apart is how far the numbers of two readings lie apart, each by its size.
func apart(a, b map[string]any) float64 {
	sum := 0.0
	for name, value := range a {
		x, known := asNumber(value)
		y, also := asNumber(b[name])
		if known && also {
			sum += math.Abs(x-y) / math.Max(1, math.Abs(x))
		}
	}
	return sum
}

// outside is the first of strips whose number lies outside its limits or what is
// normal, in the units that a person reads; nil where none does.
func outside(strips []Strip, u quantity.Units) *Strip {
	for _, s := range strips {
		if s.Value == nil {
			continue
		}
		for _, edge := range []struct {
			at  *float64
			low bool
		}{{s.Min, true}, {s.Low, true}, {s.Max, false}, {s.High, false}} {
			if edge.at != nil && (*s.Value < *edge.at) == edge.low && *s.Value != *edge.at {
				shown := s.in(u)
				return &shown
			}
		}
	}
	return nil
}

// UsualFindings are the findings that show around the limits of a type's check,
// each as it shows first, in the units that a person reads.
func UsualFindings(name string, t aircraft.Type, u quantity.Units) []Usual {
	out := []Usual{}
	near := map[string]float64{} // how far the reading of each lies from the sound one
	readings, conditions := Edges(name, t)
	for _, reading := range readings {
		request, err := json.Marshal(map[string]any{"aircraftType": t.ID, "reading": reading, "conditions": conditions})
		if err != nil {
			continue
		}
		parsed, err := ParseRequest(request)
		if err != nil {
			continue
		}
		v, err := Judge(name, parsed, func(string) (aircraft.Type, bool) { return t, true })
		if err != nil || len(v.Findings) != 1 {
			continue // what cannot be read, or says several things at once
		}
		code, far := v.Findings[0].Code, apart(readings[0], reading)
		at := slices.IndexFunc(out, func(o Usual) bool { return o.Code == code })
		if at >= 0 && near[code] <= far {
			continue
		}
		near[code] = far
		v = v.In(u)
		one := Usual{Finding: v.Findings[0], Outcome: v.Outcome, Reading: reading, Causes: v.Causes, Actions: v.Actions}
		def, _ := Find(name)
		station := Station{Type: t, Units: u, Conditions: conditions}
		if one.Trace = def.trace(station, reading); one.Trace == nil {
			one.Strip = outside(def.strips(station, reading), u)
		}
		if at >= 0 {
			out[at] = one
		} else {
			out = append(out, one)
		}
	}
	return out
}
