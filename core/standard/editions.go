package standard

import "slices"

// How an element of one edition stands to one of a later edition.
const (
	Same    = "same"    // the same id, word for word
	Changed = "changed" // the same id, something else about it
	Became  = "became"  // another id, by what the later edition replaces
	Gone    = "gone"    // in the earlier edition only
	New     = "new"     // in the later edition only
)

// Pair is a line of two editions read side by side.
type Pair struct {
	// Task is the title of the task in the later edition, or in the earlier one
	// where the later has it no more.
	Task   string   `json:"task"`
	How    string   `json:"how" enum:"same,changed,became,gone,new"`
	Before *Element `json:"before,omitempty"`
	After  *Element `json:"after,omitempty"`
	// Fields are what is different of an element with the same id.
	Fields []string `json:"fields,omitempty" enum:"code,kind,text,classes"`
	// Why is the reason that an element became another.
	Why string `json:"why,omitempty"`
	// Says is what becomes of a student's standing in the element.
	Says string `json:"says"`
}

// Beside reads two editions side by side: in the order of the later one, every
// element of each in at least one line; what is gone stands at the end of its
// task, and a task that is gone at the end.
func Beside(before, after Pack) []Pair {
	olds, news := before.elements(), after.elements()
	became := map[string]Replaced{} // by the earlier element
	for _, r := range after.Replaces {
		if _, was := olds[r.From]; was {
			if _, is := news[r.To]; is {
				became[r.From] = r
			}
		}
	}
	out := []Pair{}
	gone := func(task Task, title string) {
		for _, e := range task.Elements {
			_, still := news[e.ID]
			if _, moved := became[e.ID]; !still && !moved {
				out = append(out, Pair{Task: title, How: Gone, Before: &e, Says: "Nothing takes over its standing."})
			}
		}
	}
	for _, task := range after.Tasks {
		for _, e := range task.Elements {
			at := len(out)
			if old, was := olds[e.ID]; was {
				pair := Pair{
					Task: task.Title, How: Same, Before: &old, After: &e, Fields: differing(old, e),
					Says: "Its standing goes on.",
				}
				if len(pair.Fields) > 0 {
					pair.How = Changed
				}
				out = append(out, pair)
			}
			for _, old := range before.all() {
				if r, moved := became[old.ID]; moved && r.To == e.ID {
					out = append(out, Pair{
						Task: task.Title, How: Became, Before: &old, After: &e, Why: r.Why,
						Says: "What was shown of it counts for the new element.",
					})
				}
			}
			if len(out) == at {
				out = append(out, Pair{Task: task.Title, How: New, After: &e, Says: "Begins as not yet seen."})
			}
		}
		if i := slices.IndexFunc(before.Tasks, func(t Task) bool { return t.ID == task.ID }); i >= 0 {
			gone(before.Tasks[i], task.Title)
		}
	}
	for _, task := range before.Tasks {
		if !slices.ContainsFunc(after.Tasks, func(t Task) bool { return t.ID == task.ID }) {
			gone(task, task.Title)
		}
	}
	return out
}

// all lists every element, in order.
func (p Pack) all() (out []Element) {
	for _, task := range p.Tasks {
		out = append(out, task.Elements...)
	}
	return out
}

func (p Pack) elements() map[string]Element {
	out := map[string]Element{}
	for _, e := range p.all() {
		out[e.ID] = e
	}
	return out
}

// differing names the fields in which two elements differ, in the order in which
// they are read.
func differing(a, b Element) (fields []string) {
	for _, f := range []struct {
		name string
		same bool
	}{
		{"code", a.Code == b.Code}, {"kind", a.Kind == b.Kind}, {"text", a.Text == b.Text},
		{"classes", slices.Equal(a.Classes, b.Classes)},
	} {
		if !f.same {
			fields = append(fields, f.name)
		}
	}
	return fields
}
