package lesson

import (
	"slices"
	"strings"
	"unicode"

	"jetprimer/core/check"
	"jetprimer/core/form"
)

// KindDecision is what was decided about a reading or a finding.
const KindDecision = "decision"

func init() {
	kinds[KindDecision] = func() payload { return new(decision) }
	touches["decide"] = (*touch).decide
}

// What a decision lacks before it is one.
const (
	lacksTold = "told" // who was told
	lacksWhy  = "why"  // words that say why
	lacksTry  = "try"  // a later judged try without the finding
)

// hasWord reports whether a text says something: it holds a word, of two letters at
// least.
func hasWord(text string) bool {
	letters := 0
	for _, r := range text {
		switch {
		case unicode.IsLetter(r):
			letters++
		case letters < 2:
			letters = 0
		}
		if letters >= 2 {
			return true
		}
	}
	return false
}

// lacks is what a decision still needs; empty where it is whole. cleared says that
// what was found was tried again since and was gone.
func (d *Decision) lacks(cleared bool) string {
	switch {
	case !hasWord(d.Told):
		return lacksTold
	case d.Decision != "grounded" && !hasWord(d.Why):
		return lacksWhy
	case d.Decision == "cleared" && !cleared:
		return lacksTry
	}
	return ""
}

// lackWords say what a decision lacks, on a thing that is named.
var lackWords = map[string]string{
	lacksTold: "Nobody is named who was told of %s.",
	lacksWhy:  "The decision on %s does not say why in words.",
	lacksTry:  "%s is called cleared, and was not tried again since, or showed the same again.",
}

// asks are the places of a verdict's findings that ask to stop or to look again.
func asks(v *check.Verdict) []check.Place {
	var out []check.Place
	for _, f := range v.Findings {
		if f.Asks == check.Recheck || f.Asks == check.Stop {
			out = append(out, f.At())
		}
	}
	return out
}

// clearedSince reports whether a judged try after the reading at a place, of the
// same check and engine, is without what that one asked about.
func (s *State) clearedSince(at int) bool {
	r := s.Readings[at]
	if r.Verdict == nil {
		return false
	}
	before := asks(r.Verdict)
	return slices.ContainsFunc(s.Readings[at+1:], func(o Reading) bool {
		return o.Item == r.Item && o.Check == r.Check && o.Engine == r.Engine && o.judged() &&
			!slices.ContainsFunc(asks(o.Verdict), func(p check.Place) bool { return slices.Contains(before, p) })
	})
}

// findingOn is the finding that was written of the reading at a place: one that
// names it, or else one on the same item, noted since.
func (s *State) findingOn(at int) *Finding {
	r := s.Readings[at]
	for i := range s.Findings {
		if s.Findings[i].Reading == r.Event {
			return &s.Findings[i]
		}
	}
	for i := range s.Findings {
		f := &s.Findings[i]
		if r.Item != "" && f.Item == r.Item && f.Reading == "" && f.AtMs >= r.AtMs {
			return f
		}
	}
	return nil
}

// clearable reports whether a finding can be called cleared: what it rests on was
// tried again since and was gone, or it rests on nothing that is measured.
func (s *State) clearable(f Finding) bool {
	rests := false
	for i, r := range s.Readings {
		if on := s.findingOn(i); on == nil || on.Event != f.Event || r.Verdict == nil || len(asks(r.Verdict)) == 0 {
			continue
		}
		rests = true
		if s.clearedSince(i) {
			return true
		}
	}
	return !rests
}

// with is the state with one more finding.
func (s State) with(f Finding) *State {
	s.Findings = append(slices.Clone(s.Findings), f)
	return &s
}

// DecisionsFor are the decisions that can be made on a reading or a finding, by
// the id of its event, as things stand.
func (s *State) DecisionsFor(event string) []string {
	cleared := true
	for i, r := range s.Readings {
		if r.Event == event {
			cleared = s.clearedSince(i)
		}
	}
	for _, f := range s.Findings {
		if f.Event == event {
			cleared = s.clearable(f)
		}
	}
	return decisions(cleared)
}

// DecisionsWith are the decisions that can be made together with a finding that is not
// written down yet.
func (s *State) DecisionsWith(f Finding) []string {
	return decisions(s.with(f).clearable(f))
}

// decisions are those there are, cleared only where it was.
func decisions(cleared bool) []string {
	return slices.DeleteFunc(slices.Clone(Decisions), func(d string) bool { return d == "cleared" && !cleared })
}

// askDecisions says of each reading whether it asks for a person's decision:
// every stop does, and a recheck that no judged try after it cleared; of tries
// in a row that ask to look again, the last. What was decided of a finding on the
// reading was decided of it.
func (f *fold) askDecisions() {
	last := map[try]int{}
	for i, r := range f.state.Readings {
		if r.Verdict != nil {
			last[try{r.Item, r.Check, r.Engine, r.Round}] = i
		}
	}
	for i := range f.state.Readings {
		r := &f.state.Readings[i]
		if r.Verdict == nil {
			continue
		}
		asks := r.Verdict.Decision == check.Stop || r.Verdict.Decision == check.Recheck &&
			last[try{r.Item, r.Check, r.Engine, r.Round}] == i
		if written := f.state.findingOn(i); asks && r.Decision == nil && written != nil {
			r.Decision, r.Finding = written.Decision, written.Event
			continue
		}
		r.Open = asks && (r.Decision == nil || r.Decision.lacks(f.state.clearedSince(i)) != "")
	}
}

// Report is something that reaches an aircraft from a lesson: a finding, or a
// reading that asked to stop or was decided on.
type Report struct {
	Event    string
	Item     string
	Words    string
	Decision Decision
	// Reading says that it is a reading, and no finding was written of it.
	Reading bool
	AtMs    int64
}

// groundedSince are the rules from which on a reading reaches the aircraft; what
// was signed by earlier ones keeps what it meant then.
const groundedSince = "2026.19"

// Reports are what a lesson says of its aircraft: each finding, and each reading
// that asked to stop, or on which somebody decided. It is the one place that says
// what reaches an aircraft; what a decision makes of it is school.ConditionOf. A
// decision that lacks something is none: what asked to stop grounds until it is
// whole. Nothing that was practised elsewhere reaches an aircraft.
func (s State) Reports() []Report {
	out := []Report{}
	if s.Practice != "" && s.Practice != Practices[0] {
		return out
	}
	earlier := s.RulesVersion < groundedSince
	for _, f := range s.Findings {
		r := Report{Event: f.Event, Item: f.Item, Words: f.Words, AtMs: f.AtMs}
		if f.Decision != nil && (earlier || f.Decision.lacks(s.clearable(f)) == "") {
			r.Decision = *f.Decision
		}
		out = append(out, r)
	}
	if earlier {
		return out
	}
	for i, r := range s.Readings {
		if r.Verdict == nil || r.Finding != "" || r.Decision == nil && r.Verdict.Decision != check.Stop {
			continue
		}
		report := Report{Event: r.Event, Item: r.Item, Words: reportWords(r), Reading: true, AtMs: r.AtMs}
		if r.Decision != nil && r.Decision.lacks(s.clearedSince(i)) == "" {
			report.Decision = *r.Decision
		} else if r.Verdict.Decision != check.Stop {
			continue
		}
		out = append(out, report)
	}
	return out
}

// reportWords are a reading's findings under the name of its check.
func reportWords(r Reading) string {
	def, _ := check.Find(r.Check)
	words := []string{def.Title + ":"}
	for _, f := range r.Verdict.Findings {
		words = append(words, f.Message)
	}
	return strings.Join(words, " ")
}

// Decisions are what a person decides on a finding.
var Decisions = []string{"normal-for-type", "cleared", "carried-on", "deferred", "grounded"}

type decision struct {
	// About is the id of the reading or finding event.
	About    string `json:"about"`
	Decision string `json:"decision"`
	Told     string `json:"told,omitempty"`
	Why      string `json:"why,omitempty"`
}

func (d *decision) check() error {
	if d.About == "" {
		return form.Bad("payload.about", "must name a reading or a finding")
	}
	if !slices.Contains(Decisions, d.Decision) {
		return form.Bad("payload.decision", "must be one of %s", strings.Join(Decisions, ", "))
	}
	return words("why", d.Why+d.Told)
}

func (p *decision) apply(f *fold, h *held) {
	f.decide(h, p)
}

func (f *fold) decide(h *held, p *decision) {
	d := &Decision{p.Decision, p.Told, p.Why, h.By}
	for i := range f.state.Readings {
		if f.state.Readings[i].Event == p.About {
			f.state.Readings[i].Decision = d
		}
	}
	for i := range f.state.Findings {
		if f.state.Findings[i].Event == p.About {
			f.state.Findings[i].Decision = d
		}
	}
}

// decide is a person's decision on a reading or a finding.
func (t *touch) decide() error {
	m := t.mark
	if err := m.complete(); err != nil {
		return err
	}
	if slices.Contains(Decisions, m.Decision) && !slices.Contains(t.state.DecisionsFor(m.About), m.Decision) {
		return form.Bad("decision", "needs a later try of the check that is without the finding: test again first")
	}
	t.add(KindDecision, decision{
		About: m.About, Decision: m.Decision, Told: strings.TrimSpace(m.Told), Why: strings.TrimSpace(m.Why),
	})
	return nil
}
