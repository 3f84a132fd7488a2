package store_test

import (
	"encoding/json"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/access"
	"jetprimer/core/lesson"
	"jetprimer/store"
)

// TestPaperAndRunsHoldInTheChain: a lesson from paper and a maintenance run are signed
// into the school's chain, which holds with both; neither overlaps, counts or shows what
// it must not.
func TestPaperAndRunsHoldInTheChain(t *testing.T) {
	s := smallSchool(t)
	paper := uuid.NewString()
	opened := s.openingAs(func(o map[string]any) {
		o["instructor"], o["paper"] = s.chief, map[string]any{"day": on(-12), "off": "09:30", "on": "10:10"}
	})
	answers, err := s.accept(paper, s.chief, access.Chief, -1, opened,
		event(2, lesson.KindItemResult, `{"item":"papers","result":"done"}`), event(3, lesson.KindEnded, `{}`))
	require.NoError(t, err)
	require.Equal(t, "held", answers[0].Status, answers[0].Reason)

	run := uuid.NewString()
	var payload lesson.Opened
	require.NoError(t, s.in(func(tx *store.Tx) error {
		a := must(tx.OneAircraft("QZ-SML", on(-1)))
		desk := must(tx.Desk(a.Type, on(-1), ""))
		payload = must(lesson.RunChoice{By: s.chief, Aircraft: a.Registration, Equipment: a.Equipment,
			ElevationFt: a.ElevationFt, Date: on(-1), Scale: "five",
			List: desk.Lists[0], Type: desk.Type}.Opened())
		return nil
	}))
	answers, err = s.accept(run, s.chief, access.Chief, -1, event(1, lesson.KindOpened, asJSON(t, payload)),
		event(2, lesson.KindEnded, `{}`))
	require.NoError(t, err)
	require.Equal(t, "held", answers[0].Status, answers[0].Reason)

	for _, id := range []string{paper, run} {
		state, row := s.state(id)
		require.NoError(t, s.in(func(tx *store.Tx) error {
			return tx.Sign(id, state.EventHash, store.Signer{ID: s.chief, Name: "Chief", How: "password"},
				uuid.Must(uuid.NewV7()).String(), at(-1))
		}), row.Purpose)
	}
	_, row := s.state(paper)
	require.NoError(t, s.in(func(tx *store.Tx) error {
		assert.Equal(t, on(-12), tx.Day(row.OpenedAt), "in the school's own zone")
		return nil
	}))
	assert.Contains(t, row.Flag, "written down from paper")
	_, row = s.state(run)
	assert.True(t, row.Run())
	assert.Empty(t, row.Student)
	_, err = s.verify()
	require.NoError(t, err)

	foreign := payload
	foreign.Student = s.student
	answers, err = s.accept(uuid.NewString(), s.chief, access.Chief, -1,
		event(1, lesson.KindOpened, asJSON(t, foreign)))
	require.NoError(t, err)
	assert.Contains(t, answers[0].Reason, "must be empty in a maintenance run")
	whole := payload
	flown := *payload.Flown
	flown.List.Phases = flown.List.Phases[1:]
	whole.Flown = &flown
	_, err = s.accept(uuid.NewString(), s.chief, access.Chief, -1, event(1, lesson.KindOpened, asJSON(t, whole)))
	assert.ErrorContains(t, err, "is not what the list")
	_, err = s.accept(uuid.NewString(), s.instructor, access.Instructor, -1,
		event(1, lesson.KindOpened, asJSON(t, payload)))
	assert.ErrorContains(t, err, "must be you")
}

func asJSON(t *testing.T, v any) string {
	t.Helper()
	data, err := json.Marshal(v)
	require.NoError(t, err)
	return string(data)
}
