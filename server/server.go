// Package server is the HTTP interface: it decodes, asks core and store, and
// encodes. Rules are not found here.
package server

import (
	"fmt"
	"net/http"
	"reflect"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"
	"github.com/klauspost/compress/gzhttp"

	"jetprimer/catalog"
	"jetprimer/core/calc"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/words"
	"jetprimer/exchange"
	"jetprimer/server/accounts"
	"jetprimer/server/api"
	"jetprimer/server/bookings"
	"jetprimer/server/days"
	"jetprimer/server/documents"
	"jetprimer/server/feed"
	"jetprimer/server/fleet"
	"jetprimer/server/guides"
	"jetprimer/server/lessons"
	"jetprimer/server/people"
	"jetprimer/server/practices"
	"jetprimer/server/schools"
	"jetprimer/server/students"
	"jetprimer/server/tables"
)

// Version of the program; the build sets it.
var Version = "development"

// Options of New.
type Options = api.Options

// Server answers requests from one store and one catalog.
type Server struct {
	*api.API
	handler http.Handler
}

// New is the whole application. Close ends its streams.
func New(o Options) (*Server, error) {
	s, engine, err := build(o)
	if err != nil {
		return nil, err
	}
	assets, err := newAssets()
	if err != nil {
		return nil, err
	}
	engine.NoRoute(assets.serve)
	same := http.NewCrossOriginProtection()
	same.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		api.Problem(w, http.StatusForbidden, "Another site asked for this in your name. It was refused.")
	}))
	compressed, err := gzhttp.NewWrapper(gzhttp.MinSize(compressedFrom), gzhttp.CompressionLevel(5),
		gzhttp.EnableZstd(false), gzhttp.ContentTypeFilter(compresses))
	if err != nil {
		return nil, err
	}
	s.handler = api.InTime(compressed(same.Handler(s.Sessions.LoadAndSave(engine))), o.Stall)
	go s.eachSchool(s.Closing, s.followPolicies)
	go s.eachSchool(s.Closing, s.keepReports)
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

// OpenAPI is the document that describes the API, made from the Go types.
func OpenAPI(c *catalog.Catalog) (*huma.OpenAPI, error) {
	s, _, err := build(Options{Catalog: c})
	if err != nil {
		return nil, err
	}
	return s.Operations.OpenAPI(), nil
}

func build(o Options) (*Server, *gin.Engine, error) {
	setupCode := ""
	if o.SetupCode != "" {
		var err error
		if setupCode, err = api.HashPassword(o.SetupCode); err != nil {
			return nil, nil, err
		}
	}
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	if err := engine.SetTrustedProxies(o.Proxies); err != nil {
		return nil, nil, fmt.Errorf("reading the trusted proxies: %w", err)
	}
	engine.HandleMethodNotAllowed = true
	engine.NoMethod(func(c *gin.Context) {
		api.Problem(c.Writer, http.StatusMethodNotAllowed,
			"This address does not take "+form.Clip(c.Request.Method)+".")
	})
	s := &Server{API: api.New(o, Version)}
	engine.Use(s.Logged(), gin.CustomRecoveryWithWriter(nil, s.Recovered), api.Headers(o.Secure), unchanged)
	s.Answer(engine)
	schools := schools.New(s.API, setupCode)
	engine.GET("/healthz", func(c *gin.Context) { c.String(http.StatusOK, "ok\n") })
	engine.GET("/readyz", schools.Ready)
	for _, of := range []interface{ Register() }{
		accounts.New(s.API), days.New(s.API), bookings.New(s.API), feed.New(s.API), lessons.New(s.API),
		students.New(s.API), people.New(s.API), tables.New(s.API), fleet.New(s.API),
		practices.New(s.API), schools, documents.New(s.API), guides.New(s.API),
	} {
		of.Register()
	}
	s.describeWords()
	object := &huma.Schema{Type: huma.TypeObject, AdditionalProperties: true}
	if verdict := s.Operations.OpenAPI().Components.Schemas.Map()["CheckVerdict"]; verdict != nil {
		verdict.Properties["values"], verdict.Properties["limits"] = object, object
		delete(verdict.Properties, "Tiles")
	}
	return s, engine, nil
}

// describeWords adds to the document the words of the trade, and what a person begins with.
func (s *Server) describeWords() {
	document := s.Operations.OpenAPI()
	document.Components.Schemas.Schema(reflect.TypeFor[words.Vocabulary](), true, "")
	document.Extensions = map[string]any{
		"x-words": words.All(), "x-formats": exchange.Formats,
		"x-fresh": map[string]any{"day": calc.FreshDay(quantity.Units{}), "flown": checklist.FreshDay()},
	}
}
