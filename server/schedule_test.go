package server_test

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/progress"
	"jetprimer/core/schedule"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/reports"
	"jetprimer/server/bookings"
)

// nextMonday is a Monday that has nothing in the demo's plan, at least a week ahead.
func nextMonday() time.Time {
	day := schooltest.Day.AddDate(0, 0, 8)
	for day.Weekday() != time.Monday {
		day = day.AddDate(0, 0, 1)
	}
	return day
}

// TestAWeekIsPlanned: booked each week, moved, refused with the ways in which it
// would go, held to leave and shifts, taken off with who stands by for it.
func TestAWeekIsPlanned(t *testing.T) {
	url := start(t)
	chief, tunde, marit, kofi := as(t, url, demo.Ferreira), as(t, url, demo.Okonjo), as(t, url, demo.Solheim), as(t,
		url, demo.Lindqvist)
	monday := nextMonday()
	on := func(days int) string { return monday.AddDate(0, 0, days).Format(time.DateOnly) }
	lesson := func(student demo.Person, registration, day, at, more string) string {
		return fmt.Sprintf(`{"student":%q,"registration":%q,"on":%q,"at":%q,"minutes":90%s}`, student.ID, registration,
			day, at, more)
	}
	weekly := ask[bookings.Booked](tunde, "POST", "/bookings",
		lesson(demo.Sandoval, "QZ-AAA", on(0), "10:00", `,"weeks":4,"plan":"Taxi and run-up","exercises":["circuits"]`),
		201)
	require.Len(t, weekly.IDs, 4)
	status, body := marit.call("POST", "/api/v1/bookings",
		lesson(demo.Halloran, "QZ-AAA", on(7), "11:00", `,"weeks":3`))
	assert.Equal(t, 422, status)
	assert.Contains(t, body,
		monday.AddDate(0, 0, 7).Format("Mon 2 Jan: ")+
			"QZ-AAA is booked from 10:00 to 11:30 already: Ravi Sandoval with Tunde Okonjo on QZ-AAA")
	week := ask[reports.ScheduleView](tunde, "GET", "/schedule?from="+on(7), "", 200)
	require.Len(t, week.Planned, 1, "all or none")
	assert.Equal(t, "Taxi and run-up", week.Planned[0].Plan)
	assert.Equal(t, schedule.Summary{Lessons: 1, Prepared: 1, BookedHours: 1.5, FreeHours: week.Summary.FreeHours},
		week.Summary)

	// A move that cannot be says so and leaves it where it was; one that can is done.
	to := func(instructor demo.Person, registration, day, at string, minutes int) string {
		return fmt.Sprintf(`{"instructor":%q,"registration":%q,"on":%q,"at":%q,"minutes":%d}`, instructor.ID,
			registration, day, at, minutes)
	}
	other := ask[bookings.Booked](marit, "POST", "/bookings", lesson(demo.Halloran, "QZ-AAC", on(0), "14:00", ""), 201)
	move := "/api/v1/bookings/" + other.ID
	status, body = marit.call("POST", move+"/move", to(demo.Solheim, "QZ-AAA", on(0), "11:00", 90))
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "QZ-AAA is booked from 10:00 to 11:30 already")
	tried := ask[reports.Against](marit, "POST", "/bookings/"+other.ID+"/try",
		to(demo.Solheim, "QZ-AAA", on(0), "11:00", 90), 200)
	require.NotEmpty(t, tried.Obstacles)
	require.NotEmpty(t, tried.Instead)
	for _, way := range tried.Instead {
		at := way.StartsAt.In(schooltest.Day.Location())
		moved := ask[bookings.Booked](marit, "POST", "/bookings/"+other.ID+"/move",
			fmt.Sprintf(`{"instructor":%q,"registration":%q,"on":%q,"at":%q,"minutes":90}`, way.InstructorID,
				way.Registration, on(0), at.Format("15:04")), 200)
		assert.Empty(t, moved.Warned, way.Words)
	}
	moved := ask[bookings.Booked](marit, "POST", "/bookings/"+other.ID+"/move",
		to(demo.Solheim, "QZ-AAC", on(0), "14:00", 120), 200)
	assert.Empty(t, moved.Warned)
	status, _ = kofi.call("POST", move+"/move", to(demo.Solheim, "QZ-AAC", on(0), "15:00", 120))
	assert.Equal(t, 403, status)

	// Leave refuses, shifts warn; whose they are is held to.
	away := ask[struct{ ID string }](marit, "POST", "/away",
		fmt.Sprintf(`{"fromOn":%q,"toOn":%q,"why":"a course"}`, on(1), on(2)), 201)
	status, body = tunde.call("POST", "/api/v1/away",
		fmt.Sprintf(`{"person":%q,"fromOn":%q,"toOn":%q,"why":"x"}`, demo.Solheim.ID, on(1), on(2)))
	assert.Equal(t, 403, status, body)
	status, body = chief.call("POST", "/api/v1/bookings",
		strings.Replace(lesson(demo.Owusu, "QZ-AAB", on(2), "10:00", ""), `"registration"`,
			fmt.Sprintf(`"instructor":%q,"registration"`, demo.Solheim.ID), 1))
	assert.Equal(t, 422, status)
	assert.Contains(t, body,
		"Marit Solheim is away until "+monday.AddDate(0, 0, 3).Format("Mon 2 Jan")+", 00:00: a course.")
	week = ask[reports.ScheduleView](kofi, "GET", "/schedule?from="+on(0), "", 200)
	require.Len(t, week.Away, 1)
	assert.Equal(t, "away", week.Away[0].Why, "why is for those who plan")
	for _, p := range week.Planned {
		assert.Equal(t, "booked", p.Student)
		assert.Empty(t, p.Plan)
	}
	require.Len(t, week.Students, 1)
	ask[any](marit, "POST", "/away/"+away.ID+"/end", "", 204)
	ask[any](marit, "PUT", "/shifts/"+demo.Solheim.ID, `{"shifts":[{"day":1,"from":"09:00","to":"13:00"}]}`, 204)
	status, _ = tunde.call("PUT", "/api/v1/shifts/"+demo.Solheim.ID, `{"shifts":[]}`)
	assert.Equal(t, 403, status)
	late := ask[bookings.Booked](chief, "POST", "/bookings",
		strings.Replace(lesson(demo.Owusu, "QZ-AAB", on(0), "16:00", ""), `"registration"`,
			fmt.Sprintf(`"instructor":%q,"registration"`, demo.Solheim.ID), 1), 201)
	require.Len(t, late.Warned, 1)
	assert.Equal(t, "Marit Solheim works from 09:00 to 13:00 on a Monday.", late.Warned[0].Words)

	// What is not to be had of the aircraft is maintenance's to say.
	status, _ = tunde.call("POST", "/api/v1/away",
		fmt.Sprintf(`{"registration":"QZ-AAE","fromOn":%q,"toOn":%q,"why":"yearly check"}`, on(3), on(4)))
	assert.Equal(t, 403, status)
	ask[any](as(t, url, demo.Achterberg), "POST", "/away",
		fmt.Sprintf(`{"registration":"QZ-AAE","fromOn":%q,"toOn":%q,"why":"yearly check"}`, on(3), on(4)), 201)
	status, body = tunde.call("POST", "/api/v1/bookings", lesson(demo.Lindqvist, "QZ-AAE", on(4), "10:00", ""))
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "QZ-AAE is not to be had until")

	// What is planned already when something comes to stand against it is named.
	ask[any](as(t, url, demo.Achterberg), "POST", "/away",
		fmt.Sprintf(`{"registration":"QZ-AAC","fromOn":%q,"fromAt":"15:00","toOn":%q,"why":"oil leak"}`, on(0), on(0)),
		201)
	week = ask[reports.ScheduleView](tunde, "GET", "/schedule?from="+on(0), "", 200)
	require.Len(t, week.Against[other.ID], 2)
	assert.Equal(t, "QZ-AAC is not to be had until "+monday.AddDate(0, 0, 1).Format("Mon 2 Jan")+", 00:00: oil leak.",
		week.Against[other.ID][0].Words)

	// Who stands by is offered what became free.
	ask[any](kofi, "PUT", "/standby/"+demo.Lindqvist.ID,
		fmt.Sprintf(`{"fromOn":%q,"toOn":%q,"words":"mornings"}`, on(0), on(6)), 204)
	status, _ = kofi.call("PUT", "/api/v1/standby/"+demo.Owusu.ID, fmt.Sprintf(`{"fromOn":%q,"toOn":%q}`, on(0), on(6)))
	assert.Equal(t, 404, status)
	free := ask[bookings.Cancelled](tunde, "POST", "/bookings/"+weekly.IDs[0]+"/cancel", `{"why":"fog"}`, 200)
	assert.Equal(t, []schedule.Named{{ID: demo.Lindqvist.ID, Name: demo.Lindqvist.Name}}, free.Standby)
	ask[any](kofi, "DELETE", "/standby/"+demo.Lindqvist.ID, "", 204)
	ask[bookings.Cancelled](tunde, "POST", "/bookings/"+weekly.IDs[1]+"/cancel", `{"why":"moved away","series":true}`,
		200)
	// With somebody who has left nothing is planned.
	data, err := json.Marshal(map[string]any{
		"name": demo.Solheim.Name, "email": demo.Solheim.Email, "roles": []string{"instructor"}, "active": false,
	})
	require.NoError(t, err)
	ask[any](chief, "PUT", "/people/"+demo.Solheim.ID, string(data), 200)
	status, body = chief.call("POST", "/api/v1/bookings",
		strings.Replace(lesson(demo.Owusu, "QZ-AAB", on(5), "10:00", ""), `"registration"`,
			fmt.Sprintf(`"instructor":%q,"registration"`, demo.Solheim.ID), 1))
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "instructor is no member of the school")
	for weeks := range 4 {
		week = ask[reports.ScheduleView](tunde, "GET", "/schedule?from="+on(7*weeks)+"&days=1", "", 200)
		for _, p := range week.Planned {
			assert.NotEqual(t, demo.Sandoval.ID, p.StudentID)
		}
	}
}

// TestASeriesIsHeldAgainstAllOfIt: in a school with thousands of lessons between the
// first week and one that cannot be, that one is still named.
func TestASeriesIsHeldAgainstAllOfIt(t *testing.T) {
	url, d := startWith(t)
	tunde := as(t, url, demo.Okonjo)
	monday := nextMonday()
	conn, err := pgx.Connect(context.Background(), d.OwnerURL)
	require.NoError(t, err)
	defer func() { _ = conn.Close(context.Background()) }()
	_, err = conn.Exec(context.Background(), `insert into bookings (school_id, student_id, instructor_id, registration, starts_at, ends_at, booked_by, booked_at)
		select $1, $2, $3, 'QZ-AAI', $4::timestamptz + n * interval '15 minutes', $4::timestamptz + (n + 1) * interval '15 minutes', $3, now() from generate_series(1, 2500) n`,
		demo.SchoolID, demo.Voss.ID, demo.Quist.ID, monday)
	require.NoError(t, err)
	at := monday.AddDate(0, 0, 28)
	ask[bookings.Booked](as(t, url, demo.Solheim), "POST", "/bookings",
		fmt.Sprintf(`{"student":%q,"registration":"QZ-AAA","on":%q,"at":"10:00","minutes":90}`, demo.Halloran.ID,
			at.Format(time.DateOnly)), 201)
	status, body := tunde.call("POST", "/api/v1/bookings",
		fmt.Sprintf(`{"student":%q,"registration":"QZ-AAA","on":%q,"at":"11:00","minutes":60,"weeks":6}`,
			demo.Sandoval.ID, monday.Format(time.DateOnly)))
	assert.Equal(t, 422, status, body)
	assert.Contains(t, body, at.Format("Mon 2 Jan")+": QZ-AAA is booked from 10:00 to 11:30 already")

	// Whom the whole day has no time of is not offered another time, only others.
	tried := ask[reports.Against](tunde, "POST", "/bookings/try",
		fmt.Sprintf(`{"student":%q,"instructor":%q,"registration":"QZ-AAA","on":%q,"at":"07:00","minutes":60}`,
			demo.Sandoval.ID, demo.Quist.ID, monday.AddDate(0, 0, 1).Format(time.DateOnly)), 200)
	require.NotEmpty(t, tried.Instead)
	for _, way := range tried.Instead {
		assert.NotEqual(t, demo.Quist.ID, way.InstructorID, way.Words)
	}
}

// TestProposalsAreBooked: what is proposed for a week says why, and can be booked
// as it stands, all of it.
func TestProposalsAreBooked(t *testing.T) {
	url := start(t)
	tunde := as(t, url, demo.Okonjo)
	on := nextMonday().Format(time.DateOnly)
	found := ask[reports.ProposalsView](tunde, "GET", "/proposals?from="+on, "", 200)
	require.Greater(t, len(found.Proposals), 5)
	assert.Equal(t, found, ask[reports.ProposalsView](tunde, "GET", "/proposals?from="+on, "", 200))
	lines := ask[reports.ScheduleView](tunde, "GET", "/schedule?from="+on, "", 200).Students
	checks := 0
	for _, p := range found.Proposals {
		assert.Contains(t, p.Why, p.Plan)
		// the name of their own instructor
		own := lines[slices.IndexFunc(lines, func(l reports.ScheduleLine) bool { return l.ID == p.StudentID })].Note
		assert.Equal(t, p.Instructor == own, strings.HasSuffix(p.Why, "With their own instructor."), p.Why)
		if strings.HasPrefix(p.Plan, progress.StageCheckTitle) {
			checks++
			assert.NotEqual(t, own, p.Instructor, "a stage check is flown with another")
		}
		at := p.StartsAt.In(schooltest.Day.Location())
		body, err := json.Marshal(map[string]any{
			"student": p.StudentID, "instructor": p.InstructorID, "registration": p.Registration,
			"on": at.Format(time.DateOnly), "at": at.Format("15:04"), "minutes": p.Minutes, "plan": p.Plan,
		})
		require.NoError(t, err)
		booked := ask[bookings.Booked](tunde, "POST", "/bookings", string(body), 201)
		assert.Empty(t, booked.Warned, p.Student)
	}
	assert.Positive(t, checks)
	again := ask[reports.ProposalsView](tunde, "GET", "/proposals?from="+on, "", 200)
	assert.Empty(t, again.Proposals, "nobody is proposed twice in a week")
	status, _ := as(t, url, demo.Lindqvist).call("GET", "/api/v1/proposals?from="+on, "")
	assert.Equal(t, 403, status)
}

// TestACalendarHasItsSecret: the address gives one's own lessons without a
// sign-in; renewed, the one before is nobody's.
func TestACalendarHasItsSecret(t *testing.T) {
	url := start(t)
	tunde := as(t, url, demo.Okonjo)
	first := ask[struct{ Path string }](tunde, "POST", "/calendar", "", 200)
	stranger := visitor(t, url)
	status, text := stranger.call("GET", first.Path, "")
	require.Equal(t, 200, status, text)
	assert.True(t, strings.HasPrefix(text, "BEGIN:VCALENDAR\r\n"))
	assert.Contains(t, text, "SUMMARY:Kofi Lindqvist\\, QZ-AAC")
	assert.NotContains(t, text, demo.Bello.Name, "whom another teaches is not in it")
	second := ask[struct{ Path string }](tunde, "POST", "/calendar", "", 200)
	status, _ = stranger.call("GET", first.Path, "")
	assert.Equal(t, 404, status)
	status, _ = stranger.call("GET", second.Path, "")
	assert.Equal(t, 200, status)
	status, _ = stranger.call("GET", second.Path[:len(second.Path)-6]+"x.ics", "")
	assert.Equal(t, 404, status)
}
