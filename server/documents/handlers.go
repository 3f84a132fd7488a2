// Package documents answers for what a school writes: lists, types, standards and policies, from draft to withdrawal.
package documents

import "jetprimer/server/api"

// Handlers answer the operations of this package.
type Handlers struct{ *api.API }

// New keeps nothing of its own.
func New(a *api.API) Handlers { return Handlers{a} }

// Register declares the operations.
func (s Handlers) Register() {
	s.libraryRoutes()
	s.typeRoutes()
}
