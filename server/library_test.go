package server_test

import (
	"encoding/json"
	"fmt"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/demo"
	"jetprimer/exchange"
	"jetprimer/reports"
	"jetprimer/server/documents"
)

// ask calls a route and decodes its answer.
func ask[T any](c *client, method, path, body string, want int) T {
	c.Helper()
	status, text := c.call(method, "/api/v1"+path, body)
	require.Equal(c, want, status, text)
	var out T
	if len(text) > 0 {
		require.NoError(c, json.Unmarshal([]byte(text), &out), text)
	}
	return out
}

type version struct {
	ID, Status, InForceFrom string
	Version, Revision       int
	Document                checklist.List
	Problems                []form.Problem
}

// TestARevisionOverHTTP: a draft may have mistakes, its review may not; two
// people do not overwrite each other; only the chief approves.
func TestARevisionOverHTTP(t *testing.T) {
	address := start(t)
	chief, instructor, student := as(t, address, demo.Ferreira), as(t, address, demo.Okonjo), as(t, address,
		demo.Brandt)
	own := ask[version](instructor, "GET", "/library/list/sorrel-100-full/1", "", 200)
	document := func(change func(*checklist.List)) string {
		data, err := json.Marshal(own.Document)
		require.NoError(t, err)
		var list checklist.List
		require.NoError(t, json.Unmarshal(data, &list))
		change(&list)
		data, err = json.Marshal(list)
		require.NoError(t, err)
		return string(data)
	}
	broken := document(func(l *checklist.List) { l.Phases[0].Items[0].When = "night and" })
	draft := ask[version](instructor, "POST", "/library/list", `{"document":`+broken+`}`, 200)
	assert.Equal(t, 2, draft.Version)
	require.Len(t, draft.Problems, 1)
	assert.Contains(t, draft.Problems[0].Reason, "column 10")
	path := "/library/list/sorrel-100-full/2"
	ask[any](student, "GET", path, "", 404)
	for _, v := range ask[documents.Library](student, "GET", "/library", "", 200).Versions {
		assert.NotEqual(t, "draft", v.Status, "students see no drafts")
	}
	refusal := ask[map[string]any](instructor, "POST", path+"/review", `{"revision":1}`, 422)
	assert.Contains(t, refusal["detail"], "The draft has 1 mistake, the first:")

	sound := document(func(l *checklist.List) { l.Phases[0].Items[0].Response = "aboard, both of them" })
	saved := ask[version](instructor, "PUT", path, `{"revision":1,"document":`+sound+`}`, 200)
	assert.Empty(t, saved.Problems)
	assert.Contains(t, ask[map[string]any](chief, "PUT", path, `{"revision":1,"document":`+sound+`}`, 409)["detail"],
		"Somebody else has saved this draft")
	other := document(func(l *checklist.List) { l.ID = "another" })
	assert.Contains(t, ask[map[string]any](chief, "PUT", path, `{"revision":2,"document":`+other+`}`, 422)["detail"],
		"document.id may not become another")
	ask[any](instructor, "POST", path+"/review", `{"revision":2}`, 200)
	ask[any](instructor, "POST", path+"/approve", `{"revision":2,"from":"2026-11-25"}`, 403)
	assert.Contains(t,
		ask[map[string]any](chief, "POST", path+"/approve", `{"revision":2,"from":"2026-11-23"}`, 422)["detail"],
		"today or later")
	approved := ask[version](chief, "POST", path+"/approve", `{"revision":2,"from":"2026-11-25"}`, 200)
	assert.Equal(t, "in-force", approved.Status)

	desk := func(on string) int {
		return ask[documents.DeskView](student, "GET", "/desk/sorrel-100?on="+on, "", 200).Lists[0].Version
	}
	assert.Equal(t, []int{1, 2}, []int{desk("2026-11-24"), desk("2026-11-25")})
	trained := ask[documents.TrainedView](chief, "GET", "/trained/list/sorrel-100-full", "", 200)
	assert.Equal(t, 2, trained.Version)
	for _, p := range trained.People {
		assert.True(t, p.MustBeTold, p.Name)
	}
	for _, bad := range []string{
		`{"document":{}}`, `{"document":[]}`, `{"document":{"id":"a b","title":"x","aircraftType":"y"}}`,
	} {
		ask[any](chief, "POST", "/library/list", bad, 422)
	}
	ask[any](chief, "GET", "/desk/kestrel", "", 404)
}

// TestImportAndExportOverHTTP: what goes out comes in again; what is wrong is
// listed with its line; nothing is kept by reading.
func TestImportAndExportOverHTTP(t *testing.T) {
	c := as(t, start(t), demo.Ferreira)
	for _, format := range []string{"yaml", "json", "csv", "markdown"} {
		status, file := c.call("GET", "/api/v1/library/list/larch-d2-full/1/export?format="+format, "")
		require.Equal(t, 200, status)
		back := ask[documents.Imported](c, "POST", "/import/list?format="+format+"&name=larch."+format, file, 200)
		assert.Empty(t, back.Problems, format)
		data, err := json.Marshal(back.Document)
		require.NoError(t, err)
		var list checklist.List
		require.NoError(t, json.Unmarshal(data, &list))
		own, _ := mustCatalog(t).ListFor("larch-d2")
		assert.Equal(t, len(own.Places()), len(list.Places()), format)
	}
	wrong := ask[documents.Imported](c, "POST", "/import/layer?format=yaml&name=mine.yaml",
		"id: x\ntitle: X\nversion: 1\nrank: school\naircraftType: alder-110\nsource: s\ndate: 2026-11-24\nauthor: "+
			"me\napproval: me\nchanges:\n  - {op: change, item: chocks, set: {check: magnet}, why: w}\n", 200)
	require.NotEmpty(t, wrong.Problems)
	assert.Contains(t, fmt.Sprint(wrong.Problems), `"magnet" is no check that the Alder 110 has limits for`)
	assert.Contains(t, ask[map[string]any](c, "POST", "/import/type?format=csv&name=t.csv", "a", 422)["detail"],
		"only a list can be read from a table")

	own := ask[documents.Imported](c, "POST", "/import/type?format=yaml&name="+url.QueryEscape("my type.yaml"),
		ownType(t),
		200)
	require.Empty(t, own.Problems)
	data, err := json.Marshal(map[string]any{"document": own.Document})
	require.NoError(t, err)
	draft := ask[described](c, "POST", "/library/type", string(data), 200)
	assert.Equal(t, 5, draft.Version.Version, "the school's own versions follow the shipped ones")
	assert.Contains(t,
		ask[map[string]any](as(t, c.url, demo.Okonjo), "POST", "/library/type/alder-110/5/review", `{"revision":1}`,
			422)["detail"], "nothing says where the numbers stand")
	told := filled(t, draft.Document, draft.Document)
	ask[any](c, "PUT", "/library/type/alder-110/5", body(t, map[string]any{"revision": 1, "document": told}), 200)
	ask[any](as(t, c.url, demo.Okonjo), "POST", "/library/type/alder-110/5/review",
		body(t, map[string]any{"revision": 2, "compared": compared(t, told)}), 200)
	ask[any](c, "POST", "/library/type/alder-110/5/approve", `{"revision":2,"from":"2026-11-24"}`, 200)
	status, verdict := c.call("POST", "/api/v1/check/suction",
		`{"aircraftType":"alder-110","reading":{"inHg":4.2},"conditions":{"rules":"VFR","night":false}}`)
	require.Equal(t, 200, status)
	assert.Contains(t, verdict, `"outcome":"normal"`, "the school's own limit of 4.0 inHg holds")

	status, pdf := c.call("GET", "/api/v1/library/list/larch-d2-full/1/export?format=pdf", "")
	assert.Equal(t, 200, status)
	assert.True(t, strings.HasPrefix(pdf, "%PDF-"))
	assert.Contains(t, ask[map[string]any](c, "GET", "/library/type/alder-110/4/export?format=pdf", "", 422)["detail"],
		"must be yaml or json")
	running := ask[reports.Today](c, "GET", "/today", "", 200).Running[0]
	status, pdf = c.call("GET", "/api/v1/lessons/"+running.ID+"/card.pdf", "")
	assert.Equal(t, 200, status)
	assert.True(t, strings.HasPrefix(pdf, "%PDF-"))
}

func mustCatalog(t *testing.T) *catalog.Catalog {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	return c
}

// ownType is the Alder's data with one limit of the school's own.
func ownType(t *testing.T) string {
	typ, _ := mustCatalog(t).Type("alder-110")
	data, err := exchange.Write(typ, "yaml")
	require.NoError(t, err)
	out := strings.Replace(string(data), "min: 4.5", "min: 4", 1)
	require.NotEqual(t, string(data), out)
	return out
}
