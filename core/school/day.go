package school

import "time"

// How far a device's wall time may lie from the moment at which the school
// received it, and still be believed: a tablet may have been without network
// for a season, and a clock may run a little ahead.
const (
	BelievedBefore = 120 * 24 * time.Hour
	BelievedAhead  = 24 * time.Hour
)

// Dated is the moment that an event is dated by: its device's wall time where
// that can be believed, else when it was received. wall is RFC 3339.
func Dated(wall string, received time.Time) time.Time {
	claimed, err := time.Parse(time.RFC3339, wall)
	if err != nil || claimed.Before(received.Add(-BelievedBefore)) || claimed.After(received.Add(BelievedAhead)) {
		return received
	}
	return claimed
}

// Midnight is the beginning of the school's day at a moment.
func Midnight(at time.Time, zone *time.Location) time.Time {
	local := at.In(zone)
	return time.Date(local.Year(), local.Month(), local.Day(), 0, 0, 0, 0, zone)
}

// Day is the school's day at a moment, such as 2026-11-24.
func Day(at time.Time, zone *time.Location) string { return at.In(zone).Format(time.DateOnly) }
