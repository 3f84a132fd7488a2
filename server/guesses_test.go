package server_test

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
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
	"jetprimer/internal/onetime"
	"jetprimer/server"
	"jetprimer/store"
)

// by is a sign-in from an address, with a browser's cookies where there are some.
func by(t testing.TB, jar http.CookieJar, url, address, email, password string) int {
	t.Helper()
	request, err := http.NewRequest("POST", url+"/api/v1/session",
		strings.NewReader(sets("email", email, "password", password)))
	require.NoError(t, err)
	request.Header.Set("Content-Type", "application/json")
	request.Header.Set("X-Forwarded-For", address)
	answer, err := (&http.Client{Jar: jar}).Do(request)
	require.NoError(t, err)
	_ = answer.Body.Close()
	return answer.StatusCode
}

// TestAClassSignsInTogether: sixty people behind one router at the same moment, and again
// after each other: who is right is let in, however many there are.
func TestAClassSignsInTogether(t *testing.T) {
	at, d, _ := startAt(t, nil)
	hash, err := everybodys()
	require.NoError(t, err)
	email := func(i int) string { return fmt.Sprintf("class%d@tarnhollow.example", i) }
	for i := range 60 {
		who := store.Account{ID: uuid.NewString(), Email: email(i), Name: fmt.Sprint("Class ", i), Password: hash}
		require.NoError(t, d.Store.AddAccount(context.Background(), who))
		require.NoError(t,
			d.Store.In(context.Background(), demo.SchoolID,
				func(_ context.Context, tx *store.Tx) error { return tx.Join(who.ID, access.Examiner) }))
	}
	var all sync.WaitGroup
	for i := range 60 {
		all.Go(func() { assert.Equal(t, 200, from(t, at, "203.0.113.50", email(i), demo.Password), i) })
	}
	all.Wait()
	for i := range 60 {
		assert.Equal(t, 200, from(t, at, "203.0.113.50", email(i), demo.Password), i)
	}
}

// TestNobodyShutsADoor: whatever strangers guess, from one address for minutes or from a
// hundred at once, the owner comes in: from elsewhere while it is one address, and on a device
// that has been signed in on before however many they are.
func TestNobodyShutsADoor(t *testing.T) {
	at, _, clock := startAt(t, nil)
	own, err := cookiejar.New(nil)
	require.NoError(t, err)
	owner := demo.Okonjo.Email
	require.Equal(t, 200, by(t, own, at, "198.51.100.7", owner, demo.Password))
	for range 300 { // one a second for five minutes
		from(t, at, "203.0.113.9", owner, "guess")
		clock.pass(time.Second)
	}
	assert.Equal(t, 200, by(t, nil, at, "198.51.100.8", owner, demo.Password), "from elsewhere")
	for i := range 120 {
		from(t, at, fmt.Sprintf("203.0.113.%d", 10+i%60), owner, "guess")
	}
	assert.Equal(t, 429, by(t, nil, at, "198.51.100.9", owner, demo.Password),
		"so many guesses slow everybody who is not known")
	assert.Equal(t, 200, by(t, own, at, "203.0.113.10", owner, demo.Password),
		"a device that is known has its own way in, wherever it is")
	assert.Equal(t, 200, by(t, own, at, "203.0.113.10", demo.Quist.Email, demo.Password),
		"nor does it matter for anybody else")
	for range 5 {
		assert.Equal(t, 401, by(t, own, at, "198.51.100.7", owner, "guess"))
	}
	assert.Equal(t, 429, by(t, own, at, "198.51.100.7", owner, demo.Password), "and is held to its own guesses")
}

// TestOnesOwnGuessesAreOnesOwn: a student's wrong PINs do not keep the instructor at the same
// router from signing.
func TestOnesOwnGuessesAreOnesOwn(t *testing.T) {
	at, _, _ := startAt(t, nil)
	student, instructor := as(t, at, demo.Brandt), as(t, at, demo.Okonjo)
	for _, c := range []*client{student, instructor} {
		got[any](t, c, "PUT", "/api/v1/session/pin", sets("password", demo.Password, "pin", "480915"))
	}
	signs := func(c *client, pin string) int {
		status, _ := c.call("POST", "/api/v1/lessons/"+uuid.NewString()+"/sign",
			sets("pin", pin, "eventHash", strings.Repeat("0", 64), "event", uuid.Must(uuid.NewV7()).String()))
		return status
	}
	answers := func(c *client, pin string) int {
		status, _ := c.call("POST", "/api/v1/lessons/"+uuid.NewString()+"/answer",
			sets("pin", pin, "of", strings.Repeat("0", 64), "event", uuid.Must(uuid.NewV7()).String()))
		return status
	}
	for range 40 {
		answers(student, "111111")
	}
	assert.Equal(t, 429, answers(student, "480915"))
	assert.Equal(t, 404, signs(instructor, "480915"), "it is the lesson that is not there")
}

// TestAClockThatWasAheadLocksNobodyOut: what was guessed, and which one-time code served,
// while the clock stood a day ahead, is nothing once it is right again.
func TestAClockThatWasAheadLocksNobodyOut(t *testing.T) {
	at, d, clock := startAt(t, nil)
	ctx, secret := context.Background(), []byte("12345678901234567890")
	clock.pass(24 * time.Hour)
	for range 20 {
		from(t, at, "203.0.113.9", demo.Quist.Email, "guess")
	}
	require.Equal(t, 429, from(t, at, "203.0.113.9", demo.Quist.Email, demo.Password))
	require.NoError(t, d.Store.SetSecond(ctx, demo.Solheim.ID, secret, onetime.StepAt(clock.time())))
	clock.pass(-24 * time.Hour)
	assert.Equal(t, 200, from(t, at, "203.0.113.9", demo.Quist.Email, demo.Password))
	code := func() (int, string) {
		return visitor(t, at).call("POST", "/api/v1/session",
			sets("email", demo.Solheim.Email, "password", demo.Password, "code",
				oneTimeCode(t, secret, onetime.StepAt(clock.time()))))
	}
	status, said := code()
	assert.Equal(t, 200, status, said)
	status, _ = code()
	assert.Equal(t, 422, status, "it serves once all the same")
}

// TestSessionsOutliveACrash: a database that is stopped dead and recovers still knows who is
// signed in.
func TestSessionsOutliveACrash(t *testing.T) {
	_, d := startWith(t)
	owner := must(pgx.Connect(context.Background(), d.OwnerURL))
	defer owner.Close(context.Background())
	for table, kept := range map[string]string{
		"sessions": "p", "login_attempts": "p", "known_devices": "p", "live_wishes": "p",
	} {
		var persistence string
		require.NoError(t,
			owner.QueryRow(context.Background(), "select relpersistence::text from pg_class where oid = $1::regclass",
				table).Scan(&persistence))
		assert.Equal(t, kept, persistence, "%s is in the log, and back after a crash", table)
	}
}

// TestAnOldCodeOpensNoOtherSchool: a code to come back by serves at the school that gave it
// out and as long as its owner belongs to that one alone; joining another, leaving and a new
// password end it. The owner is told that it was given out.
func TestAnOldCodeOpensNoOtherSchool(t *testing.T) {
	at, d, _ := startAt(t, nil)
	ctx, other := context.Background(), uuid.NewString()
	require.NoError(t,
		d.Store.AddSchool(ctx, store.School{ID: other, Name: "Elsewhere", TimeZone: "UTC", CreatedAt: schooltest.Day},
			nil))
	admin := as(t, at, demo.Whitlock)
	ask := func(who demo.Person) invited {
		return got[invited](t, admin, "POST", "/api/v1/people/"+who.ID+"/recovery", "")
	}
	recovers := func(who demo.Person, code string) int {
		status, said := visitor(t, at).call("POST", "/api/v1/recover/"+who.ID,
			sets("code", code, "password", "seven quiet herons"))
		if status == 404 {
			assert.Contains(t, said, "do not open an account")
		}
		return status
	}
	code := ask(demo.Brandt).Code
	require.NoError(t,
		d.Store.In(ctx, other,
			func(_ context.Context, tx *store.Tx) error { return tx.Join(demo.Brandt.ID, access.Examiner) }))
	assert.Equal(t, 404, recovers(demo.Brandt, code), "they belong to another school as well by now")
	status, said := admin.call("POST", "/api/v1/people/"+demo.Brandt.ID+"/recovery", "")
	assert.Equal(t, 409, status, said)

	code = ask(demo.Moreau).Code
	for _, active := range []bool{false, true} {
		got[any](t, admin, "PUT", "/api/v1/people/"+demo.Moreau.ID,
			body(t, map[string]any{
				"name": demo.Moreau.Name, "email": demo.Moreau.Email, "roles": []string{"examiner"}, "active": active,
			}))
	}
	assert.Equal(t, 404, recovers(demo.Moreau, code), "leaving ended it")

	code = ask(demo.Castell).Code
	castell := as(t, at, demo.Castell)
	told := got[[]store.Notice](t, castell, "GET", "/api/v1/account/notices", "")
	require.Len(t, told, 1)
	assert.Contains(t, told[0].Words, demo.Whitlock.Name+" gave out a code to come back to your account")
	got[any](t, castell, "POST", "/api/v1/account/notices/"+told[0].ID+"/read", "")
	assert.Empty(t, got[[]store.Notice](t, castell, "GET", "/api/v1/account/notices", ""))
	got[any](t, castell, "PUT", "/api/v1/account/password",
		sets("password", demo.Password, "next", "nine quiet herons"))
	assert.Equal(t, 404, recovers(demo.Castell, code), "another password ended it")
	assert.Equal(t, 200, recovers(demo.Castell, ask(demo.Castell).Code), "and a fresh one serves")
}

// TestANameIsTheSchoolsOwn: what one school calls somebody is not what another calls them:
// nothing there is signed by it, and what is held tells of no sign-in elsewhere.
func TestANameIsTheSchoolsOwn(t *testing.T) {
	at, d, _ := startAt(t, nil)
	ctx, other := context.Background(), uuid.NewString()
	hash, err := everybodys()
	require.NoError(t, err)
	head := store.Account{ID: uuid.NewString(), Email: "head@elsewhere.example", Name: "Head Elsewhere", Password: hash}
	require.NoError(t,
		d.Store.AddSchool(ctx, store.School{
			ID: other, Name: "Upper Elsewhere", TimeZone: "UTC", CreatedAt: schooltest.Day,
		}, nil))
	require.NoError(t, d.Store.AddAccount(ctx, head))
	require.NoError(t, d.Store.In(ctx, other, func(_ context.Context, tx *store.Tx) error {
		if err := tx.Join(head.ID, access.Chief, access.Admin); err != nil {
			return err
		}
		return tx.Join(demo.Okonjo.ID, access.Instructor)
	}))
	chief := visitor(t, at)
	got[any](t, chief, "POST", "/api/v1/session", sets("email", head.Email, "password", demo.Password))
	got[any](t, chief, "PUT", "/api/v1/people/"+demo.Okonjo.ID,
		body(t, map[string]any{
			"name": "Somebody Else", "email": "x@y.example", "roles": []string{"instructor"}, "active": true,
		}))
	assert.Contains(t, must2(chief.call("GET", "/api/v1/people", "")), "Somebody Else")

	here := as(t, at, demo.Okonjo)
	session := got[struct{ Name string }](t, here, "GET", "/api/v1/session", "")
	assert.Equal(t, demo.Okonjo.Name, session.Name, "where they sign first they are called as ever")
	assert.NotContains(t, must2(as(t, at, demo.Ferreira).call("GET", "/api/v1/people", "")), "Somebody Else")
	var held store.PersonalData
	require.NoError(t, d.Store.In(ctx, other, func(_ context.Context, tx *store.Tx) (err error) {
		held, err = tx.PersonalData(demo.Okonjo.ID, schooltest.Day)
		return err
	}))
	assert.Equal(t, "Somebody Else", held.Of.Name)
	sessions, err := d.Store.SessionsOf(ctx, demo.Okonjo.ID, other)
	require.NoError(t, err)
	assert.Empty(t, sessions, "those begun at the first school are not the second one's to tell")
	there := got[struct{ Name string }](t, here, "PUT", "/api/v1/session/school", sets("school", other))
	assert.Equal(t, "Somebody Else", there.Name)
}

func must2(_ int, body string) string { return body }

// TestWhoIsLetGoSeesNothingMore: an instructor who looks on at a run, and follows the feed, is
// let go: both streams end by themselves.
func TestWhoIsLetGoSeesNothingMore(t *testing.T) {
	hash, err := everybodys()
	require.NoError(t, err)
	d := schooltest.Demo(t, hash)
	app, err := server.New(server.Options{
		Store: d.Store, Catalog: d.Catalog, Now: func() time.Time { return schooltest.Day.Add(11 * time.Hour) },
		Recheck: 50 * time.Millisecond,
	})
	require.NoError(t, err)
	t.Cleanup(app.Close)
	s := httptest.NewServer(app)
	t.Cleanup(s.Close)
	student, instructor, admin := as(t, s.URL, demo.Brandt), as(t, s.URL, demo.Quist), as(t, s.URL, demo.Whitlock)
	p := practises(t, student, demo.Brandt, "alder-110", "first-start", 500)
	p.begins(t, student, 1)
	ended := make(chan error, 2)
	for _, path := range []string{
		strings.Replace(p.path, "/practice/", "/practice-live/", 1) + "/stream", "/api/v1/feed/stream",
	} {
		answer, err := instructor.Get(s.URL + path)
		require.NoError(t, err)
		require.Equal(t, 200, answer.StatusCode)
		t.Cleanup(func() { _ = answer.Body.Close() })
		go func() {
			_, err := io.Copy(io.Discard, answer.Body)
			ended <- err
		}()
	}
	time.Sleep(200 * time.Millisecond)
	require.Empty(t, ended, "while they belong to the school they look on")
	got[any](t, admin, "PUT", "/api/v1/people/"+demo.Quist.ID,
		body(t, map[string]any{
			"name": demo.Quist.Name, "email": demo.Quist.Email, "roles": []string{"instructor"}, "active": false,
		}))
	for range 2 {
		select {
		case err := <-ended:
			assert.NoError(t, err)
		case <-time.After(5 * time.Second):
			t.Fatal("a stream goes on")
		}
	}
}
