package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/stand"
	"jetprimer/store"
)

// StandType is an aircraft type with a practice stand.
type StandType struct {
	Type string `json:"type"`
	Name string `json:"name"`
}

// StandView is what a type's practice stand is run from, and its panel.
type StandView struct {
	stand.Kit
	Panel stand.Panel `json:"panel"`
}

// StandAnswer is what a run and a decision come to, as the server has run it again.
type StandAnswer struct {
	stand.Answer
	Seconds float64    `json:"seconds"`
	Wear    stand.Wear `json:"wear"`
}

type standInput struct {
	Type string `path:"type" maxLength:"64"`
}

type standRunInput struct {
	Body struct {
		Run      stand.Run `json:"run"`
		Decision string    `json:"decision" maxLength:"40"`
	}
}

// standRunBytes bounds a run that is sent: as many inputs as there may be.
const standRunBytes = 8 << 20

func (s *Server) standRoutes() {
	route(s, huma.Operation{OperationID: "stands", Method: http.MethodGet, Path: "/stands", Summary: "The aircraft types that have a practice stand"}, s.stands)
	route(s, huma.Operation{OperationID: "stand", Method: http.MethodGet, Path: "/stands/{type}", Summary: "What a type's practice stand is run from, in the page"}, s.standOf)
	route(s, huma.Operation{OperationID: "stand-run", Method: http.MethodPost, Path: "/stand-runs", Summary: "Run a run again from its inputs, and say what is right of the decision on it", MaxBodyBytes: standRunBytes}, s.standRun)
}

func (s *Server) stands(_ context.Context, _ who, _ *struct{}) (*struct{ Body []StandType }, error) {
	out := &struct{ Body []StandType }{[]StandType{}}
	for _, rig := range s.catalog.Rigs {
		if t, known := s.catalog.Type(rig.Type); known {
			out.Body = append(out.Body, StandType{t.ID, t.Name})
		}
	}
	return out, nil
}

func (s *Server) standOf(_ context.Context, _ who, in *standInput) (*struct{ Body StandView }, error) {
	kit, known := s.catalog.Kit(in.Type)
	if !known {
		return nil, store.ErrNotFound
	}
	return &struct{ Body StandView }{StandView{kit, stand.New(kit.Rig, kit.Type, stand.StandardDay, 1).Panel()}}, nil
}

// standRun runs what was sent from its inputs: nothing that a browser says of its outcome
// is taken. Its length and its inputs are bounded before it is run, one at a time.
func (s *Server) standRun(ctx context.Context, _ who, in *standRunInput) (*struct{ Body StandAnswer }, error) {
	run := in.Body.Run
	answer, err := run.Scenario.Decide(s.catalog.Stand(), in.Body.Decision)
	if err != nil {
		return nil, err
	}
	select {
	case s.running <- struct{}{}:
		defer func() { <-s.running }()
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	m, err := run.Replay(s.catalog.Stand(), nil)
	if err != nil {
		return nil, err
	}
	return &struct{ Body StandAnswer }{StandAnswer{answer, m.Seconds(), m.Wear()}}, nil
}
