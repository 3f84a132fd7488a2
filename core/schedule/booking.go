// Package schedule holds the rules of a school's schedule: bookings, leave and shifts, what
// stands against a lesson at a time, and proposals of lessons. A moment is a [time.Time];
// days are those of the school's time zone. It reads no clock.
package schedule

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"jetprimer/core/form"
)

// Booking is a lesson that is planned: who, with whom, on what, from when to
// when, and the ids of the exercises.
type Booking struct {
	ID           string    `json:"id"`
	StudentID    string    `json:"studentId"`
	Student      string    `json:"student"`
	InstructorID string    `json:"instructorId"`
	Instructor   string    `json:"instructor"`
	Registration string    `json:"registration"`
	StartsAt     time.Time `json:"startsAt"`
	EndsAt       time.Time `json:"endsAt"`
	Exercises    []string  `json:"exercises" gorm:"serializer:json"`
	// Plan is the kind of lesson by the student's plan; empty for none.
	Plan string `json:"plan"`
	// Series is the id of the weeks that it was booked with; empty for none.
	Series string `json:"series"`
}

// The bounds of a booking: how long it is, and how far ahead.
const (
	ShortestBooking = 15 * time.Minute
	LongestBooking  = 8 * time.Hour
	FarthestBooking = 366 * 24 * time.Hour
)

// The bounds of what is booked at once, and of the words of a plan.
const (
	WeeksMost = 26
	planMost  = 120 // letters
)

// Check reports what is wrong with a booking made at a moment.
func (b Booking) Check(now time.Time) error {
	long := b.EndsAt.Sub(b.StartsAt)
	switch {
	case long < ShortestBooking || long > LongestBooking:
		return form.Bad("minutes", "must be %.0f to %.0f", ShortestBooking.Minutes(), LongestBooking.Minutes())
	case b.EndsAt.Before(now):
		return form.Bad("startsAt", "is over already")
	case b.StartsAt.After(now.Add(FarthestBooking)):
		return form.Bad("startsAt", "is more than a year ahead")
	case len(b.Exercises) > 16:
		return form.Bad("exercises", "are at most 16")
	case len([]rune(b.Plan)) > planMost:
		return form.Bad("plan", "must have at most %d letters", planMost)
	}
	return nil
}

// during reports whether any of a booking is between two moments.
func (b Booking) during(from, to time.Time) bool {
	return b.StartsAt.Before(to) && from.Before(b.EndsAt)
}

// Clash says in words which of the others a booking overlaps, in person or
// aircraft; empty where it overlaps none. Times are told in a zone.
func (b Booking) Clash(others []Booking, zone *time.Location) string {
	for _, o := range others {
		if o.ID == b.ID || !b.during(o.StartsAt, o.EndsAt) {
			continue
		}
		var twice []string
		for _, part := range []struct {
			mine, theirs, name string
		}{
			{b.StudentID, o.StudentID, o.Student}, {b.InstructorID, o.InstructorID, o.Instructor},
			{b.Registration, o.Registration, o.Registration},
		} {
			if part.mine == part.theirs {
				twice = append(twice, part.name)
			}
		}
		if len(twice) == 0 {
			continue
		}
		is := "is"
		if len(twice) > 1 {
			is = "are"
		}
		return fmt.Sprintf("%s %s booked from %s to %s already: %s with %s on %s", strings.Join(twice, " and "), is,
			o.StartsAt.In(zone).Format("15:04"), o.EndsAt.In(zone).Format("15:04"), o.Student, o.Instructor,
			o.Registration)
	}
	return ""
}

// early is how long before its time a booked lesson may be opened.
const early = 90 * time.Minute

// Became reports whether a lesson is the one that was planned.
func (b Booking) Became(student, registration string, opened time.Time) bool {
	return b.StudentID == student && b.Registration == registration && opened.After(b.StartsAt.Add(-early)) &&
		opened.Before(b.EndsAt)
}

// NextOf is the booking that a person teaches or flies next: the first that is
// not over at a moment and has become no lesson yet.
func NextOf(person string, bookings []Booking, now time.Time, became func(Booking) bool) (Booking, bool) {
	i := slices.IndexFunc(bookings, func(b Booking) bool {
		return (b.InstructorID == person || b.StudentID == person) && b.EndsAt.After(now) && !became(b)
	})
	if i < 0 {
		return Booking{}, false
	}
	return bookings[i], true
}
