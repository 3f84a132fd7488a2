package server_test

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/access"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/server"
	"jetprimer/store"
)

const moveKey = "herons over the fen"

// moved is the demo school's file.
func moved(t *testing.T, s *store.Store) []byte {
	var file bytes.Buffer
	_, err := s.ExportSchool(context.Background(), demo.SchoolID, moveKey, &file, func(string, int64) {})
	require.NoError(t, err)
	return file.Bytes()
}

// takeOver sends a school's file to the first page.
func takeOver(t *testing.T, c *client, code, key string, file []byte) (int, string) {
	request, err := http.NewRequest("POST", c.url+"/api/v1/setup/school", bytes.NewReader(file))
	require.NoError(t, err)
	request.Header.Set("Content-Type", "application/zip")
	request.Header.Set("Jetprimer-Code", url.PathEscape(code))
	request.Header.Set("Jetprimer-Key", url.PathEscape(key))
	answer, err := c.Do(request)
	require.NoError(t, err)
	defer answer.Body.Close()
	text, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	return answer.StatusCode, string(text)
}

// TestASchoolIsTakenOverOnTheFirstPage: with the program's code and the file's
// key, all of it or nothing, once; its people sign in as before.
func TestASchoolIsTakenOverOnTheFirstPage(t *testing.T) {
	_, from := startWith(t)
	file := moved(t, from.Store)
	d := schooltest.New(t)
	handler, err := server.New(server.Options{
		Store: d.Store, Catalog: d.Catalog, SetupCode: "TRYTHISONE",
		Now: func() time.Time { return schooltest.Day.Add(11 * time.Hour) },
	})
	require.NoError(t, err)
	t.Cleanup(handler.Close)
	s := httptest.NewServer(handler)
	t.Cleanup(s.Close)
	c := visitor(t, s.URL)
	flipped := bytes.Clone(file)
	flipped[len(flipped)/2] ^= 4
	for _, k := range []struct {
		code, key string
		file      []byte
		want      string
	}{
		{"ANOTHERONE", moveKey, file, "is not the code that the program printed"},
		{"TRYTHISONE", moveKey + "!", file, "the key is not the one of this file"},
		{"TRYTHISONE", moveKey, flipped, "Nothing of it was kept."},
		{"TRYTHISONE", moveKey, []byte("not a zip"), "broken or cut short"},
		{"TRYTHISONE", moveKey, nil, "broken or cut short"},
	} {
		status, said := takeOver(t, c, k.code, k.key, k.file)
		assert.Equal(t, 422, status, said)
		assert.Contains(t, said, k.want)
	}
	status, said := takeOver(t, c, "TRYTHISONE", moveKey, file)
	require.Equal(t, 200, status, said)
	assert.Contains(t, said, `"school":"Tarn Hollow`)
	status, _ = takeOver(t, c, "TRYTHISONE", moveKey, file)
	assert.Equal(t, 409, status)
	assert.Contains(t, ask[map[string]any](as(t, s.URL, demo.Ferreira), "GET", "/school", "", 200), "groups")
}

// TestTwoSchoolsAreBlindToEachOther: two schools lie in one database. Somebody
// with every role in one walks every route with the other's ids, in paths and
// bodies: no answer names the other school's people or aircraft, and what the
// other school owns is the same bytes afterwards.
func TestTwoSchoolsAreBlindToEachOther(t *testing.T) {
	at, d := startWith(t)
	ctx, other := context.Background(), uuid.NewString()
	hash, err := argon2id.CreateHash("elsewhere", &quick)
	require.NoError(t, err)
	stranger := store.Account{
		ID: uuid.NewString(), Email: "head@elsewhere.example", Name: "Head Elsewhere", Password: hash,
	}
	require.NoError(t,
		d.Store.AddSchool(ctx, store.School{ID: other, Name: "Elsewhere", TimeZone: "UTC", CreatedAt: schooltest.Day},
			nil))
	require.NoError(t, d.Store.AddAccount(ctx, stranger))
	require.NoError(t,
		d.Store.In(ctx, other,
			func(_ context.Context, tx *store.Tx) error { return tx.Join(stranger.ID, access.EveryRole[1:]...) }))

	owner, err := pgx.Connect(ctx, d.OwnerURL)
	require.NoError(t, err)
	defer owner.Close(ctx)
	_, err = owner.Exec(ctx, "select set_config('app.school', $1, false)", demo.SchoolID)
	require.NoError(t, err)
	id := func(query string) (out string) {
		require.NoError(t, owner.QueryRow(ctx, query).Scan(&out), query)
		return out
	}
	ids := []string{demo.Brandt.ID, demo.SchoolID, "QZ-AAA", "XTHW", "school-alder",
		id("select id::text from lessons where status = 'signed' order by opened_at limit 1"),
		id("select id::text from lessons where status <> 'signed' limit 1"),
		id("select id::text from bookings order by starts_at limit 1"),
		id("select event_id::text from findings limit 1")}
	before := moved(t, d.Store)

	api := apiOf(t)
	c := visitor(t, at)
	status, said := c.call("POST", "/api/v1/session", `{"email":"head@elsewhere.example","password":"elsewhere"}`)
	require.Equal(t, 200, status, said)
	secret := []string{demo.Brandt.Name, demo.Ferreira.Name, demo.Brandt.Email, "QZ-AAA Alder",
		"Tarn Hollow supplement"}
	walked := 0
	for path, methods := range api.Paths {
		for method, op := range methods {
			if slices.Contains([]string{
				"sign-in", "sign-out", "stream", "change-school", "end-sessions", "begin", "set-password",
				"begin-second",
			}, op.OperationID) {
				continue // these are the person's own, of no school
			}
			for _, theirs := range ids {
				at := path
				for _, p := range op.Parameters {
					switch {
					case p.In == "query":
						at += map[bool]string{true: "&", false: "?"}[strings.Contains(at, "?")] + p.Name + "=" +
							url.QueryEscape(theirs)
					case p.Name == "kind":
						at = strings.ReplaceAll(at, "{kind}", "layer")
					case p.Name == "version":
						at = strings.ReplaceAll(at, "{version}", "1")
					default:
						at = strings.ReplaceAll(at, "{"+p.Name+"}", url.PathEscape(theirs))
					}
				}
				body := ""
				if len(op.RequestBody.Content) > 0 {
					quoted, _ := json.Marshal(theirs)
					body = bodyOf(api.Components.Schemas, op.RequestBody.Content, quoted)
				}
				status, said := c.call(strings.ToUpper(method), at, body)
				walked++
				assert.Less(t, status, 500, "%s %s", method, at)
				if status == http.StatusUnauthorized {
					t.Fatalf("%s %s signed the stranger out", method, at)
				}
				for _, word := range secret {
					assert.NotContains(t, said, word, "%s %s", method, at)
				}
			}
		}
	}
	assert.Greater(t, walked, 700)
	assert.True(t, bytes.Equal(before, moved(t, d.Store)), "what the other school owns is as it was")
}
