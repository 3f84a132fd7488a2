package reports

import (
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

// aircraftOn is every aircraft that flies on a day.
func aircraftOn(tx *store.Tx, day string) ([]AircraftDay, error) {
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
