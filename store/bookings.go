package store

import (
	"fmt"
	"time"

	"jetprimer/core/form"
	"jetprimer/core/school"
)

type bookingRow struct {
	SchoolID     string
	ID           string `gorm:"default:gen_random_uuid()"`
	StudentID    string
	InstructorID string
	Registration string
	StartsAt     time.Time
	EndsAt       time.Time
	Exercises    Names
	BookedBy     string
	BookedAt     time.Time
	CancelledBy  *string
	CancelledAt  *time.Time
	Why          string
}

func (bookingRow) TableName() string { return "bookings" }

// Bookings lists what is planned and not cancelled between two moments, the
// earliest first.
func (tx *Tx) Bookings(from, to time.Time) ([]school.Booking, error) {
	return find[school.Booking](tx.db.Table("bookings b").
		Select("b.id, b.student_id, s.name as student, b.instructor_id, i.name as instructor, b.registration, b.starts_at, b.ends_at, b.exercises").
		Joins("join accounts s on s.id = b.student_id").Joins("join accounts i on i.id = b.instructor_id").
		Where("b.school_id = ? and b.cancelled_at is null and b.ends_at > ? and b.starts_at < ?", tx.School, from, to).Order("b.starts_at, b.registration, b.id").Limit(1000))
}

// Book keeps a booking and gives its id. Whoever or whatever is booked for the
// time already is a *form.InputError that names the other booking.
func (tx *Tx) Book(b school.Booking, by string, now time.Time) (string, error) {
	if err := b.Check(now); err != nil {
		return "", err
	}
	head, err := tx.bump()
	if err != nil {
		return "", err
	}
	if _, err := tx.Student(b.StudentID); err != nil {
		return "", form.Bad("student", "is no student of the school")
	}
	switch roles, err := tx.RolesOf(b.InstructorID); {
	case err != nil:
		return "", form.Bad("instructor", "is no member of the school")
	case !roles.Teach():
		return "", form.Bad("instructor", "does not teach at the school")
	}
	day := school.Day(b.StartsAt, tx.Zone)
	switch a, err := tx.OneAircraft(b.Registration, day); {
	case err != nil:
		return "", form.Bad("registration", "is no aircraft of the school")
	case a.Retired(day):
		return "", form.Bad("registration", "is retired since %s", a.RetiredOn)
	}
	others, err := tx.Bookings(b.StartsAt, b.EndsAt)
	if err != nil {
		return "", err
	}
	if words := b.Clash(others, tx.Zone); words != "" {
		return "", form.Bad("startsAt", "cannot be: %s", words)
	}
	row := bookingRow{SchoolID: tx.School, StudentID: b.StudentID, InstructorID: b.InstructorID, Registration: b.Registration, StartsAt: b.StartsAt, EndsAt: b.EndsAt,
		Exercises: b.Exercises, BookedBy: by, BookedAt: now}
	if err := tx.db.Create(&row).Error; err != nil {
		return "", fmt.Errorf("keeping the booking: %w", err)
	}
	return row.ID, tx.changed(head.Seq, "booking", row.ID)
}

// CancelBooking takes a booking off the plan; it is kept, with the reason.
func (tx *Tx) CancelBooking(id, why, by string, now time.Time) error {
	head, err := tx.bump()
	if err != nil {
		return err
	}
	done := tx.own(&bookingRow{}).Where("id = ? and cancelled_at is null", id).Updates(bookingRow{CancelledBy: &by, CancelledAt: &now, Why: why})
	switch {
	case done.Error != nil:
		return fmt.Errorf("cancelling the booking: %w", done.Error)
	case done.RowsAffected == 0:
		return ErrNotFound
	}
	return tx.changed(head.Seq, "booking", id)
}
