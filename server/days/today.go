package days

import (
	"context"
	"encoding/json"
	"maps"
	"net/http"
	"slices"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/access"
	"jetprimer/core/check"
	"jetprimer/reports"
	"jetprimer/server/api"
	"jetprimer/store"
)

func (s Handlers) todayRoutes() {
	api.Handle(s.API, api.Route{
		ID: "today", For: access.Everyone, Method: http.MethodGet, Path: "/today",
		Summary: "The day: lessons and aircraft", Offline: true,
	}, s.today)
	api.Handle(s.API, api.Route{
		ID: "briefing", For: access.Teaching, Method: http.MethodGet, Path: "/briefing",
		Summary: "What a lesson is opened from", Offline: true,
	}, s.briefing)
	api.Handle(s.API, api.Route{
		ID: "findings", For: access.FindingReaders, Method: http.MethodGet, Path: "/findings",
		Summary: "Findings on the aircraft",
	},
		func(ctx context.Context, w api.Person, _ *struct{}) (out *struct{ Body []store.Finding }, err error) {
			out = &struct{ Body []store.Finding }{}
			err = s.In(ctx, w, func(tx *store.Tx) (err error) { out.Body, err = tx.Findings(s.Today(w)); return })
			return
		})
}

type checkInput struct {
	Name    string `path:"name" maxLength:"64" doc:"the check, such as magneto"`
	RawBody []byte
}

type rawOutput struct {
	ContentType string `header:"Content-Type"`
	Body        []byte
}

func (s Handlers) checkRoutes() {
	api.Handle(s.API, api.Route{
		ID: "checks", For: access.Everyone, Method: http.MethodGet, Path: "/checks",
		Summary: "The checks with their fields", Offline: true,
	},
		func(context.Context, api.Person, *struct{}) (*struct{ Body []check.Definition }, error) {
			return &struct{ Body []check.Definition }{check.All()}, nil
		})
	api.Handle(s.API, api.Route{
		ID: "check", For: access.Everyone, Method: http.MethodPost, Path: "/check/{name}", Summary: "Judge one reading",
		MaxBodyBytes: 64 << 10,
	},
		func(ctx context.Context, w api.Person, in *checkInput) (*rawOutput, error) {
			out := &rawOutput{ContentType: "application/json"}
			err := s.In(ctx, w, func(tx *store.Tx) (err error) {
				out.Body, err = check.Run(in.Name, in.RawBody, s.typeIn(tx, w))
				return err
			})
			return out, err
		})
	s.describe("/api/v1/check/{name}", "CheckRequest", check.Schemas())
}

// describe gives the OpenAPI document the schemas of an operation whose bytes
// core reads itself: the body is one of them.
func (s Handlers) describe(path, prefix string, schemas map[string]map[string]any) {
	components := s.Operations.OpenAPI().Components.Schemas.Map()
	any := &huma.Schema{}
	for _, name := range slices.Sorted(maps.Keys(schemas)) {
		data, err := json.Marshal(schemas[name])
		schema := &huma.Schema{}
		if err == nil {
			err = json.Unmarshal(data, schema)
		}
		if err != nil {
			panic("server: the schema of " + name + ": " + err.Error())
		}
		id := prefix + "-" + name
		components[id] = schema
		any.AnyOf = append(any.AnyOf, &huma.Schema{Ref: "#/components/schemas/" + id})
	}
	s.Operations.OpenAPI().Paths[path].Post.RequestBody = &huma.RequestBody{
		Required: true, Content: map[string]*huma.MediaType{"application/json": {Schema: any}},
	}
}

func (s Handlers) today(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body reports.Today }, error) {
	out := &struct{ Body reports.Today }{}
	err := s.In(ctx, w, func(tx *store.Tx) error {
		reader, err := s.Reader(tx, w)
		if err == nil {
			out.Body, err = s.Reports.Today(tx, reader)
		}
		return err
	})
	if s.Notice != nil {
		out.Body.Notice = s.Notice()
	}
	return out, err
}

func (s Handlers) briefing(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body reports.Briefing }, error) {
	out := &struct{ Body reports.Briefing }{}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) {
		out.Body, err = s.Reports.Briefing(tx, w.Account)
		return err
	})
}
