package server

import (
	"context"
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/danielgtaylor/huma/v2"

	"jetprimer/store"
)

// Limits of sign-in: failures under one address in the window.
const (
	attemptsMax    = 10
	attemptsWindow = 15 * time.Minute
)

// Session is who is signed in, and where.
type Session struct {
	Account string `json:"account"`
	Name    string `json:"name"`
	School  string `json:"school"`
	Role    string `json:"role" enum:"student,instructor,chief,maintenance,examiner,admin"`
	Today   string `json:"today" doc:"the school's day, such as 2026-11-24"`
}

type sessionOutput struct{ Body Session }

type signInInput struct {
	Body struct {
		Email    string `json:"email" minLength:"3" maxLength:"200" doc:"the address you were enrolled with"`
		Password string `json:"password" minLength:"1" maxLength:"200"`
		School   string `json:"school,omitempty" doc:"the id of the school, for people of several"`
	}
}

func (s *Server) sessionRoutes() {
	route(s, huma.Operation{OperationID: "sign-in", Method: http.MethodPost, Path: "/session", Summary: "Sign in"}, s.signIn)
	route(s, huma.Operation{OperationID: "session", Method: http.MethodGet, Path: "/session", Summary: "Who is signed in"},
		func(ctx context.Context, w who, _ *struct{}) (*sessionOutput, error) { return s.session(ctx, w) })
	route(s, huma.Operation{OperationID: "sign-out", Method: http.MethodDelete, Path: "/session", Summary: "Sign out"},
		func(ctx context.Context, _ who, _ *struct{}) (*struct{}, error) { return nil, s.sessions.Destroy(ctx) })
}

func (s *Server) session(ctx context.Context, w who) (*sessionOutput, error) {
	memberships, err := s.store.Memberships(ctx, w.account)
	if err != nil {
		return nil, err
	}
	for _, m := range memberships {
		if m.SchoolID == w.school {
			return &sessionOutput{Session{w.account, w.name, m.School, m.Role, s.today()}}, nil
		}
	}
	return nil, store.ErrNotFound
}

func (s *Server) signIn(ctx context.Context, _ who, in *signInInput) (*sessionOutput, error) {
	account, err := s.authenticate(ctx, in.Body.Email, in.Body.Password)
	if err != nil {
		return nil, err
	}
	memberships, err := s.store.Memberships(ctx, account.ID)
	if err != nil {
		return nil, err
	}
	var chosen *store.Membership
	for i, m := range memberships {
		if in.Body.School == "" && i == 0 || m.SchoolID == in.Body.School {
			chosen = &memberships[i]
		}
	}
	if chosen == nil {
		return nil, huma.Error403Forbidden("You are known, but not a member of that school. Ask its administrator.")
	}
	if err := s.sessions.RenewToken(ctx); err != nil {
		return nil, err
	}
	s.sessions.Put(ctx, "account", account.ID)
	s.sessions.Put(ctx, "name", account.Name)
	s.sessions.Put(ctx, "school", chosen.SchoolID)
	return s.session(ctx, who{account: account.ID, name: account.Name, school: chosen.SchoolID, role: chosen.Role})
}

// unknown is hashed against when nobody has the address, so that the answer
// takes as long.
const unknown = "$argon2id$v=19$m=65536,t=1,p=2$c2FsdHNhbHRzYWx0c2FsdA$Yl5cB0tHhJ0xg3fJrj5b0mS3m5rFQn2m3p5mZ8d1u2Y"

// authenticate checks an address and a password, and counts failures.
func (s *Server) authenticate(ctx context.Context, email, password string) (store.Account, error) {
	key := "email " + strings.ToLower(strings.TrimSpace(email))
	tries, err := s.store.Attempts(ctx, key, s.now().Add(-attemptsWindow))
	if err != nil {
		return store.Account{}, err
	}
	if tries >= attemptsMax {
		return store.Account{}, huma.Error429TooManyRequests("Too many tries under this address. Wait a quarter of an hour, then try again.")
	}
	account, err := s.store.AccountByEmail(ctx, email)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return account, err
	}
	hash := account.Password
	if hash == "" {
		hash = unknown
	}
	matches, err := s.matches(ctx, password, hash)
	if err != nil {
		return account, err
	}
	if !matches || account.ID == "" {
		if err := s.store.NoteAttempt(ctx, key, s.now()); err != nil {
			return account, err
		}
		return account, huma.Error401Unauthorized("Address and password do not belong together.")
	}
	return account, s.store.ForgetAttempts(ctx, key)
}

// matches compares a password with its hash, a few at a time at most.
func (s *Server) matches(ctx context.Context, password, hash string) (bool, error) {
	select {
	case s.hashing <- struct{}{}:
		defer func() { <-s.hashing }()
	case <-ctx.Done():
		return false, ctx.Err()
	}
	return argon2id.ComparePasswordAndHash(password, hash)
}
