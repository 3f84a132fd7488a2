package progress_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/progress"
)

// flown is a lesson of the list x, y with those levels; −1 is not observed.
func flown(purpose string, x, y int) (lesson.State, lesson.Book) {
	book := lesson.Book{Type: aircraft.Type{ID: "t", Class: "single"}, List: list()}
	l := lesson.New(book)
	n := 0
	add := func(kind, payload string) {
		n++
		l.Add(lesson.Event{
			ID: fmt.Sprintf("01900000-0000-7000-8000-%012d", n), Device: "d", Seq: int64(n), Counter: int64(n),
			Kind: kind, V: 1, Payload: json.RawMessage(payload),
		})
	}
	add(lesson.KindOpened,
		fmt.Sprintf(`{"student":"s","instructor":"B","aircraft":"a","aircraftType":"t","typeVersion":1,"list":"l","listVersion":1,"method":"read-and-do","scale":"five","purpose":%q}`, purpose))
	for item, level := range map[string]int{"x": x, "y": y} {
		if level >= 0 {
			add(lesson.KindOverride, fmt.Sprintf(`{"item":%q,"level":%d,"reason":"r"}`, item, level))
		}
	}
	return l.State(), book
}

// TestAStageCheckNeedsCoverage: all that its stage asks for was shown, none
// below 3, no item at 0.
func TestAStageCheckNeedsCoverage(t *testing.T) {
	for _, c := range []struct {
		x, y   int
		passed bool
	}{
		{4, 4, true}, {3, 3, true}, {2, 4, false}, {4, 2, false}, {0, 4, false}, {4, -1, false}, {-1, -1, false},
	} {
		state, book := flown("stage-check", c.x, c.y)
		s, ok := policy().StageCheckOf("L", "2026-06-01", state, book, packs())
		require.True(t, ok)
		assert.Equal(t, c.passed, s.Passed, "%d %d", c.x, c.y)
		assert.Equal(t, []string{"B", "checks", "single"}, []string{s.Instructor, s.Stage, s.Class})
	}
	state, book := flown("training", 4, 4)
	_, ok := policy().StageCheckOf("L", "2026-06-01", state, book, packs())
	assert.False(t, ok, "a lesson flown for training is no stage check")
	state.Opened.Purpose, state.Opened.Stage = "stage-check", "another"
	_, ok = policy().StageCheckOf("L", "2026-06-01", state, book, packs())
	assert.False(t, ok, "a stage that the policy does not have")
}

// TestTheLatestStageCheckCounts: of its class, with another instructor, while it
// is young enough.
func TestTheLatestStageCheckCounts(t *testing.T) {
	check := func(date, class, instructor string, passed bool) progress.StageCheck {
		return progress.StageCheck{Date: date, Stage: "checks", Class: class, Instructor: instructor, Passed: passed}
	}
	good := check("2026-05-01", "single", "B", true)
	for _, c := range []struct {
		name   string
		checks []progress.StageCheck
		asOf   string
		block  string
	}{
		{"none", nil, "2026-06-01", "not flown yet"},
		{"passed", []progress.StageCheck{good}, "2026-06-01", ""},
		{
			"with the recommending instructor", []progress.StageCheck{check("2026-05-01", "single", "A", true)},
			"2026-06-01", "not flown yet",
		},
		{
			"of another class", []progress.StageCheck{check("2026-05-01", "multi", "B", true)}, "2026-06-01",
			"not flown yet",
		},
		{
			"failed later", []progress.StageCheck{good, check("2026-05-20", "single", "B", false)}, "2026-06-01",
			"on 2026-05-20 not passed",
		},
		{
			"failed later, asked before", []progress.StageCheck{good, check("2026-05-20", "single", "B", false)},
			"2026-05-10", "",
		},
		{"too old", []progress.StageCheck{good}, "2026-10-29", "older than 180 days"},
		{"on its last day", []progress.StageCheck{good}, "2026-10-28", ""},
	} {
		r := policy().Ready(progress.Case{AsOf: c.asOf, Class: "single", Recommending: "A", StageChecks: c.checks})
		if c.block == "" {
			assert.Empty(t, r.Blocks, c.name)
		} else if assert.Len(t, r.Blocks, 1, c.name) {
			assert.Contains(t, r.Blocks[0], c.block, c.name)
		}
	}
}

func TestACriticalErrorStaysOpenUntilTwoLaterLessonsAnswerIt(t *testing.T) {
	at := func(lesson, item string, level int) progress.ItemLevel {
		return progress.ItemLevel{Lesson: lesson, Item: item, Level: level, Class: "single"}
	}
	multi := at("3", "x", 4)
	multi.Class = "multi"
	for _, c := range []struct {
		name   string
		levels []progress.ItemLevel
		open   int
	}{
		{"none", []progress.ItemLevel{at("1", "x", 1), at("2", "x", 2)}, 0},
		{"unanswered", []progress.ItemLevel{at("1", "x", 0)}, 1},
		{"answered once", []progress.ItemLevel{at("1", "x", 0), at("2", "x", 3)}, 1},
		{"twice in one lesson is once", []progress.ItemLevel{at("1", "x", 0), at("2", "x", 3), at("2", "x", 4)}, 1},
		{"answered in two lessons", []progress.ItemLevel{at("1", "x", 0), at("2", "x", 3), at("3", "x", 4)}, 0},
		{"answered too weakly", []progress.ItemLevel{at("1", "x", 0), at("2", "x", 2), at("3", "x", 4)}, 1},
		{"the same lesson does not answer", []progress.ItemLevel{at("1", "x", 0), at("1", "x", 4), at("2", "x", 4)}, 1},
		{"another item does not answer", []progress.ItemLevel{at("1", "x", 0), at("2", "y", 4), at("3", "y", 4)}, 1},
		{"another class does not answer", []progress.ItemLevel{at("1", "x", 0), at("2", "x", 4), multi}, 1},
		{
			"once more after the answers",
			[]progress.ItemLevel{at("1", "x", 0), at("2", "x", 4), at("3", "x", 4), at("4", "x", 0)}, 1,
		},
	} {
		assert.Len(t, policy().OpenCriticals(c.levels), c.open, c.name)
	}
	r := policy().Ready(progress.Case{
		AsOf: "2026-06-01", Class: "multi", Criticals: []progress.ItemLevel{at("1", "x", 0)},
	})
	assert.Len(t, r.Blocks, 1, "a critical error of another class blocks nothing but the stage check is missing")
}

// TestWhatAnAircraftCannotShow is not required on it, and is said.
func TestWhatAnAircraftCannotShow(t *testing.T) {
	typ := aircraft.Type{ID: "t", Engines: 1, Equipment: []aircraft.Equipment{{ID: "pump", Optional: true}}}
	l := checklist.List{ID: "l", AircraftType: "t", Title: "L", Version: 1, Source: "s",
		Phases: []checklist.Phase{{ID: "one", Title: "One", Items: []checklist.Item{
			{ID: "x", Challenge: "X", Response: "set", Why: "w", Elements: []string{"e"}, When: "oat < 5 °C"},
			{ID: "y", Challenge: "Y", Response: "set", Why: "w", Elements: []string{"f"}, When: "fitted(pump)"},
			{ID: "z", Challenge: "Z", Response: "set", Why: "w", Elements: []string{"k"}, When: "planned(stalls)"}}}}}
	with, err := progress.Reach(l, typ, checklist.Aircraft{Equipment: []string{"pump"}}, []string{"stalls"},
		[]string{"q"})
	require.NoError(t, err)
	assert.Equal(t, map[string]bool{"e": true, "f": true, "k": true, "q": true}, with)
	without, err := progress.Reach(l, typ, checklist.Aircraft{}, []string{"stalls"}, nil)
	require.NoError(t, err)
	assert.Equal(t, map[string]bool{"e": true, "k": true}, without)

	c := progress.Case{AsOf: "2026-06-01", Class: "single", Packs: packs(), Reach: without}
	r, standings := policy().Glance(c)
	assert.Equal(t, 2, r.Required)
	assert.Equal(t, []string{"flaps"}, r.NotRequired)
	assert.Equal(t, []string{progress.NotSeen, progress.NotRequired, progress.NotSeen}, standings)
	assert.Len(t, policy().Ready(c).Missing, 2)
}
