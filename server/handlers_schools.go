package server

// schoolsHandlers answer
type schoolsHandlers struct {
	*API
	// setupCode is the hash of what begins the first school, empty for none.
	setupCode string
}

// Register declares the operations.
func (s schoolsHandlers) Register() {
	s.beginRoutes()
	s.placeRoutes()
	s.policyRoutes()
	s.statusRoutes()
	s.auditRoutes()
	s.outlookRoutes()
	s.compareRoutes()
	s.schoolRoutes()
}
