package stand

import (
	"slices"

	"jetprimer/core/form"
)

// What passes by outside.
const (
	SomebodyNear   = "person"   // walks into the propeller area, or under the rotor
	AircraftBehind = "aircraft" // stands where the blast goes
)

// Passer is somebody or something outside that matters: what, from which second, and
// for how many.
type Passer struct {
	What string  `json:"what" enum:"person,aircraft"`
	From float64 `json:"from"`
	For  float64 `json:"for"`
}

// Check reports what of the passer cannot be used.
func (p Passer) Check(at string) *form.Problem {
	bad := func(field, reason string) *form.Problem {
		return &form.Problem{Field: at + "." + field, Reason: reason}
	}
	switch {
	case p.What != SomebodyNear && p.What != AircraftBehind:
		return bad("what", "must be person or aircraft")
	case !(p.From >= 0 && p.From <= MaxSeconds):
		return bad("from", "must be 0 to "+number(MaxSeconds))
	case !(p.For > 0 && p.For <= MaxSeconds):
		return bad("for", "must be above 0 and at most "+number(MaxSeconds))
	}
	return nil
}

// Passes lets somebody pass; the seconds count from the beginning.
func (m *Machine) Passes(p Passer) { m.passers = append(m.passers, p) }

// Near reports whether somebody or something of a kind is there now.
func (m *Machine) Near(what string) bool {
	now := m.Seconds()
	return slices.ContainsFunc(m.passers,
		func(p Passer) bool { return p.What == what && now >= p.From && now < p.From+p.For })
}

// Weather makes the day another one from now on: the air, not how the engines were left.
func (m *Machine) Weather(day Day) { m.air = day.air() }

// WindKt is the wind from ahead in knots, below 0 from behind.
func (m *Machine) WindKt() float64 { return m.air.windKt }
