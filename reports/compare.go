package reports

import (
	"context"
	"fmt"
	"slices"
	"sync"
	"time"

	"jetprimer/core/compare"
	"jetprimer/store"
)

// ComparedView is how instructors grade, compared fairly.
type ComparedView struct {
	Kept
	From string `json:"from" doc:"the first day that it looks at"`
	compare.Sheet
	// All says that every instructor is in it; otherwise it is the own line only.
	All bool `json:"all"`
}

// comparisons keeps the newest ones, since nothing of them changes until a
// lesson is signed. One is made at a time.
type comparisons struct {
	making chan struct{}
	mu     sync.Mutex
	kept   []keptModel
	// school is the one that one is made for, done how far it is.
	school string
	done   float64
}

type keptModel struct {
	school, from string
	grades       []compare.Grade
	model        compare.Model
}

const comparisonsKept = 8

func newComparisons() *comparisons { return &comparisons{making: make(chan struct{}, 1)} }

// of is the comparison of grades; the context ends the wait for it, and the work.
func (c *comparisons) of(ctx context.Context, schoolID, from string, grades []compare.Grade) (compare.Model, error) {
	select {
	case c.making <- struct{}{}:
		defer func() { <-c.making }()
	case <-ctx.Done():
		return compare.Model{}, ctx.Err()
	}
	c.mu.Lock()
	i := slices.IndexFunc(c.kept, func(k keptModel) bool {
		return k.school == schoolID && k.from == from && slices.Equal(k.grades, grades)
	})
	if i >= 0 {
		defer c.mu.Unlock()
		return c.kept[i].model, nil
	}
	c.mu.Unlock()
	first := 0.0
	c.tell(schoolID, 0)
	defer c.tell("", 0)
	model, err := compare.Fit(ctx, grades, func(iteration int, change float64) {
		if iteration == 1 {
			first = change
		}
		c.tell(schoolID, compare.Done(first, change))
	})
	if err != nil {
		return model, err
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	c.kept = slices.DeleteFunc(c.kept, func(k keptModel) bool { return k.school == schoolID && k.from == from })
	if len(c.kept) == comparisonsKept {
		c.kept = c.kept[1:]
	}
	c.kept = append(c.kept, keptModel{schoolID, from, grades, model})
	return model, nil
}

func (c *comparisons) tell(school string, done float64) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.school, c.done = school, done
}

// Comparison is what is asked of a comparison: one that is kept, or the grades that one is
// to be made of.
type Comparison struct {
	ComparedView
	from   string
	found  bool
	kept   bool // whether it is kept once it is made
	school string
	stamp  string
	grades []compare.Grade
	names  map[string]string
}

// Comparison finds the comparison of the grades of a year, or of those from a day on.
// The one of a year is kept.
func (r *Reports) Comparison(tx *store.Tx, from string) (c Comparison, err error) {
	c.school, c.kept = tx.School, from == ""
	if c.stamp, err = r.stamp(tx); err != nil {
		return c, err
	}
	if c.kept {
		kept, found, err := r.kept(tx, keptCompare, c.stamp, &c.ComparedView)
		if c.found, c.Kept = found, kept; err == nil && found && kept.Current {
			return c, nil
		}
		today, err := time.Parse(time.DateOnly, r.day(tx))
		if err != nil {
			return c, err
		}
		from = today.AddDate(-1, 0, 0).Format(time.DateOnly)
	}
	c.from = from
	c.grades, err = r.grades.of(tx.School, fmt.Sprint(c.stamp, " ", from), func() ([]compare.Grade, error) {
		return tx.Grades(from)
	})
	if err != nil {
		return c, err
	}
	c.names, err = tx.Names()
	return c, err
}

// Found reports whether there is one already, if not of the newest signatures.
func (c Comparison) Found() bool { return c.found }

// Compare makes a comparison. It takes long: ctx ends the wait for it, and the work. in
// runs a function in the school, to keep what was made.
func (r *Reports) Compare(ctx context.Context, c Comparison,
	in func(func(tx *store.Tx) error) error) (ComparedView, error) {
	model, err := r.comparisons.of(ctx, c.school, c.from, c.grades)
	if err != nil {
		return ComparedView{}, err
	}
	v := ComparedView{From: c.from, Sheet: compare.SheetOf(model, c.grades, c.names), All: true}
	v.Kept = Kept{r.now(), true}
	if !c.kept {
		return v, nil
	}
	return v, in(func(tx *store.Tx) error {
		_, err := r.keep(tx, keptCompare, c.stamp, v)
		return err
	})
}

// Comparing reports whether a comparison is being made for a school, and how much of it
// is done, 0 to 1.
func (r *Reports) Comparing(school string) (done float64, working bool) {
	c := r.comparisons
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.school != school {
		return 0, false
	}
	return c.done, true
}
