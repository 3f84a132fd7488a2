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

// schoolsBeat is how often every school is looked at: a policy that comes into force at
// midnight is followed by then, and reports follow what was signed.
const schoolsBeat = time.Minute

// eachSchool does something for every school, again and again, until the server is closed.
func (s *Server) eachSchool(ctx context.Context, do func(ctx context.Context, school string)) {
	beat := time.NewTicker(schoolsBeat)
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
			do(ctx, one.ID)
		}
	}
}

// followPolicies keeps a school's standings by the policy of its day, and fits how it
// forgets.
func (s *Server) followPolicies(ctx context.Context, school string) {
	s.followPolicy(ctx, school)
	if _, err := s.store.FitForgetting(ctx, school, s.now()); err != nil {
		s.log.Error("fitting the forgetting", "school", school, "error", err)
	}
}

// keepReports makes a school's kept reports anew after something was signed.
func (s *Server) keepReports(ctx context.Context, school string) {
	if err := s.reports.Refresh(ctx, s.store, school); err != nil && ctx.Err() == nil {
		s.log.Error("keeping reports", "school", school, "error", err)
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
