package catalog

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/exchange"
)

// Question is one oral question: what is asked, what a good answer holds, the
// items at which it is asked, and the standard elements it shows.
type Question struct {
	ID     string `json:"id"`
	Kind   string `json:"kind" enum:"limit,why,what-if"`
	Ask    string `json:"ask"`
	Answer string `json:"answer"`
	// Types limits a question to some aircraft types; empty is all whose lists
	// have one of its items.
	Types []string `json:"types,omitempty"`
	// Has limits it to types that have these parts, or with "no " before one have
	// not; see aircraft.Type.Has.
	Has []string `json:"has,omitempty"`
	// Items are where it is asked; without one it is for the debrief.
	Items []string `json:"items,omitempty"`
	// Check is the measured check whose limits the answer holds.
	Check    string   `json:"check,omitempty"`
	Elements []string `json:"elements,omitempty"`
}

// questions takes a file of questions in and checks what they refer to.
func (l *loader) questions(s *exchange.Source, all []Question) {
	elements := map[string]bool{}
	for _, p := range l.catalog.Packs {
		for _, task := range p.Tasks {
			for _, e := range task.Elements {
				elements[e.ID] = true
			}
		}
	}
	for i, q := range all {
		at := fmt.Sprintf("$[%d]", i)
		if q.ID == "" || slices.ContainsFunc(l.catalog.Questions, func(o Question) bool { return o.ID == q.ID }) {
			s.At(at+".id", fmt.Sprintf("%q is empty or used twice", q.ID))
		}
		for field, value := range map[string]string{"ask": q.Ask, "answer": q.Answer} {
			if value == "" {
				s.At(at+"."+field, "is missing")
			}
		}
		if q.Kind != "limit" && q.Kind != "why" && q.Kind != "what-if" {
			s.At(at+".kind", fmt.Sprintf("%q is none of limit, why, what-if", q.Kind))
		}
		for _, t := range q.Types {
			if _, known := l.catalog.Type(t); !known {
				s.At(at+".types", fmt.Sprintf("%q is no known aircraft type", t))
			}
		}
		knownParts(s, at, q.Has)
		if _, known := check.Find(q.Check); q.Check != "" && !known {
			s.At(at+".check", fmt.Sprintf("%q is no check", q.Check))
		}
		for _, e := range q.Elements {
			if !elements[e] {
				s.At(at+".elements", fmt.Sprintf("%q is in no standards pack", e))
			}
		}
		l.catalog.Questions = append(l.catalog.Questions, q)
	}
}

// QuestionsFor are the questions for an aircraft type: those that name it, and
// those without types that ask at one of its list's items or about one of its
// checks.
func (c *Catalog) QuestionsFor(aircraftType string) []Question {
	t, _ := c.Type(aircraftType)
	list, _ := c.ListFor(aircraftType)
	out := []Question{}
	for _, q := range c.Questions {
		if !t.Fits(q.Has) {
			continue
		}
		q.Answer = withLimits(strings.ReplaceAll(q.Answer, "{speed}", speedWord(t)), t.Limits[q.Check])
		if len(q.Types) > 0 {
			if slices.Contains(q.Types, aircraftType) {
				out = append(out, q)
			}
			continue
		}
		if q.Check != "" && t.Limits[q.Check] == nil {
			continue
		}
		if len(q.Items) == 0 ||
			slices.ContainsFunc(q.Items, func(id string) bool { _, there := list.Find(id); return there }) {
			out = append(out, q)
		}
	}
	return out
}

// knownParts notes what of has is no part that a type can have.
func knownParts(s *exchange.Source, at string, has []string) {
	for _, part := range has {
		if !slices.Contains(aircraft.Parts, strings.TrimPrefix(part, "no ")) {
			s.At(at+".has", fmt.Sprintf("%q is no part that a type can have", part))
		}
	}
}

// Asked are the elements that the questions for an aircraft type are about.
func (c *Catalog) Asked(aircraftType string) []string {
	var out []string
	for _, q := range c.QuestionsFor(aircraftType) {
		for _, e := range q.Elements {
			if !slices.Contains(out, e) {
				out = append(out, e)
			}
		}
	}
	return out
}

// speedWord is the unit of speeds as the type's tachometer shows them.
func speedWord(t aircraft.Type) string {
	if t.Tachometer == "percent" {
		return "%"
	}
	return "rpm"
}

var limitName = regexp.MustCompile(`\{(\w+)\}`)

// withLimits puts the type's own limits into an answer that names them.
func withLimits(answer string, limits map[string]any) string {
	return limitName.ReplaceAllStringFunc(answer, func(named string) string {
		value, known := limits[strings.Trim(named, "{}")]
		if !known {
			return "(no limit)"
		}
		return fmt.Sprint(value)
	})
}
