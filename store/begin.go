package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/school"
	"jetprimer/core/weather"
)

// ErrSchoolExists says that there is a school already.
var ErrSchoolExists = errors.New("a school has been begun here already")

// Schools is how many there are.
func (s *Store) Schools(ctx context.Context) (int, error) {
	var n int64
	err := s.db.WithContext(ctx).Model(&School{}).Count(&n).Error
	return int(n), plain(err)
}

// EverySchool lists the schools, the oldest first.
func (s *Store) EverySchool(ctx context.Context) ([]School, error) {
	all, err := find[School](s.db.WithContext(ctx).Order("created_at, id"))
	return all, plain(err)
}

// AddSchool makes a school with its feed, and fills it in the same transaction;
// fill may be nil. Its day is that of the time zone, such as Europe/Dublin.
func (s *Store) AddSchool(ctx context.Context, made School, fill func(tx *Tx) error) error {
	if _, err := time.LoadLocation(made.TimeZone); err != nil || made.TimeZone == "" {
		return fmt.Errorf("adding the school: %q is no time zone", made.TimeZone)
	}
	create := func(db *gorm.DB) error {
		if err := db.Select("ID", "Name", "TimeZone", "Settings", "CreatedAt").Create(&made).Error; err != nil {
			return fmt.Errorf("adding the school: %w", err)
		}
		return nil
	}
	return s.in(ctx, made.ID, create, func(_ context.Context, tx *Tx) error {
		if err := tx.db.Exec("insert into school_feed (school_id) values (?)", made.ID).Error; err != nil {
			return fmt.Errorf("adding the school's feed: %w", err)
		}
		if fill == nil {
			return nil
		}
		return fill(tx)
	})
}

// Start is a school that begins, and what it is begun with.
type Start struct {
	ID string
	school.Beginning
	// Founder has its password as a hash.
	Founder Account
	// Code makes a one-time code for a student, and the hash that is kept of it.
	Code func() (code, hash string, err error)
	// First refuses where there is a school already.
	First bool
	Until time.Time
	Now   time.Time
}

// Welcome is a student of the beginning with the code to come in by.
type Welcome struct{ Name, Invitation, Code string }

// Begin makes a school of its beginning: all of it, or nothing.
func (s *Store) Begin(ctx context.Context, b Start) ([]Welcome, error) {
	out := []Welcome{}
	day := b.Now
	if zone, err := time.LoadLocation(b.TimeZone); err == nil {
		day = day.In(zone)
	}
	today := day.Format(time.DateOnly)
	made := School{
		ID: b.ID, Name: b.Name, TimeZone: b.TimeZone, Settings: school.Settings{Units: b.Units}, CreatedAt: b.Now,
	}
	err := s.AddSchool(ctx, made, func(tx *Tx) error {
		if err := tx.first(b.First); err != nil {
			return err
		}
		for _, base := range b.Bases {
			if err := tx.AddBase(base); err != nil {
				return err
			}
		}
		if err := tx.found(b.Founder); err != nil {
			return err
		}
		for i, a := range b.Aircraft {
			if err := tx.AddAirframe(a, today); err != nil {
				return form.Under(fmt.Sprintf("aircraft[%d].", i), err)
			}
		}
		for i, student := range b.Students {
			if student.Learns.Instructor == "" {
				learns := *student.Learns
				learns.Instructor = b.Founder.ID
				student.Learns = &learns
			}
			code, hash, err := b.Code()
			if err != nil {
				return err
			}
			invited := Invitation{
				ID: uuid.Must(uuid.NewV7()).String(), Member: student, Code: hash, InvitedBy: b.Founder.ID,
				InvitedAt: b.Now, Until: b.Until,
			}
			if err := tx.Invite(invited, today); err != nil {
				return form.Under(fmt.Sprintf("students[%d].", i), err)
			}
			out = append(out, Welcome{student.Name, invited.ID, code})
		}
		return nil
	})
	return out, err
}

// first refuses a school beside another; of two that begin at once one waits.
func (tx *Tx) first(only bool) error {
	if !only {
		return nil
	}
	if err := tx.db.Exec("select pg_advisory_xact_lock(hashtextextended('first school', 0))").Error; err != nil {
		return err
	}
	var n int64
	if err := tx.db.Model(&School{}).Count(&n).Error; err != nil {
		return err
	}
	if n > 1 {
		return ErrSchoolExists
	}
	return nil
}

// found makes the founder a member: an account that is known keeps its password.
func (tx *Tx) found(a Account) error {
	known, err := take[Account](tx.db.Where("email = ?", a.Email))
	switch {
	case err == nil:
		if known.ID != a.ID {
			return form.Bad("chief.email", "belongs to an account that is known here already")
		}
	case errors.Is(err, ErrNotFound):
		a.DeviceKeys, a.Passkeys = []DeviceKey{}, []json.RawMessage{}
		if err := tx.db.Create(&a).Error; err != nil {
			return err
		}
	default:
		return err
	}
	return tx.Join(a.ID, school.FounderRoles...)
}

// typeInForce is the aircraft type that a field names.
func (tx *Tx) typeInForce(field, id, day string) (aircraft.Type, error) {
	t, err := tx.Type(id, day)
	if id == "" || errors.Is(err, ErrNotFound) {
		return t, form.Bad(field, "is no aircraft type in force")
	}
	return t, err
}

type baseRow struct {
	SchoolID string
	ID       string
	Body     weather.Aerodrome `gorm:"serializer:json"`
}

func (baseRow) TableName() string { return "bases" }

// Bases lists where the school flies from, by id.
func (tx *Tx) Bases() ([]weather.Aerodrome, error) {
	kept, err := find[baseRow](tx.own(&baseRow{}).Order("id"))
	out := make([]weather.Aerodrome, len(kept))
	for i, k := range kept {
		out[i] = k.Body
	}
	return out, err
}

// SetPlace keeps the school's name and the zone that its day is told in.
func (tx *Tx) SetPlace(name, zone string) error {
	return tx.db.Model(&School{}).Where("id = ?", tx.School).Select("Name", "TimeZone").Updates(School{
		Name: name, TimeZone: zone,
	}).Error
}

// SetBase adds a field that the school flies from, or changes it; its aircraft
// stand as high as it does.
func (tx *Tx) SetBase(a weather.Aerodrome, most int) error {
	head, err := tx.bump()
	if err != nil {
		return err
	}
	done := tx.own(&baseRow{}).Where("id = ?", a.ID).Select("Body").Updates(&baseRow{Body: a})
	if done.Error != nil {
		return fmt.Errorf("changing a base: %w", done.Error)
	}
	if done.RowsAffected == 0 {
		var n int64
		if err := tx.own(&baseRow{}).Count(&n).Error; err != nil {
			return err
		}
		if n >= int64(most) {
			return form.Bad("bases", "must be at most %d", most)
		}
		if err := tx.AddBase(a); err != nil {
			return err
		}
	}
	if err := tx.own(&aircraftRow{}).Where("base = ?", a.ID).Update("elevation_ft", a.ElevationFt).Error; err != nil {
		return err
	}
	return tx.changed(head.Seq, "school", tx.School)
}

// AddBase adds a field that the school flies from.
func (tx *Tx) AddBase(a weather.Aerodrome) error {
	return tx.db.Create(&baseRow{tx.School, a.ID, a}).Error
}
