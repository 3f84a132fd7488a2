package reports

import (
	"slices"
	"time"

	"jetprimer/core/schedule"
	"jetprimer/store"
)

// ScheduleLine is who or what has a line of the schedule.
type ScheduleLine struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Note string `json:"note" doc:"an aircraft's type, a student's instructor"`
	Base string `json:"base,omitempty"`
	// Grounded says why an aircraft stays on the ground now.
	Grounded string `json:"grounded,omitempty"`
}

// ScheduleView is what is planned on some days.
type ScheduleView struct {
	From        string                      `json:"from"`
	Days        []string                    `json:"days"`
	Today       string                      `json:"today"`
	Aircraft    []ScheduleLine              `json:"aircraft"`
	Instructors []ScheduleLine              `json:"instructors"`
	Students    []ScheduleLine              `json:"students"`
	Planned     []Planned                   `json:"planned"`
	Away        []schedule.Away             `json:"away"`
	Shifts      map[string][]schedule.Shift `json:"shifts" doc:"of those who have said when they work"`
	Standby     []store.Standby             `json:"standby"`
	Summary     schedule.Summary            `json:"summary"`
	// Against is what stands now against lessons that are planned and not over, by
	// the id of the booking; those who may plan are told.
	Against map[string][]schedule.Obstacle `json:"against"`
	// Waiting are students whose last lesson is two weeks ago or more and for whom
	// nothing is planned; those who may plan are told.
	Waiting []string `json:"waiting"`
}

// ProposalView is a lesson that nobody has planned yet, with what it rests on.
type ProposalView struct {
	schedule.Proposal
	Why string `json:"why"`
}

// ProposalsView are the proposed lessons of some days.
type ProposalsView struct {
	Proposals []ProposalView `json:"proposals"`
	// Left are students with a plan for whom nothing was found.
	Left []string `json:"left"`
}

// Schedule is what is planned on some days from a midnight on.
func (r *Reports) Schedule(tx *store.Tx, of Reader, midnight time.Time, days int) (v ScheduleView, err error) {
	end := midnight.AddDate(0, 0, days)
	v = ScheduleView{
		From: tx.Day(midnight), Today: r.day(tx), Aircraft: []ScheduleLine{}, Instructors: []ScheduleLine{},
		Students: []ScheduleLine{}, Waiting: []string{}, Against: map[string][]schedule.Obstacle{},
	}
	for d := range days {
		v.Days = append(v.Days, tx.Day(midnight.AddDate(0, 0, d)))
	}
	unsigned, err := tx.Unsigned()
	if err != nil {
		return v, err
	}
	lessons, err := tx.Lessons("", midnight, end)
	if err != nil {
		return v, err
	}
	if v.Planned, err = planned(tx, of.Reads, midnight, end, append(unsigned, lessons...)); err != nil {
		return v, err
	}
	around, err := tx.Around(midnight, end, r.now())
	if err != nil {
		return v, err
	}
	v.Away, v.Shifts = around.Away, around.Shifts
	for i, a := range v.Away {
		if a.PersonID != "" && !a.MayNote(of.Roles, of.Account) && !of.Roles.Teach() {
			v.Away[i].Why = "away"
		}
	}
	if err := v.lines(tx, around, of.Reads); err != nil {
		return v, err
	}
	registrations := make([]string, len(v.Aircraft))
	for i, a := range v.Aircraft {
		registrations[i] = a.ID
	}
	v.Summary = around.Summary(midnight, r.now(), days, registrations)
	if v.Standby, err = tx.Standby(v.From); err != nil {
		return v, err
	}
	v.Standby = slices.DeleteFunc(v.Standby, func(one store.Standby) bool { return !of.Reads(one.StudentID) })
	if !of.May("book") {
		return v, nil
	}
	for _, p := range v.Planned {
		if p.Lesson != "" || p.EndsAt.Before(r.now()) {
			continue
		}
		if against := around.Obstacles(p.Booking); len(against) > 0 {
			v.Against[p.ID] = against
		}
	}
	v.Waiting, err = r.waiting(tx, v.Students)
	return v, err
}

// Proposals are lessons that could be planned on some days from a midnight on: for each
// student the next by their plan.
func (r *Reports) Proposals(tx *store.Tx, midnight time.Time, days int) (v ProposalsView, err error) {
	now := r.now()
	from := midnight
	if from.Before(now) {
		from = now
	}
	v = ProposalsView{[]ProposalView{}, []string{}}
	around, err := tx.Around(midnight, midnight.AddDate(0, 0, days+1), now)
	if err != nil {
		return v, err
	}
	requests, err := r.requests(tx, midnight, midnight.AddDate(0, 0, days))
	if err != nil {
		return v, err
	}
	for _, p := range around.Propose(from, days, requests) {
		v.Proposals = append(v.Proposals, ProposalView{p, p.Why()})
	}
	for _, one := range requests {
		if !slices.ContainsFunc(v.Proposals, func(p ProposalView) bool { return p.StudentID == one.StudentID }) {
			v.Left = append(v.Left, one.Student)
		}
	}
	return v, nil
}

// lines are who and what has a line: students only as far as the person may know.
func (v *ScheduleView) lines(tx *store.Tx, around schedule.Calendar, may func(string) bool) error {
	fleet, err := aircraftOn(tx, v.From)
	if err != nil {
		return err
	}
	for _, a := range fleet {
		v.Aircraft = append(v.Aircraft, ScheduleLine{
			ID: a.Registration, Name: a.Registration, Note: a.TypeName, Base: a.Base,
			Grounded: around.Grounded[a.Registration],
		})
	}
	teach, learn, err := Present(tx)
	if err != nil {
		return err
	}
	for _, t := range teach {
		v.Instructors = append(v.Instructors, ScheduleLine{ID: t.ID, Name: t.Name})
	}
	for _, st := range learn {
		if may(st.ID) {
			v.Students = append(v.Students, ScheduleLine{ID: st.ID, Name: st.Name, Note: st.Instructor})
		}
	}
	return nil
}
