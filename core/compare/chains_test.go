package compare_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/compare"
)

// TestChainsAreSure: a finding that follows an error more often than chance has it
// is named with both rates; what is seldom, or as frequent without, is not.
func TestChainsAreSure(t *testing.T) {
	found := compare.Chains([]compare.Sequel{
		{Type: "alder-110", Item: "lean-for-taxi", Finding: "magneto", Lessons: 140, Wrong: 10, Found: 16, Both: 7},
		{Type: "alder-110", Item: "primer", Finding: "magneto", Lessons: 140, Wrong: 10, Found: 16, Both: 2},
		{Type: "alder-110", Item: "seldom", Finding: "magneto", Lessons: 140, Wrong: 4, Found: 16, Both: 4},
		{Type: "alder-110", Item: "always", Finding: "magneto", Lessons: 14, Wrong: 8, Found: 8, Both: 8},
		{Type: "rowan-180i", Item: "hot-start", Finding: "fuel-pressure", Lessons: 60, Wrong: 20, Found: 20, Both: 20},
	})
	require.Len(t, found, 2)
	assert.Equal(t, "hot-start", found[0].Item)
	assert.Equal(t, "in 7 of 10 lessons after it, in 9 of 130 without it", found[1].Words)
	rapid.Check(t, func(r *rapid.T) {
		// Of a finding that comes as often with the error as without, no chain is made.
		of, part := rapid.IntRange(1, 40).Draw(r, "times"), rapid.IntRange(0, 8).Draw(r, "part")
		require.Empty(r,
			compare.Chains([]compare.Sequel{{Lessons: 16 * of, Wrong: 8 * of, Found: 2 * part * of, Both: part * of}}))
	})
}

// TestOutOfLimitsIsOrdered: by how surely they are out of limits, few tries last.
func TestOutOfLimitsIsOrdered(t *testing.T) {
	found := compare.OutOfLimitsOf([]compare.ReadingTally{
		{"a", "idle", 200, 4}, {"a", "magneto", 40, 10}, {"a", "suction", 3, 3},
	})
	assert.Equal(t, []string{"magneto", "idle", "suction"}, []string{found[0].Check, found[1].Check, found[2].Check})
	assert.True(t, found[2].Few)
	assert.Equal(t, compare.Rate{N: 10, Of: 40, Rate: 0.25, Low: 0.142, High: 0.402}, found[0].Out)
}
