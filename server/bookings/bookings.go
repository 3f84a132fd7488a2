package bookings

import (
	"cmp"
	"context"
	"net/http"
	"slices"
	"strings"
	"time"

	"jetprimer/core/access"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/schedule"
	"jetprimer/reports"
	"jetprimer/server/api"
	"jetprimer/store"
)

// BookingInput is a lesson as it is planned.
type BookingInput struct {
	Student      string   `json:"student" format:"uuid"`
	Instructor   string   `json:"instructor,omitempty" format:"uuid" doc:"you when left out"`
	Registration string   `json:"registration" minLength:"1" maxLength:"16"`
	On           string   `json:"on" format:"date" doc:"the school's day"`
	At           string   `json:"at" pattern:"^([01][0-9]|2[0-3]):[0-5][0-9]$" doc:"the school's time of day, such as 13:30"`
	Minutes      int      `json:"minutes" minimum:"15" maximum:"480"`
	Exercises    []string `json:"exercises,omitempty" maxItems:"16"`
	Plan         string   `json:"plan,omitempty" maxLength:"480" doc:"the kind of lesson by the student's plan"`
	Weeks        int      `json:"weeks,omitempty" minimum:"1" maximum:"26" doc:"how many weeks in a row, at the same time of the same day; one when left out"`
}

// Booked is what was planned, and what is warned of.
type Booked struct {
	ID     string              `json:"id" doc:"the first booking's"`
	IDs    []string            `json:"ids"`
	Warned []schedule.Obstacle `json:"warned"`
}

// Cancelled says who could take what became free.
type Cancelled struct {
	Standby []schedule.Named `json:"standby"`
}

// MoveInput is where a booking is put.
type MoveInput struct {
	Instructor   string `json:"instructor" format:"uuid"`
	Registration string `json:"registration" minLength:"1" maxLength:"16"`
	On           string `json:"on" format:"date" doc:"the school's day"`
	At           string `json:"at" pattern:"^([01][0-9]|2[0-3]):[0-5][0-9]$" doc:"the school's time of day"`
	Minutes      int    `json:"minutes" minimum:"15" maximum:"480"`
}

func (s Handlers) bookingRoutes() {
	api.Handle(s.API, api.Route{
		ID: "book", For: access.Teaching, Method: http.MethodPost, Path: "/bookings",
		Summary: "Plan a lesson, or one each week", MaxBodyBytes: 8 << 10, Status: http.StatusCreated,
	}, s.book)
	api.Handle(s.API, api.Route{
		ID: "try-booking", For: access.Teaching, Method: http.MethodPost, Path: "/bookings/try",
		Summary: "What stands against a lesson that would be planned, and how it would go", MaxBodyBytes: 8 << 10,
	}, s.tryBooking)
	api.Handle(s.API, api.Route{
		ID: "move-booking", For: access.Teaching, Method: http.MethodPost, Path: "/bookings/{id}/move",
		Summary: "Put a planned lesson to another time, instructor or aircraft", MaxBodyBytes: 4 << 10,
	}, s.moveBooking)
	api.Handle(s.API, api.Route{
		ID: "try-move", For: access.Teaching, Method: http.MethodPost, Path: "/bookings/{id}/try",
		Summary: "What stands against moving a planned lesson, and how it would go", MaxBodyBytes: 4 << 10,
	}, s.tryMove)
	api.Handle(s.API, api.Route{
		ID: "cancel-booking", For: access.Teaching, Method: http.MethodPost, Path: "/bookings/{id}/cancel",
		Summary: "Take a lesson off the plan",
	}, s.cancelBooking)
}

// moment is a time of a day of the school.
func moment(w api.Person, on, at string) (time.Time, error) {
	t, err := time.ParseInLocation(time.DateOnly+" 15:04", on+" "+at, w.Zone)
	if err != nil {
		return t, form.Bad("at", "is no time of a day, such as 13:30 on 2026-11-24")
	}
	return t, nil
}

// bookings are those that are asked for, one a week.
func (in BookingInput) bookings(w api.Person) ([]schedule.Booking, error) {
	at, err := moment(w, in.On, in.At)
	if err != nil {
		return nil, err
	}
	for _, id := range in.Exercises {
		if !slices.Contains(checklist.ExerciseIDs(), id) {
			return nil, form.Bad("exercises", "%q is no exercise", form.Clip(id))
		}
	}
	b := schedule.Booking{
		StudentID: in.Student, InstructorID: cmp.Or(in.Instructor, w.Account), Registration: in.Registration,
		Exercises: in.Exercises, Plan: strings.TrimSpace(in.Plan),
	}
	if in.Weeks > 1 {
		b.Series = api.NewID()
	}
	out := []schedule.Booking{}
	for week := range max(1, min(in.Weeks, schedule.WeeksMost)) {
		b.StartsAt = at.AddDate(0, 0, 7*week).UTC()
		b.EndsAt = b.StartsAt.Add(time.Duration(in.Minutes) * time.Minute)
		out = append(out, b)
	}
	return out, nil
}

func (s Handlers) book(ctx context.Context, w api.Person,
	in *struct{ Body BookingInput }) (*struct{ Body Booked }, error) {
	all, err := in.Body.bookings(w)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body Booked }{}
	err = s.In(ctx, w, func(tx *store.Tx) (err error) {
		out.Body.IDs, out.Body.Warned, err = tx.Book(all, w.Account, s.Now())
		return err
	})
	if err == nil {
		out.Body.ID = out.Body.IDs[0]
	}
	return out, err
}

func (s Handlers) tryBooking(ctx context.Context, w api.Person,
	in *struct{ Body BookingInput }) (*struct{ Body reports.Against }, error) {
	all, err := in.Body.bookings(w)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body reports.Against }{}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) {
		out.Body, err = s.Reports.Against(tx, all)
		return err
	})
}

// moved is a booking as it would stand when it is put somewhere else.
func moved(tx *store.Tx, w api.Person, id string, to MoveInput) (schedule.Booking, error) {
	b, err := tx.Booking(id)
	if err != nil {
		return b, err
	}
	at, err := moment(w, to.On, to.At)
	b.InstructorID, b.Registration = to.Instructor, to.Registration
	b.StartsAt, b.EndsAt = at.UTC(), at.UTC().Add(time.Duration(to.Minutes)*time.Minute)
	return b, err
}

func (s Handlers) moveBooking(ctx context.Context, w api.Person, in *struct {
	ID   string `path:"id" format:"uuid"`
	Body MoveInput
}) (*struct{ Body Booked }, error) {
	out := &struct{ Body Booked }{Booked{ID: in.ID, IDs: []string{in.ID}}}
	return out, s.In(ctx, w, func(tx *store.Tx) error {
		b, err := moved(tx, w, in.ID, in.Body)
		if err != nil {
			return err
		}
		out.Body.Warned, err = tx.Move(b, w.Account, s.Now())
		return err
	})
}

func (s Handlers) tryMove(ctx context.Context, w api.Person, in *struct {
	ID   string `path:"id" format:"uuid"`
	Body MoveInput
}) (*struct{ Body reports.Against }, error) {
	out := &struct{ Body reports.Against }{}
	return out, s.In(ctx, w, func(tx *store.Tx) error {
		b, err := moved(tx, w, in.ID, in.Body)
		if err != nil {
			return err
		}
		out.Body, err = s.Reports.Against(tx, []schedule.Booking{b})
		return err
	})
}

func (s Handlers) cancelBooking(ctx context.Context, w api.Person, in *struct {
	ID   string `path:"id" format:"uuid"`
	Body struct {
		Why    string `json:"why" minLength:"1" maxLength:"400"`
		Series bool   `json:"series,omitempty" doc:"also those of its weeks that come after it"`
	}
}) (*struct{ Body Cancelled }, error) {
	out := &struct{ Body Cancelled }{Cancelled{[]schedule.Named{}}}
	return out, s.In(ctx, w, func(tx *store.Tx) error {
		b, err := tx.Booking(in.ID)
		if err != nil {
			return err
		}
		if err := tx.CancelBooking(in.ID, in.Body.Why, in.Body.Series, w.Account, s.Now()); err != nil {
			return err
		}
		out.Body.Standby, err = s.Reports.Standby(tx, b)
		return err
	})
}
