// Package bookings answers for the schedule: bookings, absences, standby, proposals, and the calendar.
package bookings

import "jetprimer/server/api"

// Handlers answer the operations of this package.
type Handlers struct{ *api.API }

// New keeps nothing of its own.
func New(a *api.API) Handlers { return Handlers{a} }

// Register declares the operations.
func (s Handlers) Register() {
	s.bookingRoutes()
	s.scheduleRoutes()
}
