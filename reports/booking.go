package reports

import (
	"jetprimer/core/schedule"
	"jetprimer/store"
)

// Against says what stands against a booking that was not made, and how it could be made.
type Against struct {
	Obstacles []schedule.Obstacle    `json:"obstacles"`
	Instead   []schedule.Alternative `json:"instead"`
}

// Against says what stands against some bookings, and how the first that cannot be
// would go.
func (r *Reports) Against(tx *store.Tx, all []schedule.Booking) (Against, error) {
	out := Against{[]schedule.Obstacle{}, []schedule.Alternative{}}
	for _, b := range all {
		whole, err := tx.WholeBooking(b, r.now())
		if err != nil {
			return out, err
		}
		around, obstacles, err := tx.Obstacles([]schedule.Booking{whole}, r.now())
		if err != nil {
			return out, err
		}
		out.Obstacles = append(out.Obstacles, obstacles[0]...)
		if len(obstacles[0]) == 0 || len(out.Instead) > 0 {
			continue
		}
		members, err := tx.Members()
		if err != nil {
			return out, err
		}
		alike, err := alike(tx, whole)
		if err != nil {
			return out, err
		}
		out.Instead = around.Alternatives(whole, r.now(), Teachers(members), alike)
	}
	return out, nil
}

// alike are the aircraft of a booking's type.
func alike(tx *store.Tx, b schedule.Booking) ([]string, error) {
	fleet, err := tx.Aircraft(tx.Day(b.StartsAt))
	if err != nil {
		return nil, err
	}
	kind := map[string]string{}
	for _, a := range fleet {
		kind[a.Registration] = a.Type
	}
	out := []string{}
	for _, a := range fleet {
		if a.Type == kind[b.Registration] {
			out = append(out, a.Registration)
		}
	}
	return out, nil
}

// Standby are the students who could take a lesson that became free.
func (r *Reports) Standby(tx *store.Tx, b schedule.Booking) ([]schedule.Named, error) {
	around, err := tx.Around(b.StartsAt, b.EndsAt, r.now())
	if err != nil {
	}
	waiting, err := tx.Standby(tx.Day(b.StartsAt))
	if err != nil {
		return nil, err
	}
	people := []schedule.Named{}
	for _, one := range waiting {
		if string(one.FromOn) <= tx.Day(b.StartsAt) {
			people = append(people, schedule.Named{ID: one.StudentID, Name: one.Student})
		}
	}
	return around.Fits(b, people), nil
}
