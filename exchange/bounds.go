package exchange

import (
	"bytes"
	"fmt"
	"strings"

	"jetprimer/core/form"
)

// What a file may hold. Everything is counted before anything is parsed, since
// a parser may need a thousand times what it reads.
const (
	maxBytes    = 8 << 20
	maxValues   = 60_000
	maxItems    = 5_000
	maxColumns  = 64
	maxLine     = 256 << 10 // of YAML and of a table, in bytes
	maxProblems = 200       // a person reads no further
)

// outOfBounds says why a file is not read at all; empty when it can be.
func outOfBounds(data []byte, format string) string {
	if len(data) > maxBytes {
		return fmt.Sprintf("has %d bytes; %d are allowed", len(data), maxBytes)
	}
	depth, values, documents := form.Depth(data), bytes.Count(data, []byte(",")), 1
	long := 0
	if format != "json" {
		depth, values, documents = yamlShape(data)
		long = longLine(data)
	}
	switch {
	case long > 0:
		return fmt.Sprintf("has more than %d bytes in line %d", maxLine, long)
	case depth > form.MaxDepth:
		return fmt.Sprintf("nests deeper than %d levels", form.MaxDepth)
	case values > maxValues:
		return fmt.Sprintf("holds more than %d values", maxValues)
	case documents > 1:
		return "holds several documents; write one a file"
	}
	return ""
}

// longLine is the first line that is too long, counted from 1; 0 for none.
func longLine(data []byte) int {
	for n := 1; len(data) > 0; n++ {
		line, rest, _ := bytes.Cut(data, []byte("\n"))
		if len(line) > maxLine {
			return n
		}
		data = rest
	}
	return 0
}

// yamlShape bounds from above how deep YAML nests and how many values it
// holds, without reading it, and counts its documents.
func yamlShape(data []byte) (deepest, values, documents int) {
	var indents []int // of the blocks that are open
	flow := 0
	documents = 1
	for n, line := range bytes.Split(data, []byte("\n")) {
		text := strings.TrimRight(string(line), " \t\r")
		if strings.HasPrefix(text, "---") && n > 0 && values > 0 {
			documents++
		}
		column := 0
		if flow == 0 {
			var opened int
			column, opened = blocks(&indents, text)
			values += opened
			deepest = max(deepest, len(indents))
		}
		values++
		quote := byte(0)
		for i := column; i < len(text); i++ {
			switch c := text[i]; {
			case quote != 0:
				if c == '\\' && quote == '"' {
					i++
				} else if c == quote {
					quote = 0
				}
			case (c == '"' || c == '\'') && (i == column || strings.IndexByte(" [{,:", text[i-1]) >= 0):
				quote = c
			case c == '#' && i > 0 && text[i-1] == ' ':
				i = len(text)
			case c == '[' || c == '{':
				flow++
				deepest = max(deepest, len(indents)+flow)
			case c == ']' || c == '}':
				flow = max(0, flow-1)
			case c == ',' && flow > 0:
				values++
			}
		}
	}
	return deepest, values, documents
}

// blocks takes the spaces and dashes in front of a line, and gives the column
// where its words begin.
func blocks(indents *[]int, text string) (column, opened int) {
	for column < len(text) {
		if text[column] == ' ' {
			column++
			continue
		}
		for len(*indents) > 0 && (*indents)[len(*indents)-1] >= column {
			*indents = (*indents)[:len(*indents)-1]
		}
		*indents = append(*indents, column)
		dash := (text[column] == '-' || text[column] == '?') && (column+1 == len(text) || text[column+1] == ' ')
		if !dash {
			return column, opened
		}
		opened++
		column++
	}
	return column, opened
}

// Cells makes a row of a table harmless: what a spreadsheet would take for a
// formula is text.
func Cells(row []string) []string {
	out := make([]string, len(row))
	for i, cell := range row {
		out[i] = Cell(cell)
	}
	return out
}

// Cell puts an apostrophe before text that begins as formulas do.
func Cell(text string) string {
	if formula(strings.TrimLeft(text, "'")) {
		return "'" + text
	}
	return text
}

// plainCell takes that apostrophe off again.
func plainCell(text string) string {
	if rest, quoted := strings.CutPrefix(text, "'"); quoted && formula(strings.TrimLeft(rest, "'")) {
		return rest
	}
	return text
}

func formula(text string) bool { return text != "" && strings.IndexByte("=+-@\t\r", text[0]) >= 0 }
