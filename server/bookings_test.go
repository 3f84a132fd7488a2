package server_test

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
)

// TestALessonIsPlanned: a booking is made, stands in everybody's day as far as
// they may know, cannot be made twice, and is taken off with the reason.
func TestALessonIsPlanned(t *testing.T) {
	url := start(t)
	tunde, marit, ravi, kofi := as(t, url, demo.Okonjo), as(t, url, demo.Solheim), as(t, url, demo.Sandoval), as(t, url,
		demo.Lindqvist)
	on := schooltest.Day.AddDate(0, 0, 3).Format(time.DateOnly)
	ask := func(student demo.Person, registration, at string) string {
		return fmt.Sprintf(`{"student":%q,"registration":%q,"on":%q,"at":%q,"minutes":90,"exercises":["stalls"]}`,
			student.ID, registration, on, at)
	}
	status, body := tunde.call("POST", "/api/v1/bookings", ask(demo.Sandoval, "QZ-AAA", "10:00"))
	require.Equal(t, 201, status, body)
	var made struct{ ID string }
	require.NoError(t, json.Unmarshal([]byte(body), &made))

	for what, c := range map[string]struct {
		by      *client
		request string
		want    string
	}{
		"the aircraft": {
			marit, ask(demo.Halloran, "QZ-AAA", "11:00"),
			"QZ-AAA is booked from 10:00 to 11:30 already: Ravi Sandoval with Tunde Okonjo on QZ-AAA",
		},
		"the student": {
			marit, ask(demo.Sandoval, "QZ-AAB", "09:00"), "Ravi Sandoval is booked from 10:00 to 11:30",
		},
		"instructor and student": {
			tunde, ask(demo.Sandoval, "QZ-AAC", "11:29"), "Ravi Sandoval and Tunde Okonjo are booked",
		},
		"no student":  {tunde, ask(demo.Ferreira, "QZ-AAC", "14:00"), "student is no student of the school"},
		"no aircraft": {tunde, ask(demo.Sandoval, "QZ-ZZZ", "14:00"), "registration is no aircraft of the school"},
		"no time":     {tunde, ask(demo.Sandoval, "QZ-AAC", "25:00"), "expected string to match pattern"},
		"too long": {
			tunde, strings.Replace(ask(demo.Sandoval, "QZ-AAC", "14:00"), `"minutes":90`, `"minutes":481`, 1),
			"expected number <= 480",
		},
		"no exercise": {
			tunde, strings.Replace(ask(demo.Sandoval, "QZ-AAC", "14:00"), "stalls", "loops", 1),
			`exercises \"loops\" is no exercise`,
		},
		"another year": {
			tunde, strings.Replace(ask(demo.Sandoval, "QZ-AAC", "14:00"), on, "2099-01-01", 1),
			"startsAt is more than a year ahead",
		},
		"yesterday": {
			tunde, strings.Replace(ask(demo.Sandoval, "QZ-AAC", "14:00"), on, "2020-01-01", 1),
			"startsAt is over already",
		},
		"a student as teacher": {tunde,
			strings.Replace(ask(demo.Sandoval, "QZ-AAC", "14:00"), `"minutes"`,
				fmt.Sprintf(`"instructor":%q,"minutes"`, demo.Halloran.ID), 1),
			"instructor does not teach at the school"},
	} {
		status, body := c.by.call("POST", "/api/v1/bookings", c.request)
		assert.Equal(t, 422, status, "%s: %s", what, body)
		assert.Contains(t, body, c.want, what)
	}
	status, body = marit.call("POST", "/api/v1/bookings", ask(demo.Halloran, "QZ-AAA", "11:30"))
	assert.Equal(t, 201, status, "one ends as the other begins: "+body)

	cancel := "/api/v1/bookings/" + made.ID + "/cancel"
	status, _ = ravi.call("POST", cancel, `{"why":"ill"}`)
	assert.Equal(t, 403, status)
	status, _ = marit.call("POST", cancel, `{"why":""}`)
	assert.Equal(t, 422, status)
	status, _ = marit.call("POST", cancel, `{"why":"no hydraulics"}`)
	assert.Equal(t, 200, status)
	status, _ = marit.call("POST", cancel, `{"why":"again"}`)
	assert.Equal(t, 404, status)
	status, body = tunde.call("POST", "/api/v1/bookings", ask(demo.Sandoval, "QZ-AAA", "10:00"))
	assert.Equal(t, 201, status, "what is cancelled is free: "+body)

	_, body = kofi.call("GET", "/api/v1/today", "")
	assert.Contains(t, body, `"student":"Kofi Lindqvist"`)
	assert.Contains(t, body, `"student":"booked"`)
	for _, other := range []string{demo.Owusu.Name, demo.Owusu.ID, demo.Brandt.Name} {
		assert.NotContains(t, body, other, "whose records are not open is not named")
	}
}

// TestTheDatabaseKeepsBookingsApart: what comes past the rules is still refused,
// in person and aircraft; what is cancelled stands in nobody's way.
func TestTheDatabaseKeepsBookingsApart(t *testing.T) {
	_, d := startWith(t)
	conn, err := pgx.Connect(context.Background(), d.OwnerURL)
	require.NoError(t, err)
	defer func() { _ = conn.Close(context.Background()) }()
	tx, err := conn.Begin(context.Background())
	require.NoError(t, err)
	defer func() { _ = tx.Rollback(context.Background()) }()
	_, err = tx.Exec(context.Background(), "select set_config('app.school', $1, true)", demo.SchoolID)
	require.NoError(t, err)
	book := func(student, instructor demo.Person, registration, cancelled string) error {
		inner, err := tx.Begin(context.Background())
		require.NoError(t, err)
		_, err = inner.Exec(context.Background(), `insert into bookings (school_id, student_id, instructor_id, registration, starts_at, ends_at, booked_by, booked_at, cancelled_at)
			values ($1, $2, $3, $4, '2030-01-01 10:00Z', '2030-01-01 11:00Z', $3, now(), nullif($5, '')::timestamptz)`,
			demo.SchoolID, student.ID, instructor.ID, registration, cancelled)
		if err != nil {
			require.NoError(t, inner.Rollback(context.Background()))
			return err
		}
		return inner.Commit(context.Background())
	}
	require.NoError(t, book(demo.Sandoval, demo.Okonjo, "QZ-AAA", ""))
	assert.ErrorContains(t, book(demo.Sandoval, demo.Solheim, "QZ-AAB", ""), "one_student")
	assert.ErrorContains(t, book(demo.Halloran, demo.Okonjo, "QZ-AAB", ""), "one_instructor")
	assert.ErrorContains(t, book(demo.Halloran, demo.Solheim, "QZ-AAA", ""), "one_aircraft")
	assert.NoError(t, book(demo.Sandoval, demo.Okonjo, "QZ-AAA", "2029-12-31"))
	assert.NoError(t, book(demo.Halloran, demo.Solheim, "QZ-AAB", ""))
}

// TestUnitsAreTheSchoolsAndOnesOwn: the school's hold for who has not chosen,
// one's own before them; what is no unit is refused.
func TestUnitsAreTheSchoolsAndOnesOwn(t *testing.T) {
	url := start(t)
	chief, tunde := as(t, url, demo.Ferreira), as(t, url, demo.Okonjo)
	units := func(c *client) string {
		_, body := c.call("GET", "/api/v1/session", "")
		var session struct{ Units json.RawMessage }
		require.NoError(t, json.Unmarshal([]byte(body), &session))
		return string(session.Units)
	}
	assert.JSONEq(t, `{"temperature":"°C","pressure":"hPa","volume":"L","height":"ft","length":"m","speed":"kt"}`,
		units(tunde))
	status, body := chief.call("PUT", "/api/v1/school/settings", `{"units":{"temperature":"°F","speed":"mph"}}`)
	require.Equal(t, 200, status, body)
	status, body = tunde.call("PUT", "/api/v1/session/units", `{"speed":"kt","volume":"gal"}`)
	require.Equal(t, 200, status, body)
	assert.JSONEq(t, `{"temperature":"°F","pressure":"hPa","volume":"gal","height":"ft","length":"m","speed":"kt"}`,
		units(tunde))
	assert.JSONEq(t, `{"temperature":"°F","pressure":"hPa","volume":"L","height":"ft","length":"m","speed":"mph"}`,
		units(chief))
	for _, wrong := range []string{`{"speed":"km/h"}`, `{"temperature":"K"}`, `{"weight":"kg"}`, `[]`} {
		status, body = tunde.call("PUT", "/api/v1/session/units", wrong)
		assert.Equal(t, 422, status, "%s: %s", wrong, body)
	}
	_, body = tunde.call("GET", "/api/v1/reference", "")
	assert.Contains(t, body, "oil temperature, °F")
	status, body = tunde.call("POST", "/api/v1/check/gauges",
		`{"aircraftType":"alder-110","reading":{"oilTemperature":{"value":245,"unit":"°F"}}}`)
	assert.Equal(t, 200, status)
	assert.Contains(t, body, "reads 118.33 °C; the highest allowed is 118 °C", "an answer is in the units of the rules")
}
