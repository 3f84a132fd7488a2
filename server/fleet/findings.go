package fleet

import (
	"context"
	"net/http"
	"strings"

	"jetprimer/core/access"
	"jetprimer/core/school"
	"jetprimer/server/api"
	"jetprimer/store"
)

type returnInput struct {
	Lesson string `path:"lesson" format:"uuid"`
	Event  string `path:"event" format:"uuid"`
	Body   struct {
		Words  string `json:"words" minLength:"1" maxLength:"2000" doc:"what was found and done"`
		Retest string `json:"retest,omitempty" maxLength:"2000" doc:"what was tested again, and what it read"`
		Run    string `json:"run,omitempty" maxLength:"36" doc:"the maintenance run that answers what a check grounded"`
	}
}

type deferInput struct {
	Lesson string `path:"lesson" format:"uuid"`
	Event  string `path:"event" format:"uuid"`
	Body   school.Deferral
}

func (s Handlers) findingRoutes() {
	api.Handle(s.API, api.Route{
		ID: "return-aircraft", For: access.Roles{access.Maintenance, access.Chief}, Method: http.MethodPost,
		Path: "/findings/{lesson}/{event}/return", Summary: "Return an aircraft to service, with words and a re-test",
		Status: http.StatusNoContent, MaxBodyBytes: 16 << 10,
	}, s.returnAircraft)
	api.Handle(s.API, api.Route{
		ID: "defer-finding", For: access.Roles{access.Maintenance, access.Chief}, Method: http.MethodPost,
		Path: "/findings/{lesson}/{event}/defer", Summary: "Note until when a deferred finding is, and what allows it",
		Status: http.StatusNoContent, MaxBodyBytes: 4 << 10,
	}, s.deferFinding)
}

func (s Handlers) deferFinding(ctx context.Context, w api.Person, in *deferInput) (*struct{}, error) {
	err := s.In(ctx, w, func(tx *store.Tx) error { return tx.Defer(in.Lesson, in.Event, in.Body, w.Account, s.Now()) })
	if err == nil {
		s.Audit(ctx, w, "finding deferred until "+in.Body.Until, in.Lesson+" "+in.Event)
	}
	return nil, err
}

func (s Handlers) returnAircraft(ctx context.Context, w api.Person, in *returnInput) (*struct{}, error) {
	err := s.In(ctx, w, func(tx *store.Tx) error {
		return tx.Return(in.Lesson, in.Event, store.Returning{
			Words: in.Body.Words, Retest: strings.TrimSpace(in.Body.Retest), Run: in.Body.Run,
		}, w.Account, s.Now())
	})
	if err == nil {
		s.Audit(ctx, w, "aircraft returned", in.Lesson+" "+in.Event)
	}
	return nil, err
}
