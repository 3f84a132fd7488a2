// Package recorder finds run-ups in what an engine recorder kept, and measures
// their checks from the traces with the fields that are typed by hand.
//
// A recorder knows speeds, temperatures and pressures; it does not know where a
// switch stood. Which dip is which follows from the order of the work: the
// ignition is tried on its first circuit, then on its second, with both in
// between; a propeller cycle raises the manifold pressure, or goes as deep as
// none of the others; what is left is carburettor heat.
package recorder

import (
	"cmp"
	"math"
	"slices"

	"jetprimer/core/aircraft"
)

// Track is what was recorded, sample by sample. Values that a recorder does not
// have are NaN; columns that it does not have are nil.
type Track struct {
	// Seconds rise strictly; a longer gap than maxGap ends whatever was going on.
	Seconds []float64
	// Engines are in the order of the type.
	Engines []Engine
	// GroundKt is the speed over ground.
	GroundKt []float64
}

// Engine is what was recorded of one engine. Speed is in the unit of the type's
// tachometer.
type Engine struct {
	Speed        []float64
	ManifoldInHg []float64
	OilC         []float64
	OilPressure  []float64
	ExhaustC     [][]float64 // by cylinder
}

// RunUp is one that was found, with what was measured. First and Last are the
// samples of its beginning and end.
type RunUp struct {
	Engine      int
	First, Last int
	Measured    []Measured
}

// Measured is the reading of one check.
type Measured struct {
	Check   string
	Reading map[string]any
}

// Options say what a recorder cannot know.
type Options struct {
	// SecondFirst says that the school tries the second circuit first: RIGHT before
	// LEFT, or lane B before lane A.
	SecondFirst bool
}

const (
	// maxGap is the longest time between two samples of one trace, in seconds.
	maxGap = 10.0
	// groundKt is the speed below which the aircraft stands.
	groundKt = 5.0
	// settled is how long a speed is held before it is a level, in seconds, and
	// held how long the run-up speed is before a run-up begins.
	settled, held = 1.5, 3.0
	// near is how far from its limit a run-up speed may be set to be one, as a part
	// of it.
	near = 0.06
	// after is how long after a run-up its idle and its take-off belong to it, in
	// seconds.
	after = 900.0
)

// RunUps finds the run-ups of every engine of a type that has an ignition check,
// in the order of their time.
func RunUps(track Track, t aircraft.Type, o Options) []RunUp {
	out := []RunUp{}
	for n, e := range track.Engines {
		for from := 0; from < len(track.Seconds); {
			to := from + 1
			for to < len(track.Seconds) && track.Seconds[to]-track.Seconds[to-1] <= maxGap {
				to++
			}
			out = append(out, trace{track, e, t, o, n + 1, from}.runUps(to)...)
			from = to
		}
	}
	slices.SortStableFunc(out, func(a, b RunUp) int { return cmp.Or(a.First-b.First, a.Engine-b.Engine) })
	return out
}

// trace is one engine's samples between two gaps.
type trace struct {
	Track
	engine Engine
	typ    aircraft.Type
	Options
	number int
	from   int
}

// limit is a number among a check's limits; NaN where there is none.
func (t trace) limit(check, name string) float64 { return t.typ.Limit(check, name) }

// ignition is the check of the type's double ignition, and how its fields are called.
func (t trace) ignition() (check string, sides [2]side) {
	if t.typ.Ignition == "lanes" {
		return "lanes", [2]side{{"a", "bothAfterA", "A"}, {"b", "bothAfterB", "B"}}
	}
	return "magneto", [2]side{{"left", "bothAfterLeft", "Left"}, {"right", "bothAfterRight", "Right"}}
}

type side struct{ low, both, name string }

// standsStill reports whether the aircraft stands in the middle of a level, as far as is
// known.
func (t trace) standsStill(l level) bool {
	i := (l.first + l.last) / 2
	return t.GroundKt == nil || math.IsNaN(t.GroundKt[i]) || t.GroundKt[i] < groundKt
}

// warm reports whether the engine is warm enough for a run-up, as far as is known.
func (t trace) warm(i int) bool {
	band := t.typ.Limits["gauges"]["oilTemperature"]
	least := math.NaN()
	if m, ok := band.(map[string]any); ok {
		least = aircraft.Number(m["min"])
	}
	return t.engine.OilC == nil || math.IsNaN(t.engine.OilC[i]) || math.IsNaN(least) || t.engine.OilC[i] >= least
}
