package server

// lessonsHandlers answer
type lessonsHandlers struct{ *API }

// Register declares the operations.
func (s lessonsHandlers) Register() {
	s.lessonRoutes()
	s.pictureRoutes()
	s.runRoutes()
	s.recordingRoutes()
}
