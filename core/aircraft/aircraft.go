// Package aircraft describes aircraft types as data: what they are fitted
// with, at which speeds they are flown and to which limits their checks are
// held. No limit of a type stands in code.
package aircraft

import (
	"fmt"
	"math"
	"slices"

	"jetprimer/core/form"
)

// Type is one version of an aircraft type. A version is immutable once a
// lesson has used it.
type Type struct {
	ID      string `json:"id"`
	Name    string `json:"name"`
	Version int    `json:"version"`
	// Source says where the numbers come from: a handbook and its revision.
	Source string `json:"source"`
	// Class is the rating the type counts for, such as
	// airplane-single-engine-land.
	Class string `json:"class"`
	// EngineKind is piston, diesel or turbine.
	EngineKind string `json:"engineKind"`
	// StartType groups types whose engine start is one skill: carburetted,
	// injected, electronic, diesel, turbine, rotor.
	StartType string `json:"startType"`
	Engines   int    `json:"engines"`
	// Ignition is magnetos, lanes or none.
	Ignition string `json:"ignition"`
	// StartMagneto is the magneto that is timed for the start, by an impulse
	// coupling or a vibrator: left, right or both. Empty is not known.
	StartMagneto string `json:"startMagneto,omitempty"`
	// Propeller is fixed, constant-speed or none.
	Propeller string `json:"propeller"`
	// LeanOnGround says whether the type's maker allows leaning on the ground.
	LeanOnGround bool        `json:"leanOnGround"`
	Speeds       []Speed     `json:"speeds"`
	Equipment    []Equipment `json:"equipment"`
	Gauges       []Gauge     `json:"gauges"`
	// Tachometer is percent where the engine's speed is read in percent; empty
	// is rpm.
	Tachometer string `json:"tachometer,omitempty"`
	// EngineNames tell the engines of a twin apart, StartOrder is the order in
	// which the maker starts them, and StartOrderWhy the reason.
	EngineNames   []string `json:"engineNames,omitempty"`
	StartOrder    []int    `json:"startOrder,omitempty"`
	StartOrderWhy string   `json:"startOrderWhy,omitempty"`
	// Cockpit are the places where items are worked, for the flow map.
	Cockpit []Place `json:"cockpit,omitempty"`
	// Durations are the times that are waited or counted.
	Durations []Duration `json:"durations,omitempty"`
	// Minimums are the readings to wait for.
	Minimums []Minimum `json:"minimums,omitempty"`
	// Winds are the limits of the type, in knots.
	Winds *Winds `json:"winds,omitempty"`
	Fuel  *Fuel  `json:"fuel,omitempty"`
	Prime *Prime `json:"prime,omitempty"`
	Power *Table `json:"power,omitempty"`
	// Limits holds, under the name of each check that applies to the type,
	// that check's limits in its own fields and units.
	Limits   map[string]map[string]any `json:"limits"`
	Cautions []string                  `json:"cautions"`
	// Handbook says where the numbers stand, of a type that was described here.
	Handbook *Handbook `json:"handbook,omitempty"`
}

// Speed is an airspeed the type is flown at, in knots indicated.
type Speed struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	Knots int    `json:"knots"`
}

// Equipment is something fitted to every aircraft of the type or, when
// Optional, to some.
type Equipment struct {
	ID       string `json:"id"`
	Label    string `json:"label"`
	Optional bool   `json:"optional,omitempty"`
	// Limits are limits of checks that hold where it is fitted, over the type's own
	// field by field.
	Limits map[string]map[string]any `json:"limits,omitempty"`
}

// Gauge is an instrument whose reading the gauges check judges.
type Gauge struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	Unit  string `json:"unit"`
	// PerEngine gauges are there once for each engine.
	PerEngine bool `json:"perEngine,omitempty"`
	// From and To are the ends of its scale; no band reaches beyond them. Both
	// are 0 where they are not known.
	From float64 `json:"from,omitempty"`
	To   float64 `json:"to,omitempty"`
}

// Finder finds an aircraft type by its id.
type Finder func(id string) (Type, bool)

// EngineName tells an engine, from 1, from the others.
func (t Type) EngineName(engine int) string {
	if engine >= 1 && engine <= len(t.EngineNames) {
		return t.EngineNames[engine-1]
	}
	return fmt.Sprintf("engine %d", engine)
}

// Limit is a number among the limits of a check; NaN where there is none.
func (t Type) Limit(check, field string) float64 { return Number(t.Limits[check][field]) }

// Number is a number as YAML and JSON give it; NaN for anything else.
func Number(v any) float64 {
	switch n := v.(type) {
	case float64:
		return n
	case int:
		return float64(n)
	case uint64:
		return float64(n)
	case int64:
		return float64(n)
	}
	return math.NaN()
}

// StartMagnetos are the ways a start can be fired by magnetos.
var StartMagnetos = []string{"left", "right", "both"}

// oneOf lists the words a field allows.
var oneOf = map[string][]string{
	"engineKind": {"piston", "diesel", "turbine"},
	"startType":  {"carburetted", "injected", "electronic", "diesel", "turbine", "rotor"},
	"ignition":   {"magnetos", "lanes", "none"},
	"propeller":  {"fixed", "constant-speed", "none"},
}

// Problems lists every mistake in the type that can be seen without the checks
// and lists that use it.
func (t Type) Problems() []form.Problem {
	var faults []form.Problem
	add := func(path, format string, args ...any) {
		faults = append(faults, form.Problem{Field: path, Reason: fmt.Sprintf(format, args...)})
	}
	for field, value := range map[string]string{"id": t.ID, "name": t.Name, "source": t.Source, "class": t.Class} {
		if value == "" {
			add("$."+field, "is missing")
		}
	}
	for field, value := range map[string]string{
		"engineKind": t.EngineKind, "startType": t.StartType, "ignition": t.Ignition, "propeller": t.Propeller,
	} {
		if !slices.Contains(oneOf[field], value) {
			add("$."+field, "%q is none of %v", value, oneOf[field])
		}
	}
	if t.StartMagneto != "" && (!slices.Contains(StartMagnetos, t.StartMagneto) || t.Ignition != "magnetos") {
		add("$.startMagneto", "is one of %v, for an engine with magnetos", StartMagnetos)
	}
	if t.Version < 1 {
		add("$.version", "must be 1 or more")
	}
	if t.Tachometer != "" && t.Tachometer != "percent" {
		add("$.tachometer", "%q is not percent", t.Tachometer)
	}
	if t.Engines < 1 || t.Engines > 4 {
		add("$.engines", "must be 1 to 4, not %d", t.Engines)
	}
	seen := map[string]bool{}
	for i, s := range t.Speeds {
		if s.ID == "" || seen["speed "+s.ID] {
			add(fmt.Sprintf("$.speeds[%d].id", i), "%q is empty or used twice", s.ID)
		}
		seen["speed "+s.ID] = true
		if s.Knots < 1 || s.Knots > 400 {
			add(fmt.Sprintf("$.speeds[%d].knots", i), "must be 1 to 400, not %d", s.Knots)
		}
	}
	for i, e := range t.Equipment {
		if e.ID == "" || seen["equipment "+e.ID] {
			add(fmt.Sprintf("$.equipment[%d].id", i), "%q is empty or used twice", e.ID)
		}
		seen["equipment "+e.ID] = true
	}
	for i, g := range t.Gauges {
		if g.ID == "" || seen["gauge "+g.ID] {
			add(fmt.Sprintf("$.gauges[%d].id", i), "%q is empty or used twice", g.ID)
		}
		seen["gauge "+g.ID] = true
		if g.Unit == "" {
			add(fmt.Sprintf("$.gauges[%d].unit", i), "is missing")
		}
		if g.From != g.To && g.From > g.To {
			add(fmt.Sprintf("$.gauges[%d].from", i), "lies above the other end of the scale")
		}
	}
	faults = append(faults, t.planProblems(seen)...)
	faults = append(faults, t.handbookProblems()...)
	for name := range t.Limits["gauges"] {
		if !seen["gauge "+name] {
			add("$.limits.gauges."+name, "has limits but is not among the type's gauges")
		}
	}
	return form.SortProblems(faults)
}
