package server

import (
	"context"
	"jetprimer/core/access"
	"jetprimer/core/standard"
	"jetprimer/reports"
	"jetprimer/store"
	"net/http"
	"strconv"
)

func (s schoolsHandlers) schoolRoutes() {
	route(s.API, Route{
		ID: "school", For: access.Teaching, Method: http.MethodGet, Path: "/school",
		Summary: "Every student's standing", Offline: true,
	},
		func(ctx context.Context, w who, _ *struct{}) (*struct{ Body reports.SchoolView }, error) {
			v, err := s.schoolView(ctx, w)
			return &struct{ Body reports.SchoolView }{v}, err
		})
	route(s.API, Route{
		ID: "export-school", For: access.Roles{access.Chief}, Method: http.MethodGet, Path: "/school.csv",
		Summary: "Every student's standing as a table",
	}, s.exportSchool)
	route(s.API, Route{
		ID: "standards", For: access.Everyone, Method: http.MethodGet, Path: "/standards",
		Summary: "The standards packs in force", Offline: true,
	},
		func(ctx context.Context, w who, _ *struct{}) (out *struct{ Body []standard.Pack }, err error) {
			out = &struct{ Body []standard.Pack }{}
			err = s.in(ctx, w, func(tx *store.Tx) (err error) { out.Body, err = tx.Packs(s.today(w)); return })
			return
		})
}

func (s schoolsHandlers) schoolView(ctx context.Context, w who) (v reports.SchoolView, err error) {
	err = s.in(ctx, w, func(tx *store.Tx) error {
		v, err = s.reports.School(tx)
		return err
	})
	return v, err
}

func (s schoolsHandlers) exportSchool(ctx context.Context, w who, _ *struct{}) (*fileOutput, error) {
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
