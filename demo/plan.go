package demo

import (
	"time"

	"jetprimer/core/schedule"
	"jetprimer/store"
)

// plan books the demo school's day and the next one.
func plan(tx *store.Tx, day time.Time) error {
	for _, b := range []struct {
		student, instructor Person
		registration        string
		day, hour, minute   int
		exercises           []string
	}{
		{Lindqvist, Okonjo, "QZ-AAC", 0, 9, 0, []string{"circuits"}},
		{Castell, Quist, "QZ-AAB", 0, 11, 0, []string{"stalls", "steep-turns"}},
		{Halloran, Solheim, "QZ-AAC", 0, 13, 0, []string{"circuits"}},
		{Owusu, Okonjo, "QZ-AAA", 0, 13, 30, []string{"circuits"}},
		{Bello, Quist, "QZ-AAI", 0, 14, 0, []string{"hover", "autorotation"}},
		{Voss, Solheim, "QZ-AAH", 0, 15, 0, []string{"hover"}},
		{Brandt, Okonjo, "QZ-AAB", 0, 15, 30, []string{"short-field"}},
		{Faye, Quist, "QZ-AAD", 0, 16, 0, []string{"navigation"}},
		{Rask, Okonjo, "QZ-AAF", 0, 17, 30, []string{"engine-failure"}},
		{Moreau, Solheim, "QZ-AAA", 1, 9, 0, []string{"circuits"}},
		{Owusu, Okonjo, "QZ-AAC", 1, 9, 30, []string{"stalls"}},
		{Danforth, Quist, "QZ-AAG", 1, 10, 30, []string{"engine-failure"}},
		{Brandt, Okonjo, "QZ-AAB", 1, 13, 0, []string{"navigation"}},
	} {
		at := day.AddDate(0, 0, b.day).Add(time.Duration(b.hour)*time.Hour + time.Duration(b.minute)*time.Minute)
		_, _, err := tx.Book([]schedule.Booking{{StudentID: b.student.ID, InstructorID: b.instructor.ID,
			Registration: b.registration, StartsAt: at, EndsAt: at.Add(90 * time.Minute),
			Exercises: b.exercises}}, Ferreira.ID, day)
		if err != nil {
			return err
		}
	}
	return nil
}
