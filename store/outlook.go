package store

import (
	"fmt"
	"time"
)

// MonthOfType is how many lessons were flown with a type of aircraft in one month.
type MonthOfType struct {
	Type  string
	Month string
	N     int
}

// FlewByMonth counts the lessons of each type and month from a moment on.
func (tx *Tx) FlewByMonth(from time.Time) ([]MonthOfType, error) {
	all, err := rows[MonthOfType](tx, `select c.type, to_char(l.opened_at at time zone @zone, 'YYYY-MM') as month, count(*) as n
		from lessons l join aircraft c on c.school_id = l.school_id and c.registration = l.registration
		where l.school_id = @school and l.opened_at >= @from group by 1, 2`, map[string]any{
		"school": tx.School, "zone": tx.Zone.String(), "from": from,
	})
	if err != nil {
		return nil, fmt.Errorf("counting lessons by month: %w", err)
	}
	return all, nil
}

// usualHours is how long a lesson is planned where none was yet.
const usualHours = 1.5

// PlannedHours is how long a lesson is planned here, on the average of those since a
// moment.
func (tx *Tx) PlannedHours(from time.Time) (float64, error) {
	hours, err := row[float64](tx,
		"select coalesce(avg(extract(epoch from ends_at - starts_at)) / 3600, ?) from bookings where school_id = ? "+
			"and cancelled_at is null and starts_at >= ?", usualHours, tx.School, from)
	if err != nil {
		return 0, fmt.Errorf("reading how long lessons are planned: %w", err)
	}
	return hours, nil
}
