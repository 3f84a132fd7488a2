package catalog_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/lesson"
)

func TestABookIsExactlyWhatTheLessonNames(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	opened := lesson.Opened{
		AircraftType: "alder-110", TypeVersion: 3, List: "alder-110-full", ListVersion: 4, Scale: "five",
	}
	book, err := lesson.BookFrom(c, "", opened)
	require.NoError(t, err)
	assert.Equal(t, "Alder 110", book.Type.Name)
	assert.Equal(t, 4, book.List.Version)
	for _, tc := range []struct {
		spoil func(*lesson.Opened)
		want  string
	}{
		{func(o *lesson.Opened) { o.TypeVersion = 9 }, "aircraft type alder-110 version 9 is not known"},
		{
			func(o *lesson.Opened) { o.ListVersion = 9 },
			"checklist alder-110-full version 9 for the Alder 110 is not known",
		},
		{func(o *lesson.Opened) { o.Scale = "stars" }, "scale stars is not known"},
	} {
		o := opened
		tc.spoil(&o)
		_, err := lesson.BookFrom(c, "", o)
		assert.EqualError(t, err, tc.want)
	}
}

// TestEveryMeasuredItemHasItsLimits: each item with a check can be judged by
// its type, and each precedence points back.
func TestEveryMeasuredItemHasItsLimits(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, list := range c.Lists {
		typ, ok := c.Type(list.AircraftType)
		require.True(t, ok)
		place := map[string]int{}
		measured := 0
		for _, p := range list.Places() {
			place[p.Item.ID] = p.Position
			for _, before := range p.Item.After {
				assert.Less(t, place[before], p.Position, "%s after %s", p.Item.ID, before)
			}
			if p.Item.Check != "" {
				measured++
				assert.Contains(t, typ.Limits, p.Item.Check, p.Item.ID)
			}
		}
		assert.GreaterOrEqual(t, measured, 8, list.ID)
	}
}
