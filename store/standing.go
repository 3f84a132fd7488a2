package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"gorm.io/gorm"

	"jetprimer/core/library"
	"jetprimer/core/policy"
	"jetprimer/core/progress"
	"jetprimer/core/standard"
)

// signedLater are a student's lessons that were signed after a day: what was shown
// on it did not rest on them.
func (tx *Tx) signedLater(student, day string) ([]string, error) {
	if day == lastDay {
		return nil, nil
	}
	key := student + " " + day
	if known, looked := tx.later[key]; looked {
		return known, nil
	}
	later, err := rows[string](tx, `select l.id from lessons l join seals k on k.school_id = l.school_id and k.lesson_id = l.id
		where l.school_id = ? and l.student_id = ? group by l.id having (min(k.signed_at) at time zone ?)::date > ?`,
		tx.School, student, tx.Zone.String(), day)
	if err != nil {
		return nil, fmt.Errorf("looking when lessons were signed: %w", err)
	}
	if tx.later == nil {
		tx.later = map[string][]string{}
	}
	tx.later[key] = later
	return later, nil
}

// butFor leaves lessons out of a query; column names them.
func butFor(query *gorm.DB, column string, lessons []string) *gorm.DB {
	if len(lessons) == 0 {
		return query
	}
	return query.Where(column+" not in ?", lessons)
}

// observations are those of lessons signed by a day that count for the student's
// class, engine kind and start type, oldest first, by element, and their lessons.
// An element that became another is told by what it became. What was practised outside
// an aircraft is among them where practice counts.
func (tx *Tx) observations(s Student, moves map[string]string, day string,
	practice bool) (map[string][]progress.Observation, []progress.Seen, error) {
	later, err := tx.signedLater(s.ID, day)
	if err != nil {
		return nil, nil, err
	}
	// They are the most that is read of a student: they are scanned by hand.
	of := butFor(tx.db.Table("observations"), "lesson_id", later)
	if !practice {
		of = of.Where("practice = 'aircraft'")
	}
	const columns = "element, %s::text as lesson_id, item, mark, %s, class, engine_kind, start_type, %s, " +
		"on_day::text, level, implied, oral, practice, %s as at, ordinal"
	own := "school_id = ? and student_id = ? and class = ? and engine_kind = ? and start_type = ?"
	of = of.Select(fmt.Sprintf(columns, "lesson_id", "registration", "instructor_id::text", "opened_at")).Where(own,
		tx.School, s.ID, s.Class, s.EngineKind, s.StartType)
	all := tx.db.Table("(?) o", of)
	if practice {
		stand := tx.db.Table("practice_observations").Select(fmt.Sprintf(strings.Replace(columns, "practice,",
			"'stand' as practice,", 1), "run_id", "'stand' as registration", "'stand' as instructor_id", "made_at")).
			Where(own, tx.School, s.ID, s.Class, s.EngineKind, s.StartType).Where("on_day <= ?", day)
		all = tx.db.Table("(? union all ?) o", of, stand)
	}
	kept, err := all.Order("at, lesson_id, ordinal").Rows()
	if err != nil {
		return nil, nil, fmt.Errorf("reading observations: %w", err)
	}
	defer kept.Close()
	out := map[string][]progress.Observation{}
	var lessons []progress.Seen
	for kept.Next() {
		var k progress.Observation
		var at time.Time
		var ordinal int
		if err := kept.Scan(&k.Element, &k.Lesson, &k.Item, &k.Mark, &k.Aircraft, &k.Class, &k.EngineKind, &k.StartType,
			&k.Instructor, &k.Date, &k.Level, &k.Implied, &k.Oral, &k.Practice, &at, &ordinal); err != nil {
			return nil, nil, fmt.Errorf("reading observations: %w", err)
		}
		if len(lessons) == 0 || lessons[len(lessons)-1].Lesson != k.Lesson {
			lessons = append(lessons, progress.Seen{Lesson: k.Lesson, Date: k.Date})
		}
		if to, moved := moves[k.Element]; moved {
			k.Element = to
		}
		out[k.Element] = append(out[k.Element], k)
	}
	return out, lessons, kept.Err()
}

// studentTable is a table of what was derived of each student, with the rows that
// it is to hold of one.
type studentTable struct {
	readTable
	rows []map[string]any
}

// studentTables are what is kept of a student: the standings, the critical errors
// that stand open, and the course of the lessons.
func (tx *Tx) studentTables(student string) ([]studentTable, error) {
	s, err := tx.Student(student)
	if err != nil {
		return nil, err
	}
	policy, by, err := tx.derivedBy()
	if err != nil {
		return nil, err
	}
	c, lessons, err := tx.Case(s, policy.Standing, by.Moves, lastDay)
	if err != nil {
		return nil, err
	}
	standings, criticals := []map[string]any{}, []map[string]any{}
	for element, f := range c.Facts {
		var lapses any
		if f.LapsesOn != "" {
			lapses = f.LapsesOn
		}
		standings = append(standings, map[string]any{
			"element": element, "held": f.Held, "newest": f.Newest, "lapses_on": lapses, "lessons": f.Lessons,
			"needs": f.Needs, "history": f.History,
		})
	}
	for _, o := range c.Criticals {
		criticals = append(criticals, map[string]any{
			"lesson_id": o.Lesson, "item": o.Item, "on_day": o.Date, "class": o.Class,
		})
	}
	courses := []map[string]any{}
	if by.Asked != nil && len(lessons) > 0 {
		var ids, days []string
		var met, checks []int
		for _, point := range policy.Standing.Course(c, by.Asked[s.Class], lessons) {
			ids, days, met, checks = append(ids, point.Lesson), append(days, point.Date), append(met,
				point.Met), append(checks, point.Checks)
		}
		courses = append(courses, map[string]any{"lessons": ids, "days": days, "met": met, "checks": checks})
	}
	return []studentTable{
		{
			readTable{
				"standings", "element",
				"element text, held text, newest date, lapses_on date, lessons integer, needs integer, history json",
			},
			standings,
		},
		{readTable{"open_criticals", "lesson_id", "lesson_id uuid, item text, on_day date, class text"}, criticals},
		{readTable{"courses", "student_id", "lessons json, days json, met json, checks json"}, courses},
	}, nil
}

// criticalsUnder are the critical errors that stood open on a day by a rule, and that
// the chief instructor had not decided on.
func (tx *Tx) criticalsUnder(student string, p progress.Policy, day string) ([]progress.ItemLevel, error) {
	levels, err := tx.criticalLevels(student, day)
	if err != nil {
		return nil, err
	}
	decided, err := find[criticalDecision](tx.own(&criticalDecision{}).Where("student_id = ? and (decided_at at "+
		"time zone ?)::date <= ?", student, tx.Zone.String(), day))
	if err != nil {
		return nil, fmt.Errorf("reading decisions on critical errors: %w", err)
	}
	return slices.DeleteFunc(p.OpenCriticals(levels), func(o progress.ItemLevel) bool {
		return slices.ContainsFunc(decided,
			func(d criticalDecision) bool { return d.LessonID == o.Lesson && d.Item == o.Item })
	}), nil
}

// governed is by what the standings of a school are kept: the version of its
// policy, 0 for that of a school that has written none, the elements that became
// others, and those that each class is held to; of a school that has none yet no
// courses are kept.
type governed struct {
	Policy int                 `json:"policy,omitempty"`
	Moves  map[string]string   `json:"moves,omitempty"`
	Asked  map[string][]string `json:"asked,omitempty"`
}

// ofBefore reports whether a program of an earlier version, which knew of no needs, has
// kept standings of the school that were not made anew since.
func (tx *Tx) ofBefore() (bool, error) {
	return row[bool](tx, "select exists (select from standings where school_id = ? and needs is null)", tx.School)
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
	p, err = Document[policy.Policy](tx, library.KindPolicy, policy.ID, by.Policy)
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
		next := governed{
			Policy: serving.Version, Moves: standard.Moves(packs),
			Asked: progress.Asked(serving.Standing.Standards, packs),
		}
		if next.Policy == tx.defaultPolicy().Version {
			next.Policy = 0
		}
		before, err := tx.ofBefore()
		if err != nil {
			return err
		}
		if !before && next.Policy == kept.Policy && maps.Equal(next.Moves, kept.Moves) &&
			maps.EqualFunc(next.Asked, kept.Asked, slices.Equal) {
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
		if err := tx.db.Exec("update school_feed set governed = ?::json where school_id = ?", string(text),
			tx.School).Error; err != nil {
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
	tables, err := tx.studentTables(student)
	if err != nil {
		return err
	}
	for _, t := range tables {
		if err := tx.db.Exec("delete from "+t.name+" where school_id = ? and student_id = ?", tx.School,
			student).Error; err != nil {
			return err
		}
		if len(t.rows) == 0 {
			continue
		}
		data, err := json.Marshal(t.rows)
		if err != nil {
			return err
		}
		names := strings.Join(t.names(), ", ")
		if err := tx.db.Exec("insert into "+t.name+" (school_id, student_id, "+names+") select ?::uuid, ?::uuid, "+
			names+
			" from json_to_recordset(?::json) as r("+t.columns+
			")", tx.School, student, string(data)).Error; err != nil {
			return err
		}
	}
	return nil
}

// criticalLevels are the levels of lessons signed by a day, oldest first, of those
// items that the student had at level 0: on them critical errors stand open or were answered.
func (tx *Tx) criticalLevels(student, day string) ([]progress.ItemLevel, error) {
	type level struct {
		LessonID string
		OpenedAt time.Time
		Type     string
		Item     string
		Level    int
	}
	later, err := tx.signedLater(student, day)
	if err != nil {
		return nil, err
	}
	flown := func() *gorm.DB {
		return butFor(tx.db.Table("item_results r"), "l.id", later).Joins("join lessons l on l.school_id = "+
			"r.school_id and l.id = r.lesson_id").
			Where("r.school_id = ? and l.student_id = ? and l.status = 'signed'", tx.School, student)
	}
	kept, err := find[level](flown().
		Select("r.lesson_id, l.opened_at, l.opened->>'aircraftType' as type, r.item, r.level").
		Where("r.level is not null and r.item in (?)",
			flown().Select("r.item").Where("r.level = 0")).Order("l.opened_at, r.lesson_id, r.position"))
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
		out[i] = progress.ItemLevel{
			Lesson: k.LessonID, Date: tx.Day(k.OpenedAt), Item: k.Item, Class: classes[k.Type], Level: k.Level,
		}
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
	Needs     int
}

// Standings lists the stored standings of all students, or of one. A large
// school has tens of thousands: they are scanned by hand.
func (tx *Tx) Standings(student string) ([]Standing, error) {
	kept, err := tx.db.Raw(`select student_id::text, element, held, newest::text, coalesce(lapses_on::text, ''), lessons,
		coalesce(needs, 0) from standings
		where school_id = @school and (@student = '' or student_id = nullif(@student, '')::uuid) order by student_id, element`,
		map[string]any{"school": tx.School, "student": student}).Rows()
	if err != nil {
		return nil, fmt.Errorf("reading standings: %w", err)
	}
	defer kept.Close()
	out := []Standing{}
	for kept.Next() {
		var k Standing
		if err := kept.Scan(&k.StudentID, &k.Element, &k.Held, &k.Newest, &k.LapsesOn, &k.Lessons,
			&k.Needs); err != nil {
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
	if !slices.ContainsFunc(open[student],
		func(o progress.ItemLevel) bool { return o.Lesson == lessonID && o.Item == item }) {
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
		out[k.StudentID] = append(out[k.StudentID], progress.StageCheck{
			Lesson: k.LessonID, Date: string(k.OnDay), Stage: k.Stage, Class: k.Class, Instructor: k.InstructorID,
			Passed: k.Passed,
		})
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
		out[k.StudentID] = append(out[k.StudentID], progress.ItemLevel{
			Lesson: k.LessonID, Date: string(k.OnDay), Item: k.Item, Class: k.Class,
		})
	}
	return out, nil
}

// Case gathers all that a student's readiness rested on by a rule on a day, except
// the packs and the list, with the lessons that count, oldest first; moves are the
// elements that became others.
func (tx *Tx) Case(s Student, p progress.Policy, moves map[string]string,
	day string) (progress.Case, []progress.Seen, error) {
	c := progress.Case{AsOf: day, Class: s.Class, Facts: map[string]progress.Facts{}, Recommending: s.InstructorID}
	seen, lessons, err := tx.observations(s, moves, day, p.PracticeCounts)
	if err != nil {
		return c, nil, err
	}
	for element, observations := range seen {
		c.Facts[element] = p.Derive(element, observations)
	}
	checks, err := tx.stageChecks(s.ID)
	if err != nil {
		return c, nil, err
	}
	signed := map[string]bool{}
	for _, l := range lessons {
		signed[l.Lesson] = true
	}
	c.StageChecks = slices.DeleteFunc(checks[s.ID], func(s progress.StageCheck) bool { return !signed[s.Lesson] })
	c.Criticals, err = tx.criticalsUnder(s.ID, p, day)
	return c, lessons, err
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
		out[s.ID] = progress.Case{
			Class: s.Class, Facts: map[string]progress.Facts{}, Recommending: s.InstructorID, StageChecks: checks[s.ID],
			Criticals: criticals[s.ID],
		}
	}
	for _, k := range standings {
		if c, known := out[k.StudentID]; known {
			c.Facts[k.Element] = progress.Facts{
				Element: k.Element, Held: k.Held, Newest: string(k.Newest), LapsesOn: string(k.LapsesOn),
				Lessons: k.Lessons, Needs: k.Needs,
			}
		}
	}
	return out, nil
}

// StudentCourse is a student's way so far, with what they train for.
type StudentCourse struct {
	StudentID, Class, EngineKind, StartType string
	Course                                  progress.Course
}

// Comparable reports whether two students train for the same.
func (c StudentCourse) Comparable(s Student) bool {
	return c.StudentID != s.ID && c.Class == s.Class && c.EngineKind == s.EngineKind && c.StartType == s.StartType
}

// Courses are the courses of everybody who is or was a student. Without days they
// say nothing but how many elements were met after each lesson, which is quicker.
func (tx *Tx) Courses(days bool) ([]StudentCourse, error) {
	columns := "'', '', ''"
	if days {
		columns = "c.lessons, c.days, c.checks"
	}
	kept, err := tx.db.Raw("select c.student_id::text, s.class, s.engine_kind, s.start_type, c.met, "+columns+
		" from courses c join students s on s.school_id = c.school_id and s.id = c.student_id where c.school_id = ? "+
		"order by 1", tx.School).Rows()
	if err != nil {
		return nil, fmt.Errorf("reading courses: %w", err)
	}
	defer kept.Close()
	out := []StudentCourse{}
	for kept.Next() {
		var k StudentCourse
		var met, ids, on, checks []byte
		if err := kept.Scan(&k.StudentID, &k.Class, &k.EngineKind, &k.StartType, &met, &ids, &on, &checks); err != nil {
			return nil, fmt.Errorf("reading courses: %w", err)
		}
		var each struct {
			met, checks []int
			ids, days   []string
		}
		read := []struct {
			from []byte
			to   any
		}{{met, &each.met}, {ids, &each.ids}, {on, &each.days}, {checks, &each.checks}}
		if !days {
			read = read[:1]
		}
		for _, r := range read {
			if err := json.Unmarshal(r.from, r.to); err != nil {
				return nil, fmt.Errorf("reading the course of %s: %w", k.StudentID, err)
			}
		}
		k.Course = make(progress.Course, len(each.met))
		for i := range k.Course {
			k.Course[i].Met = each.met[i]
			if days {
				k.Course[i].Lesson, k.Course[i].Date, k.Course[i].Checks = each.ids[i], each.days[i], each.checks[i]
			}
		}
		out = append(out, k)
	}
	return out, kept.Err()
}

// Flown is how many lessons a student has had, when the last was opened, and at
// which base its aircraft stands.
type Flown struct {
	StudentID string
	N         int
	Last      time.Time
	Base      string
}

// Flown counts the lessons of every student, by their ids.
func (tx *Tx) Flown() (map[string]Flown, error) {
	all, err := rows[Flown](tx, `select l.student_id, l.n, l.last, a.base from (
			select student_id, count(*) as n, max(opened_at) as last, (array_agg(registration order by opened_at desc))[1] as registration
			from lessons where school_id = @school and student_id is not null group by student_id) l
		join aircraft a on a.school_id = @school and a.registration = l.registration`, map[string]any{
		"school": tx.School,
	})
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
