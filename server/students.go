package server

import (
	"context"
	"encoding/json"
	"net/http"
	"strconv"
	"time"

	"jetprimer/core/access"
	"jetprimer/reports"
	"jetprimer/store"
)

type studentInput struct {
	ID     string    `path:"id" format:"uuid"`
	AsOf   string    `query:"asOf" format:"date" doc:"the day to judge by; today when left out"`
	Before time.Time `query:"before" doc:"lists the lessons opened before that moment"`
}

func (s studentsHandlers) studentRoutes() {
	route(s.API, Route{
		ID: "student", For: access.RecordReaders, Method: http.MethodGet, Path: "/students/{id}",
		Summary: "A student's standing, readiness and lessons", Offline: true,
	}, s.studentView)
	route(s.API, Route{
		ID: "decide-critical", For: access.Roles{access.Chief}, Method: http.MethodPost,
		Path:    "/students/{id}/criticals",
		Summary: "Close a critical error whose condition does not come again, with the reason",
		Status:  http.StatusNoContent,
	}, s.decideCritical)
	route(s.API, Route{
		ID: "export-standing", For: access.RecordReaders, Method: http.MethodGet, Path: "/students/{id}/standing.csv",
		Summary: "A student's standing as a table, element by element",
	}, s.exportStanding)
	route(s.API, Route{
		ID: "statements", For: access.RecordReaders, Method: http.MethodGet, Path: "/students/{id}/statements.json",
		Summary: "A student's signed lessons as xAPI statements",
	}, s.statements)
}

func (s studentsHandlers) exportStanding(ctx context.Context, w who, in *studentInput) (*fileOutput, error) {
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
	return csvTable("standing-"+v.Body.AsOf, rows)
}

func (s studentsHandlers) statements(ctx context.Context, w who, in *idInput) (*fileOutput, error) {
	out := &fileOutput{ContentType: "application/json", Disposition: `attachment; filename="statements.json"`}
	return out, s.in(ctx, w, func(tx *store.Tx) error {
		if err := s.mayRead(tx, w, in.ID); err != nil {
			return err
		}
		all, err := tx.Statements(in.ID, s.home(ctx), w.account == in.ID)
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

func (s studentsHandlers) decideCritical(ctx context.Context, w who, in *criticalInput) (*struct{}, error) {
	err := s.in(ctx, w, func(tx *store.Tx) error {
		return tx.DecideCritical(in.ID, in.Body.Lesson, in.Body.Item, in.Body.Why, w.account, s.now())
	})
	if err == nil {
		s.audit(ctx, w, "critical error at "+in.Body.Item+" closed", in.ID)
	}
	return nil, err
}

func (s studentsHandlers) studentView(ctx context.Context, w who, in *studentInput) (*struct{ Body reports.StudentView },
	error) {
	out := &struct{ Body reports.StudentView }{}
	if in.AsOf == "" {
		in.AsOf = s.today(w)
	}
	return out, s.in(ctx, w, func(tx *store.Tx) (err error) {
		if err := s.mayRead(tx, w, in.ID); err != nil {
			return err
		}
		out.Body, err = s.reports.Student(tx, in.ID, in.AsOf, in.Before)
		return err
	})
}
