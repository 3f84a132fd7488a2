package check

import (
	"encoding/json"
	"fmt"
	"math"
	"strconv"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// Edges are readings around the limits of a type's check: the sound example,
// then that example with one thing else at a time: each flag the other way,
// each number missing, and at, just below and just above each limit.
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
				for _, at := range []float64{v - step, v, v + step} {
					with(f.Name, math.Round(at*1000)/1000)
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
				data, _ := json.Marshal(map[string]any{"aircraftType": t.ID, "reading": reading, "conditions": conditions})
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
	Outcome Outcome  `json:"outcome"`
	Causes  []Cause  `json:"causes"`
	Actions []Action `json:"actions"`
}

// UsualFindings are the findings that show around the limits of a type's check,
// each as it shows first, in the units that a person reads.
func UsualFindings(name string, t aircraft.Type, u quantity.Units) []Usual {
	out := []Usual{}
	seen := map[string]bool{}
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
		if err != nil || len(v.Findings) != 1 || seen[v.Findings[0].Code] {
			continue // what cannot be read, or says several things at once
		}
		seen[v.Findings[0].Code] = true
		v = v.In(u)
		out = append(out, Usual{v.Findings[0], v.Outcome, v.Causes, v.Actions})
	}
	return out
}
