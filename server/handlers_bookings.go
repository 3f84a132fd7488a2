package server

// bookingsHandlers answer
type bookingsHandlers struct{ *API }

// Register declares the operations.
func (s bookingsHandlers) Register() {
	s.bookingRoutes()
	s.scheduleRoutes()
}
