package store

import (
	"crypto/sha256"
	"fmt"
	"time"

	"gorm.io/gorm/clause"

	"jetprimer/core/form"
	"jetprimer/core/schedule"
)

type awayRow struct {
	SchoolID     string
	ID           string `gorm:"default:gen_random_uuid()"`
	AccountID    *string
	Registration *string
	StartsAt     time.Time
	EndsAt       time.Time
	Why          string
	NotedBy      string
	NotedAt      time.Time
	EndedBy      *string
	EndedAt      *time.Time
}

func (awayRow) TableName() string { return "away" }

type shiftsRow struct {
	SchoolID  string
	AccountID string
	Week      []schedule.Shift `gorm:"serializer:json"`
}

func (shiftsRow) TableName() string { return "shifts" }

// Standby is a student who would come at short notice.
type Standby struct {
	StudentID string `json:"studentId"`
	Student   string `json:"student" gorm:"->"`
	FromOn    Date   `json:"fromOn"`
	ToOn      Date   `json:"toOn"`
	Words     string `json:"words"`
}

type standbyRow struct {
	SchoolID string
	Standby
	NotedBy string
	NotedAt time.Time
}

func (standbyRow) TableName() string { return "standby" }

type calendarRow struct {
	SchoolID  string
	AccountID string
	Secret    []byte
	MadeAt    time.Time
}

func (calendarRow) TableName() string { return "calendars" }

// Away lists who and what is away between two moments, the earliest first.
func (tx *Tx) Away(from, to time.Time) ([]schedule.Away, error) {
	return find[schedule.Away](tx.db.Table("away w").
		Select("w.id, coalesce(w.account_id::text, '') as person_id, coalesce(a.name, '') as person, "+
			"coalesce(w.registration, '') as registration, w.starts_at, w.ends_at, w.why").
		Joins("left join memberships a on a.school_id = w.school_id and a.account_id = w.account_id").
		Where("w.school_id = ? and w.ended_at is null and w.ends_at > ? and w.starts_at < ?", tx.School, from,
			to).Order("w.starts_at, w.id").Limit(bookingsMost))
}

// NoteAway keeps that somebody or something is away, and gives its id.
func (tx *Tx) NoteAway(a schedule.Away, by string, now time.Time) (string, error) {
	if err := a.Check(now); err != nil {
		return "", err
	}
	head, err := tx.bump()
	if err != nil {
		return "", err
	}
	row := awayRow{SchoolID: tx.School, StartsAt: a.StartsAt, EndsAt: a.EndsAt, Why: a.Why, NotedBy: by, NotedAt: now}
	if a.Registration != "" {
		if _, err := tx.OneAircraft(a.Registration, tx.Day(now)); err != nil {
			return "", form.Bad("registration", "is no aircraft of the school")
		}
		row.Registration = &a.Registration
	} else {
		if _, err := tx.Member(a.PersonID); err != nil {
			return "", form.Bad("person", "is no member of the school")
		}
		row.AccountID = &a.PersonID
	}
	if err := tx.db.Create(&row).Error; err != nil {
		return "", fmt.Errorf("noting who is away: %w", err)
	}
	return row.ID, tx.changed(head.Seq, "booking", row.ID)
}

// OneAway finds one span that has not been ended.
func (tx *Tx) OneAway(id string) (schedule.Away, error) {
	row, err := take[awayRow](tx.own(&awayRow{}).Where("id = ? and ended_at is null", id))
	a := schedule.Away{ID: row.ID, StartsAt: row.StartsAt, EndsAt: row.EndsAt, Why: row.Why}
	if row.AccountID != nil {
		a.PersonID = *row.AccountID
	}
	if row.Registration != nil {
		a.Registration = *row.Registration
	}
	return a, err
}

// EndAway says that a span does not hold any more.
func (tx *Tx) EndAway(id, by string, now time.Time) error {
	head, err := tx.bump()
	if err != nil {
		return err
	}
	if err := tx.own(&awayRow{}).Where("id = ? and ended_at is null",
		id).Updates(awayRow{EndedBy: &by, EndedAt: &now}).Error; err != nil {
		return fmt.Errorf("ending what was noted: %w", err)
	}
	return tx.changed(head.Seq, "booking", id)
}

// Shifts are the weeks of those who have said when they work, by person.
func (tx *Tx) Shifts() (map[string][]schedule.Shift, error) {
	all, err := find[shiftsRow](tx.own(&shiftsRow{}))
	out := map[string][]schedule.Shift{}
	for _, r := range all {
		out[r.AccountID] = r.Week
	}
	return out, err
}

// SetShifts keeps when a person works.
func (tx *Tx) SetShifts(person string, week []schedule.Shift) error {
	if err := schedule.CheckShifts(week); err != nil {
		return err
	}
	if m, err := tx.Member(person); err != nil || !m.Roles.Teach() {
		return form.Bad("person", "does not teach at the school")
	}
	head, err := tx.bump()
	if err != nil {
		return err
	}
	row := shiftsRow{tx.School, person, week}
	if err := tx.db.Clauses(clause.OnConflict{
		Columns:   []clause.Column{{Name: "school_id"}, {Name: "account_id"}},
		DoUpdates: clause.AssignmentColumns([]string{"week"}),
	}).Create(&row).Error; err != nil {
		return fmt.Errorf("keeping when somebody works: %w", err)
	}
	return tx.changed(head.Seq, "booking", person)
}

// Standby lists who would come at short notice from a day on, the first noted
// first.
func (tx *Tx) Standby(from string) ([]Standby, error) {
	return find[Standby](tx.db.Table("standby b").
		Select("b.student_id, a.name as student, b.from_on, b.to_on, b.words").
		Joins("join memberships a on a.school_id = b.school_id and a.account_id = b.student_id").
		Where("b.school_id = ? and b.to_on >= ?", tx.School, from).Order("b.noted_at, a.name").Limit(bookingsMost))
}

// SetStandby notes that a student would come at short notice.
func (tx *Tx) SetStandby(s Standby, by string, now time.Time) error {
	if s.ToOn < s.FromOn {
		return form.Bad("to", "must not be before %s", s.FromOn)
	}
	if _, err := tx.Student(s.StudentID); err != nil {
		return form.Bad("student", "is no student of the school")
	}
	head, err := tx.bump()
	if err != nil {
		return err
	}
	row := standbyRow{tx.School, s, by, now}
	if err := tx.db.Clauses(clause.OnConflict{
		Columns:   []clause.Column{{Name: "school_id"}, {Name: "student_id"}},
		DoUpdates: clause.AssignmentColumns([]string{"from_on", "to_on", "words", "noted_by", "noted_at"}),
	}).Create(&row).Error; err != nil {
		return fmt.Errorf("noting who stands by: %w", err)
	}
	return tx.changed(head.Seq, "booking", s.StudentID)
}

// DropStandby takes a student off the list.
func (tx *Tx) DropStandby(student string) error {
	head, err := tx.bump()
	if err != nil {
		return err
	}
	done := tx.own(&standbyRow{}).Where("student_id = ?", student).Delete(&standbyRow{})
	switch {
	case done.Error != nil:
		return fmt.Errorf("taking somebody off the list: %w", done.Error)
	case done.RowsAffected == 0:
		return ErrNotFound
	}
	return tx.changed(head.Seq, "booking", student)
}

// RenewCalendar keeps another secret of a person's calendar; the one before ends.
func (tx *Tx) RenewCalendar(person, secret string, now time.Time) error {
	hash := sha256.Sum256([]byte(secret))
	return tx.db.Clauses(clause.OnConflict{
		Columns:   []clause.Column{{Name: "school_id"}, {Name: "account_id"}},
		DoUpdates: clause.AssignmentColumns([]string{"secret", "made_at"}),
	}).
		Create(&calendarRow{tx.School, person, hash[:], now}).Error
}

// CalendarOf finds whose calendar a secret opens: of somebody who still belongs to
// the school.
func (tx *Tx) CalendarOf(secret string) (Member, error) {
	hash := sha256.Sum256([]byte(secret))
	row, err := take[calendarRow](tx.own(&calendarRow{}).Where("secret = ?", hash[:]))
	if err != nil {
		return Member{}, err
	}
	m, err := tx.Member(row.AccountID)
	if err == nil && !m.Active {
		err = ErrNotFound
	}
	return m, err
}

// Around is what bookings between two moments are held against.
func (tx *Tx) Around(from, to, now time.Time) (schedule.Calendar, error) {
	p, err := tx.Policy(tx.Day(now))
	if err != nil {
		return schedule.Calendar{}, err
	}
	a := schedule.Calendar{Planning: p.Planning, Zone: tx.Zone, Grounded: map[string]string{}}
	if a.Others, err = tx.Bookings(from, to); err != nil {
		return a, err
	}
	if a.Away, err = tx.Away(from, to); err != nil {
		return a, err
	}
	if a.Shifts, err = tx.Shifts(); err != nil {
		return a, err
	}
	findings, err := tx.Findings(tx.Day(now))
	if err != nil {
		return a, err
	}
	for _, f := range findings {
		if f.Condition.Grounds() && a.Grounded[f.Registration] == "" {
			a.Grounded[f.Registration] = f.Words
		}
	}
	a.Flown, err = tx.ExercisesFlown()
	return a, err
}

// ExercisesFlown are those that each student has flown, by student; of students
// without lessons there are none.
func (tx *Tx) ExercisesFlown() (map[string][]string, error) {
	all, err := rows[struct {
		ID        string
		Exercises IDs
	}](tx, `select s.id, coalesce((select jsonb_agg(distinct e) from lessons l, jsonb_array_elements_text(case jsonb_typeof(l.opened -> 'day' -> 'exercises')
			when 'array' then l.opened -> 'day' -> 'exercises' else '[]' end) e
			where l.school_id = s.school_id and l.student_id = s.id and l.status = 'signed'), '[]') as exercises
		from students s where s.school_id = ?`, tx.School)
	out := map[string][]string{}
	for _, r := range all {
		out[r.ID] = r.Exercises
	}
	return out, err
}
