//go:build !lesson

package bridge

import (
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/record"
)

// Verified is an exported record that proved itself, with a line on it and the lesson laid
// out in time.
type Verified struct {
	record.Found
	Line  string       `json:"line"`
	Strip lesson.Strip `json:"strip"`
}

// verify takes the text of an exported record.
func (b *Bridge) verify(file string) (Verified, error) {
	found, err := record.Verify([]byte(file))
	if err != nil {
		return Verified{}, err
	}
	found.State = found.State.In(b.units)
	names := map[string]string{}
	for _, i := range found.Record.Items {
		names[i.ID] = i.Challenge
	}
	return Verified{found, found.Line(),
		lesson.StripOf(found.State, func(item string) string { return names[item] })}, nil
}

// tailor takes the day as it is typed, or leaves that of the tailoring.
func (b *Bridge) tailor(t checklist.Tailoring, typed *checklist.TypedDay) (checklist.Flown, error) {
	if typed != nil {
		var err error
		typed.Units = b.units
		if t.Day, err = typed.Day(); err != nil {
			return checklist.Flown{}, err
		}
	}
	flown, err := t.Flown()
	return flown.In(b.units), err
}

// Document is a list, a layer, or a memory aid with its list, and what it refers to.
type Document struct {
	Surroundings checklist.Surroundings `json:"surroundings"`
	List         *checklist.List        `json:"list,omitempty"`
	Layer        *checklist.Layer       `json:"layer,omitempty"`
	Aid          *checklist.Aid         `json:"aid,omitempty"`
}

func (b *Bridge) problems(d Document) []form.Problem {
	found := []form.Problem{}
	switch {
	case d.Layer != nil:
		found = append(found, d.Surroundings.LayerProblems(*d.Layer)...)
	case d.Aid != nil && d.List != nil:
		found = append(found, d.Surroundings.AidProblems(*d.Aid, *d.List)...)
	case d.List != nil:
		found = append(found, d.Surroundings.ListProblems(*d.List)...)
	}
	return found
}

func (b *Bridge) differences(older, newer checklist.List) []checklist.Difference {
	return checklist.Differences(older, newer)
}

func (b *Bridge) slug(words string) string { return checklist.Slug(words) }
