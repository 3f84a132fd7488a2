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
	return tx.db.Table("practice_runs p").Select("p.id, p.student_id, a.name as student, p.type, p.title, p.mode, p.made_at, p.on_day, p.seconds, p.level, p.right_items, p.off_items, p.decision, p.answered").
		Joins("join accounts a on a.id = p.student_id").Where("p.school_id = ?", tx.School)
}

// PracticeRuns lists the newest practices of a person, of everybody where none is named.
func (tx *Tx) PracticeRuns(person string, most int) ([]PracticeRun, error) {
	query := tx.practiceRuns().Order("p.made_at desc, p.id").Limit(most)
	if person != "" {
		query = query.Where("p.student_id::text = ?", person)
	}
	return find[PracticeRun](query)
}

// PracticeRun is one practice as it is listed.
func (tx *Tx) PracticeRun(id string) (PracticeRun, error) {
	return firstOf(find[PracticeRun](tx.practiceRuns().Where("p.id = ?", id)))
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

// KeepPractice keeps a practice with the score that it came to here, and what it showed
// of each element. The same one again changes nothing.
func (tx *Tx) KeepPractice(id string, run practice.Run, score practice.Score, book lesson.Book, now time.Time) error {
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
	text, err := json.Marshal(run)
	if err != nil {
		return err
	}
	var packed bytes.Buffer
	w := gzip.NewWriter(&packed)
	if _, err := w.Write(text); err != nil {
		return err
	}
	if err := w.Close(); err != nil {
		return err
	}
	told, err := json.Marshal(score)
	if err != nil {
		return err
	}
	day := Date(tx.Day(now))
	kept := practiceRow{SchoolID: tx.School, ID: id, StudentID: run.Student, Type: run.Scenario.Type, Title: run.Scenario.Title, Mode: run.Mode, MadeAt: now, OnDay: day, Seconds: int(score.Seconds),
		Level: score.Level, RightItems: score.Right, OffItems: score.Off, Decision: run.Decision, Answered: score.Answer.Right, Run: packed.Bytes(), Score: string(told), Digest: score.Digest()}
	if err := tx.db.Create(&kept).Error; err != nil {
		return fmt.Errorf("keeping a practice: %w", err)
	}
	seen := []practiceObservation{}
	for i, o := range progress.FromLesson(id, string(day), score.State, book) {
		seen = append(seen, practiceObservation{tx.School, id, i, run.Student, o.Element, o.Item, o.Level, o.Implied, o.Oral, o.Mark, o.Class, o.EngineKind, o.StartType, day, now})
	}
	if len(seen) > 0 {
		if err := tx.db.CreateInBatches(&seen, 500).Error; err != nil {
			return fmt.Errorf("keeping what a practice showed: %w", err)
		}
	}
	if err := tx.standsAnew(run.Student); err != nil {
		return err
	}
	return tx.changed(head.Seq, "practice", run.Student)
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
