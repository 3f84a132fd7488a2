package server_test

import (
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/server"
	"jetprimer/server/schools"
)

// TestTheProgramTellsOfItself: the administrator reads how it stands; Prometheus
// reads what it counted, by routes and never by whose; an answer has an id.
func TestTheProgramTellsOfItself(t *testing.T) {
	hash, err := everybodys()
	require.NoError(t, err)
	d := schooltest.Demo(t, hash)
	app, err := server.New(server.Options{Store: d.Store, Catalog: d.Catalog})
	require.NoError(t, err)
	t.Cleanup(app.Close)
	s := httptest.NewServer(app)
	t.Cleanup(s.Close)
	admin := as(t, s.URL, demo.Whitlock)
	view := got[schools.Status](t, admin, "GET", "/api/v1/status", "")
	require.Len(t, view.Checks, 3)
	for _, c := range view.Checks {
		assert.True(t, c.Good, c.Name)
	}
	assert.Positive(t, view.Database.Seals)
	assert.Positive(t, view.Database.Sessions)
	assert.NotNil(t, view.Database.SealedAt)

	visitor(t, s.URL).call("GET", "/api/v1/people", "")
	visitor(t, s.URL).call("SUDDENLY", "/api/v1/people", "")
	response, err := admin.Get(s.URL + "/readyz")
	require.NoError(t, err)
	response.Body.Close()
	assert.Equal(t, 200, response.StatusCode)
	assert.NotEmpty(t, response.Header.Get("X-Request-Id"))
	counted := httptest.NewRecorder()
	app.Metrics().ServeHTTP(counted, httptest.NewRequest("GET", "/metrics", nil))
	for _, line := range []string{
		`jetprimer_requests_total{code="401",method="GET",route="/api/v1/people"} 1`,
		`jetprimer_requests_total{code="405",method="other"`,
		`jetprimer_request_seconds_count{route="/api/v1/status"} 1`, `go_sql_open_connections{db_name="jetprimer"}`,
		"jetprimer_seals_total 0", "jetprimer_streams 0", "jetprimer_feed_lag_seconds_count",
	} {
		assert.Contains(t, counted.Body.String(), line)
	}
	assert.NotContains(t, counted.Body.String(), demo.SchoolID)
	require.NoError(t, d.Store.Close())
	response, err = admin.Get(s.URL + "/readyz")
	require.NoError(t, err)
	response.Body.Close()
	assert.Equal(t, 503, response.StatusCode)
}
