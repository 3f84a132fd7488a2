package exchange_test

import (
	"encoding/json"
	"fmt"
	"runtime"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/exchange"
)

// bombs are files that are small, and would grow without end in a parser that
// does not count first.
var bombs = map[string]struct{ kind, format, text, want string }{
	"brackets as YAML":   {"list", "yaml", strings.Repeat("[", 100_000), "nests deeper than 64 levels"},
	"brackets as JSON":   {"list", "json", `{"a":` + strings.Repeat("[", 200_000), "nests deeper than 64 levels"},
	"braces as YAML":     {"list", "yaml", strings.Repeat("{a: ", 50_000), "nests deeper than 64 levels"},
	"dashes on one line": {"list", "yaml", strings.Repeat("- ", 100_000), "nests deeper than 64 levels"},
	"blocks ever deeper": {"list", "yaml", stairs(3000), "nests deeper than 64 levels"},
	"many values in a line": {
		"list", "yaml", "a: [" + strings.Repeat("1,\n", 2_000_000) + "1]", "holds more than 60000 values",
	},
	"many values as JSON": {
		"list", "json", `{"a":[` + strings.Repeat("1,", 2_000_000) + "1]}", "holds more than 60000 values",
	},
	"many lines":           {"list", "yaml", strings.Repeat("a: 1\n", 1_500_000), "holds more than 60000 values"},
	"many documents":       {"list", "yaml", strings.Repeat("a: 1\n---\n", 10_000), "holds several documents"},
	"5,000 unknown fields": {"list", "json", unknown(5000), "unexpected property"},
	"too many bytes":       {"list", "yaml", "a: " + strings.Repeat("x", 9<<20), "are allowed"},
	"a long text":          {"list", "yaml", "title: " + strings.Repeat("x", 7<<20), "in line 1"},
	"a table of repeated words": {
		"list", "csv", "challenge,response\n" + strings.Repeat("Fuel,on\n", 900_000), "has more than 5000 rows",
	},
	"a table of headings":      {"list", "csv", strings.Repeat("a,", 3_000_000), "has more than 262144 bytes"},
	"a table of many headings": {"list", "csv", strings.Repeat("a,", 3_000), "columns; 64 are allowed"},
	"a table of bad cells": {
		"list", "csv", "challenge,response,critical\n" + strings.Repeat("a,b,maybe\n", 4_000),
		"critical must be yes or no",
	},
	"a text of headings": {"list", "markdown", strings.Repeat("# a\n", 1_500_000), "headings and tasks"},
	"a text of tasks":    {"list", "markdown", strings.Repeat("- [ ] Fuel — on\n", 400_000), "headings and tasks"},
	"a text of wrong fields": {
		"list", "markdown", "# L\n- [ ] Fuel — on\n" + strings.Repeat("  - colour: red\n", 300_000),
		"is no field of an item",
	},
}

func stairs(n int) string {
	var b strings.Builder
	for i := range n {
		b.WriteString(strings.Repeat(" ", i) + "a:\n")
	}
	return b.String()
}

func unknown(n int) string {
	fields := map[string]any{"id": "x"}
	for i := range n {
		fields[fmt.Sprintf("field%d", i)] = strings.Repeat("v", 500)
	}
	out, _ := json.Marshal(fields)
	return string(out)
}

// TestNoFileGrowsWithoutEnd: each is refused in words that a person reads to
// the end, and for little memory.
func TestNoFileGrowsWithoutEnd(t *testing.T) {
	for name, b := range bombs {
		var before, after runtime.MemStats
		runtime.GC()
		runtime.ReadMemStats(&before)
		_, mistakes, err := exchange.ReadFile(b.kind, b.format, "file", []byte(b.text))
		runtime.ReadMemStats(&after)
		require.NoError(t, err, name)
		require.NotEmpty(t, mistakes, name)
		assert.LessOrEqual(t, len(mistakes), 201, name)
		var said []string
		for _, m := range mistakes {
			said = append(said, m.Reason)
			assert.Less(t, len(m.Reason), 1000, name)
		}
		assert.Contains(t, strings.Join(said, "\n"), b.want, name)
		assert.Less(t, after.TotalAlloc-before.TotalAlloc, uint64(200<<20), "%s: bytes allocated in all", name)
	}
}

// TestCellsAreHarmless: what a spreadsheet would run is text, and comes back as
// it was.
func TestCellsAreHarmless(t *testing.T) {
	for text, want := range map[string]string{
		"=1+1": "'=1+1", "+49": "'+49", "-3": "'-3", "@x": "'@x", "'=x": "''=x", "'tis": "'tis", "on": "on", "": "",
		"\tx": "'\tx",
	} {
		assert.Equal(t, want, exchange.Cell(text), text)
	}
	list, mistakes := exchange.ReadTable("t", []byte("challenge,response\n=cmd(),@off\n"))
	require.Empty(t, mistakes)
	out, err := exchange.WriteTable(list)
	require.NoError(t, err)
	assert.Contains(t, string(out), "'=cmd(),'@off")
	again, mistakes := exchange.ReadTable("t", out)
	require.Empty(t, mistakes)
	assert.Equal(t, list, again)
}

// TestMistakesInJSONHaveTheirLines: read by the standard library, they are
// found all the same.
func TestMistakesInJSONHaveTheirLines(t *testing.T) {
	text := "{\n \"id\": \"l\", \"title\": \"L\", \"version\": 1,\n \"aircraftType\": \"a\", \"source\": \"s\",\n " +
		"\"phases\": [\n  {\"id\": \"p\", \"title\": \"P\",\n   \"items\": [{\"id\": 7}]}]\n}"
	_, mistakes, err := exchange.ReadFile("list", "json", "l.json", []byte(text))
	require.NoError(t, err)
	require.NotEmpty(t, mistakes)
	for _, m := range mistakes {
		assert.Equal(t, 6, m.Line, m.Error())
	}
}
