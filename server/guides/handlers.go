// Package guides answers with the user guide, to be read on a screen or printed.
package guides

import (
	"context"
	"net/http"

	"jetprimer/core/access"
	"jetprimer/guide"
	"jetprimer/server/api"
)

// Handlers answer the operations of this package.
type Handlers struct{ *api.API }

// New keeps nothing of its own.
func New(a *api.API) Handlers { return Handlers{a} }

// Register declares the operations.
func (s Handlers) Register() {
	api.Handle(s.API, api.Route{
		ID: "guide", For: access.Anyone, Method: http.MethodGet, Path: "/guide",
		Summary:    "The user guide, page by page",
		WhileOwing: true, Offline: true,
	},
		func(context.Context, api.Person, *struct{}) (*struct{ Body []guide.Page }, error) {
			pages, err := guide.Pages()
			return &struct{ Body []guide.Page }{pages}, err
		})
	api.Handle(s.API, api.Route{
		ID: "print-guide", For: access.Anyone, Method: http.MethodGet, Path: "/guide.pdf",
		Summary: "The user guide as a PDF", WhileOwing: true,
	},
		func(context.Context, api.Person, *struct{}) (*api.File, error) {
			file, err := guide.Print(s.Now())
			return api.Attachment("application/pdf", "jet-primer-guide.pdf", file), err
		})
}
