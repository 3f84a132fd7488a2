package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"jetprimer/core/compare"
	"jetprimer/core/progress"
)

// Tried are the items of a student's lessons signed by a day, and of what was practised
// on the stand, oldest first; those that were only passed say nothing.
func (tx *Tx) Tried(student, day string) ([]progress.Tried, error) {
	later, err := tx.signedLater(student, day)
	if err != nil {
		return nil, err
	}
	tried, err := find[progress.Tried](butFor(tx.db.Table("item_results r"), "l.id", later).
		Select("r.item, to_char(l.opened_at at time zone ?, 'YYYY-MM-DD') as date, r.level >= 3 as right",
			tx.Zone.String()).
		Joins("join lessons l on l.school_id = r.school_id and l.id = r.lesson_id").
		Where("r.school_id = ? and l.student_id = ? and l.status = 'signed' and r.level is not null and not r.implied",
			tx.School, student).
		Order("l.opened_at, l.id, r.position"))
	if err != nil {
		return nil, fmt.Errorf("reading what was tried: %w", err)
	}
	practised, err := rows[progress.Tried](tx, `select i->>'id' as item, p.on_day::text as date, (i->>'level')::int >= 3 as right
		from practice_runs p, json_array_elements(p.score->'state'->'items') with ordinality items(i, n)
		where p.school_id = ? and p.student_id = ? and p.on_day <= ? and i->>'level' is not null and i->>'implied' = 'false' order by p.made_at, p.id, n`, tx.School, student, day)
	if err != nil {
		return nil, fmt.Errorf("reading what was practised: %w", err)
	}
	tried = append(tried, practised...)
	slices.SortStableFunc(tried, func(a, b progress.Tried) int { return strings.Compare(a.Date, b.Date) })
	return tried, nil
}

// answersMost and answersSince bound what constants are fitted to: the newest
// answers, of two years.
const (
	answersMost  = 200_000
	answersSince = 2 * 365 * 24 * time.Hour
)

// Answers are whether items were still known when they were shown again.
func (tx *Tx) Answers(now time.Time) ([]compare.Answer, error) {
	answers, err := rows[compare.Answer](tx, `select * from (
			select extract(epoch from l.opened_at - lag(l.opened_at) over w) / 86400 as days, r.level >= 3 as known,
				count(*) filter (where r.level >= 3) over before as right, count(*) filter (where r.level < 3) over before as wrong
			from item_results r join lessons l on l.school_id = r.school_id and l.id = r.lesson_id
			where r.school_id = @school and r.level is not null and not r.implied and l.status = 'signed' and l.opened_at >= @since
			window w as (partition by l.student_id, r.item order by l.opened_at, l.id), before as (w rows between unbounded preceding and 1 preceding)
			order by l.opened_at desc limit @most) a where days is not null`,
		map[string]any{"school": tx.School, "since": now.Add(-answersSince), "most": answersMost})
	if err != nil {
		return nil, fmt.Errorf("reading answers: %w", err)
	}
	return answers, nil
}

// Forgetting are the constants by which the school forgets, and to how many of its
// own answers they were fitted: none where it had too few, and those that ship serve.
func (tx *Tx) Forgetting() (f progress.Forgetting, answers int, err error) {
	type fitted struct {
		Answers   int
		Constants string
	}
	k, err := row[fitted](tx, "select answers, constants::text from forgetting where school_id = ? and answers > 0",
		tx.School)
	if errors.Is(err, ErrNotFound) {
		return tx.store.shipped.Forgetting, 0, nil
	}
	if err == nil {
		err = json.Unmarshal([]byte(k.Constants), &f)
	}
	return f, k.Answers, err
}

// fittedFor is for how long constants serve until they are fitted anew, in days.
const fittedFor = 7

// FitForgetting fits the school's constants anew, once in a while. It reports
// whether they were.
func (s *Store) FitForgetting(ctx context.Context, schoolID string, now time.Time) (done bool, err error) {
	err = s.In(ctx, schoolID, func(_ context.Context, tx *Tx) error {
		fresh, err := row[int](tx,
			"select count(*) from forgetting where school_id = ? and fitted_on > ?::date - ?::int", tx.School,
			tx.Day(now), fittedFor)
		if err != nil || fresh > 0 {
			return err
		}
		answers, err := tx.Answers(now)
		if err != nil {
			return err
		}
		n := len(answers)
		fitted, err := compare.FitForgetting(answers, s.shipped.Forgetting)
		if err != nil { // too few: those that ship go on serving
			fitted, n = s.shipped.Forgetting, 0
		}
		constants, err := json.Marshal(fitted)
		if err != nil {
			return err
		}
		done = true
		return tx.db.Exec(`insert into forgetting (school_id, fitted_on, answers, constants) values (?, ?, ?, ?)
			on conflict (school_id) do update set fitted_on = excluded.fitted_on, answers = excluded.answers, constants = excluded.constants`,
			tx.School, tx.Day(now), n, string(constants)).Error
	})
	return done, err
}
