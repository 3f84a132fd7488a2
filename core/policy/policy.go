// Package policy is what a school decides for itself: when an element is to
// standard, what a lesson is worked and graded by, how its aircraft are started,
// tested and fuelled, and how long records are kept. A policy is a document with
// versions; each decision says what schools do, and why.
package policy

import (
	"cmp"
	"fmt"
	"slices"

	"jetprimer/core/access"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/progress"
	"jetprimer/core/quantity"
	"jetprimer/core/schedule"
	"jetprimer/core/school"
)

// Policy is one version of a school's policy.
type Policy struct {
	ID      string `json:"id"`
	Title   string `json:"title"`
	Version int    `json:"version"`
	// Standing is when an element is to standard, and what readiness asks for.
	Standing progress.Policy `json:"standing"`
	// Methods and Scales are those that lessons are opened with, the usual first.
	Methods []string `json:"methods"`
	Scales  []string `json:"scales"`
	// FuelMethod is how it takes the tanks, TimeRule how it counts flight time.
	FuelMethod string `json:"fuelMethod" enum:"fuller-first,prove-both"`
	TimeRule   string `json:"timeRule" enum:"hour-meter,block"`
	// TurnBackFt is the height above the field from which turning back is thought
	// of; nil is never.
	TurnBackFt *int `json:"turnBackFt,omitempty"`
	// DeadCut says that the switch is tested at OFF; Leaning whether engines are
	// leaned on the ground; Breakers whether one that has opened is set once.
	DeadCut  bool   `json:"deadCut"`
	Leaning  string `json:"leaning" enum:"as-allowed,never"`
	Breakers string `json:"breakers" enum:"once,never"`
	// Passing is what a touch on a later item, or on the rest of a phase, may pass
	// without a mark; empty is everything.
	Passing string `json:"passing,omitempty" enum:"everything,not-critical"`
	// Paper is who writes down lessons that were kept on paper; empty is the chief
	// instructor.
	Paper string `json:"paper,omitempty" enum:"chief,giver,nobody"`
	// StartOrders are the engines of a type in the order the school starts them,
	// where that is not the maker's.
	StartOrders map[string][]int `json:"startOrders,omitempty"`
	// Planning is what it does about what stands against a lesson that is planned.
	Planning schedule.Planning `json:"planning,omitzero"`
	// KeepYears is for how many years after somebody has left their name is kept.
	KeepYears int `json:"keepYears"`
}

// ID is that of the one policy document of a school.
const ID = "policy"

// The ways of leaning and of breakers, the usual first.
var (
	Leanings = []string{"as-allowed", "never"}
	Breakers = []string{"once", "never"}
)

// Default is the policy of a school that has written none: standing by the rules
// that ship, with what the school had set before there were policies.
func Default(standing progress.Policy, scales []string, settings school.Settings) Policy {
	turn := 900
	return Policy{ID: ID, Title: "The school’s policy", Version: standing.Version, Standing: standing,
		Methods: slices.Clone(lesson.Methods), Scales: scales,
		FuelMethod: settings.Tanks(), TimeRule: settings.FlightTime(), TurnBackFt: &turn, DeadCut: true,
		Leaning: Leanings[0], Breakers: Breakers[0], Planning: schedule.Planning{}.Usual(), KeepYears: 10}
}

// Problems lists every mistake in the policy. It makes a policy a document of the
// open formats.
func (p Policy) Problems() []form.Problem {
	faults := []form.Problem{}
	add := func(path, format string, args ...any) {
		faults = append(faults, form.Problem{Field: path, Reason: fmt.Sprintf(format, args...)})
	}
	if p.ID != ID {
		add("$.id", "must be %s: a school has one policy", ID)
	}
	if p.Title == "" {
		add("$.title", "is missing")
	}
	if p.Version < 1 {
		add("$.version", "must be 1 or more")
	}
	standing := p.Standing
	standing.ID, standing.Version = ID, 1
	if err := standing.Check(); err != nil {
		add("$.standing", "%v", err)
	}
	if len(p.Standing.Stages) > maxStages {
		add("$.standing.stages", "has %d stages; at most %d are read", len(p.Standing.Stages), maxStages)
	}
	for _, q := range everyQuestion(p, Known{}) {
		faults = append(faults, q.problems(p)...)
	}
	for typ, order := range p.StartOrders {
		sorted := slices.Sorted(slices.Values(order))
		for i, n := range sorted {
			if n != i+1 || len(order) < 2 || len(order) > 4 {
				add("$.startOrders."+typ, "must name each of its engines once")
				break
			}
		}
	}
	return form.SortProblems(faults)
}

// Skips are the checks that the school's aircraft could have and it does not do.
func (p Policy) Skips() []string {
	out := []string{}
	if !p.DeadCut {
		out = append(out, "dead-cut")
	}
	if p.Leaning == "never" {
		out = append(out, "mixture-peak")
	}
	return out
}

// ForDay is what of a policy a list is tailored by and a day is reckoned with.
type ForDay struct {
	FuelMethod string `json:"fuelMethod"`
	// TurnBack is the height as a person types it, empty for never.
	TurnBack   string   `json:"turnBack"`
	Skips      []string `json:"skips"`
	Breakers   string   `json:"breakers"`
	Passing    string   `json:"passing"`
	StartOrder []int    `json:"startOrder"`
}

// ForDay is what concerns a day on a type, in the units of a person.
func (p Policy) ForDay(typ string, u quantity.Units) ForDay {
	d := ForDay{
		FuelMethod: p.FuelMethod, Skips: p.Skips(), Breakers: p.Breakers,
		Passing: cmp.Or(p.Passing, lesson.Passings[0]), StartOrder: append([]int{}, p.StartOrder(typ)...),
	}
	if p.TurnBackFt != nil {
		v, _ := u.Show(quantity.Scaled(int64(*p.TurnBackFt), 0), "ft")
		d.TurnBack = v.String()
	}
	return d
}

// MayWriteDown reports whether somebody with the roles may write down a lesson that
// was kept on paper.
func (p Policy) MayWriteDown(roles access.Roles) bool {
	switch cmp.Or(p.Paper, lesson.Papers[0]) {
	case "chief":
		return roles.Has(access.Chief)
	case "giver":
		return roles.Teach()
	}
	return false
}

// StartOrder is the order in which the school starts the engines of a type; nil
// for the maker's.
func (p Policy) StartOrder(typ string) []int { return p.StartOrders[typ] }
