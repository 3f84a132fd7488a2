package store

import (
	"errors"
	"fmt"
	"time"
)

// RecorderColumns are how the columns of an aircraft's recorder were mapped, as JSON;
// nil where nobody has yet.
func (tx *Tx) RecorderColumns(registration string) ([]byte, error) {
	text, err := row[string](tx, "select columns::text from recorders where school_id = ? and registration = ?",
		tx.School, registration)
	if errors.Is(err, ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, fmt.Errorf("reading the columns of a recorder: %w", err)
	}
	return []byte(text), nil
}

// KeepRecorderColumns keeps how the columns of an aircraft's recorder are mapped.
func (tx *Tx) KeepRecorderColumns(registration string, columns []byte, by string, now time.Time) error {
	err := tx.db.Exec(`insert into recorders (school_id, registration, columns, mapped_by, mapped_at) values (?, ?, ?::json, ?, ?)
		on conflict (school_id, registration) do update set columns = excluded.columns, mapped_by = excluded.mapped_by, mapped_at = excluded.mapped_at`,
		tx.School, registration, string(columns), by, now).Error
	if err != nil {
		return fmt.Errorf("keeping the columns of a recorder: %w", err)
	}
	return nil
}

// LessonsOn lists the newest lessons flown with an aircraft.
func (tx *Tx) LessonsOn(registration string, most int) ([]Lesson, error) {
	return find[Lesson](tx.lessons().Where("l.registration = ?", registration).Limit(most))
}
