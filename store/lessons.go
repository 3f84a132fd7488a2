package store

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
)

// Lesson is a lesson's row in lists.
type Lesson struct {
	ID           string    `json:"id"`
	StudentID    string    `json:"studentId"`
	Student      string    `json:"student"`
	InstructorID string    `json:"instructorId"`
	Instructor   string    `json:"instructor"`
	Registration string    `json:"registration"`
	Type         string    `json:"type"`
	OpenedAt     time.Time `json:"openedAt"`
	Status       string    `json:"status" enum:"open,ended,signed"`
	Marked       int       `json:"marked"`
	Total        int       `json:"total"`
	Phases       string    `json:"phases"`
	Purpose      string    `json:"purpose"`
	Runway       string    `json:"runway"`
	Wind         string    `json:"wind"`
}

const lessonColumns = `select l.id, l.student_id, s.name as student, l.instructor_id, i.name as instructor, l.registration, c.type,
	l.opened_at, l.status, l.marked, l.total, l.phases, l.opened->>'purpose' as purpose,
	coalesce(l.opened->>'runway', '') as runway, coalesce(l.opened->>'wind', '') as wind
	from lessons l join accounts s on s.id = l.student_id join accounts i on i.id = l.instructor_id
	join aircraft c on c.school_id = l.school_id and c.registration = l.registration where l.school_id = ?`

// Lessons lists lessons, newest first: of a student when one is given, and
// opened since a moment.
func (tx *Tx) Lessons(student string, since time.Time) ([]Lesson, error) {
	query, args := lessonColumns+" and l.opened_at >= ?", []any{tx.School, since}
	if student != "" {
		query, args = query+" and l.student_id = ?", append(args, student)
	}
	return rows[Lesson](tx, query+" order by l.opened_at desc, l.id", args...)
}

// Unsigned lists lessons that are open, or ended and not signed, newest first.
func (tx *Tx) Unsigned() ([]Lesson, error) {
	return rows[Lesson](tx, lessonColumns+" and l.status <> 'signed' order by l.opened_at desc, l.id", tx.School)
}

// Lesson finds one lesson.
func (tx *Tx) Lesson(id string) (Lesson, error) {
	return row[Lesson](tx, lessonColumns+" and l.id = ?", tx.School, id)
}

// eventRow is an event as it is kept.
type eventRow struct {
	ID         string
	Device     string
	Seq        int64
	Counter    int64
	AtMs       int64
	Wall       string
	Kind       string
	V          int
	Payload    []byte
	SentBy     string
	ReceivedAt time.Time
}

// Events are all events of a lesson.
func (tx *Tx) Events(id string) ([]lesson.Event, error) {
	kept, err := rows[eventRow](tx, `select id, device, seq, counter, at_ms, wall, kind, v, payload::text as payload, sent_by, received_at
		from lesson_events where school_id = ? and lesson_id = ? order by counter, device, seq, id`, tx.School, id)
	if err != nil {
		return nil, fmt.Errorf("reading events: %w", err)
	}
	events := make([]lesson.Event, len(kept))
	for i, k := range kept {
		events[i] = lesson.Event{ID: k.ID, Device: k.Device, Seq: k.Seq, Counter: k.Counter, AtMs: k.AtMs, Wall: k.Wall, Kind: k.Kind,
			V: k.V, Payload: k.Payload, By: k.SentBy, Received: k.ReceivedAt.UTC().Format(time.RFC3339)}
	}
	return events, nil
}

// Sender is who sends events, and whether they answer for all lessons.
type Sender struct {
	ID    string
	Chief bool
}

// BatchError says why a batch as a whole was refused.
type BatchError struct {
	Field  string
	Reason string
}

func (e *BatchError) Error() string { return e.Field + " " + e.Reason }

// Accept takes a batch of a lesson's events in and derives what follows, in
// the transaction's one commit. Each event is answered. A lesson begins with
// the batch that holds its opening event.
func (tx *Tx) Accept(id string, events []lesson.Event, by Sender, now time.Time) ([]lesson.Answer, error) {
	seq, err := tx.bump()
	if err != nil {
		return nil, err
	}
	answers := make([]lesson.Answer, len(events))
	var sound []lesson.Event
	for i, e := range events {
		answers[i] = lesson.Answer{ID: e.ID, Status: "held"}
		err := e.Validate()
		if err == nil && e.Kind == lesson.KindSealed {
			err = errors.New("kind sealed is written by the server when a lesson is signed")
		}
		if err != nil {
			answers[i] = lesson.Answer{ID: e.ID, Status: "refused", Reason: err.Error()}
			continue
		}
		sound = append(sound, e)
	}
	if err := tx.begin(id, sound, by, now); err != nil {
		return nil, err
	}
	fresh, err := tx.insert(id, sound, by.ID, now)
	if err != nil {
		return nil, err
	}
	all, err := tx.Events(id)
	if err != nil {
		return nil, err
	}
	held := make(map[string][]byte, len(all))
	for _, e := range all {
		held[e.ID] = e.Canonical()
	}
	for i, e := range events {
		if answers[i].Status == "refused" {
			continue
		}
		switch {
		case !bytes.Equal(held[e.ID], e.Canonical()):
			answers[i] = lesson.Answer{ID: e.ID, Status: "refused", Reason: "id is already held with another content"}
		case !fresh[e.ID]:
			answers[i].Status = "known"
		}
	}
	if len(fresh) == 0 {
		return answers, nil
	}
	if err := tx.derive(id, all); err != nil {
		return nil, err
	}
	return answers, tx.changed(seq, "lesson", id)
}

// begin makes the lesson's row from its opening event, where it is new, and
// refuses people who have no part in it.
func (tx *Tx) begin(id string, events []lesson.Event, by Sender, now time.Time) error {
	known, err := tx.Lesson(id)
	if err == nil {
		if known.InstructorID != by.ID && !by.Chief {
			return &BatchError{"lesson", "belongs to another instructor; only they or the chief instructor may add to it"}
		}
		return nil
	}
	if !errors.Is(err, ErrNotFound) {
		return err
	}
	for _, e := range events {
		if e.Kind != lesson.KindOpened {
			continue
		}
		var opened lesson.Opened
		if err := json.Unmarshal(e.Payload, &opened); err != nil {
			return &BatchError{"payload", err.Error()}
		}
		return tx.open(id, e, opened, by, now)
	}
	return &BatchError{"events", "do not hold the event that opens the lesson, and the school has no such lesson"}
}

func (tx *Tx) open(id string, e lesson.Event, opened lesson.Opened, by Sender, now time.Time) error {
	if opened.Instructor != by.ID && !by.Chief {
		return &BatchError{"payload.instructor", "must be you: a lesson is opened by its instructor"}
	}
	if _, err := tx.Student(opened.Student); errors.Is(err, ErrNotFound) || err != nil && isNotUUID(err) {
		return &BatchError{"payload.student", "is no student of this school"}
	} else if err != nil {
		return err
	}
	fleet, err := tx.Aircraft()
	if err != nil {
		return err
	}
	kind := ""
	for _, a := range fleet {
		if a.Registration == opened.Aircraft {
			kind = a.Type
		}
	}
	switch {
	case kind == "":
		return &BatchError{"payload.aircraft", "is no aircraft of this school"}
	case kind != opened.AircraftType:
		return &BatchError{"payload.aircraftType", fmt.Sprintf("is not that of %s, which is of type %s", opened.Aircraft, kind)}
	}
	book, err := tx.book(opened)
	if err != nil {
		return &BatchError{"payload", err.Error()}
	}
	if err := tx.checkFlown(opened); err != nil {
		return err
	}
	summary, err := summaryOf(opened)
	if err != nil {
		return err
	}
	openedAt, err := time.Parse(time.RFC3339, e.Wall)
	if err != nil || openedAt.After(now.Add(24*time.Hour)) {
		openedAt = now
	}
	err = tx.db.Exec(`insert into lessons (school_id, id, student_id, instructor_id, registration, opened_at, opened, status, marked, total, phases)
		values (?, ?, ?, ?, ?, ?, ?, 'open', 0, ?, '')`, tx.School, id, opened.Student, opened.Instructor, opened.Aircraft,
		openedAt.UTC(), string(summary), len(book.List.Places())).Error
	if err != nil {
		return fmt.Errorf("opening the lesson: %w", err)
	}
	return nil
}

// summaryOf is the opening event as it is kept in the lesson's row: of the list
// as flown only what it was made of. The event itself keeps all.
func summaryOf(opened lesson.Opened) ([]byte, error) {
	if opened.Flown != nil {
		short := *opened.Flown
		short.List, short.Reasons = checklist.List{}, nil
		opened.Flown = &short
	}
	return json.Marshal(opened)
}

// isNotUUID reports the error of comparing an id column with what is no UUID.
func isNotUUID(err error) bool { return strings.Contains(err.Error(), "22P02") }

// insert adds events that are not yet held, in one statement, and tells which
// those were.
func (tx *Tx) insert(id string, events []lesson.Event, by string, now time.Time) (map[string]bool, error) {
	batch, err := json.Marshal(events)
	if err != nil {
		return nil, err
	}
	ids, err := rows[string](tx, `insert into lesson_events
		(school_id, lesson_id, id, device, seq, counter, at_ms, wall, kind, v, payload, sent_by, received_at)
		select ?::uuid, ?::uuid, e.id, e.device, e.seq, e.counter, e."atMs", e.wall, e.kind, e.v, e.payload, ?::uuid, ?::timestamptz
		from json_to_recordset(?::json) as e(id uuid, device text, seq bigint, counter bigint, "atMs" bigint, wall text, kind text, v integer, payload json)
		on conflict do nothing returning id`, tx.School, id, by, now, string(batch))
	if err != nil {
		return nil, fmt.Errorf("keeping events: %w", err)
	}
	fresh := make(map[string]bool, len(ids))
	for _, id := range ids {
		fresh[id] = true
	}
	return fresh, nil
}

// LessonsBefore counts the student's lessons that were opened before this one.
func (tx *Tx) LessonsBefore(l Lesson) (int, error) {
	return row[int](tx, "select count(*) from lessons where school_id = ? and student_id = ? and opened_at < ?", tx.School, l.StudentID, l.OpenedAt)
}
