package api

import (
	"cmp"
	"context"
	"log/slog"
	"net/http"
	"path"
	"reflect"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-gonic/gin"

	"jetprimer/catalog"
	"jetprimer/mail"
	"jetprimer/reports"
	"jetprimer/store"
)

// API is what every operation stands on: the store, the catalog, who asks, and the bounds
// of what may be asked.
type API struct {
	Store    *store.Store
	Catalog  *catalog.Catalog
	Reports  *reports.Reports
	Sessions *scs.SessionManager
	Now      func() time.Time
	Log      *slog.Logger
	// operations are those of the API, described; routes are their declarations.
	Operations huma.API
	routes     []Route
	gate       *gate
	Hub        *store.Hub
	Counters   *metrics
	Office     *mail.Sender
	Notice     func() string
	// Turns of what takes processor or memory: recorders' files, runs of the practice
	// stand that are worked again, pictures that are looked at, and exports.
	Reading, Running, Looking, Exporting *turns

	streams streams
	recheck time.Duration
	// letters is which servers for letters a school may name, and at the address of links.
	letters mail.Reach
	at      string
	Version string
	Since   time.Time
	// closing is closed when the server is about to stop: streams end.
	Closing context.Context
	close   context.CancelFunc
}

// Options of NewAPI.
type Options struct {
	Store   *store.Store
	Catalog *catalog.Catalog
	Log     *slog.Logger
	// Secure says that people reach the application by TLS, here or at a proxy.
	Secure bool
	// Home is the address at which people reach the application, such as
	// https://jetprimer.school.example; empty is the one that each request names.
	Home string
	// Stall is how long a body may keep still; ten seconds when 0.
	Stall time.Duration
	// Recheck is how often an open stream asks again whether its person may look on; fifteen
	// seconds when 0.
	Recheck time.Duration
	// Proxies are the addresses whose word on a person's address is taken.
	Proxies []string
	// Now is the clock; time.Now when nil.
	Now func() time.Time
	// Office sends the letters of schools without a server of their own; nil for none.
	Office *mail.Sender
	// Reach is which servers for letters a school may name.
	Reach mail.Reach
	// SetupCode is what whoever begins the first school is asked for.
	SetupCode string
	// Notice is what everybody is told on their day, empty for nothing; nil for
	// never anything.
	Notice func() string
}

// New is an API without operations.
func New(o Options, version string) *API {
	if o.Now == nil {
		o.Now = time.Now
	}
	if o.Log == nil {
		o.Log = slog.New(slog.DiscardHandler)
	}
	s := &API{
		Store: o.Store, Catalog: o.Catalog, Reports: reports.New(o.Catalog, o.Now), Sessions: scs.New(), Now: o.Now,
		Log: o.Log, gate: newGate(), Counters: newMetrics(o.Store), Office: o.Office, Notice: o.Notice,
		Reading: newTurns(bounds{1, 1, 8, 4, 2}), Running: newTurns(bounds{2, 1, 32, 12, 3}),
		Looking: newTurns(bounds{1, 1, 32, 8, 2}), Exporting: newTurns(bounds{2, 1, 8, 4, 2}),
		streams: streams{of: map[string]int{}}, recheck: cmp.Or(o.Recheck, streamCheck), letters: o.Reach,
		at: strings.TrimSuffix(o.Home, "/"), Version: version, Since: o.Now(),
	}
	s.Sessions.Lifetime = 14 * 24 * time.Hour
	s.Sessions.Cookie.Name, s.Sessions.Cookie.Secure = "jetprimer", o.Secure
	s.Sessions.Cookie.HttpOnly, s.Sessions.Cookie.SameSite = true, http.SameSiteStrictMode
	s.Sessions.HashTokenInStore = true
	s.Sessions.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		o.Log.Error("session", "path", r.URL.Path, "error", err.Error())
		Problem(w, http.StatusServiceUnavailable, "The sign-in could not be read. Nothing was lost; try again.")
	}
	s.Closing, s.close = context.WithCancel(context.Background())
	if o.Store != nil {
		s.Sessions.Store = o.Store.Sessions()
		s.Hub = o.Store.Listen(s.Closing)
	}
	return s
}

// Close ends the streams, so that the requests under way can be waited for.
func (s *API) Close() { s.close() }

// onceForAll sets what the library of the API keeps for the whole program.
var onceForAll = sync.OnceFunc(func() {
	huma.DefaultArrayNullable = false // no array of ours is ever null
	huma.ValidateStrictCasing = true
	huma.NewErrorWithContext = errorOf
})

// Answer lets an engine answer the operations that are declared from now on.
func (s *API) Answer(engine *gin.Engine) {
	onceForAll()
	config := huma.DefaultConfig("Jet Primer", s.Version)
	config.OpenAPIPath, config.DocsPath, config.SchemasPath, config.CreateHooks = "/api/v1/openapi", "", "", nil
	config.Formats = map[string]huma.Format{"application/json": exactJSON, "json": exactJSON}
	config.Components.Schemas = huma.NewMapRegistry("#/components/schemas/", schemaName)
	s.Operations = humagin.New(engine, config)
}

// unnamed are the packages beside those of the server whose types go without the package's name.
var unnamed = []string{"reports", "bridge"}

// schemaName keeps types of the same name in different packages apart.
func schemaName(t reflect.Type, hint string) string {
	name := huma.DefaultSchemaNamer(t, hint)
	for t.Kind() == reflect.Pointer || t.Kind() == reflect.Slice {
		t = t.Elem()
	}
	from, ours := strings.CutPrefix(t.PkgPath(), "jetprimer/")
	pkg := path.Base(from)
	if !ours || strings.HasPrefix(from, "server") || slices.Contains(unnamed, pkg) {
		return name
	}
	return strings.ToUpper(pkg[:1]) + pkg[1:] + name
}
