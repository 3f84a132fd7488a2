package server

// studentsHandlers answer
type studentsHandlers struct{ *API }

// Register declares the operations.
func (s studentsHandlers) Register() {
	s.studentRoutes()
	s.shareRoutes()
}
