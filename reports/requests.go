package reports

import (
	"slices"
	"strings"
	"time"

	"jetprimer/core/progress"
	"jetprimer/core/schedule"
	"jetprimer/store"
)

// waitingDays is after how many days without a lesson a student is named.
const waitingDays = 14

// Present are those who teach and those who learn at the school now.
func Present(tx *store.Tx) (teach []schedule.Named, learn []store.Student, err error) {
	members, err := tx.Members()
	if err != nil {
		return nil, nil, err
	}
	learn, err = tx.Students()
	return Teachers(members), slices.DeleteFunc(learn, func(st store.Student) bool { return !st.Active }), err
}

// waiting are the names of the students, of those given, without a lesson for two weeks and without
// one that is planned.
func (r *Reports) waiting(tx *store.Tx, students []ScheduleLine) ([]string, error) {
	out := []string{}
	flown, err := tx.Flown()
	if err != nil {
		return nil, err
	}
	ahead, err := tx.Expected(r.now(), r.now().Add(schedule.FarthestBooking))
	if err != nil {
		return nil, err
	}
	for _, st := range students {
		if r.now().Sub(flown[st.ID].Last) >= waitingDays*24*time.Hour && !ahead[st.ID] {
			out = append(out, st.Name)
		}
	}
	return out, nil
}

// requests are the next lessons of all students for whom nothing is planned in the
// time.
func (r *Reports) requests(tx *store.Tx, from, to time.Time) ([]schedule.Request, error) {
	day := tx.Day(r.now())
	planned, err := tx.Expected(from, to)
	if err != nil {
		return nil, err
	}
	flown, err := tx.Flown()
	if err != nil {
		return nil, err
	}
	p, err := tx.Policy(day)
	if err != nil {
		return nil, err
	}
	on, err := r.Cases(tx, day)
	if err != nil {
		return nil, err
	}
	teach, learn, err := Present(tx)
	if err != nil {
		return nil, err
	}
	cases, err := on.AtAGlance(learn, p.Standing)
	if err != nil {
		return nil, err
	}
	fleet, err := tx.Aircraft(day)
	if err != nil {
		return nil, err
	}
	out := []schedule.Request{}
	for _, st := range learn {
		if planned[st.ID] {
			continue
		}
		c := cases[st.ID]
		next, gain, any := p.Standing.Next(c)
		if !any {
			continue
		}
		w := schedule.Request{
			StudentID: st.ID, Student: st.Name, OwnID: st.InstructorID, Plan: next.Title, Elements: next.Elements,
			Exercises: []string{}, Gain: gain, Minutes: proposedMinutes, Waiting: -1,
		}
		if f, had := flown[st.ID]; had {
			w.Waiting = int(r.now().Sub(f.Last).Hours() / 24)
		}
		for _, a := range fleet {
			if a.Type == c.List.AircraftType {
				w.Aircraft = append(w.Aircraft, a.Registration)
			}
		}
		w.Teachers = teachersOf(st, teach, strings.HasPrefix(next.Title, progress.StageCheckTitle))
		out = append(out, w)
	}
	return out, nil
}

// proposedMinutes is how long a lesson is that is proposed.
const proposedMinutes = 90

// teachersOf are those who could teach a student, their own instructor first; a
// stage check is flown with another.
func teachersOf(st store.Student, all []schedule.Named, check bool) []schedule.Named {
	out := []schedule.Named{}
	for _, own := range []bool{true, false} {
		for _, t := range all {
			if (t.ID == st.InstructorID) == own && !(own && check) && t.ID != st.ID {
				out = append(out, t)
			}
		}
	}
	return out
}

// Teachers are those who teach at the school now.
func Teachers(members []store.Member) []schedule.Named {
	out := []schedule.Named{}
	for _, m := range members {
		if m.Active && m.Roles.Teach() {
			out = append(out, schedule.Named{ID: m.ID, Name: m.Name})
		}
	}
	return out
}
