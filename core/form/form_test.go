package form_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// TestDecodingByDeclaredFields: each kind takes what it is for; what it cannot
// take is named with its path and what it wants.
func TestDecodingByDeclaredFields(t *testing.T) {
	fields := []form.Field{
		{Name: "name", Kind: form.Text, Max: 5},
		{Name: "note", Kind: form.Text, Optional: true},
		{Name: "unit", Kind: form.Choice, Choices: []string{"rpm", "percent"}},
		{Name: "day", Kind: form.Day, Optional: true},
		{Name: "inner", Kind: form.Inner, Each: []form.Field{{Name: "kt", Kind: form.Number, Unit: "kt", Max: 99}}},
		{
			Name: "rows", Kind: form.Rows, AtMost: 2, Optional: true,
			Each: []form.Field{{Name: "s", Kind: form.Number, Unit: "s", Decimals: 1, Nullable: true}},
		},
	}
	decode := func(text string) (form.Record, error) {
		object, err := form.ParseObject([]byte(text))
		require.NoError(t, err)
		return form.RPM.Read("request", object, fields)
	}
	r, err := decode(`{"name":"a20","unit":"rpm","day":"2026-11-24","inner":{"kt":12.4},"rows":[{"s":1.25},{"s":null}]}`)
	require.NoError(t, err)
	assert.Equal(t, "a20", r.Text("name"))
	assert.Equal(t, "12", r.Sub("inner").Value("kt").String(), "brought to its resolution")
	assert.Equal(t, "1.3", r.Rows("rows")[0].Value("s").String())
	assert.False(t, r.Rows("rows")[1].Has("s"))
	assert.Empty(t, r.Sub("missing").Text("kt"), "what is not there is empty")
	for text, want := range map[string]string{
		`{"unit":"rpm","inner":{"kt":1}}`:                     "request.name is missing: text",
		`{"name":"","unit":"rpm","inner":{"kt":1}}`:           "request.name must be text of 1 to 5 bytes",
		`{"name":"too long","unit":"rpm","inner":{"kt":1}}`:   "request.name must be text of 1 to 5 bytes",
		`{"name":"a","note":7,"unit":"rpm","inner":{"kt":1}}`: "request.note must be text, not empty",
		`{"name":"a","unit":"mph","inner":{"kt":1}}`:          "request.unit must be one of rpm, percent",
		`{"name":"a","unit":"rpm","day":"24.11.2026","inner":{"kt":1}}`: "request.day must be a day such as " +
			"2026-11-24",
		`{"name":"a","unit":"rpm","inner":[1]}`:        "request.inner must be an object",
		`{"name":"a","unit":"rpm","inner":{}}`:         "request.inner.kt is missing: a number in kt",
		`{"name":"a","unit":"rpm","inner":{"kt":100}}`: "request.inner.kt may not be above 99: 100",
		`{"name":"a","unit":"rpm","inner":{"kt":-1}}`:  "request.inner.kt may not be below zero: -1",
		`{"name":"a","unit":"rpm","inner":{"kt":1,"x":2}}`: "request.inner.x is not known here; " +
			"allowed: kt",
		`{"name":"a","unit":"rpm","inner":{"kt":1},"rows":[{},{},{}]}`: "request.rows must be a list of 0 to 2 " +
			"entries, not 3",
		`{"name":"a","unit":"rpm","inner":{"kt":1},"rows":[{"s":"1 s"}]}`: "request.rows[0].s must be a number in s",
		`{"name":"a","unit":"rpm","inner":null}`:                          "request.inner may not be null here: an object",
		`{"name":"a","unit":"rpm","inner":{"kt":1e400}}`:                  "request.inner.kt",
		`{"name":"a","unit":"rpm","inner":{"kt":1},"colour":"red"}`:       "request.colour is not known here",
		`{"name":"a","unit":"rpm","inner":{"kt":1},"":0}`:                 "request has a field without a name",
		`{"name":"a","unit":"rpm","inner":{"kt":1},"` + strings.Repeat("x", 500) + `":0}`: "request." +
			strings.Repeat("x", 80) + "… is not known here",
		`{"name":"` + strings.Repeat("ä", 3) +
			`","unit":"rpm","inner":{"kt":1}}`: "request.name must be text of 1 to 5 bytes",
	} {
		_, err := decode(text)
		var input form.Problem
		if assert.ErrorAs(t, err, &input, text) {
			assert.Contains(t, err.Error(), want, text)
		}
	}
}

func TestWhatNestsTooDeepIsNotRead(t *testing.T) {
	deep := func(n int) []byte { return []byte(strings.Repeat(`{"a":`, n) + "1" + strings.Repeat("}", n)) }
	_, err := form.ParseObject(deep(form.MaxDepth))
	assert.NoError(t, err)
	_, err = form.ParseObject(deep(form.MaxDepth + 1))
	assert.EqualError(t, err, "request nests deeper than 64 levels")
	assert.Equal(t, 1, form.Depth([]byte(`{"a":"[[[[\\\"[[","b":1}`)), "brackets in a text are letters")
}

// engine is a form with every kind of box.
var engine = form.Form{Tachometer: form.Percent, Fields: []form.Field{
	{Name: "unit", Label: "in", Kind: form.Choice, Choices: []string{"rpm", "percent"}},
	{Name: "base", Label: "BOTH", Unit: form.Speed, Kind: form.Number},
	{Name: "stopped", Label: "stopped", Kind: form.Flag},
	{Name: "fired", Label: "it runs", Kind: form.Flag, Usual: true},
	{Name: "after", Label: "after", Unit: "s", Kind: form.Number, Nullable: true, NullWhen: []string{"stopped"}},
	{Name: "peak", Label: "peak", Unit: "rpm", Kind: form.Number, Optional: true, NullWhen: []string{"!fired"}},
	{Name: "on", Label: "day", Kind: form.Day, Optional: true},
	{
		Name: "tries", Label: "try", Kind: form.Rows, AtLeast: 1, AtMost: 3,
		Each: []form.Field{{Name: "crank", Label: "cranked", Unit: "s", Kind: form.Number}},
	},
}}

func TestWhatIsTypedBecomesAnObject(t *testing.T) {
	fresh := engine.Fresh()
	assert.Equal(t, form.Draft{"unit": "rpm", "stopped": false, "fired": true}, fresh)
	assert.Equal(t, []string{"base", "after", "tries.0.crank"}, engine.Build(fresh).Missing)

	draft := form.Draft{
		"unit": "percent", "base": " 070.50 ", "fired": true, "after!": true, "tries#": "2", "tries.0.crank": "4",
		"tries.1.crank": "-0.5", "on": "2026-11-24",
	}
	built := engine.Build(draft)
	require.True(t, built.Whole(), "%v", built)
	text, err := json.Marshal(built.Object)
	require.NoError(t, err)
	assert.JSONEq(t,
		`{"unit":"percent","base":70.50,"stopped":false,"fired":true,"after":null,"tries":[{"crank":4},{"crank":-0.5}],"on":"2026-11-24"}`, string(text))

	draft["base"], draft["tries.1.crank"], draft["stopped"], draft["fired"] = "12,500", "four", true, false
	built = engine.Build(draft)
	assert.Equal(t, map[string]string{
		"base":          "“12,500”: write 12500, or 12.500 with a point",
		"tries.1.crank": "“four” is not a plain number in s; write it like 12.5",
	}, built.Wrong)
	assert.Nil(t, built.Object["after"])
	assert.Contains(t, built.Object, "peak", "closed by its flag, it is said to be none")
}

// TestAUnitIsTyped behind a number: the box's own, or one that measures the same.
func TestAUnitIsTyped(t *testing.T) {
	f := form.Form{Fields: []form.Field{
		{Name: "oil", Label: "oil", Unit: "psi", Kind: form.Number, Decimals: 1},
		{Name: "oat", Label: "air", Unit: "°C", Kind: form.Number, Decimals: 1},
		{Name: "qnh", Label: "altimeter", Unit: "hPa", Kind: form.Number, Decimals: 2},
		{Name: "load", Label: "load", Unit: "percent", Kind: form.Number},
	}}
	for _, c := range []struct{ box, text, number, unit string }{
		{"oil", "51", "51", ""}, {"oil", "51 psi", "51", ""}, {"oil", "51PSI", "51", ""}, {"oil", "3.5 bar", "3.5", "bar"},
		{"oil", " 3,5bar ", "3.5", "bar"}, {"oat", "-4 °C", "-4", ""}, {"oat", "25 F", "25", "°F"},
		{"qnh", "1013", "1013", ""}, {"qnh", "29,80", "29.80", "inHg"}, {"qnh", "29.80 inHg", "29.80", "inHg"},
		{"load", "71 %", "71", ""}, {"oil", "1,25", "1.25", ""},
	} {
		built := f.Build(form.Draft{c.box: c.text})
		require.Empty(t, built.Wrong, c.text)
		want := any(json.Number(c.number))
		if c.unit != "" {
			want = form.Measured(json.Number(c.number), c.unit)
		}
		assert.Equal(t, want, built.Object[c.box], c.text)
	}
	for _, c := range [][2]string{
		{"oil", "51 °C"}, {"oil", "51 psi psi"}, {"oil", "psi"}, {"oil", "51 parsec"}, {"oat", "9,500"}, {"oat", "9,"},
		{"oat", "1,2,3"}, {"oil", "% 5"}, {"load", "71 psi"},
	} {
		assert.Contains(t, f.Build(form.Draft{c[0]: c[1]}).Wrong, c[0], c[1])
	}
	bar, err := quantity.Parse("3.5", 3)
	require.NoError(t, err)
	psi, err := quantity.Converted(bar, "bar", "psi")
	require.NoError(t, err)
	assert.Equal(t, "50.7632", psi.At(4).String(), "350,000 Pa by 6,894.757293168")
}

func TestBoxesFollowTheDeclaration(t *testing.T) {
	labels := func(f form.Form, d form.Draft) (out []string) {
		for _, b := range f.Boxes(d) {
			closed := ""
			if b.Closed {
				closed = " closed"
			}
			out = append(out, strings.TrimSpace(b.Path+" | "+b.Row+" | "+b.Label+" | "+b.Unit)+closed)
		}
		return out
	}
	assert.Equal(t,
		[]string{"unit |  | in |", "base |  | BOTH | percent", "stopped |  | stopped |", "fired |  | it runs |",
			"after |  | after | s closed", "peak |  | peak | rpm closed",
			"on |  | day |", "tries.0.crank | try 1 | cranked | s", "tries.1.crank | try 2 | cranked | s",
			"tries.2.crank | try 3 | cranked | s"},
		labels(engine, form.Draft{"tries#": "99", "stopped": true}), "no more rows than there may be")
	assert.Equal(t, []form.OpenRows{{Name: "tries", Label: "try", Open: 1, Most: 3}},
		engine.OpenRows(form.Draft{"tries#": "x"}))
	gauges := form.Form{
		Named: &form.Field{Kind: form.Named}, Names: []form.Name{{ID: "oil", Label: "oil pressure", Unit: "psi"}},
	}
	assert.Equal(t, []string{"oil |  | oil pressure | psi"}, labels(gauges, nil))
	gauges.Named = &form.Field{
		Kind: form.Named,
		Each: []form.Field{
			{Name: "left", Label: "left engine", Kind: form.Number},
			{Name: "right", Label: "right engine", Kind: form.Number},
		},
	}
	assert.Equal(t, []string{
		"oil.left | oil pressure | oil pressure, left engine | psi",
		"oil.right | oil pressure | oil pressure, right engine | psi",
	}, labels(gauges, nil))
	assert.Equal(t, map[string]any{"oil": map[string]any{"left": json.Number("60")}},
		gauges.Build(form.Draft{"oil.left": "60"}).Object)
}

// TestAnyTypingIsReadOrRefusedInWords: what comes out is a JSON number, and
// nothing that is refused is left unsaid.
func TestAnyTypingIsReadOrRefusedInWords(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.OneOf(rapid.String(), rapid.StringMatching(`-?[0-9]{0,4}[.,]?[0-9]{0,3}`)).Draw(t, "text")
		n, why := form.PlainNumber(text, "rpm")
		if why != "" {
			require.Empty(t, n)
			require.Contains(t, why, "“")
			return
		}
		require.True(t, json.Valid([]byte(n)), "%q became %q", text, n)
	})
}

func TestSchemaSaysWhatIsTaken(t *testing.T) {
	text, err := json.Marshal(form.Schema(engine.Fields))
	require.NoError(t, err)
	for _, want := range []string{`"required":["unit","base","stopped","fired","after","tries"]`,
		`"additionalProperties":false`, `"maxItems":3`, `"enum":["rpm","percent"]`,
		`"after":{"anyOf":[{"minimum":0,"type":"number"},{"type":"null"}],"description":"after, s"}`,
		`"base":{"description":"BOTH, rpm or percent"`} {
		assert.Contains(t, string(text), want)
	}
}

func TestObjectsKeepTheirOrder(t *testing.T) {
	const text = `{"z":1,"a":{"y":2.50,"b":[1]},"m":null}`
	var o form.Object
	require.NoError(t, json.Unmarshal([]byte(text), &o))
	again, err := json.Marshal(o)
	require.NoError(t, err)
	assert.Equal(t, text, string(again))
	assert.Equal(t, json.RawMessage("1"), o.Get("z"))
	assert.Nil(t, o.Get("q"))
	assert.Error(t, json.Unmarshal([]byte(`[1]`), &o))
}
