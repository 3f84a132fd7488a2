package server_test

import (
	"context"
	"encoding/json"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/school"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/reports"
	"jetprimer/server/people"
	"jetprimer/store"
)

// TestANameIsErased: of somebody who left, by whoever types it; every place shows
// the pseudonym, nobody signs in by the old address, the chain of signatures
// holds, and the record proves itself. Until then nothing of it happens.
func TestANameIsErased(t *testing.T) {
	at, d := startWith(t)
	ctx := context.Background()
	chief := as(t, at, demo.Ferreira)
	who := demo.Brandt
	erase := func(name string) (int, string) {
		return chief.call("POST", "/api/v1/people/"+who.ID+"/erase", body(t, map[string]string{"name": name}))
	}
	own, leave := as(t, at, who), schooltest.Day.AddDate(0, 0, 30).Format(time.DateOnly)
	ask[any](own, "POST", "/away",
		body(t, map[string]string{"fromOn": leave, "toOn": leave, "why": "my sister's wedding"}), 201)
	ask[any](own, "PUT", "/standby/"+who.ID,
		body(t, map[string]string{"fromOn": leave, "toOn": leave, "words": "after the wedding"}), 204)
	calendar := ask[struct{ Path string }](own, "POST", "/calendar", "", 200).Path
	status, said := erase(who.Name)
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "let them go first")
	var member store.Member
	for _, m := range ask[people.People](chief, "GET", "/people", "", 200).Members {
		if m.ID == who.ID {
			member = m
		}
	}
	learns := *member.Learns
	data, err := json.Marshal(map[string]any{
		"name": member.Name, "email": member.Email, "roles": member.Roles, "learns": learns, "active": false,
	})
	require.NoError(t, err)
	ask[any](chief, "PUT", "/people/"+who.ID, string(data), 200)
	status, said = chief.call("POST", "/api/v1/bookings",
		body(t, map[string]any{"student": who.ID, "registration": "QZ-AAA", "on": leave, "at": "10:00", "minutes": 60}))
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "has left the school")
	status, said = erase("Somebody Else")
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "is not the person's")
	status, said = erase(who.Name)
	if status == 422 { // the demo's day has a lesson of theirs under way
		require.Contains(t, said, "nobody has signed")
		owner, err := pgx.Connect(ctx, d.OwnerURL)
		require.NoError(t, err)
		defer owner.Close(ctx)
		_, err = owner.Exec(ctx, "update lessons set student_id = $1 where student_id = $2 and status <> 'signed'",
			demo.Moreau.ID, who.ID)
		require.NoError(t, err)
		status, said = erase(who.Name)
	}
	require.Equal(t, 204, status, said)

	named := school.Pseudonym(who.ID)
	_, people := chief.call("GET", "/api/v1/people", "")
	assert.Contains(t, people, named)
	for _, path := range []string{
		"/people", "/school", "/students/" + who.ID, "/today", "/people.csv", "/findings", "/schedule?from=" + leave,
		"/schedule.csv?from=" + leave,
	} {
		_, text := chief.call("GET", "/api/v1"+path, "")
		assert.NotContains(t, text, who.Name, path)
		assert.NotContains(t, text, who.Email, path)
		assert.NotContains(t, text, "wedding", path)
	}
	status, _ = visitor(t, at).call("GET", calendar, "")
	assert.Equal(t, 404, status)
	status, _ = visitor(t, at).call("POST", "/api/v1/session",
		`{"email":"`+who.Email+`","password":"`+demo.Password+`"}`)
	assert.Equal(t, 401, status)
	status, said = erase(named)
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "has no name here any more")
	status, _ = chief.call("PUT", "/api/v1/people/"+who.ID, string(data))
	assert.Equal(t, 422, status, "what is gone is not written down again")
	lesson := ask[reports.StudentView](chief, "GET", "/students/"+who.ID, "", 200).Lessons[0].ID
	status, record := chief.call("GET", "/api/v1/lessons/"+lesson+"/record", "")
	assert.Equal(t, 200, status)
	assert.Contains(t, record, named)
	require.NoError(t, d.Store.In(ctx, demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
		_, err := tx.VerifyChain()
		return err
	}))
}
