package reports

import (
	"slices"
	"time"

	"jetprimer/core/checklist"
	"jetprimer/core/schedule"
	"jetprimer/store"
)

// Planned is a booking as the day shows it: what it is for, and the lesson that
// it became.
type Planned struct {
	schedule.Booking
	// For are the exercises in words; Lesson and Status are those of the lesson
	// that it became.
	For    []string `json:"for"`
	Lesson string   `json:"lesson"`
	Status string   `json:"status" enum:",open,ended,signed"`
}

// PlannedOf is a booking before it has become a lesson.
func PlannedOf(b schedule.Booking) Planned {
	return Planned{Booking: b, For: checklist.ExerciseWords(b.Exercises)}
}

// planned are the bookings between two moments, each with the lesson that it
// became. Of students whose records the person may not read it is said that
// something is booked, and no more.
func planned(tx *store.Tx, may func(student string) bool, from, to time.Time,
	lessons []store.Lesson) ([]Planned, error) {
	bookings, err := tx.Bookings(from, to)
	if err != nil {
		return nil, err
	}
	out := []Planned{}
	for _, b := range bookings {
		if !may(b.StudentID) {
			out = append(out, Planned{
				Booking: schedule.Booking{
					ID: b.ID, Student: "booked", Registration: b.Registration, StartsAt: b.StartsAt, EndsAt: b.EndsAt,
					Exercises: []string{},
				},
				For: []string{},
			})
			continue
		}
		p := PlannedOf(b)
		i := slices.IndexFunc(lessons,
			func(l store.Lesson) bool { return b.Became(l.StudentID, l.Registration, l.OpenedAt) })
		if i >= 0 {
			p.Lesson, p.Status = lessons[i].ID, lessons[i].Status
		}
		out = append(out, p)
	}
	return out, nil
}
