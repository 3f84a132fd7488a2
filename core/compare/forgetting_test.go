package compare_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/compare"
	"jetprimer/core/progress"
)

// TestForgettingIsRecovered: from answers of a school that forgets as known.
func TestForgettingIsRecovered(t *testing.T) {
	begin := progress.Forgetting{ID: "half-life", Base: 2, Right: 1.4, Wrong: -0.4}
	truth := progress.Forgetting{ID: "half-life", Base: 1.1, Right: 1.9, Wrong: -0.7}
	r := rand.New(rand.NewPCG(3, 4))
	var answers []compare.Answer
	for range 40_000 {
		a := compare.Answer{Right: r.IntN(8), Wrong: r.IntN(5), Days: float64(1 + r.IntN(40))}
		a.Known = r.Float64() < truth.Known(a.Right, a.Wrong, a.Days)
		answers = append(answers, a)
	}
	got, err := compare.FitForgetting(answers, begin)
	require.NoError(t, err)
	for _, c := range []struct{ right, wrong int }{{1, 0}, {3, 1}, {6, 2}, {2, 4}} {
		assert.InEpsilon(t, truth.HalfLife(c.right, c.wrong), got.HalfLife(c.right, c.wrong), 0.08, "%v", c)
	}

	_, err = compare.FitForgetting(answers[:1999], begin)
	assert.ErrorContains(t, err, "2000 are needed")
	for i := range answers {
		answers[i].Known = true
	}
	_, err = compare.FitForgetting(answers, begin)
	assert.ErrorContains(t, err, "100 of either kind")
}
