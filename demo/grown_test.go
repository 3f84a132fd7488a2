package demo_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/access"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/store"
)

// TestTheDemoSchoolGrowsWhileItServes: fourteen aircraft, nine instructors, 64
// students and about 2,000 lessons; where it was stopped it goes on, with the same
// lessons as another that was not.
func TestTheDemoSchoolGrowsWhileItServes(t *testing.T) {
	grow := func(d *schooltest.Database, until int) (first, last int) {
		ctx, stop := context.WithCancel(context.Background())
		defer stop()
		first = -1
		err := demo.Grow(ctx, d.Store, d.Catalog, schooltest.Day, func(n, of int) {
			if first < 0 {
				first = n
			}
			last = n
			assert.InDelta(t, 2000, of, 200)
			if n >= until {
				stop()
			}
		})
		require.ErrorIs(t, err, context.Canceled)
		return first, last
	}
	a := schooltest.Demo(t, "x")
	first, last := grow(a, 6)
	assert.Equal(t, []int{0, 6}, []int{first, last})
	first, last = grow(a, 12)
	assert.Equal(t, []int{6, 12}, []int{first, last})
	b := schooltest.Demo(t, "x")
	grow(b, 12)
	assert.Equal(t, readTables(t, a), readTables(t, b))

	for role, want := range map[string]int{access.Instructor: 9, access.Student: 64} {
		assert.Len(t, get(t, a, func(tx *store.Tx) ([]store.Person, error) { return tx.People(role) }), want, role)
	}
	fleet := get(t, a, func(tx *store.Tx) ([]store.Aircraft, error) { return tx.Aircraft("2026-11-24") })
	assert.Len(t, fleet, 14)
	get(t, a, func(tx *store.Tx) (store.Chain, error) { return tx.VerifyChain() })

	require.NoError(t,
		demo.Grow(context.Background(), a.Store, a.Catalog, schooltest.Day.AddDate(0, 0, -1), func(int, int) {
			assert.Fail(t, "a school loaded on a day that is still to come is one of an older program")
		}))
}
