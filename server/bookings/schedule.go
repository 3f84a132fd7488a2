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
	"jetprimer/exchange"
	"jetprimer/reports"
	"jetprimer/server/api"
	"jetprimer/store"
)

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

func (s Handlers) schedule(ctx context.Context, w api.Person,
	in *scheduleInput) (*struct{ Body reports.ScheduleView }, error) {
	midnight, err := s.span(w, in.From)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body reports.ScheduleView }{}
	return out, s.In(ctx, w, func(tx *store.Tx) error {
		reader, err := s.Reader(tx, w)
		if err == nil {
			out.Body, err = s.Reports.Schedule(tx, reader, midnight, in.Days)
		}
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

func (s Handlers) proposals(ctx context.Context, w api.Person,
	in *scheduleInput) (*struct{ Body reports.ProposalsView }, error) {
	midnight, err := s.span(w, in.From)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body reports.ProposalsView }{}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) {
		out.Body, err = s.Reports.Proposals(tx, midnight, in.Days)
		return err
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
			p := reports.PlannedOf(b)
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
