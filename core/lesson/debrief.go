package lesson

import (
	"cmp"
	"fmt"
	"slices"

	"jetprimer/core/check"
	"jetprimer/core/checklist"
)

// Fix is something to fix next time: the item, why it stands where it does, and
// what was measured there.
type Fix struct {
	Item     string `json:"item"`
	Why      string `json:"why"`
	Measured string `json:"measured"`
	// Lately is how the item went over the lessons before, this one counted.
	Lately string `json:"lately,omitempty"`
	// Practise is what to do about it alone, Check the reference page it is on.
	Practise string `json:"practise"`
	Check    string `json:"check,omitempty"`
}

// Tally is in how many lessons before this one an item was observed, and in how
// many of them it was not right at once.
type Tally struct {
	Lessons int `json:"lessons"`
	Low     int `json:"low"`
}

// words are a tally with an item that was not right this time.
func (t Tally) words() string {
	switch {
	case t.Lessons <= 0:
		return ""
	case t.Low <= 0 && t.Lessons == 1:
		return "right in the lesson before"
	case t.Low <= 0:
		return "right in the " + itoa(t.Lessons) + " lessons before"
	}
	return "not right in " + itoa(t.Low+1) + " of " + itoa(t.Lessons+1) + " lessons"
}

// fixes is how many things one can take along from a lesson.
const fixes = 3

// ToFix are the items that stand lowest, critical ones first among their like,
// then in the order of the list; before is how each went in the lessons before.
func (s *Session) ToFix(state State, before map[string]Tally) []Fix {
	var low []int
	for i, item := range state.Items {
		if item.Level != nil && *item.Level < 4 {
			low = append(low, i)
		}
	}
	weight := func(i int) int {
		if s.places[i].Item.Critical {
			return 2 * *state.Items[i].Level
		}
		return 2**state.Items[i].Level + 1
	}
	slices.SortStableFunc(low, func(a, b int) int { return cmp.Compare(weight(a), weight(b)) })
	out := []Fix{}
	for _, i := range low[:min(fixes, len(low))] {
		item := state.Items[i]
		f := Fix{Item: item.ID, Lately: before[item.ID].words()}
		if len(item.Reasons) > 0 {
			f.Why = item.Reasons[0].Message
		}
		for _, r := range state.Readings {
			if r.Item == item.ID && r.Verdict != nil && len(r.Verdict.Findings) > 0 {
				f.Measured = s.Units.Say(r.Verdict.Findings[0].Message)
			}
		}
		f.Practise, f.Check = s.practise(s.places[i], item)
		out = append(out, f)
	}
	return out
}

// practise is what helps with an item that was not right: its numbers, its place
// in the flow, or what must come before it.
func (s *Session) practise(at checklist.Place, item ItemState) (words, name string) {
	phase := s.book.List.Phases[at.Phase].Title
	is := func(codes ...string) bool {
		return slices.ContainsFunc(item.Reasons, func(r Reason) bool { return slices.Contains(codes, r.Code) })
	}
	def, measured := check.Find(at.Item.Check)
	switch {
	case is("precedence", "too-late"):
		return "what must wait for what in “" + phase + "”, said aloud with the reason", ""
	case measured:
		return "“" + def.Title + "”, reading each number with its limit", def.Name
	case is("left-out", "critical-left-out", "out-of-order", "late", "found-by-verification"):
		return "the flow of “" + phase + "” from memory, then by the list", ""
	case is("prompted", "helped"):
		return "“" + phase + "” by the list, alone, until no line needs a word", ""
	}
	return "“" + phase + "” slowly, saying at each item what is looked for", ""
}

// Seen is how much of a list was observed, and how.
type Seen struct {
	Items    int `json:"items"`
	Observed int `json:"observed"`
	// Marked were observed by a mark of their own, Passed without one; Unread are
	// measured checks that were passed or marked without a number.
	Marked int `json:"marked"`
	Passed int `json:"passed"`
	Unread int `json:"unread"`
	// Words say it in a sentence or two.
	Words string `json:"words"`
}

// Seen counts what was observed: of a lesson that was signed by earlier rules the
// measured checks without a number are not known, and not said.
func (s State) Seen() Seen {
	out := Seen{Items: len(s.Items)}
	for _, i := range s.Items {
		switch {
		case i.Level == nil:
		case i.Implied:
			out.Passed++
		default:
			out.Marked++
		}
	}
	for _, p := range s.Phases {
		out.Unread += p.Unread
	}
	out.Observed = out.Marked + out.Passed
	out.Words = fmt.Sprintf("%d of %d items observed", out.Observed, out.Items)
	switch {
	case out.Observed == 0:
		out.Words = "Nothing was observed yet"
	case out.Passed == 0:
		out.Words += ", each marked"
	default:
		out.Words += fmt.Sprintf(": %d marked, %d passed without a mark", out.Marked, out.Passed)
	}
	out.Words += "."
	switch out.Unread {
	case 0:
	case 1:
		out.Words += " 1 measured check has no number."
	default:
		out.Words += fmt.Sprintf(" %d measured checks have no number.", out.Unread)
	}
	return out
}

// Sum is how a lesson went, by level: what was correct at once, nearly, or not.
type Sum struct {
	// Phases are those with a mark.
	Phases []PhaseSum `json:"phases"`
	// Observed are the items with a level, Deviations those that were not correct at once or
	// whose level was given or corrected by a person.
	Observed   []string `json:"observed"`
	Deviations []string `json:"deviations"`
	// Known is how many questions were known at once, Unsure the events of the others.
	Known  int      `json:"known"`
	Unsure []string `json:"unsure"`
}

// PhaseSum counts the items of one phase.
type PhaseSum struct {
	ID      string `json:"id"`
	Title   string `json:"title"`
	Correct int    `json:"correct"`
	Nearly  int    `json:"nearly"`
	Not     int    `json:"not"`
}

// correct is the level of what was right at once, nearly the least level of what was right
// in the end without being taken over.
const (
	correct = 4
	nearly  = 2
)

// Sum sums up a lesson.
func (s State) Sum() Sum {
	out := Sum{Phases: []PhaseSum{}, Observed: []string{}, Deviations: []string{}, Unsure: []string{}}
	for _, p := range s.Phases {
		if p.Marked == 0 {
			continue
		}
		sum := PhaseSum{ID: p.ID, Title: p.Title}
		for level, n := range p.Levels {
			switch {
			case level >= correct:
				sum.Correct += n
			case level >= nearly:
				sum.Nearly += n
			default:
				sum.Not += n
			}
		}
		out.Phases = append(out.Phases, sum)
	}
	for _, i := range s.Items {
		if i.Level != nil || i.First != nil {
			out.Observed = append(out.Observed, i.ID)
		}
		if i.Level != nil && *i.Level < correct || i.Override != nil || i.First != nil {
			out.Deviations = append(out.Deviations, i.ID)
		}
	}
	for _, o := range s.Orals {
		if o.Level >= correct {
			out.Known++
		} else {
			out.Unsure = append(out.Unsure, o.Event)
		}
	}
	return out
}
