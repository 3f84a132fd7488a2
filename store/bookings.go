package store

import (
	"fmt"
	"time"

	"gorm.io/gorm"

	"jetprimer/core/form"
	"jetprimer/core/schedule"
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
	Exercises    IDs
	Plan         string
	Series       *string
	BookedBy     string
	BookedAt     time.Time
	MovedBy      *string
	MovedAt      *time.Time
	CancelledBy  *string
	CancelledAt  *time.Time
	Why          string
}

func (bookingRow) TableName() string { return "bookings" }

// bookings are those that are not cancelled, the earliest first.
func (tx *Tx) bookings() *gorm.DB {
	return tx.db.Table("bookings b").
		Select("b.id, b.student_id, s.name as student, b.instructor_id, i.name as instructor, b.registration, "+
			"b.starts_at, b.ends_at, b.exercises, b.plan, coalesce(b.series::text, '') as series").
		Joins("join memberships s on s.school_id = b.school_id and s.account_id = b.student_id").
		Joins("join memberships i on i.school_id = b.school_id and i.account_id = b.instructor_id").
		Where("b.school_id = ? and b.cancelled_at is null",
			tx.School).Order("b.starts_at, b.registration, b.id").Limit(bookingsMost)
}

// bookingsMost bounds what is listed of a plan.
const bookingsMost = 2000

// Bookings lists what is planned and not cancelled between two moments, the
// earliest first.
func (tx *Tx) Bookings(from, to time.Time) ([]schedule.Booking, error) {
	return find[schedule.Booking](tx.bookings().Where("b.ends_at > ? and b.starts_at < ?", from, to))
}

// BookingsOf is Bookings of one person, who teaches or flies.
func (tx *Tx) BookingsOf(person string, from, to time.Time) ([]schedule.Booking, error) {
	return find[schedule.Booking](tx.bookings().Where("b.ends_at > ? and b.starts_at < ? and (b.student_id = ? or "+
		"b.instructor_id = ?)", from, to, person, person))
}

// Booking finds one that is not cancelled.
func (tx *Tx) Booking(id string) (schedule.Booking, error) {
	return take[schedule.Booking](tx.bookings().Where("b.id = ?", id))
}

// WholeBooking is a booking with the names of whom it is for; an error is a
// form.Problem that says what of it the school does not have.
func (tx *Tx) WholeBooking(b schedule.Booking, now time.Time) (schedule.Booking, error) {
	if err := b.Check(now); err != nil {
		return b, err
	}
	student, err := tx.Student(b.StudentID)
	if err != nil {
		return b, form.Bad("student", "is no student of the school")
	}
	if m, err := tx.Member(b.StudentID); err != nil || !m.Active {
		return b, form.Bad("student", "has left the school")
	}
	switch m, err := tx.Member(b.InstructorID); {
	case err != nil || !m.Active:
		return b, form.Bad("instructor", "is no member of the school")
	case !m.Roles.Teach():
		return b, form.Bad("instructor", "does not teach at the school")
	default:
		b.Student, b.Instructor = student.Name, m.Name
	}
	day := school.Day(b.StartsAt, tx.Zone)
	switch a, err := tx.OneAircraft(b.Registration, day); {
	case err != nil:
		return b, form.Bad("registration", "is no aircraft of the school")
	case a.Retired(day):
		return b, form.Bad("registration", "is retired since %s", a.RetiredOn)
	}
	return b, nil
}

// Obstacles are what stands against each of some bookings. Each is held against
// what is around it alone: a series may lie over half a year. The surroundings that
// are given are those of the last.
func (tx *Tx) Obstacles(of []schedule.Booking, now time.Time) (around schedule.Calendar, out [][]schedule.Obstacle,
	err error) {
	for i, b := range of {
		// the whole day, since other times of it are looked for
		from, to := b.StartsAt.Add(-24*time.Hour), b.EndsAt.Add(24*time.Hour)
		if i == 0 {
			around, err = tx.Around(from, to, now)
		} else if around.Others, err = tx.Bookings(from, to); err == nil {
			around.Away, err = tx.Away(from, to)
		}
		if err != nil {
			return around, nil, err
		}
		out = append(out, around.Obstacles(b))
	}
	return around, out, nil
}

// Expected are the students for whom something is planned between two moments.
func (tx *Tx) Expected(from, to time.Time) (map[string]bool, error) {
	ids := []string{}
	err := tx.own(&bookingRow{}).Where("cancelled_at is null and ends_at > ? and starts_at < ?", from,
		to).Distinct().Pluck("student_id", &ids).Error
	out := map[string]bool{}
	for _, id := range ids {
		out[id] = true
	}
	return out, err
}

// Book keeps bookings, all or none, and gives their ids and what is warned of.
// What refuses one is a form.Problem that says it.
func (tx *Tx) Book(all []schedule.Booking, by string, now time.Time) ([]string, []schedule.Obstacle, error) {
	head, err := tx.bump()
	if err != nil {
		return nil, nil, err
	}
	warned, err := tx.stand(all, now)
	if err != nil {
		return nil, nil, err
	}
	ids := []string{}
	for _, b := range all {
		row := bookingRow{SchoolID: tx.School, StudentID: b.StudentID, InstructorID: b.InstructorID,
			Registration: b.Registration, StartsAt: b.StartsAt, EndsAt: b.EndsAt,
			Exercises: b.Exercises, Plan: b.Plan, BookedBy: by, BookedAt: now}
		if b.Series != "" {
			row.Series = &b.Series
		}
		if err := tx.db.Create(&row).Error; err != nil {
			return nil, nil, fmt.Errorf("keeping the booking: %w", err)
		}
		ids = append(ids, row.ID)
		if err := tx.changed(head.Seq, "booking", row.ID); err != nil {
			return nil, nil, err
		}
	}
	return ids, warned, nil
}

// stand fills bookings in, and holds them against everything: what refuses one is
// an error, the rest is given.
func (tx *Tx) stand(all []schedule.Booking, now time.Time) (warned []schedule.Obstacle, err error) {
	for i, b := range all {
		if all[i], err = tx.WholeBooking(b, now); err != nil {
			return nil, err
		}
	}
	_, obstacles, err := tx.Obstacles(all, now)
	if err != nil {
		return nil, err
	}
	warned = []schedule.Obstacle{}
	for i, against := range obstacles {
		for _, o := range against {
			if !o.Refused {
				warned = append(warned, o)
				continue
			}
			on := ""
			if len(all) > 1 {
				on = all[i].StartsAt.In(tx.Zone).Format("Mon 2 Jan: ")
			}
			return nil, form.Bad("startsAt", "cannot be: %s%s", on, o.Words)
		}
	}
	return warned, nil
}

// Move puts a booking to another time, person or aircraft, and gives what is
// warned of.
func (tx *Tx) Move(b schedule.Booking, by string, now time.Time) ([]schedule.Obstacle, error) {
	head, err := tx.bump()
	if err != nil {
		return nil, err
	}
	warned, err := tx.stand([]schedule.Booking{b}, now)
	if err != nil {
		return nil, err
	}
	done := tx.own(&bookingRow{}).Where("id = ? and cancelled_at is null", b.ID).Select("StudentID", "InstructorID",
		"Registration", "StartsAt", "EndsAt", "MovedBy", "MovedAt").
		Updates(bookingRow{
			StudentID: b.StudentID, InstructorID: b.InstructorID, Registration: b.Registration, StartsAt: b.StartsAt,
			EndsAt: b.EndsAt, MovedBy: &by, MovedAt: &now,
		})
	switch {
	case done.Error != nil:
		return nil, fmt.Errorf("moving the booking: %w", done.Error)
	case done.RowsAffected == 0:
		return nil, ErrNotFound
	}
	return warned, tx.changed(head.Seq, "booking", b.ID)
}

// CancelBooking takes a booking off the plan, with series also those of its weeks
// that come after it; they are kept, with the reason.
func (tx *Tx) CancelBooking(id, why string, series bool, by string, now time.Time) error {
	head, err := tx.bump()
	if err != nil {
		return err
	}
	b, err := tx.Booking(id)
	if err != nil {
		return err
	}
	which := tx.own(&bookingRow{}).Where("cancelled_at is null")
	if series && b.Series != "" {
		which = which.Where("series = ? and starts_at >= ?", b.Series, b.StartsAt)
	} else {
		which = which.Where("id = ?", id)
	}
	if err := which.Updates(bookingRow{CancelledBy: &by, CancelledAt: &now, Why: why}).Error; err != nil {
		return fmt.Errorf("cancelling the booking: %w", err)
	}
	return tx.changed(head.Seq, "booking", id)
}
