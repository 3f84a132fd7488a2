package checklist

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// kept are the values that are not blamed.
func kept(values []int, repeats bool) []int {
	out := []int{}
	for i, blamed := range OutOfOrder(values, repeats) {
		if !blamed {
			out = append(out, values[i])
		}
	}
	return out
}

// best tries every subset: the longest in order, of equal ones the one whose
// entries came first.
func best(values []int, repeats bool) []int {
	found, places := []int{}, []int{}
	for set := range 1 << len(values) {
		var chosen, at []int
		ordered := true
		for i, v := range values {
			if set>>i&1 == 0 {
				continue
			}
			if n := len(chosen); n > 0 && (v < chosen[n-1] || v == chosen[n-1] && !repeats) {
				ordered = false
			}
			chosen, at = append(chosen, v), append(at, i)
		}
		if ordered && (len(chosen) > len(found) || len(chosen) == len(found) && slices.Compare(at, places) < 0) {
			found, places = chosen, at
		}
	}
	return found
}

func TestFewestAreBlamed(t *testing.T) {
	for _, c := range []struct{ done, kept []int }{
		{[]int{}, []int{}},
		{[]int{0, 1, 2, 3}, []int{0, 1, 2, 3}},
		{[]int{3, 0, 1, 2}, []int{0, 1, 2}},
		{[]int{0, 2, 1, 3}, []int{0, 2, 3}},
		{[]int{1, 0}, []int{1}},
		{[]int{2, 3, 0, 1}, []int{2, 3}},
		{[]int{4, 3, 2, 1, 0}, []int{4}},
	} {
		assert.Equal(t, c.kept, kept(c.done, false), c.done)
	}
}

func TestOrderIsTheBestOfAllChoices(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		repeats := rapid.Bool().Draw(t, "repeats")
		values := rapid.Permutation([]int{0, 1, 2, 3, 4, 5, 6, 7}).Draw(t, "values")
		if repeats {
			values = rapid.SliceOfN(rapid.IntRange(0, 3), 0, 8).Draw(t, "phases")
		}
		require.Equal(t, best(values, repeats), kept(values, repeats), values)
	})
}
