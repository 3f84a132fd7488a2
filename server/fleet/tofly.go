package fleet

import (
	"jetprimer/core/aircraft"
)

// TypeToFly is an aircraft type with what can be fitted to it.
type TypeToFly struct {
	ID        string               `json:"id"`
	Name      string               `json:"name"`
	Equipment []aircraft.Equipment `json:"equipment"`
}

// ToFly is a type that a school may fly.
func ToFly(t aircraft.Type) TypeToFly { return TypeToFly{t.ID, t.Name, Optional(t)} }

// Optional is the equipment that an aircraft of a type may go without.
func Optional(t aircraft.Type) []aircraft.Equipment {
	out := []aircraft.Equipment{}
	for _, e := range t.Equipment {
		if e.Optional {
			out = append(out, e)
		}
	}
	return out
}
