// Package server is the HTTP interface: it decodes, asks core and store, and
// encodes. Rules are not found here.
package server

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"path"
	"reflect"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-gonic/gin"

	"jetprimer/catalog"
	"jetprimer/core/form"
	"jetprimer/store"
)

// Version of the program.
const Version = "0.1.0"

// Server answers requests from one store and one catalog.
type Server struct {
	store    *store.Store
	catalog  *catalog.Catalog
	sessions *scs.SessionManager
	hashing  chan struct{} // bounds how many passwords are hashed at once
	now      func() time.Time
	log      *slog.Logger
	api      huma.API
}

// Options of New.
type Options struct {
	Store   *store.Store
	Catalog *catalog.Catalog
	Log     *slog.Logger
	// Secure marks cookies for TLS only.
	Secure bool
	// Now is the clock; time.Now when nil.
	Now func() time.Time
}

// New is the whole application as one handler.
func New(o Options) (http.Handler, error) {
	s, engine := build(o)
	assets, err := newAssets()
	if err != nil {
		return nil, err
	}
	engine.NoRoute(assets.serve)
	return http.NewCrossOriginProtection().Handler(s.sessions.LoadAndSave(engine)), nil
}

// OpenAPI is the document that describes the API, made from the Go types.
func OpenAPI(c *catalog.Catalog) ([]byte, error) {
	s, _ := build(Options{Catalog: c})
	return s.api.OpenAPI().MarshalJSON()
}

func build(o Options) (*Server, *gin.Engine) {
	if o.Now == nil {
		o.Now = time.Now
	}
	if o.Log == nil {
		o.Log = slog.New(slog.DiscardHandler)
	}
	s := &Server{store: o.Store, catalog: o.Catalog, sessions: scs.New(), hashing: make(chan struct{}, 2), now: o.Now, log: o.Log}
	// No idle timeout: it would write the session at each request, and a request
	// under way while somebody signs out would bring the session back.
	s.sessions.Lifetime = 14 * 24 * time.Hour
	s.sessions.Cookie.Name, s.sessions.Cookie.Secure = "jetprimer", o.Secure
	s.sessions.Cookie.HttpOnly, s.sessions.Cookie.SameSite = true, http.SameSiteStrictMode
	s.sessions.HashTokenInStore = true
	s.sessions.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		o.Log.Error("session", "path", r.URL.Path, "error", err)
		http.Error(w, "The sign-in could not be read. Nothing was lost; try again.", http.StatusServiceUnavailable)
	}
	if o.Store != nil {
		s.sessions.Store = o.Store.Sessions()
	}
	huma.DefaultArrayNullable = false // no array of ours is ever null
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	_ = engine.SetTrustedProxies(nil)
	engine.Use(s.logged(), gin.CustomRecovery(s.recovered), headers(o.Secure))
	engine.GET("/healthz", func(c *gin.Context) { c.String(http.StatusOK, "ok\n") })
	engine.GET("/readyz", s.ready)

	config := huma.DefaultConfig("Jet Primer", Version)
	config.OpenAPIPath, config.DocsPath, config.SchemasPath, config.CreateHooks = "/api/v1/openapi", "", "", nil
	config.Components.Schemas = huma.NewMapRegistry("#/components/schemas/", schemaName)
	s.api = humagin.New(engine, config)
	s.sessionRoutes()
	s.todayRoutes()
	s.lessonRoutes()
	s.studentRoutes()
	s.schoolRoutes()
	s.checkRoutes()
	s.libraryRoutes()
	s.dayRoutes()
	object := &huma.Schema{Type: huma.TypeObject, AdditionalProperties: true}
	if verdict := s.api.OpenAPI().Components.Schemas.Map()["CheckVerdict"]; verdict != nil {
		verdict.Properties["values"], verdict.Properties["limits"] = object, object
	}
	return s, engine
}

// schemaName keeps types of the same name in different packages apart.
func schemaName(t reflect.Type, hint string) string {
	name := huma.DefaultSchemaNamer(t, hint)
	for t.Kind() == reflect.Pointer || t.Kind() == reflect.Slice {
		t = t.Elem()
	}
	if pkg := path.Base(t.PkgPath()); strings.HasPrefix(t.PkgPath(), "jetprimer/") && pkg != "server" {
		return strings.ToUpper(pkg[:1]) + pkg[1:] + name
	}
	return name
}

func (s *Server) ready(c *gin.Context) {
	ctx, cancel := context.WithTimeout(c.Request.Context(), 2*time.Second)
	defer cancel()
	if err := s.store.Ping(ctx); err != nil {
		s.log.Error("not ready", "error", err)
		c.String(http.StatusServiceUnavailable, "the database does not answer\n")
		return
	}
	c.String(http.StatusOK, "ready\n")
}

func (s *Server) recovered(c *gin.Context, err any) {
	s.log.Error("panic", "path", c.Request.URL.Path, "error", fmt.Sprint(err))
	c.AbortWithStatus(http.StatusInternalServerError)
}

func (s *Server) logged() gin.HandlerFunc {
	return func(c *gin.Context) {
		begun := time.Now()
		c.Next()
		s.log.Info("request", "method", c.Request.Method, "path", c.Request.URL.Path, "status", c.Writer.Status(),
			"bytes", c.Writer.Size(), "ms", time.Since(begun).Milliseconds())
	}
}

func headers(secure bool) gin.HandlerFunc {
	return func(c *gin.Context) {
		h := c.Writer.Header()
		h.Set("Content-Security-Policy", "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'")
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "no-referrer")
		if secure {
			h.Set("Strict-Transport-Security", "max-age=31536000")
		}
		if strings.HasPrefix(c.Request.URL.Path, "/api/") {
			h.Set("Cache-Control", "no-store")
		}
	}
}

// who is the signed-in person, as of this request.
type who struct {
	account string
	name    string
	school  string
	role    string
}

type whoKey struct{}

// route registers an operation: signed-in people whose role the permission
// table names may call it.
func route[I, O any](s *Server, op huma.Operation, handle func(ctx context.Context, w who, in *I) (*O, error)) {
	if len(permissions[op.OperationID]) == 0 {
		panic("server: operation " + op.OperationID + " is not in the permission table")
	}
	op.Path = "/api/v1" + op.Path
	op.Middlewares = append(op.Middlewares, func(ctx huma.Context, next func(huma.Context)) {
		w, err := s.who(ctx.Context())
		switch {
		case err != nil:
			s.log.Error("reading who asks", "error", err)
			_ = huma.WriteErr(s.api, ctx, http.StatusServiceUnavailable, "It could not be told who asks. Nothing was lost; try again.")
		case allowed(op.OperationID, w.role):
			next(huma.WithValue(ctx, whoKey{}, w))
		case w.role == "":
			_ = huma.WriteErr(s.api, ctx, http.StatusUnauthorized, "Sign in first: the session has ended or was never begun. What you entered is kept on this device.")
		default:
			_ = huma.WriteErr(s.api, ctx, http.StatusForbidden, fmt.Sprintf("This is not open to the role %s.", w.role))
		}
	})
	huma.Register(s.api, op, func(ctx context.Context, in *I) (*O, error) {
		w, _ := ctx.Value(whoKey{}).(who)
		out, err := handle(ctx, w, in)
		if err != nil {
			return nil, s.problem(op.OperationID, err)
		}
		return out, nil
	})
}

// who reads the session and looks the membership up, so that a role taken away
// is gone at the next request.
func (s *Server) who(ctx context.Context) (who, error) {
	w := who{account: s.sessions.GetString(ctx, "account"), school: s.sessions.GetString(ctx, "school"), name: s.sessions.GetString(ctx, "name")}
	if w.account == "" {
		return who{}, nil
	}
	memberships, err := s.store.Memberships(ctx, w.account)
	if err != nil {
		return who{}, err
	}
	for _, m := range memberships {
		if m.SchoolID == w.school {
			w.role = m.Role
			return w, nil
		}
	}
	return who{}, nil
}

// problem turns an error into what a person is told.
func (s *Server) problem(operation string, err error) error {
	var status huma.StatusError
	var input *form.InputError
	var batch *store.BatchError
	var library *store.LibraryError
	switch {
	case errors.As(err, &status):
		return err
	case errors.As(err, &input):
		return huma.Error422UnprocessableEntity(input.Error(), &huma.ErrorDetail{Location: input.Field, Message: input.Reason})
	case errors.As(err, &batch):
		return huma.Error422UnprocessableEntity("Nothing of this was kept: "+batch.Error()+".", &huma.ErrorDetail{Location: batch.Field, Message: batch.Reason})
	case errors.Is(err, store.ErrNotFound), strings.Contains(err.Error(), "22P02"):
		return huma.Error404NotFound("There is no such record in your school, or it is not open to you.")
	case errors.Is(err, store.ErrStale):
		return huma.Error409Conflict("The lesson has changed since this page showed it. Look at it again, then sign. Nothing was signed.")
	case errors.As(err, &library):
		return huma.Error422UnprocessableEntity(sentence(library.Reason))
	case errors.Is(err, store.ErrUnsettled), errors.Is(err, store.ErrVersion), errors.Is(err, store.ErrConflict):
		return huma.Error409Conflict(sentence(err.Error()))
	}
	s.log.Error("failed", "operation", operation, "error", err)
	return huma.Error500InternalServerError("This could not be done just now. What you entered is kept on this device; try again.")
}

func sentence(text string) string {
	text = strings.ToUpper(text[:1]) + text[1:]
	if !strings.HasSuffix(text, ".") {
		text += "."
	}
	return text
}

// in runs fn inside the person's school.
func (s *Server) in(ctx context.Context, w who, fn func(tx *store.Tx) error) error {
	return s.store.In(ctx, w.school, func(_ context.Context, tx *store.Tx) error { return fn(tx) })
}

// mayRead reports whether the person may read a student's record.
func (s *Server) mayRead(tx *store.Tx, w who, studentID string) error {
	switch w.role {
	case instructor, chief:
		return nil
	case student:
		if studentID == w.account {
			return nil
		}
	case examiner:
		shared, err := tx.SharedWith(w.account, s.today())
		if err != nil {
			return err
		}
		for _, id := range shared {
			if id == studentID {
				return nil
			}
		}
	}
	return store.ErrNotFound
}

func (s *Server) today() string { return s.now().UTC().Format(time.DateOnly) }
