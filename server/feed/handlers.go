// Package feed tells the pages what has changed, by question and by stream.
package feed

import "jetprimer/server/api"

// Handlers answer the operations of this package.
type Handlers struct {
	*api.API
	cursors *cursors
}

// New has not been asked for a cursor yet.
func New(a *api.API) Handlers {
	return Handlers{a, &cursors{under: map[string]*question{}, next: map[string]*question{}}}
}

// Register declares the operations.
func (s Handlers) Register() {
	s.feedRoutes()
}
