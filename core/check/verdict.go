package check

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
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
	Check    string    `json:"check"`
	Outcome  Outcome   `json:"outcome"`
	Decision Decision  `json:"decision"`
	Values   Object    `json:"values"`
	Limits   Object    `json:"limits"`
	Findings []Finding `json:"findings"`
	Causes   []Cause   `json:"causes"`
	Actions  []Action  `json:"actions"`
}

// Finding is one thing the rules saw. Side is left or right, a lane, the
// number of an instrument, or a gauge's name.
type Finding struct {
	Code    string `json:"code"`
	Side    string `json:"side,omitempty"`
	Message string `json:"message"`
}

// Cause is what most often lies behind the findings, likeliest first.
type Cause struct {
	Code    string `json:"code"`
	Side    string `json:"side,omitempty"`
	Message string `json:"message"`
}

// Action is what to do, in the order to do it.
type Action struct {
	Code    string `json:"code"`
	Message string `json:"message"`
}

// Object is a JSON object whose members keep their order.
type Object []Member

// Member is one name and value of an Object.
type Member struct {
	Name  string
	Value any
}

// MarshalJSON writes the members in order.
func (o Object) MarshalJSON() ([]byte, error) {
	var b bytes.Buffer
	b.WriteByte('{')
	for i, m := range o {
		if i > 0 {
			b.WriteByte(',')
		}
		name, err := json.Marshal(m.Name)
		if err != nil {
			return nil, err
		}
		value, err := json.Marshal(m.Value)
		if err != nil {
			return nil, err
		}
		b.Write(name)
		b.WriteByte(':')
		b.Write(value)
	}
	b.WriteByte('}')
	return b.Bytes(), nil
}

// Get is the value under a name, nil when there is none.
func (o Object) Get(name string) any {
	for _, m := range o {
		if m.Name == name {
			return m.Value
		}
	}
	return nil
}

// seen is a finding with what it asks for.
type seen struct {
	Finding
	outcome  Outcome
	decision Decision
	causes   []Cause
	actions  []string
	// steady findings ask for the same at every try.
	steady bool
}

// sheet collects what a check's rules see.
type sheet struct {
	values Object
	seen   []seen
	// standing are actions that belong to the check whatever it shows.
	standing []string
}

func (s *sheet) value(name string, v any) { s.values = append(s.values, Member{name, v}) }

func (s *sheet) find(f seen) { s.seen = append(s.seen, f) }

// add notes a finding; because and do tell the rest of it.
func (s *sheet) add(o Outcome, d Decision, code, side, format string, args ...any) *seen {
	s.find(seen{Finding: Finding{code, side, fmt.Sprintf(format, args...)}, outcome: o, decision: d})
	return &s.seen[len(s.seen)-1]
}

// because names what most often lies behind the finding, likeliest first.
func (f *seen) because(codes ...string) *seen {
	for _, code := range codes {
		f.causes = append(f.causes, Cause{Code: code, Message: causes[code]})
	}
	return f
}

// do names the actions that the finding asks for.
func (f *seen) do(codes ...string) { f.actions = append(f.actions, codes...) }

// settle makes the verdict: escalates what did not clear, takes the worst of
// outcome and decision, and gathers causes and actions without doubles.
func (s *sheet) settle(name string, attempt int, limits Object) Verdict {
	v := Verdict{
		Check: name, Outcome: Normal, Decision: Continue,
		Values: s.values, Limits: limits,
		Findings: []Finding{}, Causes: []Cause{}, Actions: []Action{},
	}
	if v.Values == nil {
		v.Values = Object{}
	}
	for i := range s.seen {
		s.seen[i].escalate(attempt)
		v.Outcome = worse(outcomes, v.Outcome, s.seen[i].outcome)
		v.Decision = worse(decisions, v.Decision, s.seen[i].decision)
	}
	for _, f := range s.seen {
		v.Findings = append(v.Findings, f.Finding)
		for _, c := range f.causes {
			if !slices.ContainsFunc(v.Causes, func(o Cause) bool { return o.Code == c.Code && o.Side == c.Side }) {
				v.Causes = append(v.Causes, c)
			}
		}
		if v.Decision == Stop && f.decision != Stop {
			continue
		}
		for _, code := range f.actions {
			if !slices.ContainsFunc(v.Actions, func(o Action) bool { return o.Code == code }) {
				v.Actions = append(v.Actions, Action{code, actions[code]})
			}
		}
	}
	for _, code := range s.standing {
		v.Actions = append(v.Actions, Action{code, actions[code]})
	}
	slices.SortStableFunc(v.Actions, func(a, b Action) int {
		return slices.Index(actionOrder, a.Code) - slices.Index(actionOrder, b.Code)
	})
	return v
}

// escalate turns a finding that asked for a second look into one that keeps
// the aircraft on the ground, from the second try on.
func (f *seen) escalate(attempt int) {
	if attempt < 2 || f.steady || f.decision != Recheck || f.outcome == Invalid {
		return
	}
	f.outcome, f.decision = Abnormal, Stop
	f.actions = []string{"ground-aircraft"}
	f.Message += " It did not clear when the check was repeated."
}

func worse[T comparable](order []T, a, b T) T {
	if slices.Index(order, b) > slices.Index(order, a) {
		return b
	}
	return a
}

// UnmarshalJSON reads a JSON object and keeps the order of its members; values
// stay as they were written.
func (o *Object) UnmarshalJSON(data []byte) error {
	d := json.NewDecoder(bytes.NewReader(data))
	if t, err := d.Token(); err != nil || t != json.Delim('{') {
		return errors.New("check: an Object is a JSON object")
	}
	*o = Object{}
	for d.More() {
		name, err := d.Token()
		if err != nil {
			return err
		}
		var value json.RawMessage
		if err := d.Decode(&value); err != nil {
			return err
		}
		*o = append(*o, Member{name.(string), value})
	}
	return nil
}
