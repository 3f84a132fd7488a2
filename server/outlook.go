package server

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/access"
	"jetprimer/core/progress"
	"jetprimer/core/schedule"
	"jetprimer/store"
)

// OutlookView is what the months to come ask of the school.
type OutlookView struct {
	AsOf   string         `json:"asOf"`
	Months []OutlookMonth `json:"months"`
	// Told are the students of whom something can be told; Untold those who are on
	// their way and of whom nothing can be.
	Told   int      `json:"told"`
	Untold int      `json:"untold"`
	Hours  float64  `json:"hours" doc:"how long a lesson is planned, in hours, on the average"`
	Words  []string `json:"words" doc:"what it rests on"`
}

// OutlookMonth is one month.
type OutlookMonth struct {
	Month      string            `json:"month" doc:"such as 2026-12"`
	From       string            `json:"from"`
	Checkrides progress.Expected `json:"checkrides"`
	// Needs are the hours of aircraft by class, then those of instructors.
	Needs []OutlookNeed `json:"needs"`
}

// OutlookNeed is how many hours are needed, beside those that are to be had.
type OutlookNeed struct {
	Class string            `json:"class" doc:"of the aircraft; empty for the instructors"`
	Hours progress.Expected `json:"hours"`
	Had   float64           `json:"had" doc:"the most that there is"`
	Most  float64           `json:"most" doc:"the most in one month of the last twelve"`
	State string            `json:"state" enum:"within,attend,out"`
	Words string            `json:"words"`
}

// monthsAhead is how far an outlook goes.
const monthsAhead = 6

func (s *Server) outlookRoutes() {
	route(s, huma.Operation{OperationID: "outlook", Method: http.MethodGet, Path: "/outlook", Summary: "The checkrides to come by month, and the hours that they need"},
		func(ctx context.Context, w who, _ *struct{}) (*struct{ Body OutlookView }, error) {
			v, err := s.outlook(ctx, w)
			return &struct{ Body OutlookView }{v}, err
		})
	route(s, huma.Operation{OperationID: "export-outlook", Method: http.MethodGet, Path: "/outlook.csv", Summary: "The same as a table"}, s.exportOutlook)
}

func (s *Server) outlook(ctx context.Context, w who) (OutlookView, error) {
	v := OutlookView{AsOf: s.today(w), Months: []OutlookMonth{}}
	sheet, err := s.schoolView(ctx, w)
	if err != nil {
		return v, err
	}
	return v, s.in(ctx, w, func(tx *store.Tx) error {
		courses, err := tx.Courses(true)
		if err != nil {
			return err
		}
		var ahead []progress.Ahead
		for _, g := range sheet.Groups {
			for _, st := range g.Students {
				if st.Ready {
					continue
				}
				own, others := courseOf(st.Student, courses)
				a := progress.Ahead{Class: g.Class, Ways: own.Ahead(st.Required, others)}
				if len(a.Ways) == 0 {
					v.Untold++
					continue
				}
				v.Told++
				ahead = append(ahead, a)
			}
		}
		now := s.now()
		if v.Hours, err = tx.PlannedHours(now.AddDate(-1, 0, 0)); err != nil {
			return err
		}
		around, err := tx.Around(now, now.AddDate(0, monthsAhead+1, 0), now)
		if err != nil {
			return err
		}
		classes, flew, err := s.byClass(tx, w, now)
		if err != nil {
			return err
		}
		people, err := tx.People(access.Instructor)
		if err != nil {
			return err
		}
		teachers := make([]string, len(people))
		for i, p := range people {
			teachers[i] = p.ID
		}
		for _, m := range progress.Outlook(v.AsOf, monthsAhead, ahead) {
			from, to := midnightOf(m.From, w.zone), midnightOf(m.To, w.zone)
			month := OutlookMonth{Month: m.Month, From: m.From, Checkrides: m.Checkrides, Needs: []OutlookNeed{}}
			all := OutlookNeed{Had: around.TeachingHours(teachers, from, to)}
			most := map[string]float64{}
			for _, g := range sheet.Groups {
				lessons, told := m.Lessons[g.Class]
				if !told {
					continue
				}
				need := OutlookNeed{Class: g.Class, Hours: lessons.Times(v.Hours), Had: around.AircraftHours(classes[g.Class], from, to)}
				for month, n := range flew[g.Class] {
					need.Most = max(need.Most, v.Hours*float64(n))
					most[month] += v.Hours * float64(n)
				}
				need.State, need.Words = progress.Enough(need.Hours, need.Had, need.Most)
				all.Hours = all.Hours.Plus(need.Hours)
				month.Needs = append(month.Needs, need)
			}
			for _, hours := range most {
				all.Most = max(all.Most, hours)
			}
			all.State, all.Words = progress.Enough(all.Hours, all.Had, all.Most)
			month.Needs = append(month.Needs, all)
			v.Months = append(v.Months, month)
		}
		v.Words = []string{
			fmt.Sprintf("Of %d students on their way it rests on how long those took who once stood where they stand; of %d nothing can be told yet, and what they need comes on top.", v.Told, v.Untold),
			fmt.Sprintf("A lesson is planned for %.3g h here. An aircraft is to be had for %.0f h a day, less what it is away; who has noted no hours counts with %.0f h a week.", v.Hours, schedule.HoursADay, schedule.HoursAWeek),
			"Each number stands with what it lies between in eight of ten cases.",
		}
		return nil
	})
}

// byClass are the aircraft of each class, and how many lessons were flown with them
// in each month of the last twelve.
func (s *Server) byClass(tx *store.Tx, w who, now time.Time) (aircraft map[string][]string, flew map[string]map[string]int, err error) {
	aircraft, flew = map[string][]string{}, map[string]map[string]int{}
	types, err := s.typesNow(tx, w)
	if err != nil {
		return nil, nil, err
	}
	fleet, err := tx.Aircraft(s.today(w))
	if err != nil {
		return nil, nil, err
	}
	for _, a := range fleet {
		class := types.named(a.Type).Class
		aircraft[class] = append(aircraft[class], a.Registration)
	}
	months, err := tx.FlewByMonth(now.AddDate(-1, 0, 0))
	for _, f := range months {
		class := types.named(f.Type).Class
		if flew[class] == nil {
			flew[class] = map[string]int{}
		}
		flew[class][f.Month] += f.N
	}
	return aircraft, flew, err
}

func midnightOf(day string, zone *time.Location) time.Time {
	at, err := time.ParseInLocation(time.DateOnly, day, zone)
	if err != nil {
		return time.Time{}
	}
	return at
}

func (s *Server) exportOutlook(ctx context.Context, w who, _ *struct{}) (*fileOutput, error) {
	v, err := s.outlook(ctx, w)
	if err != nil {
		return nil, err
	}
	number := func(f float64) string { return strconv.FormatFloat(f, 'f', 1, 64) }
	rows := [][]string{{"month", "of", "low", "mean", "high", "to be had", "most in one month so far", "words"}}
	for _, m := range v.Months {
		rows = append(rows, []string{m.Month, "checkrides", number(m.Checkrides.Low), number(m.Checkrides.Mean), number(m.Checkrides.High), "", "", ""})
		for _, n := range m.Needs {
			of := "hours of instructors"
			if n.Class != "" {
				of = "hours of aircraft, " + n.Class
			}
			rows = append(rows, slices.Concat([]string{m.Month, of}, []string{number(n.Hours.Low), number(n.Hours.Mean), number(n.Hours.High), number(n.Had), number(n.Most), n.Words}))
		}
	}
	return csvTable("outlook-"+v.AsOf, rows)
}
