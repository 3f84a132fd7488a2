// Package accounts answers for a person's own account: the sign-in, the second factor, passkeys, the PIN that
// signs, and the data that is kept of them.
package accounts

import "jetprimer/server/api"

// Handlers answer the operations of this package.
type Handlers struct{ *api.API }

// New keeps nothing of its own.
func New(a *api.API) Handlers { return Handlers{a} }

// Register declares the operations.
func (s Handlers) Register() {
	s.sessionRoutes()
	s.accountRoutes()
	s.passkeyRoutes()
	s.personalDataRoutes()
}
