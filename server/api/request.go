package api

import (
	"context"
	"crypto/rand"
	"fmt"
	"net/http"
	"runtime/debug"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"jetprimer/core/form"
)

// Origin is where a request comes from, which host it asked for, the token of its device,
// and the id under which it is told in the logs.
type Origin struct{ address, Host, Agent, Device, Id string }

type fromKey struct{}

// Logged writes a line a request: the route and never its words, the address of
// the person for those who count attempts.
func (s *API) Logged() gin.HandlerFunc {
	return func(c *gin.Context) {
		begun, id := time.Now(), rand.Text()
		c.Header("X-Request-Id", id)
		c.Request = c.Request.WithContext(context.WithValue(c.Request.Context(), fromKey{},
			Origin{c.ClientIP(), c.Request.Host, c.Request.UserAgent(), s.deviceOf(c), id}))
		c.Next()
		s.Counters.answered(c.Request.Method, c.FullPath(), c.Writer.Status(), time.Since(begun))
		s.Log.Info("request", "id", id, "method", form.Clip(c.Request.Method), "route", c.FullPath(), "status",
			c.Writer.Status(),
			"bytes", c.Writer.Size(), "ms", time.Since(begun).Milliseconds())
	}
}

// deviceCookie is the token by which a device is known that somebody has signed in on: it
// opens nothing, and keeps the guesses of others from locking its people out.
const deviceCookie = "jetprimer-device"

// deviceOf is the token of a device, a fresh one where it has none and somebody may be
// about to sign in.
func (s *API) deviceOf(c *gin.Context) string {
	if kept, err := c.Cookie(deviceCookie); err == nil && len(kept) == len(rand.Text()) {
		return kept
	}
	if c.Request.Method != http.MethodPost {
		return ""
	}
	token := rand.Text()
	http.SetCookie(c.Writer, &http.Cookie{
		Name: deviceCookie, Value: token, Path: "/api/", MaxAge: 400 * 24 * 3600, HttpOnly: true,
		SameSite: http.SameSiteStrictMode, Secure: s.Sessions.Cookie.Secure,
	})
	return token
}

// Address is where a request comes from.
func Address(ctx context.Context) string { return OriginOf(ctx).address }

// OriginOf is where a request comes from.
func OriginOf(ctx context.Context) Origin {
	f, _ := ctx.Value(fromKey{}).(Origin)
	return f
}

// Recovered answers a request whose handler ended in a panic.
func (s *API) Recovered(c *gin.Context, err any) {
	s.Log.Error("panic", "id", OriginOf(c.Request.Context()).Id,
		"path", c.FullPath(), "error", fmt.Sprint(err), "stack",
		string(debug.Stack()))
	if !c.Writer.Written() {
		Problem(c.Writer, http.StatusInternalServerError, WentWrong)
	}
	c.Abort()
}

// Headers sets those that every answer has.
func Headers(secure bool) gin.HandlerFunc {
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
