package exchange_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/exchange"
	"jetprimer/internal/parsertest"
)

// line draws a text that can stand on one line: words of any script, marks
// that mean something to YAML, CSV or Markdown among them.
var line = rapid.Custom(func(t *rapid.T) string {
	s := rapid.StringOfN(rapid.OneOf(
		rapid.RuneFrom([]rune(`abcXYZ 0123456789,;:"'#-*|{}[]()&!%@<>=?\/`+"`~_–—…°äéßЖ漢🛩")),
		rapid.Rune()), 0, 24, -1).Draw(t, "text")
	s = strings.Map(func(r rune) rune {
		if r < ' ' || r >= 0x7f && r < 0xa0 || r == 0xfeff || r == 0x2028 || r == 0x2029 || r == 0xfffd {
			return -1
		}
		return r
	}, s)
	return strings.TrimSpace(s)
})

func filled(t *rapid.T, label string) string {
	return line.Filter(func(s string) bool { return s != "" }).Draw(t, label)
}

var anyID = rapid.StringMatching(`[a-z][a-z0-9-]{0,12}[a-z0-9]`)

func lines(t *rapid.T, label string) []string {
	out := rapid.SliceOfN(line.Filter(func(s string) bool { return s != "" }), 0, 3).Draw(t, label)
	if len(out) == 0 {
		return nil
	}
	return out
}

// item draws an item; before are ids that may come before it.
func item(t *rapid.T, id string, before []string) checklist.Item {
	i := checklist.Item{ID: id, Challenge: filled(t, "challenge"), Response: filled(t, "response"),
		Why:  filled(t, "why"),
		Look: line.Draw(t, "look"), Abnormal: line.Draw(t, "abnormal"), Errors: lines(t, "errors"),
		Place: line.Draw(t, "place"),
		When: rapid.SampledFrom([]string{"", "night", "oat < 5 °C", "fitted(autopilot) and not engine is hot"}).Draw(t,
			"when"),
		Per:      rapid.SampledFrom([]string{"", "each", "block"}).Draw(t, "per"),
		Critical: rapid.Bool().Draw(t, "critical"),
		Caution:  line.Draw(t, "caution"), Check: rapid.SampledFrom([]string{"", "magneto", "gauges"}).Draw(t, "check"),
		Needs: lines(t, "needs"), Power: rapid.SampledFrom([]string{"", "idle"}).Draw(t, "power"),
		LimitFrom: rapid.SampledFrom([]string{"", "power-limit"}).Draw(t, "limit from"),
		Timers:    lines(t, "timers"), Elements: lines(t, "elements"), Knowledge: lines(t, "knowledge")}
	if i.Per == "block" {
		i.Only = rapid.SampledFrom([]string{"", "first", "second"}).Draw(t, "only")
	}
	if i.Check == "gauges" {
		i.Gauges = lines(t, "gauges")
	}
	if len(i.Elements)+len(i.Knowledge) == 0 {
		i.NoStandard = line.Draw(t, "no standard")
	}
	if len(before) > 0 && rapid.Bool().Draw(t, "ordered") {
		i.After = []string{rapid.SampledFrom(before).Draw(t, "after")}
		i.Closes = rapid.SampledFrom(append(before, "")).Draw(t, "closes")
	}
	return i
}

var anyList = rapid.Custom(func(t *rapid.T) checklist.List {
	l := checklist.List{ID: anyID.Draw(t, "id"), Title: filled(t, "title"),
		Version:      rapid.IntRange(1, 99).Draw(t, "version"),
		AircraftType: anyID.Draw(t, "type"), Source: filled(t, "source")}
	var before []string
	for p := range rapid.IntRange(1, 4).Draw(t, "phases") {
		phase := checklist.Phase{ID: fmt.Sprintf("p%d", p), Title: filled(t, "phase")}
		for range rapid.IntRange(1, 4).Draw(t, "items") {
			id := fmt.Sprintf("i%d", len(before))
			phase.Items = append(phase.Items, item(t, id, before))
			before = append(before, id)
		}
		l.Phases = append(l.Phases, phase)
	}
	return l
})

var anyLayer = rapid.Custom(func(t *rapid.T) checklist.Layer {
	l := checklist.Layer{ID: anyID.Draw(t, "id"), Title: filled(t, "title"),
		Version: rapid.IntRange(1, 9).Draw(t, "version"),
		Rank:    rapid.SampledFrom(checklist.Ranks).Draw(t, "rank"), AircraftType: anyID.Draw(t, "type"),
		Source: filled(t, "source"),
		Date:   "2026-11-24", Author: filled(t, "author"), Approval: line.Draw(t, "approval")}
	for n := range rapid.IntRange(1, 3).Draw(t, "changes") {
		c := checklist.Change{Why: filled(t, "why"), When: rapid.SampledFrom([]string{"", "night"}).Draw(t, "when")}
		switch c.Op = rapid.SampledFrom([]string{checklist.OpAdd, checklist.OpChange, checklist.OpDrop}).Draw(t,
			"op"); c.Op {
		case checklist.OpAdd:
			one := item(t, fmt.Sprintf("new%d", n), nil)
			c.New, c.Phase, c.Follows = &one, "p0", "i0"
		case checklist.OpChange:
			c.Item, c.Set = fmt.Sprintf("i%d", n), map[string]any{
				"response": filled(t, "response"), "critical": rapid.Bool().Draw(t, "critical"),
			}
		default:
			c.Item = fmt.Sprintf("i%d", n)
		}
		l.Changes = append(l.Changes, c)
	}
	return l
})

var anyAid = rapid.Custom(func(t *rapid.T) checklist.Aid {
	a := checklist.Aid{
		ID: anyID.Draw(t, "id"), Title: filled(t, "title"), Version: 1, AircraftType: anyID.Draw(t, "type"),
		Phase: anyID.Draw(t, "phase"), Source: filled(t, "source"),
	}
	for range rapid.IntRange(1, 5).Draw(t, "letters") {
		a.Letters = append(a.Letters, checklist.Letter{
			Letter: filled(t, "letter"), Word: filled(t, "word"), Items: lines(t, "items"),
		})
	}
	return a
})

// same writes a document, reads it again and demands the same; then writes it
// once more and demands the same bytes.
func same[T exchange.Document](t require.TestingT, doc T) {
	for _, format := range []string{"yaml", "json"} {
		data, err := exchange.Write(doc, format)
		require.NoError(t, err)
		again, mistakes := exchange.Read[T]("round-trip", data)
		require.Empty(t, mistakes, "%s", data)
		require.Equal(t, asJSON(doc), asJSON(again), "%s", data)
		twice, err := exchange.Write(again, format)
		require.NoError(t, err)
		require.Equal(t, string(data), string(twice))
	}
}

func asJSON(doc any) string {
	data, _ := json.Marshal(doc)
	return string(data)
}

func TestListsComeBackTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) { same(t, anyList.Draw(t, "list")) })
}

func TestLayersComeBackTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) { same(t, anyLayer.Draw(t, "layer")) })
}

func TestMemoryAidsComeBackTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) { same(t, anyAid.Draw(t, "aid")) })
}

func TestTablesComeBackTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		list := anyList.Draw(t, "list")
		data, err := exchange.WriteTable(list)
		require.NoError(t, err)
		again, mistakes := exchange.ReadTable("table.csv", data)
		require.Empty(t, mistakes, "%s", data)
		require.Equal(t, list.Phases, again.Phases, "%s", data)
	})
}

func TestTaskListsComeBackTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		list := anyList.Draw(t, "list")
		data := exchange.WriteMarkdown(list)
		again, mistakes := exchange.ReadMarkdown("list.md", data)
		require.Empty(t, mistakes, "%s", data)
		require.Equal(t, list, again, "%s", data)
	})
}

// TestShippedDataComesBackTheSame: every type and list that ships keeps to its
// schema and survives every format.
func TestShippedDataComesBackTheSame(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, typ := range c.Types {
		same(t, typ)
	}
	for _, list := range c.Lists {
		same(t, list)
		again, mistakes := exchange.ReadMarkdown("list.md", exchange.WriteMarkdown(list))
		require.Empty(t, mistakes)
		require.Equal(t, asJSON(list), asJSON(again))
	}
	for _, pack := range c.Packs {
		same(t, pack)
	}
}

func TestSchemaMistakesHaveTheirLines(t *testing.T) {
	_, mistakes := exchange.Read[checklist.List]("mine.yaml",
		[]byte("id: x\ntitle: 7\nversion: one\nphases:\n  - id: p\n    title: P\n    items:\n      - {id: a, "+
			"challenge: A, response: B, why: C, colour: red}\n"))
	var said strings.Builder
	for _, m := range mistakes {
		fmt.Fprintln(&said, m.Error())
	}
	for _, want := range []string{
		"mine.yaml:2: title expected string", "mine.yaml:3: version expected integer",
		"expected required property aircraftType", "mine.yaml:8: phases[0].items[0].colour unexpected property",
	} {
		assert.Contains(t, said.String(), want)
	}
	_, mistakes = exchange.Read[aircraft.Type]("t.json", []byte(`{"id": "x", "limits": {"magneto": {"dropMax": -3}}}`))
	assert.NotEmpty(t, mistakes)
	_, mistakes = exchange.Read[checklist.Aid]("a.yaml", []byte("id: [\n"))
	require.Len(t, mistakes, 1)
	assert.Equal(t, 1, mistakes[0].Line)
}

// TestFilesThatWouldGrowWithoutEndAreRefused: a few lines that stand for more
// than any memory holds, and more mistakes than a person reads.
func TestFilesThatWouldGrowWithoutEndAreRefused(t *testing.T) {
	bomb := "a: &a [x, x, x, x, x, x, x, x, x, x]\n"
	for c := 'b'; c <= 'k'; c++ {
		bomb += fmt.Sprintf("%c: &%c [*%c, *%c, *%c, *%c, *%c, *%c, *%c, *%c]\n", c, c, c-1, c-1, c-1, c-1, c-1, c-1,
			c-1, c-1)
	}
	_, mistakes := exchange.Read[checklist.List]("bomb.yaml", []byte(bomb))
	assert.ErrorContains(t, exchange.Join(mistakes), "line 2 uses a part again by an alias")
	many := "id: x\ntitle: X\nversion: 1\naircraftType: a\nsource: s\nphases:\n  - id: p\n    title: P\n    items:\n" +
		strings.Repeat("      - {id: a, challenge: A, response: B}\n", 3000)
	_, mistakes = exchange.Read[checklist.List]("many.yaml", []byte(many))
	assert.Len(t, mistakes, 201)
	assert.Equal(t, "has more mistakes, which are not listed", mistakes[200].Reason)
}

func TestPlainTablesAreRead(t *testing.T) {
	list, mistakes := exchange.ReadTable("t.csv",
		[]byte("\ufeffPhase\tChallenge\tResponse\tCritical\tErrors\nStart\tMaster\ton\tx\t\n\t\t\t\t\nStart\tFuel "+
			"pump\ton\t\t\"forgets it\nleaves it on\"\nTaxi\tBrakes\ttried\tno\t\n"))
	require.Empty(t, mistakes)
	assert.Equal(t, []checklist.Phase{
		{ID: "start", Title: "Start",
			Items: []checklist.Item{{ID: "master", Challenge: "Master", Response: "on", Critical: true},
				{ID: "fuel-pump", Challenge: "Fuel pump", Response: "on",
					Errors: []string{"forgets it", "leaves it on"}}}},
		{ID: "taxi", Title: "Taxi", Items: []checklist.Item{{ID: "brakes", Challenge: "Brakes", Response: "tried"}}},
	}, list.Phases)
	for table, want := range map[string]string{
		"":                    "t.csv:1: has no row of column names",
		"challenge\nMaster\n": `t.csv:1: has no column "response"`,
		"challenge,response,colour\nMaster,on,r\n": `t.csv:1: column "colour" is not known`,
		"challenge,response\nMaster,on,more\n":     "t.csv:2: has more cells than there are columns",
		"challenge,response,critical\nA,b,maybe\n": `t.csv:2: critical must be yes or no, not "maybe"`,
		"challenge,response\n\"A,b\n":              "t.csv:2: ",
		"challenge,response\n":                     "t.csv:0: has no row with an item",
		"challenge,response\n\xff,b\n":             "is not UTF-8 text",
	} {
		_, mistakes := exchange.ReadTable("t.csv", []byte(table))
		require.NotEmpty(t, mistakes, table)
		assert.Contains(t, mistakes[0].Error(), want, table)
	}
}

func TestTaskListsOfOthersAreRead(t *testing.T) {
	list, mistakes := exchange.ReadMarkdown("l.md", []byte(`# Morning list

Some words that are no task.

## Before start

- [ ] Brakes: set
* [x] Fuel ........ both tanks
- [ ] Belts

1. [ ] Doors – closed
  - why: they open in flight
`))
	require.Empty(t, mistakes)
	assert.Equal(t, "Morning list", list.Title)
	require.Len(t, list.Phases, 1)
	var got []string
	for _, i := range list.Phases[0].Items {
		got = append(got, i.ID+"|"+i.Challenge+"|"+i.Response+"|"+i.Why)
	}
	assert.Equal(t, []string{
		"brakes|Brakes|set|", "fuel|Fuel|both tanks|", "belts|Belts||", "doors|Doors|closed|they open in flight",
	}, got)
	_, mistakes = exchange.ReadMarkdown("l.md", []byte("## A\n- [ ] B: c\n  - colour: red\n"))
	assert.ErrorContains(t, exchange.Join(mistakes), `l.md:3: "colour" is no field of an item`)
	_, mistakes = exchange.ReadMarkdown("l.md", []byte("# Only a title\n"))
	assert.ErrorContains(t, exchange.Join(mistakes), "has no task")
}

// TestTheDocsShowTheSchemas: what docs/formats.md prints is what holds. Set
// UPDATE_GOLDEN=1 to write the blocks anew.
func TestTheDocsShowTheSchemas(t *testing.T) {
	const file = "../docs/formats.md"
	text, err := os.ReadFile(file)
	require.NoError(t, err)
	for _, kind := range []string{"type", "list", "layer", "aid", "pack", "scenario"} {
		want, err := exchange.Schema(kind)
		require.NoError(t, err)
		block := regexp.MustCompile("(?s)<!-- schema " + kind + " -->\n```json\n.*?\n```")
		require.Regexp(t, block, string(text), "docs/formats.md has no schema of a %s", kind)
		shown := fmt.Sprintf("<!-- schema %s -->\n```json\n%s\n```", kind, bytes.TrimSpace(want))
		if os.Getenv("UPDATE_GOLDEN") != "" {
			text = block.ReplaceAllLiteral(text, []byte(shown))
			require.NoError(t, os.WriteFile(file, text, 0o644))
		}
		assert.Contains(t, string(text), shown)
	}
	_, err = exchange.Schema("song")
	assert.ErrorContains(t, err, `"song" has no schema`)
}

func FuzzRead(f *testing.F) {
	c, err := catalog.Shipped()
	require.NoError(f, err)
	data, err := exchange.Write(c.Types[0], "yaml")
	require.NoError(f, err)
	f.Add(data)
	f.Add([]byte("id: x\nrank: school\nchanges: [{op: add, new: {id: a}}]\n"))
	f.Add([]byte(`{"id":"x","tasks":[{"elements":[{}]}]}`))
	f.Add([]byte(strings.Repeat("[", 100_000)))
	f.Add([]byte(strings.Repeat(`{"phases":[`, 20_000)))
	f.Fuzz(func(t *testing.T, data []byte) {
		for _, format := range []string{"yaml", "json"} {
			parsertest.Run(t, data, func() { _, _, _ = exchange.ReadFile("list", format, "f", data) })
		}
		if doc, mistakes := exchange.Read[aircraft.Type]("f", data); len(mistakes) == 0 {
			require.Empty(t, doc.Problems())
		}
		if doc, mistakes := exchange.Read[checklist.List]("f", data); len(mistakes) == 0 {
			same(t, doc)
		}
		if doc, mistakes := exchange.Read[checklist.Layer]("f", data); len(mistakes) == 0 {
			require.Empty(t, doc.Problems())
		}
		if doc, mistakes := exchange.Read[checklist.Aid]("f", data); len(mistakes) == 0 {
			same(t, doc)
		}
	})
}

func FuzzReadTable(f *testing.F) {
	f.Add([]byte("phase,challenge,response,errors\nStart,Master,on,\"a\nb\"\n"))
	f.Add([]byte("challenge;response\nA;b\n;\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		var list checklist.List
		var mistakes []form.Problem
		parsertest.Run(t, data, func() { list, mistakes = exchange.ReadTable("f", data) })
		if len(mistakes) > 0 {
			return
		}
		again, err := exchange.WriteTable(list)
		require.NoError(t, err)
		twice, mistakes := exchange.ReadTable("f", again)
		require.Empty(t, mistakes, "%s", again)
		require.Equal(t, asJSON(list.Phases), asJSON(twice.Phases), "%s", again)
	})
}

func FuzzReadMarkdown(f *testing.F) {
	f.Add([]byte("# T\n## P {#p}\n- [ ] A — b\n  - id: x\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		var list checklist.List
		var mistakes []form.Problem
		parsertest.Run(t, data, func() { list, mistakes = exchange.ReadMarkdown("f", data) })
		if len(mistakes) == 0 {
			require.NotEmpty(t, list.Phases)
		}
	})
}

// TestTextsLikeNumbersStayTexts: whatever a parser might take for a number comes
// back as the text that it was, and numbers as numbers.
func TestTextsLikeNumbersStayTexts(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	list, _ := c.ListFor("alder-110")
	texts := []string{
		"._3", "_3", "3_0", "0x1F", "0o17", "1e3", "1.5", "+1", "-.5", ".5", "12:30", "1_000.5", "0b1", "1e", "e1",
		"2026-11-26", "~", "null", "true", "yes", ".inf", ".nan", "#", "- a", "a: b",
	}
	list.Phases[0].Items[0].Timers = texts
	data, err := exchange.Write(list, "yaml")
	require.NoError(t, err)
	back, mistakes := exchange.Read[checklist.List]("list.yaml", data)
	require.Empty(t, mistakes)
	assert.Equal(t, texts, back.Phases[0].Items[0].Timers)
}
