package fleet

import (
	"jetprimer/core/aircraft"
	"jetprimer/core/library"
	"jetprimer/store"
)

// AircraftDay is an aircraft with what stands open on it.
type AircraftDay struct {
	store.Aircraft
	TypeName string          `json:"typeName"`
	Grounded bool            `json:"grounded"`
	Findings []store.Finding `json:"findings"`
}

// AircraftDay is every aircraft that flies on a day.
func (s Handlers) AircraftDay(tx *store.Tx, day string) ([]AircraftDay, error) {
	fleet, err := tx.Aircraft(day)
	if err != nil {
		return nil, err
	}
	findings, err := tx.Findings(day)
	if err != nil {
		return nil, err
	}
	types, err := tx.Versions("")
	if err != nil {
		return nil, err
	}
	names := map[string]string{}
	for _, v := range types {
		if v.Kind == library.KindType {
			names[v.ID] = v.Title
		}
	}
	out := []AircraftDay{}
	for _, a := range fleet {
		one := AircraftDay{Aircraft: a, TypeName: names[a.Type], Findings: []store.Finding{}}
		for _, f := range findings {
			if f.Registration == a.Registration && f.Condition.Open() {
				one.Findings = append(one.Findings, f)
				one.Grounded = one.Grounded || f.Condition.Grounds()
			}
		}
		out = append(out, one)
	}
	return out, nil
}

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
