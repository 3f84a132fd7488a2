package practices

import (
	"context"
	"net/http"
	"slices"
	"strings"

	"jetprimer/core/access"
	"jetprimer/core/form"
	"jetprimer/core/stand"
	"jetprimer/exchange"
	"jetprimer/server/api"
	"jetprimer/store"
)

// scenarioBytes bounds a scenario's file.
const scenarioBytes = 64 << 10

// ScenarioRead is a scenario from a file, and what of it cannot be used.
type ScenarioRead struct {
	Scenario *stand.Scenario `json:"scenario,omitempty"`
	Problems []string        `json:"problems"`
}

type scenarioInput struct {
	ID string `path:"id" maxLength:"64" pattern:"^[a-z0-9-]+$"`
}

type saveScenarioInput struct {
	scenarioBody
	ID string `path:"id" maxLength:"64" pattern:"^[a-z0-9-]+$"`
}

type scenarioBody struct{ Body stand.Scenario }

type readScenarioInput struct {
	RawBody []byte `contentType:"text/plain"`
}

func (s Handlers) scenarioRoutes() {
	api.Handle(s.API, api.Route{
		ID: "save-scenario", For: access.Teaching, Method: http.MethodPut, Path: "/scenarios/{id}",
		Summary: "Keep a scenario of the school's stands", MaxBodyBytes: scenarioBytes, Status: http.StatusNoContent,
	}, s.saveScenario)
	api.Handle(s.API, api.Route{
		ID: "drop-scenario", For: access.Teaching, Method: http.MethodDelete, Path: "/scenarios/{id}",
		Summary: "Drop a scenario that the school has written", Status: http.StatusNoContent,
	},
		func(ctx context.Context, w api.Person, in *scenarioInput) (*struct{}, error) {
			return nil, s.In(ctx, w, func(tx *store.Tx) error { return tx.DropScenario(in.ID) })
		})
	api.Handle(s.API, api.Route{
		ID: "read-scenario", For: access.Teaching, Method: http.MethodPost, Path: "/scenarios",
		Summary:      "Read a scenario from a file in YAML or JSON, and name every mistake in it",
		MaxBodyBytes: scenarioBytes,
	}, s.readScenario)
	api.Handle(s.API, api.Route{
		ID: "export-scenario", For: access.Practising, Method: http.MethodGet, Path: "/scenarios/{id}",
		Summary: "A scenario as a file in YAML",
	}, s.exportScenario)
}

// shippedScenario reports whether an id is that of a scenario that ships.
func (s Handlers) shippedScenario(id string) (stand.Scenario, bool) {
	i := slices.IndexFunc(s.Catalog.Scenarios, func(one stand.Scenario) bool { return one.ID == id })
	if i < 0 {
		return stand.Scenario{}, false
	}
	return s.Catalog.Scenarios[i], true
}

func (s Handlers) saveScenario(ctx context.Context, w api.Person, in *saveScenarioInput) (*struct{}, error) {
	one := in.Body
	if one.ID != in.ID {
		return nil, form.Bad("id", "is not the one that it is saved under")
	}
	if _, ships := s.shippedScenario(one.ID); ships {
		return nil, form.Bad("id", "is that of a scenario that ships; it needs another")
	}
	if problems := one.Problems(s.Catalog.Stand()); len(problems) > 0 {
		return nil, form.Bad(strings.TrimPrefix(problems[0].Field, "$."), "%s", problems[0].Reason)
	}
	return nil, s.In(ctx, w, func(tx *store.Tx) error { return tx.KeepScenario(one, w.Account, s.Now()) })
}

func (s Handlers) readScenario(_ context.Context, _ api.Person,
	in *readScenarioInput) (*struct{ Body ScenarioRead }, error) {
	out := &struct{ Body ScenarioRead }{ScenarioRead{Problems: []string{}}}
	source := exchange.Open("scenario", in.RawBody)
	one, ok := exchange.Decode[stand.Scenario](source)
	if ok {
		out.Body.Scenario = &one
		source.Report(one.Problems(s.Catalog.Stand()))
	}
	if err := source.Err(); err != nil {
		out.Body.Problems = strings.Split(err.Error(), "\n")
	}
	return out, nil
}

func (s Handlers) exportScenario(ctx context.Context, w api.Person, in *scenarioInput) (*api.File, error) {
	one, known := s.shippedScenario(in.ID)
	if !known {
		err := s.In(ctx, w, func(tx *store.Tx) (err error) { one, err = tx.Scenario(in.ID); return })
		if err != nil {
			return nil, err
		}
	}
	text, err := exchange.Write(one, "yaml")
	if err != nil {
		return nil, err
	}
	return api.Attachment("application/yaml", in.ID+".yaml", text), nil
}
