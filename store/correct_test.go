package store_test

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/access"
	"jetprimer/core/lesson"
	"jetprimer/store"
)

// TestACorrectionStandsOnceSigned: until then the read tables have what was signed
// first; after it standing and tables follow, the chain holds, and the student is
// asked again.
func TestACorrectionStandsOnceSigned(t *testing.T) {
	s := smallSchool(t)
	id := s.signed[0]
	level := func() (kept, first *int) {
		state, _ := s.state(id)
		for _, i := range state.Items {
			if i.ID == "walk-round" {
				if i.First != nil {
					first = i.First.Level
				}
				return i.Level, first
			}
		}
		t.Fatal("no such item")
		return nil, nil
	}
	open := func() (lessons []string) {
		require.NoError(t, s.in(func(tx *store.Tx) error {
			for _, l := range must(tx.Unacknowledged(s.student)) {
				lessons = append(lessons, l.ID)
			}
			return nil
		}))
		return lessons
	}
	observed := func() (marks []string) {
		rows, err := s.super().Query(t.Context(),
			"select mark from item_results where lesson_id = $1 and item = 'walk-round'", id)
		require.NoError(t, err)
		defer rows.Close()
		for rows.Next() {
			var m string
			require.NoError(t, rows.Scan(&m))
			marks = append(marks, m)
		}
		return marks
	}
	before, _ := level()
	require.NotNil(t, before)
	state, _ := s.state(id)
	require.NoError(t, s.in(func(tx *store.Tx) error {
		return tx.Acknowledge(id, state.Seals[0].Seal, lesson.Answered{}, store.Signer{ID: s.student},
			uuid.Must(uuid.NewV7()).String(), at(-3))
	}))
	assert.NotContains(t, open(), id)

	correction := `{"item":"walk-round","mark":"done","why":"it was done before I came; the line boy saw it"}`
	answers, err := s.accept(id, s.student, access.Student, -2, event(50, lesson.KindCorrection, correction))
	assert.True(t, err != nil || answers[0].Status == "refused", "a student corrects nothing")
	answers, err = s.accept(id, s.instructor, access.Instructor, -2, event(51, lesson.KindCorrection, correction))
	require.NoError(t, err)
	require.Equal(t, "held", answers[0].Status, answers[0].Reason)
	now, first := level()
	assert.Equal(t, *before, *now, "unsigned it stands beside")
	assert.Nil(t, first)
	assert.Equal(t, []string{"left-out"}, observed())

	s.sign(id, -1)
	now, first = level()
	assert.Equal(t, 4, *now)
	assert.Equal(t, *before, *first)
	assert.Equal(t, []string{"done"}, observed())
	assert.Contains(t, open(), id, "the student is asked again")
	_, err = s.verify()
	require.NoError(t, err)
	require.NoError(t, s.Store.Rebuild(t.Context(), s.id, func(int, int) {}))
	assert.Equal(t, []string{"done"}, observed(), "made anew it is the same")
}
