package exchange

import (
	"bytes"
	"encoding/csv"
	"slices"
	"strings"

	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/standard"
)

// packColumns are those of a standards pack as a table: one row an element.
var packColumns = []string{"task", "task title", "task code", "id", "code", "kind", "text", "classes", "replaces",
	"why"}

// WritePackTable gives the tasks and elements of a pack as CSV. What an element
// replaces stands beside it, with the reason; of several, one a line.
func WritePackTable(p standard.Pack) ([]byte, error) {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	_ = w.Write(packColumns)
	for _, task := range p.Tasks {
		for _, e := range task.Elements {
			var from, why []string
			for _, r := range p.Replaces {
				if r.To == e.ID {
					from, why = append(from, r.From), append(why, r.Why)
				}
			}
			_ = w.Write(Cells([]string{
				task.ID, task.Title, task.Code, e.ID, e.Code, e.Kind, e.Text, strings.Join(e.Classes, " "),
				strings.Join(from, "\n"), strings.Join(why, "\n"),
			}))
		}
	}
	w.Flush()
	return b.Bytes(), w.Error()
}

// ReadPackTable reads the tasks and elements of a pack from a plain table, of
// which task, kind and text must be there. Tasks and elements without an id get
// one of their words. What else a pack has is the caller's.
func ReadPackTable(name string, data []byte) (standard.Pack, []form.Problem) {
	var pack standard.Pack
	var mistakes []form.Problem
	wrong := func(line int, format string, args ...any) { report(&mistakes, name, line, format, args...) }
	at := map[string]int{}
	head := func(cells []string) bool {
		for i, cell := range cells {
			column := strings.ToLower(strings.TrimSpace(cell))
			switch _, twice := at[column]; {
			case !slices.Contains(packColumns, column):
				wrong(1, "has the column %q; known: %s", form.Clip(cell), strings.Join(packColumns, ", "))
			case twice:
				wrong(1, "has the column %q twice", column)
			}
			at[column] = i
		}
		for _, must := range []string{"task", "kind", "text"} {
			if _, there := at[must]; !there {
				wrong(1, "lacks the column %q", must)
			}
		}
		return len(mistakes) == 0
	}
	eachRow(data, maxItems, wrong, head, func(line int, cells []string) bool {
		cell := func(column string) string {
			if i, there := at[column]; there && i < len(cells) {
				return strings.TrimSpace(plainCell(cells[i]))
			}
			return ""
		}
		packRow(&pack, cell, func(format string, args ...any) { wrong(line, format, args...) })
		return len(mistakes) <= maxProblems
	})
	if len(pack.Tasks) == 0 && len(mistakes) == 0 {
		wrong(0, "has no row with an element")
	}
	return pack, mistakes
}

// packRow puts one row into a pack.
func packRow(p *standard.Pack, cell func(column string) string, wrong func(format string, args ...any)) {
	e := standard.Element{
		ID: cell("id"), Code: cell("code"), Kind: strings.ToLower(cell("kind")), Text: cell("text"),
		Classes: strings.Fields(cell("classes")),
	}
	task := cell("task")
	if task == "" && len(p.Tasks) > 0 {
		task = p.Tasks[len(p.Tasks)-1].ID // an empty cell goes on with the task above
	}
	switch {
	case task == "":
		wrong("names no task")
		return
	case !slices.Contains(standard.Kinds, e.Kind):
		wrong("has the kind %q, which is none of %s", form.Clip(e.Kind), strings.Join(standard.Kinds, ", "))
		return
	case e.Text == "":
		wrong("has no text")
		return
	}
	if e.ID == "" {
		e.ID = checklist.Slug(e.Text)
	}
	i := slices.IndexFunc(p.Tasks, func(t standard.Task) bool { return t.ID == task })
	if i < 0 {
		title := cell("task title")
		if title == "" {
			title = task
		}
		i, p.Tasks = len(p.Tasks), append(p.Tasks, standard.Task{ID: task, Title: title, Code: cell("task code")})
	}
	p.Tasks[i].Elements = append(p.Tasks[i].Elements, e)
	why := strings.Split(cell("why"), "\n")
	for n, from := range strings.Split(cell("replaces"), "\n") {
		if from = strings.TrimSpace(from); from != "" {
			r := standard.Replaced{From: from, To: e.ID}
			if n < len(why) {
				r.Why = strings.TrimSpace(why[n])
			}
			p.Replaces = append(p.Replaces, r)
		}
	}
}
