package compare

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// Tally counts how an item went on a type of aircraft: in how many lessons it was
// observed, not only passed, in how many it took a word or a hand, and in how many
// it went wrong: a wrong result, left out, or unsafe.
type Tally struct {
	Type string `json:"type"`
	Item string `json:"item"`
	// Base is where the aircraft stands.
	Base string `json:"base"`
	// Recent says that it was within the last months.
	Recent   bool `json:"-"`
	Observed int  `json:"observed"`
	Prompted int  `json:"prompted"`
	Wrong    int  `json:"wrong"`
}

// Rate is a part of some lessons, with the interval that holds the true one in 95
// of 100 cases (Wilson, Journal of the American Statistical Association 22, 1927).
type Rate struct {
	N    int     `json:"n"`
	Of   int     `json:"of"`
	Rate float64 `json:"rate"`
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

func rateOf(n, of int) Rate {
	if of == 0 {
		return Rate{}
	}
	p, m, z := float64(n)/float64(of), float64(of), interval
	middle := (p + z*z/(2*m)) / (1 + z*z/m)
	reach := z / (1 + z*z/m) * math.Sqrt(p*(1-p)/m+z*z/(4*m*m))
	return Rate{n, of, rounded(p), rounded(max(0, middle-reach)), rounded(min(1, middle+reach))}
}

// Taught is how one item is learned: the worse it surely goes, the further in front.
type Taught struct {
	Type     string `json:"type"`
	Item     string `json:"item"`
	Wrong    Rate   `json:"wrong"`
	Prompted Rate   `json:"prompted"`
	// Few says that it was observed too seldom to say anything of it.
	Few bool `json:"few"`
	// Change is better or worse where the last months surely differ from those
	// before, and empty otherwise.
	Change string `json:"change" enum:",better,worse"`
	Words  string `json:"words"`
}

// fewObserved is how often an item must have been observed for a rate of it.
const fewObserved = 12

// TaughtOf are the items by how surely they go wrong or need a word; those that
// were observed too seldom come last.
func TaughtOf(tallies []Tally) []Taught {
	type key struct{ typ, item string }
	both := map[key]*[2]Tally{}
	places := map[key]int{}
	for _, t := range tallies {
		k := key{t.Type, t.Item}
		if both[k] == nil {
			both[k] = &[2]Tally{}
		}
		places[k] = 0
		at := &both[k][0]
		if t.Recent {
			at = &both[k][1]
		}
		at.Observed, at.Prompted, at.Wrong = at.Observed+t.Observed, at.Prompted+t.Prompted, at.Wrong+t.Wrong
	}
	out := []Taught{}
	for _, k := range ordered(places,
		func(a, b key) int { return cmp.Or(cmp.Compare(a.typ, b.typ), cmp.Compare(a.item, b.item)) }) {
		before, lately := both[k][0], both[k][1]
		of := before.Observed + lately.Observed
		t := Taught{
			Type: k.typ, Item: k.item, Wrong: rateOf(before.Wrong+lately.Wrong, of),
			Prompted: rateOf(before.Prompted+lately.Prompted, of), Few: of < fewObserved,
		}
		then, now := rateOf(before.Wrong+before.Prompted, before.Observed), rateOf(lately.Wrong+lately.Prompted,
			lately.Observed)
		if before.Observed >= fewObserved && lately.Observed >= fewObserved {
			switch {
			case now.Low > then.High:
				t.Change = "worse"
			case now.High < then.Low:
				t.Change = "better"
			}
		}
		t.Words = t.words()
		out = append(out, t)
	}
	slices.SortStableFunc(out, func(a, b Taught) int {
		if a.Few != b.Few {
			return map[bool]int{true: 1, false: -1}[a.Few]
		}
		return cmp.Or(cmp.Compare(b.Wrong.Low, a.Wrong.Low), cmp.Compare(b.Prompted.Low, a.Prompted.Low),
			cmp.Compare(b.Wrong.Rate, a.Wrong.Rate), cmp.Compare(b.Prompted.Rate, a.Prompted.Rate))
	})
	return out
}

func (t Taught) words() string {
	if t.Few {
		return fmt.Sprintf("observed in %d of the %d lessons that a rate needs", t.Wrong.Of, fewObserved)
	}
	of := "lessons"
	if t.Type == "" { // a group: its items were observed more than once a lesson
		of = "times"
	}
	said := fmt.Sprintf("wrong in %d of %d %s, a word or a hand in %d", t.Wrong.N, t.Wrong.Of, of, t.Prompted.N)
	if t.Change != "" {
		said += "; " + t.Change + " than before"
	}
	return said
}

// By sums tallies into groups, such as the phases of a list; a tally without a group
// is left out. Their items are the groups', of no type.
func By(tallies []Tally, group func(Tally) string) []Tally {
	out := []Tally{}
	for _, t := range tallies {
		if t.Item = group(t); t.Item != "" {
			t.Type = ""
			out = append(out, t)
		}
	}
	return out
}

// QuestionTally counts how often an oral question was asked, and not known unhelped.
type QuestionTally struct {
	Question string `json:"question"`
	Asked    int    `json:"asked"`
	Missed   int    `json:"missed"`
}

// Question is how one oral question is known.
type Question struct {
	Question string `json:"question"`
	Missed   Rate   `json:"missed"`
	// Few says that it was asked too seldom for a rate.
	Few bool `json:"few"`
}

// QuestionsOf are the questions that are surely missed most often first; those that
// were asked too seldom come last.
func QuestionsOf(tallies []QuestionTally) []Question {
	out := []Question{}
	for _, t := range tallies {
		out = append(out, Question{t.Question, rateOf(t.Missed, t.Asked), t.Asked < fewObserved})
	}
	slices.SortStableFunc(out, func(a, b Question) int {
		if a.Few != b.Few {
			return map[bool]int{true: 1, false: -1}[a.Few]
		}
		return cmp.Or(cmp.Compare(b.Missed.Low, a.Missed.Low), cmp.Compare(b.Missed.Rate, a.Missed.Rate),
			cmp.Compare(a.Question, b.Question))
	})
	return out
}
