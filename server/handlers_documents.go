package server

// documentsHandlers answer
type documentsHandlers struct{ *API }

// Register declares the operations.
func (s documentsHandlers) Register() {
	s.libraryRoutes()
	s.typeRoutes()
}
