package checklist_test

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"jetprimer/core/checklist"
)

func TestSlugsAreIDs(t *testing.T) {
	for words, want := range map[string]string{
		"Fuel selector": "fuel-selector", "  Pitot — heat!  ": "pitot-heat", "ł": "", "": "", "A/B 2": "a-b-2",
	} {
		assert.Equal(t, want, checklist.Slug(words))
	}
	id := regexp.MustCompile(`^([a-z0-9]+(-[a-z0-9]+)*)?$`)
	rapid.Check(t, func(t *rapid.T) {
		slug := checklist.Slug(rapid.String().Draw(t, "words"))
		assert.Regexp(t, id, slug)
		assert.LessOrEqual(t, len(slug), 40)
		assert.Equal(t, slug, checklist.Slug(slug), "made of itself it stays")
	})
}
