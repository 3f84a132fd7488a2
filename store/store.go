// Package store keeps schools in PostgreSQL. It is the only package that knows
// SQL. There is one way in: In opens a transaction for one school, and
// row-level security shows that school's rows and no others.
package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"errors"
	"fmt"
	"log/slog"
	"time"

	"gorm.io/driver/postgres"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"

	"jetprimer/catalog"
)

// Store is a connection pool as the application's role.
type Store struct {
	db  *gorm.DB
	sql *sql.DB
	// shipped is the data that ships with the program.
	shipped *catalog.Catalog
	// secret encrypts the private signing keys.
	secret [32]byte
}

// ErrNotFound says that the school has no such thing; of another school's
// things it says the same.
var ErrNotFound = errors.New("not found")

// Open connects as the application's role and refuses a role that could do
// more than the application may. The secret encrypts signing keys at rest.
func Open(ctx context.Context, appURL, secret string, shipped *catalog.Catalog) (*Store, error) {
	if secret == "" {
		return nil, errors.New("opening the store: the secret that encrypts signing keys is empty")
	}
	db, err := gorm.Open(postgres.Open(appURL), &gorm.Config{
		Logger:                 logger.NewSlogLogger(slog.Default(), logger.Config{SlowThreshold: time.Second, LogLevel: logger.Warn, IgnoreRecordNotFoundError: true, ParameterizedQueries: true}),
		SkipDefaultTransaction: true,
		DisableAutomaticPing:   true,
	})
	if err != nil {
		return nil, fmt.Errorf("opening the database: %w", err)
	}
	pool, err := db.DB()
	if err != nil {
		return nil, err
	}
	pool.SetMaxOpenConns(20)
	s := &Store{db: db, sql: pool, shipped: shipped, secret: sha256.Sum256([]byte(secret))}
	if err := s.checkRole(ctx); err != nil {
		_ = pool.Close()
		return nil, err
	}
	return s, nil
}

// Close gives the connections back.
func (s *Store) Close() error { return s.sql.Close() }

// Ping reports whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return s.sql.PingContext(ctx) }

// Tx is a transaction inside one school.
type Tx struct {
	db      *gorm.DB
	School  string
	shipped *catalog.Catalog
	secret  [32]byte
}

type insideKey struct{}

// In runs fn in a transaction that sees the rows of one school. An error of fn
// takes everything back. Calls do not nest.
func (s *Store) In(ctx context.Context, school string, fn func(ctx context.Context, tx *Tx) error) error {
	if ctx.Value(insideKey{}) != nil {
		return errors.New("store: In was called inside In")
	}
	ctx = context.WithValue(ctx, insideKey{}, true)
	return s.db.WithContext(ctx).Transaction(func(db *gorm.DB) error {
		if err := db.Exec("select set_config('app.school', ?, true)", school).Error; err != nil {
			return fmt.Errorf("entering the school: %w", err)
		}
		return fn(ctx, &Tx{db: db, School: school, shipped: s.shipped, secret: s.secret})
	})
}

// rows runs a query and returns its rows as T.
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

// bump is the first statement of every write: it locks the school's feed and
// counts it on.
func (tx *Tx) bump() (int64, error) {
	seq, err := row[int64](tx, "update school_feed set seq = seq + 1 where school_id = ? returning seq", tx.School)
	if err != nil {
		return 0, fmt.Errorf("entering the write in the school's feed: %w", err)
	}
	return seq, nil
}

// changed notes in the feed what a write touched.
func (tx *Tx) changed(seq int64, subject, ref string) error {
	return tx.db.Exec("insert into school_changes (school_id, seq, subject, ref) values (?, ?, ?, ?) on conflict do nothing",
		tx.School, seq, subject, ref).Error
}

// Change is an entry of a school's feed.
type Change struct {
	Seq     int64  `json:"seq"`
	Subject string `json:"subject"`
	Ref     string `json:"ref"`
}

// Feed lists what changed after a cursor, and the cursor to ask with next.
func (tx *Tx) Feed(after int64) ([]Change, int64, error) {
	changes, err := rows[Change](tx, "select seq, subject, ref from school_changes where school_id = ? and seq > ? order by seq, subject, ref limit 500", tx.School, after)
	if err != nil {
		return nil, 0, fmt.Errorf("reading the feed: %w", err)
	}
	if len(changes) > 0 {
		after = changes[len(changes)-1].Seq
	}
	return changes, after, nil
}
