package compare

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
)

// Tried is a try of a measured check as it stands beside a finding: its numbers with
// their limits, and what came of it.
type Tried struct {
	State check.State `json:"state"`
	Words string      `json:"words"`
}

// TriedOf tells a try that was judged, in the words of its verdict.
func TriedOf(one LogEntry, t aircraft.Type) Tried {
	var v struct {
		Outcome  check.Outcome   `json:"outcome"`
		Findings []check.Finding `json:"findings"`
	}
	if json.Unmarshal(one.Verdict, &v) != nil || check.OutcomeWords(v.Outcome) == "" {
		return Tried{check.Unjudged, "not judged"}
	}
	var said []string
	for _, n := range numbers(one, t) {
		said = append(said, fmt.Sprintf("%s %s (%s)", n.Label, n.with(n.Points[0].Value), n.limits()))
	}
	words := strings.Join(said, "; ")
	if words != "" {
		words += ": "
	}
	words += strings.ToLower(check.OutcomeWords(v.Outcome))
	if i := slices.IndexFunc(v.Findings, func(f check.Finding) bool { return f.Message != "" }); i >= 0 {
		words += ". " + v.Findings[i].Message
	}
	return Tried{check.StateOf(v.Outcome), words}
}

// limits are what the number of a series is held to.
func (s Series) limits() string {
	switch {
	case s.Low != nil && s.High != nil:
		return strconv.FormatFloat(*s.Low, 'f', -1, 64) + " to " + s.with(*s.High)
	case s.High != nil:
		return "at most " + s.with(*s.High)
	}
	return "at least " + s.with(*s.Low)
}

// with is a number with the unit of the series.
func (s Series) with(v float64) string {
	return strings.TrimSpace(strconv.FormatFloat(v, 'f', -1, 64) + " " + s.Unit)
}
