// Package days answers for the day: what is on today, the reference pages, and the checks and calculators.
package days

import "jetprimer/server/api"

// Handlers answer the operations of this package.
type Handlers struct{ *api.API }

// New keeps nothing of its own.
func New(a *api.API) Handlers { return Handlers{a} }

// Register declares the operations.
func (s Handlers) Register() {
	s.dayRoutes()
	s.todayRoutes()
	s.checkRoutes()
}
