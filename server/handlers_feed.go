package server

// feedHandlers answer
type feedHandlers struct {
	*API
	cursors *cursors
}

// newFeed has not been asked for a cursor yet.
func newFeed(a *API) feedHandlers {
	return feedHandlers{a, &cursors{under: map[string]*question{}, next: map[string]*question{}}}
}

// Register declares the operations.
func (s feedHandlers) Register() {
	s.feedRoutes()
}
