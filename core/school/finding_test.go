package school_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/school"
)

// TestADeferralsLimit: whatever day it is looked at, a limit is over the day after it and
// not before, and its days left count down to none.
func TestADeferralsLimit(t *testing.T) {
	day := func(n int) string { return time.Date(2026, 11, 2+n, 0, 0, 0, 0, time.UTC).Format(time.DateOnly) }
	for n := range 40 {
		state, left := school.Deferred.DeferredUntil(day(20), day(n))
		if n <= 20 {
			require.NotNil(t, left, n)
			assert.Equal(t, [2]any{school.Deferred, 20 - n}, [2]any{state, *left})
			assert.False(t, state.Grounds())
		} else {
			assert.Nil(t, left)
			assert.Equal(t, school.Overdue, state)
			assert.True(t, state.Grounds() && state.Open())
		}
	}
	for _, other := range []school.Condition{school.Undecided, school.CarriedOn, school.Grounded, school.Closed} {
		state, left := other.DeferredUntil(day(1), day(9))
		assert.Equal(t, other, state, "a limit is of what is deferred")
		assert.Nil(t, left)
	}
	state, left := school.Deferred.DeferredUntil("", day(9))
	assert.Equal(t, school.Deferred, state, "nobody has said until when")
	assert.Nil(t, left)
	for field, d := range map[string]school.Deferral{
		"until": {Until: day(-1), Words: "item 7"}, "words": {Until: day(3), Words: " "},
	} {
		assert.ErrorContains(t, d.Check(day(0)), field)
	}
	assert.ErrorContains(t, school.Deferral{Until: day(400), Words: "item 7"}.Check(day(0)), "at most 366 days")
	assert.ErrorContains(t, school.Deferral{Until: "soon", Words: "item 7"}.Check(day(0)), "until")
	assert.NoError(t, school.Deferral{Until: day(0), Words: "item 7"}.Check(day(0)), "until tonight")
}
