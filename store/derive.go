package store

import (
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"jetprimer/core/lesson"
	"jetprimer/core/progress"
)

// fold makes a lesson's state from its events.
func (tx *Tx) fold(events []lesson.Event) (*lesson.Lesson, lesson.Book, error) {
	for _, e := range events {
		if e.Kind != lesson.KindOpened {
			continue
		}
		var opened lesson.Opened
		if err := json.Unmarshal(e.Payload, &opened); err != nil {
			return nil, lesson.Book{}, fmt.Errorf("reading the opening event: %w", err)
		}
		book, err := tx.book(opened)
		if err != nil {
			return nil, lesson.Book{}, err
		}
		l := lesson.New(book)
		l.Add(events...)
		return l, book, nil
	}
	return nil, lesson.Book{}, errors.New("the lesson has no opening event")
}

// State is a lesson's state with the book it was folded against. For a signed
// lesson it is the result that its first seal keeps, whatever the rules say
// now, with the addenda that came since.
func (tx *Tx) State(id string) (lesson.State, lesson.Book, []lesson.Event, error) {
	events, err := tx.Events(id)
	if err != nil {
		return lesson.State{}, lesson.Book{}, nil, err
	}
	l, book, err := tx.fold(events)
	if err != nil {
		return lesson.State{}, book, nil, err
	}
	state, err := tx.sealedState(id, l.State())
	return state, book, events, err
}

// derive makes the read tables of a lesson anew from all its events.
func (tx *Tx) derive(id string, events []lesson.Event) error {
	l, book, err := tx.fold(events)
	if err != nil {
		return err
	}
	state, err := tx.sealedState(id, l.State())
	if err != nil {
		return err
	}
	row, err := tx.Lesson(id)
	if err != nil {
		return err
	}
	if err := tx.deriveRow(id, state); err != nil {
		return fmt.Errorf("deriving the lesson: %w", err)
	}
	if err := tx.deriveItems(id, state); err != nil {
		return fmt.Errorf("deriving item results: %w", err)
	}
	if err := tx.deriveReadings(row, state); err != nil {
		return fmt.Errorf("deriving readings: %w", err)
	}
	if err := tx.deriveFindings(row, state); err != nil {
		return fmt.Errorf("deriving findings: %w", err)
	}
	if len(state.Seals) == 0 {
		return nil
	}
	if err := tx.deriveObservations(row, state, book); err != nil {
		return fmt.Errorf("deriving observations: %w", err)
	}
	return nil
}

func (tx *Tx) deriveRow(id string, state lesson.State) error {
	status := "open"
	switch {
	case len(state.Seals) > 0:
		status = "signed"
	case state.Ended:
		status = "ended"
	}
	marked := 0
	var phases []string
	for _, p := range state.Phases {
		marked += p.Marked
		if p.Marked > 0 {
			phases = append(phases, strings.ToLower(p.Title))
		}
	}
	return tx.db.Exec("update lessons set status = ?, marked = ?, phases = ? where school_id = ? and id = ?",
		status, marked, strings.Join(phases, ", "), tx.School, id).Error
}

// replace deletes a lesson's rows of a read table and inserts new ones from
// one JSON array, columns being a column definition list.
func (tx *Tx) replace(table, lessonID, columns string, rows any) error {
	if err := tx.db.Exec("delete from "+table+" where school_id = ? and lesson_id = ?", tx.School, lessonID).Error; err != nil {
		return err
	}
	data, err := json.Marshal(rows)
	if err != nil {
		return err
	}
	var names []string
	for _, c := range strings.Split(columns, ", ") {
		names = append(names, strings.Fields(c)[0])
	}
	list := strings.Join(names, ", ")
	return tx.db.Exec("insert into "+table+" (school_id, lesson_id, "+list+") select ?::uuid, ?::uuid, "+list+
		" from json_to_recordset(?::json) as r("+columns+")", tx.School, lessonID, string(data)).Error
}

func (tx *Tx) deriveItems(id string, state lesson.State) error {
	out := []map[string]any{}
	for _, item := range state.Items {
		if item.Level == nil && item.Status == "" {
			continue
		}
		out = append(out, map[string]any{"item": item.ID, "position": item.Position, "level": item.Level,
			"proposed": item.Proposed, "implied": item.Implied, "mark": item.Mark})
	}
	return tx.replace("item_results", id, "item text, position integer, level integer, proposed integer, implied boolean, mark text", out)
}

func at(l Lesson, ms int64) time.Time {
	return l.OpenedAt.Add(time.Duration(ms) * time.Millisecond).UTC()
}

func (tx *Tx) deriveReadings(l Lesson, state lesson.State) error {
	out := []map[string]any{}
	for _, r := range state.Readings {
		out = append(out, map[string]any{"event_id": r.Event, "registration": l.Registration, "check_name": r.Check, "engine": r.Engine,
			"attempt": r.Attempt, "item": r.Item, "reading": r.Reading, "verdict": r.Verdict, "at": at(l, r.AtMs)})
	}
	return tx.replace("readings", l.ID, "event_id uuid, registration text, check_name text, engine integer, attempt integer, item text, reading json, verdict json, at timestamptz", out)
}

func (tx *Tx) deriveFindings(l Lesson, state lesson.State) error {
	out := []map[string]any{}
	for _, f := range state.Findings {
		d := lesson.Decision{}
		if f.Decision != nil {
			d = *f.Decision
		}
		out = append(out, map[string]any{"event_id": f.Event, "registration": l.Registration, "item": f.Item, "words": f.Words,
			"decision": d.Decision, "told": d.Told, "why": d.Why, "at": at(l, f.AtMs)})
	}
	return tx.replace("findings", l.ID, "event_id uuid, registration text, item text, words text, decision text, told text, why text, at timestamptz", out)
}

// deriveObservations takes a signed lesson into the student's standing.
func (tx *Tx) deriveObservations(l Lesson, state lesson.State, book lesson.Book) error {
	day := l.OpenedAt.UTC().Format(time.DateOnly)
	out := []map[string]any{}
	for i, o := range progress.FromLesson(l.ID, day, state, book) {
		out = append(out, map[string]any{"student_id": l.StudentID, "ordinal": i, "element": o.Element, "item": o.Item, "level": o.Level,
			"implied": o.Implied, "oral": o.Oral, "mark": o.Mark, "registration": o.Aircraft, "class": o.Class, "engine_kind": o.EngineKind,
			"start_type": o.StartType, "instructor_id": o.Instructor, "on_day": o.Date, "opened_at": l.OpenedAt.UTC()})
	}
	err := tx.replace("observations", l.ID, `student_id uuid, ordinal integer, element text, item text, level integer, implied boolean, oral boolean, mark text, registration text, class text, engine_kind text, start_type text, instructor_id uuid, on_day date, opened_at timestamptz`, out)
	if err != nil {
		return err
	}
	checks := []map[string]any{}
	if s, ok := tx.shipped.Policy.StageCheckOf(l.ID, day, state, book.List); ok {
		checks = append(checks, map[string]any{"student_id": l.StudentID, "instructor_id": s.Instructor, "on_day": s.Date, "passed": s.Passed})
	}
	if err := tx.replace("stage_checks", l.ID, "student_id uuid, instructor_id uuid, on_day date, passed boolean", checks); err != nil {
		return err
	}
	return tx.deriveStandings(l.StudentID)
}

// observationRow is an observation as it is kept.
type observationRow struct {
	Element, LessonID, Item, Mark, Registration, Class, EngineKind, StartType, InstructorID, OnDay string
	Level                                                                                          int
	Implied, Oral                                                                                  bool
}

// observations are those that count for the student's class, engine kind and
// start type, oldest first, by element.
func (tx *Tx) observations(s Student) (map[string][]progress.Observation, error) {
	kept, err := rows[observationRow](tx, `select element, lesson_id, item, mark, registration, class, engine_kind, start_type, instructor_id,
		to_char(on_day, 'YYYY-MM-DD') as on_day, level, implied, oral from observations
		where school_id = ? and student_id = ? and class = ? and engine_kind = ? and start_type = ?
		order by opened_at, lesson_id, ordinal`, tx.School, s.ID, s.Class, s.EngineKind, s.StartType)
	if err != nil {
		return nil, fmt.Errorf("reading observations: %w", err)
	}
	out := map[string][]progress.Observation{}
	for _, k := range kept {
		out[k.Element] = append(out[k.Element], progress.Observation{Element: k.Element, Lesson: k.LessonID, Item: k.Item, Level: k.Level,
			Implied: k.Implied, Oral: k.Oral, Mark: k.Mark, Aircraft: k.Registration, Class: k.Class, EngineKind: k.EngineKind,
			StartType: k.StartType, Instructor: k.InstructorID, Date: k.OnDay})
	}
	return out, nil
}

func (tx *Tx) deriveStandings(student string) error {
	s, err := tx.Student(student)
	if err != nil {
		return err
	}
	seen, err := tx.observations(s)
	if err != nil {
		return err
	}
	if err := tx.db.Exec("delete from standings where school_id = ? and student_id = ?", tx.School, student).Error; err != nil {
		return err
	}
	out := []map[string]any{}
	for element, observations := range seen {
		f := tx.shipped.Policy.Derive(element, observations)
		var lapses any
		if f.LapsesOn != "" {
			lapses = f.LapsesOn
		}
		out = append(out, map[string]any{"element": element, "held": f.Held, "newest": f.Newest, "lapses_on": lapses, "lessons": f.Lessons, "history": f.History})
	}
	data, err := json.Marshal(out)
	if err != nil {
		return err
	}
	return tx.db.Exec(`insert into standings (school_id, student_id, element, held, newest, lapses_on, lessons, history)
		select ?::uuid, ?::uuid, element, held, newest, lapses_on, lessons, history
		from json_to_recordset(?::json) as r(element text, held text, newest date, lapses_on date, lessons integer, history json)`,
		tx.School, student, string(data)).Error
}

// Standing is a stored standing of one student in one element.
type Standing struct {
	StudentID string
	Element   string
	Held      string
	Newest    string
	LapsesOn  string
	Lessons   int
}

// Standings lists the stored standings of all students, or of one.
func (tx *Tx) Standings(student string) ([]Standing, error) {
	query, args := `select student_id, element, held, to_char(newest, 'YYYY-MM-DD') as newest,
		coalesce(to_char(lapses_on, 'YYYY-MM-DD'), '') as lapses_on, lessons from standings where school_id = ?`, []any{tx.School}
	if student != "" {
		query, args = query+" and student_id = ?", append(args, student)
	}
	return rows[Standing](tx, query+" order by student_id, element", args...)
}

// Case gathers all that a student's readiness rests on, except the packs, the
// list and the day.
func (tx *Tx) Case(s Student) (progress.Case, error) {
	c := progress.Case{Class: s.Class, Facts: map[string]progress.Facts{}, Recommending: s.InstructorID}
	seen, err := tx.observations(s)
	if err != nil {
		return c, err
	}
	for element, observations := range seen {
		c.Facts[element] = tx.shipped.Policy.Derive(element, observations)
	}
	c.StageChecks, err = rows[progress.StageCheck](tx, `select lesson_id as lesson, to_char(on_day, 'YYYY-MM-DD') as date, instructor_id as instructor, passed
		from stage_checks where school_id = ? and student_id = ? order by on_day, lesson_id`, tx.School, s.ID)
	if err != nil {
		return c, fmt.Errorf("reading stage checks: %w", err)
	}
	c.Criticals, err = rows[progress.ItemLevel](tx, `select r.lesson_id as lesson, to_char(l.opened_at at time zone 'UTC', 'YYYY-MM-DD') as date, r.item, r.level
		from item_results r join lessons l on l.school_id = r.school_id and l.id = r.lesson_id
		where r.school_id = ? and l.student_id = ? and l.status = 'signed' and r.level is not null
		order by l.opened_at, l.id, r.position`, tx.School, s.ID)
	if err != nil {
		return c, fmt.Errorf("reading item results: %w", err)
	}
	return c, nil
}

// Rebuild makes all read tables of the school anew, reading seals first.
func (tx *Tx) Rebuild(progress func(done, total int)) error {
	seq, err := tx.bump()
	if err != nil {
		return err
	}
	ids, err := rows[string](tx, "select id from lessons where school_id = ? order by opened_at, id", tx.School)
	if err != nil {
		return err
	}
	for i, id := range ids {
		events, err := tx.Events(id)
		if err != nil {
			return err
		}
		if err := tx.derive(id, events); err != nil {
			return fmt.Errorf("lesson %s: %w", id, err)
		}
		progress(i+1, len(ids))
	}
	return tx.changed(seq, "school", tx.School)
}
