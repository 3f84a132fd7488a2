package check_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
)

// TestDecodingByDeclaredFields: each kind takes what it is for; what it cannot
// take is named with its path and what it wants.
func TestDecodingByDeclaredFields(t *testing.T) {
	fields := []check.Field{
		{Name: "name", Kind: check.Text, Max: 5},
		{Name: "note", Kind: check.Text, Optional: true},
		{Name: "unit", Kind: check.Choice, Choices: []string{"rpm", "percent"}},
		{Name: "day", Kind: check.Day, Optional: true},
		{Name: "inner", Kind: check.Inner, Each: []check.Field{{Name: "kt", Kind: check.Number, Unit: "kt", Max: 99}}},
		{Name: "rows", Kind: check.Rows, AtMost: 2, Optional: true, Each: []check.Field{{Name: "s", Kind: check.Number, Unit: "s", Decimals: 1, Nullable: true}}},
	}
	decode := func(text string) (check.Record, error) {
		object, err := check.ParseObject([]byte(text))
		require.NoError(t, err)
		return check.Decode("request", object, fields)
	}
	r, err := decode(`{"name":"a20","unit":"rpm","day":"2026-11-24","inner":{"kt":12.4},"rows":[{"s":1.25},{"s":null}]}`)
	require.NoError(t, err)
	assert.Equal(t, "a20", r.Text("name"))
	assert.Equal(t, "12", r.Sub("inner").Value("kt").String(), "brought to its resolution")
	assert.Equal(t, "1.3", r.Rows("rows")[0].Value("s").String())
	assert.False(t, r.Rows("rows")[1].Has("s"))
	assert.Empty(t, r.Sub("missing").Text("kt"), "what is not there is empty")
	for text, want := range map[string]string{
		`{"unit":"rpm","inner":{"kt":1}}`:                                         "request.name is missing: text",
		`{"name":"","unit":"rpm","inner":{"kt":1}}`:                               "request.name must be text of 1 to 5 bytes",
		`{"name":"too long","unit":"rpm","inner":{"kt":1}}`:                       "request.name must be text of 1 to 5 bytes",
		`{"name":"a","note":7,"unit":"rpm","inner":{"kt":1}}`:                     "request.note must be text, not empty",
		`{"name":"a","unit":"mph","inner":{"kt":1}}`:                              "request.unit must be one of rpm, percent",
		`{"name":"a","unit":"rpm","day":"24.11.2026","inner":{"kt":1}}`:           "request.day must be a day such as 2026-11-24",
		`{"name":"a","unit":"rpm","inner":[1]}`:                                   "request.inner must be an object",
		`{"name":"a","unit":"rpm","inner":{}}`:                                    "request.inner.kt is missing: a number in kt",
		`{"name":"a","unit":"rpm","inner":{"kt":100}}`:                            "request.inner.kt may not be above 99: 100",
		`{"name":"a","unit":"rpm","inner":{"kt":-1}}`:                             "request.inner.kt may not be below zero: -1",
		`{"name":"a","unit":"rpm","inner":{"kt":1,"x":2}}`:                        "request.inner.x is not known here; allowed: kt",
		`{"name":"a","unit":"rpm","inner":{"kt":1},"rows":[{},{},{}]}`:            "request.rows must be a list of 0 to 2 entries, not 3",
		`{"name":"a","unit":"rpm","inner":{"kt":1},"rows":[{"s":"1 s"}]}`:         "request.rows[0].s must be a number in s",
		`{"name":"a","unit":"rpm","inner":null}`:                                  "request.inner may not be null here: an object",
		`{"name":"a","unit":"rpm","inner":{"kt":1e400}}`:                          "request.inner.kt",
		`{"name":"a","unit":"rpm","inner":{"kt":1},"colour":"red"}`:               "request.colour is not known here",
		`{"name":"` + strings.Repeat("ä", 3) + `","unit":"rpm","inner":{"kt":1}}`: "request.name must be text of 1 to 5 bytes",
	} {
		_, err := decode(text)
		var input *check.InputError
		if assert.ErrorAs(t, err, &input, text) {
			assert.Contains(t, err.Error(), want, text)
		}
	}
}

// TestLimitsOfATypeAreWhole: what is missing, unknown or crossed is listed
// under its check.
func TestLimitsOfATypeAreWhole(t *testing.T) {
	faults := check.LimitFaults(aircraft.Type{Limits: map[string]map[string]any{
		"idle": {"min": 550, "max": 750, "seconds": 5}, "suction": {"min": 5.4, "max": 4.5}, "static-rpm": {"min": 2200}, "song": {},
		"gauges": {"oilPressure": map[string]any{"min": 25, "max": 20}}}})
	var said []string
	for _, f := range faults {
		said = append(said, f.Path+" "+f.Reason)
	}
	require.Len(t, said, 4)
	for i, want := range []string{"$.limits.gauges", "$.limits.song check \"song\" is not known", "$.limits.static-rpm limits.max is missing", "$.limits.suction limits.min (5.4) is above max (4.5)"} {
		assert.Contains(t, said[i], want)
	}
}

// TestUsualFindingsHaveTheirCauses: around its limits a check shows its
// findings, once each, with what lies behind them.
func TestUsualFindingsHaveTheirCauses(t *testing.T) {
	typ := aircraft.Type{ID: "x", Name: "X", Engines: 1, LeanOnGround: true, Limits: map[string]map[string]any{
		"suction": {"min": 4.5, "max": 5.4}, "hydraulics": {}}}
	var codes []string
	for _, u := range append(check.UsualFindings("suction", typ), check.UsualFindings("hydraulics", typ)...) {
		codes = append(codes, u.Code)
		assert.NotEmpty(t, u.Causes, u.Code)
		assert.NotEmpty(t, u.Actions, u.Code)
	}
	assert.Equal(t, []string{"suction-low", "suction-high", "assist-stays-on", "no-assist", "pulls"}, codes)
	readings, _ := check.Edges("suction", typ)
	assert.Len(t, readings, 1+1+6, "sound, missing, three around each limit")
	none, _ := check.Edges("magneto", typ)
	assert.Empty(t, none)
}
