package form

import (
	"errors"
	"fmt"
	"slices"
	"strings"
)

// Problem says what cannot be used, where it stands, and why. It is the one error of
// everything that is entered: requests, events, files, rows of tables, and data that is
// written in an editor.
type Problem struct {
	// File and Line are where it stands in a file; the line counts from 1, and 0 is the
	// file as a whole.
	File string `json:"file,omitempty"`
	Line int    `json:"line,omitempty"`
	// Field is the field that cannot be used, by its path, such as reading.left or
	// $.phases[0].items[2].why; it is empty where it is not one field.
	Field string `json:"field"`
	// Reason says why, to be read after the name of the field.
	Reason string `json:"reason"`
}

// Error is the problem as one line: file and line where it has them, the field, the
// reason.
func (p Problem) Error() string {
	text := p.Reason
	if field := strings.TrimPrefix(strings.TrimPrefix(p.Field, "$"), "."); field != "" {
		text = field + " " + text
	}
	if p.File != "" {
		text = fmt.Sprintf("%s:%d: %s", p.File, p.Line, text)
	}
	return text
}

// Bad is the [Problem] of a field, on one line and printable.
func Bad(field, format string, args ...any) error {
	return Problem{Field: Printable(field), Reason: Printable(fmt.Sprintf(format, args...))}
}

// Under puts a path before the field of a [Problem]; other errors it returns as they are.
func Under(path string, err error) error {
	var p Problem
	if !errors.As(err, &p) {
		return err
	}
	p.Field = path + p.Field
	return p
}

// SortProblems orders problems by their field. Those of one field keep their order.
func SortProblems(problems []Problem) []Problem {
	slices.SortStableFunc(problems, func(a, b Problem) int { return strings.Compare(a.Field, b.Field) })
	return problems
}
