package server

import (
	"context"
	"encoding/json"
	"maps"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/check"
	"jetprimer/core/lesson"
	"jetprimer/core/school"
	"jetprimer/store"
)

// Today is the day at the school.
type Today struct {
	Day      string         `json:"day"`
	Cursor   int64          `json:"cursor" doc:"where the feed stands: ask it for what comes after"`
	Running  []store.Lesson `json:"running"`
	Unsigned []store.Lesson `json:"unsigned" doc:"ended, and waiting for a signature"`
	Recent   []store.Lesson `json:"recent" doc:"signed in the last two weeks"`
	Aircraft []AircraftDay  `json:"aircraft"`
}

// AircraftDay is an aircraft with what stands open on it.
type AircraftDay struct {
	store.Aircraft
	TypeName string          `json:"typeName"`
	Grounded bool            `json:"grounded"`
	Findings []store.Finding `json:"findings"`
}

// Briefing is what the opening of a lesson chooses from.
type Briefing struct {
	Day        string             `json:"day" doc:"the school's day"`
	Students   []store.Student    `json:"students"`
	Aircraft   []AircraftDay      `json:"aircraft"`
	Methods    []string           `json:"methods"`
	Purposes   []string           `json:"purposes"`
	Scales     []lesson.Scale     `json:"scales"`
	ErrorKinds []lesson.ErrorKind `json:"errorKinds"`
	Decisions  []string           `json:"decisions"`
}

func (s *Server) todayRoutes() {
	route(s, huma.Operation{OperationID: "today", Method: http.MethodGet, Path: "/today", Summary: "The day: lessons and aircraft"}, s.todayView)
	route(s, huma.Operation{OperationID: "briefing", Method: http.MethodGet, Path: "/briefing", Summary: "What a lesson is opened from"}, s.briefing)
	route(s, huma.Operation{OperationID: "findings", Method: http.MethodGet, Path: "/findings", Summary: "Findings on the aircraft"},
		func(ctx context.Context, w who, _ *struct{}) (out *struct{ Body []store.Finding }, err error) {
			out = &struct{ Body []store.Finding }{}
			err = s.in(ctx, w, func(tx *store.Tx) (err error) { out.Body, err = tx.Findings(); return })
			return
		})
}

func (s *Server) todayView(ctx context.Context, w who, _ *struct{}) (*struct{ Body Today }, error) {
	out := &struct{ Body Today }{Today{Day: s.today(w), Running: []store.Lesson{}, Unsigned: []store.Lesson{}, Recent: []store.Lesson{}}}
	err := s.in(ctx, w, func(tx *store.Tx) (err error) {
		if out.Body.Cursor, err = tx.Cursor(); err != nil {
			return err
		}
		may, err := s.readable(tx, w)
		if err != nil {
			return err
		}
		unsigned, err := tx.Unsigned()
		if err != nil {
			return err
		}
		recent, err := tx.Lessons("", s.now().Add(-14*24*time.Hour), time.Time{})
		if err != nil {
			return err
		}
		for _, l := range append(unsigned, recent...) {
			switch {
			case !may(l.StudentID):
			case l.Status == "open":
				out.Body.Running = addOnce(out.Body.Running, l)
			case l.Status == "ended":
				out.Body.Unsigned = addOnce(out.Body.Unsigned, l)
			default:
				out.Body.Recent = addOnce(out.Body.Recent, l)
			}
		}
		out.Body.Aircraft, err = s.aircraftDay(tx)
		return err
	})
	return out, err
}

func addOnce(list []store.Lesson, l store.Lesson) []store.Lesson {
	if slices.ContainsFunc(list, func(o store.Lesson) bool { return o.ID == l.ID }) {
		return list
	}
	return append(list, l)
}

func (s *Server) aircraftDay(tx *store.Tx) ([]AircraftDay, error) {
	fleet, err := tx.Aircraft()
	if err != nil {
		return nil, err
	}
	findings, err := tx.Findings()
	if err != nil {
		return nil, err
	}
	types, err := tx.Versions("")
	if err != nil {
		return nil, err
	}
	names := map[string]string{}
	for _, v := range types {
		if v.Kind == school.KindType {
			names[v.ID] = v.Title
		}
	}
	out := []AircraftDay{}
	for _, a := range fleet {
		day := AircraftDay{Aircraft: a, TypeName: names[a.Type], Findings: []store.Finding{}}
		for _, f := range findings {
			if f.Registration == a.Registration && f.Condition.Open() {
				day.Findings = append(day.Findings, f)
				day.Grounded = day.Grounded || f.Condition.Grounds()
			}
		}
		out = append(out, day)
	}
	return out, nil
}

func (s *Server) briefing(ctx context.Context, w who, _ *struct{}) (*struct{ Body Briefing }, error) {
	out := &struct{ Body Briefing }{Briefing{Day: s.today(w), Methods: lesson.Methods, Purposes: lesson.Purposes, Scales: s.catalog.Scales,
		ErrorKinds: lesson.ErrorKinds, Decisions: lesson.Decisions}}
	err := s.in(ctx, w, func(tx *store.Tx) (err error) {
		if out.Body.Students, err = tx.Students(); err != nil {
			return err
		}
		out.Body.Aircraft, err = s.aircraftDay(tx)
		return err
	})
	return out, err
}

type checkInput struct {
	Name    string `path:"name" maxLength:"64" doc:"the check, such as magneto"`
	RawBody []byte
}

type rawOutput struct {
	ContentType string `header:"Content-Type"`
	Body        []byte
}

func (s *Server) checkRoutes() {
	route(s, huma.Operation{OperationID: "checks", Method: http.MethodGet, Path: "/checks", Summary: "The checks with their fields"},
		func(context.Context, who, *struct{}) (*struct{ Body []check.Definition }, error) {
			return &struct{ Body []check.Definition }{check.All()}, nil
		})
	route(s, huma.Operation{OperationID: "check", Method: http.MethodPost, Path: "/check/{name}", Summary: "Judge one reading", MaxBodyBytes: 64 << 10},
		func(ctx context.Context, w who, in *checkInput) (*rawOutput, error) {
			out := &rawOutput{ContentType: "application/json"}
			err := s.in(ctx, w, func(tx *store.Tx) (err error) {
				out.Body, err = check.Run(in.Name, in.RawBody, s.typeIn(tx, w))
				return err
			})
			return out, err
		})
	s.describe("/api/v1/check/{name}", "CheckRequest", check.Schemas())
}

// describe gives the OpenAPI document the schemas of an operation whose bytes
// core reads itself: the body is one of them.
func (s *Server) describe(path, prefix string, schemas map[string]map[string]any) {
	components := s.api.OpenAPI().Components.Schemas.Map()
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
	s.api.OpenAPI().Paths[path].Post.RequestBody = &huma.RequestBody{Required: true, Content: map[string]*huma.MediaType{"application/json": {Schema: any}}}
}
