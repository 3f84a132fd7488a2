package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"time"

	"jetprimer/core/policy"
	"jetprimer/core/progress"
	"jetprimer/core/school"
	"jetprimer/core/standard"
)

// observationRow is an observation as it is kept.
type observationRow struct {
	Element, LessonID, Item, Mark, Registration, Class, EngineKind, StartType, InstructorID string
	OnDay                                                                                   Date
	Level                                                                                   int
	Implied, Oral                                                                           bool
}

// observations are those that count for the student's class, engine kind and
// start type, oldest first, by element.
// An element that became another is told by what it became.
func (tx *Tx) observations(s Student, moves map[string]string) (map[string][]progress.Observation, error) {
	kept, err := rows[observationRow](tx, `select element, lesson_id, item, mark, registration, class, engine_kind, start_type, instructor_id, on_day, level, implied, oral
		from observations where school_id = ? and student_id = ? and class = ? and engine_kind = ? and start_type = ?
		order by opened_at, lesson_id, ordinal`, tx.School, s.ID, s.Class, s.EngineKind, s.StartType)
	if err != nil {
		return nil, fmt.Errorf("reading observations: %w", err)
	}
	out := map[string][]progress.Observation{}
	for _, k := range kept {
		if to, moved := moves[k.Element]; moved {
			k.Element = to
		}
		out[k.Element] = append(out[k.Element], progress.Observation{Element: k.Element, Lesson: k.LessonID, Item: k.Item, Level: k.Level,
			Implied: k.Implied, Oral: k.Oral, Mark: k.Mark, Aircraft: k.Registration, Class: k.Class, EngineKind: k.EngineKind,
			StartType: k.StartType, Instructor: k.InstructorID, Date: string(k.OnDay)})
	}
	return out, nil
}

// standingRows are a student's standings as they are kept, and the critical
// errors that stand open, each as rows for JSON.
func (tx *Tx) standingRows(student string) (standings, criticals []map[string]any, err error) {
	s, err := tx.Student(student)
	if err != nil {
		return nil, nil, err
	}
	policy, by, err := tx.derivedBy()
	if err != nil {
		return nil, nil, err
	}
	seen, err := tx.observations(s, by.Moves)
	if err != nil {
		return nil, nil, err
	}
	standings, criticals = []map[string]any{}, []map[string]any{}
	for element, observations := range seen {
		f := policy.Standing.Derive(element, observations)
		var lapses any
		if f.LapsesOn != "" {
			lapses = f.LapsesOn
		}
		standings = append(standings, map[string]any{"element": element, "held": f.Held, "newest": f.Newest, "lapses_on": lapses, "lessons": f.Lessons, "history": f.History})
	}
	open, err := tx.criticalsUnder(student, policy.Standing)
	for _, o := range open {
		criticals = append(criticals, map[string]any{"lesson_id": o.Lesson, "item": o.Item, "on_day": o.Date, "class": o.Class})
	}
	return standings, criticals, err
}

// criticalsUnder are the critical errors that stand open by a rule, and that the
// chief instructor has not decided on.
func (tx *Tx) criticalsUnder(student string, p progress.Policy) ([]progress.ItemLevel, error) {
	levels, err := tx.criticalLevels(student)
	if err != nil {
		return nil, err
	}
	decided, err := find[criticalDecision](tx.own(&criticalDecision{}).Where("student_id = ?", student))
	if err != nil {
		return nil, fmt.Errorf("reading decisions on critical errors: %w", err)
	}
	return slices.DeleteFunc(p.OpenCriticals(levels), func(o progress.ItemLevel) bool {
		return slices.ContainsFunc(decided, func(d criticalDecision) bool { return d.LessonID == o.Lesson && d.Item == o.Item })
	}), nil
}

// governed is by what the standings of a school are kept: the version of its
// policy, 0 for that of a school that has written none, and the elements that
// became others.
type governed struct {
	Policy int               `json:"policy,omitempty"`
	Moves  map[string]string `json:"moves,omitempty"`
}

// derivedBy is by what the school's standings are kept: the documents of the day
// on which they were last brought to them.
func (tx *Tx) derivedBy() (p policy.Policy, by governed, err error) {
	text, err := row[string](tx, "select governed::text from school_feed where school_id = ?", tx.School)
	if err == nil {
		err = json.Unmarshal([]byte(text), &by)
	}
	if err != nil {
		return p, by, fmt.Errorf("reading by what standings are kept: %w", err)
	}
	if by.Policy == 0 {
		return tx.defaultPolicy(), by, nil
	}
	p, err = Document[policy.Policy](tx, school.KindPolicy, policy.ID, by.Policy)
	return p, by, err
}

// FollowPolicy brings the standings of a school to the policy and the standards
// that serve on its day at a moment, all of them or none. It reports whether there was anything to do.
func (s *Store) FollowPolicy(ctx context.Context, schoolID string, now time.Time) (done bool, err error) {
	err = s.In(ctx, schoolID, func(_ context.Context, tx *Tx) error {
		_, kept, err := tx.derivedBy()
		if err != nil {
			return err
		}
		serving, err := tx.Policy(tx.Day(now))
		if err != nil {
			return err
		}
		packs, err := tx.Packs(tx.Day(now))
		if err != nil {
			return err
		}
		next := governed{Policy: serving.Version, Moves: standard.Moves(packs)}
		if next.Policy == tx.defaultPolicy().Version {
			next.Policy = 0
		}
		if next.Policy == kept.Policy && maps.Equal(next.Moves, kept.Moves) {
			return nil
		}
		text, err := json.Marshal(next)
		if err != nil {
			return err
		}
		head, err := tx.bump()
		if err != nil {
			return err
		}
		if err := tx.db.Exec("update school_feed set governed = ?::json where school_id = ?", string(text), tx.School).Error; err != nil {
			return fmt.Errorf("keeping by what standings are kept: %w", err)
		}
		students, err := tx.Students()
		if err != nil {
			return err
		}
		for _, st := range students {
			if err := tx.deriveStandings(st.ID); err != nil {
				return fmt.Errorf("student %s: %w", st.ID, err)
			}
			if err := tx.changed(head.Seq, "student", st.ID); err != nil {
				return err
			}
		}
		done = true
		return nil
	})
	return done, err
}

func (tx *Tx) deriveStandings(student string) error {
	standings, criticals, err := tx.standingRows(student)
	if err != nil {
		return err
	}
	for _, t := range []struct {
		table, columns string
		rows           []map[string]any
	}{
		{"standings", "element text, held text, newest date, lapses_on date, lessons integer, history json", standings},
		{"open_criticals", "lesson_id uuid, item text, on_day date, class text", criticals},
	} {
		if err := tx.db.Exec("delete from "+t.table+" where school_id = ? and student_id = ?", tx.School, student).Error; err != nil {
			return err
		}
		if len(t.rows) == 0 {
			continue
		}
		data, err := json.Marshal(t.rows)
		if err != nil {
			return err
		}
		names := "student_id, " + columnList(t.columns)
		if err := tx.db.Exec("insert into "+t.table+" (school_id, "+names+") select ?::uuid, ?::uuid, "+columnList(t.columns)+
			" from json_to_recordset(?::json) as r("+t.columns+")", tx.School, student, string(data)).Error; err != nil {
			return err
		}
	}
	return nil
}

func columnList(columns string) string {
	names := readTable{columns: columns}.names()
	out := names[0]
	for _, n := range names[1:] {
		out += ", " + n
	}
	return out
}

// criticalLevels are the levels, oldest first, of those items that the student
// ever had at level 0: on them critical errors stand open or were answered.
func (tx *Tx) criticalLevels(student string) ([]progress.ItemLevel, error) {
	type level struct {
		LessonID string
		OpenedAt time.Time
		Type     string
		Item     string
		Level    int
	}
	kept, err := rows[level](tx, `with of_student as (select id, opened_at, opened->>'aircraftType' as type from lessons where school_id = @school and student_id = @student and status = 'signed'),
		zero as (select distinct r.item from item_results r join of_student l on l.id = r.lesson_id where r.school_id = @school and r.level = 0)
		select r.lesson_id, l.opened_at, l.type, r.item, r.level from item_results r join of_student l on l.id = r.lesson_id join zero using (item)
		where r.school_id = @school and r.level is not null order by l.opened_at, r.lesson_id, r.position`,
		map[string]any{"school": tx.School, "student": student})
	if err != nil {
		return nil, fmt.Errorf("reading item results: %w", err)
	}
	out := make([]progress.ItemLevel, len(kept))
	classes := map[string]string{}
	for i, k := range kept {
		if _, known := classes[k.Type]; !known {
			t, err := tx.Type(k.Type, lastDay)
			if err != nil {
				return nil, err
			}
			classes[k.Type] = t.Class
		}
		out[i] = progress.ItemLevel{Lesson: k.LessonID, Date: tx.Day(k.OpenedAt), Item: k.Item, Class: classes[k.Type], Level: k.Level}
	}
	return out, nil
}

// Standing is a stored standing of one student in one element.
type Standing struct {
	StudentID string
	Element   string
	Held      string
	Newest    Date
	LapsesOn  Date
	Lessons   int
}

// Standings lists the stored standings of all students, or of one. A large
// school has tens of thousands: they are scanned by hand.
func (tx *Tx) Standings(student string) ([]Standing, error) {
	kept, err := tx.db.Raw(`select student_id::text, element, held, newest::text, coalesce(lapses_on::text, ''), lessons from standings
		where school_id = @school and (@student = '' or student_id = nullif(@student, '')::uuid) order by student_id, element`,
		map[string]any{"school": tx.School, "student": student}).Rows()
	if err != nil {
		return nil, fmt.Errorf("reading standings: %w", err)
	}
	defer kept.Close()
	out := []Standing{}
	for kept.Next() {
		var k Standing
		if err := kept.Scan(&k.StudentID, &k.Element, &k.Held, &k.Newest, &k.LapsesOn, &k.Lessons); err != nil {
			return nil, fmt.Errorf("reading standings: %w", err)
		}
		out = append(out, k)
	}
	return out, kept.Err()
}

// stageCheckRow is a stage check as it is kept.
type stageCheckRow struct {
	StudentID, LessonID, InstructorID string
	Stage, Class                      string
	OnDay                             Date
	Passed                            bool
}

// lastDay is after every other: what is not withdrawn is in force on it.
const lastDay = "9999-12-31"

// DecideCritical closes an open critical error of a student.
func (tx *Tx) DecideCritical(student, lessonID, item, why, by string, now time.Time) error {
	head, err := tx.bump()
	if err != nil {
		return err
	}
	open, err := tx.openCriticals(student)
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(open[student], func(o progress.ItemLevel) bool { return o.Lesson == lessonID && o.Item == item }) {
		return ErrNotFound
	}
	if err := tx.db.Create(&criticalDecision{tx.School, student, lessonID, item, why, by, now}).Error; err != nil {
		return fmt.Errorf("keeping the decision: %w", err)
	}
	if err := tx.deriveStandings(student); err != nil {
		return err
	}
	return tx.changed(head.Seq, "student", student)
}

func (tx *Tx) stageChecks(student string) (map[string][]progress.StageCheck, error) {
	query := tx.db.Table("stage_checks").Where("school_id = ?", tx.School).Order("on_day, lesson_id")
	if student != "" {
		query = query.Where("student_id = ?", student)
	}
	kept, err := find[stageCheckRow](query)
	if err != nil {
		return nil, fmt.Errorf("reading stage checks: %w", err)
	}
	out := map[string][]progress.StageCheck{}
	for _, k := range kept {
		out[k.StudentID] = append(out[k.StudentID], progress.StageCheck{Lesson: k.LessonID, Date: string(k.OnDay), Stage: k.Stage, Class: k.Class, Instructor: k.InstructorID, Passed: k.Passed})
	}
	return out, nil
}

func (tx *Tx) openCriticals(student string) (map[string][]progress.ItemLevel, error) {
	type critical struct {
		StudentID, LessonID, Item, Class string
		OnDay                            Date
	}
	query := tx.db.Table("open_criticals").Where("school_id = ?", tx.School).Order("on_day, lesson_id, item")
	if student != "" {
		query = query.Where("student_id = ?", student)
	}
	kept, err := find[critical](query)
	if err != nil {
		return nil, fmt.Errorf("reading critical errors: %w", err)
	}
	out := map[string][]progress.ItemLevel{}
	for _, k := range kept {
		out[k.StudentID] = append(out[k.StudentID], progress.ItemLevel{Lesson: k.LessonID, Date: string(k.OnDay), Item: k.Item, Class: k.Class})
	}
	return out, nil
}

// Case gathers all that a student's readiness rests on by a rule, except the
// packs, the list and the day; moves are the elements that became others.
func (tx *Tx) Case(s Student, p progress.Policy, moves map[string]string) (progress.Case, error) {
	c := progress.Case{Class: s.Class, Facts: map[string]progress.Facts{}, Recommending: s.InstructorID}
	seen, err := tx.observations(s, moves)
	if err != nil {
		return c, err
	}
	for element, observations := range seen {
		c.Facts[element] = p.Derive(element, observations)
	}
	checks, err := tx.stageChecks(s.ID)
	if err != nil {
		return c, err
	}
	c.StageChecks = checks[s.ID]
	c.Criticals, err = tx.criticalsUnder(s.ID, p)
	return c, err
}

// Cases are the cases of many students at a glance, by their ids, read from
// what was derived when their lessons were signed.
func (tx *Tx) Cases(students []Student) (map[string]progress.Case, error) {
	standings, err := tx.Standings("")
	if err != nil {
		return nil, err
	}
	checks, err := tx.stageChecks("")
	if err != nil {
		return nil, err
	}
	criticals, err := tx.openCriticals("")
	if err != nil {
		return nil, err
	}
	out := map[string]progress.Case{}
	for _, s := range students {
		out[s.ID] = progress.Case{Class: s.Class, Facts: map[string]progress.Facts{}, Recommending: s.InstructorID, StageChecks: checks[s.ID], Criticals: criticals[s.ID]}
	}
	for _, k := range standings {
		if c, known := out[k.StudentID]; known {
			c.Facts[k.Element] = progress.Facts{Element: k.Element, Held: k.Held, Newest: string(k.Newest), LapsesOn: string(k.LapsesOn), Lessons: k.Lessons}
		}
	}
	return out, nil
}

// Flown is how many lessons a student has had, and when the last was opened.
type Flown struct {
	StudentID string
	N         int
	Last      time.Time
}

// Flown counts the lessons of every student, by their ids.
func (tx *Tx) Flown() (map[string]Flown, error) {
	all, err := rows[Flown](tx, "select student_id, count(*) as n, max(opened_at) as last from lessons where school_id = ? group by student_id", tx.School)
	out := map[string]Flown{}
	for _, f := range all {
		out[f.StudentID] = f
	}
	return out, err
}

// RebuildLesson makes a lesson's read tables anew, reading its seal first.
func (tx *Tx) RebuildLesson(lessonID string) error {
	head, err := tx.bump()
	if err != nil {
		return err
	}
	row, err := tx.Lesson(lessonID)
	if errors.Is(err, ErrNotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	events, err := tx.Events(lessonID)
	if err != nil {
		return err
	}
	l, err := tx.fold(row, events)
	if err != nil {
		return fmt.Errorf("lesson %s: %w", lessonID, err)
	}
	if _, err := tx.derive(row, &folded{lesson: l}, row.LastSeq); err != nil {
		return fmt.Errorf("lesson %s: %w", lessonID, err)
	}
	return tx.changed(head.Seq, "lesson", lessonID)
}

// RebuildStanding makes a student's standings anew.
func (tx *Tx) RebuildStanding(student string) error {
	head, err := tx.bump()
	if err != nil {
		return err
	}
	if err := tx.deriveStandings(student); err != nil {
		return fmt.Errorf("student %s: %w", student, err)
	}
	return tx.changed(head.Seq, "student", student)
}

// Rebuild makes all read tables of a school anew: lesson by lesson, then student
// by student, each in a transaction of its own, so that the school's lock is
// never held for long.
func (s *Store) Rebuild(ctx context.Context, schoolID string, progress func(done, total int)) error {
	var lessons, students []string
	err := s.In(ctx, schoolID, func(_ context.Context, tx *Tx) (err error) {
		if lessons, err = tx.LessonIDs(); err != nil {
			return err
		}
		return tx.own(&student{}).Order("id").Pluck("id", &students).Error
	})
	if err != nil {
		return err
	}
	total := len(lessons) + len(students)
	for i := range total {
		err := s.In(ctx, schoolID, func(_ context.Context, tx *Tx) error {
			if i < len(lessons) {
				return tx.RebuildLesson(lessons[i])
			}
			return tx.RebuildStanding(students[i-len(lessons)])
		})
		if err != nil {
			return err
		}
		progress(i+1, total)
	}
	return nil
}

// LessonIDs lists every lesson of the school, oldest first.
func (tx *Tx) LessonIDs() ([]string, error) {
	out := []string{}
	return out, tx.own(&lessonRow{}).Order("opened_at, id").Pluck("id", &out).Error
}
