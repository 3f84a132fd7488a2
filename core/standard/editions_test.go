package standard_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"jetprimer/core/standard"
)

func task(id string, elements ...standard.Element) standard.Task {
	return standard.Task{ID: id, Title: "Task " + id, Elements: elements}
}

func element(id, text string) standard.Element {
	return standard.Element{ID: id, Kind: "skill", Text: text}
}

// TestTwoEditionsAreReadSideBySide: what stayed, was changed, became another (two of
// them the same one), is gone and is new, in the order of the later edition.
func TestTwoEditionsAreReadSideBySide(t *testing.T) {
	before := standard.Pack{Tasks: []standard.Task{
		task("a", element("stays", "stays"), element("words", "in old words"), element("lost", "lost"),
			element("half-1", "first half"), element("half-2", "second half")),
		task("b", element("dropped", "dropped with its task"), element("went", "went to another task"))}}
	after := standard.Pack{Tasks: []standard.Task{
		task("a", element("whole", "both halves"), element("words", "in new words"), element("stays", "stays"),
			element("went", "went to another task")),
		task("c", element("fresh", "fresh"))},
		Replaces: []standard.Replaced{
			{From: "half-1", To: "whole", Why: "drawn together"}, {From: "half-2", To: "whole", Why: "drawn together"},
			{From: "of-another-pack", To: "fresh", Why: "w"},
		}}
	id := func(e *standard.Element) string {
		if e == nil {
			return "-"
		}
		return e.ID
	}
	var lines []string
	for _, p := range standard.Beside(before, after) {
		lines = append(lines, fmt.Sprint(p.Task, ": ", id(p.Before), " ", p.How, " ", id(p.After), " ", p.Fields,
			p.Why))
		assert.NotEmpty(t, p.Says)
	}
	assert.Equal(t, []string{
		"Task a: half-1 became whole []drawn together", "Task a: half-2 became whole []drawn together",
		"Task a: words changed words [text]", "Task a: stays same stays []", "Task a: went same went []",
		"Task a: lost gone - []",
		"Task c: - new fresh []", "Task b: dropped gone - []",
	}, lines)
}

// TestEveryElementStandsBesideSomething: whatever the editions, each element of
// each is in a line; what carries standing is just what Moves and the ids say.
func TestEveryElementStandsBesideSomething(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		pack := func(name string, ids int) (p standard.Pack) {
			first := rapid.IntRange(0, 2).Draw(t, "first task")
			drawn := rapid.SliceOfNDistinct(rapid.IntRange(0, ids), 1, 8, rapid.ID[int]).Draw(t, name)
			for i, id := range drawn {
				if i%3 == 0 {
					p.Tasks = append(p.Tasks, task(fmt.Sprintf("t%d", first+i/3)))
				}
				last := &p.Tasks[len(p.Tasks)-1]
				last.Elements = append(last.Elements,
					element(fmt.Sprint("e", id), rapid.SampledFrom([]string{"x", "y"}).Draw(t, "text")))
			}
			return p
		}
		before, after := pack("before", 12), pack("after", 9)
		known := after.For("")
		for i := range rapid.IntRange(0, 3).Draw(t, "moves") {
			after.Replaces = append(after.Replaces, standard.Replaced{
				From: fmt.Sprint("e", 10+i), To: known[i%len(known)].ID, Why: "w",
			})
		}
		moves := standard.Moves([]standard.Pack{after})
		old, now := map[string]bool{}, map[string]bool{}
		for _, p := range standard.Beside(before, after) {
			if p.Before != nil {
				old[p.Before.ID] = true
			}
			if p.After != nil {
				now[p.After.ID] = true
			}
			if p.How == standard.Became {
				assert.Equal(t, p.After.ID, moves[p.Before.ID])
			}
			if p.How == standard.Gone {
				assert.NotContains(t, moves, p.Before.ID)
			}
		}
		assert.Len(t, old, len(before.For("")))
		assert.Len(t, now, len(known))
	})
}
