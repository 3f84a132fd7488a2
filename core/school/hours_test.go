package school_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/school"
)

// TestHoursToBeHad: against counting them one by one, with spans that overlap, touch, lie
// within one another and reach beyond what is asked for.
func TestHoursToBeHad(t *testing.T) {
	from := time.Date(2026, 11, 2, 0, 0, 0, 0, time.UTC)
	whose := []string{"QZ-AAA", "QZ-AAB", "Tunde", "Marit"}
	rapid.Check(t, func(r *rapid.T) {
		days := rapid.IntRange(1, 21).Draw(r, "days")
		to := from.AddDate(0, 0, days)
		around := school.Around{Shifts: map[string][]school.Shift{"Marit": {{Day: 1, From: "09:00", To: "12:00"}, {Day: 3, From: "08:00", To: "15:00"}}}}
		away := map[string][]bool{}
		for _, w := range whose {
			away[w] = make([]bool, days*24)
		}
		for range rapid.IntRange(0, 8).Draw(r, "spans") {
			w := rapid.SampledFrom(whose).Draw(r, "whose")
			begins := rapid.IntRange(-48, days*24+24).Draw(r, "from")
			long := rapid.IntRange(1, 240).Draw(r, "long")
			span := school.Away{StartsAt: from.Add(time.Duration(begins) * time.Hour), EndsAt: from.Add(time.Duration(begins+long) * time.Hour)}
			if w[0] == 'Q' {
				span.Registration = w
			} else {
				span.PersonID = w
			}
			around.Away = append(around.Away, span)
			for h := max(begins, 0); h < min(begins+long, days*24); h++ {
				away[w][h] = true
			}
		}
		there := func(w string) (hours float64) {
			for _, gone := range away[w] {
				if !gone {
					hours++
				}
			}
			return hours
		}
		assert.InDelta(r, (there("QZ-AAA")+there("QZ-AAB"))*school.HoursADay/24, around.AircraftHours([]string{"QZ-AAA", "QZ-AAB"}, from, to), 1e-6)
		assert.InDelta(r, there("Tunde")*school.HoursAWeek/168+there("Marit")*10/168, around.TeachingHours([]string{"Tunde", "Marit"}, from, to), 1e-6)
	})
}

// TestADeferralsLimit: whatever day it is looked at, a limit is over the day after it and
// not before, and its days left count down to none.
func TestADeferralsLimit(t *testing.T) {
	day := func(n int) string { return time.Date(2026, 11, 2+n, 0, 0, 0, 0, time.UTC).Format(time.DateOnly) }
	for n := range 40 {
		state, left := school.Deferred.DeferredUntil(day(20), day(n))
		if n <= 20 {
			require.NotNil(t, left, n)
			assert.Equal(t, [2]any{school.Deferred, 20 - n}, [2]any{state, *left})
			assert.False(t, state.Grounds())
		} else {
			assert.Nil(t, left)
			assert.Equal(t, school.Overdue, state)
			assert.True(t, state.Grounds() && state.Open())
		}
	}
	for _, other := range []school.Condition{school.Undecided, school.CarriedOn, school.Grounded, school.Closed} {
		state, left := other.DeferredUntil(day(1), day(9))
		assert.Equal(t, other, state, "a limit is of what is deferred")
		assert.Nil(t, left)
	}
	state, left := school.Deferred.DeferredUntil("", day(9))
	assert.Equal(t, school.Deferred, state, "nobody has said until when")
	assert.Nil(t, left)
	for field, d := range map[string]school.Deferral{"until": {Until: day(-1), Words: "item 7"}, "words": {Until: day(3), Words: " "}} {
		assert.ErrorContains(t, d.Check(day(0)), field)
	}
	assert.ErrorContains(t, school.Deferral{Until: day(400), Words: "item 7"}.Check(day(0)), "at most 366 days")
	assert.ErrorContains(t, school.Deferral{Until: "soon", Words: "item 7"}.Check(day(0)), "until")
	assert.NoError(t, school.Deferral{Until: day(0), Words: "item 7"}.Check(day(0)), "until tonight")
}

// TestWhoMayNoteASpan: everybody their own leave; who governs anybody's; who keeps the
// aircraft those, and nobody else.
func TestWhoMayNoteASpan(t *testing.T) {
	own, aircraft := school.Away{PersonID: "me"}, school.Away{Registration: "QZ-AAA"}
	for role, may := range map[string][3]bool{
		school.Student: {true, false, false}, school.Instructor: {true, false, false}, school.Chief: {true, true, true}, school.Maintenance: {true, false, true}, school.Examiner: {true, false, false}, school.Admin: {true, true, true},
	} {
		roles := school.Roles{role}
		assert.Equal(t, may, [3]bool{own.MayNote(roles, "me"), own.MayNote(roles, "somebody else"), aircraft.MayNote(roles, "me")}, role)
	}
}

// TestNoProposalOutsideItsDays: whatever the week, the zone and the change of the clocks,
// each lies in the hours of its days, in the future, and within its length.
func TestNoProposalOutsideItsDays(t *testing.T) {
	for _, zone := range []string{"Europe/Berlin", "America/St_Johns", "Pacific/Auckland", "UTC"} {
		at, err := time.LoadLocation(zone)
		require.NoError(t, err)
		for _, first := range []time.Time{time.Date(2026, 3, 27, 0, 0, 0, 0, at), time.Date(2026, 10, 23, 0, 0, 0, 0, at), time.Date(2026, 9, 25, 0, 0, 0, 0, at)} {
			now := first.Add(11*time.Hour + 20*time.Minute)
			var wishes []school.Wish
			for n := range 30 {
				wishes = append(wishes, school.Wish{StudentID: fmt.Sprint("s", n), Student: fmt.Sprint("S", n), Gain: 0.1 + 0.01*float64(n), Minutes: 90, OwnID: "Tunde", Teachers: []school.Named{{ID: "Tunde", Name: "Tunde"}}, Aircraft: []string{"QZ-AAA"}})
			}
			found := school.Around{Zone: at}.Propose(now, 3, wishes)
			assert.NotEmpty(t, found)
			for _, p := range found {
				local := p.StartsAt.In(at)
				assert.False(t, p.StartsAt.Before(now), "in the past")
				assert.True(t, p.StartsAt.Before(first.AddDate(0, 0, 3)))
				assert.Equal(t, 90*time.Minute, p.EndsAt.Sub(p.StartsAt))
				assert.True(t, local.Hour() >= 7 && local.Hour() <= 19, "%s in %s", local, zone)
			}
		}
	}
}
