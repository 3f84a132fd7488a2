package lesson_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jetprimer/core/lesson"
)

// TestASumCountsByLevel: what was correct at once, nearly or not, a phase each; whatever a
// person gave or corrected is told of though it is correct.
func TestASumCountsByLevel(t *testing.T) {
	level := func(n int) *int { return &n }
	state := lesson.State{
		Phases: []lesson.PhaseState{
			{ID: "start", Title: "Start", Marked: 6, Levels: [5]int{1, 0, 1, 1, 3}}, {ID: "taxi", Title: "Taxi"},
		},
		Items: []lesson.ItemState{
			{ID: "right", Level: level(4)}, {ID: "prompted", Level: level(3)}, {ID: "left-out", Level: level(0)},
			{ID: "given", Level: level(4), Override: &lesson.Override{}},
			{ID: "corrected", First: &lesson.First{}}, {ID: "untouched"},
		},
		Orals: []lesson.Oral{{Event: "a", Level: 4}, {Event: "b", Level: 3}, {Event: "c", Level: 1}},
	}
	assert.Equal(t, lesson.Sum{
		Phases:     []lesson.PhaseSum{{ID: "start", Title: "Start", Correct: 3, Nearly: 2, Not: 1}},
		Observed:   []string{"right", "prompted", "left-out", "given", "corrected"},
		Deviations: []string{"prompted", "left-out", "given", "corrected"},
		Known:      1, Unsure: []string{"b", "c"},
	}, state.Sum())
}
