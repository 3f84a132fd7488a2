package schedule_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/access"
	"jetprimer/core/schedule"
)

// TestHoursToBeHad: against counting them one by one, with spans that overlap, touch, lie
// within one another and reach beyond what is asked for.
func TestHoursToBeHad(t *testing.T) {
	from := time.Date(2026, 11, 2, 0, 0, 0, 0, time.UTC)
	whose := []string{"QZ-AAA", "QZ-AAB", "Tunde", "Marit"}
	rapid.Check(t, func(r *rapid.T) {
		days := rapid.IntRange(1, 21).Draw(r, "days")
		to := from.AddDate(0, 0, days)
		around := schedule.Calendar{
			Shifts: map[string][]schedule.Shift{
				"Marit": {{Day: 1, From: "09:00", To: "12:00"}, {Day: 3, From: "08:00", To: "15:00"}},
			},
		}
		away := map[string][]bool{}
		for _, w := range whose {
			away[w] = make([]bool, days*24)
		}
		for range rapid.IntRange(0, 8).Draw(r, "spans") {
			w := rapid.SampledFrom(whose).Draw(r, "whose")
			begins := rapid.IntRange(-48, days*24+24).Draw(r, "from")
			long := rapid.IntRange(1, 240).Draw(r, "long")
			span := schedule.Away{
				StartsAt: from.Add(time.Duration(begins) * time.Hour),
				EndsAt:   from.Add(time.Duration(begins+long) * time.Hour),
			}
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
		assert.InDelta(r, (there("QZ-AAA")+there("QZ-AAB"))*schedule.HoursADay/24,
			around.AircraftHours([]string{"QZ-AAA", "QZ-AAB"}, from, to), 1e-6)
		assert.InDelta(r, there("Tunde")*schedule.HoursAWeek/168+there("Marit")*10/168,
			around.TeachingHours([]string{"Tunde", "Marit"}, from, to), 1e-6)
	})
}

// TestWhoMayNoteASpan: everybody may note their own leave, chiefs and administrators
// anybody's, and only those who keep the aircraft when one is out of service.
func TestWhoMayNoteASpan(t *testing.T) {
	own, aircraft := schedule.Away{PersonID: "me"}, schedule.Away{Registration: "QZ-AAA"}
	for role, may := range map[string][3]bool{
		access.Student: {true, false, false}, access.Instructor: {true, false, false}, access.Chief: {true, true, true},
		access.Maintenance: {true, false, true}, access.Examiner: {true, false, false},
		access.Admin: {true, true, true},
	} {
		roles := access.Roles{role}
		assert.Equal(t, may, [3]bool{
			own.MayNote(roles, "me"), own.MayNote(roles, "somebody else"), aircraft.MayNote(roles, "me"),
		}, role)
	}
}

// TestNoProposalOutsideItsDays: whatever the week, the zone and the change of the clocks,
// each lies in the hours of its days, in the future, and within its length.
func TestNoProposalOutsideItsDays(t *testing.T) {
	for _, zone := range []string{"Europe/Berlin", "America/St_Johns", "Pacific/Auckland", "UTC"} {
		at, err := time.LoadLocation(zone)
		require.NoError(t, err)
		for _, first := range []time.Time{
			time.Date(2026, 3, 27, 0, 0, 0, 0, at), time.Date(2026, 10, 23, 0, 0, 0, 0, at),
			time.Date(2026, 9, 25, 0, 0, 0, 0, at),
		} {
			now := first.Add(11*time.Hour + 20*time.Minute)
			var wishes []schedule.Request
			for n := range 30 {
				wishes = append(wishes, schedule.Request{
					StudentID: fmt.Sprint("s", n), Student: fmt.Sprint("S", n), Gain: 0.1 + 0.01*float64(n),
					Minutes: 90, OwnID: "Tunde", Teachers: []schedule.Named{{ID: "Tunde", Name: "Tunde"}},
					Aircraft: []string{"QZ-AAA"},
				})
			}
			found := schedule.Calendar{Zone: at}.Propose(now, 3, wishes)
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
