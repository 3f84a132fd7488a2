package reports

import (
	"fmt"
	"time"

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

// Outlook is what the next months ask of the school.
func (r *Reports) Outlook(tx *store.Tx) (OutlookView, error) {
	v := OutlookView{AsOf: r.day(tx), Months: []OutlookMonth{}}
	sheet, err := r.School(tx)
	if err != nil {
		return v, err
	}
	courses, err := tx.Courses(true)
	if err != nil {
		return v, err
	}
	ahead := v.ahead(sheet, courses)
	if v.Hours, err = tx.PlannedHours(r.now().AddDate(-1, 0, 0)); err != nil {
		return v, err
	}
	had, err := r.capacity(tx)
	if err != nil {
		return v, err
	}
	for _, m := range progress.Outlook(v.AsOf, monthsAhead, ahead) {
		v.Months = append(v.Months, had.month(m, sheet.Groups, v.Hours))
	}
	v.Words = []string{
		fmt.Sprintf("Of %d students on their way it rests on how long those took who once stood where they stand; "+
			"of %d nothing can be told yet, and what they need comes on top.", v.Told, v.Untold),
		fmt.Sprintf("A lesson is planned for %.3g h here. An aircraft is to be had for %.0f h a day, less what it "+
			"is away; "+
			"who has noted no hours counts with %.0f h a week.", v.Hours, schedule.HoursADay, schedule.HoursAWeek),
		"Each number stands with what it lies between in eight of ten cases.",
	}
	return v, nil
}

// ahead are the ways that lie before the students who are not ready; it counts of how
// many something can be told.
func (v *OutlookView) ahead(sheet SchoolView, courses []store.StudentCourse) (all []progress.Ahead) {
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
			all = append(all, a)
		}
	}
	return all
}

// capacity is what the school has to fly with and to teach by.
type capacity struct {
	calendar schedule.Calendar
	teachers []string
	aircraft map[string][]string       // registrations by class
	flown    map[string]map[string]int // lessons by class and month, of the last twelve
}

func (r *Reports) capacity(tx *store.Tx) (c capacity, err error) {
	now := r.now()
	if c.calendar, err = tx.Around(now, now.AddDate(0, monthsAhead+1, 0), now); err != nil {
		return c, err
	}
	people, err := tx.People(access.Instructor)
	if err != nil {
		return c, err
	}
	for _, p := range people {
		c.teachers = append(c.teachers, p.ID)
	}
	types, err := r.Types(tx)
	if err != nil {
		return c, err
	}
	fleet, err := tx.Aircraft(r.day(tx))
	if err != nil {
		return c, err
	}
	c.aircraft, c.flown = map[string][]string{}, map[string]map[string]int{}
	for _, a := range fleet {
		class := types.Named(a.Type).Class
		c.aircraft[class] = append(c.aircraft[class], a.Registration)
	}
	months, err := tx.FlewByMonth(now.AddDate(-1, 0, 0))
	for _, f := range months {
		class := types.Named(f.Type).Class
		if c.flown[class] == nil {
			c.flown[class] = map[string]int{}
		}
		c.flown[class][f.Month] += f.N
	}
	return c, err
}

// month is what one month asks for, a lesson being planned for so many hours.
func (c capacity) month(m progress.Month, groups []SchoolGroup, hours float64) OutlookMonth {
	from, to := midnightOf(m.From, c.calendar.Zone), midnightOf(m.To, c.calendar.Zone)
	out := OutlookMonth{Month: m.Month, From: m.From, Checkrides: m.Checkrides, Needs: []OutlookNeed{}}
	all := OutlookNeed{Had: c.calendar.TeachingHours(c.teachers, from, to)}
	most := map[string]float64{}
	for _, g := range groups {
		lessons, told := m.Lessons[g.Class]
		if !told {
			continue
		}
		need := OutlookNeed{
			Class: g.Class, Hours: lessons.Times(hours), Had: c.calendar.AircraftHours(c.aircraft[g.Class], from, to),
		}
		for month, n := range c.flown[g.Class] {
			need.Most = max(need.Most, hours*float64(n))
			most[month] += hours * float64(n)
		}
		need.State, need.Words = progress.Enough(need.Hours, need.Had, need.Most)
		all.Hours = all.Hours.Plus(need.Hours)
		out.Needs = append(out.Needs, need)
	}
	for _, hours := range most {
		all.Most = max(all.Most, hours)
	}
	all.State, all.Words = progress.Enough(all.Hours, all.Had, all.Most)
	out.Needs = append(out.Needs, all)
	return out
}

func midnightOf(day string, zone *time.Location) time.Time {
	at, err := time.ParseInLocation(time.DateOnly, day, zone)
	if err != nil {
		return time.Time{}
	}
	return at
}
