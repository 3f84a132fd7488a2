package server_test

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/mail"
	"jetprimer/server"
)

// got is the body of an answer that must be a good one.
func got[T any](t *testing.T, c *client, method, path, body string) (out T) {
	t.Helper()
	status, text := c.call(method, path, body)
	require.Contains(t, []int{200, 204}, status, text)
	if text != "" {
		require.NoError(t, json.Unmarshal([]byte(text), &out))
	}
	return out
}

type invited struct{ ID, Path, Code string }

// TestAPersonIsInvited: by link and code, once, with a password that nobody
// guesses; what is wrong says so, and nothing of it is kept.
func TestAPersonIsInvited(t *testing.T) {
	url := start(t)
	admin := as(t, url, demo.Whitlock)
	member := func(name, email, roles, learns string) string {
		return fmt.Sprintf(`{"name":%q,"email":%q,"number":"S-17","roles":%s%s}`, name, email, roles, learns)
	}
	learns := fmt.Sprintf(`,"learns":{"type":"alder-110","instructor":%q,"startedOn":"2026-11-20"}`, demo.Okonjo.ID)
	for body, want := range map[string]string{
		member("", "vera@school.example", `["instructor"]`,
			""): "name must not be empty",
		member("Vera Holm", "vera", `["instructor"]`,
			""): "must be an address",
		member("Vera Holm", "vera@school.example", `[]`,
			""): "at least one role",
		member("Vera Holm", "vera@school.example", `["pilot"]`,
			""): "a role is one of student",
		member("Vera Holm", "vera@school.example", `["student"]`,
			""): "must be given for a student",
		member("Vera Holm", demo.Okonjo.Email, `["instructor"]`,
			""): "belongs to somebody who is or was of the school",
		member("Vera Holm", "vera@school.example", `["student"]`,
			strings.Replace(learns, "alder-110", "none", 1)): "is no aircraft type in force",
		member("Vera Holm", "vera@school.example", `["student"]`,
			strings.Replace(learns, demo.Okonjo.ID, demo.Brandt.ID, 1)): "does not teach at the school",
		member("Vera Holm", "vera@school.example", `["student"]`,
			strings.Replace(learns, "alder-110", "", 1)): "is no aircraft type in force",
	} {
		status, text := admin.call("POST", "/api/v1/invitations", body)
		assert.Equal(t, 422, status, text)
		assert.Contains(t, text, want)
	}
	i := got[invited](t, admin, "POST", "/api/v1/invitations",
		member("  Vera   Holm ", "Vera@School.example", `["student","maintenance"]`, learns))
	status, text := admin.call("POST", "/api/v1/invitations",
		member("Vera Holm", "vera@school.example", `["student"]`, learns))
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "is invited already")
	renewed := got[invited](t, admin, "POST", "/api/v1/invitations/"+i.ID+"/renew", "")
	assert.NotEqual(t, i.Code, renewed.Code)

	vera := visitor(t, url)
	at := "/api/v1" + i.Path
	status, text = vera.call("POST", at, fmt.Sprintf(`{"code":%q}`, i.Code))
	assert.Equal(t, 404, status, "the first code is over")
	assert.Contains(t, text, "This link and code do not invite")
	said := got[map[string]any](t, vera, "POST", at, fmt.Sprintf(`{"code":%q}`, strings.ToLower(renewed.Code)))
	assert.Equal(t, []any{"Vera Holm", "vera@school.example", false}, []any{said["name"], said["email"], said["known"]})
	enter := func(password string) (int, string) {
		return vera.call("POST", at+"/enter", fmt.Sprintf(`{"code":%q,"password":%q}`, renewed.Code, password))
	}
	for password, want := range map[string]string{
		"short": "at least 10 letters", "password123!": "tried first", "verasholm2026": "tried first",
		"aaaaaaaaaaaa": "one letter over and over",
	} {
		status, text := enter(password)
		assert.Equal(t, 422, status, password)
		assert.Contains(t, text, want, password)
	}
	// Whoever comes twice at once comes in once.
	var wg sync.WaitGroup
	statuses := make([]int, 2)
	for n := range statuses {
		wg.Go(func() { statuses[n], _ = enter("three quiet owls") })
	}
	wg.Wait()
	assert.ElementsMatch(t, []int{200, 404}, statuses)
	session := got[struct {
		Account string
		Roles   []string
		May     []string
	}](t, vera, "GET", "/api/v1/session", "")
	assert.Equal(t, []string{"student", "maintenance"}, session.Roles)
	assert.Subset(t, session.May, []string{"answer-lesson", "return-aircraft"})
	got[any](t, vera, "GET", "/api/v1/students/"+session.Account, "")
	status, _ = vera.call("GET", "/api/v1/people", "")
	assert.Equal(t, 403, status)
}

// TestLettersGoOut: link and code reach the address; a server that is gone is told
// of, and the code is still there to be given by hand.
func TestLettersGoOut(t *testing.T) {
	dir := t.TempDir()
	in, err := mail.StartFolder(dir)
	require.NoError(t, err)
	program, err := mail.ParseServer(in.URL, "office@tarnhollow.example")
	require.NoError(t, err)
	office, err := mail.Open(program, mail.Anywhere)
	require.NoError(t, err)
	hash, err := everybodys()
	require.NoError(t, err)
	d := schooltest.Demo(t, hash)
	handler, err := server.New(server.Options{Store: d.Store, Catalog: d.Catalog, Office: office, Reach: mail.Anywhere})
	require.NoError(t, err)
	t.Cleanup(handler.Close)
	s := httptest.NewServer(handler)
	t.Cleanup(s.Close)
	admin := as(t, s.URL, demo.Whitlock)
	assert.True(t, got[struct{ Letters bool }](t, admin, "GET", "/api/v1/session", "").Letters)
	type made struct {
		ID, Path, Code, Unsent string
		Sent                   bool
	}
	newest := func() string {
		files, err := filepath.Glob(filepath.Join(dir, "*.eml"))
		require.NoError(t, err)
		require.NotEmpty(t, files)
		data, err := os.ReadFile(files[len(files)-1])
		require.NoError(t, err)
		require.NoError(t, os.Remove(files[len(files)-1]))
		return strings.ReplaceAll(string(data), "=\r\n", "")
	}
	i := got[made](t, admin, "POST", "/api/v1/invitations?send=true",
		`{"name":"Vera Holm","email":"vera@school.example","roles":["examiner"]}`)
	assert.True(t, i.Sent)
	letter := newest()
	for _, words := range []string{
		"To: <vera@school.example>", "Tarn Hollow Flying School invites you to Jet Primer, as examiner.",
		s.URL + i.Path, i.Code,
	} {
		assert.Contains(t, letter, words)
	}
	request, err := http.NewRequest("POST", s.URL+"/api/v1/invitations/"+i.ID+"/renew?send=true", nil)
	require.NoError(t, err)
	for _, cookie := range admin.Jar.Cookies(request.URL) {
		request.AddCookie(cookie)
	}
	request.Host = "evil.example"
	forged, err := admin.Do(request)
	require.NoError(t, err)
	text, err := io.ReadAll(forged.Body)
	require.NoError(t, err)
	_ = forged.Body.Close()
	assert.Contains(t, string(text), "was not told its own address", "no letter leads where a request says")
	left, err := filepath.Glob(filepath.Join(dir, "*.eml"))
	require.NoError(t, err)
	assert.Empty(t, left)
	r := got[made](t, admin, "POST", "/api/v1/people/"+demo.Quist.ID+"/recovery?send=true", "")
	assert.True(t, r.Sent)
	assert.Contains(t, newest(), r.Code)
	assert.False(t, got[made](t, admin, "POST", "/api/v1/invitations/"+i.ID+"/renew", "").Sent,
		"only where it is asked for")

	own, err := mail.StartFolder(filepath.Join(dir, "own"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = own.Close() })
	port := own.URL[strings.LastIndex(own.URL, ":")+1:]
	through := func(port, from, password string) string {
		return `{"host":"127.0.0.1","port":` + port + `,"secured":false,"from":"` + from + `","password":"` + password +
			`"}`
	}
	status, said := admin.call("PUT", "/api/v1/place/letters", through(port, "the office", ""))
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "from")
	got[any](t, admin, "PUT", "/api/v1/place/letters", through(port, "Our Own <own@tarnhollow.example>", "hush-hush"))
	_, said = admin.call("GET", "/api/v1/place", "")
	assert.Contains(t, said, "own@tarnhollow.example")
	assert.NotContains(t, said, "hush-hush")
	assert.Equal(t, demo.Whitlock.Email,
		got[struct{ To, Unsent string }](t, admin, "POST", "/api/v1/place/letters/try", "").To)
	caught, err := filepath.Glob(filepath.Join(dir, "own", "*.eml"))
	require.NoError(t, err)
	assert.Len(t, caught, 1)
	require.NoError(t, own.Close())
	assert.Contains(t, got[struct{ Unsent string }](t, admin, "POST", "/api/v1/place/letters/try", "").Unsent,
		"Reaching the server for letters")
	got[any](t, admin, "DELETE", "/api/v1/place/letters", "")
	assert.True(t, got[made](t, admin, "POST", "/api/v1/invitations/"+i.ID+"/renew?send=true", "").Sent,
		"by the program's again")
	require.NoError(t, in.Close())
	i = got[made](t, admin, "POST", "/api/v1/invitations/"+i.ID+"/renew?send=true", "")
	assert.False(t, i.Sent)
	assert.Contains(t, i.Unsent, "Reaching the server for letters")
	assert.NotEmpty(t, i.Code)
	i = got[made](t, as(t, start(t), demo.Whitlock), "POST", "/api/v1/invitations?send=true",
		`{"name":"Vera Holm","email":"vera@school.example","roles":["examiner"]}`)
	assert.Equal(t, "This program has no server for letters.", i.Unsent)
}

// TestARoleTakenAwayIsGoneAtOnce: at the next request of who is at work, and
// nobody is left alone with a school that nobody looks after.
func TestARoleTakenAwayIsGoneAtOnce(t *testing.T) {
	url := start(t)
	chief, admin, marit := as(t, url, demo.Ferreira), as(t, url, demo.Whitlock), as(t, url, demo.Solheim)
	set := func(c *client, who demo.Person, roles string, active bool) (int, string) {
		return c.call("PUT", "/api/v1/people/"+who.ID,
			fmt.Sprintf(`{"name":%q,"email":%q,"roles":%s,"active":%t}`, who.Name, who.Email, roles, active))
	}
	got[any](t, marit, "GET", "/api/v1/briefing", "")
	status, text := set(chief, demo.Solheim, `["examiner"]`, true)
	require.Equal(t, 200, status, text)
	status, text = marit.call("GET", "/api/v1/briefing", "")
	assert.Equal(t, 403, status)
	assert.Contains(t, text, "not open to the role examiner")
	status, _ = set(chief, demo.Solheim, `["examiner"]`, false)
	require.Equal(t, 200, status)
	status, _ = marit.call("GET", "/api/v1/session", "")
	assert.Equal(t, 401, status, "whoever has left is signed in no more")
	status, _ = visitor(t, url).call("POST", "/api/v1/session",
		fmt.Sprintf(`{"email":%q,"password":%q}`, demo.Solheim.Email, demo.Password))
	assert.Equal(t, 403, status)
	status, text = set(chief, demo.Solheim, `["instructor","chief"]`, true)
	require.Equal(t, 200, status, text)
	got[any](t, as(t, url, demo.Solheim), "GET", "/api/v1/people", "")

	for _, who := range []demo.Person{demo.Ferreira, demo.Solheim} {
		status, text = set(admin, who, `["instructor"]`, true)
		require.Equal(t, 200, status, text)
	}
	status, text = set(admin, demo.Whitlock, `["maintenance"]`, true)
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "would leave nobody who looks after the school's people")
	status, _ = set(admin, demo.Whitlock, `["admin"]`, false)
	assert.Equal(t, 422, status)
	got[any](t, admin, "GET", "/api/v1/people", "")
}

// beginning is a small school as the first page sends it.
const beginning = `"name":"Fen Row Flying","timeZone":"Europe/Dublin","units":{},
	"chief":{"name":"Nell Abara","email":"nell@fenrow.example","password":"seven slow herons"},
	"bases":[{"id":"xfrw","name":"Fen Row","elevationFt":61,"variationDegEast":-2.5,"runways":[{"name":"09","headingDegMagnetic":92,"lengthM":700,"surface":"grass"},{"name":"27","headingDegMagnetic":272,"lengthM":700,"surface":"grass"}],"climate":{"meanC":0,"yearSwingC":0,"daySwingC":0,"windFromDeg":0,"windKt":0,"spreadC":0}}],
	"aircraft":[{"registration":"qz-fra","type":"sorrel-100","base":"XFRW","equipment":["rescue-parachute"]}],
	"students":[{"name":"Ode Finch","email":"ode@fenrow.example","roles":["student"],"learns":{"type":"sorrel-100","instructor":"","startedOn":"2026-11-24"}}]`

// TestASchoolIsBegunInOneSitting: on an empty database, with the code that the
// program printed, all of it or nothing, once.
func TestASchoolIsBegunInOneSitting(t *testing.T) {
	d := schooltest.New(t)
	handler, err := server.New(server.Options{
		Store: d.Store, Catalog: d.Catalog, SetupCode: "TRYTHISONE",
		Now: func() time.Time { return schooltest.Day.Add(11 * time.Hour) },
	})
	require.NoError(t, err)
	t.Cleanup(handler.Close)
	s := httptest.NewServer(handler)
	t.Cleanup(s.Close)
	nell := visitor(t, s.URL)
	setup := got[struct {
		Needed bool
		Types  []struct{ ID string }
	}](t, nell, "GET", "/api/v1/setup", "")
	assert.True(t, setup.Needed)
	assert.Len(t, setup.Types, 7)
	begin := func(code, body string) (int, string) {
		return nell.call("POST", "/api/v1/setup", `{"code":"`+code+`",`+body+`}`)
	}
	for change, want := range map[[2]string]string{
		{"Europe/Dublin", "Atlantis"}: "timeZone must be a time zone",
		{`"name":"09"`, `"name":"12"`}: "bases[0].runways[0].headingDegMagnetic is 92 " +
			"degrees, and the runway is called 12",
		{`"lengthM":700`, `"lengthM":7`}:                        "bases[0].runways[0].lengthM must be from 20",
		{`"seven slow herons"`, `"nell abara 1"`}:               "chief.password is one of those that are tried first",
		{`"sorrel-100","base"`, `"sorrel-900","base"`}:          "aircraft[0].type is no aircraft type in force",
		{`"rescue-parachute"`, `"floats"`}:                      "aircraft[0].equipment cannot hold",
		{`"base":"XFRW"`, `"base":"XXXX"`}:                      "aircraft[0].base is none of the bases",
		{`"ode@fenrow.example"`, `"nell@fenrow.example"`}:       "students[0].email is there twice",
		{`"startedOn":"2026-11-24"`, `"startedOn":"yesterday"`}: "students[0].learns.startedOn must be a day",
	} {
		require.Contains(t, beginning, change[0])
		status, text := begin("TRYTHISONE", strings.Replace(beginning, change[0], change[1], 1))
		assert.Equal(t, 422, status, text)
		assert.Contains(t, text, want)
	}
	status, text := begin("ANOTHERONE", beginning)
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "is not the code that the program printed")
	status, text = begin("trythisone ", beginning)
	require.Equal(t, 200, status, text)
	var begun struct {
		Session struct {
			School string
			Roles  []string
		}
		Invited []invited
	}
	require.NoError(t, json.Unmarshal([]byte(text), &begun))
	assert.Equal(t, "Fen Row Flying", begun.Session.School)
	assert.Equal(t, []string{"chief", "instructor", "admin"}, begun.Session.Roles)
	require.Len(t, begun.Invited, 1)
	status, text = begin("TRYTHISONE", beginning)
	assert.Equal(t, 409, status, text)

	briefing := got[struct {
		Aircraft   []struct{ Registration string }
		Aerodromes []struct{ ID string }
	}](t, nell, "GET", "/api/v1/briefing", "")
	assert.Equal(t, "QZ-FRA", briefing.Aircraft[0].Registration)
	assert.Equal(t, "XFRW", briefing.Aerodromes[0].ID)
	ode := visitor(t, s.URL)
	entered := got[struct{ Roles []string }](t, ode, "POST", "/api/v1"+begun.Invited[0].Path+"/enter",
		fmt.Sprintf(`{"code":%q,"password":"kites over reeds"}`, begun.Invited[0].Code))
	assert.Equal(t, []string{"student"}, entered.Roles)
}
