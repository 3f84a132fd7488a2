package checklist

import "slices"

// Measured is what of a list as flown is measured, for the work of maintenance: its
// checks in their phases, those of an item that is looked at first in a phase of
// their own before all others. Nothing has to come before anything else.
func (f Flown) Measured(first string) Flown {
	out := Flown{List: f.List.clone(), StartOrder: f.StartOrder, Layers: f.Layers, Reasons: []Reason{}}
	ahead := Phase{ID: "looked-at-first", Title: "From the finding"}
	var phases []Phase
	of := ""
	for _, p := range f.List.Places() {
		if p.Item.ID == first && p.Item.Of != "" {
			of = p.Item.Of
		}
	}
	for _, phase := range out.List.Phases {
		var items []Item
		for _, item := range phase.Items {
			if item.Check == "" {
				continue
			}
			item.After, item.Closes = nil, ""
			if item.ID == first || of != "" && item.Of == of {
				ahead.Items = append(ahead.Items, item)
			} else {
				items = append(items, item)
			}
		}
		if phase.Items = items; len(items) > 0 {
			phases = append(phases, phase)
		}
	}
	if len(ahead.Items) > 0 {
		phases = slices.Insert(phases, 0, ahead)
	}
	out.List.Phases = phases
	return out
}
