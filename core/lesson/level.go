package lesson

import (
	"fmt"
	"slices"

	"jetprimer/core/aircraft"
)

// ErrorKind is a mistake a student can make, in the trade's words.
type ErrorKind struct {
	Code  string `json:"code"`
	Label string `json:"label"`
	// Severity is the usual one: slip, wrong or unsafe.
	Severity string `json:"severity"`
	// Has is what a type must have for it to be possible; see aircraft.Type.Has.
	Has []string `json:"-"`
}

// ErrorKindsFor are those that can be made on a type.
func ErrorKindsFor(t aircraft.Type) []ErrorKind {
	return slices.DeleteFunc(slices.Clone(ErrorKinds),
		func(k ErrorKind) bool { return k.Code == usualError || k.Code == notedError || !t.Fits(k.Has) })
}

// usualError is one of the errors that the list itself names at its item; its
// words say which.
const usualError = "usual"

// notedError is one that was noted while nobody had a hand for words: it is put
// into words before the lesson is signed.
const notedError = "noted"

// ErrorKinds lists the mistakes; order and omission are not among them, since
// they follow from the marks.
var ErrorKinds = []ErrorKind{
	{Code: "answered-without-looking", Label: "answered without looking", Severity: "wrong"},
	{Code: "wrong-switch", Label: "wrong switch, or one notch too far", Severity: "wrong"},
	{Code: "wrong-limit", Label: "wrong limit quoted", Severity: "wrong"},
	{Code: "not-compared", Label: "reading not compared with a limit", Severity: "slip"},
	{Code: "abnormal-not-noticed", Label: "abnormal not noticed", Severity: "wrong"},
	{Code: "rationalised", Label: "noticed but explained away", Severity: "wrong"},
	{Code: "brake-creep", Label: "brake creep unnoticed", Severity: "unsafe", Has: []string{"no rotor"}},
	{Code: "eyes-inside", Label: "eyes inside too long", Severity: "wrong"},
	{Code: "no-verbal-clear", Label: "no call or look before cranking", Severity: "unsafe"},
	{Code: "starter-too-long", Label: "starter held too long", Severity: "wrong"},
	{Code: "over-speed", Label: "over-speed after start", Severity: "wrong"},
	{Code: "mixture-moment", Label: "lean or rich at the wrong moment", Severity: "wrong", Has: []string{"mixture"}},
	{Code: "heat-left-on", Label: "carburettor heat left on", Severity: "wrong", Has: []string{"carburettor"}},
	{Code: "lower-tank", Label: "fuel left on the lower tank", Severity: "wrong"},
	{Code: "brief-without-number", Label: "briefing without a number in it", Severity: "slip"},
	{Code: "why-unknown", Label: "could not say why", Severity: "slip"},
	{Code: "back-to-both", Label: "back to BOTH with the throttle open", Severity: "unsafe", Has: []string{"magnetos"}},
	{Code: usualError, Label: "a usual error", Severity: "wrong"},
	{Code: notedError, Label: "noted, to be said in the debrief", Severity: "slip"},
	{Code: "unsafe-act", Label: "unsafe act", Severity: "unsafe"},
}

// severityLevel is the level an error of each severity forces.
var severityLevel = map[string]int{"slip": 3, "wrong": 1, "unsafe": 0}

// personal are findings of measured checks that the person made, not the
// engine: unsafe acts, and errors of technique. A later clean try erases none.
var personal = map[string]struct {
	code  string
	level int
}{
	"fuel-too-early": {"unsafe-act", 0}, "fuel-too-hot": {"unsafe-act", 0},
	"cranked-on-glow": {"technique", 1}, "crank-too-long": {"technique", 1}, "rest-too-short": {"technique", 1},
	"overspeed-after-start": {"technique", 1}, "overspeed-inspection": {"technique", 1},
	"wrong-magneto":  {"technique", 1},
	"pulled-too-far": {"technique", 1}, "feather-too-deep": {"technique", 1}, "not-enriched": {"technique", 1},
	"over-enriched": {"technique", 1},
	"setting-wrong": {"technique", 1}, "settings-differ": {"technique", 1}, "base-moved": {"technique", 1},
}

// Reason is why a level cannot be higher than Level.
type Reason struct {
	Code    string `json:"code"`
	Level   int    `json:"level"`
	Message string `json:"message"`
}

// propose gives the level that the events of an item force, with the reasons;
// challenge names an item.
// There is none for an item that was not observed or does not apply.
func (s *itemFold) propose(critical bool, challenge func(id string) string) (*int, []Reason) {
	reasons := []Reason{}
	force := func(code string, level int, format string, args ...any) {
		reasons = append(reasons, Reason{code, level, fmt.Sprintf(format, args...)})
	}
	if s.status == KindNotApplicable || s.status == KindShown {
		return nil, reasons
	}
	switch s.status {
	case "omitted":
		if critical {
			force("critical-left-out", 0, "A critical item was left out.")
		} else {
			force("left-out", 1, "It was left out.")
		}
	case "wrong":
		force("wrong-result", 1, "It was done with a wrong result.")
	case "done":
		if s.implied {
			force("implied", 4, "Passed when the next item was opened.")
		} else {
			force("done", 4, "Right, unprompted, in order and in time.")
		}
	}
	for _, before := range s.broken {
		force("precedence", 0, "It was done before “%s”, which must come first.", challenge(before))
	}
	for _, e := range s.errors {
		force(e.Code, severityLevel[e.Severity], "%s.", e.Label)
	}
	for _, after := range s.tooLateFor {
		force("too-late", 1, "It was done after “%s”, which must wait for it.", challenge(after))
	}
	reasons = append(append(reasons, s.spoken...), s.control...)
	if s.assists > 0 {
		force("helped", 1, "Done after a hand.")
	}
	if s.prompts > 0 {
		force("prompted", 2, "Done after a word.")
	}
	if s.selfCorrected {
		force("self-corrected", 3, "Noticed and put right without help.")
	}
	if s.verified {
		force("found-by-verification", 3, "Missed in the flow, found by the student's own check with the list.")
	}
	if s.late {
		force("late", 3, "Done late.")
	}
	if s.outOfOrder {
		force("out-of-order", 3, "Done out of order, without effect.")
	}
	if len(reasons) == 0 {
		return nil, reasons
	}
	level := 4
	for _, r := range reasons {
		level = min(level, r.Level)
	}
	if level < 4 {
		kept := reasons[:0]
		for _, r := range reasons {
			if r.Level < 4 {
				kept = append(kept, r)
			}
		}
		reasons = kept
	}
	return &level, reasons
}

// Scale is a way of showing levels.
type Scale struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	// Coarse scales tell fewer steps apart than there are levels.
	Coarse bool   `json:"coarse,omitempty"`
	Steps  []Step `json:"steps"`
}

// Step is one grade of a scale: the levels that show as it, and the level that
// a grade given on it stands for.
type Step struct {
	Label string `json:"label"`
	Short string `json:"short"`
	Shows []int  `json:"shows"`
	Means int    `json:"means"`
}

// Show is the step that a level shows as.
func (s Scale) Show(level int) (Step, bool) {
	for _, step := range s.Steps {
		for _, l := range step.Shows {
			if l == level {
				return step, true
			}
		}
	}
	return Step{}, false
}

// Check reports the first mistake in the scale: every level shows as exactly
// one step, and every step means a level that shows as it.
func (s Scale) Check() error {
	shown := [5]int{}
	for _, step := range s.Steps {
		itself := false
		for _, level := range step.Shows {
			if level < 0 || level > 4 {
				return fmt.Errorf("scale %s: step %s shows level %d, which is not 0 to 4", s.ID, step.Label, level)
			}
			shown[level]++
			itself = itself || level == step.Means
		}
		if !itself {
			return fmt.Errorf("scale %s: step %s means level %d, which it does not show", s.ID, step.Label, step.Means)
		}
	}
	for level, n := range shown {
		if n != 1 {
			return fmt.Errorf("scale %s: level %d shows as %d steps, not one", s.ID, level, n)
		}
	}
	return nil
}

// ShownLevel is the level that several items show together, of their levels in
// rising order: the highest that they reach when the lowest are left aside, none
// of one, one of two to nineteen, a tenth of more; but 0 if any is 0, and at
// most 2 if any is 1. by is the place of the one that set it.
func ShownLevel(rising []int) (level, by int) {
	switch n := len(rising); {
	case n >= 20:
		by = n / 10
	case n >= 2:
		by = 1
	}
	level = rising[by]
	switch least := rising[0]; {
	case least == 0:
		return 0, 0
	case least == 1 && level > 2:
		return 2, 0
	}
	return level, by
}

// PhaseLevels is the level that each phase shows: of its touched items, or where
// all were only passed, of those.
func PhaseLevels(state State) map[string]int {
	touched, passed := map[string][]int{}, map[string][]int{}
	for _, i := range state.Items {
		switch {
		case i.Level == nil:
		case i.Implied:
			passed[i.Phase] = append(passed[i.Phase], *i.Level)
		default:
			touched[i.Phase] = append(touched[i.Phase], *i.Level)
		}
	}
	out := map[string]int{}
	for _, p := range state.Phases {
		levels := touched[p.ID]
		if len(levels) == 0 {
			levels = passed[p.ID]
		}
		if len(levels) > 0 {
			slices.Sort(levels)
			out[p.ID], _ = ShownLevel(levels)
		}
	}
	return out
}
