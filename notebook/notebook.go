// Package notebook writes a school's data as one SQLite file, for a spreadsheet or a
// notebook. The file documents itself: its table columns_of says of every table and
// column what it is, in which unit.
package notebook

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"strings"

	_ "github.com/ncruces/go-sqlite3/driver" // sqlite3

	"jetprimer/store"
)

// Write makes the file of a school, which may not be there yet; done tells table by
// table how many rows it has. What was begun and not finished is taken away.
func Write(ctx context.Context, s *store.Store, school, file, version string, done func(table string, rows int)) (err error) {
	made, err := os.OpenFile(file, os.O_CREATE|os.O_EXCL, 0o600)
	if err != nil {
		return err
	}
	if err := made.Close(); err != nil {
		return err
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, os.Remove(file))
		}
	}()
	db, err := sql.Open("sqlite3", "file:"+strings.NewReplacer("%", "%25", "?", "%3f", "#", "%23").Replace(file)+"?_pragma=journal_mode(off)&_pragma=synchronous(off)")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	db.SetMaxOpenConns(1)
	tx, err := db.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }() // after the commit it does nothing
	if err := about(tx, s, ctx, school, version); err != nil {
		return err
	}
	if err := s.Data(ctx, school, func(t store.DataTable, next func() ([]any, bool, error)) error {
		n, err := table(tx, t, next)
		if err == nil {
			done(t.Name, n)
		}
		return err
	}); err != nil {
		return err
	}
	return tx.Commit()
}

// about writes what the file is, and begins the table of its columns.
func about(tx *sql.Tx, s *store.Store, ctx context.Context, school, version string) error {
	for _, statement := range []string{
		"create table about (name text primary key, value text)",
		"create table columns_of (table_name text, column_name text, kind text, unit text, words text, primary key (table_name, column_name))",
	} {
		if _, err := tx.Exec(statement); err != nil {
			return err
		}
	}
	said := map[string]string{"format": "jetprimer-data 1", "program": version, "school_id": school,
		"caution": "A training record. The handbook, the operator's rules and licensed people decide; personal data of the people in it."}
	if err := s.In(ctx, school, func(_ context.Context, tx *store.Tx) error {
		one, err := tx.SchoolName()
		said["school"], said["time_zone"] = one, tx.Zone.String()
		return err
	}); err != nil {
		return err
	}
	for name, value := range said {
		if _, err := tx.Exec("insert into about values (?, ?)", name, value); err != nil {
			return err
		}
	}
	return nil
}

// table makes a table and fills it; its names are the program's own.
func table(tx *sql.Tx, t store.DataTable, next func() ([]any, bool, error)) (rows int, err error) {
	var columns, places []string
	for _, c := range t.Columns {
		columns, places = append(columns, c.Name+" "+c.Kind), append(places, "?")
		if _, err := tx.Exec("insert into columns_of values (?, ?, ?, ?, ?)", t.Name, c.Name, c.Kind, c.Unit, c.Words); err != nil {
			return 0, err
		}
	}
	if _, err := tx.Exec("insert into columns_of values (?, '', '', '', ?)", t.Name, t.Words); err != nil {
		return 0, err
	}
	if _, err := tx.Exec(fmt.Sprintf("create table %s (%s)", t.Name, strings.Join(columns, ", "))); err != nil {
		return 0, err
	}
	insert, err := tx.Prepare(fmt.Sprintf("insert into %s values (%s)", t.Name, strings.Join(places, ", ")))
	if err != nil {
		return 0, err
	}
	defer insert.Close()
	for {
		values, more, err := next()
		if err != nil || !more {
			return rows, err
		}
		if _, err := insert.Exec(values...); err != nil {
			return rows, err
		}
		rows++
	}
}
