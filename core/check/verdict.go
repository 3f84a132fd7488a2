package check

import (
	"cmp"
	"fmt"
	"slices"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// Outcome is what was seen, from Normal to Abnormal.
type Outcome string

// The outcomes, in rising order.
const (
	Normal   Outcome = "normal"
	Caution  Outcome = "caution"
	Invalid  Outcome = "invalid" // cannot be judged; measure again
	Abnormal Outcome = "abnormal"
)

// Decision is what the rules ask for; the person decides.
type Decision string

// The decisions, in rising order.
const (
	Continue Decision = "continue"
	Recheck  Decision = "recheck"
	Stop     Decision = "stop"
)

var (
	outcomes  = []Outcome{Normal, Caution, Invalid, Abnormal}
	decisions = []Decision{Continue, Recheck, Stop}
)

// Verdict is the answer of every measured check. Its keys stand in this order,
// its arrays are never null and its numbers have their shortest form, so that
// the same request gives the same bytes everywhere.
type Verdict struct {
	Check    string      `json:"check"`
	Outcome  Outcome     `json:"outcome"`
	Decision Decision    `json:"decision"`
	Values   form.Object `json:"values"`
	Limits   form.Object `json:"limits"`
	Findings []Finding   `json:"findings"`
	Causes   []Cause     `json:"causes"`
	Actions  []Action    `json:"actions"`
	// Tiles are the numbers that the verdict turns on, Counted the findings that
	// keep the aircraft on the ground if they come again at the same place; they
	// are no part of its bytes.
	Tiles   []Tile    `json:"-"`
	Counted []Finding `json:"-"`
}

// Finding is one thing the rules saw. Side is left or right, a lane, the
// number of an instrument, or a gauge's name.
type Finding struct {
	Code    string `json:"code"`
	Side    string `json:"side,omitempty"`
	Message string `json:"message"`
	// Asks is what this one asks for; it is no part of the bytes.
	Asks Decision `json:"-"`
}

// Cause is what most often lies behind the findings, likeliest first.
type Cause struct {
	Code    string `json:"code"`
	Side    string `json:"side,omitempty"`
	Message string `json:"message"`
	instead []variant
}

// Action is what to do, in the order to do it.
type Action struct {
	Code    string `json:"code"`
	Message string `json:"message"`
	instead []variant
}

// seen is a finding with what it asks for.
type seen struct {
	Finding
	outcome  Outcome
	decision Decision
	causes   []Cause
	actions  []action
	// steady findings ask for the same at every try: what hands did, and what
	// time or heat mends.
	steady bool
}

// again makes the finding steady.
func (f *seen) again() *seen {
	f.steady = true
	return f
}

// sheet collects what a check's rules see.
type sheet struct {
	values form.Object
	seen   []seen
	// standing are actions that belong to the check whatever it shows.
	standing []action
	// typ is the type it is of, where one is named: words are its own.
	typ *aircraft.Type
}

// In is the verdict with its sentences in the units that a person reads.
func (v Verdict) In(u quantity.Units) Verdict {
	v.Findings, v.Causes, v.Actions = slices.Clone(v.Findings), slices.Clone(v.Causes), slices.Clone(v.Actions)
	for i := range v.Findings {
		v.Findings[i].Message = u.Say(v.Findings[i].Message)
	}
	for i := range v.Causes {
		v.Causes[i].Message = u.Say(v.Causes[i].Message)
	}
	for i := range v.Actions {
		v.Actions[i].Message = u.Say(v.Actions[i].Message)
	}
	return v
}

func (s *sheet) value(name string, v any) {
	s.values = append(s.values, form.Member{Name: name, Value: v})
}

// add notes a finding; because and do tell the rest of it.
func (s *sheet) add(o Outcome, d Decision, code, side, format string, args ...any) *seen {
	s.seen = append(s.seen, seen{
		Finding: Finding{Code: code, Side: side, Message: fmt.Sprintf(format, args...)}, outcome: o, decision: d,
	})
	return &s.seen[len(s.seen)-1]
}

// because names what most often lies behind the finding, likeliest first.
func (f *seen) because(causes ...Cause) *seen {
	f.causes = append(f.causes, causes...)
	return f
}

// do names the actions that the finding asks for.
func (f *seen) do(actions ...action) *seen {
	f.actions = append(f.actions, actions...)
	return f
}

// settle makes the verdict: escalates what came again, takes the worst of
// outcome and decision, and gathers causes and actions without doubles.
func (s *sheet) settle(checked string, came func(Finding) bool, limits form.Object) Verdict {
	v := Verdict{
		Check: checked, Outcome: Normal, Decision: Continue,
		Values: s.values, Limits: limits,
		Findings: []Finding{}, Causes: []Cause{},
	}
	if v.Values == nil {
		v.Values = form.Object{}
	}
	for i := range s.seen {
		if came(s.seen[i].Finding) {
			s.seen[i].escalate()
		}
		if s.seen[i].decision == Recheck && s.seen[i].outcome != Invalid && !s.seen[i].steady {
			v.Counted = append(v.Counted, s.seen[i].Finding)
		}
		v.Outcome = worse(outcomes, v.Outcome, s.seen[i].outcome)
		v.Decision = worse(decisions, v.Decision, s.seen[i].decision)
	}
	var todo []action
	name := func(causes []Cause) {
		for _, c := range causes {
			if !slices.ContainsFunc(v.Causes, func(o Cause) bool { return o.Code == c.Code && o.Side == c.Side }) {
				c.Message, c.instead = fitting(s.typ, c.Message, c.instead), nil
				v.Causes = append(v.Causes, c)
			}
		}
	}
	for _, f := range s.seen {
		f.Message, f.Asks = quantity.Units{}.Say(f.Message), f.decision
		v.Findings = append(v.Findings, f.Finding)
		name(f.causes)
		if v.Decision != Stop || f.decision == Stop {
			todo = append(todo, f.actions...)
		}
	}
	v.Actions = orderedActions(append(todo, s.standing...)...)
	for i, a := range v.Actions {
		v.Actions[i] = Action{Code: a.Code, Message: fitting(s.typ, a.Message, a.instead)}
	}
	return v
}

// orderedActions lists actions in the order to do them, each once.
func orderedActions(actions ...action) []Action {
	actions = slices.Clone(actions)
	slices.SortStableFunc(actions, func(a, b action) int { return cmp.Compare(a.order, b.order) })
	out := []Action{}
	for i, a := range actions {
		if i == 0 || a.code != actions[i-1].code {
			out = append(out, Action{a.code, a.message, a.instead})
		}
	}
	return out
}

// escalate turns a finding that asked for a second look, and came again at the
// same place, into one that keeps the aircraft on the ground.
func (f *seen) escalate() {
	if f.steady || f.decision != Recheck || f.outcome == Invalid {
		return
	}
	f.outcome, f.decision = Abnormal, Stop
	f.actions = []action{groundAircraft}
	f.Message += " It did not clear when the check was repeated."
}

// Place is where a finding of a check comes: its code, and the side, gauge or
// instrument that it names.
type Place struct{ Code, Side string }

// At is the finding's place.
func (f Finding) At() Place { return Place{f.Code, f.Side} }

func worse[T comparable](order []T, a, b T) T {
	if slices.Index(order, b) > slices.Index(order, a) {
		return b
	}
	return a
}
