package progress_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/lesson"
	"jetprimer/core/progress"
)

// levels is a lesson of the list x (critical), y with those levels; −1 is not
// observed.
func levels(purpose string, values ...int) lesson.State {
	s := lesson.State{Opened: &lesson.Opened{Purpose: purpose, Instructor: "B"}}
	for _, v := range values {
		item := lesson.ItemState{}
		if v >= 0 {
			item.Level = &v
		}
		s.Items = append(s.Items, item)
	}
	return s
}

func TestAStageCheckIsHarderOnCriticalItems(t *testing.T) {
	for _, c := range []struct {
		critical, other int
		passed          bool
	}{
		{4, 4, true}, {3, 2, true}, {2, 4, false}, {4, 1, false}, {0, 4, false}, {-1, -1, true},
	} {
		s, ok := policy().StageCheckOf("L", "2026-06-01", levels("stage-check", c.critical, c.other), list())
		require.True(t, ok)
		assert.Equal(t, c.passed, s.Passed, "%d %d", c.critical, c.other)
		assert.Equal(t, "B", s.Instructor)
	}
	_, ok := policy().StageCheckOf("L", "2026-06-01", levels("training", 4, 4), list())
	assert.False(t, ok, "a lesson flown for training is no stage check")
}

func TestACriticalErrorStaysOpenUntilALaterLessonAnswersIt(t *testing.T) {
	at := func(lesson, item string, level int) progress.ItemLevel {
		return progress.ItemLevel{Lesson: lesson, Item: item, Level: level}
	}
	for _, c := range []struct {
		name   string
		levels []progress.ItemLevel
		open   int
	}{
		{"none", []progress.ItemLevel{at("1", "x", 1), at("2", "x", 2)}, 0},
		{"unanswered", []progress.ItemLevel{at("1", "x", 0)}, 1},
		{"answered later", []progress.ItemLevel{at("1", "x", 0), at("2", "x", 3)}, 0},
		{"answered too weakly", []progress.ItemLevel{at("1", "x", 0), at("2", "x", 2)}, 1},
		{"the same lesson does not answer", []progress.ItemLevel{at("1", "x", 0), at("1", "x", 4)}, 1},
		{"another item does not answer", []progress.ItemLevel{at("1", "x", 0), at("2", "y", 4)}, 1},
		{"once more after the answer", []progress.ItemLevel{at("1", "x", 0), at("2", "x", 4), at("3", "x", 0)}, 1},
	} {
		assert.Len(t, progress.OpenCriticals(c.levels), c.open, c.name)
	}
}
