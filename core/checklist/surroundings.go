package checklist

import (
	"fmt"
	"slices"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
)

// Surroundings are what a list, a layer or a memory aid refers to outside
// itself.
type Surroundings struct {
	Type aircraft.Type `json:"type"`
	// Elements are the ids of all standard elements.
	Elements []string `json:"elements"`
	// Equipment is what the aircraft of any type may have: a condition may ask
	// for what this type never has, since items are shared between types.
	Equipment []string `json:"equipment"`
}

// ListProblems lists every mistake in the list, and where it does not fit.
func (s Surroundings) ListProblems(l List) []form.Problem {
	faults, add := collect(l.Problems())
	s.sameType(l.AircraftType, add)
	for p, phase := range l.Phases {
		for i, item := range phase.Items {
			s.itemFaults(fmt.Sprintf("$.phases[%d].items[%d]", p, i), item, add)
		}
	}
	return form.SortProblems(*faults)
}

// LayerProblems lists every mistake in the layer, and where it does not fit the
// type or a list that it is laid over. An item that the list does not have is
// no mistake: the layer may be for several lists, and tailoring says so.
func (s Surroundings) LayerProblems(l Layer) []form.Problem {
	faults, add := collect(l.Problems())
	s.sameType(l.AircraftType, add)
	for i, c := range l.Changes {
		at := fmt.Sprintf("$.changes[%d]", i)
		s.names(at+".when", c.When, add)
		if c.New != nil {
			s.itemFaults(at+".new", *c.New, add)
		}
		if changed, err := (Item{ID: c.Item}).with(c.Set); err == nil && len(c.Set) > 0 {
			s.itemFaults(at+".set", changed, add)
		}
	}
	return form.SortProblems(*faults)
}

// AidProblems lists every mistake in the memory aid, and the items and the phase
// that the list does not have.
func (s Surroundings) AidProblems(a Aid, l List) []form.Problem {
	faults, add := collect(a.Problems())
	s.sameType(a.AircraftType, add)
	phase := slices.IndexFunc(l.Phases, func(p Phase) bool { return p.ID == a.Phase })
	if phase < 0 {
		add("$.phase", "%q is no phase of the list %s", a.Phase, l.Title)
		return *faults
	}
	for i, letter := range a.Letters {
		for n, id := range letter.Items {
			if !slices.ContainsFunc(l.Phases[phase].Items, func(item Item) bool { return item.ID == id }) {
				add(fmt.Sprintf("$.letters[%d].items[%d]", i, n), "%q is no item of the phase %s", id,
					l.Phases[phase].Title)
			}
		}
	}
	return form.SortProblems(*faults)
}

// collect begins a list of faults that add appends to.
func collect(found []form.Problem) (*[]form.Problem, func(path, format string, args ...any)) {
	return &found, func(path, format string, args ...any) {
		found = append(found, form.Problem{Field: path, Reason: fmt.Sprintf(format, args...)})
	}
}

func (s Surroundings) sameType(id string, add func(path, format string, args ...any)) {
	if id != "" && id != s.Type.ID {
		add("$.aircraftType", "%q is no known aircraft type", id)
	}
}

func (s Surroundings) itemFaults(at string, item Item, add func(path, format string, args ...any)) {
	if item.Check != "" && s.Type.Limits[item.Check] == nil {
		add(at+".check", "%q is no check that the %s has limits for", item.Check, s.Type.Name)
	}
	for g, name := range item.Gauges {
		if s.Type.Limits["gauges"][name] == nil {
			add(fmt.Sprintf("%s.gauges[%d]", at, g), "%q is no gauge that the %s has limits for", name, s.Type.Name)
		}
	}
	if item.Place != "" && len(s.Type.Cockpit) > 0 &&
		!slices.ContainsFunc(s.Type.Cockpit, func(p aircraft.Place) bool { return p.ID == item.Place }) {
		add(at+".place", "%q is no place in the cockpit of the %s", item.Place, s.Type.Name)
	}
	s.names(at+".when", item.When, add)
	for field, ids := range map[string][]string{"elements": item.Elements, "knowledge": item.Knowledge} {
		for e, id := range ids {
			if !slices.Contains(s.Elements, id) {
				add(fmt.Sprintf("%s.%s[%d]", at, field, e), "%q is in no standards pack", id)
			}
		}
	}
}

// names checks that a condition asks for equipment and exercises that exist.
func (s Surroundings) names(at, when string, add func(path, format string, args ...any)) {
	condition, err := ParseCondition(when)
	if err != nil {
		return // Faults has reported it
	}
	for _, name := range condition.Names("fitted") {
		if !slices.Contains(s.Equipment, name) {
			add(at, "%q is equipment of no type", name)
		}
	}
	for _, name := range condition.Names("planned") {
		if !slices.Contains(ExerciseIDs(), name) {
			add(at, "%q is no exercise", name)
		}
	}
}
