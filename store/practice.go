package store

import (
	"bytes"
	"compress/gzip"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"time"

	"gorm.io/gorm"

	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/practice"
	"jetprimer/core/progress"
)

// PracticeRun is a practice on the stand as it is listed.
type PracticeRun struct {
	ID        string    `json:"id"`
	StudentID string    `json:"studentId"`
	Student   string    `json:"student"`
	Type      string    `json:"type"`
	Title     string    `json:"title"`
	Mode      string    `json:"mode" enum:"shown,guided,alone,checkride"`
	MadeAt    time.Time `json:"madeAt"`
	OnDay     Date      `json:"on"`
	Seconds   int       `json:"seconds"`
	Level     *int      `json:"level"`
	// RightItems are those at the top level, OffItems the others.
	RightItems int    `json:"right"`
	OffItems   int    `json:"off"`
	Decision   string `json:"decision"`
	Answered   bool   `json:"answered" doc:"whether the decision was right"`
	// Uncounted is said where the school lets practice count.
	Uncounted string `json:"uncounted" doc:"why it counts towards nothing; empty where it does, or where no practice does"`
}

// practiceRow is a practice as it is kept.
type practiceRow struct {
	SchoolID             string
	ID                   string
	StudentID            string
	Type, Title, Mode    string
	MadeAt               time.Time
	OnDay                Date
	Seconds              int
	Level                *int
	RightItems, OffItems int
	Decision             string
	Answered             bool
	BeganAt              time.Time
	Hands, Uncounted     string
	Run                  []byte
	Score                string
	Digest               string
}

func (practiceRow) TableName() string { return "practice_runs" }

type practiceObservation struct {
	SchoolID, RunID                    string
	Ordinal                            int
	StudentID, Element, Item           string
	Level                              int
	Implied, Oral                      bool
	Mark, Class, EngineKind, StartType string
	OnDay                              Date
	MadeAt                             time.Time
}

func (practiceObservation) TableName() string { return "practice_observations" }

func (tx *Tx) practiceRuns() *gorm.DB {
	return tx.db.Table("practice_runs p").Select("p.id, p.student_id, a.name as student, p.type, p.title, p.mode, "+
		"p.made_at, p.on_day, p.seconds, p.level, p.right_items, p.off_items, p.decision, p.answered, p.uncounted").
		Joins("join memberships a on a.school_id = p.school_id and a.account_id = p.student_id").
		Where("p.school_id = ?", tx.School)
}

// PracticeRuns lists the newest practices of a person, of everybody where none is named.
func (tx *Tx) PracticeRuns(person string, most int) ([]PracticeRun, error) {
	query := tx.practiceRuns().Order("p.made_at desc, p.id").Limit(most)
	if person != "" {
		query = query.Where("p.student_id::text = ?", person)
	}
	return tx.listed(query)
}

// listed are practices as a query lists them.
func (tx *Tx) listed(query *gorm.DB) ([]PracticeRun, error) {
	all, err := find[PracticeRun](query)
	if err != nil || len(all) == 0 {
		return all, err
	}
	p, _, err := tx.derivedBy()
	for i := range all {
		if !p.Standing.PracticeCounts {
			all[i].Uncounted = ""
		}
	}
	return all, err
}

// PracticeRun is one practice as it is listed.
func (tx *Tx) PracticeRun(id string) (PracticeRun, error) {
	return firstOf(tx.listed(tx.practiceRuns().Where("p.id = ?", id)))
}

// Practice is one practice: its run and the score that it came to when it was taken.
func (tx *Tx) Practice(id string) (run practice.Run, score practice.Score, err error) {
	var kept practiceRow
	if err := tx.own(&practiceRow{}).Where("id = ?", id).Take(&kept).Error; err != nil {
		if errors.Is(err, gorm.ErrRecordNotFound) {
			return run, score, ErrNotFound
		}
		return run, score, fmt.Errorf("reading a practice: %w", err)
	}
	packed, err := gzip.NewReader(bytes.NewReader(kept.Run))
	if err != nil {
		return run, score, fmt.Errorf("reading a practice: %w", err)
	}
	text, err := io.ReadAll(packed)
	if err != nil {
		return run, score, fmt.Errorf("reading a practice: %w", err)
	}
	if err := errors.Join(json.Unmarshal(text, &run), json.Unmarshal([]byte(kept.Score), &score)); err != nil {
		return run, score, fmt.Errorf("reading a practice: %w", err)
	}
	return run, score, nil
}

// ErrOtherPractice says that a practice is kept already under an id, with other deeds.
var ErrOtherPractice = errors.New("another practice is kept under this id")

// practicesADay bounds how many practices of a student are kept within a day.
const practicesADay = 100

// ErrLimit says that there are as many as may be for now.
var ErrLimit = errors.New("there are as many as may be for now")

// PracticeFits refuses a practice that cannot be kept under an id, before it is worked
// again: one of another moment than can be, of hands that are kept already, or of which an
// instructor did more or less than it holds. The same one again fits.
func (tx *Tx) PracticeFits(id string, run practice.Run, now time.Time) error {
	_, err := tx.practiceTimed(id, run, now)
	return err
}

// practiceTimed is what is known of when a practice went on.
func (tx *Tx) practiceTimed(id string, run practice.Run, now time.Time) (practice.Timed, error) {
	began, err := time.Parse(time.RFC3339, run.Began)
	if err != nil {
		return practice.Timed{}, form.Bad("run.began", "must be a time such as 2026-11-27T09:00:00Z")
	}
	timed := practice.Timed{Began: began, Arrived: now}
	if err := timed.Check(); err != nil {
		return timed, err
	}
	live, wishes, err := tx.LiveRun(id)
	switch {
	case errors.Is(err, ErrNotFound):
	case err != nil:
		return timed, err
	case live.AccountID != run.Student:
		return timed, form.Bad("id", "is that of another practice")
	case live.Seed == seedOf(run):
		timed.Since = live.BegunAt
	}
	if err := run.Holds(wishes); err != nil {
		return timed, err
	}
	marked, err := rows[string](tx, `select l.id::text from live_runs l where l.school_id = ? and l.account_id = ? and l.seed = ? and l.id <> ?
		and exists (select from live_wishes w where w.school_id = l.school_id and w.run_id = l.id) limit 1`, tx.School,
		run.Student, seedOf(run), id)
	if err != nil {
		return timed, fmt.Errorf("looking for what an instructor marked: %w", err)
	}
	if len(marked) > 0 {
		return timed, form.Bad("id",
			"is another than that of the run as it went on before an instructor: keep it as %s", marked[0])
	}
	type other struct {
		ID, Hands string
		BeganAt   time.Time
		Seconds   int
		MadeAt    time.Time
	}
	others, err := find[other](tx.own(&practiceRow{}).Select("id, hands, began_at, seconds, made_at").
		Where("student_id = ? and id <> ? and (hands = ? or made_at > ? or began_at > ?)", run.Student, id, run.Hands(),
			now.AddDate(0, 0, -1), timed.Span().From.AddDate(0, 0, -1)).Limit(10 * practicesADay))
	if err != nil {
		return timed, fmt.Errorf("looking for other practices: %w", err)
	}
	today := 0
	for _, o := range others {
		if o.Hands == run.Hands() {
			return timed, form.Bad("run.deeds", "are those of a practice that is kept already")
		}
		if now.Sub(o.MadeAt) < 24*time.Hour {
			today++
		}
		timed.Others = append(timed.Others, practice.Span{
			From: o.BeganAt, Until: o.BeganAt.Add(time.Duration(o.Seconds) * time.Second),
		})
	}
	if today >= practicesADay {
		return timed, ErrLimit
	}
	return timed, nil
}

// KeepPractice keeps a practice with the score that it came to here, and what it showed
// of each element where it counts. The same one again changes nothing.
func (tx *Tx) KeepPractice(id string, run practice.Run, score practice.Score, worked *practice.Session,
	now time.Time) error {
	head, err := tx.bump()
	if err != nil {
		return err
	}
	digest, err := rows[string](tx, "select digest from practice_runs where school_id = ? and id = ?", tx.School, id)
	switch {
	case err != nil:
		return fmt.Errorf("looking for a practice: %w", err)
	case len(digest) > 0 && digest[0] == score.Digest():
		return nil
	case len(digest) > 0:
		return ErrOtherPractice
	}
	if err := tx.endLive(id, now); err != nil { // no wish comes after it
		return err
	}
	timed, err := tx.practiceTimed(id, run, now)
	if err != nil {
		return err
	}
	timed.Own = worked.Own()
	kept, err := practiceOf(tx, id, run, score, timed)
	if err != nil {
		return err
	}
	if err := tx.db.Create(&kept).Error; err != nil {
		return fmt.Errorf("keeping a practice: %w", err)
	}
	if err := tx.practiceShowed(kept, score, worked.Lesson.Book()); err != nil {
		return err
	}
	return tx.changed(head.Seq, "practice", run.Student)
}

// practiceOf is a practice as it is kept.
func practiceOf(tx *Tx, id string, run practice.Run, score practice.Score, timed practice.Timed) (practiceRow, error) {
	text, err := json.Marshal(run)
	if err != nil {
		return practiceRow{}, err
	}
	var packed bytes.Buffer
	w := gzip.NewWriter(&packed)
	if _, err := w.Write(text); err != nil {
		return practiceRow{}, err
	}
	if err := w.Close(); err != nil {
		return practiceRow{}, err
	}
	told, err := json.Marshal(score)
	return practiceRow{SchoolID: tx.School, ID: id, StudentID: run.Student, Type: run.Scenario.Type,
		Title: run.Scenario.Title, Mode: run.Mode, MadeAt: timed.Arrived, OnDay: Date(tx.Day(timed.Arrived)),
		BeganAt: timed.Span().From, Hands: run.Hands(), Uncounted: timed.Uncounted(), Seconds: int(score.Seconds),
		Level: score.Level, RightItems: score.Right, OffItems: score.Off,
		Decision: run.Decision, Answered: score.Answer.Right, Run: packed.Bytes(), Score: string(told),
		Digest: score.Digest()}, err
}

// practiceShowed keeps what a practice showed of each element, and derives the standing
// that follows of it.
func (tx *Tx) practiceShowed(kept practiceRow, score practice.Score, book lesson.Book) error {
	if kept.Uncounted != "" {
		return nil
	}
	seen := []practiceObservation{}
	for i, o := range progress.FromLesson(kept.ID, string(kept.OnDay), score.State, book) {
		seen = append(seen, practiceObservation{
			tx.School, kept.ID, i, kept.StudentID, o.Element, o.Item, o.Level, o.Implied, o.Oral, o.Mark, o.Class,
			o.EngineKind, o.StartType, kept.OnDay, kept.MadeAt,
		})
	}
	if len(seen) > 0 {
		if err := tx.db.CreateInBatches(&seen, 500).Error; err != nil {
			return fmt.Errorf("keeping what a practice showed: %w", err)
		}
	}
	return tx.standsAnew(kept.StudentID)
}

// standsAnew derives a student's standing where the school lets practice count.
func (tx *Tx) standsAnew(person string) error {
	p, _, err := tx.derivedBy()
	if err != nil || !p.Standing.PracticeCounts {
		return err
	}
	if _, err := tx.Student(person); errors.Is(err, ErrNotFound) {
		return nil // whoever instructs has no standing
	}
	return tx.deriveStandings(person)
}
