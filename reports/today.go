package reports

import (
	"fmt"
	"slices"
	"time"

	"jetprimer/core/access"
	"jetprimer/core/calc"
	"jetprimer/core/library"
	"jetprimer/core/schedule"
	"jetprimer/core/school"
	"jetprimer/core/weather"
	"jetprimer/store"
)

// Today is the day at the school.
type Today struct {
	Day      string         `json:"day"`
	Now      time.Time      `json:"now"`
	Cursor   int64          `json:"cursor" doc:"where the feed stands: ask it for what comes after"`
	Next     *NextLesson    `json:"next" doc:"what the person flies or teaches next"`
	Planned  []Planned      `json:"planned" doc:"what is planned today, and what became of it"`
	Tomorrow []Planned      `json:"tomorrow" doc:"what is planned on the next day that has anything, where today has no more"`
	Waits    []WaitingFor   `json:"waits" doc:"what waits for the person"`
	Running  []store.Lesson `json:"running"`
	Recent   []store.Lesson `json:"recent" doc:"signed in the last two weeks"`
	Aircraft []AircraftDay  `json:"aircraft"`
	Fields   []FieldView    `json:"fields" doc:"the fields of the school's aircraft"`
	// Shared are the students whose records are shared with an examiner.
	Shared []store.Student `json:"shared"`
	// Examines says that the person is an examiner.
	Examines bool   `json:"examines"`
	Notice   string `json:"notice" doc:"what everybody is told by who runs the program; empty for nothing"`
}

// NextLesson is a booking with what the student's plan says of it.
type NextLesson struct {
	Planned
	TypeName string `json:"typeName"`
	// Plan is the kind of lesson that would close the most of what is in the
	// student's way; empty where nothing is.
	Plan     string `json:"plan"`
	Closes   int    `json:"closes"`
	InTheWay int    `json:"inTheWay"`
}

// StationNote says what the reports of the practice station are.
const StationNote = "Made up to practise with. It is no weather: fly by the real report."

// FieldView is a field with its report, and what the report comes from.
type FieldView struct {
	calc.Field
	Note string `json:"note"`
}

// WaitingFor is something that waits for the person: a lesson to sign or to
// acknowledge, a version to approve, a finding to decide on.
type WaitingFor struct {
	Kind  string `json:"kind" enum:"sign,acknowledge,approve,decide,run"`
	Ref   string `json:"ref" doc:"the lesson's id, or the kind, id and version of a document"`
	Title string `json:"title"`
	On    string `json:"on" doc:"a day; empty for none"`
	What  string `json:"what"`
}

// Today is the day of a reader.
func (r *Reports) Today(tx *store.Tx, of Reader) (v Today, err error) {
	v = Today{
		Day: r.day(tx), Now: r.now(), Running: []store.Lesson{}, Recent: []store.Lesson{}, Tomorrow: []Planned{},
		Waits: []WaitingFor{}, Fields: []FieldView{}, Shared: []store.Student{},
	}
	if v.Cursor, err = tx.Cursor(); err != nil {
		return v, err
	}
	if v.Aircraft, err = aircraftOn(tx, v.Day); err != nil {
		return v, err
	}
	if of.Roles.Has(access.Examiner) {
		students, err := tx.Students()
		if err != nil {
			return v, err
		}
		v.Examines = true
		v.Shared = slices.DeleteFunc(students, func(st store.Student) bool { return !of.Reads(st.ID) })
	}
	lessons, err := lately(tx, v.Now)
	if err != nil {
		return v, err
	}
	var ended []store.Lesson
	for _, l := range lessons {
		switch {
		case !of.Reads(l.StudentID):
		case l.Status == "open":
			v.Running = append(v.Running, l)
		case l.Status == "ended":
			ended = append(ended, l)
		default:
			v.Recent = append(v.Recent, l)
		}
	}
	if err := r.plan(tx, of, &v, lessons); err != nil {
		return v, err
	}
	if v.Waits, err = waits(tx, of, ended, v.Aircraft); err != nil {
		return v, err
	}
	bases, err := tx.Bases()
	if err != nil {
		return v, err
	}
	for _, a := range bases {
		if slices.ContainsFunc(v.Aircraft, func(d AircraftDay) bool { return d.Base == a.ID }) {
			v.Fields = append(v.Fields, FieldView{
				calc.FieldNow(weather.Simulated(a, v.Now), a, r.catalog.Icing, of.Units), StationNote,
			})
		}
	}
	return v, nil
}

// lately are the lessons that are not signed and those of the last two weeks, each once.
func lately(tx *store.Tx, now time.Time) ([]store.Lesson, error) {
	all, err := tx.Unsigned()
	if err != nil {
		return nil, err
	}
	recent, err := tx.Lessons("", now.Add(-14*24*time.Hour), time.Time{})
	for _, l := range recent {
		if !slices.ContainsFunc(all, func(o store.Lesson) bool { return o.ID == l.ID }) {
			all = append(all, l)
		}
	}
	return all, err
}

// plan is what is planned today, the next day that has anything where today has
// no more, and what the person flies next with what their student's plan says.
func (r *Reports) plan(tx *store.Tx, of Reader, v *Today, lessons []store.Lesson) error {
	midnight, err := time.ParseInLocation(time.DateOnly, v.Day, tx.Zone)
	if err != nil {
		return err
	}
	ahead, err := planned(tx, of.Reads, midnight, midnight.AddDate(0, 0, 8), lessons)
	if err != nil {
		return err
	}
	v.Planned = []Planned{}
	booked := make([]schedule.Booking, len(ahead))
	later := ""
	for i, p := range ahead {
		booked[i] = p.Booking
		day := tx.Day(p.StartsAt)
		switch {
		case day == v.Day:
			v.Planned = append(v.Planned, p)
		case later == "" || later == day:
			later, v.Tomorrow = day, append(v.Tomorrow, p)
		}
	}
	if slices.ContainsFunc(v.Planned, func(p Planned) bool { return p.EndsAt.After(v.Now) && p.Lesson == "" }) {
		v.Tomorrow = []Planned{}
	}
	next, any := schedule.NextOf(of.Account, booked, v.Now, func(b schedule.Booking) bool {
		return slices.ContainsFunc(ahead, func(p Planned) bool { return p.ID == b.ID && p.Lesson != "" })
	})
	if !any {
		return nil
	}
	i := slices.IndexFunc(ahead, func(p Planned) bool { return p.ID == next.ID })
	v.Next = &NextLesson{Planned: ahead[i]}
	for _, a := range v.Aircraft {
		if a.Registration == next.Registration {
			v.Next.TypeName = a.TypeName
		}
	}
	st, err := tx.Student(next.StudentID)
	if err != nil {
		return err
	}
	c, err := r.Case(tx, st, v.Day)
	if err != nil {
		return err
	}
	ready := c.Policy.Ready(c.Case)
	v.Next.InTheWay = len(ready.Missing) + len(ready.Blocks)
	if len(ready.Plan) > 0 {
		v.Next.Plan, v.Next.Closes = ready.Plan[0].Title, max(len(ready.Plan[0].Elements), 1)
	}
	return nil
}

// waits lists what waits for the person.
func waits(tx *store.Tx, of Reader, ended []store.Lesson, fleet []AircraftDay) ([]WaitingFor, error) {
	out := []WaitingFor{}
	for _, l := range ended {
		if l.InstructorID != of.Account {
			continue
		}
		what := fmt.Sprintf("%d of %d items", l.Marked, l.Total)
		for _, a := range fleet {
			for _, f := range a.Findings {
				if f.Lesson == l.ID && f.Condition == school.Undecided {
					what = "nobody has decided: " + f.Words
				}
			}
		}
		out = append(out, WaitingFor{"sign", l.ID, l.Student, tx.Day(l.OpenedAt), what})
	}
	if of.May("open-run") {
		runs, err := tx.UnsignedRuns(of.Account)
		if err != nil {
			return nil, err
		}
		for _, r := range runs {
			out = append(out, WaitingFor{
				"run", r.ID, r.Registration, tx.Day(r.OpenedAt),
				fmt.Sprintf("a maintenance run, %d of %d checks", r.Marked, r.Total),
			})
		}
	}
	if of.Roles.Has(access.Student) {
		lessons, err := tx.Unacknowledged(of.Account)
		if err != nil {
			return nil, err
		}
		for _, l := range lessons {
			out = append(out, WaitingFor{
				"acknowledge", l.ID, "Lesson with " + l.Instructor, tx.Day(l.OpenedAt), l.Registration,
			})
		}
	}
	if of.May("approve-version") {
		versions, err := tx.Versions("")
		if err != nil {
			return nil, err
		}
		for _, v := range versions {
			if v.Status == library.Reviewed {
				out = append(out, WaitingFor{
					"approve", fmt.Sprintf("%s/%s/%d", v.Kind, v.ID, v.Version),
					fmt.Sprintf("%s, version %d", v.Title, v.Version), "", "reviewed, and not yet in force",
				})
			}
		}
	}
	if of.Roles.Has(access.Maintenance) {
		for _, a := range fleet {
			for _, f := range a.Findings {
				if f.Condition.WaitsForMaintenance(f.Until != "") {
					out = append(out, WaitingFor{"decide", f.Lesson, a.Registration, f.On, f.Words})
				}
			}
		}
	}
	return out, nil
}
