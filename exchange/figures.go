package exchange

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"jetprimer/core/compare"
	"jetprimer/core/form"
)

// Bounds of tables of figures, which are longer than those that a person writes.
const (
	maxFigures    = 256 << 20 // bytes
	maxFigureRows = 5_000_000
)

// figures is a table of figures being read: columns named in the first row, by
// commas, semicolons or tabs. What is wrong with it is an form.Problem whose
// field is the line, and the column where one is.
type figures struct {
	rows *csv.Reader
	at   map[string]int
	line int
	row  []string
}

// bounded ends reading with an error once too much was read.
type bounded struct {
	from io.Reader
	left int64
}

var errTooLong = fmt.Errorf("has more than %d bytes", maxFigures)

func (b *bounded) Read(p []byte) (int, error) {
	if b.left <= 0 {
		return 0, errTooLong
	}
	n, err := b.from.Read(p[:min(int64(len(p)), b.left)])
	b.left -= int64(n)
	return n, err
}

// openFigures reads the names of the columns. Those that must be there and those
// that may be are the only ones.
func openFigures(r io.Reader, must, may []string) (*figures, error) {
	in := bufio.NewReaderSize(&bounded{r, maxFigures}, 64<<10)
	if mark, _ := in.Peek(3); bytes.Equal(mark, []byte("\ufeff")) {
		_, _ = in.Discard(3)
	}
	first, _ := in.Peek(4096)
	f := &figures{rows: csv.NewReader(in), at: map[string]int{}}
	f.rows.Comma, f.rows.FieldsPerRecord, f.rows.ReuseRecord = separator(first), -1, true
	head, err := f.rows.Read()
	if err != nil {
		return nil, form.Bad("line 1", "has no row of column names: %s", csvReason(err))
	}
	for i, name := range head {
		name = strings.ToLower(strings.TrimSpace(name))
		_, twice := f.at[name]
		switch {
		case twice:
			return nil, form.Bad("line 1", "has the column %s twice", form.Clip(name))
		case !slices.Contains(must, name) && !slices.Contains(may, name):
			return nil, form.Bad("line 1", "has the column %q, which is none of %s", form.Clip(name),
				strings.Join(append(slices.Clone(must), may...), ", "))
		}
		f.at[name] = i
	}
	for _, name := range must {
		if _, there := f.at[name]; !there {
			return nil, form.Bad("line 1", "has no column %s", name)
		}
	}
	return f, nil
}

// each calls fn for every row that holds something.
func (f *figures) each(fn func() error) error {
	for n := 0; ; n++ {
		row, err := f.rows.Read()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			line := f.line + 1
			var parse *csv.ParseError
			if errors.As(err, &parse) {
				line = parse.Line
			}
			return form.Bad(fmt.Sprintf("line %d", line), "%s", csvReason(err))
		}
		f.line, _ = f.rows.FieldPos(0)
		f.row = row
		switch {
		case n >= maxFigureRows:
			return form.Bad(fmt.Sprintf("line %d", f.line), "is one of more than %d rows", maxFigureRows)
		case len(row) == 1 && strings.TrimSpace(row[0]) == "" && len(f.at) > 1:
			continue
		}
		if err := fn(); err != nil {
			return err
		}
	}
}

// bad is an error in a column of the row.
func (f *figures) bad(column, format string, args ...any) error {
	return form.Bad(fmt.Sprintf("line %d %s", f.line, column), format, args...)
}

// text is a cell; what is missing is empty.
func (f *figures) text(column string) (string, error) {
	i, there := f.at[column]
	if !there || i >= len(f.row) {
		return "", nil
	}
	text := strings.TrimSpace(f.row[i])
	if len(text) > maxName || !utf8.ValidString(text) {
		return "", f.bad(column, "is longer than %d bytes, or is not UTF-8 text", maxName)
	}
	return text, nil
}

const maxName = 200

// name is a cell that must hold something.
func (f *figures) name(column string) (string, error) {
	text, err := f.text(column)
	if err == nil && text == "" {
		err = f.bad(column, "is missing")
	}
	return text, err
}

// number is a cell that must hold a plain number, with a point.
func (f *figures) number(column string) (float64, error) {
	text, err := f.name(column)
	if err != nil {
		return 0, err
	}
	v, err := strconv.ParseFloat(text, 64)
	if err != nil || math.IsNaN(v) || math.IsInf(v, 0) || math.Abs(v) > 1e12 || strings.ContainsAny(text, "xXpP_") {
		return 0, f.bad(column, "is %q, which is no number", form.Clip(text))
	}
	return v, nil
}

// ReadGrades reads a table of grades: student, item, instructor and level, which
// is a whole number from 0 to 4; scale and stage where they are more than one.
func ReadGrades(r io.Reader) ([]compare.Grade, error) {
	f, err := openFigures(r, []string{"student", "item", "instructor", "level"}, []string{"scale", "stage"})
	if err != nil {
		return nil, err
	}
	var out []compare.Grade
	known := map[string]string{} // one text for all that are the same
	err = f.each(func() error {
		var g compare.Grade
		for _, c := range []struct {
			column string
			to     *string
		}{
			{"student", &g.Student}, {"item", &g.Item}, {"instructor", &g.Instructor}, {"scale", &g.Scale},
			{"stage", &g.Stage},
		} {
			read := f.name
			if c.column == "scale" || c.column == "stage" {
				read = f.text
			}
			text, err := read(c.column)
			if err != nil {
				return err
			}
			if _, there := known[text]; !there {
				text = strings.Clone(text)
				known[text] = text
			}
			*c.to = known[text]
		}
		level, err := f.name("level")
		if err != nil {
			return err
		}
		if g.Level, err = strconv.Atoi(level); err != nil || g.Level < compare.LeastLevel ||
			g.Level > compare.MostLevel || len(level) > 1 {
			return f.bad("level", "is %q; levels are %d to %d", form.Clip(level), compare.LeastLevel, compare.MostLevel)
		}
		out = append(out, g)
		return nil
	})
	return out, err
}

// ReadReadings reads a table of one repeated reading: hours and value, and reset
// where maintenance worked on it just before.
func ReadReadings(r io.Reader) ([]compare.Reading, error) {
	f, err := openFigures(r, []string{"hours", "value"}, []string{"reset"})
	if err != nil {
		return nil, err
	}
	var out []compare.Reading
	err = f.each(func() error {
		var one compare.Reading
		var err error
		if one.Hours, err = f.number("hours"); err != nil {
			return err
		}
		if one.Hours < 0 {
			return f.bad("hours", "is below 0")
		}
		if one.Value, err = f.number("value"); err != nil {
			return err
		}
		reset, err := f.text("reset")
		if err != nil {
			return err
		}
		switch strings.ToLower(reset) {
		case "", "0", "no", "false":
		case "1", "yes", "true", "x":
			one.Reset = true
		default:
			return f.bad("reset", "is %q; it is yes, or nothing", form.Clip(reset))
		}
		out = append(out, one)
		return nil
	})
	return out, err
}
