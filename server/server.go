// Package server is the HTTP interface: it decodes, asks core and store, and
// encodes. Rules are not found here.
package server

import (
	"cmp"
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"path"
	"reflect"
	"runtime/debug"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-gonic/gin"
	"github.com/klauspost/compress/gzhttp"

	"jetprimer/catalog"
	"jetprimer/core/access"
	"jetprimer/core/calc"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/school"
	"jetprimer/core/words"
	"jetprimer/exchange"
	"jetprimer/mail"
	"jetprimer/reports"
	"jetprimer/store"
)

// Version of the program; the build sets it.
var Version = "development"

// Server answers requests from one store and one catalog.
type Server struct {
	store *store.Store
	// setupCode is the hash of what begins the first school, empty for none.
	setupCode string
	catalog   *catalog.Catalog
	sessions  *scs.SessionManager
	gate      *gate
	now       func() time.Time
	log       *slog.Logger
	api       huma.API
	routes    []Route
	handler   http.Handler
	hub       *store.Hub
	metrics   *metrics
	office    *mail.Sender
	notice    func() string
	// Turns of what takes processor or memory: recorders' files, runs of the practice
	// stand that are worked again, pictures that are looked at, and exports.
	reading, running, looking, exporting *turns
	// live are the runs that go on now.
	live    *stage
	streams streams
	cursors cursors
	recheck time.Duration
	reports *reports.Reports
	// letters is which servers for letters a school may name, and at the address of links.
	letters mail.Reach
	at      string
	since   time.Time
	// closing is closed when the server is about to stop: streams end.
	closing context.Context
	close   context.CancelFunc
}

// Options of New.
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

// New is the whole application. Close ends its streams.
func New(o Options) (*Server, error) {
	s, engine, err := build(o)
	if err != nil {
		return nil, err
	}
	if o.SetupCode != "" {
		if s.setupCode, err = HashPassword(o.SetupCode); err != nil {
			return nil, err
		}
	}
	assets, err := newAssets()
	if err != nil {
		return nil, err
	}
	engine.NoRoute(assets.serve)
	same := http.NewCrossOriginProtection()
	same.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		problem(w, http.StatusForbidden, "Another site asked for this in your name. It was refused.")
	}))
	line := mobilePace
	line.least = cmp.Or(o.Stall, line.least)
	compressed, err := gzhttp.NewWrapper(gzhttp.MinSize(compressedFrom), gzhttp.CompressionLevel(5),
		gzhttp.EnableZstd(false), gzhttp.ContentTypeFilter(compresses))
	if err != nil {
		return nil, err
	}
	s.handler = inTime(compressed(same.Handler(s.sessions.LoadAndSave(engine))), line,
		&arrivals{of: map[string]int64{}})
	s.closing, s.close = context.WithCancel(context.Background())
	s.hub = o.Store.Listen(s.closing)
	go s.eachSchool(s.closing, s.followPolicies)
	go s.eachSchool(s.closing, s.keepReports)
	return s, nil
}

// compressedFrom is the size in bytes from which an answer is compressed: a smaller one
// fits into one packet either way.
const compressedFrom = 1024

// compresses reports whether compressing answers of a content type makes them smaller. An
// event stream is sent a line at a time and stays as it is.
func compresses(contentType string) bool {
	kind, _, _ := strings.Cut(contentType, ";")
	switch kind {
	case "text/event-stream":
		return false
	case "application/json", "application/problem+json", "application/wasm", "application/manifest+json",
		"image/svg+xml":
		return true
	}
	return strings.HasPrefix(kind, "text/")
}

// ServeHTTP answers a request.
func (s *Server) ServeHTTP(w http.ResponseWriter, r *http.Request) { s.handler.ServeHTTP(w, r) }

// Close ends the streams, so that the requests under way can be waited for.
func (s *Server) Close() { s.close() }

// OpenAPI is the document that describes the API, made from the Go types.
func OpenAPI(c *catalog.Catalog) (*huma.OpenAPI, error) {
	s, _, err := build(Options{Catalog: c})
	if err != nil {
		return nil, err
	}
	return s.api.OpenAPI(), nil
}

// ginOnce sets what gin and huma keep for the whole program.
var ginOnce = sync.OnceFunc(func() {
	huma.DefaultArrayNullable = false // no array of ours is ever null
	huma.ValidateStrictCasing = true
	huma.NewErrorWithContext = errorOf
	gin.SetMode(gin.ReleaseMode)
})

func build(o Options) (*Server, *gin.Engine, error) {
	if o.Now == nil {
		o.Now = time.Now
	}
	if o.Log == nil {
		o.Log = slog.New(slog.DiscardHandler)
	}
	s := &Server{store: o.Store, catalog: o.Catalog, sessions: scs.New(), gate: newGate(), now: o.Now, log: o.Log,
		office: o.Office, notice: o.Notice, reports: reports.New(o.Catalog, o.Now), live: newStage(o.Now),
		reading: newTurns(bounds{1, 1, 8, 4, 2}), running: newTurns(bounds{2, 1, 32, 12, 3}),
		looking: newTurns(bounds{1, 1, 32, 8, 2}), exporting: newTurns(bounds{2, 1, 8, 4, 2}),
		recheck: cmp.Or(o.Recheck, streamCheck), streams: streams{of: map[string]int{}}, cursors: cursors{
			under: map[string]*question{}, next: map[string]*question{},
		}, letters: o.Reach, at: strings.TrimSuffix(o.Home, "/"), metrics: newMetrics(o.Store), since: o.Now()}
	s.sessions.Lifetime = 14 * 24 * time.Hour
	s.sessions.Cookie.Name, s.sessions.Cookie.Secure = "jetprimer", o.Secure
	s.sessions.Cookie.HttpOnly, s.sessions.Cookie.SameSite = true, http.SameSiteStrictMode
	s.sessions.HashTokenInStore = true
	s.sessions.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		o.Log.Error("session", "path", r.URL.Path, "error", err.Error())
		problem(w, http.StatusServiceUnavailable, "The sign-in could not be read. Nothing was lost; try again.")
	}
	if o.Store != nil {
		s.sessions.Store = o.Store.Sessions()
	}
	ginOnce()
	engine := gin.New()
	if err := engine.SetTrustedProxies(o.Proxies); err != nil {
		return nil, nil, fmt.Errorf("reading the trusted proxies: %w", err)
	}
	engine.HandleMethodNotAllowed = true
	engine.NoMethod(func(c *gin.Context) {
		problem(c.Writer, http.StatusMethodNotAllowed, "This address does not take "+form.Clip(c.Request.Method)+".")
	})
	engine.Use(s.logged(), gin.CustomRecoveryWithWriter(nil, s.recovered), headers(o.Secure), unchanged)
	engine.GET("/healthz", func(c *gin.Context) { c.String(http.StatusOK, "ok\n") })
	engine.GET("/readyz", s.ready)

	config := huma.DefaultConfig("Jet Primer", Version)
	config.OpenAPIPath, config.DocsPath, config.SchemasPath, config.CreateHooks = "/api/v1/openapi", "", "", nil
	config.Formats = map[string]huma.Format{"application/json": exactJSON, "json": exactJSON}
	config.Components.Schemas = huma.NewMapRegistry("#/components/schemas/", schemaName)
	s.api = humagin.New(engine, config)
	for _, routes := range []func(){
		s.sessionRoutes, s.passkeyRoutes, s.todayRoutes, s.bookingRoutes, s.scheduleRoutes, s.feedRoutes,
		s.lessonRoutes, s.pictureRoutes, s.studentRoutes, s.shareRoutes, s.beginRoutes, s.peopleRoutes, s.tableRoutes,
		s.accountRoutes, s.auditRoutes, s.statusRoutes, s.personalDataRoutes, s.placeRoutes, s.fleetRoutes,
		s.runRoutes, s.trendRoutes, s.recordingRoutes, s.standRoutes, s.schoolRoutes, s.outlookRoutes, s.compareRoutes,
		s.checkRoutes, s.libraryRoutes, s.typeRoutes, s.policyRoutes, s.dayRoutes,
	} {
		routes()
	}
	s.describeWords()
	object := &huma.Schema{Type: huma.TypeObject, AdditionalProperties: true}
	if verdict := s.api.OpenAPI().Components.Schemas.Map()["CheckVerdict"]; verdict != nil {
		verdict.Properties["values"], verdict.Properties["limits"] = object, object
		delete(verdict.Properties, "Tiles")
	}
	return s, engine, nil
}

// describeWords adds to the document the words of the trade, and what a person begins with.
func (s *Server) describeWords() {
	document := s.api.OpenAPI()
	document.Components.Schemas.Schema(reflect.TypeFor[words.Vocabulary](), true, "")
	document.Extensions = map[string]any{
		"x-words": words.All(), "x-formats": exchange.Formats,
		"x-fresh": map[string]any{"day": calc.FreshDay(quantity.Units{}), "flown": checklist.FreshDay()},
	}
}

// unnamed are the packages whose types go without the package's name.
var unnamed = []string{"server", "reports", "bridge"}

// schemaName keeps types of the same name in different packages apart.
func schemaName(t reflect.Type, hint string) string {
	name := huma.DefaultSchemaNamer(t, hint)
	for t.Kind() == reflect.Pointer || t.Kind() == reflect.Slice {
		t = t.Elem()
	}
	if pkg := path.Base(t.PkgPath()); strings.HasPrefix(t.PkgPath(), "jetprimer/") && !slices.Contains(unnamed, pkg) {
		return strings.ToUpper(pkg[:1]) + pkg[1:] + name
	}
	return name
}

func (s *Server) recovered(c *gin.Context, err any) {
	s.log.Error("panic", "id", origin(c.Request.Context()).id, "path", c.FullPath(), "error", fmt.Sprint(err), "stack",
		string(debug.Stack()))
	if !c.Writer.Written() {
		problem(c.Writer, http.StatusInternalServerError, wentWrong)
	}
	c.Abort()
}

// from is where a request comes from, which host it asked for, the token of its device,
// and the id under which it is told in the logs.
type from struct{ address, host, agent, device, id string }

type fromKey struct{}

// logged writes a line a request: the route and never its words, the address of
// the person for those who count attempts.
func (s *Server) logged() gin.HandlerFunc {
	return func(c *gin.Context) {
		begun, id := time.Now(), rand.Text()
		c.Header("X-Request-Id", id)
		c.Request = c.Request.WithContext(context.WithValue(c.Request.Context(), fromKey{},
			from{c.ClientIP(), c.Request.Host, c.Request.UserAgent(), s.deviceOf(c), id}))
		c.Next()
		s.metrics.answered(c.Request.Method, c.FullPath(), c.Writer.Status(), time.Since(begun))
		s.log.Info("request", "id", id, "method", form.Clip(c.Request.Method), "route", c.FullPath(), "status",
			c.Writer.Status(),
			"bytes", c.Writer.Size(), "ms", time.Since(begun).Milliseconds())
	}
}

// deviceCookie is the token by which a device is known that somebody has signed in on: it
// opens nothing, and keeps the guesses of others from locking its people out.
const deviceCookie = "jetprimer-device"

// deviceOf is the token of a device, a fresh one where it has none and somebody may be
// about to sign in.
func (s *Server) deviceOf(c *gin.Context) string {
	if kept, err := c.Cookie(deviceCookie); err == nil && len(kept) == len(rand.Text()) {
		return kept
	}
	if c.Request.Method != http.MethodPost {
		return ""
	}
	token := rand.Text()
	http.SetCookie(c.Writer, &http.Cookie{
		Name: deviceCookie, Value: token, Path: "/api/", MaxAge: 400 * 24 * 3600, HttpOnly: true,
		SameSite: http.SameSiteStrictMode, Secure: s.sessions.Cookie.Secure,
	})
	return token
}

// address is where a request comes from.
func address(ctx context.Context) string { return origin(ctx).address }

func origin(ctx context.Context) from {
	f, _ := ctx.Value(fromKey{}).(from)
	return f
}

func headers(secure bool) gin.HandlerFunc {
	return func(c *gin.Context) {
		h := c.Writer.Header()
		h.Set("Content-Security-Policy",
			"default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; img-src "+
				"'self' data: blob:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'")
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
	name    string // what the school calls them
	school  string
	place   string // the school's name
	roles   access.Roles
	zone    *time.Location
	// settings are the school's, own the units that the person reads instead.
	settings school.Settings
	own      quantity.Units
	hasPin   bool
	// hasPasskey says that a device of theirs has one, hasSecond that one-time codes
	// are asked for.
	hasPasskey, hasSecond bool
	// hasLetters says that the school has a server for letters of its own.
	hasLetters bool
	schools    []reports.Named
}

// units are those that the person reads.
func (w who) units() quantity.Units { return w.own.Over(w.settings.Units) }

type whoKey struct{}

// forHeader says whose a request is: of two people who share a browser nobody
// acts in the other's name.
const forHeader = "Jetprimer-For"

// who reads the session and looks the membership up, so that a role taken away
// is gone at the next request.
func (s *Server) who(ctx context.Context) (who, error) {
	w := who{account: s.sessions.GetString(ctx, "account"), school: s.sessions.GetString(ctx, "school")}
	if w.account == "" {
		return who{}, nil
	}
	memberships, err := s.store.Memberships(ctx, w.account)
	if err != nil {
		return who{}, err
	}
	w, _, err = whoAt(w, memberships)
	return w, err
}

// whoAt is a person at one of their schools, the first where none is named;
// nobody where it is none of theirs.
func whoAt(w who, memberships []store.Membership) (who, store.Membership, error) {
	at := slices.IndexFunc(memberships,
		func(m store.Membership) bool { return w.school == "" || m.SchoolID == w.school })
	if at < 0 {
		return who{}, store.Membership{}, nil
	}
	for _, m := range memberships {
		w.schools = append(w.schools, reports.Named{ID: m.SchoolID, Name: m.School})
	}
	m := memberships[at]
	w.name, w.school, w.place, w.roles, w.settings, w.own, w.hasPin, w.hasPasskey, w.hasSecond, w.hasLetters = m.Name, m.SchoolID, m.School, m.Roles, m.Settings, m.Units, m.HasPin, m.HasPasskey, m.HasSecond, m.HasLetters
	zone, err := time.LoadLocation(m.TimeZone)
	w.zone = zone
	return w, m, err
}

// wentWrong is what is said of a failure that is not the person's.
const wentWrong = "This could not be done just now. What you entered is kept on this device; try again."

// problem turns an error into what a person is told.
func (s *Server) problem(ctx context.Context, operation string, err error) error {
	var status huma.StatusError
	var bad form.Problem
	var unreadable *store.UnreadableError
	switch {
	case errors.As(err, &status):
		return err
	case errors.As(err, &bad):
		return unusable(err, bad)
	case errors.As(err, &unreadable):
		return huma.Error422UnprocessableEntity(fmt.Sprintf("Version %d of %s cannot be read as what it should be. "+
			"Open it on the Lists page to see its mistakes.", unreadable.Version, unreadable.ID))
	case errors.Is(err, store.ErrNotFound):
		return huma.Error404NotFound("There is no such record in your school, or it is not open to you.")
	case errors.Is(err, store.ErrText):
		return huma.Error422UnprocessableEntity("A text holds a character that cannot be kept, such as NUL. Nothing " +
			"of this was kept.")
	case errors.Is(err, store.ErrUnavailable):
		s.log.Error("unavailable", "id", origin(ctx).id, "operation", operation, "error", err.Error())
		return huma.ErrorWithHeaders(huma.Error503ServiceUnavailable("The school's records cannot be reached just "+
			"now. What you entered is kept on this device; try again in a moment."), http.Header{
			"Retry-After": {"5"},
		})
	case errors.Is(err, store.ErrStale):
		return huma.Error409Conflict("The lesson has changed since this page showed it. Look at it again, then " +
			"sign. Nothing was signed.")
	case errors.Is(err, store.ErrUnsettled), errors.Is(err, store.ErrConflict):
		return huma.Error409Conflict(sentence(err.Error()))
	case errors.Is(err, context.Canceled):
		return huma.NewError(499, "The request was given up.")
	}
	s.log.Error("failed", "id", origin(ctx).id, "operation", operation, "error", err.Error())
	return huma.Error500InternalServerError(wentWrong)
}

// unusable is the answer to what cannot be used. It begins with the field, or is a
// sentence of its own.
func unusable(err error, p form.Problem) error {
	if p.Field == "" {
		return huma.Error422UnprocessableEntity(sentence(err.Error()))
	}
	detail := err.Error()
	if detail != p.Error() {
		detail = sentence(detail)
	}
	return huma.Error422UnprocessableEntity(detail, &huma.ErrorDetail{Location: p.Field, Message: p.Reason})
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

// readable tells which students' records the person may read.
func (s *Server) readable(tx *store.Tx, w who) (func(student string) bool, error) {
	shared := map[string]bool{}
	if w.roles.Has(access.Examiner) {
		ids, err := tx.SharedWith(w.account, s.today(w))
		if err != nil {
			return nil, err
		}
		for _, id := range ids {
			shared[id] = true
		}
	}
	return func(student string) bool { return w.roles.MayRead(w.account, student, shared[student]) }, nil
}

// mayRead reports whether the person may read a student's record.
func (s *Server) mayRead(tx *store.Tx, w who, student string) error {
	may, err := s.readable(tx, w)
	if err != nil {
		return err
	}
	if !may(student) {
		return store.ErrNotFound
	}
	return nil
}

// maySee is mayRead for what is about the aircraft: those who mend it see it
// without the record that it is in.
func (s *Server) maySee(tx *store.Tx, w who, student string) error {
	if w.roles.Has(access.Maintenance) {
		return nil
	}
	return s.mayRead(tx, w, student)
}

// mayOpen is mayRead for a lesson; a maintenance run is open to who sees the readings
// of aircraft.
func (s *Server) mayOpen(tx *store.Tx, w who, l store.Lesson) error {
	if l.Run() && s.may(w.roles, "aircraft-trends") {
		return nil
	}
	return s.mayRead(tx, w, l.StudentID)
}

// today is the day at the person's school.
func (s *Server) today(w who) string { return school.Day(s.now(), w.zone) }

// audit writes what somebody did into the audit and the log.
func (s *Server) audit(ctx context.Context, w who, what, subject string) {
	d := store.AuditEntry{At: s.now(), Address: address(ctx), What: what, Subject: subject}
	if w.school != "" {
		d.SchoolID = &w.school
	}
	if w.account != "" {
		d.AccountID = &w.account
	}
	if err := s.store.Audit(context.WithoutCancel(ctx), d); err != nil {
		s.log.Error("the audit could not be written", "error", err.Error())
	}
	s.log.Info("audit", "id", origin(ctx).id, "what", what, "subject", subject, "account", w.account, "school",
		w.school, "address", d.Address)
}
