package server

import (
	"context"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/school"
	"jetprimer/store"
)

// Planned is a booking as the day shows it: what it is for, and the lesson that
// it became.
type Planned struct {
	school.Booking
	// For are the exercises in words; Lesson and Status are those of the lesson
	// that it became.
	For    []string `json:"for"`
	Lesson string   `json:"lesson"`
	Status string   `json:"status" enum:",open,ended,signed"`
}

type bookInput struct {
	Body struct {
		Student      string   `json:"student" format:"uuid"`
		Instructor   string   `json:"instructor,omitempty" format:"uuid" doc:"you when left out"`
		Registration string   `json:"registration" minLength:"1" maxLength:"16"`
		On           string   `json:"on" format:"date" doc:"the school's day"`
		At           string   `json:"at" pattern:"^([01][0-9]|2[0-3]):[0-5][0-9]$" doc:"the school's time of day, such as 13:30"`
		Minutes      int      `json:"minutes" minimum:"15" maximum:"480"`
		Exercises    []string `json:"exercises,omitempty" maxItems:"16"`
	}
}

func (s *Server) bookingRoutes() {
	route(s, huma.Operation{OperationID: "book", Method: http.MethodPost, Path: "/bookings", Summary: "Plan a lesson", MaxBodyBytes: 8 << 10, DefaultStatus: http.StatusCreated}, s.book)
	route(s, huma.Operation{OperationID: "cancel-booking", Method: http.MethodPost, Path: "/bookings/{id}/cancel", Summary: "Take a lesson off the plan",
		DefaultStatus: http.StatusNoContent}, s.cancelBooking)
}

func (s *Server) book(ctx context.Context, w who, in *bookInput) (*struct {
	Body struct {
		ID string `json:"id"`
	}
}, error) {
	at, err := time.ParseInLocation(time.DateOnly+" 15:04", in.Body.On+" "+in.Body.At, w.zone)
	if err != nil {
		return nil, form.Bad("at", "is no time of a day, such as 13:30 on 2026-11-24")
	}
	b := school.Booking{StudentID: in.Body.Student, InstructorID: in.Body.Instructor, Registration: in.Body.Registration,
		StartsAt: at.UTC(), EndsAt: at.UTC().Add(time.Duration(in.Body.Minutes) * time.Minute), Exercises: in.Body.Exercises}
	if b.InstructorID == "" {
		b.InstructorID = w.account
	}
	for _, id := range b.Exercises {
		if !slices.Contains(checklist.ExerciseIDs(), id) {
			return nil, form.Bad("exercises", "%q is no exercise", form.Clip(id))
		}
	}
	out := &struct {
		Body struct {
			ID string `json:"id"`
		}
	}{}
	err = s.in(ctx, w, func(tx *store.Tx) (err error) {
		out.Body.ID, err = tx.Book(b, w.account, s.now())
		return err
	})
	return out, err
}

func (s *Server) cancelBooking(ctx context.Context, w who, in *struct {
	ID   string `path:"id" format:"uuid"`
	Body struct {
		Why string `json:"why" minLength:"1" maxLength:"400"`
	}
}) (*struct{}, error) {
	return nil, s.in(ctx, w, func(tx *store.Tx) error { return tx.CancelBooking(in.ID, in.Body.Why, w.account, s.now()) })
}

// planned are the bookings between two moments, each with the lesson that it
// became. Of students whose records the person may not read it is said that
// something is booked, and no more.
func (s *Server) planned(tx *store.Tx, may func(student string) bool, from, to time.Time, lessons []store.Lesson) ([]Planned, error) {
	bookings, err := tx.Bookings(from, to)
	if err != nil {
		return nil, err
	}
	out := []Planned{}
	for _, b := range bookings {
		if !may(b.StudentID) {
			out = append(out, Planned{Booking: school.Booking{ID: b.ID, Student: "booked", Registration: b.Registration, StartsAt: b.StartsAt, EndsAt: b.EndsAt, Exercises: []string{}}, For: []string{}})
			continue
		}
		p := Planned{Booking: b, For: checklist.ExerciseWords(b.Exercises)}
		i := slices.IndexFunc(lessons, func(l store.Lesson) bool { return b.Became(l.StudentID, l.Registration, l.OpenedAt) })
		if i >= 0 {
			p.Lesson, p.Status = lessons[i].ID, lessons[i].Status
		}
		out = append(out, p)
	}
	return out, nil
}
