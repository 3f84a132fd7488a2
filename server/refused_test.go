package server_test

import (
	"encoding/json"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/school"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/server/schools"
)

// TestWhatIsWrongIsNamed: of what looks after a school, each wrong field is
// refused by its name, with nothing kept and never a failure of ours.
func TestWhatIsWrongIsNamed(t *testing.T) {
	url := start(t)
	chief := as(t, url, demo.Ferreira)
	state := func() (all string) {
		for _, path := range []string{"/api/v1/people.csv", "/api/v1/aircraft.csv", "/api/v1/place"} {
			status, text := chief.call("GET", path, "")
			require.Equal(t, 200, status, text)
			all += text
		}
		return all
	}
	before := state()
	long := strings.Repeat("n", 300)
	person := "/api/v1/people/" + demo.Quist.ID
	for _, c := range []struct{ method, path, body, want string }{
		{
			"PUT", person, `{"name":"","email":"x@y.example","roles":["instructor"],"active":true}`,
			"name must not be empty",
		},
		{
			"PUT", person,
			`{"name":"R","email":"x@y.example","roles":["instructor"],"number":"` + long + `","active":true}`,
			"number must have at most 40",
		},
		{
			"PUT", person, `{"name":"R","email":"x@y.example","roles":["instructor","instructor"],"active":true}`,
			"instructor twice",
		},
		{"PUT", person, `{"name":"R","email":"x@y.example","roles":["student"],"active":true}`, "learns must be given"},
		{
			"PUT", person,
			`{"name":"R","email":"x@y.example","roles":["student"],"learns":{"type":"oak","instructor":"` +
				demo.Okonjo.ID + `","startedOn":"2026-11-24"},"active":true}`,
			"learns.type is no aircraft type",
		},
		{
			"PUT", person,
			`{"name":"R","email":"x@y.example","roles":["student"],"learns":{"type":"alder-110","instructor":"` +
				demo.Moreau.ID + `","startedOn":"2026-11-24"},"active":true}`,
			"learns.instructor does not teach",
		},
		{"POST", "/api/v1/aircraft", `{"registration":"Q","type":"alder-110","base":"XTHW"}`, "registration must be"},
		{"POST", "/api/v1/aircraft", `{"registration":"QZ-NEW","type":"oak","base":"XTHW"}`, "type is no aircraft type"},
		{"POST", "/api/v1/aircraft", `{"registration":"QZ-NEW","type":"alder-110","base":"XXXX"}`, "base is none of"},
		{
			"POST", "/api/v1/aircraft",
			`{"registration":"QZ-NEW","type":"alder-110","base":"XTHW","equipment":["sail"]}`, "equipment cannot hold",
		},
		{
			"POST", "/api/v1/aircraft", `{"registration":"QZ-NEW","type":"alder-110","base":"XTHW","hours":1e300}`,
			"hours must be",
		},
		{
			"POST", "/api/v1/aircraft",
			`{"registration":"QZ-NEW","type":"alder-110","base":"XTHW","hours":null,"wings":2}`, "unexpected property",
		},
		{
			"PUT", "/api/v1/aircraft/QZ-AAA", `{"registration":"QZ-AAB","type":"larch-d2","base":"XTHW","from":""}`,
			"type cannot change",
		},
		{
			"PUT", "/api/v1/aircraft/QZ-AAA",
			`{"registration":"","type":"alder-110","base":"XTHW","from":"31.12.2026"}`, "from must be a day",
		},
		{"PUT", "/api/v1/account/password", `{"password":"` + long + `","next":"three quiet owls"}`, "password"},
		{"PUT", "/api/v1/account/second", `{"code":"0123456789012"}`, "code"},
		{"POST", "/api/v1/account/second", `{}`, "password"},
		{"POST", "/api/v1/people/table/take", `{"name":"x","table":"name,email\n","aside":[]}`, `has no column`},
		{"POST", "/api/v1/people/table/take", `{"name":"x","table":"name,email,roles\nA,a,b\n","aside":["2"]}`, "aside"},
		{"PUT", "/api/v1/place", `{"name":"` + long + `","timeZone":"UTC"}`, "name"},
		{"PUT", "/api/v1/place", `{"name":"Tarn","timeZone":"../etc/passwd"}`, "timeZone must be"},
		{"GET", "/api/v1/audit-log?until=tomorrow", "", "until must be a day"},
		{"GET", "/api/v1/audit-log?before=-1", "", "before"},
	} {
		status, text := chief.call(c.method, c.path, c.body)
		assert.Contains(t, []int{400, 422}, status, "%s %s %.80s", c.method, c.path, c.body)
		assert.Contains(t, text, c.want, "%s %s %.80s", c.method, c.path, c.body)
	}
	for _, path := range []string{
		"/api/v1/people/5c001000-0000-4000-8000-0000000009ff/recovery",
		"/api/v1/invitations/5c001000-0000-4000-8000-0000000009ff/renew",
		"/api/v1/invitations/5c001000-0000-4000-8000-0000000009ff/withdraw",
	} {
		status, text := chief.call("POST", path, "")
		assert.Equal(t, http.StatusNotFound, status, path+text)
	}
	status, _ := chief.call("PUT", "/api/v1/aircraft/QZ-ZZZ",
		`{"registration":"QZ-ZZZ","type":"alder-110","base":"XTHW","from":""}`)
	assert.Equal(t, http.StatusNotFound, status)
	status, text := chief.call("POST", "/api/v1/people/table", strings.Repeat("x", 1<<20+1))
	assert.Equal(t, http.StatusRequestEntityTooLarge, status, text)
	assert.Equal(t, before, state(), "nothing of it was kept")
}

// TestEachSchoolLooksAfterItsOwn: who governs one school reaches nobody and
// nothing of another, whatever ids are known.
func TestEachSchoolLooksAfterItsOwn(t *testing.T) {
	url, d := startWith(t)
	var b school.Beginning
	require.NoError(t, json.Unmarshal([]byte("{"+beginning+"}"), &b))
	fresh, err := schools.NewStart(b, schooltest.Day)
	require.NoError(t, err)
	_, err = d.Store.Begin(t.Context(), fresh)
	require.NoError(t, err)
	c := visitor(t, url)
	got[any](t, c, "POST", "/api/v1/session", sets("email", "nell@fenrow.example", "password", "seven slow herons"))
	status, _ := c.call("GET", "/api/v1/people/"+demo.Quist.ID+"/personal-data.zip", "")
	assert.Equal(t, http.StatusNotFound, status)
	status, _ = c.call("POST", "/api/v1/people/"+demo.Quist.ID+"/recovery", "")
	assert.Equal(t, http.StatusNotFound, status)
	_, people := c.call("GET", "/api/v1/people.csv", "")
	assert.Contains(t, people, "nell@fenrow.example")
	assert.NotContains(t, people, "tarnhollow")
	_, done := c.call("GET", "/api/v1/audit-log", "")
	assert.NotContains(t, done, "Ferreira")
	_, fleet := c.call("GET", "/api/v1/aircraft", "")
	assert.Contains(t, fleet, "QZ-FRA")
	assert.NotContains(t, fleet, "QZ-AAA")
	status, _ = c.call("PUT", "/api/v1/aircraft/QZ-AAA",
		`{"registration":"QZ-AAA","type":"alder-110","base":"XFRW","from":""}`)
	assert.Equal(t, http.StatusNotFound, status)
	status, _ = as(t, url, demo.Ferreira).call("POST", "/api/v1/people/"+fresh.Founder.ID+"/recovery", "")
	assert.Equal(t, http.StatusNotFound, status, "nor the other way")
}
