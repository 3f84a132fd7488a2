package server_test

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/record"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/store"
)

// TestWhatIsHeldOnAPerson: each may take it, the school may give it out, and the
// records in it prove themselves.
func TestWhatIsHeldOnAPerson(t *testing.T) {
	url := start(t)
	open := func(c *client, path string) map[string][]byte {
		status, body := c.call("GET", path, "")
		require.Equal(t, 200, status, body)
		archive, err := zip.NewReader(bytes.NewReader([]byte(body)), int64(len(body)))
		require.NoError(t, err)
		out := map[string][]byte{}
		for _, f := range archive.File {
			r, err := f.Open()
			require.NoError(t, err)
			out[f.Name], err = io.ReadAll(r)
			require.NoError(t, err)
		}
		return out
	}
	day := schooltest.Day.AddDate(0, 0, 30).Format(time.DateOnly)
	ask[any](as(t, url, demo.Moreau), "POST", "/away", fmt.Sprintf(`{"fromOn":%q,"toOn":%q,"why":"an exam"}`, day, day),
		201)
	ask[any](as(t, url, demo.Moreau), "PUT", "/standby/"+demo.Moreau.ID,
		fmt.Sprintf(`{"fromOn":%q,"toOn":%q,"words":"mornings"}`, day, day), 204)
	own := open(as(t, url, demo.Moreau), "/api/v1/account/personal-data.zip")
	given := open(as(t, url, demo.Ferreira), "/api/v1/people/"+demo.Moreau.ID+"/personal-data.zip")
	for _, files := range []map[string][]byte{own, given} {
		var held store.PersonalData
		require.NoError(t, json.Unmarshal(files["personal-data.json"], &held))
		assert.Equal(t, demo.Moreau.Email, held.Of.Email)
		require.NotEmpty(t, held.Lessons)
		assert.Empty(t, held.Taught)
		for _, l := range held.Lessons {
			assert.Equal(t, demo.Moreau.ID, l.StudentID)
		}
		words := string(files["personal-data.txt"])
		assert.Contains(t, words, "What Tarn Hollow Flying School holds on Lena Moreau")
		assert.Contains(t, words, "Lessons taken: ")
		assert.Contains(t, words, "an exam")
		assert.Contains(t, words, "mornings")
		require.Len(t, held.Away, 1)
		require.Len(t, held.Standby, 1)
		assert.NotContains(t, words, "%!")
		records := 0
		for name, data := range files {
			if strings.HasPrefix(name, "records/") {
				records++
				_, err := record.Verify(data)
				assert.NoError(t, err, name)
			}
		}
		assert.Positive(t, records)
	}
	taught := open(as(t, url, demo.Okonjo), "/api/v1/account/personal-data.zip")
	assert.Contains(t, string(taught["personal-data.txt"]), "Lessons given: ")
	assert.Len(t, taught, 2, "other people's records are not an instructor's to take")
	status, _ := as(t, url, demo.Okonjo).call("GET", "/api/v1/people/"+demo.Moreau.ID+"/personal-data.zip", "")
	assert.Equal(t, 403, status)
	status, _ = as(t, url, demo.Ferreira).call("GET",
		"/api/v1/people/5c001000-0000-4000-8000-0000000009ff/personal-data.zip", "")
	assert.Equal(t, 404, status)
}
