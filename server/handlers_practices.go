package server

// practicesHandlers answer
type practicesHandlers struct {
	*API
	// live are the runs that go on now.
	live *stage
}

// newPractices has no live run yet.
func newPractices(a *API) practicesHandlers { return practicesHandlers{a, newStage(a.now)} }

// Register declares the operations.
func (s practicesHandlers) Register() {
	s.standRoutes()
	s.liveRoutes()
	s.scenarioRoutes()
}
