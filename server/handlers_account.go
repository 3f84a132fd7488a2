package server

// accountHandlers answer
type accountHandlers struct{ *API }

// Register declares the operations.
func (s accountHandlers) Register() {
	s.sessionRoutes()
	s.accountRoutes()
	s.passkeyRoutes()
	s.personalDataRoutes()
}
