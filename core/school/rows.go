package school

import (
	"errors"
	"slices"

	"jetprimer/core/form"
)

// What a row of a table that is brought in comes to.
const (
	RowNew     = "new"
	RowChanges = "changes"
	RowSame    = "same"
	RowRefused = "refused"
)

// Judged is a row of a table and what it comes to.
type Judged struct {
	Line    int      `json:"line"`
	Name    string   `json:"name" doc:"whom or what the row is about, as it stands there"`
	ComesTo string   `json:"comesTo" enum:"new,changes,same,refused"`
	Changes []string `json:"changes" doc:"the columns that differ from what the school has"`
	Faults  []Fault  `json:"faults"`
}

// Fault is what cannot be in one column of a row.
type Fault struct {
	Column string `json:"column"`
	Reason string `json:"reason"`
}

func judged(line int, name string) Judged {
	return Judged{Line: line, Name: name, Changes: []string{}, Faults: []Fault{}}
}

// columnOf is where a field stands in a table under another name.
var columnOf = map[string]string{"learns": "type", "learns.type": "type", "learns.instructor": "instructor", "learns.startedOn": "since"}

// wrong notes a refusal at its column.
func (j *Judged) wrong(err error) {
	fault := Fault{Reason: err.Error()}
	var bad *form.InputError
	if errors.As(err, &bad) {
		fault = Fault{bad.Field, bad.Reason}
		if column, other := columnOf[bad.Field]; other {
			fault.Column = column
		}
	}
	j.Faults = append(j.Faults, fault)
}

// once refuses a value that names the row and stood in an earlier one.
func (j *Judged) once(lines map[string]int, column, value string) {
	if first, twice := lines[value]; twice && value != "" {
		j.wrong(form.Bad(column, "stands in line %d already", first))
		return
	}
	lines[value] = j.Line
}

// settle says what the row comes to.
func (j *Judged) settle(known bool) {
	switch {
	case len(j.Faults) > 0:
		j.ComesTo = RowRefused
	case !known:
		j.ComesTo = RowNew
	case len(j.Changes) > 0:
		j.ComesTo = RowChanges
	default:
		j.ComesTo = RowSame
	}
}

// differences are the columns in which a row differs from what the school has.
type differences []string

func (d *differences) note(column string, differs bool) {
	if differs {
		*d = append(*d, column)
	}
}

func (d differences) list() []string {
	if d == nil {
		return []string{}
	}
	return d
}

// SameSet reports whether two lists name the same, in whatever order.
func SameSet(a, b []string) bool {
	return slices.Equal(slices.Sorted(slices.Values(a)), slices.Sorted(slices.Values(b)))
}
