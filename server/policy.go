package server

import (
	"context"
	"net/http"
	"time"

	"jetprimer/core/access"
	"jetprimer/core/policy"
	"jetprimer/reports"
	"jetprimer/store"
)

// PolicyView is what a policy is written with.
type PolicyView struct {
	// Version is the one that serves today.
	Version int          `json:"version"`
	Known   policy.Known `json:"known" doc:"what it chooses from"`
}

func (s *Server) policyRoutes() {
	route(s, Route{
		ID: "policy", For: access.Governing, Method: http.MethodGet, Path: "/policy",
		Summary: "The school's policy, and what one chooses from",
	}, s.policy)
	route(s, Route{
		ID: "preview-policy", For: access.Governing, Method: http.MethodGet, Path: "/policy/{version}/preview",
		Summary: "Whom a version of the policy would move if it served today",
	}, s.previewPolicy)
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
}) (*struct{ Body reports.Preview }, error) {
	out := &struct{ Body reports.Preview }{}
	return out, s.in(ctx, w, func(tx *store.Tx) (err error) {
		out.Body, err = s.reports.PolicyPreview(tx, in.Version)
		return err
	})
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

// keepReports makes the reports that are kept anew after something was signed, until the
// server is closed.
func (s *Server) keepReports(ctx context.Context) {
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
			if err := s.reports.Refresh(ctx, s.store, one.ID); err != nil && ctx.Err() == nil {
				s.log.Error("keeping reports", "school", one.ID, "error", err)
			}
		}
	}
}
