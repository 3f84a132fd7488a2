package server

// fleetHandlers answer
type fleetHandlers struct{ *API }

// Register declares the operations.
func (s fleetHandlers) Register() {
	s.fleetRoutes()
	s.trendRoutes()
	s.findingRoutes()
}
