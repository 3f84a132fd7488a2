package store

import (
	"time"

	"jetprimer/core/school"
)

// Held is what a school holds on one person, without the records of lessons.
type Held struct {
	School   string           `json:"school"`
	Of       Member           `json:"person"`
	Lessons  []Lesson         `json:"lessons" doc:"as a student, the newest first"`
	Taught   []Lesson         `json:"taught" doc:"as an instructor, the newest first"`
	Planned  []school.Booking `json:"planned" doc:"from today on"`
	Shares   []RecordShare    `json:"shares"`
	Signed   []Signed         `json:"signed"`
	Done     []Done           `json:"done" doc:"what the person did, and what was done to them"`
	Sessions []SignedIn       `json:"sessions"`
}

// heldMost bounds each list of what is held.
const heldMost = 20_000

// Held gathers what the school holds on a person.
func (tx *Tx) Held(id string, now time.Time) (h Held, err error) {
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
	planned, err := tx.Bookings(now, now.AddDate(1, 0, 0))
	if err != nil {
		return h, err
	}
	h.Planned = []school.Booking{}
	for _, b := range planned {
		if b.StudentID == id || b.InstructorID == id {
			h.Planned = append(h.Planned, b)
		}
	}
	if h.Shares, err = tx.RecordShares(id); err != nil {
		return h, err
	}
	if h.Signed, err = tx.SignedBy(id, heldMost); err != nil {
		return h, err
	}
	h.Done, err = find[Done](tx.doneBy().Where("d.account_id = ? or d.subject = ?", id, id).Limit(heldMost))
	return h, err
}
