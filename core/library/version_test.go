package library_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/library"
)

func TestTheLifeOfAVersion(t *testing.T) {
	version := func(n int, status, from, until string) library.Version {
		return library.Version{
			Kind: library.KindList, ID: "alder", Version: n, AircraftType: "alder-110", Status: status,
			InForceFrom: from, WithdrawnFrom: until,
		}
	}
	shipped := library.Version{
		Kind: library.KindList, ID: "alder", Version: 4, AircraftType: "alder-110", Status: library.InForce,
		Shipped: true,
	}
	all := []library.Version{
		shipped, version(5, library.Withdrawn, "2026-03-01", "2026-06-01"),
		version(6, library.InForce, "2026-12-01", ""), version(7, library.Draft, "", ""),
	}
	for day, want := range map[string]int{
		"2026-01-01": 4, "2026-03-01": 5, "2026-05-31": 5, "2026-06-01": 4, "2026-12-01": 6,
	} {
		serving := library.Serving(all, day)
		require.Len(t, serving, 1, day)
		assert.Equal(t, want, serving[0].Version, day)
	}
	marks := library.Marked(all, "2026-12-02")
	assert.Equal(t, []string{"earlier", "withdrawn", "serving", "draft"},
		[]string{marks[0].Standing, marks[1].Standing, marks[2].Standing, marks[3].Standing})
	assert.False(t, all[2].HasServed("2026-11-30"), "approved for later is not in force yet")
	assert.True(t, all[1].HasServed("2026-11-30"), "withdrawn, it has been")
	assert.False(t, all[3].HasServed("2026-11-30"))
	assert.True(t, shipped.HasServed("2020-01-01"))

	next, err := library.Next(all, library.KindList, "alder", "alder-110")
	require.NoError(t, err)
	assert.Equal(t, 8, next)
	_, err = library.Next(all, library.KindList, "alder", "rowan-180i")
	assert.ErrorContains(t, err, "is for the alder-110")

	for _, c := range []struct {
		step library.Step
		v    library.Version
		from string
		want string
	}{
		{library.Save, all[3], "", ""}, {library.Save, shipped, "", "ships with the program"},
		{library.Review, all[2], "", "is in-force and cannot be reviewed"},
		{library.Drop, all[2], "", "cannot be deleted"},
		{library.Approve, version(8, library.Reviewed, "", ""), "2026-11-23", "today or later, not on 2026-11-23"},
		{library.Approve, version(8, library.Reviewed, "", ""), "2026-11-24", ""},
		{library.Withdraw, all[2], "2026-12-24", ""},
		{library.Withdraw, all[1], "2026-12-24", "is withdrawn and cannot"},
		{library.Reopen, version(8, library.Reviewed, "", ""), "", ""},
	} {
		err := c.step.Check(c.v, c.from, "2026-11-24")
		if c.want == "" {
			assert.NoError(t, err)
		} else {
			assert.ErrorContains(t, err, c.want)
		}
	}
	latest, _ := library.Latest(all, library.KindList, "alder")
	assert.Equal(t, 6, latest.Version)
	assert.True(t, latest.MustBeTold(5, 4))
	assert.False(t, latest.MustBeTold(4, 6))
	assert.False(t, shipped.MustBeTold(0, 0))
}
