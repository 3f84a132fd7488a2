package compare

import (
	"cmp"
	"fmt"
	"slices"
)

// Sequel counts, over the lessons on a type of aircraft in which an item was
// observed, in how many it went wrong, in how many a later item had a finding, and
// in how many both.
type Sequel struct {
	Type    string `json:"type"`
	Item    string `json:"item"`
	Finding string `json:"finding" doc:"the item that the finding stood at"`
	Lessons int    `json:"lessons"`
	Wrong   int    `json:"wrong"`
	Found   int    `json:"found"`
	Both    int    `json:"both"`
}

// Chain is an error that a finding surely follows more often than it comes
// otherwise. It is no proof that the one makes the other.
type Chain struct {
	Type    string `json:"type"`
	Item    string `json:"item"`
	Finding string `json:"finding"`
	// After is how often the finding came where the item had gone wrong, Else how
	// often where it had not.
	After Rate   `json:"after"`
	Else  Rate   `json:"else"`
	Words string `json:"words"`
}

// fewErrors is how often an item must have gone wrong for a chain from it.
const fewErrors = 5

// Chains are those of the counts in which the findings after an error are surely
// more than without it: the intervals of the two rates lie apart. The furthest apart
// come first. Of many pairs that are held against each other some lie apart by
// chance; intervals of 95 of 100 that do not touch at all leave few.
func Chains(counts []Sequel) []Chain {
	out := []Chain{}
	for _, c := range counts {
		after, other := rateOf(c.Both, c.Wrong), rateOf(c.Found-c.Both, c.Lessons-c.Wrong)
		if c.Wrong < fewErrors || other.Of < fewObserved || after.Low <= other.High {
			continue
		}
		out = append(out, Chain{c.Type, c.Item, c.Finding, after, other,
			fmt.Sprintf("in %d of %d lessons after it, in %d of %d without it", after.N, after.Of, other.N, other.Of)})
	}
	slices.SortStableFunc(out, func(a, b Chain) int {
		return cmp.Or(cmp.Compare(b.After.Low-b.Else.High, a.After.Low-a.Else.High), cmp.Compare(a.Type, b.Type),
			cmp.Compare(a.Item, b.Item), cmp.Compare(a.Finding, b.Finding))
	})
	return out
}

// ReadingTally counts the first tries of a check on a type of aircraft, and those
// that were out of limits.
type ReadingTally struct {
	Type  string `json:"type"`
	Check string `json:"check"`
	Tries int    `json:"tries"`
	Out   int    `json:"out"`
}

// OutOfLimits is how often a check is out of limits on a type.
type OutOfLimits struct {
	Type  string `json:"type"`
	Check string `json:"check"`
	Out   Rate   `json:"out"`
	// Few says that it was tried too seldom for a rate.
	Few bool `json:"few"`
}

// OutOfLimitsOf are the checks that are surely out of limits most often first;
// those that were tried too seldom come last.
func OutOfLimitsOf(tallies []ReadingTally) []OutOfLimits {
	out := []OutOfLimits{}
	for _, t := range tallies {
		out = append(out, OutOfLimits{t.Type, t.Check, rateOf(t.Out, t.Tries), t.Tries < fewObserved})
	}
	slices.SortStableFunc(out, func(a, b OutOfLimits) int {
		if a.Few != b.Few {
			return map[bool]int{true: 1, false: -1}[a.Few]
		}
		return cmp.Or(cmp.Compare(b.Out.Low, a.Out.Low), cmp.Compare(b.Out.Rate, a.Out.Rate),
			cmp.Compare(a.Type, b.Type), cmp.Compare(a.Check, b.Check))
	})
	return out
}
