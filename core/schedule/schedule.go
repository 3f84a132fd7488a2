package schedule

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"jetprimer/core/access"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/school"
)

// Away is a span in which somebody is on leave, or an aircraft is not to be had.
type Away struct {
	ID           string    `json:"id"`
	PersonID     string    `json:"personId,omitempty"`
	Person       string    `json:"person,omitempty"`
	Registration string    `json:"registration,omitempty"`
	StartsAt     time.Time `json:"startsAt"`
	EndsAt       time.Time `json:"endsAt"`
	Why          string    `json:"why"`
}

// longestAway bounds a span.
const longestAway = 366 * 24 * time.Hour

// Check reports what is wrong with a span noted at a moment.
func (a Away) Check(now time.Time) error {
	switch {
	case (a.PersonID == "") == (a.Registration == ""):
		return form.Bad("person", "or the aircraft must be named, one of them")
	case !a.EndsAt.After(a.StartsAt):
		return form.Bad("to", "must be after its beginning")
	case a.EndsAt.Sub(a.StartsAt) > longestAway:
		return form.Bad("to", "is more than a year after its beginning")
	case a.EndsAt.Before(now):
		return form.Bad("to", "is over already")
	case a.StartsAt.After(now.Add(FarthestBooking)):
		return form.Bad("from", "is more than a year ahead")
	}
	return nil
}

// MayNote reports whether a person with the roles may note the span. Everybody may
// note their own leave, chiefs and administrators anybody's leave, and those who keep
// the aircraft when one is out of service.
func (a Away) MayNote(r access.Roles, person string) bool {
	if a.Registration != "" {
		return r.Any(access.AircraftKeepers)
	}
	return a.PersonID == person || r.Governs()
}

// Shift is when somebody works on one day of the week, on the school's clock.
type Shift struct {
	Day  int    `json:"day" minimum:"1" maximum:"7" doc:"1 is Monday"`
	From string `json:"from" pattern:"^([01][0-9]|2[0-3]):[0-5][0-9]$" doc:"such as 08:30"`
	To   string `json:"to" pattern:"^([01][0-9]|2[0-3]):[0-5][0-9]$"`
}

// CheckShifts reports what is wrong with a week of shifts: at most two a day, none
// into another.
func CheckShifts(week []Shift) error {
	for i, s := range week {
		if s.Day < 1 || s.Day > 7 {
			return form.Bad(fmt.Sprintf("shifts[%d].day", i), "must be 1 to 7, Monday to Sunday")
		}
		if s.From >= s.To {
			return form.Bad(fmt.Sprintf("shifts[%d].to", i), "must be after %s", s.From)
		}
		for _, o := range week[:i] {
			if o.Day == s.Day && o.From < s.To && s.From < o.To {
				return form.Bad(fmt.Sprintf("shifts[%d].from", i), "lies in the shift from %s to %s", o.From, o.To)
			}
		}
	}
	return nil
}

// What is done about what stands against a lesson.
const (
	Refuse = "refuse"
	Warn   = "warn"
	Allow  = "allow"
)

// Planning is what the school does about what stands against a lesson that is
// planned: refuse it, warn of it or allow it. Empty is what most schools do.
type Planning struct {
	Leave         string `json:"leave,omitempty" enum:"refuse,warn,allow"`
	Shifts        string `json:"shifts,omitempty" enum:"refuse,warn,allow"`
	OutOfService  string `json:"outOfService,omitempty" enum:"refuse,warn,allow"`
	Grounded      string `json:"grounded,omitempty" enum:"refuse,warn,allow"`
	Prerequisites string `json:"prerequisites,omitempty" enum:"refuse,warn,allow"`
}

// Usual is the planning with what was left empty said.
func (p Planning) Usual() Planning {
	return Planning{Leave: cmp.Or(p.Leave, Refuse), Shifts: cmp.Or(p.Shifts, Warn),
		OutOfService: cmp.Or(p.OutOfService, Refuse), Grounded: cmp.Or(p.Grounded, Warn),
		Prerequisites: cmp.Or(p.Prerequisites, Warn)}
}

// Obstacle is what stands against a lesson that is planned.
type Obstacle struct {
	Kind    string `json:"kind" enum:"booked,leave,shifts,out-of-service,grounded,prerequisites"`
	Words   string `json:"words"`
	Refused bool   `json:"refused" doc:"it cannot be planned; else it is a warning"`
}

// Calendar is what a planned lesson is held against.
type Calendar struct {
	Planning Planning
	Others   []Booking
	Away     []Away
	// Shifts are the weeks of those who have said when they work, by person.
	Shifts map[string][]Shift
	// Grounded says of each aircraft that stays on the ground why.
	Grounded map[string]string
	// Flown are the exercises that each student has flown, by student.
	Flown map[string][]string
	Zone  *time.Location
}

// Obstacles are what stands against a booking, what refuses it first.
func (a Calendar) Obstacles(b Booking) []Obstacle {
	out := []Obstacle{}
	rule := a.Planning.Usual()
	add := func(kind, how, words string) {
		if how != Allow {
			out = append(out, Obstacle{kind, words, how == Refuse})
		}
	}
	if words := b.Clash(a.Others, a.Zone); words != "" {
		add("booked", Refuse, words+".")
	}
	for _, w := range a.Away {
		if !b.during(w.StartsAt, w.EndsAt) {
			continue
		}
		switch {
		case w.Registration == b.Registration && w.Registration != "":
			add("out-of-service", rule.OutOfService,
				fmt.Sprintf("%s is not to be had until %s: %s.", w.Registration, a.moment(w.EndsAt, b.StartsAt), w.Why))
		case w.PersonID != "" && (w.PersonID == b.InstructorID || w.PersonID == b.StudentID):
			add("leave", rule.Leave,
				fmt.Sprintf("%s is away until %s: %s.", w.Person, a.moment(w.EndsAt, b.StartsAt), w.Why))
		}
	}
	if words := a.outside(b); words != "" {
		add("shifts", rule.Shifts, words)
	}
	if why := a.Grounded[b.Registration]; why != "" {
		add("grounded", rule.Grounded, fmt.Sprintf("%s stays on the ground now: %s", b.Registration, why))
	}
	if missing := a.missing(b); len(missing) > 0 {
		add("prerequisites", rule.Prerequisites,
			fmt.Sprintf("No signed lesson of %s has had what comes before: %s.", b.Student,
				strings.Join(checklist.ExerciseWords(missing), ", ")))
	}
	slices.SortStableFunc(out, func(x, y Obstacle) int {
		switch {
		case x.Refused == y.Refused:
			return 0
		case x.Refused:
			return -1
		}
		return 1
	})
	return out
}

// moment is a time of day, with its day where that is another than near's.
func (a Calendar) moment(at, near time.Time) string {
	if school.Day(at, a.Zone) == school.Day(near, a.Zone) {
		return at.In(a.Zone).Format("15:04")
	}
	return at.In(a.Zone).Format("Mon 2 Jan, 15:04")
}

// outside says when the instructor works where the booking lies outside of it.
func (a Calendar) outside(b Booking) string {
	week, said := a.Shifts[b.InstructorID]
	if !said {
		return ""
	}
	from, to := b.StartsAt.In(a.Zone), b.EndsAt.In(a.Zone)
	day := weekday(from)
	hours := []string{}
	for _, s := range week {
		if s.Day != day {
			continue
		}
		if s.From <= from.Format("15:04") && to.Format("15:04") <= s.To &&
			school.Day(from, a.Zone) == school.Day(to, a.Zone) {
			return ""
		}
		hours = append(hours, s.From+" to "+s.To)
	}
	if len(hours) == 0 {
		return fmt.Sprintf("%s does not work on a %s.", b.Instructor, from.Weekday())
	}
	return fmt.Sprintf("%s works from %s on a %s.", b.Instructor, strings.Join(hours, " and "), from.Weekday())
}

// weekday is 1 for Monday to 7 for Sunday.
func weekday(t time.Time) int { return (int(t.Weekday())+6)%7 + 1 }

// missing are the exercises that come before those of the booking and that its
// student has not flown.
func (a Calendar) missing(b Booking) []string {
	flown, known := a.Flown[b.StudentID]
	if !known {
		return nil
	}
	var out []string
	for _, e := range checklist.Exercises {
		if !slices.Contains(b.Exercises, e.ID) {
			continue
		}
		for _, before := range e.After {
			if !slices.Contains(flown, before) && !slices.Contains(b.Exercises, before) &&
				!slices.Contains(out, before) {
				out = append(out, before)
			}
		}
	}
	return out
}

// Named is a person or an aircraft that could take another's place.
type Named struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// Alternative is a way in which a booking that cannot be made could be made.
type Alternative struct {
	Words        string    `json:"words"`
	StartsAt     time.Time `json:"startsAt"`
	EndsAt       time.Time `json:"endsAt"`
	InstructorID string    `json:"instructorId"`
	Registration string    `json:"registration"`
}

// The school's day, where a lesson is looked for; steps of its search.
const (
	opens    = 7 * time.Hour
	closes   = 21 * time.Hour
	slotStep = 30 * time.Minute
)

// Alternatives are the ways in which a booking that something stands against could be made
// on the same day: the nearest times before and after, another instructor at its
// time, another aircraft at its time. Nothing stands against them but what the
// student has not flown yet.
func (a Calendar) Alternatives(b Booking, now time.Time, teachers []Named, aircraft []string) []Alternative {
	out := []Alternative{}
	long := b.EndsAt.Sub(b.StartsAt)
	offer := func(words string, c Booking) bool {
		if c.StartsAt.Before(now) ||
			slices.ContainsFunc(a.Obstacles(c), func(o Obstacle) bool { return o.Kind != "prerequisites" }) {
			return false
		}
		out = append(out, Alternative{words, c.StartsAt, c.EndsAt, c.InstructorID, c.Registration})
		return true
	}
	local, day := b.StartsAt.In(a.Zone), school.Midnight(b.StartsAt, a.Zone)
	for _, way := range []time.Duration{-slotStep, slotStep} {
		for at := local.Add(way); !at.Before(day.Add(opens)) && !at.Add(long).After(day.Add(closes)); at = at.Add(way) {
			c := b
			c.StartsAt, c.EndsAt = at.UTC(), at.Add(long).UTC()
			if offer(at.Format("15:04"), c) {
				break
			}
		}
	}
	for _, t := range teachers {
		c := b
		c.InstructorID, c.Instructor = t.ID, t.Name
		if t.ID != b.InstructorID && t.ID != b.StudentID && offer(t.Name+" at "+local.Format("15:04"), c) {
			break
		}
	}
	for _, registration := range aircraft {
		c := b
		c.Registration = registration
		if registration != b.Registration && offer(registration+" at "+local.Format("15:04"), c) {
			break
		}
	}
	return out
}

// Summary says in numbers what a week has.
type Summary struct {
	Lessons int `json:"lessons"`
	// Prepared are those that have a plan or exercises.
	Prepared int `json:"prepared"`
	// BookedHours are those of aircraft that are planned, FreeHours those that are
	// still to be had between 08:00 and 18:00, from now on.
	BookedHours float64 `json:"bookedHours"`
	FreeHours   float64 `json:"freeHours"`
}

// Summary counts some days from the beginning of one on.
func (a Calendar) Summary(first, now time.Time, days int, aircraft []string) Summary {
	s := Summary{}
	end := first.AddDate(0, 0, days)
	minutes := map[string]int{}
	for _, b := range a.Others {
		if b.StartsAt.Before(first) || !b.StartsAt.Before(end) {
			continue
		}
		s.Lessons++
		if b.Plan != "" || len(b.Exercises) > 0 {
			s.Prepared++
		}
		minutes[b.Registration] += int(b.EndsAt.Sub(b.StartsAt).Minutes())
	}
	booked, free := 0, 0
	for _, registration := range aircraft {
		booked += minutes[registration]
		if a.Grounded[registration] != "" {
			continue
		}
		for d := range days {
			day := first.AddDate(0, 0, d)
			for at := day.Add(proposedFrom); at.Before(day.Add(proposedTo)); at = at.Add(slotStep) {
				if !at.Before(now) && a.has(registration, at, at.Add(slotStep)) {
					free += int(slotStep.Minutes())
				}
			}
		}
	}
	s.BookedHours, s.FreeHours = float64(booked)/60, float64(free)/60
	return s
}

// has reports whether an aircraft is to be had between two moments.
func (a Calendar) has(registration string, from, to time.Time) bool {
	return !slices.ContainsFunc(a.Others,
		func(b Booking) bool { return b.Registration == registration && b.during(from, to) }) &&
		!slices.ContainsFunc(a.Away, func(w Away) bool {
			return w.Registration == registration && w.StartsAt.Before(to) && from.Before(w.EndsAt)
		})
}

// Fits are those of some people who could take a time that became free: nothing
// stands against them in it.
func (a Calendar) Fits(b Booking, people []Named) []Named {
	out := []Named{}
	for _, p := range people {
		c := b
		c.ID, c.StudentID, c.Student, c.Exercises = "", p.ID, p.Name, nil
		if p.ID != b.StudentID && len(a.Obstacles(c)) == 0 {
			out = append(out, p)
		}
	}
	return out
}

// HoursADay are those in which lessons are proposed, and HoursAWeek what somebody
// works who has not noted when.
const (
	HoursADay  = float64((proposedTo - proposedFrom) / time.Hour)
	HoursAWeek = 40.0
)

// AircraftHours are how many hours so many aircraft are to be had between two moments,
// less what they are away.
func (a Calendar) AircraftHours(registrations []string, from, to time.Time) float64 {
	sum := 0.0
	for _, r := range registrations {
		sum += to.Sub(from).Hours() - a.awayHours(from, to, func(w Away) bool { return w.Registration == r })
	}
	return sum * HoursADay / 24
}

// TeachingHours are how many hours so many people work between two moments by their
// shifts, less their leave.
func (a Calendar) TeachingHours(people []string, from, to time.Time) float64 {
	sum := 0.0
	for _, p := range people {
		week := HoursAWeek
		if shifts, noted := a.Shifts[p]; noted {
			week = 0
			for _, s := range shifts {
				begins, err1 := time.Parse("15:04", s.From)
				ends, err2 := time.Parse("15:04", s.To)
				if err1 == nil && err2 == nil {
					week += ends.Sub(begins).Hours()
				}
			}
		}
		sum += week / (7 * 24) * (to.Sub(from).Hours() - a.awayHours(from, to,
			func(w Away) bool { return w.PersonID == p }))
	}
	return sum
}

// awayHours are those of the spans that count, within two moments; where they overlap
// once.
func (a Calendar) awayHours(from, to time.Time, counts func(Away) bool) float64 {
	spans := slices.DeleteFunc(slices.Clone(a.Away), func(w Away) bool { return !counts(w) })
	slices.SortFunc(spans, func(x, y Away) int { return x.StartsAt.Compare(y.StartsAt) })
	sum, seen := 0.0, from
	for _, w := range spans {
		begins, ends := w.StartsAt, w.EndsAt
		if begins.Before(seen) {
			begins = seen
		}
		if ends.After(to) {
			ends = to
		}
		if ends.After(begins) {
			sum, seen = sum+ends.Sub(begins).Hours(), ends
		}
	}
	return sum
}
