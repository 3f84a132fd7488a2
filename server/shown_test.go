package server_test

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/check"
	"jetprimer/demo"
	"jetprimer/exchange"
	"jetprimer/reports"
	"jetprimer/server"
	"jetprimer/server/days"
	"jetprimer/server/documents"
)

// TestScreensAreToldAndDoNotJudge: what a screen would have to know of the job
// stands in the answers: how a version stands, who trains on a type, what is in
// a student's way, every check's limits type by type, and a file's form by its
// name.
func TestScreensAreToldAndDoNotJudge(t *testing.T) {
	c := as(t, start(t), demo.Ferreira)

	for _, v := range ask[documents.Library](c, "GET", "/library", "", 200).Versions {
		assert.Contains(t, []string{"draft", "reviewed", "coming", "serving", "earlier", "withdrawn"}, v.Standing)
	}

	trains := func(c *client, aircraftType string) []string {
		return ask[documents.DeskView](c, "GET", "/desk/"+aircraftType, "", 200).Students
	}
	assert.Equal(t, []string{demo.Rask.ID}, trains(c, "hornbeam-twin"))
	assert.Len(t, trains(c, "alder-110"), 8)

	briefing := ask[reports.Briefing](c, "GET", "/briefing", "", 200)
	assert.Equal(t, ask[reports.Today](c, "GET", "/today", "", 200).Day, briefing.Day)

	for _, g := range ask[reports.SchoolView](c, "GET", "/school", "", 200).Groups {
		for _, s := range g.Students {
			assert.Equal(t, s.Ready, s.InTheWay == 0, s.Student.Name)
			required := slices.DeleteFunc(slices.Clone(s.Standings),
				func(standing string) bool { return standing == "not required" })
			assert.Len(t, required, s.Required, s.Student.Name)
		}
	}

	reference := ask[days.Reference](c, "GET", "/reference", "", 200)
	assert.Len(t, reference.Limits, len(check.All()))
	magneto := reference.Limits["magneto"]
	assert.True(t, slices.Contains(magneto.Types, "alder-110") && !slices.Contains(magneto.Types, "willow-t5"),
		"a turbine has no magnetos")
	for _, row := range magneto.Rows {
		assert.Len(t, row.Cells, len(magneto.Types), row.Label)
	}

	for _, f := range exchange.Formats {
		status, file := c.call("GET", "/api/v1/library/list/alder-110-full/4/export?format="+f.ID, "")
		require.Equal(t, 200, status, file)
		if f.ID == "pdf" {
			continue // printed, and not read again
		}
		back := ask[documents.Imported](c, "POST", "/import/list?name=mine."+f.Ending, file, 200)
		assert.NotNil(t, back.Document, f.ID)
	}
	refusal := ask[map[string]any](c, "POST", "/import/list?name=mine.exe", "x", 422)
	said, err := json.Marshal(refusal)
	require.NoError(t, err)
	assert.Contains(t, string(said), "name")
	assert.Contains(t, string(said), "must end in .md, .csv, .yaml, .json")
}

// TestWhoTrainsIsForTeachers: others are not told who trains on a type.
func TestWhoTrainsIsForTeachers(t *testing.T) {
	url := start(t)
	for _, who := range []demo.Person{demo.Brandt, demo.Achterberg, demo.Petrescu, demo.Whitlock} {
		assert.Empty(t, ask[documents.DeskView](as(t, url, who), "GET", "/desk/alder-110", "", 200).Students, who.Name)
	}
}

// TestTheDocumentHasTheWordsOfTheScreens: every mark has its key or none, every
// word its id once, and what a person begins with is there.
func TestTheDocumentHasTheWordsOfTheScreens(t *testing.T) {
	document, err := server.OpenAPI(mustCatalog(t))
	require.NoError(t, err)
	text, err := json.Marshal(document)
	require.NoError(t, err)
	var out struct {
		Words   map[string]json.RawMessage `json:"x-words"`
		Fresh   map[string]map[string]any  `json:"x-fresh"`
		Formats []exchange.Format          `json:"x-formats"`
	}
	require.NoError(t, json.Unmarshal(text, &out))
	keys := map[string]bool{}
	for list, raw := range out.Words {
		var words []struct{ ID, Words, Key string }
		if json.Unmarshal(raw, &words) != nil {
			continue // a list of plain words
		}
		ids := map[string]bool{}
		for _, w := range words {
			assert.False(t, w.ID == "" || w.Words == "" || ids[w.ID], "%s %v", list, w)
			assert.False(t, w.Key != "" && keys[w.Key], "two marks have the key %q", w.Key)
			ids[w.ID], keys[w.Key] = true, true
			assert.Equal(t, strings.TrimSpace(w.Words), w.Words)
		}
	}
	assert.Equal(t, "VFR", out.Fresh["flown"]["rules"])
	assert.Contains(t, out.Fresh["day"], "report")
	assert.Len(t, out.Formats, len(exchange.Formats))
}
