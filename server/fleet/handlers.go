// Package fleet answers for the aircraft: what there is, what is open on each, and how its readings go.
package fleet

import "jetprimer/server/api"

// Handlers answer the operations of this package.
type Handlers struct{ *api.API }

// New keeps nothing of its own.
func New(a *api.API) Handlers { return Handlers{a} }

// Register declares the operations.
func (s Handlers) Register() {
	s.fleetRoutes()
	s.trendRoutes()
	s.findingRoutes()
}
