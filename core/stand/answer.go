package stand

import (
	"fmt"
	"slices"
	"strings"

	"jetprimer/core/check"
	"jetprimer/core/form"
)

// Normal is what is decided of an engine that has nothing.
const Normal = "normal-for-type"

// graver are the decisions, from the lightest to the gravest.
var graver = []string{Normal, "cleared", "carried-on", "deferred", "grounded"}

// Answer is what a student's decision on a scenario comes to, with what was wrong.
type Answer struct {
	Right bool   `json:"right"`
	Asked string `json:"asked" doc:"the decision that is right"`
	Words string `json:"words"`
	// Faults are what was wrong, in words.
	Faults []Revealed `json:"faults"`
}

// Revealed is a fault of a scenario as it is told afterwards.
type Revealed struct {
	Title   string   `json:"title"`
	Symptom string   `json:"symptom"`
	Shows   []string `json:"shows" doc:"the checks that show it"`
	Why     string   `json:"why"`
}

// Decide holds a decision to what is right: the gravest that one of the faults asks for.
// A decision that is graver than it had to be is safe, and said to be.
func (s Scenario) Decide(l Library, decision string) (Answer, error) {
	given := slices.Index(graver, decision)
	if given < 0 {
		return Answer{}, form.Bad("decision", "is %q; it is one of %s", form.Clip(decision), strings.Join(graver, ", "))
	}
	if problems := s.Problems(l); len(problems) > 0 {
		return Answer{}, form.Bad("scenario "+problems[0].Field[2:], "%s", problems[0].Reason)
	}
	typ, _ := l.Type(s.Type)
	out := Answer{Faults: []Revealed{}}
	asked := 0
	for _, slipped := range s.Faults {
		f, _ := l.Fault(slipped.Fault)
		asked = max(asked, slices.Index(graver, f.Decision))
		one := Revealed{f.Title, f.Symptom, []string{}, f.Why}
		if typ.Engines > 1 {
			one.Title += ", " + typ.EngineName(max(slipped.Engine, 1)) + " engine"
		}
		for _, sign := range f.Finds {
			if def, known := check.Find(sign.Check); known && !slices.Contains(one.Shows, def.Title) {
				one.Shows = append(one.Shows, def.Title)
			}
		}
		out.Faults = append(out.Faults, one)
	}
	out.Right, out.Asked = given == asked, graver[asked]
	switch {
	case out.Right && asked == 0:
		out.Words = "Right: nothing was wrong."
	case out.Right:
		out.Words = "Right."
	case asked == 0:
		out.Words = "Nothing was wrong."
	case given > asked:
		out.Words = "Safe, and more than it had to be."
	default:
		out.Words = fmt.Sprintf("Not enough: %s.", out.Faults[0].Why)
	}
	return out, nil
}
