package schools

import (
	"context"
	"net/http"
	"slices"
	"strconv"

	"jetprimer/core/access"
	"jetprimer/reports"
	"jetprimer/server/api"
	"jetprimer/store"
)

func (s Handlers) outlookRoutes() {
	api.Handle(s.API, api.Route{
		ID: "outlook", For: access.Roles{access.Chief}, Method: http.MethodGet, Path: "/outlook",
		Summary: "The checkrides to come by month, and the hours that they need",
	},
		func(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body reports.OutlookView }, error) {
			v, err := s.outlook(ctx, w)
			return &struct{ Body reports.OutlookView }{v}, err
		})
	api.Handle(s.API, api.Route{
		ID: "export-outlook", For: access.Roles{access.Chief}, Method: http.MethodGet, Path: "/outlook.csv",
		Summary: "The same as a table",
	}, s.exportOutlook)
}

func (s Handlers) outlook(ctx context.Context, w api.Person) (v reports.OutlookView, err error) {
	err = s.In(ctx, w, func(tx *store.Tx) error {
		v, err = s.Reports.Outlook(tx)
		return err
	})
	return v, err
}

func (s Handlers) exportOutlook(ctx context.Context, w api.Person, _ *struct{}) (*api.File, error) {
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
	return api.CSVTable("outlook-"+v.AsOf, rows)
}
