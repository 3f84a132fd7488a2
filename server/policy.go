package server

import (
	"context"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/form"
	"jetprimer/core/library"
	"jetprimer/core/policy"
	"jetprimer/store"
)

// PolicyView is what a policy is written with.
type PolicyView struct {
	// Version is the one that serves today.
	Version int          `json:"version"`
	Known   policy.Known `json:"known" doc:"what it chooses from"`
}

// PolicyMoved is a student whom another policy would move.
type PolicyMoved struct {
	Student string `json:"student"`
	Name    string `json:"name"`
	Ready   bool   `json:"ready" doc:"as the policy is today"`
	Would   bool   `json:"would" doc:"ready by the other"`
	// Met of Required elements, before and after.
	Met       int            `json:"met"`
	Required  int            `json:"required"`
	WouldMet  int            `json:"wouldMet"`
	WouldNeed int            `json:"wouldNeed"`
	Elements  []MovedElement `json:"elements"`
}

// MovedElement is an element whose standing would be another.
type MovedElement struct {
	Element string `json:"element"`
	Text    string `json:"text"`
	Is      string `json:"is"`
	Would   string `json:"would"`
}

// Preview is whom a policy would move if it served today.
type Preview struct {
	Day      string        `json:"day"`
	Students int           `json:"students"`
	Moved    []PolicyMoved `json:"moved"`
}

func (s *Server) policyRoutes() {
	route(s, huma.Operation{OperationID: "policy", Method: http.MethodGet, Path: "/policy", Summary: "The school's policy, and what one chooses from"}, s.policy)
	route(s, huma.Operation{OperationID: "preview-policy", Method: http.MethodGet, Path: "/policy/{version}/preview", Summary: "Whom a version of the policy would move if it served today"}, s.previewPolicy)
}

func (s *Server) policy(ctx context.Context, w who, _ *struct{}) (*struct{ Body PolicyView }, error) {
	out := &struct{ Body PolicyView }{}
	err := s.in(ctx, w, func(tx *store.Tx) error {
		p, err := tx.Policy(s.today(w))
		if err != nil {
			return err
		}
		out.Body.Version = p.Version
		out.Body.Known, err = s.known(tx, s.today(w))
		return err
	})
	return out, err
}

// known is what a policy of the school chooses from.
func (s *Server) known(tx *store.Tx, day string) (policy.Known, error) {
	k := policy.Known{Scales: []policy.Choice{}, Packs: []policy.Choice{}}
	for _, scale := range s.catalog.Scales {
		k.Scales = append(k.Scales, policy.Choice{ID: scale.ID, Words: scale.Title})
	}
	packs, err := tx.Packs(day)
	if err != nil {
		return k, err
	}
	for _, p := range packs {
		k.Packs = append(k.Packs, policy.Choice{ID: p.ID, Words: p.Title})
	}
	k.Types, err = tx.Types(day)
	return k, err
}

// previewPolicy judges every student by the policy that serves today and by
// another, and tells whom that moves.
func (s *Server) previewPolicy(ctx context.Context, w who, in *struct {
	Version int `path:"version" minimum:"1" maximum:"1000000"`
}) (*struct{ Body Preview }, error) {
	out := &struct{ Body Preview }{Preview{Day: s.today(w), Moved: []PolicyMoved{}}}
	err := s.in(ctx, w, func(tx *store.Tx) error {
		now, err := tx.Policy(out.Body.Day)
		if err != nil {
			return err
		}
		next, err := store.Document[policy.Policy](tx, library.KindPolicy, policy.ID, in.Version)
		if err != nil {
			return err
		}
		if faults := next.Problems(); len(faults) > 0 {
			return form.Problem{Reason: "the policy has mistakes, the first: " + faults[0].Error()}
		}
		on, err := s.casesOn(tx, out.Body.Day)
		if err != nil {
			return err
		}
		students, err := tx.Students()
		if err != nil {
			return err
		}
		out.Body.Students = len(students)
		for _, st := range students {
			before, err := on.of(st, now.Standing)
			if err != nil {
				return err
			}
			after, err := on.of(st, next.Standing)
			if err != nil {
				return err
			}
			if m := movedBy(st, before, after); m.Ready != m.Would || m.Met != m.WouldMet || m.Required != m.WouldNeed || len(m.Elements) > 0 {
				out.Body.Moved = append(out.Body.Moved, m)
			}
		}
		return nil
	})
	slices.SortStableFunc(out.Body.Moved, func(a, b PolicyMoved) int { return len(b.Elements) - len(a.Elements) })
	return out, err
}

// movedBy is what becomes of a student between two policies.
func movedBy(st store.Student, before, after judgedCase) PolicyMoved {
	is, would := before.Policy.Ready(before.Case), after.Policy.Ready(after.Case)
	m := PolicyMoved{Student: st.ID, Name: st.Name, Ready: is.Ready, Would: would.Ready, Met: is.Met, Required: is.Required, WouldMet: would.Met, WouldNeed: would.Required, Elements: []MovedElement{}}
	for _, p := range after.Packs {
		for _, e := range p.For(after.Class) {
			a, b := before.standing(e.ID), after.standing(e.ID)
			if a != b {
				m.Elements = append(m.Elements, MovedElement{e.ID, e.Text, a, b})
			}
		}
	}
	return m
}

// standing is how an element stands in the case.
func (c judgedCase) standing(element string) string {
	f, seen := c.Facts[element]
	if !seen {
		return "not seen"
	}
	return f.Standing(c.AsOf)
}

// policyBeat is how often the standings of the schools are held to the policies
// of their days: one that comes into force at midnight is followed by then.
const policyBeat = time.Minute

// followPolicies keeps the standings of every school by the policy of its day,
// until the server is closed.
func (s *Server) followPolicies(ctx context.Context) {
	beat := time.NewTicker(policyBeat)
	defer beat.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-beat.C:
		}
		all, err := s.store.EverySchool(ctx)
		if err != nil {
			s.log.Error("looking at the schools", "error", err)
			continue
		}
		for _, one := range all {
			s.followPolicy(ctx, one.ID)
			if _, err := s.store.FitForgetting(ctx, one.ID, s.now()); err != nil {
				s.log.Error("fitting the forgetting", "school", one.ID, "error", err)
			}
		}
	}
}

func (s *Server) followPolicy(ctx context.Context, school string) {
	done, err := s.store.FollowPolicy(ctx, school, s.now())
	switch {
	case err != nil:
		s.log.Error("following the policy", "school", school, "error", err)
	case done:
		s.log.Info("standings follow the policy of the day", "school", school)
	}
}
