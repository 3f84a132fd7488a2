package server_test

import (
	"encoding/csv"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/server/schools"
)

// TestWhoDidWhat: what is done to people, aircraft and sign-ins is written down by
// name, found by words and days, and goes out as a table.
func TestWhoDidWhat(t *testing.T) {
	url := start(t)
	chief := as(t, url, demo.Ferreira)
	got[any](t, chief, "PUT", "/api/v1/people/"+demo.Quist.ID,
		fmt.Sprintf(`{"name":%q,"email":%q,"roles":["instructor","examiner"],"active":true}`, demo.Quist.Name,
			demo.Quist.Email))
	got[any](t, chief, "PUT", "/api/v1/aircraft/QZ-AAA",
		`{"registration":"QZ-AAA","type":"alder-110","base":"XTHW","equipment":[],"from":""}`)
	visitor(t, url).call("POST", "/api/v1/session", sets("email", demo.Solheim.Email, "password", "100% wrong_"))
	look := func(query string) schools.AuditView {
		return got[schools.AuditView](t, chief, "GET", "/api/v1/audit-log?"+query, "")
	}
	all := look("")
	require.GreaterOrEqual(t, len(all.Lines), 4)
	assert.Greater(t, all.Lines[0].ID, all.Lines[1].ID)
	for query, want := range map[string]string{
		"words=quist+EXAMINER": demo.Ferreira.Name + " member changed to instructor, examiner " + demo.Quist.Name,
		"words=qz-aaa":         demo.Ferreira.Name + " aircraft changed QZ-AAA",
		"words=marit+refused":  demo.Solheim.Name + " sign-in refused: wrong password ",
		"words=ilse+signed+in": demo.Ferreira.Name + " signed in ",
		"words=ilse&from=2026-11-24&until=2026-11-24&before=999999": demo.Ferreira.Name + " aircraft changed QZ-AAA",
	} {
		found := look(query).Lines
		require.NotEmpty(t, found, query)
		assert.Equal(t, want, found[0].By+" "+found[0].What+" "+found[0].Subject, query)
	}
	for _, query := range []string{"words=%25", "words=_", "from=2026-11-25", "until=2026-11-23", "words=nobody+ever"} {
		assert.Empty(t, look(query).Lines, query)
	}
	status, text := chief.call("GET", "/api/v1/audit-log?from=soon", "")
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "from must be a day")
	status, text = chief.call("GET", "/api/v1/audit-log.csv?words=qz-aaa", "")
	require.Equal(t, 200, status)
	rows, err := csv.NewReader(strings.NewReader(text)).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 2)
	assert.Equal(t, []string{"by", "what", "subject"}, rows[0][1:4])
	assert.Equal(t, []string{demo.Ferreira.Name, "aircraft changed", "QZ-AAA"}, rows[1][1:4])
}
