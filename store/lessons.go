package store

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"gorm.io/gorm"

	"jetprimer/core/access"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/record"
	"jetprimer/core/school"
)

// Lesson is a lesson's row in lists, or that of a maintenance run, which has no
// student.
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
	// Flag is what is to be known of how the lesson came to be.
	Flag string `json:"flag,omitempty"`
	// Observers mark the lesson beside its instructor.
	Observers   IDs    `json:"observers"`
	OpenedEvent string `json:"-"`
	LastSeq     int64  `json:"-"`
}

func (tx *Tx) lessons() *gorm.DB {
	return tx.db.Table("lessons l").Select(`l.id, coalesce(l.student_id::text, '') as student_id, coalesce(s.name, '') as student, l.instructor_id, i.name as instructor, l.registration, c.type,
		l.opened_at, l.status, l.marked, l.total, l.phases, l.opened->>'purpose' as purpose,
		coalesce(l.opened->>'runway', '') as runway, coalesce(l.opened->>'wind', '') as wind, l.opened_event, l.last_seq, l.observers, l.flag`).
		Joins("left join memberships s on s.school_id = l.school_id and s.account_id = l.student_id").
		Joins("join memberships i on i.school_id = l.school_id and i.account_id = l.instructor_id").
		Joins("join aircraft c on c.school_id = l.school_id and c.registration = l.registration").
		Where("l.school_id = ?", tx.School).Order("l.opened_at desc, l.id")
}

// PageOfLessons is how many lessons a list shows at most.
const PageOfLessons = 200

// Run reports whether it is a maintenance run.
func (l Lesson) Run() bool { return l.Purpose == lesson.Maintenance }

// Lessons lists the newest lessons: of a student when one is given, opened from
// a moment on, and before another where that is given.
func (tx *Tx) Lessons(student string, since, before time.Time) ([]Lesson, error) {
	query := tx.lessons().Where("l.student_id is not null and l.opened_at >= ?", since)
	if student != "" {
		query = query.Where("l.student_id = ?", student)
	}
	if !before.IsZero() {
		query = query.Where("l.opened_at < ?", before)
	}
	return find[Lesson](query.Limit(PageOfLessons))
}

// Unsigned lists the newest lessons that are open, or ended and not signed.
func (tx *Tx) Unsigned() ([]Lesson, error) {
	return find[Lesson](tx.lessons().Where("l.student_id is not null and l.status <> 'signed'").Limit(PageOfLessons))
}

// Runs lists the newest maintenance runs on an aircraft.
func (tx *Tx) Runs(registration string, most int) ([]Lesson, error) {
	return find[Lesson](tx.lessons().Where("l.student_id is null and l.registration = ?", registration).Limit(most))
}

// LessonsOf lists the newest lessons that an instructor gave.
func (tx *Tx) LessonsOf(instructor string, most int) ([]Lesson, error) {
	return find[Lesson](tx.lessons().Where("l.student_id is not null and l.instructor_id = ?", instructor).Limit(most))
}

// Unacknowledged lists the newest signed lessons that a student has not
// acknowledged, or that were corrected and signed again since.
func (tx *Tx) Unacknowledged(student string) ([]Lesson, error) {
	return find[Lesson](tx.lessons().Where(`l.student_id = ? and l.status = 'signed' and not exists (select from seals a
		where a.school_id = l.school_id and a.lesson_id = l.id and a.subject = ? and a.number > (select max(k.number) from seals k
			where k.school_id = a.school_id and k.lesson_id = a.lesson_id and k.subject = ?))`, student,
		record.OfAcknowledgement, record.OfLesson).Limit(10))
}

// UnsignedRuns lists the newest maintenance runs of a person that are not signed.
func (tx *Tx) UnsignedRuns(person string) ([]Lesson, error) {
	return find[Lesson](tx.lessons().Where("l.student_id is null and l.status <> 'signed' and l.instructor_id = ?",
		person).Limit(20))
}

// Lesson finds one lesson.
func (tx *Tx) Lesson(id string) (Lesson, error) {
	return take[Lesson](tx.lessons().Where("l.id = ?", id))
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

func (k eventRow) event() lesson.Event {
	return lesson.Event{ID: k.ID, Device: k.Device, Seq: k.Seq, Counter: k.Counter, AtMs: k.AtMs, Wall: k.Wall,
		Kind: k.Kind,
		V:    k.V, Payload: k.Payload, By: k.SentBy, Received: k.ReceivedAt.UTC().Format(time.RFC3339)}
}

const eventColumns = "select id, device, seq, counter, at_ms, wall, kind, v, payload::text as payload, sent_by, " +
	"received_at from lesson_events where school_id = ? and lesson_id = ?"

// CountEvents is how many events a lesson has.
func (tx *Tx) CountEvents(id string) (int, error) {
	var n int64
	err := tx.db.Table("lesson_events").Where("school_id = ? and lesson_id = ?", tx.School, id).Count(&n).Error
	return int(n), err
}

// Events are all events of a lesson.
func (tx *Tx) Events(id string) ([]lesson.Event, error) {
	return tx.events(eventColumns+" order by counter, device, seq, id", tx.School, id)
}

func (tx *Tx) events(query string, args ...any) ([]lesson.Event, error) {
	kept, err := rows[eventRow](tx, query, args...)
	if err != nil {
		return nil, fmt.Errorf("reading events: %w", err)
	}
	events := make([]lesson.Event, len(kept))
	for i, k := range kept {
		events[i] = k.event()
	}
	return events, nil
}

// Sender is who sends events, and in which role.
type Sender struct {
	ID    string
	Roles access.Roles
	// Asks says that the person waits for the answer before a lesson is opened:
	// one on an aircraft that stands on the ground is refused. Otherwise it was
	// opened without the school, and is kept and flagged.
	Asks bool
}

// Accept takes a batch of a lesson's events in and derives what follows, in
// the transaction's one commit. Each event is answered. A lesson begins with
// the batch that holds its opening event. What can be checked without the
// school's lock is checked before it is taken.
func (tx *Tx) Accept(id string, events []lesson.Event, by Sender, now time.Time) ([]lesson.Taken, error) {
	b := batch{tx: tx, id: id, by: by, now: now, events: events, answers: make([]lesson.Taken, len(events))}
	for i, e := range events {
		b.answers[i] = lesson.Taken{ID: e.ID, Status: "held"}
		if e.Kind == lesson.KindSealed || e.Kind == lesson.KindAcknowledged {
			b.refuse(i, "kind "+e.Kind+" is written by the server when a lesson is signed or answered")
		} else if err := e.Validate(); err != nil {
			b.refuse(i, err.Error())
		}
	}
	if len(b.sound()) == 0 {
		return b.answers, nil
	}
	if err := b.find(); err != nil {
		return nil, err
	}
	head, err := tx.bump()
	if err != nil {
		return nil, err
	}
	if err := b.begin(); err != nil {
		return nil, err
	}
	if err := b.part(); err != nil {
		return nil, err
	}
	b.openings()
	fresh, err := b.keep()
	if err != nil || len(fresh) == 0 {
		return b.answers, err
	}
	if err := tx.derived(b.row, fresh, b.first, head.Seq); err != nil {
		return nil, err
	}
	return b.answers, tx.changed(head.Seq, "lesson", id)
}

// batch is a batch of events on its way in.
type batch struct {
	tx      *Tx
	id      string
	by      Sender
	now     time.Time
	events  []lesson.Event
	answers []lesson.Taken
	row     Lesson
	// made is the row of a lesson that this batch opens; nil for a known one.
	// first says that it did open it: nothing else is held of the lesson.
	made  *lessonRow
	first bool
}

func (b *batch) refuse(i int, reason string) {
	b.answers[i].Status, b.answers[i].Reason = "refused", reason
}

// sound are the places of the events that are not refused.
func (b *batch) sound() []int {
	var at []int
	for i, a := range b.answers {
		if a.Status != "refused" {
			at = append(at, i)
		}
	}
	return at
}

// find looks for the lesson, or makes its row of the batch's opening event.
func (b *batch) find() (err error) {
	if b.row, err = b.tx.Lesson(b.id); !errors.Is(err, ErrNotFound) {
		return err
	}
	var sound []lesson.Event
	for _, i := range b.sound() {
		sound = append(sound, b.events[i])
	}
	e, opened, err := lesson.OpeningOf(sound, "")
	if err != nil {
		return refuse("events", "do not hold the event that opens the lesson, and the school has no such lesson")
	}
	b.made, err = b.tx.opening(b.id, e, opened, b.by, b.now)
	return err
}

// begin keeps the row of a new lesson, under the school's lock.
func (b *batch) begin() (err error) {
	if b.made == nil {
		return nil
	}
	if b.row, err = b.tx.Lesson(b.id); !errors.Is(err, ErrNotFound) {
		return err // another batch was first
	}
	if err := b.tx.db.Create(b.made).Error; err != nil {
		return fmt.Errorf("opening the lesson: %w", err)
	}
	b.first = true
	b.row, err = b.tx.Lesson(b.id)
	return err
}

// part refuses what the person may not add: all of it when they have no part in
// the lesson.
func (b *batch) part() error {
	part := access.Part{
		Roles: b.by.Roles, Person: b.by.ID, Student: b.row.StudentID, Instructor: b.row.InstructorID,
		Observers: b.row.Observers,
	}
	why := part.MayAdd(false)
	others := 0
	for _, i := range b.sound() {
		switch kind := b.events[i].Kind; {
		case lesson.OfStudent(kind) && part.MayAdd(true) != "":
			b.refuse(i, "kind "+kind+" "+part.MayAdd(true))
		case !lesson.OfStudent(kind) && why != "":
			b.refuse(i, "lesson "+why)
			others++
		}
	}
	if why != "" && others > 0 && len(b.sound()) == 0 {
		return refuse("lesson", why)
	}
	return nil
}

// openings refuses every opening event but the lesson's own.
func (b *batch) openings() {
	for _, i := range b.sound() {
		if e := b.events[i]; e.Kind == lesson.KindOpened && e.ID != b.row.OpenedEvent {
			b.refuse(i, lesson.SecondOpening)
		}
	}
}

// keep adds the events that are not held yet, and gives those; of the others it
// tells which are held and which come with another content.
func (b *batch) keep() ([]lesson.Event, error) {
	at := b.sound()
	ids := make([]string, len(at))
	for n, i := range at {
		ids[n] = b.events[i].ID
	}
	if len(ids) == 0 {
		return nil, nil
	}
	var kept []lesson.Event
	if !b.first {
		var err error
		if kept, err = b.tx.events(eventColumns+" and id in ?", b.tx.School, b.id, ids); err != nil {
			return nil, err
		}
	}
	held := map[string]lesson.Event{}
	for _, e := range kept {
		held[e.ID] = e
	}
	var fresh []lesson.Event
	for _, i := range at {
		e := b.events[i]
		content, known := held[e.ID]
		switch {
		case known && bytes.Equal(content.Canonical(), e.Canonical()):
			if !containsEvent(fresh, e.ID) {
				b.answers[i].Status = "known"
			}
		case known:
			b.refuse(i, "id is already held with another content")
		default:
			e.By, e.Received = b.by.ID, b.now.UTC().Format(time.RFC3339)
			held[e.ID] = e
			fresh = append(fresh, e)
		}
	}
	return fresh, b.tx.insert(b.id, fresh, b.by.ID, b.now)
}

func containsEvent(events []lesson.Event, id string) bool {
	for _, e := range events {
		if e.ID == id {
			return true
		}
	}
	return false
}

// opening makes a new lesson's row of its opening event, once everything that
// the event names is found fit.
func (tx *Tx) opening(id string, e lesson.Event, opened lesson.Opened, by Sender, now time.Time) (*lessonRow, error) {
	if opened.Instructor != by.ID && !by.Roles.Has(access.Chief) {
		return nil, refuse("payload.instructor", "must be you: a lesson is opened by its instructor")
	}
	who := []func(*lesson.Opened) error{tx.studentFits, tx.instructorFits, tx.aircraftFits}
	if opened.Run() {
		who = []func(*lesson.Opened) error{tx.maintainerFits, tx.aircraftFits}
	}
	for _, known := range who {
		if err := known(&opened); err != nil {
			return nil, err
		}
	}
	book, err := tx.book(e.ID, opened)
	if err != nil {
		return nil, err
	}
	if err := tx.versionsFit(opened, tx.Day(now)); err != nil {
		return nil, err
	}
	if err := tx.checkFlown(opened); err != nil {
		return nil, err
	}
	flag, grounds, from := "", "", school.Dated(e.Wall, now)
	if opened.Paper != nil {
		if flag, err = tx.paperFits(opened.Paper, by, now); err != nil {
			return nil, err
		}
		from = opened.Paper.From(tx.Zone)
	} else if !opened.Run() {
		if grounds, err = tx.onGround(opened.Aircraft, now); err != nil {
			return nil, err
		}
	}
	if grounds != "" && by.Asks {
		return nil, refuse("payload.aircraft", fmt.Sprintf("stays on the ground until it is returned: %s", grounds))
	}
	if grounds != "" {
		flag = fmt.Sprintf("opened without the school while %s stood on the ground: %s", opened.Aircraft, grounds)
	}
	summary, err := summaryOf(opened)
	if err != nil {
		return nil, err
	}
	var student *string
	if !opened.Run() {
		student = &opened.Student
	}
	return &lessonRow{SchoolID: tx.School, ID: id, StudentID: student, InstructorID: opened.Instructor,
		Registration: opened.Aircraft,
		OpenedAt:     from.UTC(), Opened: string(summary), OpenedEvent: e.ID, Status: "open",
		Total: len(book.List.Places()), Flag: flag}, nil
}

// paperFits holds a lesson on paper to what the school decides, and gives what is to
// be known of it.
func (tx *Tx) paperFits(p *lesson.Paper, by Sender, now time.Time) (flag string, err error) {
	today := tx.Day(now)
	decided, err := tx.Policy(today)
	if err != nil {
		return "", err
	}
	if !decided.MayWriteDown(by.Roles) {
		return "", refuse("payload.paper",
			"is not open to you: by the school's policy somebody else writes down what was kept on paper, or nobody")
	}
	if err := p.Fits(today); err != nil {
		return "", refuse("payload", strings.TrimPrefix(err.Error(), "payload."))
	}
	who, err := tx.Member(by.ID)
	if err != nil {
		return "", err
	}
	return fmt.Sprintf("written down from paper by %s on %s", who.Name, today), nil
}

// onGround says what keeps an aircraft on the ground; empty when nothing does.
func (tx *Tx) onGround(registration string, now time.Time) (string, error) {
	findings, err := tx.Findings(tx.Day(now))
	if err != nil {
		return "", err
	}
	for _, f := range findings {
		if f.Registration == registration && f.Condition.Grounds() {
			return f.Words, nil
		}
	}
	return "", nil
}

func (tx *Tx) studentFits(o *lesson.Opened) error {
	if !isUUID(o.Student) {
		return refuse("payload.student", "is no student of this school")
	}
	_, err := tx.Student(o.Student)
	if errors.Is(err, ErrNotFound) {
		return refuse("payload.student", "is no student of this school")
	}
	return err
}

func (tx *Tx) instructorFits(o *lesson.Opened) error {
	roles, err := tx.RolesOf(o.Instructor)
	switch {
	case err != nil && !errors.Is(err, ErrNotFound):
		return err
	case !roles.Teach():
		return refuse("payload.instructor", "is no instructor of this school")
	}
	return nil
}

// maintainerFits holds who opens a maintenance run to who returns aircraft.
func (tx *Tx) maintainerFits(o *lesson.Opened) error {
	roles, err := tx.RolesOf(o.Instructor)
	switch {
	case err != nil && !errors.Is(err, ErrNotFound):
		return err
	case !roles.Any(access.Maintainers):
		return refuse("payload.instructor", "does not maintain aircraft at this school")
	}
	return nil
}

func (tx *Tx) aircraftFits(o *lesson.Opened) error {
	a, err := take[Aircraft](tx.own(&aircraftRow{}).Select("type").Where("registration = ?", o.Aircraft))
	switch {
	case errors.Is(err, ErrNotFound):
		return refuse("payload.aircraft", "is no aircraft of this school")
	case err != nil:
		return err
	case a.Type != o.AircraftType:
		return refuse("payload.aircraftType", fmt.Sprintf("is not that of %s, which is of type %s", o.Aircraft, a.Type))
	}
	return nil
}

// isUUID reports whether text has the form of an id: others name nobody.
func isUUID(text string) bool {
	if len(text) != 36 {
		return false
	}
	for i := range len(text) {
		c := text[i]
		dash := i == 8 || i == 13 || i == 18 || i == 23
		if dash != (c == '-') || !dash && (c < '0' || c > '9') && (c < 'a' || c > 'f') && (c < 'A' || c > 'F') {
			return false
		}
	}
	return true
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

// insert adds events that are not yet held, in one statement; an id that is
// taken after all is an error.
func (tx *Tx) insert(id string, events []lesson.Event, by string, now time.Time) error {
	if len(events) == 0 {
		return nil
	}
	batch, err := json.Marshal(events)
	if err != nil {
		return err
	}
	done := tx.db.Exec(`insert into lesson_events
		(school_id, lesson_id, id, device, seq, counter, at_ms, wall, kind, v, payload, sent_by, received_at)
		select ?::uuid, ?::uuid, e.id, e.device, e.seq, e.counter, e."atMs", e.wall, e.kind, e.v, e.payload, ?::uuid, ?::timestamptz
		from json_to_recordset(?::json) as e(id uuid, device text, seq bigint, counter bigint, "atMs" bigint, wall text, kind text, v integer, payload json)
		on conflict do nothing`, tx.School, id, by, now.Truncate(time.Microsecond), string(batch))
	if done.Error != nil {
		return fmt.Errorf("keeping events: %w", done.Error)
	}
	if done.RowsAffected != int64(len(events)) {
		return fmt.Errorf("keeping events: %d of %d were new", done.RowsAffected, len(events))
	}
	return nil
}

// StudentsOf tells whose lessons those of some ids are.
func (tx *Tx) StudentsOf(lessons []string) (map[string]string, error) {
	out := map[string]string{}
	if len(lessons) == 0 {
		return out, nil
	}
	kept, err := find[lessonRow](tx.own(&lessonRow{}).Select("id, student_id").Where("id in ?", lessons))
	for _, k := range kept {
		if k.StudentID != nil {
			out[k.ID] = *k.StudentID
		}
	}
	return out, err
}

// LessonsBefore counts the student's lessons that were opened before this one.
func (tx *Tx) LessonsBefore(l Lesson) (int, error) {
	var n int64
	err := tx.own(&lessonRow{}).Where("student_id = ? and opened_at < ?", l.StudentID, l.OpenedAt).Count(&n).Error
	return int(n), err
}

// Overlapping lists the lessons that ran at the same time with the same
// aircraft, student or instructor.
func (tx *Tx) Overlapping(l Lesson) ([]Lesson, error) {
	return find[Lesson](tx.lessons().Joins("join lessons o on o.school_id = l.school_id and o.id = ?", l.ID).
		Where(`l.id <> o.id and (l.registration = o.registration or l.student_id = o.student_id or l.instructor_id = o.instructor_id)
			and l.opened_at < o.opened_at + make_interval(secs => o.duration_ms / 1000) and o.opened_at < l.opened_at + make_interval(secs => l.duration_ms / 1000)`).Limit(10))
}

// lately is how many lessons before one are looked at for how its items went.
const lately = 4

// Tallies are how each item went in a student's last lessons before this one
// with aircraft of its type.
func (tx *Tx) Tallies(l Lesson) (map[string]lesson.Tally, error) {
	past := tx.lessons().Select("l.id").Where("l.student_id = ? and c.type = ? and l.opened_at < ? and l.id <> ?",
		l.StudentID, l.Type, l.OpenedAt, l.ID).Limit(lately)
	type row struct {
		Item string
		lesson.Tally
	}
	kept, err := find[row](tx.db.Table("item_results").Select("item, count(*) as lessons, count(*) filter (where "+
		"level < 4) as low").
		Where("school_id = ? and level is not null and lesson_id in (?)", tx.School, past).Group("item"))
	out := map[string]lesson.Tally{}
	for _, k := range kept {
		out[k.Item] = k.Tally
	}
	return out, err
}

// Previous is the lesson that a student had before this one with an aircraft of
// the same type, with the marks of its items; nothing where there is none.
func (tx *Tx) Previous(l Lesson) (Lesson, map[string]string, error) {
	before, err := take[Lesson](tx.lessons().Where("l.student_id = ? and c.type = ? and l.opened_at < ? and l.id <> ?",
		l.StudentID, l.Type, l.OpenedAt, l.ID))
	if errors.Is(err, ErrNotFound) {
		return Lesson{}, nil, nil
	}
	if err != nil {
		return Lesson{}, nil, err
	}
	type result struct{ Item, Mark string }
	kept, err := find[result](tx.db.Table("item_results").Where("school_id = ? and lesson_id = ?", tx.School,
		before.ID))
	marks := map[string]string{}
	for _, k := range kept {
		marks[k.Item] = k.Mark
	}
	return before, marks, err
}
