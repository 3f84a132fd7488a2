package server

import (
	"context"
	"net/http"
	"slices"
	"strconv"

	"jetprimer/core/access"
	"jetprimer/reports"
	"jetprimer/store"
)

func (s schoolsHandlers) outlookRoutes() {
	route(s.API, Route{
		ID: "outlook", For: access.Roles{access.Chief}, Method: http.MethodGet, Path: "/outlook",
		Summary: "The checkrides to come by month, and the hours that they need",
	},
		func(ctx context.Context, w who, _ *struct{}) (*struct{ Body reports.OutlookView }, error) {
			v, err := s.outlook(ctx, w)
			return &struct{ Body reports.OutlookView }{v}, err
		})
	route(s.API, Route{
		ID: "export-outlook", For: access.Roles{access.Chief}, Method: http.MethodGet, Path: "/outlook.csv",
		Summary: "The same as a table",
	}, s.exportOutlook)
}

func (s schoolsHandlers) outlook(ctx context.Context, w who) (v reports.OutlookView, err error) {
	err = s.in(ctx, w, func(tx *store.Tx) error {
		v, err = s.reports.Outlook(tx)
		return err
	})
	return v, err
}

func (s schoolsHandlers) exportOutlook(ctx context.Context, w who, _ *struct{}) (*fileOutput, error) {
	v, err := s.outlook(ctx, w)
	if err != nil {
		return nil, err
	}
	number := func(f float64) string { return strconv.FormatFloat(f, 'f', 1, 64) }
	rows := [][]string{{"month", "of", "low", "mean", "high", "to be had", "most in one month so far", "words"}}
	for _, m := range v.Months {
		rows = append(rows, []string{
			m.Month, "checkrides", number(m.Checkrides.Low), number(m.Checkrides.Mean), number(m.Checkrides.High), "",
			"", "",
		})
		for _, n := range m.Needs {
			of := "hours of instructors"
			if n.Class != "" {
				of = "hours of aircraft, " + n.Class
			}
			rows = append(rows,
				slices.Concat([]string{m.Month, of},
					[]string{
						number(n.Hours.Low), number(n.Hours.Mean), number(n.Hours.High), number(n.Had), number(n.Most),
						n.Words,
					}))
		}
	}
	return csvTable("outlook-"+v.AsOf, rows)
}
