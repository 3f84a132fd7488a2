package school_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/school"
)

func TestWhatAFindingMeans(t *testing.T) {
	for decision, want := range map[string][2]bool{"": {true, true}, "grounded": {true, true},
		"deferred": {true, false}, "carried-on": {true, false},
		"cleared": {false, false}, "normal-for-type": {false, false}} {
		c := school.ConditionOf(decision)
		assert.Equal(t, want, [2]bool{c.Open(), c.Grounds()}, decision)
	}
}

func TestATabletsClockIsAClaim(t *testing.T) {
	received := time.Date(2026, 11, 24, 11, 0, 0, 0, time.UTC)
	for wall, believed := range map[string]bool{
		"2026-11-24T10:00:00Z": true, "2026-11-24T12:30:00+02:00": true, "2026-11-25T10:59:59Z": true,
		"2026-11-25T11:00:01Z": false, "2026-08-01T09:00:00Z": true,
		"2026-07-01T09:00:00Z": false, "0000-01-01T00:00:00Z": false, "9999-12-31T23:59:59Z": false, "": false,
		"yesterday": false,
	} {
		claimed, _ := time.Parse(time.RFC3339, wall)
		want := received
		if believed {
			want = claimed
		}
		assert.True(t, want.Equal(school.Dated(wall, received)), wall)
	}
	hobart, err := time.LoadLocation("Australia/Hobart")
	require.NoError(t, err)
	assert.Equal(t, "2026-11-25", school.Day(received.Add(3*time.Hour), hobart),
		"the school's day, not the one of Greenwich")
}
