package form

import (
	"errors"
	"slices"
)

// What a row of a table that is brought in comes to.
const (
	RowNew     = "new"
	RowChanges = "changes"
	RowSame    = "same"
	RowRefused = "refused"
)

// Row is a row of a table that is brought in, and what it comes to.
type Row struct {
	Line     int       `json:"line"`
	Name     string    `json:"name" doc:"whom or what the row is about, as it stands there"`
	ComesTo  string    `json:"comesTo" enum:"new,changes,same,refused"`
	Changes  []string  `json:"changes" doc:"the columns that differ from what the school has"`
	Problems []Problem `json:"problems"`
}

// NewRow is a row of that line about whom or what it names.
func NewRow(line int, name string) Row {
	return Row{Line: line, Name: name, Changes: []string{}, Problems: []Problem{}}
}

// columnOf is the column of a field that has another name.
var columnOf = map[string]string{
	"learns": "type", "learns.type": "type", "learns.instructor": "instructor", "learns.startedOn": "since",
}

// Refuse adds a problem to the row, at the column of its field.
func (r *Row) Refuse(err error) {
	var p Problem
	if !errors.As(err, &p) {
		p.Reason = err.Error()
	}
	if column, other := columnOf[p.Field]; other {
		p.Field = column
	}
	r.Problems = append(r.Problems, p)
}

// Once refuses a value that identifies the row and stood in an earlier one. lines holds
// the line of each value so far.
func (r *Row) Once(lines map[string]int, column, value string) {
	if first, twice := lines[value]; twice && value != "" {
		r.Refuse(Bad(column, "stands in line %d already", first))
		return
	}
	lines[value] = r.Line
}

// Settle sets what the row comes to; known says whether the school has its subject.
func (r *Row) Settle(known bool) {
	switch {
	case len(r.Problems) > 0:
		r.ComesTo = RowRefused
	case !known:
		r.ComesTo = RowNew
	case len(r.Changes) > 0:
		r.ComesTo = RowChanges
	default:
		r.ComesTo = RowSame
	}
}

// Changed are the columns whose value differs, in their order. It is never nil.
func Changed(columns ...Column) []string {
	changed := []string{}
	for _, c := range columns {
		if c.Differs {
			changed = append(changed, c.Name)
		}
	}
	return changed
}

// Column is a column of a row, and whether its value differs from what the school has.
type Column struct {
	Name    string
	Differs bool
}

// SameSet reports whether two lists name the same, in whatever order.
func SameSet(a, b []string) bool {
	return slices.Equal(slices.Sorted(slices.Values(a)), slices.Sorted(slices.Values(b)))
}
