package check_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

func asObject(t testing.TB, v any) map[string]any {
	data, err := json.Marshal(v)
	require.NoError(t, err)
	object, err := form.ParseObject(data)
	require.NoError(t, err)
	return object
}

// replaced is a copy of a value with the number at a path replaced.
func replaced(of any, path []string, n float64) any {
	if len(path) == 0 {
		text, _ := json.Marshal(n)
		return json.Number(text)
	}
	switch of := of.(type) {
	case map[string]any:
		out := map[string]any{}
		for k, v := range of {
			out[k] = v
		}
		out[path[0]] = replaced(of[path[0]], path[1:], n)
		return out
	case []any:
		out := append([]any{}, of...)
		i := int(path[0][0] - '0')
		out[i] = replaced(of[i], path[1:], n)
		return out
	}
	return of
}

// TestEveryReferencePage: of every check on every type, each number lies in the
// range that it can be dragged through, the example is as it should be, and
// dragging far enough turns the verdict.
func TestEveryReferencePage(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	turned := map[string]bool{}
	for _, d := range check.All() {
		for _, typ := range c.Types {
			reading, conditions, ok := check.Example(d.Name, typ, nil, 0)
			if !ok {
				continue
			}
			at := check.Station{Type: typ, Attempt: 1, Conditions: asObject(t, conditions)}
			sound := asObject(t, reading)
			page := d.Reference(at, sound, sound)
			name := d.Name + " " + typ.ID
			require.Empty(t, page.Refusal, name)
			assert.Equal(t, check.Within, page.State, name)
			assert.NotEmpty(t, d.Said(at, sound), name)
			if len(page.Drags) == 0 {
				turned[d.Name] = true // only flags and days
			}
			for _, drag := range page.Drags {
				assert.LessOrEqual(t, drag.Min, drag.Value, "%s %s", name, drag.Path)
				assert.GreaterOrEqual(t, drag.Max, drag.Value, "%s %s", name, drag.Path)
				assert.Greater(t, drag.Step, 0.0, "%s %s", name, drag.Path)
				for _, end := range []float64{drag.Min, drag.Max} {
					end = float64(int(end)) // as a slider stops
					dragged := d.Reference(at, replaced(sound, strings.Split(drag.Path, "."), end).(map[string]any),
						sound)
					if dragged.State != check.Within {
						turned[d.Name] = true
					}
				}
			}
			for _, flag := range page.Flags {
				other := asObject(t, reading)
				other[flag.Path] = !flag.On
				if now := d.Reference(at, other, sound); now.State != check.Within {
					turned[d.Name] = true
				}
			}
		}
		assert.True(t, turned[d.Name], "%s: nothing on its page turns the verdict", d.Name)
	}
}

// TestLimitsOfEachType: a row for each limit, a cell for each type, and no cell
// that says nothing of a type that has the limit.
func TestLimitsOfEachType(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, d := range check.All() {
		var having []aircraft.Type
		for _, typ := range c.Types {
			if typ.Limits[d.Name] != nil {
				having = append(having, typ)
			}
		}
		rows := d.LimitRows(having, quantity.Units{})
		filled := make([]int, len(having))
		for _, row := range rows {
			assert.NotEmpty(t, row.Label, d.Name)
			require.Len(t, row.Cells, len(having), "%s %s", d.Name, row.Label)
			for i, cell := range row.Cells {
				assert.NotContains(t, cell, "map[", "%s %s", d.Name, row.Label)
				assert.NotContains(t, cell, "<nil>", "%s %s", d.Name, row.Label)
				if cell != "" {
					filled[i]++
				}
			}
		}
		for i, typ := range having {
			assert.Equal(t, len(typ.Limits[d.Name]), filled[i], "%s: every limit of the %s stands in the table", d.Name,
				typ.Name)
		}
	}
}
