package reports

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"jetprimer/store"
)

// Kept says of a report that is kept when it was made.
type Kept struct {
	MadeAt  time.Time `json:"madeAt" doc:"when it was worked out"`
	Current bool      `json:"current" doc:"whether nothing was signed since"`
}

// The names of the reports that are kept; the number rises with the shape of what is kept.
const (
	keptTaught  = "taught 1"
	keptCompare = "compare 1"
)

// stamp changes with what the kept reports rest on: signatures, erased names, the day.
func (r *Reports) stamp(tx *store.Tx) (string, error) {
	signed, err := tx.SignedStamp()
	return fmt.Sprint(signed, " ", r.day(tx)), err
}

// kept reads a report that is kept into v, and reports whether there is one.
func (r *Reports) kept(tx *store.Tx, name, stamp string, v any) (Kept, bool, error) {
	k, err := tx.KeptReport(name)
	if errors.Is(err, store.ErrNotFound) {
		return Kept{}, false, nil
	}
	if err == nil {
		err = json.Unmarshal([]byte(k.Body), v)
	}
	return Kept{k.MadeAt, k.Stamp == stamp}, err == nil, err
}

// keep keeps a report that has been made.
func (r *Reports) keep(tx *store.Tx, name, stamp string, v any) (Kept, error) {
	body, err := json.Marshal(v)
	if err != nil {
		return Kept{}, err
	}
	at := r.now()
	return Kept{at, true}, tx.KeepReport(name, stamp, body, at)
}

// Refresh makes the kept reports of a school anew where they do not rest on the newest
// signatures, so that nobody waits for them. Two servers that do so at once do the same
// work twice, and keep the same.
func (r *Reports) Refresh(ctx context.Context, s *store.Store, school string) error {
	in := func(do func(tx *store.Tx) error) error {
		return s.In(ctx, school, func(_ context.Context, tx *store.Tx) error { return do(tx) })
	}
	if err := in(func(tx *store.Tx) error {
		v, err := r.Taught(tx)
		if err == nil && !v.Current {
			_, err = r.makeTaught(tx)
		}
		return err
	}); err != nil {
		return fmt.Errorf("making the report of what is taught: %w", err)
	}
	var asked Comparison
	if err := in(func(tx *store.Tx) (err error) {
		asked, err = r.Comparison(tx, "")
		return err
	}); err != nil || asked.Kept.Current {
		return err
	}
	if _, err := r.Compare(ctx, asked, in); err != nil {
		return fmt.Errorf("making the comparison: %w", err)
	}
	return nil
}
