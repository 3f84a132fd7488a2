package catalog

import (
	"fmt"
	"slices"

	"jetprimer/exchange"
)

// Procedure is a short guided procedure: what to do, step by step, with its
// cautions. It is offered where a verdict asks for one of its actions, and at
// its items.
type Procedure struct {
	ID       string   `json:"id"`
	Title    string   `json:"title"`
	Cautions []string `json:"cautions"`
	Actions  []string `json:"actions,omitempty"`
	Findings []string `json:"findings,omitempty"`
	Items    []string `json:"items,omitempty"`
	Types    []string `json:"types,omitempty"`
	// Has limits it to types that have these parts; see aircraft.Type.Has.
	Has   []string        `json:"has,omitempty"`
	Steps []ProcedureStep `json:"steps"`
}

// ProcedureStep is one step; Seconds is how long it is held or waited.
type ProcedureStep struct {
	Do      string `json:"do"`
	Look    string `json:"look,omitempty"`
	Seconds int    `json:"seconds,omitempty"`
}

func (l *loader) procedures(s *exchange.Source, all []Procedure) {
	for i, p := range all {
		at := fmt.Sprintf("$[%d]", i)
		if p.ID == "" || p.Title == "" || len(p.Steps) == 0 || len(p.Cautions) == 0 {
			s.At(at, "needs id, title, cautions and steps")
		}
		knownParts(s, at, p.Has)
		for n, step := range p.Steps {
			if step.Do == "" || step.Seconds < 0 {
				s.At(fmt.Sprintf("%s.steps[%d]", at, n), "needs what to do, and no time below zero")
			}
		}
	}
	l.catalog.Procedures = all
}

// ProceduresFor are those that an aircraft type has a use for.
func (c *Catalog) ProceduresFor(aircraftType string) []Procedure {
	out := []Procedure{}
	t, _ := c.Type(aircraftType)
	for _, p := range c.Procedures {
		if !t.Fits(p.Has) {
			continue
		}
		if len(p.Types) == 0 || slices.Contains(p.Types, aircraftType) {
			out = append(out, p)
		}
	}
	return out
}
