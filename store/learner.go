package store

import (
	"fmt"

	"jetprimer/exchange"
)

// Statements are those of a student's signed lessons, the oldest first, with names
// below the address of the installation. For the student's own eyes those are left
// out of which they have not said yet how they saw them.
func (tx *Tx) Statements(student, home string, own bool) ([]exchange.Statement, error) {
	if _, err := tx.Student(student); err != nil {
		return nil, err
	}
	lessons, err := find[Lesson](tx.lessons().Where("l.student_id = ? and l.status = 'signed'",
		student).Limit(heldMost))
	if err != nil {
		return nil, fmt.Errorf("reading lessons: %w", err)
	}
	out := []exchange.Statement{}
	for i := len(lessons) - 1; i >= 0; i-- {
		l := lessons[i]
		p, err := tx.Policy(tx.Day(l.OpenedAt))
		if err != nil {
			return nil, err
		}
		state, book, _, err := tx.State(l)
		if err != nil {
			return nil, err
		}
		if own && state.Self == nil {
			continue
		}
		out = append(out,
			exchange.Statements(exchange.LearnerLesson{
				Home: home, ID: l.ID, Opened: l.OpenedAt, State: state, Book: book, AtLeast: p.Standing.AtLeast,
			})...)
	}
	return out, nil
}
