package exchange

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
	"unicode/utf8"

	"jetprimer/core/checklist"
	"jetprimer/core/form"
)

// phaseColumns come before an item's own columns.
var phaseColumns = []string{"phase", "phase title"}

// WriteTable gives the phases and items of a list as CSV: one row an item, the
// columns named in the first row, one entry a line where a field has several.
func WriteTable(list checklist.List) ([]byte, error) {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	head := append([]string{}, phaseColumns...)
	for _, c := range columns {
		head = append(head, c.name)
	}
	_ = w.Write(head)
	for _, phase := range list.Phases {
		for i := range phase.Items {
			row := []string{phase.ID, phase.Title}
			for _, c := range columns {
				row = append(row, strings.Join(c.get(&phase.Items[i]), "\n"))
			}
			_ = w.Write(Cells(row))
		}
	}
	w.Flush()
	return b.Bytes(), w.Error()
}

// ReadTable reads the phases and items of a list from a plain table: columns
// separated by commas, semicolons or tabs and named in the first row, of which
// challenge and response must be there. Phases and items without an id get one
// of their words. What else a list has (id, title, source) is the caller's.
func ReadTable(name string, data []byte) (checklist.List, []form.Problem) {
	var list checklist.List
	var mistakes []form.Problem
	wrong := func(line int, format string, args ...any) { report(&mistakes, name, line, format, args...) }
	t := table{list: &list, wrong: wrong}
	eachRow(data, maxItems, wrong, func(head []string) bool { t.columns(head); return len(mistakes) == 0 },
		func(line int, row []string) bool {
			t.row(line, row)
			return len(mistakes) <= maxProblems
		})
	if len(list.Phases) == 0 && len(mistakes) == 0 {
		wrong(0, "has no row with an item")
	}
	return list, mistakes
}

// eachRow reads a plain table: the first row, which names its columns, and then
// at most so many others, each with its line. What is given the rows says whether
// to go on.
func eachRow(data []byte, most int, wrong func(line int, format string, args ...any), columns func(head []string) bool,
	row func(line int, cells []string) bool) {
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	switch {
	case len(data) > maxBytes:
		wrong(0, "has %d bytes; %d are allowed", len(data), maxBytes)
		return
	case !utf8.Valid(data):
		wrong(0, "is not UTF-8 text; save the table as UTF-8")
		return
	case longLine(data) > 0:
		wrong(longLine(data), "has more than %d bytes", maxLine)
		return
	}
	r := csv.NewReader(bytes.NewReader(data))
	r.Comma, r.FieldsPerRecord = separator(data), -1
	r.TrimLeadingSpace = r.Comma != '\t' // a tab is a space as well
	head, err := r.Read()
	if err != nil {
		wrong(1, "has no row of column names: %s", csvReason(err))
		return
	}
	if len(head) > maxColumns {
		wrong(1, "has %d columns; %d are allowed", len(head), maxColumns)
		return
	}
	if !columns(head) {
		return
	}
	for n := 1; ; n++ {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			return
		}
		if err != nil {
			line := 0
			var parse *csv.ParseError
			if errors.As(err, &parse) {
				line = parse.Line
			}
			wrong(line, "%s", csvReason(err))
			return
		}
		line, _ := r.FieldPos(0)
		if n > most {
			wrong(line, "has more than %d rows", most)
			return
		}
		if !row(line, cells) {
			return
		}
	}
}

func csvReason(err error) string {
	var parse *csv.ParseError
	if errors.As(err, &parse) {
		return parse.Err.Error()
	}
	return err.Error()
}

// separator is the one of tab, semicolon and comma that the first line has
// most of.
func separator(data []byte) rune {
	first, _, _ := bytes.Cut(data, []byte("\n"))
	best, most := ',', bytes.Count(first, []byte(","))
	for _, r := range ";\t" {
		if n := bytes.Count(first, []byte(string(r))); n > most {
			best, most = r, n
		}
	}
	return best
}

// table is a list being read row by row.
type table struct {
	list   *checklist.List
	wrong  func(line int, format string, args ...any)
	kinds  []string // "phase", "phase title" or "" for a column of items
	fields []column
	ids    names
	phases names
}

// report adds a mistake, as long as a person would read on.
func report(mistakes *[]form.Problem, file string, line int, format string, args ...any) {
	switch n := len(*mistakes); {
	case n < maxProblems:
		*mistakes = append(*mistakes, form.Problem{File: file, Line: line, Reason: fmt.Sprintf(format, args...)})
	case n == maxProblems:
		*mistakes = append(*mistakes, form.Problem{File: file, Reason: "has more mistakes, which are not listed"})
	}
}

func (t *table) columns(head []string) {
	seen := map[string]bool{}
	for _, name := range head {
		name = strings.TrimSpace(name)
		kind := ""
		c, known := columnNamed(name)
		switch lower := strings.ToLower(name); {
		case lower == phaseColumns[0] || lower == phaseColumns[1]:
			kind = lower
		case !known:
			t.wrong(1, "column %q is not known; known: phase, phase title, %s", form.Clip(name), columnNames())
		}
		if seen[kind+c.name] && (known || kind != "") {
			t.wrong(1, "column %q is there twice", form.Clip(name))
		}
		seen[kind+c.name] = true
		t.kinds, t.fields = append(t.kinds, kind), append(t.fields, c)
	}
	for _, need := range []string{"challenge", "response"} {
		if !seen[need] {
			t.wrong(1, "has no column %q", need)
		}
	}
}

func (t *table) row(line int, row []string) {
	phase := [2]string{}
	var item checklist.Item
	blank := true
	for i, cell := range row {
		cell = plainCell(cell)
		if i >= len(t.fields) {
			if strings.TrimSpace(cell) != "" {
				t.wrong(line, "has more cells than there are columns")
			}
			continue
		}
		if t.kinds[i] != "" {
			at := 0
			if t.kinds[i] == phaseColumns[1] {
				at = 1
			}
			phase[at] = strings.TrimSpace(cell)
			continue
		}
		blank = blank && strings.TrimSpace(cell) == ""
		entries := []string{cell}
		if t.fields[i].many != nil {
			entries = strings.Split(cell, "\n")
		}
		for _, entry := range entries {
			if err := t.fields[i].add(&item, entry); err != nil {
				t.wrong(line, "%v", err)
			}
		}
	}
	if blank {
		return // a row between two parts of a table
	}
	t.enter(phase[0], phase[1])
	last := &t.list.Phases[len(t.list.Phases)-1]
	if item.ID == "" {
		item.ID = t.ids.of(item.Challenge, "item")
	}
	last.Items = append(last.Items, item)
}

// enter goes on with the last phase, or begins the next.
func (t *table) enter(id, title string) {
	if n := len(t.list.Phases); n > 0 {
		last := t.list.Phases[n-1]
		if id == "" && title == "" || id == last.ID || title == last.Title && id == "" || title == "" &&
			id == last.Title {
			return
		}
	}
	switch {
	case id == "" && title == "":
		title = "Checklist"
	case title == "":
		title, id = id, ""
	}
	if id == "" {
		id = t.phases.of(title, "phase")
	}
	t.list.Phases = append(t.list.Phases, checklist.Phase{ID: id, Title: title})
}
