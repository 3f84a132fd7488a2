package reports

import (
	"jetprimer/core/aircraft"
	"jetprimer/store"
)

// TypesByID are aircraft types by their ids.
type TypesByID map[string]aircraft.Type

// ByID are the types by their ids.
func ByID(types []aircraft.Type) TypesByID {
	out := TypesByID{}
	for _, t := range types {
		out[t.ID] = t
	}
	return out
}

// Named is a type by its id; one that serves no more has only that for a name.
func (t TypesByID) Named(id string) aircraft.Type {
	if of, serves := t[id]; serves {
		return of
	}
	return aircraft.Type{ID: id, Name: id}
}

// Types are the aircraft types that serve today.
func (r *Reports) Types(tx *store.Tx) (TypesByID, error) {
	types, err := tx.Types(r.day(tx))
	return ByID(types), err
}
