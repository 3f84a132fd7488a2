package progress_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/progress"
)

var halfLife = progress.Forgetting{ID: "half-life", Base: 2, Right: 1.4, Wrong: -0.4}

func TestWhatToPractiseAlone(t *testing.T) {
	tried := []progress.Tried{
		{"magnetos", day(0), false}, {"brief", day(0), true}, {"doors", day(0), true},
		{"magnetos", day(5), true}, {"doors", day(5), true}, {"doors", day(20), true},
	}
	got := halfLife.Practise(tried, day(21))
	require.Len(t, got, 2, "what was right yesterday, for the third time, is not asked for")
	assert.Equal(t, "brief", got[0].Item, "shown once, and longest ago")
	assert.Equal(t, "Shown once, 21 days ago.", got[0].Why)
	assert.Equal(t, "Right in 1 of 2 lessons, last shown 16 days ago.", got[1].Why)
	// 2^(2 + 1.4·√2 − 0.4·√1) = 11.96 days; 2^(−21/11.96) = 0.296.
	assert.InDelta(t, 0.296, got[0].Known, 0.001)
	assert.Empty(t, halfLife.Practise(nil, day(0)))
	assert.Error(t, progress.Forgetting{Base: 21}.Check())
	assert.NoError(t, halfLife.Check())
}

// TestForgettingIsMonotone: with time less is known, with every time right more,
// with every time not right less; always a chance.
func TestForgettingIsMonotone(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		right, wrong := rapid.IntRange(0, 200).Draw(t, "right"), rapid.IntRange(0, 200).Draw(t, "wrong")
		days := rapid.Float64Range(0, 4000).Draw(t, "days")
		p := halfLife.Known(right, wrong, days)
		assert.GreaterOrEqual(t, p, 0.0)
		assert.LessOrEqual(t, p, 1.0)
		assert.GreaterOrEqual(t, p, halfLife.Known(right, wrong, days+1))
		assert.LessOrEqual(t, p, halfLife.Known(right+1, wrong, days))
		assert.GreaterOrEqual(t, p, halfLife.Known(right, wrong+1, days))
	})
}
