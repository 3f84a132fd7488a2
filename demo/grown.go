package demo

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"time"

	"jetprimer/catalog"
	"jetprimer/core/access"
	"jetprimer/core/schedule"
	"jetprimer/store"
)

// The grown school: eighteen months of lessons of fifty more students with six more
// instructors on five more aircraft, and the week to come. It is made after the
// small one, which serves meanwhile.

// The instructors who come with it: one grades soft, one hard, one now so and now
// so; two teach at the second base, and link with nobody.
var (
	Lindgate  = member(8, "Vera Lindgate", "vera", "instructor")
	Orlow     = member(9, "Hamish Orlow", "hamish", "instructor")
	Penhallow = member(10, "Dario Penhallow", "dario", "instructor")
	Askwith   = member(11, "Noor Askwith", "noor", "instructor")
	Ravn      = member(12, "Selma Ravn", "selma", "instructor")
	Eket      = member(13, "Tobias Eket", "tobias", "instructor")
)

// bias is how much more able than they are an instructor sees students.
func bias(instructor Person, r *rand.Rand) float64 {
	switch instructor {
	case Lindgate:
		return 0.9
	case Orlow:
		return -0.8
	case Penhallow:
		return 1.1 * r.NormFloat64()
	}
	return 0
}

// Reserve are the aircraft that come with the grown school. The alternator of
// QZ-AAM is failing.
var Reserve = []store.Aircraft{
	{Registration: "QZ-AAJ", Type: "alder-110", Base: "XTHW", ElevationFt: 412, Equipment: store.IDs{}},
	{Registration: "QZ-AAK", Type: "alder-110", Base: "XSTB", ElevationFt: 18,
		Equipment: store.IDs{"second-altimeter"}},
	{Registration: "QZ-AAL", Type: "rowan-180i", Base: "XTHW", ElevationFt: 412, Equipment: store.IDs{"autopilot"}},
	{Registration: "QZ-AAM", Type: "sorrel-100", Base: "XTHW", ElevationFt: 412, Equipment: store.IDs{}},
	{
		Registration: "QZ-AAN", Type: "juniper-h2", Base: "XSTB", ElevationFt: 18,
		Equipment: store.IDs{"hydraulic-controls"},
	},
}

const failing = "QZ-AAM"

// The teachers of the grown school: those whose students go from one to another, and
// the two who link with nobody.
var (
	teachers = []Person{Lindgate, Orlow, Penhallow, Askwith, Okonjo, Solheim, Quist}
	apart    = []Person{Ravn, Eket}
)

var pupilNames = strings.Split("Aderonke Vale|Bastien Holt|Celestine Mbeki|Dag Ferraro|Esme Okafor|Florian "+
	"Treadwell|Gwen Sarkis|Hugo Tamm|Imani Leclerc|Jarek Whitmore|"+
	"Keziah Sund|Leopold Adeyemi|Maren Castellan|Nikhil Brackett|Oona Delacroix|Pavel Ngata|Quentin Aasen|Rosalind "+
	"Iwu|Sami Thornbury|Tamsin Roux|"+
	"Ulrik Mensah|Vida Hargreave|Wendell Popov|Xenia Calloway|Yara Lindholm|Zeb Marchetti|Anouk Pryor|Brynn "+
	"Osei|Caspian Rojas|Delphine Kerr|"+
	"Emeka Solberg|Freya Antar|Gideon Lacroix|Hedda Mwangi|Ivo Penrose|Jolanta Reyes|Kwame Ostrow|Lotte "+
	"Bianchi|Milo Farrant|Nadia Holm|"+
	"Orla Santos|Percy Ekwueme|Renske Doyle|Silas Varga|Thea Nakamura|Umar Ashdown|Viggo Teller|Wren Abara|Yannick "+
	"Stroud|Zora Fenwick", "|")

// grownDays are how far back the grown school reaches; in the last ownDays the small
// one's aircraft are its own.
const (
	grownDays = 548
	ownDays   = 115
)

// pupil is a student of the grown school.
type pupil struct {
	Person
	typ        string
	instructor Person
	alone      bool // with the two who link with nobody
	begins     int  // days before today
	stuck      string
}

// pupils are the students, in the order in which they began.
func pupils() []pupil {
	types := []string{
		"alder-110", "alder-110", "rowan-180i", "alder-110", "sorrel-100", "alder-110", "alder-110", "hornbeam-twin",
		"alder-110", "larch-d2",
	}
	out := make([]pupil, len(pupilNames))
	for i, name := range pupilNames {
		p := pupil{Person: member(byte(30+i), name, strings.ToLower(strings.ReplaceAll(name, " ", ".")),
			access.Student), typ: types[i%len(types)],
			instructor: teachers[i%len(teachers)], begins: grownDays - i*8}
		if i%8 == 3 {
			p.typ, p.alone, p.instructor = "juniper-h2", true, apart[i/8%2]
		}
		if p.typ == "hornbeam-twin" || p.typ == "larch-d2" {
			p.begins = grownDays - i*4 // done before the aircraft are the small school's own
		}
		out[i] = p
	}
	out[34].typ, out[34].stuck = "alder-110", "magnetos"
	return out
}

// Grow brings the grown school to the small one, as of the day on which that was
// loaded. It goes on where it was left; done tells how many lessons are there, of
// how many. A school that was loaded by an older program stays small.
func Grow(ctx context.Context, s *store.Store, c *catalog.Catalog, now time.Time, done func(n, of int)) error {
	tunde, err := s.AccountByEmail(ctx, Okonjo.Email)
	if err != nil {
		return err
	}
	var day time.Time
	if err := s.In(ctx, SchoolID, func(_ context.Context, tx *store.Tx) error {
		begun, err := tx.Begun()
		day = midnight(begun.In(tx.Zone).AddDate(0, 0, createdBefore))
		return err
	}); err != nil {
		return err
	}
	if day.After(now) {
		return nil
	}
	if err := joinGrown(ctx, s, c, day, tunde.Password); err != nil {
		return err
	}
	m := &maker{catalog: c, tenths: map[string]int{}}
	flights := m.grown(day)
	kept := map[string]bool{}
	if err := s.In(ctx, SchoolID, func(_ context.Context, tx *store.Tx) error {
		ids, err := tx.LessonIDs()
		for _, id := range ids {
			kept[id] = true
		}
		return err
	}); err != nil {
		return err
	}
	missing := slices.DeleteFunc(slices.Clone(flights), func(f *flight) bool { return kept[f.lessonID()] })
	there := len(flights) - len(missing)
	done(there, len(flights))
	if len(missing) == 0 {
		return nil
	}
	if err := keepAll(ctx, s, day, missing, 3, func(n int) { done(there+n, len(flights)) }); err != nil {
		return err
	}
	if err := s.In(ctx, SchoolID,
		func(_ context.Context, tx *store.Tx) error { return planWeek(tx, day) }); err != nil {
		return fmt.Errorf("planning the week: %w", err)
	}
	_, err = s.FitForgetting(ctx, SchoolID, day)
	return err
}

// joinGrown adds the people and aircraft, once.
func joinGrown(ctx context.Context, s *store.Store, c *catalog.Catalog, day time.Time, hash string) error {
	there := false
	if err := s.In(ctx, SchoolID, func(_ context.Context, tx *store.Tx) error {
		people, err := tx.People(access.Instructor)
		there = len(people) > 3
		return err
	}); err != nil || there {
		return err
	}
	people := []Person{Lindgate, Orlow, Penhallow, Askwith, Ravn, Eket}
	for _, p := range pupils() {
		people = append(people, p.Person)
	}
	for _, p := range people {
		if _, err := s.AccountByEmail(ctx, p.Email); err == nil {
			continue
		}
		if err := s.AddAccount(ctx, store.Account{ID: p.ID, Email: p.Email, Name: p.Name, Password: hash}); err != nil {
			return fmt.Errorf("adding %s: %w", p.Name, err)
		}
	}
	return s.In(ctx, SchoolID, func(_ context.Context, tx *store.Tx) error {
		for _, p := range people {
			if err := tx.Join(p.ID, p.Role); err != nil {
				return err
			}
		}
		for _, a := range Reserve {
			if err := tx.AddAircraft(a); err != nil {
				return err
			}
		}
		for _, p := range pupils() {
			t, _ := c.Type(p.typ)
			if err := tx.AddStudent(store.Student{ID: p.ID, InstructorID: p.instructor.ID, Class: t.Class,
				EngineKind: t.EngineKind, StartType: t.StartType,
				StartedOn: store.Date(day.AddDate(0, 0, -p.begins).Format(time.DateOnly))}); err != nil {
				return err
			}
		}
		return nil
	})
}

// grown lists every lesson of the grown school, oldest first.
func (m *maker) grown(day time.Time) []*flight {
	var all []*flight
	for i, p := range pupils() {
		all = append(all, p.flights(m, i, day)...)
	}
	numbered(all, 1000)
	m.spread(all, day)
	return all
}

// able is what a student has learnt who goes to the stage check.
const able = 3.7

// flights are a student's lessons: parts of the list in turn, and each fourth the
// whole, at their own pace until the stage check and a little longer.
func (p pupil) flights(m *maker, i int, day time.Time) []*flight {
	r := rand.New(rand.NewPCG(77, uint64(i)))
	start, gain := -0.4+0.5*r.NormFloat64(), 0.105*math.Exp(0.3*r.NormFloat64())
	every := 5 + r.IntN(5)
	among := teachers
	if p.alone {
		among = apart
	}
	until := 3
	if !slices.ContainsFunc(Reserve, func(a store.Aircraft) bool { return a.Type == p.typ }) {
		until = ownDays
	}
	var out []*flight
	checked := 0
	for n, before := 0, p.begins; before > until && checked < 3; n++ {
		skill := start + gain*float64(n)
		f := &flight{maker: m, student: p.Person, instructor: p.instructor, nth: n, purpose: "training", stuck: p.stuck,
			leaves: part(n), random: rand.New(rand.NewPCG(uint64(1000+i), uint64(n))),
			at: day.AddDate(0, 0, -before).Add(time.Duration(8+(n*3+i)%9) * time.Hour)}
		if n%3 == 2 {
			f.instructor = among[(n+i)%len(among)]
		}
		if skill > able && p.stuck == "" {
			checked++
			f.leaves, skill = wholeList, 6
			if checked == 1 {
				f.purpose, f.instructor = "stage-check", other(among, p.instructor, i)
			}
		}
		f.skill = min(skill, 6) + bias(f.instructor, f.random)
		f.typ.ID = p.typ
		out = append(out, f)
		before -= every - 2 + r.IntN(5)
	}
	return out
}

// other is one of some teachers, but not a student's own.
func other(among []Person, own Person, i int) Person {
	for n := range among {
		if t := among[(i+n)%len(among)]; t != own {
			return t
		}
	}
	return own
}

// part leaves a part of the list for each of three lessons, and nothing for the
// fourth.
func part(n int) func(phase string, i, of int) bool {
	if n%4 == 3 {
		return wholeList
	}
	return func(_ string, i, of int) bool { return of > 0 && i*3/of != n%4 }
}

// spread gives the flights aircraft: those of the small school only before its own
// time. What their hour meters show leads up to what they show then.
func (m *maker) spread(all []*flight, day time.Time) {
	flown := map[string]int{}
	for i, f := range all {
		fleet := slices.Clone(Reserve)
		if f.at.Before(day.AddDate(0, 0, -ownDays)) {
			fleet = append(fleet, Fleet...)
		}
		fleet = slices.DeleteFunc(fleet, func(a store.Aircraft) bool { return a.Type != f.typ.ID })
		f.aircraft = fleet[i%len(fleet)]
		flown[f.aircraft.Registration]++
	}
	for registration, n := range flown {
		m.tenths[registration] = firstTenths(registration) - 12*n
	}
}

// planWeek books the week to come: students of the grown school who are still on
// their way, with their own instructors on the aircraft that come with it.
func planWeek(tx *store.Tx, day time.Time) error {
	taken := map[string]bool{}
	for i, p := range pupils() {
		for n := range 2 {
			ahead := 2 + (i*2+n*3)%6
			at := day.AddDate(0, 0, ahead).Add(time.Duration(8+2*((i+n)%5)) * time.Hour)
			for _, a := range Reserve {
				slot := func(who string) string { return who + at.Format(time.DateTime) }
				if a.Type != p.typ || taken[slot(a.Registration)] || taken[slot(p.instructor.ID)] ||
					taken[slot(p.ID)] || p.begins > 300 {
					continue
				}
				taken[slot(a.Registration)], taken[slot(p.instructor.ID)], taken[slot(p.ID)] = true, true, true
				if _, _, err := tx.Book([]schedule.Booking{{StudentID: p.ID, InstructorID: p.instructor.ID,
					Registration: a.Registration, StartsAt: at, EndsAt: at.Add(90 * time.Minute),
					Exercises: []string{}}}, Ferreira.ID, day); err != nil {
					return err
				}
				break
			}
		}
	}
	return nil
}
