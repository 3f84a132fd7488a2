package days

import (
	"context"
	"net/http"
	"slices"
	"time"

	"jetprimer/catalog"
	"jetprimer/core/access"
	"jetprimer/core/aircraft"
	"jetprimer/core/calc"
	"jetprimer/core/check"
	"jetprimer/core/form"
	"jetprimer/core/weather"
	"jetprimer/reports"
	"jetprimer/server/api"
	"jetprimer/store"
)

// Calculators is what the calculators are, and the data that those in the
// browser work with.
type Calculators struct {
	Calculators []calc.Definition   `json:"calculators"`
	Icing       []calc.IcingBand    `json:"icing"`
	Aerodromes  []weather.Aerodrome `json:"aerodromes"`
	Procedures  []catalog.Procedure `json:"procedures"`
	Questions   []catalog.Question  `json:"questions" doc:"of the type asked for"`
}

// StationView is a made-up report of the stand-in station.
type StationView struct {
	Report    string         `json:"report"`
	Broadcast string         `json:"broadcast" doc:"the report as it is read aloud"`
	Runway    string         `json:"runway" doc:"the runway in use, the most into the wind"`
	Parsed    weather.Report `json:"parsed"`
	Note      string         `json:"note"`
}

// Reference is what the reference pages are made from: the checks as they are
// declared, and the limits and an example of each type in force.
type Reference struct {
	Checks  []check.Definition            `json:"checks"`
	Types   []aircraft.Type               `json:"types"`
	Example map[string]map[string]Example `json:"examples" doc:"by check and type"`
	// Limits are those of each check on the types that have it.
	Limits map[string]LimitTable `json:"limits"`
}

// LimitTable is the limits of one check, type by type, and beside a type what equipment
// changes of them: Heads name the columns.
type LimitTable struct {
	Types []string         `json:"types"`
	Heads []string         `json:"heads"`
	Rows  []check.LimitRow `json:"rows"`
}

// Example is a reading within limits, to drag from.
type Example struct {
	Reading    map[string]any `json:"reading"`
	Conditions map[string]any `json:"conditions"`
	// Usual are the findings around the limits, with their causes.
	Usual []check.Usual `json:"usual"`
}

func (s Handlers) dayRoutes() {
	api.Handle(s.API, api.Route{
		ID: "calculators", For: access.Everyone, Method: http.MethodGet, Path: "/calculators",
		Summary: "The calculators, and the data they work with", Offline: true,
	},
		func(ctx context.Context, w api.Person, in *struct {
			Type string `query:"type" doc:"the aircraft type whose questions are wanted"`
		}) (*struct{ Body Calculators }, error) {
			out := &struct{ Body Calculators }{
				Calculators{calc.All(), s.Catalog.Icing, nil, s.Catalog.Procedures, s.Catalog.QuestionsFor(in.Type)},
			}
			return out, s.In(ctx, w,
				func(tx *store.Tx) (err error) { out.Body.Aerodromes, err = tx.Bases(); return err })
		})
	api.Handle(s.API, api.Route{
		ID: "calc", For: access.Everyone, Method: http.MethodPost, Path: "/calc/{name}", Summary: "Compute",
		MaxBodyBytes: 64 << 10,
	},
		func(ctx context.Context, w api.Person, in *checkInput) (*rawOutput, error) {
			out := &rawOutput{ContentType: "application/json"}
			err := s.In(ctx, w, func(tx *store.Tx) (err error) {
				tables := s.Catalog.Tables()
				tables.Type = s.typeIn(tx, w)
				out.Body, err = calc.Run(in.Name, in.RawBody, tables)
				return err
			})
			return out, err
		})
	s.describe("/api/v1/calc/{name}", "CalcRequest", calc.Schemas())
	api.Handle(s.API, api.Route{
		ID: "station", For: access.Everyone, Method: http.MethodGet, Path: "/station/{id}",
		Summary: "A made-up weather report to practise with", Offline: true,
	}, s.station)
	api.Handle(s.API, api.Route{
		ID: "reference", For: access.Everyone, Method: http.MethodGet, Path: "/reference",
		Summary: "Every check with the limits of each type", Offline: true,
	}, s.reference)
}

// typeIn finds the types that serve today.
func (s Handlers) typeIn(tx *store.Tx, w api.Person) aircraft.Finder {
	return func(id string) (aircraft.Type, bool) {
		t, err := tx.Type(id, s.Today(w))
		return t, err == nil
	}
}

func (s Handlers) station(ctx context.Context, w api.Person, in *struct {
	ID string `path:"id" maxLength:"8"`
	At string `query:"at" format:"date-time" doc:"the moment; now when left out"`
}) (*struct{ Body StationView }, error) {
	var bases []weather.Aerodrome
	if err := s.In(ctx, w, func(tx *store.Tx) (err error) { bases, err = tx.Bases(); return err }); err != nil {
		return nil, err
	}
	i := slices.IndexFunc(bases, func(a weather.Aerodrome) bool { return a.ID == in.ID })
	if i < 0 {
		return nil, store.ErrNotFound
	}
	at := s.Now()
	if in.At != "" {
		var err error
		if at, err = time.Parse(time.RFC3339, in.At); err != nil {
			return nil, form.Problem{Field: "at", Reason: "must be a moment such as 2026-11-24T10:00:00Z"}
		}
	}
	a := bases[i]
	v := StationView{Report: weather.Simulated(a, at), Note: reports.StationNote}
	v.Parsed = weather.ParseReport(v.Report)
	v.Runway = a.InUse(v.Parsed)
	v.Broadcast = weather.Broadcast(a, v.Parsed, v.Runway)
	return &struct{ Body StationView }{v}, nil
}

func (s Handlers) reference(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body Reference }, error) {
	out := &struct{ Body Reference }{
		Reference{
			Checks: check.All(), Types: []aircraft.Type{}, Example: map[string]map[string]Example{},
			Limits: map[string]LimitTable{},
		},
	}
	err := s.In(ctx, w, func(tx *store.Tx) error {
		types, err := tx.Types(s.Today(w))
		if err != nil {
			return err
		}
		for _, t := range types {
			out.Body.Types = append(out.Body.Types, t)
			for _, d := range out.Body.Checks {
				reading, conditions, ok := check.Example(d.Name, t, nil, 0)
				if !ok {
					continue
				}
				if out.Body.Example[d.Name] == nil {
					out.Body.Example[d.Name] = map[string]Example{}
				}
				out.Body.Example[d.Name][t.ID] = Example{reading, conditions, check.UsualFindings(d.Name, t, w.Units())}
			}
		}
		for _, d := range out.Body.Checks {
			var table LimitTable
			var having []aircraft.Type
			for _, t := range types {
				if t.Limits[d.Name] == nil {
					continue
				}
				table.Types, table.Heads, having = append(table.Types, t.ID), append(table.Heads,
					t.Name), append(having, t)
				for _, e := range t.Equipment {
					if e.Limits[d.Name] != nil {
						table.Heads, having = append(table.Heads, t.Name+" with "+e.Label), append(having,
							t.With([]string{e.ID}))
					}
				}
			}
			table.Rows = d.LimitRows(having, w.Units())
			out.Body.Limits[d.Name] = table
		}
		return nil
	})
	return out, err
}
