package schools

import (
	"context"
	"net/http"

	"jetprimer/core/access"
	"jetprimer/core/policy"
	"jetprimer/reports"
	"jetprimer/server/api"
	"jetprimer/store"
)

// PolicyView is what a policy is written with.
type PolicyView struct {
	// Version is the one that serves today.
	Version int          `json:"version"`
	Known   policy.Known `json:"known" doc:"what it chooses from"`
}

func (s Handlers) policyRoutes() {
	api.Handle(s.API, api.Route{
		ID: "policy", For: access.Governing, Method: http.MethodGet, Path: "/policy",
		Summary: "The school's policy, and what one chooses from",
	}, s.policy)
	api.Handle(s.API, api.Route{
		ID: "preview-policy", For: access.Governing, Method: http.MethodGet, Path: "/policy/{version}/preview",
		Summary: "Whom a version of the policy would move if it served today",
	}, s.previewPolicy)
}

func (s Handlers) policy(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body PolicyView }, error) {
	out := &struct{ Body PolicyView }{}
	err := s.In(ctx, w, func(tx *store.Tx) error {
		p, err := tx.Policy(s.Today(w))
		if err != nil {
			return err
		}
		out.Body.Version = p.Version
		out.Body.Known, err = s.known(tx, s.Today(w))
		return err
	})
	return out, err
}

// known is what a policy of the school chooses from.
func (s Handlers) known(tx *store.Tx, day string) (policy.Known, error) {
	k := policy.Known{Scales: []policy.Choice{}, Packs: []policy.Choice{}}
	for _, scale := range s.Catalog.Scales {
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
func (s Handlers) previewPolicy(ctx context.Context, w api.Person, in *struct {
	Version int `path:"version" minimum:"1" maximum:"1000000"`
}) (*struct{ Body reports.Preview }, error) {
	out := &struct{ Body reports.Preview }{}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) {
		out.Body, err = s.Reports.PolicyPreview(tx, in.Version)
		return err
	})
}
