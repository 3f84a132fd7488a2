package store

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"jetprimer/core/lesson"
	"jetprimer/core/progress"
)

// fold makes a lesson of all its events.
func (tx *Tx) fold(row Lesson, events []lesson.Event) (*lesson.Lesson, error) {
	s := &shelf{tx: tx}
	l, err := lesson.Open(s, events, row.OpenedEvent)
	if s.err != nil {
		return nil, fmt.Errorf("reading the library: %w", s.err)
	}
	return l, err
}

// State is a lesson's state with the book it was folded against. For a signed
// lesson it is the result that its first seal keeps, whatever the rules say
// now, with the addenda that came since.
func (tx *Tx) State(row Lesson) (lesson.State, lesson.Book, []lesson.Event, error) {
	events, err := tx.Events(row.ID)
	if err != nil {
		return lesson.State{}, lesson.Book{}, nil, err
	}
	l, err := tx.fold(row, events)
	if err != nil {
		return lesson.State{}, lesson.Book{}, nil, err
	}
	state, err := tx.sealedState(row.ID, l.State())
	return state, l.Book(), events, err
}

// derived goes on from what is known of a lesson with its fresh events, which
// the write seq has added, and brings its read tables up to date. all says that
// there are no other events.
func (tx *Tx) derived(row Lesson, fresh []lesson.Event, all bool, seq int64) error {
	known := tx.known(row)
	if known != nil {
		known.lesson.Add(fresh...)
	} else {
		events := fresh
		if !all {
			var err error
			if events, err = tx.Events(row.ID); err != nil {
				return err
			}
		}
		l, err := tx.fold(row, events)
		if err != nil {
			return err
		}
		known = &folded{key: tx.School + row.ID, lesson: l}
		if all { // the read tables hold nothing of it yet
			known.rows = derivedRows{}
			for _, t := range readTables {
				known.rows[t.name] = nil
			}
		}
	}
	signed, err := tx.derive(row, known, seq)
	if err != nil {
		return err
	}
	if signed && !row.Run() {
		if err := tx.deriveStandings(row.StudentID); err != nil {
			return fmt.Errorf("deriving the student's standing: %w", err)
		}
	}
	tx.keepKnown(known, seq)
	return nil
}

// known is a lesson as it was folded before this write, in this transaction or by
// this server; nil where it has to be read and folded. Whoever has it goes on with
// it alone.
func (tx *Tx) known(row Lesson) *folded {
	if known := tx.worked[tx.School+row.ID]; known != nil && known.seq == row.LastSeq {
		return known
	}
	return tx.store.lessons.take(tx.School, row.ID, row.LastSeq)
}

// keepKnown holds a lesson that reflects the write seq for what comes next, and for
// other transactions once this one is committed.
func (tx *Tx) keepKnown(known *folded, seq int64) {
	known.seq = seq
	if tx.worked == nil {
		tx.worked = map[string]*folded{}
	}
	tx.worked[known.key] = known
	tx.committed = append(tx.committed, func() { tx.store.lessons.put(known) })
}

// derive brings the read tables of a lesson to what its events now say, and
// reports whether it is signed. Where it is known what they hold, only what
// differs is written.
func (tx *Tx) derive(row Lesson, known *folded, seq int64) (signed bool, err error) {
	state, err := tx.sealedState(row.ID, known.lesson.State())
	if err != nil {
		return false, err
	}
	if err := tx.own(&lessonRow{}).Where("id = ?", row.ID).Updates(summaryOfState(state, seq)).Error; err != nil {
		return false, fmt.Errorf("deriving the lesson: %w", err)
	}
	now := rowsOf(row, state)
	signed = len(state.Seals) > 0
	tables := readTables
	if signed && !row.Run() {
		tables = append(slices.Clone(readTables), observed...)
		seen, err := tx.observedRows(row, state, known.lesson.Book())
		if err != nil {
			return false, err
		}
		maps.Copy(now, seen)
	}
	for _, t := range tables {
		before, written := known.rows[t.name]
		if err := tx.write(t, row.ID, before, now[t.name], written); err != nil {
			return false, fmt.Errorf("deriving %s: %w", t.name, err)
		}
	}
	known.rows = now
	return signed, nil
}

func summaryOfState(state lesson.State, seq int64) map[string]any {
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
	return map[string]any{
		"status": status, "marked": marked, "phases": strings.Join(phases, ", "), "last_seq": seq,
		"observers": observersOf(state), "duration_ms": state.DurationMs,
	}
}

func observersOf(state lesson.State) IDs {
	ids := IDs{}
	for _, o := range state.Observers {
		ids = append(ids, o.Person)
	}
	return ids
}

// readTable is a table of what was derived of each lesson: its rows are told
// apart by key, and columns is a column definition list.
type readTable struct{ name, key, columns string }

var readTables = []readTable{
	{"item_results", "item",
		"item text, position integer, level integer, proposed integer, implied boolean, mark text"},
	{
		"readings", "event_id",
		"event_id uuid, registration text, check_name text, engine integer, attempt integer, item text, reading " +
			"json, verdict json, at timestamptz, recorded boolean",
	},
	{
		"findings", "event_id",
		"event_id uuid, registration text, item text, words text, decision text, told text, why text, at timestamptz",
	},
}

// observed are the tables that a signed lesson adds to a student's standing.
var observed = []readTable{
	{
		"observations", "ordinal",
		`student_id uuid, ordinal integer, element text, item text, level integer, implied boolean, oral boolean, mark text, registration text, class text, engine_kind text, start_type text, instructor_id uuid, on_day date, opened_at timestamptz, practice text`,
	},
	{
		"stage_checks", "lesson_id",
		"student_id uuid, instructor_id uuid, on_day date, stage text, class text, passed boolean",
	},
}

func (t readTable) names() []string {
	var names []string
	for _, c := range strings.Split(t.columns, ", ") {
		names = append(names, strings.Fields(c)[0])
	}
	return names
}

// derivedRows are the rows of each table, by their keys.
type derivedRows map[string]map[string]json.RawMessage

// rowsOf is what the read tables hold of a lesson in that state.
func rowsOf(l Lesson, state lesson.State) derivedRows {
	out := derivedRows{}
	for _, t := range readTables {
		out[t.name] = map[string]json.RawMessage{}
	}
	add := func(table, key string, values map[string]any) {
		data, err := json.Marshal(values)
		if err != nil {
			panic("store: a derived row is no JSON: " + err.Error()) // it is made of JSON
		}
		out[table][key] = data
	}
	at := func(ms int64) time.Time { return l.OpenedAt.Add(time.Duration(ms) * time.Millisecond).UTC() }
	for _, item := range state.Items {
		if item.Level != nil || item.Status != "" && !l.Run() {
			add("item_results", item.ID, map[string]any{"item": item.ID, "position": item.Position, "level": item.Level,
				"proposed": item.Proposed, "implied": item.Implied, "mark": item.Mark})
		}
	}
	for _, r := range state.Readings {
		add("readings", r.Event,
			map[string]any{"event_id": r.Event, "registration": l.Registration, "check_name": r.Check,
				"engine":  r.Engine,
				"attempt": r.Attempt, "item": r.Item, "reading": r.Reading, "verdict": r.Verdict, "at": at(r.AtMs),
				"recorded": r.Source == lesson.FromRecorder})
	}
	for _, r := range state.Reports() {
		add("findings", r.Event,
			map[string]any{"event_id": r.Event, "registration": l.Registration, "item": r.Item, "words": r.Words,
				"decision": r.Decision.Decision, "told": r.Decision.Told, "why": r.Decision.Why, "at": at(r.AtMs)})
	}
	return out
}

// write brings a lesson's rows of a table from what they were to what they are;
// when it is not known what they were, all are written anew.
func (tx *Tx) write(t readTable, lessonID string, before, now map[string]json.RawMessage, known bool) error {
	var gone []string
	for key := range before {
		if _, stays := now[key]; !stays {
			gone = append(gone, key)
		}
	}
	var put []json.RawMessage
	for _, key := range slices.Sorted(maps.Keys(now)) {
		if string(before[key]) != string(now[key]) {
			put = append(put, now[key])
		}
	}
	switch {
	case !known:
		if err := tx.db.Exec("delete from "+t.name+" where school_id = ? and lesson_id = ?", tx.School,
			lessonID).Error; err != nil {
			return err
		}
	case len(gone) > 0:
		if err := tx.db.Exec("delete from "+t.name+" where school_id = ? and lesson_id = ? and "+t.key+"::text in ?",
			tx.School, lessonID, gone).Error; err != nil {
			return err
		}
	}
	if len(put) == 0 {
		return nil
	}
	data, err := json.Marshal(put)
	if err != nil {
		return err
	}
	names := t.names()
	var set []string
	for _, n := range names {
		if n != t.key {
			set = append(set, n+" = excluded."+n)
		}
	}
	conflict := "school_id, lesson_id, " + t.key
	if t.key == "lesson_id" {
		conflict = "school_id, lesson_id"
	}
	list := strings.Join(names, ", ")
	return tx.db.Exec("insert into "+t.name+" (school_id, lesson_id, "+list+") select ?::uuid, ?::uuid, "+list+
		" from json_to_recordset(?::json) as r("+t.columns+") on conflict ("+conflict+") do update set "+
		strings.Join(set, ", "), tx.School, lessonID, string(data)).Error
}

// observedRows are what a signed lesson adds to its student's standing.
func (tx *Tx) observedRows(l Lesson, state lesson.State, book lesson.Book) (derivedRows, error) {
	day := tx.Day(l.OpenedAt)
	out := derivedRows{"observations": {}, "stage_checks": {}}
	add := func(table, key string, values map[string]any) {
		data, err := json.Marshal(values)
		if err != nil {
			panic("store: a derived row is no JSON: " + err.Error()) // it is made of plain values
		}
		out[table][key] = data
	}
	for i, o := range progress.FromLesson(l.ID, day, state, book) {
		add("observations", fmt.Sprintf("%06d", i),
			map[string]any{"student_id": l.StudentID, "ordinal": i, "element": o.Element, "item": o.Item,
				"level":   o.Level,
				"implied": o.Implied, "oral": o.Oral, "mark": o.Mark, "registration": o.Aircraft, "class": o.Class,
				"engine_kind": o.EngineKind,
				"start_type":  o.StartType, "instructor_id": o.Instructor, "on_day": o.Date,
				"opened_at": l.OpenedAt.UTC(), "practice": o.Practice})
	}
	if state.Opened == nil || state.Opened.Purpose != "stage-check" {
		return out, nil
	}
	// By the standards of its own day: what they become later changes nothing.
	packs, err := tx.Packs(day)
	if err != nil {
		return nil, err
	}
	policy, err := tx.Policy(day)
	if err != nil {
		return nil, err
	}
	if s, ok := policy.Standing.StageCheckOf(l.ID, day, state, book,
		progress.HeldTo(policy.Standing.Standards, packs, book.Type.Class)); ok {
		add("stage_checks", l.ID, map[string]any{
			"student_id": l.StudentID, "instructor_id": s.Instructor, "on_day": s.Date, "stage": s.Stage,
			"class": s.Class, "passed": s.Passed,
		})
	}
	return out, nil
}
