package progress_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jetprimer/core/progress"
	"jetprimer/core/standard"
)

// TestStudentsAreHeldToWhatThePolicyNames: a pack that the policy leaves out is
// not asked of anybody.
func TestStudentsAreHeldToWhatThePolicyNames(t *testing.T) {
	packs := []standard.Pack{
		{ID: "core", Classes: []string{"single", "twin"}},
		{ID: "published", Authority: "A", Classes: []string{"single"}},
		{ID: "other", Authority: "B", Classes: []string{"single"}},
	}
	ids := func(held []standard.Pack) (out []string) {
		for _, p := range held {
			out = append(out, p.ID)
		}
		return out
	}
	assert.Equal(t, []string{"published", "core"}, ids(progress.HeldTo([]string{"core", "published"}, packs, "single")))
	assert.Equal(t, []string{"core"}, ids(progress.HeldTo([]string{"core", "published"}, packs, "twin")))
	assert.Equal(t, []string{"published", "other", "core"}, ids(progress.HeldTo(nil, packs, "single")))
	assert.Empty(t, progress.HeldTo([]string{"core"}, packs, "helicopter"))
}
