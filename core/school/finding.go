package school

import (
	"strings"
	"time"

	"jetprimer/core/form"
)

// Condition is what a finding means for the aircraft that it is about.
type Condition string

// The conditions of a finding.
const (
	Undecided Condition = "undecided" // nobody has decided yet: it keeps the aircraft on the ground
	CarriedOn Condition = "carried-on"
	Deferred  Condition = "deferred"
	Overdue   Condition = "overdue" // deferred until a day that is over
	Grounded  Condition = "grounded"
	Closed    Condition = "closed" // cleared and tested again, or normal for the type
)

// ConditionOf is what a person's decision on a finding makes of it.
func ConditionOf(decision string) Condition {
	switch decision {
	case "carried-on", "deferred", "grounded":
		return Condition(decision)
	case "cleared", "normal-for-type":
		return Closed
	}
	return Undecided
}

// Open reports whether the finding still stands.
func (c Condition) Open() bool { return c != Closed }

// Grounds reports whether it keeps the aircraft on the ground.
func (c Condition) Grounds() bool { return c == Undecided || c == Grounded || c == Overdue }

// WaitsForMaintenance reports whether maintenance has something to do or to say about
// it: what grounds, and what was deferred without a limit. limited says that a
// deferral has one.
func (c Condition) WaitsForMaintenance(limited bool) bool {
	return c.Grounds() || c == Deferred && !limited
}

// DeferredUntil is what becomes of a condition on a day by the limit of a deferral, and
// how many days are left of it; nil where none runs.
func (c Condition) DeferredUntil(until, day string) (Condition, *int) {
	if c != Deferred || until == "" {
		return c, nil
	}
	limit, err1 := time.Parse(time.DateOnly, until)
	today, err2 := time.Parse(time.DateOnly, day)
	if err1 != nil || err2 != nil {
		return c, nil
	}
	left := int(limit.Sub(today).Hours() / 24)
	if left < 0 {
		return Overdue, nil
	}
	return c, &left
}

// longestDeferral bounds the limit of a deferral, in days.
const longestDeferral = 366

// Deferral is until when a finding is deferred, and by which rule.
type Deferral struct {
	Until string `json:"until" format:"date"`
	Words string `json:"words" minLength:"1" maxLength:"1000" doc:"the rule or item that allows it, and on which condition"`
}

// Check reports what is wrong with a deferral noted on a day.
func (d Deferral) Check(day string) error {
	until, err1 := time.Parse(time.DateOnly, d.Until)
	today, err2 := time.Parse(time.DateOnly, day)
	if err1 != nil || err2 != nil || until.Before(today) || until.Sub(today).Hours() > longestDeferral*24 {
		return form.Bad("until", "must be a day from today on, at most %d days ahead", longestDeferral)
	}
	if strings.TrimSpace(d.Words) == "" {
		return form.Bad("words", "must say which rule allows it")
	}
	return nil
}
