package aircraft

import (
	"fmt"
	"slices"

	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// Handbook says of a type's numbers where they stand in the handbook that it was
// described from.
type Handbook struct {
	// Units are those that the handbook gives its numbers in.
	Units quantity.Units `json:"units"`
	// From is what the description began with.
	From *Origin `json:"from,omitempty"`
	// Numbers are the sources by the path of each number, such as
	// limits.magneto.dropMax or speeds.rotate.
	Numbers map[string]Provenance `json:"numbers,omitempty"`
	// LeftOff are the checks that the type would have and the handbook gives no
	// limits for: they are on no list.
	LeftOff []string `json:"leftOff,omitempty"`
}

// Origin is a version of another type, or of the same one. Blank says that only
// its kind was taken: what it has, and none of its numbers.
type Origin struct {
	Type    string `json:"type"`
	Version int    `json:"version"`
	Blank   bool   `json:"blank,omitempty"`
}

// Provenance is where one number comes from: a page of the handbook, or the school's
// own habit, or nowhere, since the handbook gives none and it is left out.
type Provenance struct {
	Page  string `json:"page,omitempty"`
	Habit bool   `json:"habit,omitempty"`
	Left  bool   `json:"left,omitempty"`
	// As is the number as the handbook has it, where its Unit is another than
	// the one that is kept.
	As   string `json:"as,omitempty"`
	Unit string `json:"unit,omitempty"`
}

// Told reports whether it is said where the number comes from.
func (p Provenance) Told() bool { return p.Page != "" || p.Habit || p.Left }

// Provenance is where a number of the type comes from, by its path.
func (t Type) Provenance(path string) Provenance {
	if t.Handbook == nil {
		return Provenance{}
	}
	return t.Handbook.Numbers[path]
}

// MaxPage is the longest that a page is written, in bytes.
const MaxPage = 24

// handbookProblems lists the mistakes in what is said of the handbook.
func (t Type) handbookProblems() []form.Problem {
	if t.Handbook == nil {
		return nil
	}
	var faults []form.Problem
	if err := t.Handbook.Units.Check(); err != nil {
		faults = append(faults, form.Problem{Field: "$.handbook.units", Reason: err.Error()})
	}
	for path, s := range t.Handbook.Numbers {
		at := fmt.Sprintf("$.handbook.numbers.%s", path)
		ways := 0
		for _, way := range []bool{s.Page != "", s.Habit, s.Left} {
			if way {
				ways++
			}
		}
		if ways > 1 {
			faults = append(faults, form.Problem{Field: at, Reason: "must name one of a page, habit and left"})
		}
		if len(s.Page) > MaxPage {
			faults = append(faults, form.Problem{
				Field: at + ".page", Reason: fmt.Sprintf("must have at most %d characters", MaxPage),
			})
		}
		if (s.As == "") != (s.Unit == "") {
			faults = append(faults, form.Problem{Field: at, Reason: "must give both as and unit, or neither"})
		}
	}
	for i, name := range t.Handbook.LeftOff {
		if t.Limits[name] != nil || slices.Contains(t.Handbook.LeftOff[:i], name) {
			faults = append(faults, form.Problem{
				Field:  fmt.Sprintf("$.handbook.leftOff[%d]", i),
				Reason: fmt.Sprintf("%q has limits, or is named twice", name),
			})
		}
	}
	return faults
}
