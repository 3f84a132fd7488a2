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
	tallies, err := rows[compare.Tally](tx, `select c.type, r.item, c.base, l.opened_at >= cast(@recent as date) at time zone @zone as recent, count(*) as observed,
			count(*) filter (where r.mark in ('prompted', 'helped')) as prompted, count(*) filter (where r.mark in ('wrong', 'left-out', 'unsafe')) as wrong
		from item_results r join lessons l on l.school_id = r.school_id and l.id = r.lesson_id join aircraft c on c.school_id = l.school_id and c.registration = l.registration
		where r.school_id = @school and l.status = 'signed' and r.level is not null and not r.implied and l.opened_at >= cast(@from as date) at time zone @zone
		group by 1, 2, 3, 4`, map[string]any{
		"school": tx.School, "zone": tx.Zone.String(), "from": from, "recent": recent,
	})
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
	Base    string    `json:"base"`
	At      time.Time `json:"-" gorm:"column:opened_at"`
	On      string    `json:"on" gorm:"-"`
}

// slipsShown is how many lessons stand behind an item at most.
const slipsShown = 5

// Slips are the newest lessons behind each item's tally.
func (tx *Tx) Slips(from string) ([]Slip, error) {
	slips, err := rows[Slip](tx, `select * from (
			select c.type, r.item, r.lesson_id, s.name as student, r.mark, c.base, l.opened_at, row_number() over (partition by c.type, r.item order by l.opened_at desc, l.id) as nth
			from item_results r join lessons l on l.school_id = r.school_id and l.id = r.lesson_id join aircraft c on c.school_id = l.school_id and c.registration = l.registration
			join memberships s on s.school_id = l.school_id and s.account_id = l.student_id
			where r.school_id = @school and l.status = 'signed' and r.mark in ('prompted', 'helped', 'wrong', 'left-out', 'unsafe') and l.opened_at >= cast(@from as date) at time zone @zone) t
		where nth <= @most order by type, item, opened_at desc`, map[string]any{
		"school": tx.School, "zone": tx.Zone.String(), "from": from, "most": slipsShown,
	})
	if err != nil {
		return nil, fmt.Errorf("reading what went wrong: %w", err)
	}
	for i := range slips {
		slips[i].On = tx.Day(slips[i].At)
	}
	return slips, nil
}

// asked are the oral questions of signed lessons opened from a day on, but for those
// that were taken back and not put back.
const asked = `select e.lesson_id, e.payload->>'question' as question, cast(e.payload->>'level' as integer) as level, s.name as student, l.opened_at
	from lesson_events e join lessons l on l.school_id = e.school_id and l.id = e.lesson_id join memberships s on s.school_id = l.school_id and s.account_id = l.student_id
	where e.school_id = @school and e.kind = 'oral' and l.status = 'signed' and l.opened_at >= cast(@from as date) at time zone @zone
		and not exists (select from lesson_events u where u.school_id = e.school_id and u.lesson_id = e.lesson_id and u.kind = 'undo' and (u.payload->'targets')::jsonb @> to_jsonb(e.id::text)
			and not exists (select from lesson_events b where b.school_id = u.school_id and b.lesson_id = u.lesson_id and b.kind = 'undo' and (b.payload->'targets')::jsonb @> to_jsonb(u.id::text)))`

// missedAt is the level from which down an oral question was missed: it took a word.
const missedAt = 2

// QuestionTallies count the oral questions of signed lessons opened from a day on.
func (tx *Tx) QuestionTallies(from string) ([]compare.QuestionTally, error) {
	tallies, err := rows[compare.QuestionTally](tx,
		"select question, count(*) as asked, count(*) filter (where level <= @missed) as missed from ("+asked+
			") a group by 1",
		map[string]any{"school": tx.School, "zone": tx.Zone.String(), "from": from, "missed": missedAt})
	if err != nil {
		return nil, fmt.Errorf("counting oral questions: %w", err)
	}
	return tallies, nil
}

// MissedQuestion is an oral question that was missed in a lesson.
type MissedQuestion struct {
	Question string    `json:"question"`
	Lesson   string    `json:"lesson" gorm:"column:lesson_id"`
	Student  string    `json:"student"`
	At       time.Time `json:"-" gorm:"column:opened_at"`
	On       string    `json:"on" gorm:"-"`
}

// MissedQuestions are the newest lessons behind each question that was missed.
func (tx *Tx) MissedQuestions(from string) ([]MissedQuestion, error) {
	missed, err := rows[MissedQuestion](tx, `select * from (select question, lesson_id, student, opened_at, row_number() over (partition by question order by opened_at desc, lesson_id) as nth
		from (`+asked+`) a where level <= @missed) t where nth <= @most order by question, opened_at desc`,
		map[string]any{
			"school": tx.School, "zone": tx.Zone.String(), "from": from, "missed": missedAt, "most": slipsShown,
		})
	if err != nil {
		return nil, fmt.Errorf("reading the questions that were missed: %w", err)
	}
	for i := range missed {
		missed[i].On = tx.Day(missed[i].At)
	}
	return missed, nil
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
		group by 1, 2`, map[string]any{
		"school": tx.School, "zone": tx.Zone.String(), "from": from, "out": check.Abnormal,
	})
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
		order by l.opened_at desc, r.event_id limit @most`, map[string]any{
		"school": tx.School, "zone": tx.Zone.String(), "from": from, "out": check.Abnormal, "most": outReadingsMost,
	})
	if err != nil {
		return nil, fmt.Errorf("reading what was out of limits: %w", err)
	}
	for i := range all {
		all[i].On = tx.Day(all[i].At)
	}
	return all, nil
}
