// Package store keeps schools in PostgreSQL. It is the only package that knows
// the database. There is one way in: In opens a transaction for one school, and
// row-level security shows that school's rows and no others. Ordinary records
// are models; SQL stands where a set of rows is written or read at once.
package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"errors"
	"fmt"
	"time"

	"gorm.io/driver/postgres"
	"gorm.io/gorm"

	"jetprimer/catalog"
	"jetprimer/core/policy"
	"jetprimer/core/school"
)

// Store is a connection pool as the application's role.
type Store struct {
	db      *gorm.DB
	sql     *sql.DB
	url     string
	log     *statements
	lessons *lessonCache
	// shipped is the data that ships with the program.
	shipped *catalog.Catalog
	// secret encrypts the private signing keys.
	secret [32]byte
}

// MinSecret is the least number of characters of the secret.
const MinSecret = 16

// Bounds of a transaction: nobody waits for a school's lock for longer than the
// first, and nothing runs for longer than the second.
const (
	lockTimeout      = "5s"
	statementTimeout = "30s"
)

// Open connects as the application's role and refuses a role that could do
// more than the application may, a schema that is not the newest, and a secret
// that does not open the schools' signing keys. The secret encrypts them at
// rest.
func Open(ctx context.Context, appURL, secret string, shipped *catalog.Catalog) (*Store, error) {
	if len(secret) < MinSecret {
		return nil, fmt.Errorf("opening the store: the secret that encrypts signing keys has %d characters; it "+
			"needs at least %d", len(secret), MinSecret)
	}
	log := &statements{slow: time.Second}
	db, err := gorm.Open(postgres.Open(appURL), &gorm.Config{
		Logger: log, SkipDefaultTransaction: true, DisableAutomaticPing: true,
	})
	if err != nil {
		return nil, fmt.Errorf("opening the database: %w", plain(err))
	}
	pool, err := db.DB()
	if err != nil {
		return nil, err
	}
	pool.SetMaxOpenConns(20)
	pool.SetMaxIdleConns(10)
	s := &Store{
		db: db, sql: pool, url: appURL, log: log, lessons: newLessonCache(), shipped: shipped,
		secret: sha256.Sum256([]byte(secret)),
	}
	for _, check := range []func(context.Context) error{s.checkRole, s.CheckSchema, s.CheckSecret} {
		if err := check(ctx); err != nil {
			_ = pool.Close()
			return nil, err
		}
	}
	return s, nil
}

// Close gives the connections back.
func (s *Store) Close() error { return s.sql.Close() }

// Ping reports whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return plain(s.sql.PingContext(ctx)) }

// Pool is the pool of connections, for those who count them.
func (s *Store) Pool() *sql.DB { return s.sql }

// Statements counts what has been asked of the database so far.
func (s *Store) Statements() int64 { return s.log.n.Load() }

// Tx is a transaction inside one school.
type Tx struct {
	db     *gorm.DB
	store  *Store
	School string
	// Zone is where the school's day is told.
	Zone *time.Location
	// settings are the school's, and policies those looked up in this transaction.
	settings school.Settings
	policies map[string]policy.Policy
	// later are the lessons that were signed after a day, as far as they were looked up
	// in this transaction, by student and day.
	later map[string][]string
	// worked are the lessons written in this transaction, by their keys.
	worked map[string]*folded
	// committed are called once the transaction has been committed.
	committed []func()
}

type insideKey struct{}

// In runs fn in a transaction that sees the rows of one school. An error of fn
// takes everything back. Calls do not nest.
func (s *Store) In(ctx context.Context, schoolID string, fn func(ctx context.Context, tx *Tx) error) error {
	return s.in(ctx, schoolID, func(*gorm.DB) error { return nil }, fn)
}

// in is In with something that comes before the school is entered, in the same
// transaction.
func (s *Store) in(ctx context.Context, schoolID string, before func(db *gorm.DB) error,
	fn func(ctx context.Context, tx *Tx) error) error {
	if ctx.Value(insideKey{}) != nil {
		return errors.New("store: In was called inside In")
	}
	ctx = context.WithValue(ctx, insideKey{}, true)
	tx := &Tx{store: s, School: schoolID}
	err := s.db.WithContext(ctx).Transaction(func(db *gorm.DB) error {
		if err := before(db); err != nil {
			return err
		}
		var entered School
		err := db.Raw(`select coalesce(s.time_zone, '') as time_zone, coalesce(s.settings, '{}') as settings from
			(select set_config('app.school', ?, true), set_config('lock_timeout', ?, true), set_config('statement_timeout', ?, true)) as entered
			left join schools s on s.id = ?::uuid`, schoolID, lockTimeout, statementTimeout,
			schoolID).Scan(&entered).Error
		if err != nil {
			return fmt.Errorf("entering the school: %w", err)
		}
		if entered.TimeZone == "" {
			return fmt.Errorf("school %s: %w", schoolID, ErrNotFound)
		}
		if tx.Zone, err = time.LoadLocation(entered.TimeZone); err != nil {
			return fmt.Errorf("reading the school's time zone: %w", err)
		}
		tx.db, tx.settings = db, entered.Settings
		return fn(ctx, tx)
	})
	if err != nil {
		return plain(err)
	}
	for _, done := range tx.committed {
		done()
	}
	return nil
}

// Day is the school's day at a moment.
func (tx *Tx) Day(at time.Time) string { return school.Day(at, tx.Zone) }

// own is a query on the school's own rows of a model or table.
func (tx *Tx) own(model any) *gorm.DB { return tx.db.Model(model).Where("school_id = ?", tx.School) }

// rows runs a query of a set and returns its rows as T.
func rows[T any](tx *Tx, query string, args ...any) ([]T, error) {
	out := []T{}
	if err := tx.db.Raw(query, args...).Scan(&out).Error; err != nil {
		return nil, err
	}
	return out, nil
}

// row runs a query for one row; ErrNotFound when there is none.
func row[T any](tx *Tx, query string, args ...any) (T, error) {
	var none T
	all, err := rows[T](tx, query, args...)
	switch {
	case err != nil:
		return none, err
	case len(all) == 0:
		return none, ErrNotFound
	}
	return all[0], nil
}

// take finds the one record of a query.
func take[T any](query *gorm.DB) (T, error) {
	var out T
	err := query.Take(&out).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		err = ErrNotFound
	}
	return out, err
}

// find lists the records of a query; the list is never nil.
func find[T any](query *gorm.DB) ([]T, error) {
	out := []T{}
	return out, query.Find(&out).Error
}
