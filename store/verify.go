package store

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"sort"
	"strings"
	"time"

	"jetprimer/core/lesson"
	"jetprimer/core/library"
	"jetprimer/core/record"
	"jetprimer/core/school"
)

// Chain is what a school's seals were found to be.
type Chain struct {
	Seals int64
	// Head is the hash of the last seal, in hexadecimal. Noted outside the
	// database, it tells later whether seals have gone.
	Head string
	// Lessons is how many lessons were held to their seals, events and read
	// tables.
	Lessons int
	// Keys are the fingerprints of the keys that signed.
	Keys []string
	// Unsealed counts versions that were approved before approvals were sealed.
	Unsealed int
}

// Unproved is what VerifyChain holds to nothing that was signed: who owns the database can
// change it without being found.
var Unproved = []string{
	"names of people, and the roles that they have or had",
	"aircraft: their type, base, equipment and hours",
	"returns to service, deferrals of findings, and pictures that are gone",
	"invitations, shares of records and who looked, bookings, leave and practices",
	"the audit log, the feed of changes, and events of lessons that were not signed",
	"who sent the events of lessons that were sealed in formats 1 to 3, and when they arrived",
}

// verifier holds a school to what it has signed.
type verifier struct {
	*Tx
	chain Chain
	// sealed are the lessons that have a seal, and versions the last state that was
	// sealed of each version.
	sealed   map[string]bool
	versions map[string]record.Version
}

// VerifyChain holds a school to its seals: their places in the chain, hashes,
// signatures and columns, the head of the chain, the events they sealed, what
// was derived from them, and the approved versions of the library. The first
// thing that differs is the error.
func (tx *Tx) VerifyChain() (Chain, error) {
	v := &verifier{Tx: tx, sealed: map[string]bool{}, versions: map[string]record.Version{}}
	for _, step := range []func() error{v.links, v.head, v.lessons, v.strays, v.pictures, v.standings, v.library} {
		if err := step(); err != nil {
			return v.chain, err
		}
	}
	return v.chain, nil
}

// links checks every seal by itself and in its place.
func (v *verifier) links() error {
	keys, err := find[signingKey](v.own(&signingKey{}).Order("made_at, id"))
	if err != nil {
		return fmt.Errorf("reading the keys: %w", err)
	}
	public := map[string][]byte{}
	for _, k := range keys {
		if k.ID != record.KeyID(k.Public) {
			return fmt.Errorf("key %s is not the one it is named after", k.ID)
		}
		public[k.ID] = k.Public
		v.chain.Keys = append(v.chain.Keys, record.Fingerprint(k.Public))
	}
	previous := []byte{}
	for after := int64(0); ; {
		part, err := find[sealRow](v.own(&sealRow{}).Where("number > ?", after).Order("number").Limit(20))
		if err != nil {
			return fmt.Errorf("reading the seals: %w", err)
		}
		if len(part) == 0 {
			return nil
		}
		for _, k := range part {
			after++
			if err := v.link(k, after, previous, public[k.KeyID]); err != nil {
				return err
			}
			previous = k.Hash
			v.chain.Seals, v.chain.Head = after, hex.EncodeToString(previous)
		}
	}
}

func (v *verifier) link(k sealRow, number int64, previous, public []byte) error {
	c, err := k.link().Check(v.School, number, previous, public)
	if err != nil {
		return err
	}
	if c.Subject != k.Subject {
		return fmt.Errorf("seal %d stands in the place of another", number)
	}
	if c.Format > 1 {
		at, err := time.Parse(time.RFC3339Nano, c.SignedAt)
		switch {
		case err != nil || !at.Truncate(time.Microsecond).Equal(k.SignedAt.Truncate(time.Microsecond)):
			return fmt.Errorf("seal %d was signed at another time than its row says", number)
		case c.SignedBy != k.SignedBy:
			return fmt.Errorf("seal %d was signed by somebody else than its row says", number)
		}
	}
	switch {
	case c.Version != nil:
		v.versions[fmt.Sprintf("%s %s %d", c.Version.Kind, c.Version.ID, c.Version.Version)] = *c.Version
		return nil
	case k.LessonID == nil || k.EventID == nil || c.Lesson != *k.LessonID || c.Event != "" && c.Event != *k.EventID:
		return fmt.Errorf("seal %d is of another lesson or event than its row says", number)
	}
	v.sealed[c.Lesson] = true
	return nil
}

// sealsOf are a lesson's seals, which links has checked: one lesson's at a time
// is held in memory.
func (v *verifier) sealsOf(id string) ([]record.Seal, error) {
	if !v.sealed[id] {
		return nil, nil
	}
	kept, err := find[sealRow](v.own(&sealRow{}).Where("lesson_id = ?", id).Order("number"))
	if err != nil {
		return nil, fmt.Errorf("reading the seals: %w", err)
	}
	out := make([]record.Seal, len(kept))
	for i, k := range kept {
		if out[i], err = record.ReadSeal(k.Format, k.Content); err != nil {
			return nil, err
		}
		out[i].Event, out[i].SignedBy, out[i].SignedAt = *k.EventID, k.SignedBy, k.SignedAt.UTC().Format(time.RFC3339)
	}
	return out, nil
}

// head checks that the feed of the school ends at the last seal.
func (v *verifier) head() error {
	h, err := row[head](v.Tx, "select seq, seals, chain from school_feed where school_id = ?", v.School)
	if err != nil {
		return fmt.Errorf("reading the school's feed: %w", err)
	}
	if h.Seals != v.chain.Seals || hex.EncodeToString(h.Chain) != v.chain.Head {
		return fmt.Errorf("the school's feed counts %d seals and ends at %.12x; %d are there, and the last is %.12s",
			h.Seals, h.Chain, v.chain.Seals, v.chain.Head)
	}
	newest, err := row[int64](v.Tx, "select coalesce(max(seq), 0) from school_changes where school_id = ?", v.School)
	if err == nil && newest > h.Seq {
		err = fmt.Errorf("the school's feed has change %d, and counts only %d", newest, h.Seq)
	}
	return err
}

// lessons checks the events of each lesson against its seals, and what was
// derived of it.
func (v *verifier) lessons() error {
	ids, err := v.LessonIDs()
	if err != nil {
		return err
	}
	there := map[string]bool{}
	for _, id := range ids {
		there[id] = true
	}
	for id := range v.sealed {
		if !there[id] {
			return fmt.Errorf("lesson %s was signed and is gone", id)
		}
	}
	for _, id := range ids {
		if err := v.lesson(id); err != nil {
			return fmt.Errorf("lesson %s: %w", id, err)
		}
		v.chain.Lessons++
	}
	return nil
}

func (v *verifier) lesson(id string) error {
	events, err := v.Events(id)
	if err != nil {
		return err
	}
	byID := map[string]lesson.Event{}
	for _, e := range events {
		byID[e.ID] = e
	}
	seals, err := v.sealsOf(id)
	if err != nil {
		return err
	}
	row, err := v.Lesson(id)
	if err != nil {
		return err
	}
	signatures := 0
	for _, c := range seals {
		if c.Subject == record.OfLesson {
			signatures++
		}
		if err := matchesSeal(c, byID); err != nil {
			return err
		}
		if c.Subject == record.OfLesson && c.Format >= 4 {
			if err := v.came(c, row, byID); err != nil {
				return err
			}
		}
	}
	for _, e := range events {
		if e.Kind == lesson.KindSealed {
			signatures--
		}
	}
	if signatures != 0 {
		return errors.New("has a signature without a seal")
	}
	if err := v.opened(row, byID); err != nil {
		return err
	}
	l, err := v.fold(row, events)
	if err != nil {
		return err
	}
	state, err := v.sealedState(id, l.State())
	if err != nil {
		return err
	}
	return v.derivedAsKept(row, state, l.Book())
}

// matchesSeal checks that the events a seal keeps are held, with just that content.
func matchesSeal(c record.Seal, byID map[string]lesson.Event) error {
	own, known := byID[c.Event]
	if c.Subject == record.OfAcknowledgement {
		if !known || len(c.Events) != 1 || !bytes.Equal(own.Canonical(), c.Events[0]) {
			return errors.New("a sealed acknowledgement is gone, or says something else")
		}
		return nil
	}
	if !known || own.Kind != lesson.KindSealed {
		return errors.New("a seal's own event is gone")
	}
	var signature lesson.Sealed
	if err := json.Unmarshal(own.Payload, &signature); err != nil || signature.SignedBy != c.SignedBy ||
		len(signature.Events) != len(c.Events) {
		return errors.New("a seal's own event says something else than the seal")
	}
	ids := make([]string, len(c.Events))
	for i, content := range c.Events {
		var named struct{ ID string }
		if err := json.Unmarshal(content, &named); err != nil {
			return err
		}
		ids[i] = named.ID
		if e, known := byID[named.ID]; !known {
			return fmt.Errorf("the sealed event %s is gone", named.ID)
		} else if !bytes.Equal(e.Canonical(), content) {
			return fmt.Errorf("the sealed event %s has another content", named.ID)
		}
	}
	if lesson.SetHash(ids) != signature.Hash {
		return errors.New("a seal's own event names other events than the seal")
	}
	return nil
}

// came checks who sent the events that a seal keeps and when they arrived, and what was
// noted of how the lesson came to be.
func (v *verifier) came(c record.Seal, row Lesson, byID map[string]lesson.Event) error {
	sealed := make([]lesson.Event, len(c.Events))
	for i, content := range c.Events {
		var named struct{ ID string }
		if err := json.Unmarshal(content, &named); err != nil {
			return err
		}
		sealed[i] = byID[named.ID]
	}
	switch {
	case lesson.ArrivalsOf(sealed) != c.Arrivals:
		return errors.New("an event is told to have been sent by somebody else, or to have arrived at another time, " +
			"than was sealed")
	case row.Flag != c.Flag:
		return errors.New("what is noted of how it was opened is not what was sealed")
	}
	return nil
}

// opened checks the lesson's row against the event that opened it.
func (v *verifier) opened(row Lesson, byID map[string]lesson.Event) error {
	e, known := byID[row.OpenedEvent]
	if !known || e.Kind != lesson.KindOpened {
		return errors.New("the event that opened it is gone")
	}
	_, opened, err := lesson.OpeningOf([]lesson.Event{e}, "")
	if err != nil {
		return err
	}
	summary, err := summaryOf(opened)
	if err != nil {
		return err
	}
	received, err := time.Parse(time.RFC3339, e.Received)
	if err != nil {
		return err
	}
	kept, err := take[lessonRow](v.own(&lessonRow{}).Where("id = ?", row.ID))
	if err != nil {
		return err
	}
	want, got := asJSON(summary), asJSON([]byte(kept.Opened))
	dated := school.Dated(e.Wall, received)
	if opened.Paper != nil {
		dated = opened.Paper.From(v.Zone)
	}
	if want != got || opened.Student != row.StudentID || opened.Instructor != kept.InstructorID ||
		opened.Aircraft != kept.Registration ||
		kept.OpenedAt.Sub(dated).Abs() > time.Second {
		return errors.New("its row says something else than the event that opened it")
	}
	return nil
}

// asJSON is JSON with its names in order.
func asJSON(data []byte) string {
	var v any
	if json.Unmarshal(data, &v) != nil {
		return string(data)
	}
	out, _ := json.Marshal(v)
	return string(out)
}

// derivedAsKept checks the rows of the read tables against what the rules, or
// the seal, make of the lesson.
func (v *verifier) derivedAsKept(row Lesson, state lesson.State, book lesson.Book) error {
	want := rowsOf(row, state)
	tables := slices.Clone(readTables)
	if len(state.Seals) > 0 {
		seen, err := v.observedRows(row, state, book)
		if err != nil {
			return err
		}
		maps.Copy(want, seen)
	}
	tables = append(tables, observed...)
	for _, t := range tables {
		kept, err := rows[string](v.Tx,
			"select to_json(r)::text from (select "+strings.Join(t.names(), ", ")+" from "+t.name+
				" where school_id = ? and lesson_id = ?) r", v.School, row.ID)
		if err != nil {
			return fmt.Errorf("reading %s: %w", t.name, err)
		}
		if !sameRows(kept, want[t.name]) {
			return fmt.Errorf("the table %s says something else than its events", t.name)
		}
	}
	summary := summaryOfState(state, row.LastSeq)
	ran, err := v.ranFor(row.ID)
	if err != nil {
		return err
	}
	if summary["duration_ms"] != ran || !slices.Equal(observersOf(state), row.Observers) {
		return errors.New("how long it ran, or who observed it, is not what its events say")
	}
	if summary["status"] != row.Status || summary["marked"] != row.Marked || summary["phases"] != row.Phases ||
		len(book.List.Places()) != row.Total {
		return errors.New("its row says something else than its events")
	}
	return nil
}

// ranFor is how long a lesson is told to have run, in milliseconds.
func (v *verifier) ranFor(id string) (int64, error) {
	return row[int64](v.Tx, "select duration_ms from lessons where school_id = ? and id = ?", v.School, id)
}

// sameRows compares rows as JSON, times to the microsecond.
func sameRows(kept []string, want map[string]json.RawMessage) bool {
	if len(kept) != len(want) {
		return false
	}
	var a, b []string
	for _, k := range kept {
		a = append(a, comparable(k))
	}
	for _, w := range want {
		b = append(b, comparable(string(w)))
	}
	sort.Strings(a)
	sort.Strings(b)
	return slices.Equal(a, b)
}

// comparable is a row with its names in order and its moments alike.
func comparable(text string) string {
	var row map[string]any
	if json.Unmarshal([]byte(text), &row) != nil {
		return text
	}
	for _, name := range []string{"at", "opened_at"} {
		if s, ok := row[name].(string); ok {
			if at, err := time.Parse(time.RFC3339Nano, s); err == nil {
				row[name] = at.UTC().Truncate(time.Microsecond).Format(time.RFC3339Nano)
			}
		}
	}
	out, _ := json.Marshal(row)
	return string(out)
}

// strays refuses events of a lesson that is not there.
func (v *verifier) strays() error {
	id, err := rows[string](v.Tx,
		"select e.lesson_id::text from lesson_events e where e.school_id = ? and not exists (select from lessons l "+
			"where l.school_id = e.school_id and l.id = e.lesson_id) limit 1", v.School)
	if err == nil && len(id) > 0 {
		err = fmt.Errorf("there are events of lesson %s, which is not there", id[0])
	}
	return err
}

// pictures checks that each is the one that its finding named.
func (v *verifier) pictures() error {
	changed, err := rows[string](v.Tx,
		"select hash from pictures where school_id = ? and encode(sha256(data), 'hex') <> hash limit 1", v.School)
	if err == nil && len(changed) > 0 {
		err = fmt.Errorf("picture %.12s is not the one that its finding names", changed[0])
	}
	return err
}

// standings checks what is kept of every student, unless it is of an earlier version of
// the program and about to be made anew.
func (v *verifier) standings() error {
	if before, err := v.ofBefore(); err != nil || before {
		return err
	}
	students, err := v.Students()
	if err != nil {
		return err
	}
	for _, s := range students {
		tables, err := v.studentTables(s.ID)
		if err != nil {
			return err
		}
		for _, t := range tables {
			kept, err := rows[string](v.Tx,
				"select to_json(r)::text from (select "+strings.Join(t.names(), ", ")+" from "+t.name+
					" where school_id = ? and student_id = ?) r", v.School, s.ID)
			if err != nil {
				return err
			}
			want := map[string]json.RawMessage{}
			for i, w := range t.rows {
				want[fmt.Sprint(i)], _ = json.Marshal(w)
			}
			if !sameRows(kept, want) {
				return fmt.Errorf("the table %s says something else of student %s than their lessons", t.name, s.ID)
			}
		}
	}
	return nil
}

// library checks the approved versions against what was sealed of them.
func (v *verifier) library() error {
	kept, err := find[libraryRow](v.own(&libraryRow{}).Where("status in ?",
		[]string{library.InForce, library.Withdrawn}))
	if err != nil {
		return fmt.Errorf("reading the library: %w", err)
	}
	for _, k := range kept {
		name := fmt.Sprintf("%s %s %d", k.Kind, k.ID, k.Version)
		want, sealed := v.versions[name]
		if !sealed {
			v.chain.Unsealed++
			continue
		}
		if got := sealedVersionOf(k); got != want {
			return fmt.Errorf("%s is not as it was approved", name)
		}
		delete(v.versions, name)
	}
	for name := range v.versions {
		return fmt.Errorf("%s was approved and is gone", name)
	}
	return nil
}

func sealedVersionOf(k libraryRow) record.Version {
	by := func(id *string) string {
		if id == nil {
			return ""
		}
		return *id
	}
	sum := sha256.Sum256([]byte(k.Body))
	return record.Version{Kind: k.Kind, ID: k.ID, Version: k.Version, AircraftType: k.AircraftType, Title: k.Title,
		Body: hex.EncodeToString(sum[:]), Status: k.Status,
		InForceFrom: string(k.InForceFrom), WithdrawnFrom: string(k.WithdrawnFrom), WrittenBy: k.WrittenBy,
		ReviewedBy: by(k.ReviewedBy), ApprovedBy: by(k.ApprovedBy), WithdrawnBy: by(k.WithdrawnBy)}
}
