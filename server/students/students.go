package students

import (
	"context"
	"encoding/json"
	"net/http"
	"strconv"
	"time"

	"jetprimer/core/access"
	"jetprimer/reports"
	"jetprimer/server/api"
	"jetprimer/store"
)

type studentInput struct {
	ID     string    `path:"id" format:"uuid"`
	AsOf   string    `query:"asOf" format:"date" doc:"the day to judge by; today when left out"`
	Before time.Time `query:"before" doc:"lists the lessons opened before that moment"`
}

func (s Handlers) studentRoutes() {
	api.Handle(s.API, api.Route{
		ID: "student", For: access.RecordReaders, Method: http.MethodGet, Path: "/students/{id}",
		Summary: "A student's standing, readiness and lessons", Offline: true,
	}, s.studentView)
	api.Handle(s.API, api.Route{
		ID: "decide-critical", For: access.Roles{access.Chief}, Method: http.MethodPost,
		Path:    "/students/{id}/criticals",
		Summary: "Close a critical error whose condition does not come again, with the reason",
		Status:  http.StatusNoContent,
	}, s.decideCritical)
	api.Handle(s.API, api.Route{
		ID: "export-standing", For: access.RecordReaders, Method: http.MethodGet, Path: "/students/{id}/standing.csv",
		Summary: "A student's standing as a table, element by element",
	}, s.exportStanding)
	api.Handle(s.API, api.Route{
		ID: "statements", For: access.RecordReaders, Method: http.MethodGet, Path: "/students/{id}/statements.json",
		Summary: "A student's signed lessons as xAPI statements",
	}, s.statements)
}

func (s Handlers) exportStanding(ctx context.Context, w api.Person, in *studentInput) (*api.File, error) {
	v, err := s.studentView(ctx, w, in)
	if err != nil {
		return nil, err
	}
	rows := [][]string{
		{
			"standard", "task", "code", "element", "standing", "as of", "lapses on", "lessons", "newest",
			"level of the newest", "why",
		},
	}
	why := map[string]string{}
	for _, m := range v.Body.Readiness.Missing {
		why[m.Element] = m.Why
	}
	for _, task := range v.Body.Tasks {
		for _, e := range task.Elements {
			row := []string{
				task.Pack, task.Title, e.Code, e.Text, e.Standing, v.Body.AsOf, e.LapsesOn,
				strconv.Itoa(len(e.History)), "", "", why[e.ID],
			}
			if n := len(e.History); n > 0 {
				row[8], row[9] = e.History[n-1].Date, strconv.Itoa(e.History[n-1].Level)
			}
			rows = append(rows, row)
		}
	}
	return api.CSVTable("standing-"+v.Body.AsOf, rows)
}

func (s Handlers) statements(ctx context.Context, w api.Person, in *api.ID) (*api.File, error) {
	out := &api.File{ContentType: "application/json", Disposition: `attachment; filename="statements.json"`}
	return out, s.In(ctx, w, func(tx *store.Tx) error {
		if err := s.MayRead(tx, w, in.ID); err != nil {
			return err
		}
		all, err := tx.Statements(in.ID, s.Home(ctx), w.Account == in.ID)
		if err != nil {
			return err
		}
		out.Body, err = json.MarshalIndent(all, "", "  ")
		return err
	})
}

type criticalInput struct {
	ID   string `path:"id" format:"uuid"`
	Body struct {
		Lesson string `json:"lesson" format:"uuid"`
		Item   string `json:"item" minLength:"1" maxLength:"64"`
		Why    string `json:"why" minLength:"1" maxLength:"1000"`
	}
}

func (s Handlers) decideCritical(ctx context.Context, w api.Person, in *criticalInput) (*struct{}, error) {
	err := s.In(ctx, w, func(tx *store.Tx) error {
		return tx.DecideCritical(in.ID, in.Body.Lesson, in.Body.Item, in.Body.Why, w.Account, s.Now())
	})
	if err == nil {
		s.Audit(ctx, w, "critical error at "+in.Body.Item+" closed", in.ID)
	}
	return nil, err
}

func (s Handlers) studentView(ctx context.Context, w api.Person,
	in *studentInput) (*struct{ Body reports.StudentView }, error) {
	out := &struct{ Body reports.StudentView }{}
	if in.AsOf == "" {
		in.AsOf = s.Today(w)
	}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) {
		if err := s.MayRead(tx, w, in.ID); err != nil {
			return err
		}
		out.Body, err = s.Reports.Student(tx, in.ID, in.AsOf, in.Before)
		return err
	})
}
