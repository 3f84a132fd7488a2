package server

// daysHandlers answer
type daysHandlers struct{ *API }

// Register declares the operations.
func (s daysHandlers) Register() {
	s.dayRoutes()
	s.todayRoutes()
	s.checkRoutes()
}
