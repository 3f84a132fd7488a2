package store

import (
	"errors"
	"fmt"
	"slices"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/school"
)

// Aircraft is one aircraft of the school, as of a day.
type Aircraft struct {
	Registration string `json:"registration"`
	Type         string `json:"type"`
	Base         string `json:"base"`
	ElevationFt  int    `json:"elevationFt"`
	// Equipment is what it has of its type's optional equipment.
	Equipment IDs `json:"equipment"`
	// Hours are the airframe's, as somebody wrote them down.
	Hours *float64 `json:"hours,omitempty"`
	Notes string   `json:"notes,omitempty"`
	// RetiredOn is the first day on which it does not fly for the school.
	RetiredOn Date `json:"retiredOn,omitempty"`
}

// Airframe is the aircraft as the school writes it down.
func (a Aircraft) Airframe() school.Airframe {
	return school.Airframe{
		Registration: a.Registration, Type: a.Type, Base: a.Base, Equipment: a.Equipment, Hours: a.Hours,
		Notes: a.Notes,
	}
}

// Retired reports whether it has left the line by a day.
func (a Aircraft) Retired(day string) bool {
	return a.RetiredOn != "" && string(a.RetiredOn) <= day
}

// EquipmentChange is what an aircraft has from a day on.
type EquipmentChange struct {
	Registration string    `json:"-"`
	FromOn       Date      `json:"from"`
	Equipment    IDs       `json:"equipment"`
	By           string    `json:"by"`
	ChangedAt    time.Time `json:"changedAt"`
}

// Aircraft lists those that fly for the school on a day, as they are equipped
// then.
func (tx *Tx) Aircraft(day string) ([]Aircraft, error) {
	return find[Aircraft](tx.aircraftOn(day).Where("retired_on is null or retired_on > ?", day))
}

// Fleet lists every aircraft that the school has or had.
func (tx *Tx) Fleet(day string) ([]Aircraft, error) { return find[Aircraft](tx.aircraftOn(day)) }

// OneAircraft finds one aircraft as it is equipped on a day.
func (tx *Tx) OneAircraft(registration, day string) (Aircraft, error) {
	return take[Aircraft](tx.aircraftOn(day).Where("registration = ?", registration))
}

func (tx *Tx) aircraftOn(day string) *gorm.DB {
	return tx.db.Table("aircraft a").Where("school_id = ?", tx.School).Order("registration").
		Select(`registration, type, base, elevation_ft, hours, notes, retired_on, coalesce((select c.equipment from equipment_changes c
			where c.school_id = a.school_id and c.registration = a.registration and c.from_on <= ? order by c.from_on desc limit 1), equipment) as equipment`, day)
}

// EquipmentChanges lists what changed of the aircraft's equipment, the newest
// first.
func (tx *Tx) EquipmentChanges() ([]EquipmentChange, error) {
	return find[EquipmentChange](tx.db.Table("equipment_changes c").Select("c.registration, c.from_on, c.equipment, "+
		"c.changed_at, a.name as by").
		Joins("join memberships a on a.school_id = c.school_id and a.account_id = c.changed_by").
		Where("c.school_id = ?", tx.School).Order("c.registration, c.from_on desc"))
}

// AddAircraft adds one aircraft.
func (tx *Tx) AddAircraft(a Aircraft) error { return tx.db.Create(&aircraftRow{tx.School, a}).Error }

// AddAirframe adds an aircraft of a type in force at a base of the school, with
// equipment that it can have.
func (tx *Tx) AddAirframe(a school.Airframe, day string) error {
	head, err := tx.bump()
	if err != nil {
		return err
	}
	fresh, err := tx.airframe(a, day)
	if err != nil {
		return err
	}
	if _, err := tx.OneAircraft(a.Registration, day); !errors.Is(err, ErrNotFound) {
		if err == nil {
			err = form.Bad("registration", "belongs to an aircraft that the school has or had")
		}
		return err
	}
	if err := tx.AddAircraft(fresh); err != nil {
		return err
	}
	return tx.changed(head.Seq, "aircraft", a.Registration)
}

// SetAirframe keeps what the school writes down of an aircraft anew. Equipment
// that differs is what it has from a day on; an aircraft that is retired flies to
// the day before.
func (tx *Tx) SetAirframe(a school.Airframe, from, retiredOn, by, day string, now time.Time) error {
	head, err := tx.bump() // one change of an aircraft at a time
	if err != nil {
		return err
	}
	before, err := tx.OneAircraft(a.Registration, from)
	if err != nil {
		return err
	}
	if before.Type != a.Type {
		return form.Bad("type", "cannot change: what was flown was flown on a %s", before.Type)
	}
	after, err := tx.airframe(a, day)
	if err != nil {
		return err
	}
	after.RetiredOn = Date(retiredOn)
	err = tx.own(&aircraftRow{}).Where("registration = ?", a.Registration).Select("Base", "ElevationFt", "Hours",
		"Notes", "RetiredOn").Updates(&aircraftRow{Aircraft: after}).Error
	if err != nil {
		return fmt.Errorf("changing an aircraft: %w", err)
	}
	if !form.SameSet(before.Equipment, after.Equipment) {
		change := equipmentChange{tx.School, a.Registration, Date(from), after.Equipment, by, now}
		if err := tx.db.Clauses(clause.OnConflict{
			Columns:   []clause.Column{{Name: "school_id"}, {Name: "registration"}, {Name: "from_on"}},
			DoUpdates: clause.AssignmentColumns([]string{"equipment", "changed_by", "changed_at"}),
		}).Create(&change).Error; err != nil {
			return fmt.Errorf("changing an aircraft's equipment: %w", err)
		}
	}
	return tx.changed(head.Seq, "aircraft", a.Registration)
}

// airframe is an aircraft as it is kept: its type is in force, its base one of the
// school's, its equipment what the type can have.
func (tx *Tx) airframe(a school.Airframe, day string) (Aircraft, error) {
	t, err := tx.typeInForce("type", a.Type, day)
	if err != nil {
		return Aircraft{}, err
	}
	bases, err := tx.Bases()
	if err != nil {
		return Aircraft{}, err
	}
	for _, e := range a.Equipment {
		fits := func(o aircraft.Equipment) bool { return o.Optional && o.ID == e }
		if !slices.ContainsFunc(t.Equipment, fits) {
			return Aircraft{}, form.Bad("equipment", "cannot hold %q: it is no optional equipment of the %s", e, t.Name)
		}
	}
	for _, base := range bases {
		if base.ID == a.Base {
			return Aircraft{
				Registration: a.Registration, Type: a.Type, Base: base.ID, ElevationFt: base.ElevationFt,
				Equipment: IDs(a.Equipment), Hours: a.Hours, Notes: a.Notes,
			}, nil
		}
	}
	return Aircraft{}, form.Bad("base", "is none of the school's bases")
}
