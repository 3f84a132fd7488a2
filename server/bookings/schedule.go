package bookings

import (
	"context"
	"crypto/rand"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/access"
	"jetprimer/core/form"
	"jetprimer/core/schedule"
	"jetprimer/core/school"
	"jetprimer/exchange"
	"jetprimer/reports"
	"jetprimer/server/api"
	"jetprimer/server/fleet"
	"jetprimer/store"
)

// ScheduleLine is who or what has a line of the schedule.
type ScheduleLine struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Note string `json:"note" doc:"an aircraft's type, a student's instructor"`
	Base string `json:"base,omitempty"`
	// Grounded says why an aircraft stays on the ground now.
	Grounded string `json:"grounded,omitempty"`
}

// ScheduleView is what is planned on some days.
type ScheduleView struct {
	From        string                      `json:"from"`
	Days        []string                    `json:"days"`
	Today       string                      `json:"today"`
	Aircraft    []ScheduleLine              `json:"aircraft"`
	Instructors []ScheduleLine              `json:"instructors"`
	Students    []ScheduleLine              `json:"students"`
	Planned     []Planned                   `json:"planned"`
	Away        []schedule.Away             `json:"away"`
	Shifts      map[string][]schedule.Shift `json:"shifts" doc:"of those who have said when they work"`
	Standby     []store.Standby             `json:"standby"`
	Summary     schedule.Summary            `json:"summary"`
	// Against is what stands now against lessons that are planned and not over, by
	// the id of the booking; those who may plan are told.
	Against map[string][]schedule.Obstacle `json:"against"`
	// Waiting are students whose last lesson is two weeks ago or more and for whom
	// nothing is planned; those who may plan are told.
	Waiting []string `json:"waiting"`
}

// ProposalView is a lesson that nobody has planned yet, with what it rests on.
type ProposalView struct {
	schedule.Proposal
	Why string `json:"why"`
}

// ProposalsView are the proposed lessons of some days.
type ProposalsView struct {
	Proposals []ProposalView `json:"proposals"`
	// Left are students with a plan for whom nothing was found.
	Left []string `json:"left"`
}

type scheduleInput struct {
	From string `query:"from" format:"date" doc:"the first day; today when left out"`
	Days int    `query:"days" minimum:"1" maximum:"7" default:"7"`
}

func (s Handlers) scheduleRoutes() {
	api.Handle(s.API, api.Route{
		ID: "schedule", For: access.Everyone, Method: http.MethodGet, Path: "/schedule",
		Summary: "What is planned on some days",
	}, s.schedule)
	api.Handle(s.API, api.Route{
		ID: "export-schedule", For: access.Everyone, Method: http.MethodGet, Path: "/schedule.csv",
		Summary: "What is planned on some days as a table",
	}, s.exportSchedule)
	api.Handle(s.API, api.Route{
		ID: "proposals", For: access.Teaching, Method: http.MethodGet, Path: "/proposals",
		Summary: "The next lessons of students' plans that fit people and aircraft",
	}, s.proposals)
	api.Handle(s.API, api.Route{
		ID: "note-away", For: access.Everyone, Method: http.MethodPost, Path: "/away",
		Summary: "Note leave, or that an aircraft is not to be had", MaxBodyBytes: 4 << 10, Status: http.StatusCreated,
	}, s.noteAway)
	api.Handle(s.API, api.Route{
		ID: "end-away", For: access.Everyone, Method: http.MethodPost, Path: "/away/{id}/end",
		Summary: "Say that it does not hold any more", Status: http.StatusNoContent,
	}, s.endAway)
	api.Handle(s.API, api.Route{
		ID: "set-shifts", For: access.Roles{access.Instructor, access.Chief, access.Admin}, Method: http.MethodPut,
		Path: "/shifts/{id}", Summary: "Keep when somebody works", MaxBodyBytes: 8 << 10, Status: http.StatusNoContent,
	}, s.setShifts)
	api.Handle(s.API, api.Route{
		ID: "set-standby", For: access.Practising, Method: http.MethodPut, Path: "/standby/{id}",
		Summary: "Note that a student would come at short notice", MaxBodyBytes: 4 << 10, Status: http.StatusNoContent,
	}, s.setStandby)
	api.Handle(s.API, api.Route{
		ID: "drop-standby", For: access.Practising, Method: http.MethodDelete, Path: "/standby/{id}",
		Summary: "Take a student off the stand-by list", Status: http.StatusNoContent,
	}, s.dropStandby)
	api.Handle(s.API, api.Route{
		ID: "renew-calendar", For: access.Everyone, Method: http.MethodPost, Path: "/calendar",
		Summary: "A new secret address for one's calendar; the one before ends",
	}, s.renewCalendar)
	api.Handle(s.API, api.Route{
		ID: "calendar", For: access.Anyone, Method: http.MethodGet, Path: "/calendar/{school}/{secret}",
		Summary: "A person's planned lessons as iCalendar",
	}, s.calendar)
}

// span is the midnight of the first day of some days, in the school's zone.
func (s Handlers) span(w api.Person, from string) (time.Time, error) {
	if from == "" {
		from = s.Today(w)
	}
	midnight, err := time.ParseInLocation(time.DateOnly, from, w.Zone)
	if err != nil || midnight.Year() < 2000 || midnight.Year() > 2200 {
		return midnight, form.Bad("from", "is no day, such as 2026-11-24")
	}
	return midnight, nil
}

func (s Handlers) schedule(ctx context.Context, w api.Person, in *scheduleInput) (*struct{ Body ScheduleView }, error) {
	midnight, err := s.span(w, in.From)
	if err != nil {
		return nil, err
	}
	end := midnight.AddDate(0, 0, in.Days)
	out := &struct{ Body ScheduleView }{
		ScheduleView{
			From: school.Day(midnight, w.Zone), Today: s.Today(w), Aircraft: []ScheduleLine{},
			Instructors: []ScheduleLine{}, Students: []ScheduleLine{}, Waiting: []string{},
			Against: map[string][]schedule.Obstacle{},
		},
	}
	v := &out.Body
	for d := range in.Days {
		v.Days = append(v.Days, school.Day(midnight.AddDate(0, 0, d), w.Zone))
	}
	return out, s.In(ctx, w, func(tx *store.Tx) error {
		may, err := s.Readable(tx, w)
		if err != nil {
			return err
		}
		lessons, err := tx.Lessons("", midnight, end)
		if err != nil {
			return err
		}
		unsigned, err := tx.Unsigned()
		if err != nil {
			return err
		}
		if v.Planned, err = s.Planned(tx, may, midnight, end, append(unsigned, lessons...)); err != nil {
			return err
		}
		around, err := tx.Around(midnight, end, s.Now())
		if err != nil {
			return err
		}
		v.Away, v.Shifts = around.Away, around.Shifts
		for i, a := range v.Away {
			if a.PersonID != "" && !a.MayNote(w.Roles, w.Account) && !w.Roles.Teach() {
				v.Away[i].Why = "away"
			}
		}
		if err := s.lines(tx, v, around, may); err != nil {
			return err
		}
		registrations := make([]string, len(v.Aircraft))
		for i, a := range v.Aircraft {
			registrations[i] = a.ID
		}
		v.Summary = around.Summary(midnight, s.Now(), in.Days, registrations)
		if v.Standby, err = tx.Standby(v.From); err != nil {
			return err
		}
		v.Standby = slices.DeleteFunc(v.Standby, func(one store.Standby) bool { return !may(one.StudentID) })
		if !s.May(w.Roles, "book") {
			return nil
		}
		for _, p := range v.Planned {
			if p.Lesson != "" || p.EndsAt.Before(s.Now()) {
				continue
			}
			if against := around.Obstacles(p.Booking); len(against) > 0 {
				v.Against[p.ID] = against
			}
		}
		students := make([]reports.Named, len(v.Students))
		for i, st := range v.Students {
			students[i] = reports.Named{ID: st.ID, Name: st.Name}
		}
		v.Waiting, err = s.Reports.Waiting(tx, students)
		return err
	})
}

func (s Handlers) exportSchedule(ctx context.Context, w api.Person, in *scheduleInput) (*api.File, error) {
	found, err := s.schedule(ctx, w, in)
	if err != nil {
		return nil, err
	}
	rows := [][]string{{"day", "from", "to", "student", "instructor", "aircraft", "plan", "exercises", "became"}}
	for _, p := range found.Body.Planned {
		from, to := p.StartsAt.In(w.Zone), p.EndsAt.In(w.Zone)
		rows = append(rows, []string{
			from.Format(time.DateOnly), from.Format("15:04"), to.Format("15:04"), p.Student, p.Instructor,
			p.Registration, p.Plan, strings.Join(p.For, ", "), p.Status,
		})
	}
	return api.CSVTable("schedule-"+found.Body.From, rows)
}

// lines are who and what has a line: students only as far as the person may know.
func (s Handlers) lines(tx *store.Tx, v *ScheduleView, around schedule.Calendar, may func(string) bool) error {
	fleet, err := fleet.New(s.API).AircraftDay(tx, v.From)
	if err != nil {
		return err
	}
	for _, a := range fleet {
		v.Aircraft = append(v.Aircraft, ScheduleLine{
			ID: a.Registration, Name: a.Registration, Note: a.TypeName, Base: a.Base,
			Grounded: around.Grounded[a.Registration],
		})
	}
	teach, learn, err := reports.Present(tx)
	if err != nil {
		return err
	}
	for _, t := range teach {
		v.Instructors = append(v.Instructors, ScheduleLine{ID: t.ID, Name: t.Name})
	}
	for _, st := range learn {
		if may(st.ID) {
			v.Students = append(v.Students, ScheduleLine{ID: st.ID, Name: st.Name, Note: st.Instructor})
		}
	}
	return nil
}

func (s Handlers) proposals(ctx context.Context, w api.Person, in *scheduleInput) (*struct{ Body ProposalsView }, error) {
	midnight, err := s.span(w, in.From)
	if err != nil {
		return nil, err
	}
	now := s.Now()
	from := midnight
	if from.Before(now) {
		from = now
	}
	out := &struct{ Body ProposalsView }{ProposalsView{[]ProposalView{}, []string{}}}
	return out, s.In(ctx, w, func(tx *store.Tx) error {
		around, err := tx.Around(midnight, midnight.AddDate(0, 0, in.Days+1), now)
		if err != nil {
			return err
		}
		wishes, err := s.Reports.Requests(tx, midnight, midnight.AddDate(0, 0, in.Days))
		if err != nil {
			return err
		}
		for _, p := range around.Propose(from, in.Days, wishes) {
			out.Body.Proposals = append(out.Body.Proposals, ProposalView{p, p.Why()})
		}
		for _, one := range wishes {
			if !slices.ContainsFunc(out.Body.Proposals,
				func(p ProposalView) bool { return p.StudentID == one.StudentID }) {
				out.Body.Left = append(out.Body.Left, one.Student)
			}
		}
		return nil
	})
}

func (s Handlers) noteAway(ctx context.Context, w api.Person, in *struct {
	Body struct {
		Person       string `json:"person,omitempty" format:"uuid" doc:"you when neither a person nor an aircraft is named"`
		Registration string `json:"registration,omitempty" maxLength:"16"`
		FromOn       string `json:"fromOn" format:"date"`
		FromAt       string `json:"fromAt,omitempty" pattern:"^([01][0-9]|2[0-3]):[0-5][0-9]$" doc:"the beginning of the day when left out"`
		ToOn         string `json:"toOn" format:"date"`
		ToAt         string `json:"toAt,omitempty" pattern:"^([01][0-9]|2[0-3]):[0-5][0-9]$" doc:"the end of the day when left out"`
		Why          string `json:"why" minLength:"1" maxLength:"200"`
	}
}) (*struct {
	Body struct {
		ID string `json:"id"`
	}
}, error) {
	b := in.Body
	a := schedule.Away{PersonID: b.Person, Registration: b.Registration, Why: b.Why}
	if a.PersonID == "" && a.Registration == "" {
		a.PersonID = w.Account
	}
	from, err := s.span(w, b.FromOn)
	if err != nil {
		return nil, err
	}
	to, err := s.span(w, b.ToOn)
	if err != nil {
		return nil, form.Bad("toOn", "is no day, such as 2026-11-24")
	}
	to = to.AddDate(0, 0, 1)
	if b.FromAt != "" {
		if from, err = moment(w, b.FromOn, b.FromAt); err != nil {
			return nil, err
		}
	}
	if b.ToAt != "" {
		if to, err = moment(w, b.ToOn, b.ToAt); err != nil {
			return nil, err
		}
	}
	a.StartsAt, a.EndsAt = from.UTC(), to.UTC()
	if !a.MayNote(w.Roles, w.Account) {
		return nil, huma.Error403Forbidden("Everybody notes their own leave; the chief instructor and the " +
			"administrator that of others, with maintenance what is not to be had of the aircraft.")
	}
	out := &struct {
		Body struct {
			ID string `json:"id"`
		}
	}{}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) {
		out.Body.ID, err = tx.NoteAway(a, w.Account, s.Now())
		return err
	})
}

func (s Handlers) endAway(ctx context.Context, w api.Person, in *api.ID) (*struct{}, error) {
	return nil, s.In(ctx, w, func(tx *store.Tx) error {
		a, err := tx.OneAway(in.ID)
		if err != nil {
			return err
		}
		if !a.MayNote(w.Roles, w.Account) {
			return huma.Error403Forbidden("Only who may note it may end it.")
		}
		return tx.EndAway(in.ID, w.Account, s.Now())
	})
}

func (s Handlers) setShifts(ctx context.Context, w api.Person, in *struct {
	ID   string `path:"id" format:"uuid"`
	Body struct {
		Shifts []schedule.Shift `json:"shifts" maxItems:"14"`
	}
}) (*struct{}, error) {
	if !(schedule.Away{PersonID: in.ID}).MayNote(w.Roles, w.Account) {
		return nil, huma.Error403Forbidden("Everybody says when they work themselves; the chief instructor and the " +
			"administrator say it of others.")
	}
	return nil, s.In(ctx, w, func(tx *store.Tx) error { return tx.SetShifts(in.ID, in.Body.Shifts) })
}

func (s Handlers) setStandby(ctx context.Context, w api.Person, in *struct {
	ID   string `path:"id" format:"uuid"`
	Body struct {
		FromOn string `json:"fromOn" format:"date"`
		ToOn   string `json:"toOn" format:"date"`
		Words  string `json:"words,omitempty" maxLength:"200"`
	}
}) (*struct{}, error) {
	for _, day := range [][2]string{{"fromOn", in.Body.FromOn}, {"toOn", in.Body.ToOn}} {
		if _, err := s.span(w, day[1]); err != nil {
			return nil, form.Bad(day[0], "is no day, such as 2026-11-24")
		}
	}
	return nil, s.In(ctx, w, func(tx *store.Tx) error {
		if err := s.MayRead(tx, w, in.ID); err != nil {
			return err
		}
		return tx.SetStandby(store.Standby{
			StudentID: in.ID, FromOn: store.Date(in.Body.FromOn), ToOn: store.Date(in.Body.ToOn),
			Words: strings.TrimSpace(in.Body.Words),
		}, w.Account, s.Now())
	})
}

func (s Handlers) dropStandby(ctx context.Context, w api.Person, in *api.ID) (*struct{}, error) {
	return nil, s.In(ctx, w, func(tx *store.Tx) error {
		if err := s.MayRead(tx, w, in.ID); err != nil {
			return err
		}
		return tx.DropStandby(in.ID)
	})
}

func (s Handlers) renewCalendar(ctx context.Context, w api.Person, _ *struct{}) (*struct {
	Body struct {
		Path string `json:"path" doc:"the address below that of the school; it is not shown again"`
	}
}, error) {
	secret := rand.Text()
	out := &struct {
		Body struct {
			Path string `json:"path" doc:"the address below that of the school; it is not shown again"`
		}
	}{}
	out.Body.Path = fmt.Sprintf("/api/v1/calendar/%s/%s.ics", w.School, secret)
	err := s.In(ctx, w, func(tx *store.Tx) error { return tx.RenewCalendar(w.Account, secret, s.Now()) })
	if err == nil {
		s.Audit(ctx, w, "calendar address renewed", w.Account)
	}
	return out, err
}

// The span of a calendar, before today and after.
const (
	calendarBefore = 30 * 24 * time.Hour
	calendarAfter  = 180 * 24 * time.Hour
)

func (s Handlers) calendar(ctx context.Context, _ api.Person, in *struct {
	School string `path:"school" format:"uuid"`
	Secret string `path:"secret" maxLength:"64"`
}) (*api.File, error) {
	out := &api.File{ContentType: "text/calendar; charset=utf-8", Disposition: `inline; filename="lessons.ics"`}
	now := s.Now()
	return out, s.Store.In(ctx, in.School, func(_ context.Context, tx *store.Tx) error {
		person, err := tx.CalendarOf(strings.TrimSuffix(in.Secret, ".ics"))
		if err != nil {
			return err
		}
		name, err := tx.SchoolName()
		if err != nil {
			return err
		}
		bookings, err := tx.BookingsOf(person.ID, now.Add(-calendarBefore), now.Add(calendarAfter))
		if err != nil {
			return err
		}
		fleet, err := tx.Fleet(tx.Day(now))
		if err != nil {
			return err
		}
		bases := map[string]string{}
		for _, a := range fleet {
			bases[a.Registration] = a.Base
		}
		events := []exchange.Appointment{}
		for _, b := range bookings {
			p := plannedOf(b)
			with := b.Instructor
			if b.InstructorID == person.ID {
				with = b.Student
			}
			events = append(events,
				exchange.Appointment{ID: b.ID + "@jetprimer", Start: b.StartsAt, End: b.EndsAt,
					Title: with + ", " + b.Registration, Place: bases[b.Registration],
					Details: strings.Join(append(slices.DeleteFunc([]string{b.Plan},
						func(words string) bool { return words == "" }), p.For...), "\n")})
		}
		out.Body = exchange.WriteCalendar(name+", "+person.Name, events, now)
		return nil
	})
}
