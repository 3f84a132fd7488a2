package server_test

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

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

// hostile are texts that a person would hardly type.
var hostile = []string{
	"\x00", "a\x00b", "😀", "\xff\xfe", `\ud800`, "%00", "../../etc", "' or 1=1 --", strings.Repeat("x", 5000),
	"2147483648", "-1", "99999999999999999999", "NaN", "null", "{}", "\u202e",
}

// walkedAPI is the OpenAPI document as tests walk it.
type walkedAPI struct {
	Paths map[string]map[string]struct {
		OperationID string
		Parameters  []struct{ Name, In string }
		RequestBody struct {
			Content map[string]struct{ Schema json.RawMessage }
		}
	}
	Components struct{ Schemas map[string]json.RawMessage }
}

func apiOf(t *testing.T) (api walkedAPI) {
	document, err := server.OpenAPI(schooltest.Catalog(t))
	require.NoError(t, err)
	text, err := json.Marshal(document)
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(text, &api))
	return api
}

// TestNoInputFails walks the OpenAPI document with hostile values in every
// path, query and body: whatever is refused is refused with less than 500, in
// the form of RFC 9457.
func TestNoInputFails(t *testing.T) {
	at := start(t)
	c := as(t, at, demo.Ferreira)
	api := apiOf(t)
	calls := 0
	try := func(method, path, body string) {
		calls++
		request, err := http.NewRequest(strings.ToUpper(method), at+path, strings.NewReader(body))
		if err != nil {
			return // no client could send it
		}
		request.Header.Set("Content-Type", "application/json")
		response, err := c.Do(request)
		require.NoError(t, err)
		defer response.Body.Close()
		text := new(bytes.Buffer)
		_, _ = text.ReadFrom(response.Body)
		assert.Less(t, response.StatusCode, 500, "%s %s %.200q: %.300s", method, path, body, text)
		if response.StatusCode >= 400 {
			assert.Equal(t, "application/problem+json", response.Header.Get("Content-Type"), "%s %s: %.200s", method,
				path, text)
		}
	}
	sound := map[string]string{
		"kind": "list", "id": demo.Brandt.ID, "version": "5", "type": "alder-110", "name": "suction",
	}
	for path, methods := range api.Paths {
		for method, op := range methods {
			if op.OperationID == "sign-out" || op.OperationID == "stream" {
				continue
			}
			fill := func(but, with string) string {
				out := path
				for name, value := range sound {
					if name == but {
						value = with
					}
					out = strings.ReplaceAll(out, "{"+name+"}", url.PathEscape(value))
				}
				return out
			}
			for _, value := range hostile {
				for _, p := range op.Parameters {
					if p.In == "path" {
						try(method, fill(p.Name, value), "{}")
					} else {
						try(method, fill("", "")+"?"+p.Name+"="+url.QueryEscape(value), "{}")
					}
				}
				if len(op.RequestBody.Content) > 0 {
					quoted, _ := json.Marshal(value)
					if strings.HasPrefix(value, `\u`) {
						quoted = []byte(`"` + value + `"`)
					}
					for _, body := range []string{
						value, string(quoted), bodyOf(api.Components.Schemas, op.RequestBody.Content, quoted),
					} {
						try(method, fill("", ""), body)
					}
				}
			}
			for _, body := range []string{
				"", "[", "[]", "null", "0", strings.Repeat("[", 20_000), `{"events":[{}]}`,
				`{"events":[null,7,{"id":"x"}]}`, `{"document":[]}`,
				`{"document":{"id":"x","title":"😀","name":"n","aircraftType":"alder-110"}}`,
			} {
				if len(op.RequestBody.Content) > 0 {
					try(method, fill("", ""), body)
				}
			}
		}
	}
	t.Logf("%d calls", calls)
	for _, odd := range [][2]string{
		{"DELETE", "/healthz"}, {"PATCH", "/api/v1/session"}, {"POST", "/api/v1/nowhere"}, {"PUT", "/today"},
		{"TRACE", "/readyz"}, {"GET", "/%00"}, {"GET", "/api/v1/%2e%2e/x"},
	} {
		status, body := c.call(odd[0], odd[1], "")
		assert.Contains(t, []int{404, 405}, status, odd)
		assert.Contains(t, body, `"detail"`, odd)
	}
}

// bodyOf is a body whose every text is the given one.
func bodyOf(schemas map[string]json.RawMessage, content map[string]struct{ Schema json.RawMessage },
	value []byte) string {
	var top struct {
		Ref string `json:"$ref"`
	}
	_ = json.Unmarshal(content["application/json"].Schema, &top)
	var named struct {
		Properties map[string]struct{ Type any }
	}
	_ = json.Unmarshal(schemas[top.Ref[strings.LastIndexByte(top.Ref, '/')+1:]], &named)
	var members []string
	for name, p := range named.Properties {
		v := string(value)
		switch p.Type {
		case "integer":
			v = "2147483648"
		case "array":
			v = "[" + string(value) + "]"
		case "object":
			v = `{"id":` + string(value) + `}`
		}
		members = append(members, fmt.Sprintf("%q:%s", name, v))
	}
	return "{" + strings.Join(members, ",") + "}"
}

// clock is a clock that tests move.
type clock struct {
	mu  sync.Mutex
	now time.Time
}

func (c *clock) time() time.Time { c.mu.Lock(); defer c.mu.Unlock(); return c.now }
func (c *clock) pass(d time.Duration) {
	c.mu.Lock()
	c.now = c.now.Add(d)
	c.mu.Unlock()
}

// startAt serves the demo school by a clock, behind a proxy that tells who asks.
func startAt(t testing.TB, log *slog.Logger) (string, *schooltest.Database, *clock) {
	hash, err := everybodys()
	require.NoError(t, err)
	d := schooltest.Demo(t, hash)
	c := &clock{now: schooltest.Day.Add(11 * time.Hour)}
	app, err := server.New(server.Options{
		Store: d.Store, Catalog: d.Catalog, Now: c.time, Log: log, Proxies: []string{"127.0.0.1"},
	})
	require.NoError(t, err)
	t.Cleanup(app.Close)
	s := httptest.NewServer(app)
	t.Cleanup(s.Close)
	return s.URL, d, c
}

// from is a sign-in from an address.
func from(t testing.TB, url, address, email, password string) int {
	request, err := http.NewRequest("POST", url+"/api/v1/session",
		strings.NewReader(fmt.Sprintf(`{"email":%q,"password":%q}`, email, password)))
	require.NoError(t, err)
	request.Header.Set("Content-Type", "application/json")
	request.Header.Set("X-Forwarded-For", address)
	response, err := http.DefaultClient.Do(request)
	require.NoError(t, err)
	response.Body.Close()
	return response.StatusCode
}

// TestGuessesSlowTheGuesserDown: a stranger's guesses delay the stranger, more
// and more; the owner signs in from elsewhere, and signs lessons, all the while.
func TestGuessesSlowTheGuesserDown(t *testing.T) {
	at, _, clock := startAt(t, nil)
	refused := 0
	for range 40 {
		if from(t, at, "203.0.113.9", demo.Okonjo.Email, "guess") == 429 {
			refused++
		}
	}
	assert.Equal(t, 35, refused, "five are free")
	assert.Equal(t, 200, from(t, at, "198.51.100.7", demo.Okonjo.Email, demo.Password), "the owner, from elsewhere")
	assert.Equal(t, 429, from(t, at, "203.0.113.9", demo.Okonjo.Email, demo.Password),
		"the stranger, even with the right one")
	clock.pass(6 * time.Minute)
	assert.Equal(t, 401, from(t, at, "203.0.113.9", demo.Okonjo.Email, "guess"), "after waiting")

	owner := as(t, at, demo.Okonjo)
	status, body := owner.call("POST", "/api/v1/lessons/"+uuid.NewString()+"/sign",
		fmt.Sprintf(`{"password":%q,"eventHash":%q,"event":%q}`, demo.Password, strings.Repeat("0", 64),
			uuid.Must(uuid.NewV7())))
	assert.Equal(t, 404, status, "signing has its own count: %s", body)
}

// TestSimultaneousGuessesAreCounted: sixty at once are not sixty free guesses.
func TestSimultaneousGuessesAreCounted(t *testing.T) {
	at, _, _ := startAt(t, nil)
	var group sync.WaitGroup
	var mu sync.Mutex
	wrong := 0
	for range 60 {
		group.Go(func() {
			if from(t, at, "203.0.113.9", demo.Quist.Email, "guess") == 401 {
				mu.Lock()
				wrong++
				mu.Unlock()
			}
		})
	}
	group.Wait()
	assert.LessOrEqual(t, wrong, 5)
}

// TestHonestPeoplePassTheQueue: while one address tries to fill it, another
// signs in.
func TestHonestPeoplePassTheQueue(t *testing.T) {
	at, _, _ := startAt(t, nil)
	var group sync.WaitGroup
	for i := range 150 {
		group.Go(func() { from(t, at, "203.0.113.9", fmt.Sprintf("nobody%d@tarnhollow.example", i), "guess") })
	}
	assert.Equal(t, 200, from(t, at, "198.51.100.7", demo.Okonjo.Email, demo.Password))
	group.Wait()
}

// TestWhatIsSignedInIsToldApart: the wrong password, and everything else.
func TestTheWrongPasswordIsToldApart(t *testing.T) {
	url, d := startWith(t)
	c := as(t, url, demo.Okonjo)
	path := "/api/v1/lessons/" + uuid.Must(uuid.NewV7()).String()
	status, body := c.call("POST", path+"/events",
		batch(opening(demo.Okonjo.ID), event(2, "lesson-ended", map[string]any{})))
	require.Equal(t, 200, status, body)
	sign := func(password string) (int, string) {
		return c.call("POST", path+"/sign",
			fmt.Sprintf(`{"password":%q,"eventHash":%q,"event":%q}`, password, strings.Repeat("0", 64),
				uuid.Must(uuid.NewV7())))
	}
	status, body = sign("guess")
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "That is not your password")
	status, body = sign(demo.Password)
	assert.Equal(t, 409, status)
	assert.NotContains(t, body, "password")
	owner, err := pgx.Connect(context.Background(), d.OwnerURL)
	require.NoError(t, err)
	defer owner.Close(context.Background())
	_, err = owner.Exec(context.Background(), "alter table login_attempts rename to elsewhere")
	require.NoError(t, err)
	status, body = sign(demo.Password)
	assert.Equal(t, 500, status)
	assert.NotContains(t, body, "password", "what failed is not the person's password")
}

// TestABrokenRecordIsShownAsSuch: one draft that cannot be read, one clock
// that stands in the year 0, and every page is there.
func TestABrokenRecordIsShownAsSuch(t *testing.T) {
	url := start(t)
	c := as(t, url, demo.Ferreira)
	status, body := c.call("POST", "/api/v1/library/type",
		`{"document":{"id":"alder-110","name":"Alder","limits":"none"}}`)
	require.Equal(t, 200, status, body)
	assert.Contains(t, body, "limits")
	for _, path := range []string{"/api/v1/library", "/api/v1/reference", "/api/v1/today", "/api/v1/desk/alder-110"} {
		status, body := c.call("GET", path, "")
		assert.Equal(t, 200, status, "%s %.200s", path, body)
	}
	old := opening(demo.Okonjo.ID)
	old["wall"] = "0000-01-01T00:00:00Z"
	status, body = as(t, url, demo.Okonjo).call("POST", "/api/v1/lessons/"+uuid.Must(uuid.NewV7()).String()+"/events",
		batch(old))
	require.Equal(t, 200, status, body)
	for _, path := range []string{"/api/v1/today", "/api/v1/school", "/api/v1/students/" + demo.Moreau.ID} {
		status, body := c.call("GET", path, "")
		assert.Equal(t, 200, status, "%s %.200s", path, body)
	}
	status, body = c.call("POST", "/api/v1/import/list?format=yaml", "title: "+strings.Repeat("[", 5000))
	assert.Equal(t, 200, status)
	assert.Contains(t, body, "nests deeper than 64 levels")
}

// TestALongDraftHoldsNobodyUp: while a draft of many mistakes is looked
// through, another person's marks go in.
func TestALongDraftHoldsNobodyUp(t *testing.T) {
	url := start(t)
	chief, instructor := as(t, url, demo.Ferreira), as(t, url, demo.Okonjo)
	var fields []string
	for i := range 5000 {
		fields = append(fields, fmt.Sprintf(`"field%d":%q`, i, strings.Repeat("v", 400)))
	}
	done := make(chan string)
	go func() {
		_, body := chief.call("POST", "/api/v1/library/list",
			`{"document":{"id":"long","title":"Long","aircraftType":"alder-110",`+strings.Join(fields, ",")+`}}`)
		done <- body
	}()
	status, body := instructor.call("POST", "/api/v1/lessons/"+uuid.Must(uuid.NewV7()).String()+"/events",
		batch(opening(demo.Okonjo.ID)))
	assert.Equal(t, 200, status, body)
	body = <-done
	var view struct{ Mistakes []any }
	require.NoError(t, json.Unmarshal([]byte(body), &view))
	assert.LessOrEqual(t, len(view.Mistakes), 201)
	assert.Less(t, len(body), 3<<20, "mistakes do not repeat the document")
}

// TestStatementsDoNotGrow: the pages ask as much of the database for a school
// of fourteen as for a larger one.
func TestStatementsDoNotGrow(t *testing.T) {
	url, d := startWith(t)
	c := as(t, url, demo.Okonjo)
	count := func(method, path, body string) int64 {
		before := d.Store.Statements()
		status, answer := c.call(method, path, body)
		require.Equal(t, 200, status, "%s %.300s", path, answer)
		return d.Store.Statements() - before
	}
	pages := map[string]int64{
		"/api/v1/school": 14, "/api/v1/today": 23, "/api/v1/students/" + demo.Brandt.ID: 20, "/api/v1/briefing": 13,
	}
	seen := map[string]int64{}
	for page, most := range pages {
		seen[page] = count("GET", page, "")
		assert.LessOrEqual(t, seen[page], most, page)
	}
	check := count("POST", "/api/v1/check/suction", `{"aircraftType":"alder-110","reading":{"inHg":4.2}}`)
	assert.LessOrEqual(t, check, int64(7))

	require.NoError(t, d.Store.In(context.Background(), demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
		for i := range 30 {
			id := uuid.NewString()
			if err := d.Store.AddAccount(context.Background(), store.Account{
				ID: id, Email: fmt.Sprintf("more%d@tarnhollow.example", i), Name: fmt.Sprint("More ", i), Password: "x",
			}); err != nil {
				return err
			}
			if err := tx.Join(id, access.Student); err != nil {
				return err
			}
			if err := tx.AddStudent(store.Student{
				ID: id, InstructorID: demo.Okonjo.ID, Class: "helicopter", EngineKind: "turbine", StartType: "turbine",
				StartedOn: "2026-01-01",
			}); err != nil {
				return err
			}
		}
		return nil
	}))
	for i := range 5 {
		status, body := c.call("POST", "/api/v1/lessons/"+uuid.Must(uuid.NewV7()).String()+"/events",
			batch(opening(demo.Okonjo.ID), event(2+i, "lesson-ended", map[string]any{})))
		require.Equal(t, 200, status, body)
	}
	for page := range pages {
		assert.Equal(t, seen[page], count("GET", page, ""), page)
	}
}

// TestTheStreamTellsAtOnce: a cursor to begin with, another as soon as anybody
// writes, and an end when the server stops or the person signs out.
func TestTheStreamTellsAtOnce(t *testing.T) {
	hash, err := everybodys()
	require.NoError(t, err)
	d := schooltest.Demo(t, hash)
	app, err := server.New(server.Options{
		Store: d.Store, Catalog: d.Catalog, Now: func() time.Time { return schooltest.Day.Add(11 * time.Hour) },
	})
	require.NoError(t, err)
	s := httptest.NewServer(app)
	defer s.Close()
	status, _ := visitor(t, s.URL).call("GET", "/api/v1/feed/stream", "")
	assert.Equal(t, 401, status)
	c := as(t, s.URL, demo.Brandt)
	response, err := c.Get(s.URL + "/api/v1/feed/stream")
	require.NoError(t, err)
	defer response.Body.Close()
	assert.Equal(t, "text/event-stream", response.Header.Get("Content-Type"))
	lines := bufio.NewScanner(response.Body)
	cursor := func() (n int64) {
		for lines.Scan() {
			if _, err := fmt.Sscanf(lines.Text(), "data: %d", &n); err == nil {
				return n
			}
		}
		return -1
	}
	first := cursor()
	assert.Positive(t, first)
	lesson := uuid.Must(uuid.NewV7()).String()
	status, body := as(t, s.URL, demo.Okonjo).call("POST", "/api/v1/lessons/"+lesson+"/events",
		batch(opening(demo.Okonjo.ID)))
	require.Equal(t, 200, status, body)
	assert.Equal(t, first+1, cursor())
	_, body = c.call("GET", fmt.Sprintf("/api/v1/feed?after=%d", first), "")
	assert.NotContains(t, body, lesson, "it is another student's: it is not named")
	assert.Contains(t, body, fmt.Sprintf(`"cursor":%d`, first+1))
	app.Close()
	assert.Equal(t, int64(-1), cursor(), "the stream has ended")
}

// TestSlowLines: a body is given time for its size; an answer that is not read
// holds nothing for ever.
func TestSlowLines(t *testing.T) {
	at := start(t)
	c := as(t, at, demo.Okonjo)
	body := batch(opening(demo.Okonjo.ID), event(2, "note", map[string]any{"words": strings.Repeat("w", 3000)}))
	address := strings.TrimPrefix(at, "http://")
	conn, err := net.Dial("tcp", address)
	require.NoError(t, err)
	defer conn.Close()
	cookies := c.Jar.Cookies(must(url.Parse(at)))
	fmt.Fprintf(conn,
		"POST /api/v1/lessons/%s/events HTTP/1.1\r\nHost: %s\r\nContent-Type: application/json\r\nCookie: "+
			"%s\r\nContent-Length: %d\r\n\r\n", uuid.Must(uuid.NewV7()), address, cookies[0], len(body))
	half := len(body) / 2
	_, _ = conn.Write([]byte(body[:half]))
	time.Sleep(6 * time.Second) // longer than the five that the framework would wait
	_, _ = conn.Write([]byte(body[half:]))
	response, err := http.ReadResponse(bufio.NewReader(conn), nil)
	require.NoError(t, err)
	assert.Equal(t, 200, response.StatusCode)
}

func must[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}

// TestLogsTellNothingOfPeople: what was typed, and what is kept, is in no line.
func TestLogsTellNothingOfPeople(t *testing.T) {
	var mu sync.Mutex
	var lines bytes.Buffer
	log := slog.New(slog.NewJSONHandler(writerFunc(func(p []byte) (int, error) {
		mu.Lock()
		defer mu.Unlock()
		return lines.Write(p)
	}), nil))
	before := slog.Default()
	slog.SetDefault(log)
	defer slog.SetDefault(before)
	at, d, _ := startAt(t, log)
	c := as(t, at, demo.Ferreira)
	c.call("GET", "/api/v1/students/a-secret-word", "")
	c.call("POST", "/api/v1/session", `{"email":"a-secret-word\u0000@x.example","password":"a-secret-word"}`)
	status, body := c.call("POST", "/api/v1/library/list",
		`{"document":{"id":"long","title":"a-secret-word","aircraftType":"alder-110"}}`)
	require.Equal(t, 200, status, body)
	owner := must(pgx.Connect(context.Background(), d.OwnerURL))
	defer owner.Close(context.Background())
	must(owner.Exec(context.Background(), "alter table library add constraint none check (title <> 'a-secret-word 2')"))
	status, _ = c.call("POST", "/api/v1/library/list",
		`{"document":{"id":"long","title":"a-secret-word 2","aircraftType":"alder-110"}}`)
	assert.Equal(t, 500, status)
	mu.Lock()
	defer mu.Unlock()
	assert.NotContains(t, lines.String(), "a-secret-word")
	assert.Contains(t, lines.String(), `"what":"signed in"`)
	assert.Contains(t, lines.String(), `"address":"127.0.0.1"`)
	var n int
	require.NoError(t,
		owner.QueryRow(context.Background(), "select count(*) from audit where what = 'signed in' and account_id = $1",
			demo.Ferreira.ID).Scan(&n))
	assert.Equal(t, 1, n)
}

type writerFunc func(p []byte) (int, error)

func (f writerFunc) Write(p []byte) (int, error) { return f(p) }

// TestPolicyNamesTheStandards: students are not held to a pack that the
// school's policy leaves out.
func TestPolicyNamesTheStandards(t *testing.T) {
	url := start(t)
	c := as(t, url, demo.Ferreira)
	for _, path := range []string{"/api/v1/students/" + demo.Brandt.ID, "/api/v1/school", "/api/v1/school.csv"} {
		status, body := c.call("GET", path, "")
		require.Equal(t, 200, status)
		assert.NotContains(t, body, "aeroplane inspected and serviced", path)
		assert.Contains(t, body, "brakes proven and watched", path)
	}
}
