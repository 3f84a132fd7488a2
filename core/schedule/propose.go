package schedule

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
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
	// slots are its people and its aircraft on each day that it is on.
	slots []string
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

// The hours at which a lesson is proposed, and how many ways of a wish and how many
// aircraft of an hour are looked at.
const (
	proposedFrom  = 8 * time.Hour
	proposedTo    = 18 * time.Hour
	proposedStep  = time.Hour
	waysMost      = 150
	aircraftTried = 4
)

// Propose finds lessons for a week from a moment on: one of each wish at most, none
// against anything of what is planned. It looks for the most readiness gained in
// the week, summed over the students (worth). The wishes are placed in the order of
// what they gain, of as much the one who has waited longer; one that finds no place
// takes that of a single other where the other finds another place. That is the
// best there is where nothing is short, and near it where something is. What it
// gives depends on nothing but what it is given.
func (a Calendar) Propose(from time.Time, days int, wishes []Request) []Proposal {
	wishes = slices.Clone(wishes)
	slices.SortStableFunc(wishes, func(x, y Request) int {
		return cmp.Or(cmp.Compare(y.Gain, x.Gain), cmp.Compare(y.Waiting, x.Waiting), cmp.Compare(x.Student, y.Student),
			cmp.Compare(x.StudentID, y.StudentID))
	})
	ways := make([][]Proposal, len(wishes))
	for i, w := range wishes {
		if w.Gain > 0 {
			ways[i] = a.ways(from, days, w, i)
		}
	}
	p := placing{ways: ways, placed: make([]*Proposal, len(wishes)), on: map[string][]int{}, alone: map[int]bool{}}
	for i := range wishes {
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

// ways are the ways in which a wish could be met, the most worth first, of as
// much the earliest. The wishes begin their search on different days and aircraft,
// so that few ways are enough to find room for all.
func (a Calendar) ways(from time.Time, days int, w Request, turn int) []Proposal {
	first := school.Midnight(from, a.Zone)
	long := time.Duration(w.Minutes) * time.Minute
	hours := int((proposedTo-proposedFrom)/proposedStep) + 1
	var out []Proposal
	for _, teacher := range w.Teachers {
		for d := range days {
			day := first.AddDate(0, 0, (d+turn)%days)
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
					if len(a.Obstacles(p.booking())) == 0 {
						p.slots = p.taken()
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

// placing is which wishes are placed, each by its number.
type placing struct {
	ways   [][]Proposal
	placed []*Proposal
	on     map[string][]int // what is placed with a person or aircraft on a day
	alone  map[int]bool     // placed ones that have no other place as things stand
}

// taken are the slots of a proposal.
func (p *Proposal) taken() (out []string) {
	const day = 24 * 60 * 60
	for d := p.StartsAt.Unix() / day; d*day < p.EndsAt.Unix(); d++ {
		on := strconv.FormatInt(d, 36)
		out = append(out, "i"+p.InstructorID+on, "a"+p.Registration+on, "s"+p.StudentID+on)
	}
	return out
}

// put places a wish; nil takes it away.
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

// met are those that stand where a wish would be placed.
func (p *placing) met(way *Proposal) (out []int) {
	for _, s := range way.slots {
		for _, i := range p.on[s] {
			if !slices.Contains(out, i) && way.meets(p.placed[i]) {
				out = append(out, i)
			}
		}
	}
	return out
}

// free is the first of a wish's ways that meets nothing; nil where there is none.
func (p *placing) free(i int) *Proposal {
	return p.freeBut(i, nil)
}

// freeBut is the same, but for one of the ways.
func (p *placing) freeBut(i int, but *Proposal) *Proposal {
	for w := range p.ways[i] {
		if way := &p.ways[i][w]; way != but && len(p.met(way)) == 0 {
			return way
		}
	}
	return nil
}

// exchange places a wish where a single other stands that finds another place.
func (p *placing) exchange(i int) {
	for w := range p.ways[i] {
		in := p.met(&p.ways[i][w])
		if len(in) != 1 || p.alone[in[0]] {
			continue
		}
		other := in[0]
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
