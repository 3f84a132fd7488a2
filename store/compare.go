package store

import (
	"fmt"

	"jetprimer/core/compare"
)

// Grades are what was graded in signed lessons opened from a day on: each item
// once a lesson, without those that were only passed. A student's stage is the
// quarter of the year, since nobody stays the same for longer.
func (tx *Tx) Grades(from string) ([]compare.Grade, error) {
	grades, err := rows[compare.Grade](tx, `select l.student_id as student, r.item, l.instructor_id as instructor, l.opened->>'scale' as scale, r.level,
			to_char(l.opened_at at time zone ?, 'YYYY-"Q"Q') as stage
		from item_results r join lessons l on l.school_id = r.school_id and l.id = r.lesson_id
		where r.school_id = ? and l.status = 'signed' and r.level is not null and not r.implied and l.opened_at >= ?::date at time zone ?
		order by l.opened_at, l.id, r.position`, tx.Zone.String(), tx.School, from, tx.Zone.String())
	if err != nil {
		return nil, fmt.Errorf("reading grades: %w", err)
	}
	return grades, nil
}

// Names are the names of everybody who is or was of the school, by id.
func (tx *Tx) Names() (map[string]string, error) {
	members, err := tx.Members()
	out := map[string]string{}
	for _, m := range members {
		out[m.ID] = m.Name
	}
	return out, err
}
