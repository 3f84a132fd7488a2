// Package schools answers for the school itself: how it begins, where it flies from, its policy, its reports,
// its audit log, and the state of the program.
package schools

import "jetprimer/server/api"

// Handlers answer the operations of this package.
type Handlers struct {
	*api.API
	// setupCode is the hash of what begins the first school, empty for none.
	setupCode string
}

// New takes the hash of what begins the first school, empty for none.
func New(a *api.API, setupCode string) Handlers { return Handlers{a, setupCode} }

// Register declares the operations.
func (s Handlers) Register() {
	s.beginRoutes()
	s.placeRoutes()
	s.policyRoutes()
	s.statusRoutes()
	s.auditRoutes()
	s.outlookRoutes()
	s.compareRoutes()
	s.schoolRoutes()
}
