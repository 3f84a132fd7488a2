package schedule_test

import (
	"fmt"
	"math"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/schedule"
)

// monday is a Monday's midnight in a zone whose clocks change in the week before.
func monday(t require.TestingT) (time.Time, *time.Location) {
	zone, err := time.LoadLocation("Europe/Dublin")
	require.NoError(t, err)
	return time.Date(2026, 3, 30, 0, 0, 0, 0, zone), zone
}

func booked(midnight time.Time, student, instructor, registration string, day, hour, minutes int,
	exercises ...string) schedule.Booking {
	at := midnight.AddDate(0, 0, day).Add(time.Duration(hour) * time.Hour).UTC()
	return schedule.Booking{ID: student + instructor + registration, StudentID: student, Student: student,
		InstructorID: instructor, Instructor: instructor, Registration: registration,
		StartsAt: at, EndsAt: at.Add(time.Duration(minutes) * time.Minute), Exercises: exercises}
}

// TestWhatStandsAgainstALesson: each thing in words, refused or warned of by the
// school's own rule, what refuses first; a lesson that only touches another's end
// is free.
func TestWhatStandsAgainstALesson(t *testing.T) {
	midnight, zone := monday(t)
	around := schedule.Calendar{Zone: zone,
		Others: []schedule.Booking{booked(midnight, "Kofi", "Tunde", "QZ-AAA", 0, 10, 90)},
		Away: []schedule.Away{{
			PersonID: "Marit", Person: "Marit", StartsAt: midnight.UTC(), EndsAt: midnight.AddDate(0, 0, 3).UTC(),
			Why: "course",
		},
			{
				Registration: "QZ-AAB", StartsAt: midnight.Add(9 * time.Hour).UTC(),
				EndsAt: midnight.Add(12 * time.Hour).UTC(), Why: "in the workshop",
			}},
		Shifts: map[string][]schedule.Shift{
			"Tunde": {{Day: 1, From: "09:00", To: "12:00"}, {Day: 1, From: "13:00", To: "17:00"}},
		},
		Grounded: map[string]string{"QZ-AAC": "right magneto dead"}, Flown: map[string][]string{"Ravi": {"circuits"}}}
	for what, c := range map[string]struct {
		b       schedule.Booking
		against []string
		refused bool
	}{
		"nothing": {booked(midnight, "Ravi", "Tunde", "QZ-AAA", 0, 13, 60, "navigation"), nil, false},
		"the aircraft": {
			booked(midnight, "Ravi", "Rafael", "QZ-AAA", 0, 11, 60),
			[]string{"QZ-AAA is booked from 10:00 to 11:30 already: Kofi with Tunde on QZ-AAA."}, true,
		},
		"the end of another": {booked(midnight, "Kofi", "Rafael", "QZ-AAA", 0, 8, 120), nil, false},
		"leave": {
			booked(midnight, "Ravi", "Marit", "QZ-AAA", 1, 10, 60),
			[]string{"Marit is away until Thu 2 Apr, 00:00: course."}, true,
		},
		"the workshop": {
			booked(midnight, "Ravi", "Rafael", "QZ-AAB", 0, 11, 90),
			[]string{"QZ-AAB is not to be had until 12:00: in the workshop."}, true,
		},
		"between two shifts": {
			booked(midnight, "Ravi", "Tunde", "QZ-AAA", 0, 12, 120),
			[]string{"Tunde works from 09:00 to 12:00 and 13:00 to 17:00 on a Monday."}, false,
		},
		"no shift that day": {
			booked(midnight, "Ravi", "Tunde", "QZ-AAA", 5, 12, 60), []string{"Tunde does not work on a Saturday."},
			false,
		},
		"on the ground": {
			booked(midnight, "Ravi", "Rafael", "QZ-AAC", 2, 12, 60),
			[]string{"QZ-AAC stays on the ground now: right magneto dead"}, false,
		},
		"what comes before": {
			booked(midnight, "Ravi", "Rafael", "QZ-AAA", 2, 12, 60, "spins"),
			[]string{"No signed lesson of Ravi has had what comes before: stalls."}, false,
		},
		"both in one lesson":  {booked(midnight, "Ravi", "Rafael", "QZ-AAA", 2, 12, 60, "spins", "stalls"), nil, false},
		"who is not known of": {booked(midnight, "Lena", "Rafael", "QZ-AAA", 2, 12, 60, "spins"), nil, false},
		"what refuses, first": {booked(midnight, "Ravi", "Tunde", "QZ-AAB", 0, 8, 120, "spins"),
			[]string{"QZ-AAB is not to be had until 12:00: in the workshop.",
				"Tunde works from 09:00 to 12:00 and 13:00 to 17:00 on a Monday.",
				"No signed lesson of Ravi has had what comes before: stalls."}, true},
	} {
		got := around.Obstacles(c.b)
		words := []string(nil)
		for _, o := range got {
			words = append(words, o.Words)
		}
		assert.Equal(t, c.against, words, what)
		assert.Equal(t, c.refused, len(got) > 0 && got[0].Refused, what)
	}
	around.Planning = schedule.Planning{Shifts: schedule.Refuse, Grounded: schedule.Allow}
	assert.True(t, around.Obstacles(booked(midnight, "Ravi", "Tunde", "QZ-AAA", 5, 12, 60))[0].Refused)
	assert.Empty(t, around.Obstacles(booked(midnight, "Ravi", "Rafael", "QZ-AAC", 2, 12, 60)))
}

// TestHowALessonWouldGo: the nearest times of the day and another's hands are
// offered, and none of them has anything against it.
func TestHowALessonWouldGo(t *testing.T) {
	midnight, zone := monday(t)
	around := schedule.Calendar{
		Zone: zone,
		Others: []schedule.Booking{
			booked(midnight, "Kofi", "Tunde", "QZ-AAA", 0, 10, 90),
			booked(midnight, "Lena", "Marit", "QZ-AAB", 0, 10, 60),
		},
	}
	wanted := booked(midnight, "Ravi", "Tunde", "QZ-AAA", 0, 10, 90)
	ways := around.Alternatives(wanted, midnight, []schedule.Named{
		{ID: "Marit", Name: "Marit"}, {ID: "Rafael", Name: "Rafael"}, {ID: "Tunde", Name: "Tunde"},
	}, []string{"QZ-AAA", "QZ-AAB", "QZ-AAC"})
	words := []string{}
	for _, w := range ways {
		words = append(words, w.Words)
	}
	assert.Equal(t, []string{"08:30", "11:30"}, words,
		"who and what else at 10:00 would still meet the aircraft or the instructor")
	wanted.Registration = "QZ-AAC"
	ways = around.Alternatives(wanted, midnight, []schedule.Named{
		{ID: "Marit", Name: "Marit"}, {ID: "Rafael", Name: "Rafael"},
	}, []string{"QZ-AAC"})
	require.Len(t, ways, 3)
	assert.Equal(t, "Rafael at 10:00", ways[2].Words)
	assert.Empty(t, around.Alternatives(wanted, midnight.AddDate(0, 0, 1), nil, nil), "nothing is offered that is over")
}

// week draws a small school and wishes that compete in it.
func week(r *rapid.T, midnight time.Time, zone *time.Location) (schedule.Calendar, []schedule.Request) {
	teachers := []schedule.Named{{ID: "t1", Name: "t1"}, {ID: "t2", Name: "t2"}}
	aircraft := []string{"a1", "a2"}
	around := schedule.Calendar{Zone: zone, Shifts: map[string][]schedule.Shift{}}
	for _, t := range teachers { // a short week makes places scarce
		from := rapid.IntRange(8, 15).Draw(r, "from")
		around.Shifts[t.ID] = []schedule.Shift{
			{
				Day: 1, From: fmt.Sprintf("%02d:00", from),
				To: fmt.Sprintf("%02d:00", from+rapid.IntRange(1, 3).Draw(r, "hours")),
			},
		}
	}
	var wishes []schedule.Request
	for i := range rapid.IntRange(1, 5).Draw(r, "wishes") {
		w := schedule.Request{
			StudentID: fmt.Sprint("s", i), Student: fmt.Sprint("s", i),
			Gain:    float64(rapid.IntRange(0, 8).Draw(r, "gain")) / 8,
			Minutes: 60 * rapid.IntRange(1, 2).Draw(r, "long"),
		}
		own := rapid.IntRange(0, 1).Draw(r, "own")
		w.OwnID, w.Teachers = teachers[own].ID, []schedule.Named{teachers[own]}
		if rapid.Bool().Draw(r, "other") {
			w.Teachers = append(w.Teachers, teachers[1-own])
		}
		w.Aircraft = aircraft[:rapid.IntRange(1, 2).Draw(r, "aircraft")]
		wishes = append(wishes, w)
	}
	return around, wishes
}

func worth(p schedule.Proposal) float64 {
	if p.Own {
		return p.Gain
	}
	return 0.9 * p.Gain
}

// best is the most that can be gained, found by trying everything.
func best(around schedule.Calendar, midnight time.Time, wishes []schedule.Request) float64 {
	if len(wishes) == 0 {
		return 0
	}
	w := wishes[0]
	most := best(around, midnight, wishes[1:])
	for n, t := range w.Teachers {
		for h := 8; h <= 18; h++ {
			for _, a := range w.Aircraft {
				b := booked(midnight, w.StudentID, t.ID, a, 0, h, w.Minutes)
				if len(around.Obstacles(b)) > 0 {
					continue
				}
				with := around
				with.Others = append(slices.Clone(around.Others), b)
				most = math.Max(most, worth(schedule.Proposal{Request: w, Own: n == 0})+best(with, midnight,
					wishes[1:]))
			}
		}
	}
	return most
}

// TestProposalsFitAndGain: nothing stands against any of them, each is of another
// wish, the order of the wishes changes nothing, and what is gained is at least
// half of what trying everything finds; over all that are tried nearly all of it.
func TestProposalsFitAndGain(t *testing.T) {
	midnight, zone := monday(t)
	sum, most := 0.0, 0.0
	rapid.Check(t, func(r *rapid.T) {
		around, wishes := week(r, midnight, zone)
		found := around.Propose(midnight, 1, wishes)
		gained := 0.0
		seen := map[string]bool{}
		taken := around
		for _, p := range found {
			require.False(r, seen[p.StudentID])
			seen[p.StudentID] = true
			b := schedule.Booking{
				StudentID: p.StudentID, InstructorID: p.InstructorID, Registration: p.Registration,
				StartsAt: p.StartsAt, EndsAt: p.EndsAt,
			}
			require.Empty(r, taken.Obstacles(b))
			taken.Others = append(slices.Clone(taken.Others), b)
			gained += worth(p)
			require.NotEmpty(r, p.Why())
		}
		turned := slices.Clone(wishes)
		slices.Reverse(turned)
		require.Equal(r, found, around.Propose(midnight, 1, turned))
		could := best(around, midnight, wishes)
		require.GreaterOrEqual(r, gained+1e-9, could/2)
		sum, most = sum+gained, most+could
	})
	assert.GreaterOrEqual(t, sum, 0.93*most)
	t.Logf("%.1f %% of the best", 100*sum/most)
}

// TestAWeekInNumbers: hours that are planned, hours to be had.
func TestAWeekInNumbers(t *testing.T) {
	midnight, zone := monday(t)
	around := schedule.Calendar{Zone: zone, Grounded: map[string]string{"QZ-AAC": "x"},
		Others: []schedule.Booking{
			booked(midnight, "Kofi", "Tunde", "QZ-AAA", 0, 10, 90, "circuits"),
			booked(midnight, "Lena", "Marit", "QZ-AAB", 1, 7, 120),
		},
		Away: []schedule.Away{{Registration: "QZ-AAB", StartsAt: midnight, EndsAt: midnight.AddDate(0, 0, 1)}}}
	assert.Equal(t, schedule.Summary{Lessons: 2, Prepared: 1, BookedHours: 3.5, FreeHours: 18.5 + 9},
		around.Summary(midnight, midnight, 2, []string{"QZ-AAA", "QZ-AAB", "QZ-AAC"}))
	assert.Equal(t, 8.0,
		around.Summary(midnight, midnight.Add(34*time.Hour), 2, []string{"QZ-AAA", "QZ-AAB", "QZ-AAC"}).FreeHours/2,
		"what is over is not to be had")
	free := booked(midnight, "Kofi", "Tunde", "QZ-AAA", 0, 10, 90)
	around.Others = around.Others[1:]
	around.Others = append(around.Others, booked(midnight, "Ravi", "Rafael", "QZ-AAD", 0, 11, 60))
	assert.Equal(t, []schedule.Named{{ID: "Ines", Name: "Ines"}},
		around.Fits(free, []schedule.Named{
			{ID: "Kofi", Name: "Kofi"}, {ID: "Ravi", Name: "Ravi"}, {ID: "Ines", Name: "Ines"},
		}))
}

// TestShiftsAndSpansThatCannotBe name the field.
func TestShiftsAndSpansThatCannotBe(t *testing.T) {
	now := time.Date(2026, 3, 30, 12, 0, 0, 0, time.UTC)
	assert.NoError(t,
		schedule.CheckShifts(
			[]schedule.Shift{{Day: 1, From: "09:00", To: "12:00"}, {Day: 1, From: "12:00", To: "15:00"}}))
	assert.ErrorContains(t,
		schedule.CheckShifts([]schedule.Shift{{Day: 1, From: "09:00", To: "12:00"},
			{Day: 1, From: "11:00", To: "15:00"}}), "shifts[1].from lies in the shift from 09:00 to 12:00")
	assert.ErrorContains(t, schedule.CheckShifts([]schedule.Shift{{Day: 1, From: "09:00", To: "09:00"}}),
		"shifts[0].to must be after 09:00")
	assert.ErrorContains(t, schedule.CheckShifts([]schedule.Shift{{Day: 8, From: "09:00", To: "10:00"}}),
		"shifts[0].day")
	for field, a := range map[string]schedule.Away{
		"person":          {StartsAt: now, EndsAt: now.Add(time.Hour)},
		"to must be":      {PersonID: "p", StartsAt: now, EndsAt: now},
		"more than a yea": {PersonID: "p", StartsAt: now, EndsAt: now.AddDate(2, 0, 0)},
		"is over already": {PersonID: "p", StartsAt: now.AddDate(0, 0, -2), EndsAt: now.AddDate(0, 0, -1)},
		"from is more":    {Registration: "QZ-AAA", StartsAt: now.AddDate(2, 0, 0), EndsAt: now.AddDate(2, 0, 1)},
	} {
		assert.ErrorContains(t, a.Check(now), field)
	}
}

// BenchmarkPropose plans a week of a school of 500 students that is partly booked: with
// instructors and aircraft enough, and with too few for half of the lessons.
func BenchmarkPropose(b *testing.B) {
	midnight, zone := monday(b)
	name := func(what string, n int) string { return fmt.Sprint(what, " ", n) }
	for _, of := range []struct {
		name             string
		booked, teachers int
	}{{"enough", 700, 25}, {"short", 60, 4}} {
		around := schedule.Calendar{Zone: zone}
		for n := range of.booked {
			around.Others = append(around.Others,
				booked(midnight, name("student", n), name("instructor", n%of.teachers),
					name("aircraft", n%30), n%7, 8+n/7%5*2, 90))
		}
		var requests []schedule.Request
		for n := range 500 {
			r := schedule.Request{
				StudentID: name("student", n), Student: name("student", n), Gain: float64(n%97+1) / 100, Minutes: 90,
				OwnID: name("instructor", n%of.teachers),
			}
			for k := range of.teachers {
				r.Teachers = append(r.Teachers, schedule.Named{ID: name("instructor", (n+k)%of.teachers)})
			}
			for k := range 6 {
				r.Aircraft = append(r.Aircraft, name("aircraft", n%5*6+k))
			}
			requests = append(requests, r)
		}
		b.Run(of.name, func(b *testing.B) {
			found := 0
			for b.Loop() {
				found = len(around.Propose(midnight, 7, requests))
			}
			b.ReportMetric(float64(found), "proposals")
		})
	}
}
