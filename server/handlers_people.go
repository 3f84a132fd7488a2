package server

// peopleHandlers answer
type peopleHandlers struct{ *API }

// Register declares the operations.
func (s peopleHandlers) Register() {
	s.peopleRoutes()
}
