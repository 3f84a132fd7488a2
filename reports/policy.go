package reports

import (
	"slices"

	"jetprimer/core/form"
	"jetprimer/core/library"
	"jetprimer/core/policy"
	"jetprimer/store"
)

// PolicyMoved is a student whom another policy would move.
type PolicyMoved struct {
	Student string `json:"student"`
	Name    string `json:"name"`
	Ready   bool   `json:"ready" doc:"as the policy is today"`
	Would   bool   `json:"would" doc:"ready by the other"`
	// Met of Required elements, before and after.
	Met       int            `json:"met"`
	Required  int            `json:"required"`
	WouldMet  int            `json:"wouldMet"`
	WouldNeed int            `json:"wouldNeed"`
	Elements  []MovedElement `json:"elements"`
}

// MovedElement is an element whose standing would be another.
type MovedElement struct {
	Element string `json:"element"`
	Text    string `json:"text"`
	Is      string `json:"is"`
	Would   string `json:"would"`
}

// Preview is whom a policy would move if it served today.
type Preview struct {
	Day      string        `json:"day"`
	Students int           `json:"students"`
	Moved    []PolicyMoved `json:"moved"`
}

// PolicyPreview is whom a version of the policy would move if it served today.
func (r *Reports) PolicyPreview(tx *store.Tx, version int) (Preview, error) {
	v := Preview{Day: r.day(tx), Moved: []PolicyMoved{}}
	now, err := tx.Policy(v.Day)
	if err != nil {
		return v, err
	}
	next, err := store.Document[policy.Policy](tx, library.KindPolicy, policy.ID, version)
	if err != nil {
		return v, err
	}
	if problems := next.Problems(); len(problems) > 0 {
		return v, form.Problem{Reason: "the policy has mistakes, the first: " + problems[0].Error()}
	}
	on, err := r.Cases(tx, v.Day)
	if err != nil {
		return v, err
	}
	students, err := tx.Students()
	if err != nil {
		return v, err
	}
	v.Students = len(students)
	for _, st := range students {
		before, err := on.Of(st, now.Standing)
		if err != nil {
			return v, err
		}
		after, err := on.Of(st, next.Standing)
		if err != nil {
			return v, err
		}
		if m := movedBy(st, before, after); m.changes() {
			v.Moved = append(v.Moved, m)
		}
	}
	slices.SortStableFunc(v.Moved, func(a, b PolicyMoved) int { return len(b.Elements) - len(a.Elements) })
	return v, nil
}

// changes reports whether anything becomes another.
func (m PolicyMoved) changes() bool {
	return m.Ready != m.Would || m.Met != m.WouldMet || m.Required != m.WouldNeed || len(m.Elements) > 0
}

// movedBy is what becomes of a student between two policies.
func movedBy(st store.Student, before, after StudentCase) PolicyMoved {
	is, would := before.Policy.Ready(before.Case), after.Policy.Ready(after.Case)
	m := PolicyMoved{
		Student: st.ID, Name: st.Name, Ready: is.Ready, Would: would.Ready, Met: is.Met, Required: is.Required,
		WouldMet: would.Met, WouldNeed: would.Required, Elements: []MovedElement{},
	}
	for _, p := range after.Packs {
		for _, e := range p.For(after.Class) {
			a, b := before.standing(e.ID), after.standing(e.ID)
			if a != b {
				m.Elements = append(m.Elements, MovedElement{e.ID, e.Text, a, b})
			}
		}
	}
	return m
}

// standing is how an element stands in the case.
func (c StudentCase) standing(element string) string {
	f, seen := c.Facts[element]
	if !seen {
		return "not seen"
	}
	return f.Standing(c.AsOf)
}
