package check

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// strobe is a check that this file alone declares.
var strobe = Definition{
	Name: "strobe", Title: "Strobe rate", Rule: "Flashes are counted over a minute.",
	Fields: []form.Field{
		{
			Name: "flashes", Label: "flashes a minute", Unit: "/min", Kind: form.Number, Taken: form.Timed,
			Timer: "minute", Step: 1,
		},
		{Name: "bright", Label: "bright", Kind: form.Flag, Taken: form.Watched, Usual: true},
	},
	Limits: []form.Field{{Name: "min", Label: "at least", Unit: "/min", Kind: form.Number}},
	Scales: []Scale{
		{Label: "short of it", Unit: "/min", Of: "short", Computed: true, High: "min"},
		{Label: "flashes", Unit: "/min", Of: "flashes", Low: "min"},
	},
	Causes: []Cause{bulb}, Actions: orderedActions(groundAircraft, changeBulb),
	example: func(s sample) map[string]any { return object("flashes", s.limit("min")+5, "bright", true) },
	judge: func(in input, out *sheet) {
		n, least := in.reading.Value("flashes"), in.limits.Value("min")
		out.value("short", least.Sub(n))
		if n.Below(least) {
			out.add(Caution, Recheck, "strobe-slow", "",
				"The strobe flashes %s times a minute; at least %s are needed.", n, least).because(bulb).do(changeBulb)
		}
	},
}

var (
	bulb       = because("bulb", "The bulb or its supply.")
	changeBulb = do(131, "change-bulb", "Change the bulb.")
)

// TestACheckIsOneFile: declared here and listed in the table, a check has its
// entry form, its tiles, its page in the reference, its schema and its place
// in the golden run.
func TestACheckIsOneFile(t *testing.T) {
	before := table
	table = append(All(), strobe)
	t.Cleanup(func() { table = before })
	typ := aircraft.Type{ID: "x", Name: "X", Engines: 1, Limits: map[string]map[string]any{"strobe": {"min": 40}}}
	at := Station{Type: typ, Attempt: 1}
	def, ok := Find("strobe")
	require.True(t, ok)

	draft := def.Fresh(at)
	assert.Equal(t, form.Draft{"bright": true}, draft)
	draft["flashes"] = "33"
	seen := def.Fill(at, draft)
	require.True(t, seen.Whole())
	assert.Equal(t, "minute", seen.Boxes[0].Timer)
	assert.Equal(t, Attend, seen.State)
	assert.Equal(t, "Look again: test again", seen.Words)
	assert.Equal(t, []Tile{{Label: "short of it", Value: "7", Limit: "of 40 /min", State: Within, Words: "within"}},
		seen.Tiles)
	require.Len(t, seen.Strips, 1)
	assert.Equal(t, 33.0, *seen.Strips[0].Value)
	assert.Equal(t, 40.0, *seen.Strips[0].Min)
	assert.Equal(t, []Action{{Code: "change-bulb", Message: "Change the bulb."}}, seen.Verdict.Actions)
	draft["flashes"] = "3x"
	assert.Nil(t, def.Fill(at, draft).Verdict)

	reading, _, ok := Example("strobe", typ, nil, 0)
	require.True(t, ok)
	assert.Equal(t, Within, def.Show(at, reading).State)
	usual := UsualFindings("strobe", typ, quantity.Units{})
	require.Len(t, usual, 1)
	assert.Equal(t, "strobe-slow", usual[0].Code)

	schema, err := json.Marshal(Schemas()["strobe"])
	require.NoError(t, err)
	assert.Contains(t, string(schema), `"flashes":{"description":"flashes a minute, /min"`)
	corpus := Corpus([]aircraft.Type{typ})
	require.Greater(t, len(corpus), 4)
	for _, c := range corpus {
		assert.Equal(t, "strobe", c.Check)
		assert.Contains(t, string(c.Request), `"flashes"`)
	}
}

// TestEveryCodeHasItsText: each cause and action that a check can name is
// declared with it, as a sentence, under one text.
func TestEveryCodeHasItsText(t *testing.T) {
	actions := map[string]string{}
	for _, d := range table {
		require.NotNil(t, d.example, d.Name)
		for _, c := range d.Causes {
			assert.Regexp(t, `^[A-Z%].*\.$`, c.Message, "%s %s", d.Name, c.Code)
			assert.Regexp(t, `^[a-z]+(-[a-z]+)*$`, c.Code)
		}
		for _, a := range d.Actions {
			assert.Regexp(t, `^[A-Z].*\.$`, a.Message, "%s %s", d.Name, a.Code)
			// An engine with lanes has no mixture to cut off; a start has its own numbers to write down.
			ownWords := d.Name == lanes.Name && a.Code == throttleIdleLanesOff.code || d.Name == gauges.Name &&
				a.Code == recordRating.code
			if known := actions[a.Code]; known != "" && !ownWords {
				assert.Equal(t, known, a.Message, a.Code)
			}
			if !ownWords {
				actions[a.Code] = a.Message
			}
		}
		assert.LessOrEqual(t, strings.Count(d.Rule, "\n"), 0)
	}
}

// namesOnly asserts that a verdict names nothing that its check does not
// declare. Fuzzing and property tests call it on whatever they make.
func namesOnly(t require.TestingT, v Verdict) {
	def, _ := Find(v.Check)
	for _, c := range v.Causes {
		require.Contains(t, codes(def.Causes), c.Code, "%s names a cause that it does not declare", v.Check)
	}
	for _, a := range v.Actions {
		declared := slices.ContainsFunc(def.Actions, func(d Action) bool {
			return d.Code == a.Code &&
				(d.Message == a.Message || milder[a.Message] ||
					slices.ContainsFunc(d.instead, func(v variant) bool { return v.message == a.Message }))
		})
		require.True(t, declared, "%s names an action that it does not declare: %v", v.Check, a)
	}
}

// milder are the ways of saying an action that some of a check's findings have
// for themselves.
var milder = map[string]bool{shutDownUnlessItFalls.message: true, shutDownNormally.message: true}

func codes(causes []Cause) (out []string) {
	for _, c := range causes {
		out = append(out, c.Code)
	}
	return out
}

// NamesOnly is namesOnly for the tests outside the package.
var NamesOnly = namesOnly
