package fleet

import (
	"context"
	"net/http"
	"strconv"

	"jetprimer/core/access"
	"jetprimer/reports"
	"jetprimer/server/api"
	"jetprimer/store"
)

func (s Handlers) trendRoutes() {
	api.Handle(s.API, api.Route{
		ID: "aircraft-trends", For: access.AircraftReaders, Method: http.MethodGet,
		Path:    "/aircraft/{registration}/trends",
		Summary: "What is read on an aircraft again and again, over its hours",
	}, s.aircraftTrends)
	api.Handle(s.API, api.Route{
		ID: "export-readings", For: access.AircraftReaders, Method: http.MethodGet,
		Path: "/aircraft/{registration}/readings.csv", Summary: "The same as a table",
	}, s.exportReadings)
	api.Handle(s.API, api.Route{
		ID: "fleet-trends", For: access.AircraftReaders, Method: http.MethodGet, Path: "/trends",
		Summary: "What on the school's aircraft goes to its limit",
	}, s.fleetTrends)
}

type aircraftInput struct {
	Registration string `path:"registration" maxLength:"20"`
}

func (s Handlers) exportReadings(ctx context.Context, w api.Person, in *aircraftInput) (*api.File, error) {
	found, err := s.aircraftTrends(ctx, w, in)
	if err != nil {
		return nil, err
	}
	rows := [][]string{
		{
			"registration", "check", "engine", "number", "unit", "hours", "day", "value", "weighted average", "low",
			"high", "lesson",
		},
	}
	limit := func(v *float64) string {
		if v == nil {
			return ""
		}
		return api.Decimal(*v)
	}
	for _, one := range found.Body.Series {
		for _, p := range one.Points {
			rows = append(rows, []string{
				found.Body.Registration, one.Check, strconv.Itoa(one.Engine), one.Label, one.Unit, api.Decimal(p.Hours),
				p.Day, api.Decimal(p.Value), api.Decimal(p.Average), limit(one.Low), limit(one.High), p.Lesson,
			})
		}
	}
	return api.CSVTable("readings-"+found.Body.Registration, rows)
}

func (s Handlers) aircraftTrends(ctx context.Context, w api.Person,
	in *aircraftInput) (*struct{ Body reports.AircraftTrends }, error) {
	out := &struct{ Body reports.AircraftTrends }{}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) {
		out.Body, err = s.Reports.Aircraft(tx, in.Registration, w.Units())
		return err
	})
}

func (s Handlers) fleetTrends(ctx context.Context, w api.Person,
	_ *struct{}) (*struct{ Body []reports.TrendNotice }, error) {
	out := &struct{ Body []reports.TrendNotice }{}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) {
		out.Body, err = s.Reports.Trends(tx)
		return err
	})
}
