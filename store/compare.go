package store

import (
	"fmt"
	"time"

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

// ItemTallies are those of items in signed lessons opened from a day on, apart for those opened
// from another day on.
func (tx *Tx) ItemTallies(from, recent string) ([]compare.Tally, error) {
	tallies, err := rows[compare.Tally](tx, `select c.type, r.item, l.opened_at >= cast(@recent as date) at time zone @zone as recent, count(*) as observed,
			count(*) filter (where r.mark in ('prompted', 'helped')) as prompted, count(*) filter (where r.mark in ('wrong', 'left-out', 'unsafe')) as wrong
		from item_results r join lessons l on l.school_id = r.school_id and l.id = r.lesson_id join aircraft c on c.school_id = l.school_id and c.registration = l.registration
		where r.school_id = @school and l.status = 'signed' and r.level is not null and not r.implied and l.opened_at >= cast(@from as date) at time zone @zone
		group by 1, 2, 3`, map[string]any{"school": tx.School, "zone": tx.Zone.String(), "from": from, "recent": recent})
	if err != nil {
		return nil, fmt.Errorf("counting items: %w", err)
	}
	return tallies, nil
}

// Slip is an item that did not go right in a lesson.
type Slip struct {
	Type    string    `json:"type"`
	Item    string    `json:"item"`
	Lesson  string    `json:"lesson" gorm:"column:lesson_id"`
	Student string    `json:"student"`
	Mark    string    `json:"mark"`
	At      time.Time `json:"-" gorm:"column:opened_at"`
	On      string    `json:"on" gorm:"-"`
}

// slipsShown is how many lessons stand behind an item at most.
const slipsShown = 5

// Slips are the newest lessons behind each item's tally.
func (tx *Tx) Slips(from string) ([]Slip, error) {
	slips, err := rows[Slip](tx, `select * from (
			select c.type, r.item, r.lesson_id, s.name as student, r.mark, l.opened_at, row_number() over (partition by c.type, r.item order by l.opened_at desc, l.id) as nth
			from item_results r join lessons l on l.school_id = r.school_id and l.id = r.lesson_id join aircraft c on c.school_id = l.school_id and c.registration = l.registration
			join accounts s on s.id = l.student_id
			where r.school_id = @school and l.status = 'signed' and r.mark in ('prompted', 'helped', 'wrong', 'left-out', 'unsafe') and l.opened_at >= cast(@from as date) at time zone @zone) t
		where nth <= @most order by type, item, opened_at desc`, map[string]any{"school": tx.School, "zone": tx.Zone.String(), "from": from, "most": slipsShown})
	if err != nil {
		return nil, fmt.Errorf("reading what went wrong: %w", err)
	}
	for i := range slips {
		slips[i].On = tx.Day(slips[i].At)
	}
	return slips, nil
}
