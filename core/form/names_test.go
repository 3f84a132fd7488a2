package form_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/form"
)

// TestDoubledNames: one name twice in one object is found, however it is written; the
// same name in two objects is not.
func TestDoubledNames(t *testing.T) {
	for text, want := range map[string]string{
		`{"result":"wrong","RESULT":"done"}`:          "RESULT",
		`{"result":"wrong","result":"wrong"}`:         "result",
		`{"result":1,"re\u0073ult":2}`:                "result",
		`{"a":[{"b":{"x":1,"y":[2],"X":3}}]}`:         "X",
		`{"s":1,"ſ":2}`:                               "ſ",
		`{"k":1,"K":2}`:                               "K",
		`{"a":{"x":1},"b":{"x":1},"c":[{"x":1}]}`:     "",
		`{"a":"b","c":"a","d":["a","a",{"a":"\"a"}]}`: "",
		`[]`: "", `"a"`: "", `{}`: "", `{"a":"\\","b":"{\"a\":1,\"a\":2}"}`: "",
	} {
		name, at := form.Doubled([]byte(text))
		assert.Equal(t, want, name, text)
		if want != "" {
			assert.Equal(t, byte('"'), text[at], text)
		}
	}
}

// TestDoubledNamesAtRandom: what is written with each name once has none twice, and one
// more member of a name that is there, in whatever case, is found.
func TestDoubledNamesAtRandom(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		object := rapid.MapOfN(rapid.StringMatching(`[a-z"\\{},:]{1,6}`), rapid.IntRange(0, 9), 1, 8).Draw(t, "object")
		data, err := json.Marshal(map[string]any{"in": []any{object, "x"}})
		require.NoError(t, err)
		name, _ := form.Doubled(data)
		require.Empty(t, name, "%s", data)
		for again := range object {
			text, err := json.Marshal(strings.ToUpper(again))
			require.NoError(t, err)
			inner, err := json.Marshal(object)
			require.NoError(t, err)
			name, _ = form.Doubled([]byte(`{"in":` + strings.TrimSuffix(string(inner), "}") + "," + string(text) + `:0}}`))
			require.NotEmpty(t, name, "%s in %s", text, inner)
			return
		}
	})
}

// TestMisnamed: a name in another case than the field's is found at any depth.
func TestMisnamed(t *testing.T) {
	type inner struct {
		Level int `json:"level"`
	}
	type outer struct {
		inner
		Rows  []inner          `json:"rows"`
		Named map[string]inner `json:"named"`
		At    *inner           `json:"at"`
	}
	for text, want := range map[string]string{
		`{"level":1,"rows":[{"level":1}],"named":{"LEVEL":{"level":1}},"at":null,"Other":1}`: "",
		`{"LEVEL":1}`: "LEVEL", `{"rows":[{"level":1},{"Level":2}]}`: "rows[1].Level",
		`{"named":{"x":{"lEvel":1}}}`: "named.x.lEvel", `{"at":{"levEl":1}}`: "at.levEl", `{"Rows":[]}`: "Rows",
	} {
		path, _ := form.Misnamed([]byte(text), new(outer))
		assert.Equal(t, want, path, text)
	}
}
