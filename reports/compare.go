package reports

import (
	"context"
	"fmt"
	"jetprimer/core/compare"
	"jetprimer/store"
	"slices"
	"sync"
)

// ComparedView is how instructors grade, compared fairly.
type ComparedView struct {
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

// Grades are those given from a day on, and the names of who gave them.
func (r *Reports) Grades(tx *store.Tx, from string) (grades []compare.Grade, names map[string]string, err error) {
	signed, err := tx.SignedStamp()
	if err != nil {
		return nil, nil, err
	}
	grades, err = r.grades.of(tx.School, fmt.Sprint(signed, " ", from),
		func() ([]compare.Grade, error) { return tx.Grades(from) })
	if err != nil {
		return nil, nil, err
	}
	names, err = tx.Names()
	return grades, names, err
}

// Compared is the comparison of a school's grades from a day on. It takes long: ctx ends
// the wait for it, and the work.
func (r *Reports) Compared(ctx context.Context, school, from string, grades []compare.Grade,
	names map[string]string) (ComparedView, error) {
	model, err := r.comparisons.of(ctx, school, from, grades)
	if err != nil {
		return ComparedView{}, err
	}
	return ComparedView{From: from, Sheet: compare.SheetOf(model, grades, names), All: true}, nil
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
