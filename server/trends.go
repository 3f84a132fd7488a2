package server

import (
	"context"
	"fmt"
	"net/http"
	"strconv"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/compare"
	"jetprimer/store"
)

// AircraftTrends is an aircraft with what is read on it again and again.
type AircraftTrends struct {
	store.Aircraft
	TypeName string           `json:"typeName"`
	Findings []FindingView    `json:"findings" doc:"the newest first, closed ones among them"`
	Runs     []store.Lesson   `json:"runs" doc:"the newest maintenance runs"`
	Series   []compare.Series `json:"series" doc:"those to look at first"`
	// Alike are the other aircraft of the type, with their newest numbers by the id
	// of the series.
	Alike   []Alike `json:"alike"`
	Caution string  `json:"caution"`
}

// FindingView is a finding with what stands behind it.
type FindingView struct {
	store.Finding
	// Tries are those of its check in the lesson, and Pictures the SHA-256 of each that
	// the school has; both only of a finding that stands open.
	Tries    []Try    `json:"tries"`
	Pictures []string `json:"pictures"`
}

// Try is a try of a measured check.
type Try struct {
	compare.Tried
	Attempt  int  `json:"attempt"`
	Recorded bool `json:"recorded" doc:"whether the engine recorder measured it"`
}

// Alike is another aircraft of the same type.
type Alike struct {
	Registration string             `json:"registration"`
	Newest       map[string]float64 `json:"newest" doc:"the weighted average of each number now"`
}

// TrendNotice is a number of an aircraft that goes to its limit.
type TrendNotice struct {
	Registration string      `json:"registration"`
	Series       string      `json:"series"`
	Label        string      `json:"label"`
	State        check.State `json:"state"`
	Words        string      `json:"words"`
}

// runsShown is how many maintenance runs an aircraft's page names.
const runsShown = 5

const trendCaution = "A trend is a reason to look, not a verdict. The handbook and a licensed mechanic decide."

func (s *Server) trendRoutes() {
	route(s, huma.Operation{OperationID: "aircraft-trends", Method: http.MethodGet, Path: "/aircraft/{registration}/trends", Summary: "What is read on an aircraft again and again, over its hours"}, s.aircraftTrends)
	route(s, huma.Operation{OperationID: "export-readings", Method: http.MethodGet, Path: "/aircraft/{registration}/readings.csv", Summary: "The same as a table"}, s.exportReadings)
	route(s, huma.Operation{OperationID: "fleet-trends", Method: http.MethodGet, Path: "/trends", Summary: "What on the school's aircraft goes to its limit"}, s.fleetTrends)
}

type aircraftInput struct {
	Registration string `path:"registration" maxLength:"20"`
}

func (s *Server) exportReadings(ctx context.Context, w who, in *aircraftInput) (*fileOutput, error) {
	found, err := s.aircraftTrends(ctx, w, in)
	if err != nil {
		return nil, err
	}
	rows := [][]string{{"registration", "check", "engine", "number", "unit", "hours", "day", "value", "weighted average", "low", "high", "lesson"}}
	limit := func(v *float64) string {
		if v == nil {
			return ""
		}
		return decimal(*v)
	}
	for _, one := range found.Body.Series {
		for _, p := range one.Points {
			rows = append(rows, []string{found.Body.Registration, one.Check, strconv.Itoa(one.Engine), one.Label, one.Unit, decimal(p.Hours), p.Day, decimal(p.Value), decimal(p.Average), limit(one.Low), limit(one.High), p.Lesson})
		}
	}
	return csvTable("readings-"+found.Body.Registration, rows)
}

func (s *Server) aircraftTrends(ctx context.Context, w who, in *aircraftInput) (*struct{ Body AircraftTrends }, error) {
	out := &struct{ Body AircraftTrends }{AircraftTrends{Findings: []FindingView{}, Alike: []Alike{}, Caution: trendCaution}}
	v := &out.Body
	return out, s.in(ctx, w, func(tx *store.Tx) (err error) {
		if v.Aircraft, err = tx.OneAircraft(in.Registration, s.today(w)); err != nil {
			return err
		}
		types, err := s.typesNow(tx, w)
		if err != nil {
			return err
		}
		of := types.named(v.Type).With(v.Equipment)
		v.TypeName = of.Name
		stamps, err := tx.LogStamps()
		if err != nil {
			return err
		}
		if v.Series, err = s.seriesOf(tx, v.Registration, stamps, of); err != nil {
			return err
		}
		if v.Findings, err = s.findingsOf(tx, w, v.Registration, of); err != nil {
			return err
		}
		if v.Runs, err = tx.Runs(v.Registration, runsShown); err != nil {
			return err
		}
		fleet, err := tx.Aircraft(s.today(w))
		if err != nil {
			return err
		}
		for _, a := range fleet {
			if a.Type != v.Type || a.Registration == v.Registration {
				continue
			}
			series, err := s.seriesOf(tx, a.Registration, stamps, types.named(a.Type).With(a.Equipment))
			if err != nil {
				return err
			}
			other := Alike{a.Registration, map[string]float64{}}
			for _, one := range series {
				other.Newest[one.ID] = one.Points[len(one.Points)-1].Average
			}
			v.Alike = append(v.Alike, other)
		}
		return nil
	})
}

// findingsOf are the findings about an aircraft, the open ones with what stands behind
// them.
func (s *Server) findingsOf(tx *store.Tx, w who, registration string, typ aircraft.Type) ([]FindingView, error) {
	findings, err := tx.Findings(s.today(w))
	out, open := []FindingView{}, []string{}
	for _, f := range findings {
		if f.Registration == registration {
			out = append(out, FindingView{f, []Try{}, []string{}})
			if f.Condition.Open() {
				open = append(open, f.Event)
			}
		}
	}
	if err != nil || len(open) == 0 {
		return out, err
	}
	tries, err := tx.TriesBehind(open)
	if err != nil {
		return nil, err
	}
	pictures, err := tx.PicturesOf(open)
	for i := range out {
		f := &out[i]
		for _, t := range tries[f.Event] {
			one := Try{compare.TriedOf(t.Check, typ), t.Attempt, t.Recorded}
			one.Words = w.units().Say(one.Words)
			f.Tries = append(f.Tries, one)
		}
		f.Pictures = append(f.Pictures, pictures[f.Event]...)
	}
	return out, err
}

// typesNow are the types that serve today.
func (s *Server) typesNow(tx *store.Tx, w who) (typesByID, error) {
	types, err := tx.Types(s.today(w))
	return byID(types), err
}

// seriesOf are the series of an aircraft: nothing of them changes until it is flown or
// returned to service.
func (s *Server) seriesOf(tx *store.Tx, registration string, stamps map[string]string, typ aircraft.Type) ([]compare.Series, error) {
	return s.series.of(tx.School+registration, fmt.Sprint(stamps[registration], " ", typ.ID, typ.Version, typ.Limits), func() ([]compare.Series, error) {
		log, err := tx.AircraftLog(registration)
		return compare.Repeated(log, typ), err
	})
}

func (s *Server) fleetTrends(ctx context.Context, w who, _ *struct{}) (*struct{ Body []TrendNotice }, error) {
	out := &struct{ Body []TrendNotice }{[]TrendNotice{}}
	return out, s.in(ctx, w, func(tx *store.Tx) error {
		types, err := s.typesNow(tx, w)
		if err != nil {
			return err
		}
		fleet, err := tx.Aircraft(s.today(w))
		if err != nil {
			return err
		}
		stamps, err := tx.LogStamps()
		if err != nil {
			return err
		}
		for _, a := range fleet {
			series, err := s.seriesOf(tx, a.Registration, stamps, types.named(a.Type))
			if err != nil {
				return err
			}
			said := map[string]bool{} // a number that is read at two places is told once
			for _, one := range series {
				label := one.Title + ", " + one.Label
				if one.State != check.Within && !said[label] {
					out.Body = append(out.Body, TrendNotice{a.Registration, one.ID, label, one.State, one.Words})
					said[label] = true
				}
			}
		}
		return nil
	})
}
