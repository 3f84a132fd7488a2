package server

import (
	"context"
	"encoding/json"
	"net/http"
	"strconv"
	"time"

	"jetprimer/core/access"
	"jetprimer/core/standard"
	"jetprimer/reports"
	"jetprimer/store"
)

type studentInput struct {
	ID     string    `path:"id" format:"uuid"`
	AsOf   string    `query:"asOf" format:"date" doc:"the day to judge by; today when left out"`
	Before time.Time `query:"before" doc:"lists the lessons opened before that moment"`
}

func (s *Server) studentRoutes() {
	route(s, Route{
		ID: "student", For: access.RecordReaders, Method: http.MethodGet, Path: "/students/{id}",
		Summary: "A student's standing, readiness and lessons", Offline: true,
	}, s.studentView)
	route(s, Route{
		ID: "decide-critical", For: access.Roles{access.Chief}, Method: http.MethodPost,
		Path:    "/students/{id}/criticals",
		Summary: "Close a critical error whose condition does not come again, with the reason",
		Status:  http.StatusNoContent,
	}, s.decideCritical)
	route(s, Route{
		ID: "export-standing", For: access.RecordReaders, Method: http.MethodGet, Path: "/students/{id}/standing.csv",
		Summary: "A student's standing as a table, element by element",
	}, s.exportStanding)
	route(s, Route{
		ID: "statements", For: access.RecordReaders, Method: http.MethodGet, Path: "/students/{id}/statements.json",
		Summary: "A student's signed lessons as xAPI statements",
	}, s.statements)
}

func (s *Server) exportStanding(ctx context.Context, w who, in *studentInput) (*fileOutput, error) {
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

func (s *Server) statements(ctx context.Context, w who, in *idInput) (*fileOutput, error) {
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

func (s *Server) decideCritical(ctx context.Context, w who, in *criticalInput) (*struct{}, error) {
	err := s.in(ctx, w, func(tx *store.Tx) error {
		return tx.DecideCritical(in.ID, in.Body.Lesson, in.Body.Item, in.Body.Why, w.account, s.now())
	})
	if err == nil {
		s.audit(ctx, w, "critical error at "+in.Body.Item+" closed", in.ID)
	}
	return nil, err
}

func (s *Server) studentView(ctx context.Context, w who, in *studentInput) (*struct{ Body reports.StudentView },
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

func (s *Server) schoolRoutes() {
	route(s, Route{
		ID: "school", For: access.Teaching, Method: http.MethodGet, Path: "/school",
		Summary: "Every student's standing", Offline: true,
	},
		func(ctx context.Context, w who, _ *struct{}) (*struct{ Body reports.SchoolView }, error) {
			v, err := s.schoolView(ctx, w)
			return &struct{ Body reports.SchoolView }{v}, err
		})
	route(s, Route{
		ID: "export-school", For: access.Roles{access.Chief}, Method: http.MethodGet, Path: "/school.csv",
		Summary: "Every student's standing as a table",
	}, s.exportSchool)
	route(s, Route{
		ID: "standards", For: access.Everyone, Method: http.MethodGet, Path: "/standards",
		Summary: "The standards packs in force", Offline: true,
	},
		func(ctx context.Context, w who, _ *struct{}) (out *struct{ Body []standard.Pack }, err error) {
			out = &struct{ Body []standard.Pack }{}
			err = s.in(ctx, w, func(tx *store.Tx) (err error) { out.Body, err = tx.Packs(s.today(w)); return })
			return
		})
}

func (s *Server) schoolView(ctx context.Context, w who) (v reports.SchoolView, err error) {
	err = s.in(ctx, w, func(tx *store.Tx) error {
		v, err = s.reports.School(tx)
		return err
	})
	return v, err
}

func (s *Server) exportSchool(ctx context.Context, w who, _ *struct{}) (*fileOutput, error) {
	v, err := s.schoolView(ctx, w)
	if err != nil {
		return nil, err
	}
	rows := [][]string{}
	for i, g := range v.Groups {
		if i > 0 {
			rows = append(rows, []string{""})
		}
		head := []string{"student", "class", "instructor", "base", "lessons", "last lesson", "met", "required", "stuck"}
		for _, c := range g.Columns {
			head = append(head, c.Elements...)
		}
		rows = append(rows, head)
		for _, st := range g.Students {
			row := []string{
				st.Student.Name, g.Class, st.Student.Instructor, st.Base, strconv.Itoa(st.Lessons), st.Last,
				strconv.Itoa(st.Met), strconv.Itoa(st.Required), st.Stuck,
			}
			rows = append(rows, append(row, st.Standings...))
		}
	}
	return csvTable("school-"+v.AsOf, rows)
}
