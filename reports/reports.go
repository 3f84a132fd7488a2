// Package reports answers what a school asks of many lessons at once: a student's
// standing, every student at a glance, the outlook, how items are taught, how instructors
// grade, trends of aircraft, and the next lessons that students need. Each report is one
// file with its shape and its query; the rules are those of core.
package reports

import (
	"time"

	"jetprimer/catalog"
	"jetprimer/core/compare"
	"jetprimer/store"
)

// Reports makes the reports of all schools. What takes long to work out it keeps until
// what that rests on has changed.
type Reports struct {
	catalog *catalog.Catalog
	now     func() time.Time

	reach       reach
	series      cache[[]compare.Series]
	grades      cache[[]compare.Grade]
	comparisons *comparisons
}

// New makes reports of what ships and of what schools keep; now is the clock.
func New(c *catalog.Catalog, now func() time.Time) *Reports {
	return &Reports{catalog: c, now: now, comparisons: newComparisons()}
}

// day is the school's day.
func (r *Reports) day(tx *store.Tx) string { return tx.Day(r.now()) }

// Named is something by its id and its name.
type Named struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}
