package standard_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jetprimer/core/standard"
)

func edition(replaces ...standard.Replaced) standard.Pack {
	return standard.Pack{ID: "own", Title: "Own", Version: 1, Status: "school", Note: "ours",
		Classes: []string{"helicopter"}, Replaces: replaces,
		Tasks: []standard.Task{
			{
				ID: "t", Title: "T",
				Elements: []standard.Element{
					{ID: "new", Kind: "skill", Text: "the new one"}, {ID: "other", Kind: "risk", Text: "another"},
				},
			},
		}}
}

// TestReplacedElementsAreHeldToTheirPack: the old one is none of it, the new one
// is, once each, and with the reason.
func TestReplacedElementsAreHeldToTheirPack(t *testing.T) {
	assert.Empty(t,
		edition(standard.Replaced{From: "old", To: "new", Why: "reworded"},
			standard.Replaced{From: "older", To: "new", Why: "a part of it"}).Problems())
	for want, r := range map[string]standard.Replaced{
		`replaces[0].from "" is empty`:          {To: "new", Why: "w"},
		`replaces[0].from "other" is empty, an`: {From: "other", To: "new", Why: "w"},
		`replaces[0].to "gone" is no element`:   {From: "old", To: "gone", Why: "w"},
		"replaces[0].why is missing":            {From: "old", To: "new"},
	} {
		faults := edition(r).Problems()
		if assert.NotEmpty(t, faults, want) {
			assert.Contains(t, faults[0].Error(), want)
		}
	}
	twice := edition(standard.Replaced{From: "old", To: "new", Why: "w"},
		standard.Replaced{From: "old", To: "other", Why: "w"}).Problems()
	assert.Contains(t, twice[0].Error(), "replaces[1].from")
}

// TestElementsMoveThroughEditions: what became another that became a third is the
// third, across packs; a circle ends.
func TestElementsMoveThroughEditions(t *testing.T) {
	assert.Empty(t, standard.Moves(nil))
	assert.Equal(t, map[string]string{"a": "c", "b": "c", "x": "y"}, standard.Moves([]standard.Pack{
		edition(standard.Replaced{From: "a", To: "b"}), edition(standard.Replaced{From: "b", To: "c"},
			standard.Replaced{From: "x", To: "y"})}))
	round := standard.Moves([]standard.Pack{
		edition(standard.Replaced{From: "a", To: "b"}, standard.Replaced{From: "b", To: "a"}),
	})
	assert.Len(t, round, 2)
}
