package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"
	"io"
	"net"
	"slices"

	"github.com/jackc/pgx/v5/pgconn"

	"jetprimer/core/form"
)

// Errors that a caller tells apart.
var (
	// ErrNotFound says that the school has no such thing; of another school's
	// things it says the same.
	ErrNotFound = errors.New("not found")
	// ErrUnavailable says that the database cannot be reached, or is too busy.
	ErrUnavailable = errors.New("the database does not answer")
	// ErrText says that a text holds what the database cannot, such as NUL.
	ErrText = errors.New("a text holds what cannot be kept")
	// ErrConflict says that somebody else saved the draft in between.
	ErrConflict = errors.New("somebody else has saved this draft since you opened it; your own text is kept on this " +
		"screen. Reload to see theirs")
	// ErrStale says that the person signs something else than is held: more
	// events have come since their screen was drawn.
	ErrStale = errors.New("the lesson has changed since it was shown")
	// ErrUnsettled says that something has to be decided before signing.
	ErrUnsettled = errors.New("the lesson cannot be signed yet")
)

// errNothingKept says that a request was refused as a whole.
var errNothingKept = errors.New("nothing of this was kept")

// refuse is the [form.Problem] for which a request is refused as a whole.
func refuse(field, reason string) error {
	return fmt.Errorf("%w: %w", errNothingKept, form.Problem{Field: field, Reason: reason})
}

// SQL states: a value that is none of its type, text that cannot be kept, a lock that took too
// long, a server that only reads.
const (
	invalidText  = "22P02"
	badEncoding  = "22021"
	badCharacter = "22P05"
	outOfRange   = "22003"
	dateOverflow = "22008"
	lockTimedOut = "55P03"
	readOnly     = "25006"
)

// unavailable are the classes of SQL states that say that the database cannot serve just now:
// a connection that failed, resources such as the disk that are used up, somebody who
// stopped or restarts it, a failure of its system.
var unavailable = []string{"08", "53", "57", "58"}

// plain tells the database's errors apart by their type: what cannot name a
// record is not found, what cannot be reached is unavailable. The values of a
// statement, which the database repeats in its words, are left out.
func plain(err error) error {
	var pg *pgconn.PgError
	var network net.Error
	var connect *pgconn.ConnectError
	switch {
	case err == nil:
		return nil
	case errors.As(err, &pg):
		if slices.Contains(unavailable, pg.Code[:min(2, len(pg.Code))]) {
			return fmt.Errorf("%w (SQL state %s)", ErrUnavailable, pg.Code)
		}
		switch pg.Code {
		case invalidText, outOfRange, dateOverflow:
			return fmt.Errorf("%w (SQL state %s)", ErrNotFound, pg.Code)
		case badEncoding, badCharacter:
			return fmt.Errorf("%w (SQL state %s)", ErrText, pg.Code)
		case lockTimedOut, readOnly:
			return fmt.Errorf("%w (SQL state %s)", ErrUnavailable, pg.Code)
		}
		return &sqlError{pg}
	case errors.As(err, &connect), errors.As(err, &network), errors.Is(err, context.DeadlineExceeded),
		errors.Is(err, io.EOF), errors.Is(err, io.ErrUnexpectedEOF), errors.Is(err, driver.ErrBadConn), errors.Is(err,
			net.ErrClosed), errors.Is(err, sql.ErrConnDone), pgconn.SafeToRetry(err):
		cause := errors.Unwrap(err)
		if cause == nil {
			cause = err
		}
		return fmt.Errorf("%w: %w", ErrUnavailable, cause)
	}
	return err
}

// sqlError is a database error without the values it repeats.
type sqlError struct{ pg *pgconn.PgError }

func (e *sqlError) Error() string {
	return fmt.Sprintf("SQL state %s, table %q, constraint %q", e.pg.Code, e.pg.TableName, e.pg.ConstraintName)
}

func (e *sqlError) Unwrap() error { return e.pg }
