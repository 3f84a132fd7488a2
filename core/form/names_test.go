package form_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/form"
	"jetprimer/internal/parsertest"
)

// TestNamesThatMeanTwoThings: one name twice in one object is found, however it is written,
// and a name in another case than the field's, at any depth; the same name in two objects is
// not.
func TestNamesThatMeanTwoThings(t *testing.T) {
	type inner struct {
		Level int `json:"level"`
	}
	type outer struct {
		inner
		Rows  []inner          `json:"rows"`
		Named map[string]inner `json:"named"`
		At    *inner           `json:"at"`
		Raw   json.RawMessage  `json:"raw"`
	}
	for text, want := range map[string]string{
		`{"result":"wrong","RESULT":"done"}`:          "x.RESULT stands there twice",
		`{"result":"wrong", "result" : "wrong"}`:      "x.result stands there twice",
		`{"result":1,"re\u0073ult":2}`:                "x.result stands there twice",
		`{"a":[{"b":{"x":1,"y":[2],"X":3}}]}`:         "x.a[0].b.X stands there twice",
		`[{"a":1},{"b":1,"B":2}]`:                     "B stands there twice",
		`{"s":1,"ſ":2}`:                               "x.ſ stands there twice",
		`{"k":1,"K":2}`:                               "x.K stands there twice",
		`{"a":{"x":1},"b":{"x":1},"c":[{"x":1}]}`:     "",
		`{"a":"b","c":"a","d":["a","a",{"a":"\"a"}]}`: "",
		`{"raw":{"a":1,"A":1}}`:                       "x.raw.A stands there twice",
		`{"raw":{"LEVEL":1}}`:                         "",
		`[]`:                                          "", `"a"`: "", `{}`: "", `7`: "",
		`{"a":"\\","b":"{\"a\":1,\"a\":2}"}`:                                                 "",
		`{"level":1,"rows":[{"level":1}],"named":{"LEVEL":{"level":1}},"at":null,"Other":1}`: "",
		`{"LEVEL":1}`:                        "x.LEVEL must be written level",
		`{"rows":[{"level":1},{"Level":2}]}`: "x.rows[1].Level must be written level",
		`{"named":{"n":{"lEvel":1}}}`:        "x.named.n.lEvel must be written level",
		`{"at":{"levEl":1}}`:                 "x.at.levEl must be", `{"Rows":[]}`: "x.Rows must be written rows",
	} {
		err := form.Exact("x", []byte(text), new(outer))
		if want == "" {
			assert.NoError(t, err, text)
		} else {
			assert.ErrorContains(t, err, want, text)
		}
	}
}

// TestDoubledNamesAtRandom: what is written with each name once has none twice, few or many,
// and one more member of a name that is there, in whatever case, is found.
func TestDoubledNamesAtRandom(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		object := rapid.MapOfN(rapid.StringMatching(`[a-z"\\{},:]{1,6}`), rapid.IntRange(0, 9), 1, 40).Draw(t, "object")
		inner, err := json.Marshal(object)
		require.NoError(t, err)
		require.NoError(t, form.Exact("", []byte(`{"in":[`+string(inner)+`,"x"]}`), nil), "%s", inner)
		for again := range object {
			text, err := json.Marshal(strings.ToUpper(again))
			require.NoError(t, err)
			require.Error(t,
				form.Exact("", []byte(`{"in":`+strings.TrimSuffix(string(inner), "}")+","+string(text)+`:0}}`), nil),
				"%s in %s", text, inner)
			return
		}
	})
}

// FuzzExact: whatever the text is, it is gone through once and to an end.
func FuzzExact(f *testing.F) {
	f.Add([]byte(`{"a":[1,{"A":"\u0061"}],"a":`))
	f.Add([]byte(`[}`))
	f.Add([]byte(strings.Repeat(`{"a":[`, 3000)))
	f.Fuzz(func(t *testing.T, data []byte) {
		parsertest.Run(t, data, func() { _ = form.Exact("x", data, new(struct{ A []map[string]int })) })
	})
}
