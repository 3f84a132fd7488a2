package schedule

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"jetprimer/core/school"
)

// Request is the next lesson of a student's plan, with who and what could give it.
type Request struct {
	StudentID string `json:"studentId"`
	Student   string `json:"student"`
	// Plan is the kind of lesson, Elements those that it would show.
	Plan      string   `json:"plan"`
	Elements  []string `json:"elements"`
	Exercises []string `json:"exercises"`
	// Gain is the part of the student's readiness that it brings, 0 to 1.
	Gain    float64 `json:"gain"`
	Minutes int     `json:"minutes"`
	// OwnID is the student's own instructor, Teachers are those who could give it, the
	// own one first where they could; Aircraft those that it could be flown on.
	OwnID    string   `json:"ownId"`
	Teachers []Named  `json:"teachers"`
	Aircraft []string `json:"aircraft"`
	// Waiting is how many days ago their last lesson was; below zero for none yet.
	Waiting int `json:"waiting"`
}

// Proposal is a lesson that nobody has planned yet.
type Proposal struct {
	Request
	StartsAt     time.Time `json:"startsAt"`
	EndsAt       time.Time `json:"endsAt"`
	InstructorID string    `json:"instructorId"`
	Instructor   string    `json:"instructor"`
	Registration string    `json:"registration"`
	// Own says that it is with the student's own instructor.
	Own bool `json:"own"`
	// slots are its people and its aircraft on each day that it is on, by number.
	slots []int
}

func (p Proposal) booking() Booking {
	return Booking{StudentID: p.StudentID, Student: p.Student, InstructorID: p.InstructorID, Instructor: p.Instructor,
		Registration: p.Registration,
		StartsAt:     p.StartsAt, EndsAt: p.EndsAt, Exercises: p.Exercises}
}

// worth is what the objective counts of a proposal: the readiness gained, a tenth
// less with another instructor than their own.
func (p Proposal) worth() float64 {
	if p.Own {
		return p.Gain
	}
	return 0.9 * p.Gain
}

// The hours at which a lesson is proposed, and how many ways of a request and how many
// aircraft of an hour are looked at.
const (
	proposedFrom  = 8 * time.Hour
	proposedTo    = 18 * time.Hour
	proposedStep  = time.Hour
	waysMost      = 150
	aircraftTried = 4
)

// Propose finds lessons for a week from a moment on: at most one for each request, and
// none against what is planned. It looks for the most readiness gained in the week, summed
// over the students (worth). Requests are placed in the order of what they gain; of two
// that gain the same, the one who has waited longer comes first. A request that finds no
// place takes the place of a single other one, where that finds another. This is the best
// there is where nothing is short, and near it where something is. The result depends on
// nothing but what is given.
func (a Calendar) Propose(from time.Time, days int, requests []Request) []Proposal {
	requests = slices.Clone(requests)
	slices.SortStableFunc(requests, func(x, y Request) int {
		return cmp.Or(cmp.Compare(y.Gain, x.Gain), cmp.Compare(y.Waiting, x.Waiting), cmp.Compare(x.Student, y.Student),
			cmp.Compare(x.StudentID, y.StudentID))
	})
	longest := 0
	for _, w := range requests {
		longest = max(longest, w.Minutes)
	}
	week := make([]Calendar, days)
	for d := range week {
		day := school.Midnight(from, a.Zone).AddDate(0, 0, d)
		week[d] = a.within(day.Add(proposedFrom), day.Add(proposedTo+time.Duration(longest)*time.Minute))
	}
	p := placing{
		ways: make([][]Proposal, len(requests)), placed: make([]*Proposal, len(requests)), numbers: map[slot]int{},
		alone: map[int]bool{},
	}
	for i, w := range requests {
		if w.Gain > 0 {
			p.ways[i] = a.ways(from, week, w, i)
			for k := range p.ways[i] {
				p.number(&p.ways[i][k])
			}
		}
	}
	for i := range requests {
		if way := p.free(i); way != nil {
			p.put(i, way)
		} else {
			p.exchange(i)
		}
	}
	out := []Proposal{}
	for _, way := range p.placed {
		if way != nil {
			out = append(out, *way)
		}
	}
	return out
}

// within is the calendar with only what is planned, or away, at some time of a span.
func (a Calendar) within(from, to time.Time) Calendar {
	a.Others = slices.DeleteFunc(slices.Clone(a.Others),
		func(b Booking) bool { return !b.StartsAt.Before(to) || !b.EndsAt.After(from) })
	a.Away = slices.DeleteFunc(slices.Clone(a.Away),
		func(w Away) bool { return !w.StartsAt.Before(to) || !w.EndsAt.After(from) })
	return a
}

// concerning is the calendar with only what is planned for a request's student, a teacher
// or an aircraft of the request.
func (a Calendar) concerning(w Request, teacher string) Calendar {
	a.Others = slices.DeleteFunc(slices.Clone(a.Others), func(b Booking) bool {
		return b.InstructorID != teacher && b.StudentID != w.StudentID && !slices.Contains(w.Aircraft, b.Registration)
	})
	return a
}

// ways are the ways to meet a request on the days of a week: the most worth first, and of
// equal ones the earliest. Requests begin their search on different days and aircraft, so
// that few ways are enough to find room for all.
func (a Calendar) ways(from time.Time, week []Calendar, w Request, turn int) []Proposal {
	first := school.Midnight(from, a.Zone)
	long := time.Duration(w.Minutes) * time.Minute
	hours := int((proposedTo-proposedFrom)/proposedStep) + 1
	var out []Proposal
	for _, teacher := range w.Teachers {
		for n := range week {
			d := (n + turn) % len(week)
			day, around := first.AddDate(0, 0, d), week[d].concerning(w, teacher.ID)
			for h := range hours {
				at := day.Add(proposedFrom + time.Duration(h)*proposedStep)
				if at.Before(from) {
					continue
				}
				for k := range min(len(w.Aircraft), aircraftTried) {
					registration := w.Aircraft[(k+turn)%len(w.Aircraft)]
					p := Proposal{
						Request: w, StartsAt: at.UTC(), EndsAt: at.Add(long).UTC(), InstructorID: teacher.ID,
						Instructor: teacher.Name, Registration: registration, Own: teacher.ID == w.OwnID,
					}
					if len(around.Obstacles(p.booking())) == 0 {
						out = append(out, p)
					}
				}
			}
			if len(out) >= waysMost {
				break
			}
		}
		if len(out) >= waysMost {
			break
		}
	}
	slices.SortStableFunc(out, func(x, y Proposal) int {
		return cmp.Or(cmp.Compare(y.worth(), x.worth()), x.StartsAt.Compare(y.StartsAt))
	})
	return out
}

// meets reports whether two proposals that share somebody or something are at once.
func (p *Proposal) meets(o *Proposal) bool {
	return p.StartsAt.Before(o.EndsAt) && o.StartsAt.Before(p.EndsAt)
}

// slot is somebody or something on a day, counted from 1970.
type slot struct {
	of  string
	day int64
}

// placing is which requests are placed, each by its number.
type placing struct {
	ways    [][]Proposal
	placed  []*Proposal
	numbers map[slot]int
	on      [][]int      // what is placed in each slot
	alone   map[int]bool // placed ones that have no other place as things stand
}

// number gives a proposal its slots.
func (p *placing) number(way *Proposal) {
	const day = 24 * 60 * 60
	for d := way.StartsAt.Unix() / day; d*day < way.EndsAt.Unix(); d++ {
		for _, of := range []string{
			"instructor " + way.InstructorID, "aircraft " + way.Registration, "student " + way.StudentID,
		} {
			n, known := p.numbers[slot{of, d}]
			if !known {
				n = len(p.on)
				p.numbers[slot{of, d}], p.on = n, append(p.on, nil)
			}
			way.slots = append(way.slots, n)
		}
	}
}

// put places a request; nil takes it away.
func (p *placing) put(i int, way *Proposal) {
	if was := p.placed[i]; was != nil {
		for _, s := range was.slots {
			p.on[s] = slices.DeleteFunc(p.on[s], func(o int) bool { return o == i })
		}
	}
	if p.placed[i] = way; way != nil {
		for _, s := range way.slots {
			p.on[s] = append(p.on[s], i)
		}
	}
}

// metAlone is the one that stands where a proposal would be placed; false where none
// does, or several do.
func (p *placing) metAlone(way *Proposal) (one int, alone bool) {
	for _, s := range way.slots {
		for _, i := range p.on[s] {
			if alone && i == one || !way.meets(p.placed[i]) {
				continue
			}
			if alone {
				return 0, false
			}
			one, alone = i, true
		}
	}
	return one, alone
}

// isFree reports whether a proposal meets nothing that is placed.
func (p *placing) isFree(way *Proposal) bool {
	for _, s := range way.slots {
		for _, i := range p.on[s] {
			if way.meets(p.placed[i]) {
				return false
			}
		}
	}
	return true
}

// free is the first of a request's ways that meets nothing; nil where there is none.
func (p *placing) free(i int) *Proposal {
	return p.freeBut(i, nil)
}

// freeBut is the same, but for one of the ways.
func (p *placing) freeBut(i int, but *Proposal) *Proposal {
	for w := range p.ways[i] {
		if way := &p.ways[i][w]; way != but && p.isFree(way) {
			return way
		}
	}
	return nil
}

// exchange places a request where a single other stands that finds another place.
func (p *placing) exchange(i int) {
	for w := range p.ways[i] {
		other, alone := p.metAlone(&p.ways[i][w])
		if !alone || p.alone[other] {
			continue
		}
		was := p.placed[other]
		p.put(other, nil)
		if p.alone[other] = p.freeBut(other, was) == nil; !p.alone[other] {
			p.put(i, &p.ways[i][w])
			if way := p.free(other); way != nil {
				p.put(other, way)
				clear(p.alone)
				return
			}
			p.put(i, nil)
		}
		p.put(other, was)
	}
}

// Why says in words what a proposal rests on.
func (p Proposal) Why() string {
	words := fmt.Sprintf("%s: ", p.Plan)
	switch n := len(p.Elements); {
	case n == 0:
		words += "it is what stands in the way of the checkride."
	case n == 1:
		words += fmt.Sprintf("shows one element that is missing, %.0f %% of the readiness that is asked for.",
			100*p.Gain)
	default:
		words += fmt.Sprintf("shows %d elements that are missing, %.0f %% of the readiness that is asked for.", n,
			100*p.Gain)
	}
	switch {
	case p.Waiting < 0:
		words += " No lesson yet."
	case p.Waiting == 1:
		words += " The last lesson was yesterday."
	case p.Waiting > 1:
		words += fmt.Sprintf(" The last lesson was %d days ago.", p.Waiting)
	}
	if p.Own {
		return words + " With their own instructor."
	}
	return words + " With another instructor than their own."
}
