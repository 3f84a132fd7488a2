package practice_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"jetprimer/core/lesson"
	"jetprimer/core/practice"
)

// TestWhenAPracticeCounts: one that the school saw go on, no quicker than time, and alone.
func TestWhenAPracticeCounts(t *testing.T) {
	at := func(minutes float64) time.Time {
		return time.Date(2026, 11, 24, 10, 0, 0, 0, time.UTC).Add(time.Duration(minutes * float64(time.Minute)))
	}
	for _, c := range []struct {
		name string
		of   practice.Timed
		why  string
		bad  bool
	}{
		{"as it should be", practice.Timed{Began: at(0), Since: at(0), Own: 540, Arrived: at(9)}, "", false},
		{"with pauses", practice.Timed{Began: at(0), Since: at(0), Own: 540, Arrived: at(50)}, "", false},
		{
			"a clock years behind", practice.Timed{Began: at(-60 * 24 * 61), Since: at(0), Own: 540, Arrived: at(9)},
			"", false,
		},
		{
			"nine minutes in three seconds", practice.Timed{Began: at(0), Since: at(8.95), Own: 540, Arrived: at(9)},
			"more quickly than time", false,
		},
		{"without the school", practice.Timed{Began: at(0), Own: 540, Arrived: at(60)}, "could not be reached", false},
		{
			"two at once",
			practice.Timed{
				Began: at(0), Since: at(0), Own: 540, Arrived: at(9), Others: []practice.Span{{at(-5), at(1)}},
			},
			"at the same time", false,
		},
		{
			"one after another",
			practice.Timed{
				Began: at(0), Since: at(0), Own: 540, Arrived: at(9),
				Others: []practice.Span{{at(-5), at(0)}, {at(9), at(12)}},
			},
			"", false,
		},
		{"in 2099", practice.Timed{Began: at(0).AddDate(73, 0, 0), Since: at(0), Own: 1, Arrived: at(9)}, "", true},
		{
			"last year", practice.Timed{Began: at(0).AddDate(-1, 0, 0), Own: 1, Arrived: at(9)}, "could not be reached",
			true,
		},
	} {
		assert.Equal(t, c.bad, c.of.Check() != nil, c.name)
		if c.why == "" {
			assert.Empty(t, c.of.Uncounted(), c.name)
		}
		assert.Contains(t, c.of.Uncounted(), c.why, c.name)
	}
}

// TestTheSameHands: who marked it and when it was said to be changes nothing; what the
// student did does.
func TestTheSameHands(t *testing.T) {
	move := practice.Deed{Tick: 5, Move: &practice.Move{Control: "master", Value: 1}}
	mark := practice.Deed{
		Tick: 6, Call: &practice.Call{Mark: lesson.Mark{Name: "prompted", Item: "papers"}, Instructor: true},
	}
	run := practice.Run{Seed: 4, Began: began, Ticks: 9, Deeds: []practice.Deed{move, mark}}
	other := run
	other.Began, other.Decision, other.Deeds = "2099-01-01T00:00:00Z", "grounded", []practice.Deed{move}
	assert.Equal(t, run.Hands(), other.Hands())
	assert.NoError(t, run.Holds([]practice.Wish{{Call: mark.Call}}))
	assert.ErrorContains(t, run.Holds(nil), "run.deeds[1] was not made by an instructor")
	assert.ErrorContains(t, other.Holds([]practice.Wish{{Call: mark.Call}}), "0 of 1")
	other.Deeds[0].Tick++
	assert.NotEqual(t, run.Hands(), other.Hands())
}
