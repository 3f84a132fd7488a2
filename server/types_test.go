package server_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/aircraft"
	"jetprimer/core/handbook"
	"jetprimer/core/library"
	"jetprimer/demo"
	"jetprimer/server/documents"
)

// described is a draft of a type with its document.
type described struct {
	library.Version
	Document aircraft.Type `json:"document"`
}

// filled is a type with every number of a model, each from a page.
func filled(t *testing.T, a, model aircraft.Type) aircraft.Type {
	whole, err := handbook.SheetOf(model, nil)
	require.NoError(t, err)
	page := "4-17"
	for _, p := range whole.Parts {
		for _, r := range p.Rows {
			edit := handbook.Edit{Path: r.Path, Text: &r.Text, Page: &page}
			if r.Table {
				edit.Text = nil
			}
			if next, err := handbook.Apply(a, edit); err == nil && r.Text != "" {
				a = next
			}
		}
	}
	return a
}

// compared are the paths of every number of a type.
func compared(t *testing.T, a aircraft.Type) []string {
	out := []string{}
	s, err := handbook.SheetOf(a, nil)
	require.NoError(t, err)
	for _, p := range s.Pages {
		for _, r := range p.Rows {
			out = append(out, r.Path)
		}
	}
	return out
}

func body(t *testing.T, v any) string {
	data, err := json.Marshal(v)
	require.NoError(t, err)
	return string(data)
}

// TestATypeFromItsHandbook: one person describes it from a kind, another holds
// its numbers to the pages, the chief brings it into force with a list made of
// the stock; nothing of it serves a lesson before.
func TestATypeFromItsHandbook(t *testing.T) {
	s := start(t)
	chief, second := as(t, s, demo.Ferreira), as(t, s, demo.Okonjo)
	kinds := ask[documents.KindsView](chief, "GET", "/kinds", "", 200)
	assert.Len(t, kinds.Kinds, 7)
	assert.Len(t, kinds.Types, 7)

	for _, c := range [][2]string{
		{`{"kind":"steam","name":"Dove","source":"s","units":{}}`, "none of the kinds"},
		{`{"name":"Dove","source":"s","units":{}}`, "one of the two"},
		{`{"kind":"carburettor","copy":"alder-110","name":"Dove","source":"s","units":{}}`, "one of the two"},
		{`{"copy":"song","name":"Dove","source":"s","units":{}}`, "no type that serves"},
		{`{"kind":"carburettor","name":"Alder 110","source":"s","units":{}}`, "is a type already"},
		{`{"kind":"carburettor","name":"?!","source":"s","units":{}}`, "needs letters"},
		{`{"kind":"carburettor","name":"Dove","source":"  ","units":{}}`, "must name the handbook"},
		{`{"kind":"carburettor","name":"Dove","source":"s","units":{"speed":"knots"}}`, "units"},
	} {
		status, said := chief.call("POST", "/api/v1/types", c[0])
		assert.Equal(t, 422, status, c[0])
		assert.Contains(t, said, c[1])
	}
	d := ask[described](chief, "POST", "/types",
		`{"kind":"carburettor","name":"Dove 2","source":"fictional type, Dove 2 handbook data, rev 1","units":{"temperature":"°F"}}`, 200)
	assert.Equal(t, "dove-2", d.ID)
	assert.Equal(t, "°F", d.Document.Handbook.Units.Temperature)
	at := "/library/type/dove-2/1"
	saved := func(a aircraft.Type, revision int) described {
		return ask[described](chief, "PUT", at, body(t, map[string]any{"revision": revision, "document": a}), 200)
	}
	list := ask[documents.StartedList](chief, "POST", "/types/dove-2/1/list", "", 200)
	assert.NotEmpty(t, list.Left, "nothing can be measured before there are limits")

	alder, _ := mustCatalog(t).Type("alder-110")
	a := filled(t, d.Document, alder)
	a.Speeds[0].Knots = 0
	d = saved(a, 1)
	review := func(c *client, revision int, paths []string) (int, string) {
		return c.call("POST", "/api/v1"+at+"/review", body(t, map[string]any{"revision": revision, "compared": paths}))
	}
	paths := compared(t, d.Document)
	status, said := review(second, 2, paths)
	require.Equal(t, 422, status)
	assert.Contains(t, said, "cannot be confirmed yet: 1 number that is no check's is missing")
	a.Speeds[0].Knots = 52
	d = saved(a, 2)
	paths = compared(t, d.Document)
	status, said = review(chief, 3, paths)
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "You wrote on this version")
	status, said = review(second, 3, paths[1:])
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "1 number was not held to its page")
	status, said = review(second, 3, paths)
	require.Equal(t, 200, status, said)

	status, _ = chief.call("POST", "/api/v1/aircraft", `{"registration":"X-DOVE","type":"dove-2","base":"XTHW"}`)
	assert.Equal(t, 422, status, "nobody flies a type that is not in force")
	full := ask[documents.StartedList](chief, "POST", "/types/dove-2/1/list", "", 200)
	assert.Less(t, len(full.Left), len(list.Left))
	steps := func(kind, id string, version int) {
		at := fmt.Sprintf("/library/%s/%s/%d", kind, id, version)
		ask[any](second, "POST", at+"/review", `{"revision":1}`, 200)
	}
	steps("list", full.ID, full.Version)
	from := `{"revision":1,"from":"2026-11-24"}`
	status, said = chief.call("POST", fmt.Sprintf("/api/v1/library/list/%s/%d/approve", full.ID, full.Version), from)
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "its numbers are confirmed first")
	ask[any](chief, "POST", at+"/approve", `{"revision":3,"from":"2026-11-24"}`, 200)
	ask[any](chief, "POST", fmt.Sprintf("/library/list/%s/%d/approve", full.ID, full.Version), from, 200)
	ask[any](chief, "POST", "/aircraft", `{"registration":"X-DOVE","type":"dove-2","base":"XTHW"}`, 204)
	desk := ask[documents.DeskView](second, "GET", "/desk/dove-2", "", 200)
	assert.Equal(t, "Dove 2", desk.Type.Name)
	require.Len(t, desk.Lists, 1)
	student := as(t, s, demo.Brandt)
	status, _ = student.call("GET", "/api/v1/desk/dove-2", "")
	assert.Equal(t, 200, status)
}

// TestATypeThatIsWrittenStaysUnseen: a student sees nothing of a draft.
func TestATypeThatIsWrittenStaysUnseen(t *testing.T) {
	s := start(t)
	chief, student := as(t, s, demo.Ferreira), as(t, s, demo.Brandt)
	ask[described](chief, "POST", "/types", `{"copy":"willow-t5","name":"Wren","source":"fictional type","units":{}}`,
		200)
	for _, path := range []string{"/library/type/wren/1", "/desk/wren", "/desk/wren?on=9999-12-31"} {
		status, _ := student.call("GET", "/api/v1"+path, "")
		assert.Equal(t, 404, status, path)
	}
	assert.Equal(t, "Wren", ask[documents.DeskView](chief, "GET", "/desk/wren?on=9999-12-31", "", 200).Type.Name)
	status, said := chief.call("POST", "/api/v1/types/alder-110/4/list", "")
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "Nothing says of what kind")
}
