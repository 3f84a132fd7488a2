package store

import (
	"fmt"
	"time"

	"jetprimer/core/check"
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

// Sequels count, for each item that went wrong before a later item had a finding
// at least twice, how often the two came together in signed lessons opened from a
// day on.
func (tx *Tx) Sequels(from string) ([]compare.Sequel, error) {
	counts, err := rows[compare.Sequel](tx, `with flown as (
			select l.id, c.type from lessons l join aircraft c on c.school_id = l.school_id and c.registration = l.registration
			where l.school_id = @school and l.status = 'signed' and l.opened_at >= cast(@from as date) at time zone @zone),
		worked as (
			select f.type, r.lesson_id, r.item, r.position, r.mark in ('wrong', 'left-out', 'unsafe') as wrong from item_results r join flown f on f.id = r.lesson_id
			where r.school_id = @school and r.level is not null),
		found as (
			select distinct n.lesson_id, n.item, p.position from findings n join flown f on f.id = n.lesson_id
			join item_results p on p.school_id = n.school_id and p.lesson_id = n.lesson_id and p.item = n.item where n.school_id = @school),
		pairs as (
			select w.type, w.item, n.item as finding, count(*) as both from worked w join found n on n.lesson_id = w.lesson_id and n.position > w.position
			where w.wrong group by 1, 2, 3 having count(*) >= 2)
		select p.type, p.item, p.finding, p.both, count(*) as lessons, count(*) filter (where w.wrong) as wrong,
			count(*) filter (where exists (select from found n where n.lesson_id = w.lesson_id and n.item = p.finding)) as found
		from pairs p join worked w on w.type = p.type and w.item = p.item group by 1, 2, 3, 4 order by 1, 2, 3`,
		map[string]any{"school": tx.School, "zone": tx.Zone.String(), "from": from})
	if err != nil {
		return nil, fmt.Errorf("counting findings after errors: %w", err)
	}
	return counts, nil
}

// ReadingTallies count the first tries of each check on each type in signed
// lessons opened from a day on.
func (tx *Tx) ReadingTallies(from string) ([]compare.ReadingTally, error) {
	tallies, err := rows[compare.ReadingTally](tx, `select c.type, r.check_name as check, count(*) as tries, count(*) filter (where r.verdict->>'outcome' = @out) as out
		from readings r join lessons l on l.school_id = r.school_id and l.id = r.lesson_id join aircraft c on c.school_id = l.school_id and c.registration = l.registration
		where r.school_id = @school and `+firstTry+` and l.status = 'signed' and l.opened_at >= cast(@from as date) at time zone @zone
		group by 1, 2`, map[string]any{"school": tx.School, "zone": tx.Zone.String(), "from": from, "out": check.Abnormal})
	if err != nil {
		return nil, fmt.Errorf("counting readings: %w", err)
	}
	return tallies, nil
}

// OutReading is a first try that was out of limits.
type OutReading struct {
	Type         string    `json:"type"`
	Check        string    `json:"check"`
	Lesson       string    `json:"lesson" gorm:"column:lesson_id"`
	Registration string    `json:"registration"`
	Words        string    `json:"words"`
	Decision     string    `json:"decision" doc:"what was decided on the finding at its item; empty where nothing was"`
	At           time.Time `json:"-" gorm:"column:opened_at"`
	On           string    `json:"on" gorm:"-"`
}

// outReadingsMost bounds what is listed of readings out of limits.
const outReadingsMost = 2000

// OutReadings are the newest of them, the newest first, with what was decided.
func (tx *Tx) OutReadings(from string) ([]OutReading, error) {
	all, err := rows[OutReading](tx, `select c.type, r.check_name as check, r.lesson_id, l.registration, coalesce(r.verdict->'findings'->0->>'message', '') as words, l.opened_at,
			coalesce((select f.decision from findings f where f.school_id = r.school_id and f.lesson_id = r.lesson_id and f.item = r.item order by f.at desc, f.event_id limit 1), '') as decision
		from readings r join lessons l on l.school_id = r.school_id and l.id = r.lesson_id join aircraft c on c.school_id = l.school_id and c.registration = l.registration
		where r.school_id = @school and `+firstTry+` and r.verdict->>'outcome' = @out and l.status = 'signed' and l.opened_at >= cast(@from as date) at time zone @zone
		order by l.opened_at desc, r.event_id limit @most`, map[string]any{"school": tx.School, "zone": tx.Zone.String(), "from": from, "out": check.Abnormal, "most": outReadingsMost})
	if err != nil {
		return nil, fmt.Errorf("reading what was out of limits: %w", err)
	}
	for i := range all {
		all[i].On = tx.Day(all[i].At)
	}
	return all, nil
}
