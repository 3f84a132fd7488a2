// Package practices answers for practice on the stand: scenarios, runs that are sent, and runs that go on now.
package practices

import "jetprimer/server/api"

// Handlers answer the operations of this package.
type Handlers struct {
	*api.API
	// live are the runs that go on now.
	live *stage
}

// New has no live run yet.
func New(a *api.API) Handlers { return Handlers{a, newStage(a.Now)} }

// Register declares the operations.
func (s Handlers) Register() {
	s.standRoutes()
	s.liveRoutes()
	s.scenarioRoutes()
}
