package schools

import (
	"context"
	"net/http"
	"strconv"

	"jetprimer/core/access"
	"jetprimer/core/standard"
	"jetprimer/reports"
	"jetprimer/server/api"
	"jetprimer/store"
)

func (s Handlers) schoolRoutes() {
	api.Handle(s.API, api.Route{
		ID: "school", For: access.Teaching, Method: http.MethodGet, Path: "/school",
		Summary: "Every student's standing", Offline: true,
	},
		func(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body reports.SchoolView }, error) {
			v, err := s.schoolView(ctx, w)
			return &struct{ Body reports.SchoolView }{v}, err
		})
	api.Handle(s.API, api.Route{
		ID: "export-school", For: access.Roles{access.Chief}, Method: http.MethodGet, Path: "/school.csv",
		Summary: "Every student's standing as a table",
	}, s.exportSchool)
	api.Handle(s.API, api.Route{
		ID: "standards", For: access.Everyone, Method: http.MethodGet, Path: "/standards",
		Summary: "The standards packs in force", Offline: true,
	},
		func(ctx context.Context, w api.Person, _ *struct{}) (out *struct{ Body []standard.Pack }, err error) {
			out = &struct{ Body []standard.Pack }{}
			err = s.In(ctx, w, func(tx *store.Tx) (err error) { out.Body, err = tx.Packs(s.Today(w)); return })
			return
		})
}

func (s Handlers) schoolView(ctx context.Context, w api.Person) (v reports.SchoolView, err error) {
	err = s.In(ctx, w, func(tx *store.Tx) error {
		v, err = s.Reports.School(tx)
		return err
	})
	return v, err
}

func (s Handlers) exportSchool(ctx context.Context, w api.Person, _ *struct{}) (*api.File, error) {
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
	return api.CSVTable("school-"+v.AsOf, rows)
}
