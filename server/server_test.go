package server_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/check"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/reports"
	"jetprimer/server"
	"jetprimer/server/documents"
	"jetprimer/server/lessons"
	"jetprimer/store"
)

func TestMain(m *testing.M) { schooltest.Main(m) }

var quick = argon2id.Params{Memory: 8 * 1024, Iterations: 1, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// everybodys is the hash of everybody's password, made once: tests that share
// it share the making of the demo school.
var everybodys = sync.OnceValues(func() (string, error) { return argon2id.CreateHash(demo.Password, &quick) })

// start serves the demo school.
func start(t testing.TB) string {
	t.Helper()
	url, _ := startWith(t)
	return url
}

// startWith serves the demo school, and gives its database as well.
func startWith(t testing.TB) (string, *schooltest.Database) {
	t.Helper()
	hash, err := everybodys()
	require.NoError(t, err)
	d := schooltest.Demo(t, hash)
	_, url := serving(t, d)
	return url, d
}

// serving serves a database, and gives the server and its address.
func serving(t testing.TB, d *schooltest.Database) (*server.Server, string) {
	t.Helper()
	handler, err := server.New(server.Options{
		Store: d.Store, Catalog: d.Catalog, Now: func() time.Time { return schooltest.Day.Add(11 * time.Hour) },
	})
	require.NoError(t, err)
	t.Cleanup(handler.Close)
	s := httptest.NewServer(handler)
	t.Cleanup(s.Close)
	return handler, s.URL
}

// client is one person's browser.
type client struct {
	testing.TB
	http.Client
	url string
}

func visitor(t testing.TB, url string) *client {
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return &client{t, http.Client{Jar: jar}, url}
}

func as(t testing.TB, url string, who demo.Person) *client {
	c := visitor(t, url)
	status, body := c.call("POST", "/api/v1/session",
		fmt.Sprintf(`{"email":%q,"password":%q}`, who.Email, demo.Password))
	require.Equal(t, 200, status, body)
	return c
}

func (c *client) call(method, path, body string) (int, string) {
	c.Helper()
	request, err := http.NewRequest(method, c.url+path, strings.NewReader(body))
	require.NoError(c, err)
	request.Header.Set("Content-Type", "application/json")
	response, err := c.Do(request)
	require.NoError(c, err)
	defer response.Body.Close()
	text, err := io.ReadAll(response.Body)
	require.NoError(c, err)
	return response.StatusCode, string(text)
}

// TestEveryRouteWithEveryRole asks every operation with each role, and with nobody signed
// in: who its declaration does not name is refused, and nobody else. Who may do what is
// kept beside this test, for a person to read when it changes.
func TestEveryRouteWithEveryRole(t *testing.T) {
	hash, err := everybodys()
	require.NoError(t, err)
	d := schooltest.Demo(t, hash)
	handler, url := serving(t, d)
	people := map[string]*client{"nobody": visitor(t, url)}
	for _, p := range []demo.Person{
		demo.Brandt, demo.Okonjo, demo.Ferreira, demo.Achterberg, demo.Petrescu, demo.Whitlock,
	} {
		people[p.Role] = as(t, url, p)
	}
	var table strings.Builder
	for _, r := range handler.Routes() {
		who := strings.Join(r.For, " ")
		if r.For.Has("") {
			who = "anybody"
		}
		fmt.Fprintf(&table, "%-6s %-40s %s\n", r.Method, r.Path, who)
		if r.ID == "sign-out" || r.ID == "stream" {
			continue // one would end the walk, the other never ends; both have tests of their own
		}
		path := "/api/v1" +
			strings.NewReplacer("{kind}/{id}", "list/alder-110-full", "{kind}", "list", "{version}", "5",
				"{type}", "alder-110", "{id}", demo.Brandt.ID, "{hash}", strings.Repeat("0", 64), "{lesson}",
				demo.Brandt.ID,
				"{event}", demo.Brandt.ID, "{share}", demo.Brandt.ID, "{school}", demo.SchoolID, "{name}",
				"magneto").Replace(r.Path)
		for role, person := range people {
			status, body := person.call(r.Method, path, "{}")
			what := fmt.Sprintf("%s %s as %s: %d %s", r.Method, path, role, status, body)
			switch {
			case r.For.Has("") || r.For.Has(role):
				assert.NotContains(t, []int{401, 403, 500}, status, what)
			case role == "nobody":
				assert.Equal(t, 401, status, what)
			default:
				assert.Equal(t, 403, status, what)
				assert.Contains(t, body, "This is not open to the role "+role)
			}
		}
	}
	const kept = "testdata/permissions.txt"
	if os.Getenv("UPDATE_GOLDEN") != "" {
		require.NoError(t, os.WriteFile(kept, []byte(table.String()), 0o644))
	}
	want, err := os.ReadFile(kept)
	require.NoError(t, err)
	assert.Equal(t, string(want), table.String(), "UPDATE_GOLDEN=1 keeps who may do what now")
	status, _ := people["student"].call("DELETE", "/api/v1/session", "")
	assert.Equal(t, 204, status)
	status, _ = people["student"].call("GET", "/api/v1/session", "")
	assert.Equal(t, 401, status)
}

func TestPeopleSeeOnlyWhatIsTheirs(t *testing.T) {
	url := start(t)
	student, examiner := as(t, url, demo.Brandt), as(t, url, demo.Petrescu)
	own, other := "/api/v1/students/"+demo.Brandt.ID, "/api/v1/students/"+demo.Moreau.ID
	for _, c := range []struct {
		who  *client
		path string
		want int
	}{
		{student, own, 200}, {student, other, 404}, {examiner, own, 200}, {examiner, other, 404},
		{student, "/api/v1/students/" + uuid.NewString(), 404}, {student, "/api/v1/lessons/" + uuid.NewString(), 404},
	} {
		status, body := c.who.call("GET", c.path, "")
		assert.Equal(t, c.want, status, c.path)
		if c.want == 404 {
			assert.Contains(t, body, "There is no such record in your school, or it is not open to you.")
		}
	}
	_, body := student.call("GET", "/api/v1/today", "")
	assert.Contains(t, body, demo.Brandt.Name)
	assert.NotContains(t, body, demo.Lindqvist.Name, "another student's lesson is not shown")
}

// TestAnotherSchoolsRecords: the chief instructor of one school asks for
// another's records by their ids, and learns nothing.
func TestAnotherSchoolsRecords(t *testing.T) {
	url, d := startWith(t)
	ctx, school := context.Background(), uuid.NewString()
	hash, err := argon2id.CreateHash("elsewhere", &quick)
	require.NoError(t, err)
	stranger := store.Account{
		ID: uuid.NewString(), Email: "head@elsewhere.example", Name: "Head Elsewhere", Password: hash,
	}
	require.NoError(t,
		d.Store.AddSchool(ctx, store.School{ID: school, Name: "Elsewhere", TimeZone: "UTC", CreatedAt: schooltest.Day},
			nil))
	require.NoError(t, d.Store.AddAccount(ctx, stranger))
	require.NoError(t,
		d.Store.In(ctx, school, func(_ context.Context, tx *store.Tx) error { return tx.Join(stranger.ID, "chief") }))
	var running store.Lesson
	require.NoError(t, d.Store.In(ctx, demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
		unsigned, err := tx.Unsigned()
		running = unsigned[0]
		return err
	}))

	c := visitor(t, url)
	status, body := c.call("POST", "/api/v1/session", `{"email":"head@elsewhere.example","password":"elsewhere"}`)
	require.Equal(t, 200, status, body)
	for _, path := range []string{"/api/v1/lessons/" + running.ID, "/api/v1/students/" + demo.Brandt.ID} {
		status, body := c.call("GET", path, "")
		assert.Equal(t, 404, status, path)
		assert.Contains(t, body, "There is no such record in your school, or it is not open to you.")
	}
	status, body = c.call("POST", "/api/v1/lessons/"+running.ID+"/events",
		batch(event(900, "lesson-ended", map[string]any{})))
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "the school has no such lesson")
	for _, path := range []string{
		"/api/v1/school", "/api/v1/today", "/api/v1/briefing", "/api/v1/findings", "/api/v1/feed", "/api/v1/school.csv",
	} {
		status, body := c.call("GET", path, "")
		assert.Equal(t, 200, status, path)
		assert.NotContains(t, body, "QZ-AA", path)
		assert.NotContains(t, body, demo.Brandt.Name, path)
	}
	status, body = c.call("POST", "/api/v1/session",
		fmt.Sprintf(`{"email":"head@elsewhere.example","password":"elsewhere","school":%q}`, demo.SchoolID))
	assert.Equal(t, 403, status)
	assert.Contains(t, body, "not a member of that school")
}

// TestTheFeedTellsWhatChanged: a cursor, then what came after it and no more.
func TestTheFeedTellsWhatChanged(t *testing.T) {
	c := as(t, start(t), demo.Okonjo)
	type feed struct {
		Cursor  int64
		Changes []store.Change
	}
	look := func(after int64) (f feed) {
		status, body := c.call("GET", fmt.Sprintf("/api/v1/feed?after=%d", after), "")
		require.Equal(t, 200, status, body)
		require.NoError(t, json.Unmarshal([]byte(body), &f))
		return f
	}
	now := look(0)
	assert.NotEmpty(t, now.Changes)
	assert.Empty(t, look(now.Cursor).Changes)
	lesson := uuid.Must(uuid.NewV7()).String()
	status, body := c.call("POST", "/api/v1/lessons/"+lesson+"/events", batch(opening(demo.Okonjo.ID)))
	require.Equal(t, 200, status, body)
	next := look(now.Cursor)
	assert.Equal(t, []store.Change{{Seq: now.Cursor + 1, Subject: "lesson", Ref: lesson}}, next.Changes)
	status, body = c.call("GET", "/api/v1/lessons/"+lesson+"?known=1", "")
	assert.Equal(t, []any{204, ""}, []any{status, body}, "who has it all is sent nothing")
	status, body = c.call("GET", "/api/v1/lessons/"+lesson+"?known=2", "")
	assert.Equal(t, 200, status)
	assert.Contains(t, body, `"lesson-opened"`)
	status, body = c.call("GET", "/api/v1/feed?after=-1", "")
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "after")
}

// TestSigningOverHTTP: the whole life of a short lesson, as a tablet sends it.
func TestSigningOverHTTP(t *testing.T) {
	url := start(t)
	c := as(t, url, demo.Okonjo)
	path := "/api/v1/lessons/" + uuid.Must(uuid.NewV7()).String()
	status, body := c.call("POST", path+"/events", batch(opening(demo.Okonjo.ID),
		event(2, "item-result", map[string]any{"item": "papers", "result": "done"}),
		event(3, "omitted", map[string]any{"item": "walk-round"}),
		event(4, "lesson-ended", map[string]any{})))
	require.Equal(t, 200, status, body)
	var view lessons.LessonView
	read := func() {
		status, body := c.call("GET", path, "")
		require.Equal(t, 200, status, body)
		view = lessons.LessonView{}
		require.NoError(t, json.Unmarshal([]byte(body), &view))
	}
	read()
	assert.Equal(t, "ended", view.Lesson.Status)
	assert.True(t, view.Mine)
	assert.Equal(t, 1, view.Before)
	assert.Equal(t, 0, *view.State.Items[1].Level, "a critical item left out")
	assert.Contains(t, strings.Join(view.Kit.Notes, " "), "The published standard governs")

	sign := func(password string) (int, string) {
		return c.call("POST", path+"/sign",
			fmt.Sprintf(`{"password":%q,"eventHash":%q,"event":%q}`, password, view.State.EventHash,
				uuid.Must(uuid.NewV7())))
	}
	status, body = sign("guessed")
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "That is not your password. Nothing was signed, and nothing was lost.")
	status, body = sign(demo.Password)
	require.Equal(t, 200, status, body)
	read()
	assert.Equal(t, "signed", view.Lesson.Status)
	require.Len(t, view.State.Seals, 1)
	assert.Equal(t, check.RulesVersion, view.State.Seals[0].RulesVersion)
	status, body = sign(demo.Password)
	assert.Equal(t, 200, status, "an answer may have been lost: signing again says that it is signed")
	assert.Equal(t, 1, strings.Count(body, `"signedBy"`))

	_, body = c.call("GET", "/api/v1/students/"+demo.Moreau.ID, "")
	assert.Contains(t, body, "Critical error on 2026-11-24 not yet answered in 2 later lessons: Walk-round.")
	_, body = c.call("GET", "/api/v1/students/"+demo.Moreau.ID+"?asOf=tomorrow", "")
	assert.Contains(t, body, "asOf")

	// The chief instructor may close it where its condition does not come again.
	open := ask[reports.StudentView](c, "GET", "/students/"+demo.Moreau.ID, "", 200).Criticals
	require.NotEmpty(t, open)
	decide := fmt.Sprintf(`{"lesson":%q,"item":%q,"why":"shown on the ground, twice"}`, open[0].Lesson, open[0].Item)
	chief := as(t, url, demo.Ferreira)
	status, body = chief.call("POST", "/api/v1/students/"+demo.Moreau.ID+"/criticals", decide)
	require.Equal(t, 204, status, body)
	assert.Equal(t, open[1:], ask[reports.StudentView](c, "GET", "/students/"+demo.Moreau.ID, "", 200).Criticals)
	status, _ = chief.call("POST", "/api/v1/students/"+demo.Moreau.ID+"/criticals", decide)
	assert.Equal(t, 404, status, "what is closed is not closed again")
}

func TestSignIn(t *testing.T) {
	url := start(t)
	c := visitor(t, url)
	status, body := c.call("POST", "/api/v1/session", `{"email":"tunde@tarnhollow.example","password":"wrong"}`)
	assert.Equal(t, 401, status)
	assert.Contains(t, body, "Address and password do not belong together.")
	status, body = c.call("POST", "/api/v1/session", `{"email":"nobody@tarnhollow.example","password":"wrong"}`)
	assert.Equal(t, 401, status)
	assert.Contains(t, body, "Address and password do not belong together.", "it does not tell who is known")
	status, body = c.call("POST", "/api/v1/session", `{"password":"x"}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "email")
	for range 6 {
		c.call("POST", "/api/v1/session", fmt.Sprintf(`{"email":%q,"password":"wrong"}`, demo.Quist.Email))
	}
	status, body = c.call("POST", "/api/v1/session",
		fmt.Sprintf(`{"email":%q,"password":%q}`, demo.Quist.Email, demo.Password))
	assert.Equal(t, 429, status, "even the right one, after six wrong ones")
	assert.Contains(t, body, "Too many tries. Wait")

	request, _ := http.NewRequest("GET", url+"/api/v1/today", nil)
	request.AddCookie(&http.Cookie{Name: "jetprimer", Value: "forged-token-forged-token-forged-token-0000"})
	response, err := http.DefaultClient.Do(request)
	require.NoError(t, err)
	text, _ := io.ReadAll(response.Body)
	assert.Equal(t, 401, response.StatusCode)
	assert.Contains(t, string(text), "Sign in first")

	signedIn := as(t, url, demo.Okonjo)
	for range 20 { // a request under way does not bring a session back
		c := as(t, url, demo.Okonjo)
		running := make(chan bool)
		go func() { c.call("GET", "/api/v1/school", ""); close(running) }()
		c.call("DELETE", "/api/v1/session", "")
		<-running
		status, _ := c.call("GET", "/api/v1/session", "")
		require.Equal(t, 401, status)
	}

	cross, _ := http.NewRequest("DELETE", url+"/api/v1/session", nil)
	cross.Header.Set("Sec-Fetch-Site", "cross-site")
	response, err = signedIn.Do(cross)
	require.NoError(t, err)
	assert.Equal(t, 403, response.StatusCode, "another site cannot act for a person")
}

func opening(instructor string) map[string]any {
	return event(1, "lesson-opened",
		map[string]any{"student": demo.Moreau.ID, "instructor": instructor, "aircraft": "QZ-AAA",
			"aircraftType": "alder-110",
			"typeVersion":  3, "list": "alder-110-full", "listVersion": 4, "method": "read-and-do", "scale": "five",
			"purpose": "training"})
}

func event(seq int, kind string, payload map[string]any) map[string]any {
	return map[string]any{
		"id": uuid.Must(uuid.NewV7()).String(), "device": "d", "seq": seq, "counter": seq, "atMs": seq,
		"wall": "2026-11-24T10:00:00Z", "kind": kind, "v": 1, "payload": payload,
	}
}

func batch(events ...map[string]any) string {
	text, _ := json.Marshal(map[string]any{"events": events})
	return string(text)
}

func TestEventsThatAreRefused(t *testing.T) {
	url := start(t)
	c := as(t, url, demo.Okonjo)
	path := "/api/v1/lessons/" + uuid.Must(uuid.NewV7()).String()
	status, body := c.call("POST", path+"/events", batch(opening(demo.Solheim.ID)))
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "Nothing of this was kept: payload.instructor must be you")

	big := event(2, "note", map[string]any{"words": strings.Repeat("x", 40_000)})
	malformed := event(3, "item-result", map[string]any{"item": "papers", "result": "fine"})
	untyped := event(4, "note", map[string]any{"words": "w"})
	untyped["seq"] = "four"
	future := event(5, "from-the-future", map[string]any{"x": 1})
	future["extra"] = true
	status, body = c.call("POST", path+"/events", batch(opening(demo.Okonjo.ID), big, malformed, untyped, future))
	require.Equal(t, 200, status, body)
	for _, want := range []string{
		"payload must be at most 32768 bytes, not 40012", "payload.result must be done or wrong",
		"event 4: seq must be a int64, not a string",
	} {
		assert.Contains(t, body, want)
	}
	assert.Equal(t, 2, strings.Count(body, `"status":"held"`), "the others are kept, unknown fields and kinds as well")

	status, body = c.call("POST", path+"/events",
		batch(event(6, "note", map[string]any{"words": strings.Repeat("x", 3<<20)})))
	assert.Equal(t, 413, status, body)

	status, body = as(t, url, demo.Solheim).call("POST", path+"/events",
		batch(event(6, "lesson-ended", map[string]any{})))
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "belongs to another instructor")

	c.call("POST", path+"/events", batch(event(7, "lesson-ended", map[string]any{})))
	status, body = c.call("POST", path+"/sign",
		fmt.Sprintf(`{"password":%q,"eventHash":%q,"event":%q}`, demo.Password, strings.Repeat("0", 64),
			uuid.Must(uuid.NewV7())))
	assert.Equal(t, 409, status)
	assert.Contains(t, body,
		"The lesson has changed since this page showed it. Look at it again, then sign. Nothing was signed.")
	status, body = c.call("POST", path+"/sign", `{"password":"x","eventHash":"0","event":"z"}`)
	assert.Equal(t, 422, status)
	for _, field := range []string{"body.eventHash", "body.event"} {
		assert.Contains(t, body, field)
	}
}

func TestCheckOverHTTPGivesTheSameBytes(t *testing.T) {
	c := as(t, start(t), demo.Brandt)
	data, err := catalog.Shipped()
	require.NoError(t, err)
	request := `{"aircraftType":"alder-110","reading":{"inHg":4.2},"conditions":{"rules":"VFR","night":false}}`
	want, err := check.Run("suction", []byte(request), data.Type)
	require.NoError(t, err)
	status, body := c.call("POST", "/api/v1/check/suction", request)
	assert.Equal(t, 200, status)
	assert.Equal(t, string(want), body)
	status, body = c.call("POST", "/api/v1/check/suction", `{"aircraftType":"alder-110","reading":{"inHg":"low"}}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "reading.inHg")
}

// TestAPackOfTheSchoolsOwnOverHTTP: read with its mistakes, written, reviewed and
// approved like a list; a student is held to it from its day on.
func TestAPackOfTheSchoolsOwnOverHTTP(t *testing.T) {
	at := start(t)
	c := as(t, at, demo.Ferreira)
	assert.NotEmpty(t,
		ask[documents.Imported](c, "POST", "/import/pack?format=yaml&name=pack.yaml", "id: school-core\ntitle: [\n",
			200).Problems)
	const pack = "id: school-core\ntitle: Tarn Hollow core\nversion: 1\nstatus: school\nnote: ours\nclasses: " +
		"[airplane-single-engine-land]\n" +
		"tasks:\n  - id: core\n    title: School core\n    elements:\n      - {id: core-brakes, kind: skill, text: " +
		"brakes held and watched}\n"
	read := ask[documents.Imported](c, "POST", "/import/pack?format=yaml&name=pack.yaml", pack, 200)
	require.Empty(t, read.Problems)
	table := ask[documents.Imported](c, "POST", "/import/pack?format=csv&name=pack.csv", "task,kind,text\na,feat,x\n",
		200)
	assert.Contains(t, fmt.Sprint(table.Problems), "none of knowledge, risk, skill")
	draft := ask[documents.DocumentView](c, "POST", "/library/pack", body(t, map[string]any{"document": read.Document}),
		200)
	assert.Equal(t, 3, draft.Version.Version, "above the one that ships")
	ask[any](c, "POST", "/library/pack/school-core/3/review", `{"revision":1}`, 200)
	_, text := c.call("GET", "/api/v1/students/"+demo.Brandt.ID, "")
	assert.NotContains(t, text, "brakes held and watched")
	ask[any](c, "POST", "/library/pack/school-core/3/approve", `{"revision":1,"from":"2026-11-24"}`, 200)
	_, text = c.call("GET", "/api/v1/students/"+demo.Brandt.ID, "")
	assert.Contains(t, text, "brakes held and watched")
	assert.NotContains(t, text, "hand on the control that stops it")
	status, file := c.call("GET", "/api/v1/library/pack/school-core/3/export?format=csv", "")
	assert.Equal(t, 200, status)
	assert.Contains(t, file, "core,School core,,core-brakes,,skill,brakes held and watched")
}

func TestHealth(t *testing.T) {
	url := start(t)
	c := visitor(t, url)
	for path, want := range map[string]string{"/healthz": "ok\n", "/readyz": "ready\n"} {
		status, body := c.call("GET", path, "")
		assert.Equal(t, 200, status)
		assert.Equal(t, want, body)
	}
	status, body := c.call("GET", "/api/v1/nowhere", "")
	assert.Equal(t, 404, status)
	assert.Contains(t, body, "There is no such address.")
	response, err := http.Get(url + "/today")
	require.NoError(t, err)
	page, _ := io.ReadAll(response.Body)
	assert.Contains(t, response.Header.Get("Content-Security-Policy"), "default-src 'self'")
	assert.False(t, bytes.Contains(page, []byte("//cdn")) || bytes.Contains(page, []byte(`src="http`)),
		"nothing comes from outside")
}
