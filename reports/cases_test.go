package reports_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/progress"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/reports"
	"jetprimer/store"
)

// TestTheNextLessonAtAGlance: what is kept of a student's lessons gives the same next lesson
// as all that was ever seen, on the day and once everything has lapsed.
func TestTheNextLessonAtAGlance(t *testing.T) {
	d := schooltest.Demo(t, "x")
	next := 0
	require.NoError(t, d.Store.In(context.Background(), demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
		students, err := tx.Students()
		require.NoError(t, err)
		for _, day := range []string{tx.Day(schooltest.Day), tx.Day(schooltest.Day.AddDate(1, 0, 0))} {
			r := reports.New(d.Catalog, nil)
			p, err := tx.Policy(day)
			require.NoError(t, err)
			on, err := r.Cases(tx, day)
			require.NoError(t, err)
			kept, err := on.AtAGlance(students, p.Standing)
			require.NoError(t, err)
			for _, st := range students {
				all, err := on.Of(st, p.Standing)
				require.NoError(t, err)
				type answer struct {
					progress.Step
					gain  float64
					found bool
				}
				var want, got answer
				want.Step, want.gain, want.found = p.Standing.Next(all.Case)
				got.Step, got.gain, got.found = p.Standing.Next(kept[st.ID])
				assert.Equal(t, want, got, "%s on %s", st.Name, day)
				if got.found {
					next++
				}
			}
		}
		return nil
	}))
	assert.Greater(t, next, 8)
}
