// Package dataexport writes a school's data as a tabular data package: a folder of CSV
// files, one a table, and a datapackage.json that says of every table and column what it
// is, in which unit, and which other table it refers to. Spreadsheets open the files;
// statistics packages read the folder as a whole.
//
// The description follows the Data Package standard, version 2 (datapackage.org).
package dataexport

import (
	"bufio"
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strconv"
	"strings"

	"jetprimer/exchange"
	"jetprimer/store"
)

// Description is the name of the file that describes the others.
const Description = "datapackage.json"

// Caution stands in every description.
const Caution = "A training record. The handbook, the operator's rules and licensed people decide; personal data of " +
	"the people in it."

type description struct {
	Schema      string     `json:"$schema"`
	Name        string     `json:"name"`
	Title       string     `json:"title"`
	Description string     `json:"description"`
	Program     string     `json:"jetprimer:program"`
	School      string     `json:"jetprimer:school"`
	Zone        string     `json:"jetprimer:timeZone"`
	Resources   []resource `json:"resources"`
}

type resource struct {
	Name        string `json:"name"`
	Path        string `json:"path"`
	Type        string `json:"type"`
	Format      string `json:"format"`
	MediaType   string `json:"mediatype"`
	Encoding    string `json:"encoding"`
	Description string `json:"description"`
	Rows        int    `json:"jetprimer:rows"`
	Schema      schema `json:"schema"`
}

type schema struct {
	Fields        []field      `json:"fields"`
	PrimaryKey    []string     `json:"primaryKey,omitempty"`
	ForeignKeys   []foreignKey `json:"foreignKeys,omitempty"`
	MissingValues []string     `json:"missingValues"`
}

type field struct {
	Name        string `json:"name"`
	Type        string `json:"type"`
	Unit        string `json:"unit,omitempty"`
	Description string `json:"description,omitempty"`
}

type foreignKey struct {
	Fields    []string  `json:"fields"`
	Reference reference `json:"reference"`
}

type reference struct {
	Resource string   `json:"resource"`
	Fields   []string `json:"fields"`
}

// Write makes the folder and fills it with the data of one school as of one moment.
// The folder may not exist yet ([os.ErrExist]). After each table written is called with
// its name and its number of rows. A folder that could not be completed is removed.
func Write(ctx context.Context, s *store.Store, school, folder, version string,
	written func(table string, rows int)) (err error) {
	if err := os.Mkdir(folder, 0o700); err != nil {
		return err
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, os.RemoveAll(folder))
		}
	}()
	about, err := describe(ctx, s, school, version)
	if err != nil {
		return err
	}
	if err := s.Data(ctx, school, func(t store.DataTable, next func() ([]any, bool, error)) error {
		one := resourceOf(t)
		if one.Rows, err = write(filepath.Join(folder, one.Path), t, next); err != nil {
			return err
		}
		about.Resources = append(about.Resources, one)
		written(t.Name, one.Rows)
		return nil
	}); err != nil {
		return err
	}
	text, err := json.MarshalIndent(about, "", "  ")
	if err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(folder, Description), append(text, '\n'), 0o600)
}

func describe(ctx context.Context, s *store.Store, school, version string) (description, error) {
	about := description{
		Schema: "https://datapackage.org/profiles/2.0/datapackage.json", Name: "jetprimer-data", Description: Caution,
		Program: version, School: school,
	}
	err := s.In(ctx, school, func(_ context.Context, tx *store.Tx) (err error) {
		about.Title, err = tx.SchoolName()
		about.Zone = tx.Zone.String()
		return err
	})
	return about, err
}

func resourceOf(t store.DataTable) resource {
	r := resource{Name: strings.ReplaceAll(t.Name, "_", "-"), Path: t.Name + ".csv", Type: "table", Format: "csv",
		MediaType: "text/csv", Encoding: "utf-8",
		Description: t.Words, Schema: schema{PrimaryKey: t.Key, MissingValues: []string{""}}}
	for _, c := range t.Columns {
		r.Schema.Fields = append(r.Schema.Fields, field{Name: c.Name, Type: c.Type, Unit: c.Unit, Description: c.Words})
		if c.Table != "" {
			r.Schema.ForeignKeys = append(r.Schema.ForeignKeys, foreignKey{
				[]string{c.Name}, reference{strings.ReplaceAll(c.Table, "_", "-"), []string{c.Of}},
			})
		}
	}
	return r
}

// write fills the file of a table and counts its rows.
func write(file string, t store.DataTable, next func() ([]any, bool, error)) (rows int, err error) {
	f, err := os.OpenFile(file, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return 0, err
	}
	defer func() { err = errors.Join(err, f.Close()) }()
	buffered := bufio.NewWriter(f)
	if rows, err = rowsInto(buffered, t, next); err != nil {
		return rows, err
	}
	return rows, buffered.Flush()
}

func rowsInto(to io.Writer, t store.DataTable, next func() ([]any, bool, error)) (rows int, err error) {
	w := csv.NewWriter(to)
	cells := make([]string, len(t.Columns))
	for i, c := range t.Columns {
		cells[i] = c.Name
	}
	if err := w.Write(cells); err != nil {
		return 0, err
	}
	for {
		values, more, err := next()
		if err != nil {
			return rows, err
		}
		if !more {
			w.Flush()
			return rows, w.Error()
		}
		for i, v := range values {
			if cells[i], err = cell(t.Columns[i], v); err != nil {
				return rows, fmt.Errorf("column %s: %w", t.Columns[i].Name, err)
			}
		}
		if err := w.Write(cells); err != nil {
			return rows, err
		}
		rows++
	}
}

// cell is a value of the database as the standard writes it: numbers in their shortest
// form, true and false, nothing for null. Text that a spreadsheet would take for a
// formula has an apostrophe before it, as in every table of the program.
func cell(c store.DataColumn, v any) (string, error) {
	switch v := v.(type) {
	case nil:
		return "", nil
	case string:
		if c.Type == "string" {
			return exchange.Cell(v), nil
		}
		return v, nil
	case bool:
		return strconv.FormatBool(v), nil
	case int64:
		return strconv.FormatInt(v, 10), nil
	case int32:
		return strconv.FormatInt(int64(v), 10), nil
	case int16:
		return strconv.FormatInt(int64(v), 10), nil
	case float64:
		return strconv.FormatFloat(v, 'g', -1, 64), nil
	}
	return "", fmt.Errorf("a value of type %T cannot be written", v)
}
