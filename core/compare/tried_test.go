package compare_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/check"
	"jetprimer/core/compare"
	"jetprimer/core/quantity"
)

// TestATryIsToldOnEveryType: each check of each type, with every number that is the
// aircraft's, its limits with their unit, and what came of it; in other units every
// number and every limit of it is another.
func TestATryIsToldOnEveryType(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	told := 0
	for _, typ := range c.Types {
		for _, d := range check.All() {
			if typ.Limits[d.Name] == nil {
				continue
			}
			reading, conditions, ok := check.Example(d.Name, typ, nil, 0)
			require.True(t, ok, d.Name)
			request, err := json.Marshal(map[string]any{
				"aircraftType": typ.ID, "reading": reading, "conditions": conditions,
			})
			require.NoError(t, err)
			verdict, err := check.Run(d.Name, request, c.Type)
			require.NoError(t, err)
			raw, err := json.Marshal(reading)
			require.NoError(t, err)
			entry := compare.LogEntry{Hours: 100, Check: d.Name, Engine: 1, Item: d.Name, Reading: raw,
				Verdict: verdict}
			tried := compare.TriedOf(entry, typ)
			assert.Equal(t, check.Within, tried.State, "%s %s: %s", typ.ID, d.Name, tried.Words)
			assert.True(t, strings.HasSuffix(tried.Words, "within limits"), tried.Words)
			for _, s := range compare.Repeated([]compare.LogEntry{entry}, typ) {
				told++
				assert.Contains(t, tried.Words, s.Label+" ", "%s %s", typ.ID, d.Name)
				if s.Unit != "" {
					assert.GreaterOrEqual(t, strings.Count(tried.Words, s.Unit), 2,
						"%s: the number and its limit have their unit: %s", d.Name, tried.Words)
				}
			}
			for base, other := range map[string]string{"°C": "°F", "L/h": "gal/h"} {
				said := quantity.Units{Temperature: "°F", Volume: "gal"}.Say(tried.Words)
				if strings.Contains(tried.Words, " "+base) {
					assert.NotContains(t, said, " "+base, "%s %s", typ.ID, d.Name)
					assert.Contains(t, said, other)
				}
			}
		}
	}
	assert.Greater(t, told, 100)
}

// TestATryThatWentWrong says its first finding; what cannot be read is not judged, and
// never told as if it had been.
func TestATryThatWentWrong(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	typ, _ := c.Type("alder-110")
	tell := func(name, reading string) compare.Tried {
		verdict, err := check.Run(name,
			[]byte(`{"aircraftType":"alder-110","reading":`+reading+`,"conditions":{"rules":"VFR","night":false}}`),
			c.Type)
		require.NoError(t, err)
		return compare.TriedOf(compare.LogEntry{
			Check: name, Item: name, Reading: json.RawMessage(reading), Verdict: verdict,
		}, typ)
	}
	low := tell("suction", `{"inHg":4.2}`)
	assert.Equal(t, check.Attend, low.State)
	assert.Equal(t,
		"suction 4.2 inHg (4.5 to 5.4 inHg): look again. Suction is 4.2 inHg; the lowest allowed is 4.5 inHg.",
		low.Words)
	static := tell("static-rpm", `{"rpm":2200}`)
	assert.Equal(t, check.Out, static.State)
	assert.Contains(t, static.Words, "static speed 2200 rpm (2250 to 2380 rpm): out of limits. ")
	unjudged := tell("magneto",
		`{"unit":"rpm","base":1500,"left":1450,"bothAfterLeft":1500,"right":1440,"bothAfterRight":1500,"roughLeft":false,"roughRight":false,"stoppedLeft":false,"stoppedRight":false}`)
	assert.Equal(t, check.Attend, unjudged.State)
	assert.True(t, strings.HasPrefix(unjudged.Words, "cannot be judged. "),
		"no number of a try that cannot be judged: %s", unjudged.Words)
	for _, broken := range []string{``, `{}`, `{"outcome":"splendid"}`, `[`} {
		assert.Equal(t, compare.Tried{State: check.Unjudged, Words: "not judged"},
			compare.TriedOf(compare.LogEntry{Check: "suction", Verdict: json.RawMessage(broken)}, typ))
	}
}
