package catalog_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/checklist"
)

// TestCoverageCountsWhatNoItemShows: of every shipped list, an element whose links
// are all taken away is missing, and linking it anew brings it back; the list has
// no mistake on the way.
func TestCoverageCountsWhatNoItemShows(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, typ := range c.Types {
		if newest, _ := c.Type(typ.ID); newest.Version != typ.Version {
			continue
		}
		list, known := c.ListFor(typ.ID)
		require.True(t, known)
		before := checklist.CoverageOf(list, c.Packs, typ.Class)
		assert.Len(t, before.Every, len(list.Places()))
		for _, e := range before.Elements {
			if len(e.Items) == 0 || len(e.Asked) > 0 {
				continue
			}
			off := list
			for _, s := range e.Items {
				off = off.Link(s.Item, e.Element, false)
			}
			assert.Empty(t, c.Surroundings(typ, c.Packs).ListProblems(off), "%s without %s", typ.ID, e.Element)
			assert.Equal(t, before.Missing+1, checklist.CoverageOf(off, c.Packs, typ.Class).Missing)
			on := off.Link(e.Items[0].Item, e.Element, true)
			assert.Equal(t, before.Missing, checklist.CoverageOf(on, c.Packs, typ.Class).Missing)
			assert.Empty(t, c.Surroundings(typ, c.Packs).ListProblems(on))
		}
	}
}
