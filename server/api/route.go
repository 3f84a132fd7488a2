package api

import (
	"cmp"
	"context"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/access"
)

// Route declares one operation of the API. Everything about it that is not its handler
// follows from here: who may call it, the API's description, what a person is told that
// they may do, and which answers a device keeps for the time without a network.
type Route struct {
	ID     string
	For    access.Roles // who may call it; access.Anyone needs no sign-in
	Method string
	// Path is below /api/v1.
	Path    string
	Summary string
	// Status is that of success where it is not 200, or 204 without a body.
	Status int
	// MaxBodyBytes bounds the body; 1 MiB when 0.
	MaxBodyBytes int64
	// RequestBody describes a body that no type describes.
	RequestBody *huma.RequestBody
	// WhileOwing says that it is open to who still has to set up a second factor.
	WhileOwing bool
	// Offline says that a device keeps the answer, and gives it again without a network.
	Offline bool
}

// operation describes the route for the API's document.
func (r Route) operation() huma.Operation {
	op := huma.Operation{
		OperationID: r.ID, Method: r.Method, Path: "/api/v1" + r.Path, Summary: r.Summary, DefaultStatus: r.Status,
		MaxBodyBytes: r.MaxBodyBytes, RequestBody: r.RequestBody,
		BodyReadTimeout: -1, // what arrives is bounded as it comes
	}
	if r.Offline {
		op.Extensions = map[string]any{"x-offline": true}
	}
	return op
}

// open reports whether people of some roles may call it.
func (r Route) open(roles access.Roles) bool { return roles.Any(r.For) }

// Routes are the declarations of all operations.
func (s *API) Routes() []Route { return s.routes }

// Handle registers an operation with its handler.
func Handle[I, O any](s *API, r Route, handle func(ctx context.Context, w Person, in *I) (*O, error)) {
	op := s.declare(r)
	huma.Register(s.Operations, op, func(ctx context.Context, in *I) (*O, error) {
		w, _ := ctx.Value(whoKey{}).(Person)
		out, err := handle(ctx, w, in)
		if err != nil {
			return nil, s.problem(ctx, op.OperationID, err)
		}
		return out, nil
	})
}

// declare keeps a route, and guards its operation.
func (s *API) declare(r Route) huma.Operation {
	if len(r.For) == 0 || s.declared(r.ID) {
		panic("server: operation " + r.ID + " is open to nobody, or declared twice")
	}
	s.routes = append(s.routes, r)
	op := r.operation()
	op.Middlewares = huma.Middlewares{s.guard(r)}
	return op
}

func (s *API) declared(id string) bool {
	return slices.ContainsFunc(s.routes, func(r Route) bool { return r.ID == id })
}

// guard lets those pass who may call an operation, and says to others why not.
func (s *API) guard(r Route) func(ctx huma.Context, next func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		w, err := s.Who(ctx.Context())
		arrivesFrom(ctx.Context(), cmp.Or(w.Account, Address(ctx.Context())), w.School)
		if err != nil {
			s.Log.Error("reading who asks", "error", err.Error())
			_ = huma.WriteErr(s.Operations, ctx, http.StatusServiceUnavailable,
				"It could not be told who asks. Nothing was lost; try again.")
			return
		}
		if status, why := w.refusal(r, ctx.Header(forHeader)); status != 0 {
			_ = huma.WriteErr(s.Operations, ctx, status, why)
			return
		}
		next(huma.WithValue(ctx, whoKey{}, w))
	}
}

// refusal says why a person may not call an operation now; the status is 0 where they
// may. meant is whose request it is, if it says so.
func (w Person) refusal(r Route, meant string) (status int, why string) {
	signedIn := len(w.Roles) > 0
	switch {
	case signedIn && meant != "" && meant != w.Account:
		return http.StatusUnauthorized, "Somebody else has signed in with this browser since. " +
			"What you entered is kept on this device and waits for your own sign-in."
	case w.Roles.OwesSecond(w.Settings.SecondFactor, w.HasSecond) && !r.WhileOwing && !r.For.Has(""):
		return http.StatusForbidden, "Your school asks your roles for one-time codes at the sign-in: " +
			"set them up in your account first."
	case r.open(w.Roles):
		return 0, ""
	case !signedIn:
		return http.StatusUnauthorized, "Sign in first: the session has ended or was never begun. " +
			"What you entered is kept on this device."
	}
	return http.StatusForbidden, fmt.Sprintf("This is not open to the role %s.", strings.Join(w.Roles, " and "))
}

// May reports whether people of some roles may call an operation.
func (s *API) May(roles access.Roles, id string) bool {
	return slices.ContainsFunc(s.routes, func(r Route) bool { return r.ID == id && r.open(roles) })
}

// Allowed are the operations that people of some roles may call, sorted.
func (s *API) Allowed(roles access.Roles) []string {
	ids := []string{}
	for _, r := range s.routes {
		if r.open(roles) {
			ids = append(ids, r.ID)
		}
	}
	slices.Sort(ids)
	return ids
}
