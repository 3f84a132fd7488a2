package store

import (
	"context"
	"errors"
	"log/slog"
	"sync/atomic"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// statements counts what is asked of the database, and logs what failed or was
// slow without a word of it: the text of a statement holds people's records.
type statements struct {
	n    atomic.Int64
	slow time.Duration
}

func (l *statements) LogMode(logger.LogLevel) logger.Interface { return l }

func (l *statements) Info(context.Context, string, ...any)  {}
func (l *statements) Warn(context.Context, string, ...any)  {}
func (l *statements) Error(context.Context, string, ...any) {}

// Trace is called after each statement.
func (l *statements) Trace(ctx context.Context, begun time.Time, _ func() (string, int64), err error) {
	l.n.Add(1)
	took := time.Since(begun)
	switch {
	case err != nil && !errors.Is(err, gorm.ErrRecordNotFound) && !errors.Is(err, context.Canceled):
		slog.WarnContext(ctx, "a statement failed", "error", plain(err).Error(), "ms", took.Milliseconds())
	case took > l.slow:
		slog.WarnContext(ctx, "a statement was slow", "ms", took.Milliseconds())
	}
}
