package checklist

import (
	"slices"

	"jetprimer/core/quantity"
)

// In is the list with its words in the units that a person reads. Conditions
// stay as they are written.
func (l List) In(u quantity.Units) List {
	l.Phases = slices.Clone(l.Phases)
	for p, phase := range l.Phases {
		items := slices.Clone(phase.Items)
		for i := range items {
			for _, words := range []*string{
				&items[i].Challenge, &items[i].Response, &items[i].Why, &items[i].Look, &items[i].Abnormal,
				&items[i].Caution,
			} {
				*words = u.Say(*words)
			}
			items[i].Errors = slices.Clone(items[i].Errors)
			for e, words := range items[i].Errors {
				items[i].Errors[e] = u.Say(words)
			}
		}
		l.Phases[p].Items = items
	}
	return l
}

// In is the reason in the units that a person reads.
func (r Reason) In(u quantity.Units) Reason {
	r.Why, r.Because, r.Challenge = u.Say(r.Why), u.Say(r.Because), u.Say(r.Challenge)
	return r
}

// In is the list as flown with its words in the units that a person reads.
func (f Flown) In(u quantity.Units) Flown {
	f.List, f.Reasons = f.List.In(u), slices.Clone(f.Reasons)
	for i, r := range f.Reasons {
		f.Reasons[i] = r.In(u)
	}
	return f
}
