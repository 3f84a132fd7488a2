package server

import (
	"context"
	"net/http"
	"strconv"

	"jetprimer/core/access"
	"jetprimer/reports"
	"jetprimer/store"
)

func (s fleetHandlers) trendRoutes() {
	route(s.API, Route{
		ID: "aircraft-trends", For: access.AircraftReaders, Method: http.MethodGet,
		Path:    "/aircraft/{registration}/trends",
		Summary: "What is read on an aircraft again and again, over its hours",
	}, s.aircraftTrends)
	route(s.API, Route{
		ID: "export-readings", For: access.AircraftReaders, Method: http.MethodGet,
		Path: "/aircraft/{registration}/readings.csv", Summary: "The same as a table",
	}, s.exportReadings)
	route(s.API, Route{
		ID: "fleet-trends", For: access.AircraftReaders, Method: http.MethodGet, Path: "/trends",
		Summary: "What on the school's aircraft goes to its limit",
	}, s.fleetTrends)
}

type aircraftInput struct {
	Registration string `path:"registration" maxLength:"20"`
}

func (s fleetHandlers) exportReadings(ctx context.Context, w who, in *aircraftInput) (*fileOutput, error) {
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
		return decimal(*v)
	}
	for _, one := range found.Body.Series {
		for _, p := range one.Points {
			rows = append(rows, []string{
				found.Body.Registration, one.Check, strconv.Itoa(one.Engine), one.Label, one.Unit, decimal(p.Hours),
				p.Day, decimal(p.Value), decimal(p.Average), limit(one.Low), limit(one.High), p.Lesson,
			})
		}
	}
	return csvTable("readings-"+found.Body.Registration, rows)
}

func (s fleetHandlers) aircraftTrends(ctx context.Context, w who, in *aircraftInput) (*struct{ Body reports.AircraftTrends },
	error) {
	out := &struct{ Body reports.AircraftTrends }{}
	return out, s.in(ctx, w, func(tx *store.Tx) (err error) {
		out.Body, err = s.reports.Aircraft(tx, in.Registration, w.units())
		return err
	})
}

func (s fleetHandlers) fleetTrends(ctx context.Context, w who, _ *struct{}) (*struct{ Body []reports.TrendNotice }, error) {
	out := &struct{ Body []reports.TrendNotice }{}
	return out, s.in(ctx, w, func(tx *store.Tx) (err error) {
		out.Body, err = s.reports.Trends(tx)
		return err
	})
}
