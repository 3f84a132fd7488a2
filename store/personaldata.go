package store

import (
	"slices"
	"time"

	"jetprimer/core/schedule"
)

// PersonalData is what a school holds on one person, without the records of lessons.
type PersonalData struct {
	School   string             `json:"school"`
	Of       Member             `json:"person"`
	Lessons  []Lesson           `json:"lessons" doc:"as a student, the newest first"`
	Taught   []Lesson           `json:"taught" doc:"as an instructor, the newest first"`
	Planned  []schedule.Booking `json:"planned" doc:"from today on"`
	Away     []schedule.Away    `json:"away" doc:"leave from today on"`
	Shifts   []schedule.Shift   `json:"shifts" doc:"when the person works"`
	Standby  []Standby          `json:"standby" doc:"when the person would come at short notice"`
	Practice []PracticeRun      `json:"practice" doc:"on the stand, the newest first"`
	Shares   []RecordShare      `json:"shares"`
	Signed   []Signed           `json:"signed"`
	Done     []AuditLine        `json:"done" doc:"what the person did, and what was done to them"`
	Sessions []SignedIn         `json:"sessions"`
}

// heldMost bounds each list of what is held.
const heldMost = 20_000

// PersonalData gathers what the school holds on a person.
func (tx *Tx) PersonalData(id string, now time.Time) (h PersonalData, err error) {
	if h.School, err = tx.SchoolName(); err != nil {
		return h, err
	}
	if h.Of, err = tx.Member(id); err != nil {
		return h, err
	}
	if h.Lessons, err = find[Lesson](tx.lessons().Where("l.student_id = ?", id).Limit(heldMost)); err != nil {
		return h, err
	}
	if h.Taught, err = find[Lesson](tx.lessons().Where("l.instructor_id = ?", id).Limit(heldMost)); err != nil {
		return h, err
	}
	if h.Planned, err = tx.BookingsOf(id, now, now.AddDate(1, 0, 0)); err != nil {
		return h, err
	}
	away, err := tx.Away(now, now.AddDate(2, 0, 0))
	if err != nil {
		return h, err
	}
	h.Away = slices.DeleteFunc(away, func(a schedule.Away) bool { return a.PersonID != id })
	shifts, err := tx.Shifts()
	if err != nil {
		return h, err
	}
	h.Shifts = append([]schedule.Shift{}, shifts[id]...)
	standby, err := tx.Standby(tx.Day(now))
	if err != nil {
		return h, err
	}
	h.Standby = slices.DeleteFunc(standby, func(s Standby) bool { return s.StudentID != id })
	if h.Practice, err = tx.PracticeRuns(id, heldMost); err != nil {
		return h, err
	}
	if h.Shares, err = tx.RecordShares(id); err != nil {
		return h, err
	}
	if h.Signed, err = tx.SignedBy(id, heldMost); err != nil {
		return h, err
	}
	h.Done, err = find[AuditLine](tx.doneBy().Where("d.account_id = ? or d.subject = ?", id, id).Limit(heldMost))
	return h, err
}
