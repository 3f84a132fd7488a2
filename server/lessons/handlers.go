// Package lessons answers for lessons: their events, their signatures, pictures of findings, maintenance runs,
// and the files of engine recorders.
package lessons

import "jetprimer/server/api"

// Handlers answer the operations of this package.
type Handlers struct{ *api.API }

// New keeps nothing of its own.
func New(a *api.API) Handlers { return Handlers{a} }

// Register declares the operations.
func (s Handlers) Register() {
	s.lessonRoutes()
	s.pictureRoutes()
	s.runRoutes()
	s.recordingRoutes()
}
