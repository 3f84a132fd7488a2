package server

// tablesHandlers answer
type tablesHandlers struct{ *API }

// Register declares the operations.
func (s tablesHandlers) Register() {
	s.tableRoutes()
}
