package schedule_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/schedule"
)

// TestABookingIsWithinBounds: how long, how far ahead, and not over.
func TestABookingIsWithinBounds(t *testing.T) {
	now := time.Date(2026, 11, 24, 11, 0, 0, 0, time.UTC)
	at := func(begins time.Duration, long time.Duration) error {
		return schedule.Booking{StartsAt: now.Add(begins), EndsAt: now.Add(begins + long)}.Check(now)
	}
	for _, good := range [][2]time.Duration{
		{time.Hour, 15 * time.Minute}, {time.Hour, 8 * time.Hour}, {-time.Hour, 90 * time.Minute},
		{366 * 24 * time.Hour, time.Hour},
	} {
		assert.NoError(t, at(good[0], good[1]), good)
	}
	for words, bad := range map[string][2]time.Duration{"minutes must be 15 to 480": {time.Hour, 14 * time.Minute},
		"is over already":        {-3 * time.Hour, time.Hour},
		"more than a year ahead": {367 * 24 * time.Hour, time.Hour}} {
		assert.ErrorContains(t, at(bad[0], bad[1]), words)
	}
	assert.ErrorContains(t, at(time.Hour, 481*time.Minute), "minutes must be 15 to 480")
	assert.ErrorContains(t, at(2*time.Hour, -time.Hour), "minutes must be 15 to 480", "an end before the beginning")
	assert.ErrorContains(t,
		schedule.Booking{StartsAt: now, EndsAt: now.Add(time.Hour), Exercises: make([]string, 17)}.Check(now),
		"exercises are at most 16")
}

// TestWhoIsBookedTwice: a person or an aircraft in two places at once is told by
// name and the school's time; one after the other is not.
func TestWhoIsBookedTwice(t *testing.T) {
	zone, err := time.LoadLocation("Pacific/Auckland")
	require.NoError(t, err)
	nine := time.Date(2026, 11, 23, 20, 0, 0, 0, time.UTC) // 09:00 there
	book := func(id, student, instructor, registration string, from, to time.Duration) schedule.Booking {
		return schedule.Booking{ID: id, StudentID: student, Student: strings.ToUpper(student), InstructorID: instructor,
			Instructor: strings.ToUpper(instructor), Registration: registration,
			StartsAt: nine.Add(from), EndsAt: nine.Add(to)}
	}
	held := []schedule.Booking{
		book("1", "lena", "tunde", "QZ-AAA", 0, time.Hour),
		book("2", "odile", "marit", "QZ-AAB", time.Hour, 2*time.Hour),
	}
	for want, b := range map[string]schedule.Booking{
		"LENA is booked from 09:00 to 10:00 already: LENA with TUNDE on QZ-AAA": book("", "lena", "marit",
			"QZ-AAC", 30*time.Minute, time.Hour),
		"TUNDE is booked from 09:00 to 10:00 already: LENA with TUNDE on QZ-AAA": book("", "kofi", "tunde",
			"QZ-AAC", -time.Hour, time.Minute),
		"QZ-AAB is booked from 10:00 to 11:00 already: ODILE with MARIT on QZ-AAB": book("", "kofi",
			"rafael", "QZ-AAB", 90*time.Minute, 3*time.Hour),
		"ODILE and QZ-AAB are booked from 10:00 to 11:00 already: ODILE with MARIT on QZ-AAB": book("", "odile",
			"rafael", "QZ-AAB", 0, 3*time.Hour),
	} {
		assert.Equal(t, want, b.Clash(held, zone))
	}
	assert.Empty(t, book("", "lena", "tunde", "QZ-AAA", time.Hour, 2*time.Hour).Clash(held, zone),
		"one after the other")
	assert.Empty(t, book("", "kofi", "rafael", "QZ-AAC", 0, 2*time.Hour).Clash(held, zone), "others at the same time")
	assert.Empty(t, held[0].Clash(held, zone), "itself")
}

// TestWhatABookingBecame: the lesson of its student and aircraft around its time;
// what has become one is not next any more.
func TestWhatABookingBecame(t *testing.T) {
	nine := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	b := schedule.Booking{
		ID: "1", StudentID: "lena", InstructorID: "tunde", Registration: "QZ-AAA", StartsAt: nine,
		EndsAt: nine.Add(time.Hour),
	}
	for minutes, became := range map[int]bool{-91: false, -90: false, -89: true, 0: true, 59: true, 60: false} {
		assert.Equal(t, became, b.Became("lena", "QZ-AAA", nine.Add(time.Duration(minutes)*time.Minute)), minutes)
	}
	assert.False(t, b.Became("odile", "QZ-AAA", nine))
	assert.False(t, b.Became("lena", "QZ-AAB", nine))

	later := schedule.Booking{
		ID: "2", StudentID: "odile", InstructorID: "tunde", StartsAt: nine.Add(2 * time.Hour),
		EndsAt: nine.Add(3 * time.Hour),
	}
	all := []schedule.Booking{b, later}
	none := func(schedule.Booking) bool { return false }
	next := func(person string, at time.Duration, became func(schedule.Booking) bool) string {
		found, ok := schedule.NextOf(person, all, nine.Add(at), became)
		assert.Equal(t, ok, found.ID != "")
		return found.ID
	}
	assert.Equal(t, "1", next("tunde", -time.Hour, none))
	assert.Equal(t, "1", next("tunde", 30*time.Minute, none), "while it runs and was not opened")
	assert.Equal(t, "2", next("tunde", 30*time.Minute, func(b schedule.Booking) bool { return b.ID == "1" }),
		"once it was")
	assert.Equal(t, "2", next("tunde", time.Hour, none), "once it is over")
	assert.Equal(t, "2", next("odile", -time.Hour, none), "as a student")
	assert.Empty(t, next("lena", time.Hour, none))
	assert.Empty(t, next("marit", -time.Hour, none))
}
