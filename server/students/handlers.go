// Package students answers for the records of students, and for those to whom one is shown.
package students

import "jetprimer/server/api"

// Handlers answer the operations of this package.
type Handlers struct{ *api.API }

// New keeps nothing of its own.
func New(a *api.API) Handlers { return Handlers{a} }

// Register declares the operations.
func (s Handlers) Register() {
	s.studentRoutes()
	s.shareRoutes()
}
