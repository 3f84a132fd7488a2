package schools

import (
	"context"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"jetprimer/core/access"
	"jetprimer/core/check"
	"jetprimer/server/api"
	"jetprimer/store"
)

// Status is how the program and its database stand, for who looks after them.
type Status struct {
	Version      string         `json:"version"`
	RulesVersion string         `json:"rulesVersion"`
	Since        time.Time      `json:"since" doc:"when this program was started"`
	Checks       []StatusCheck  `json:"checks"`
	Database     store.Database `json:"database"`
	Streams      int            `json:"streams" doc:"pages of this school that follow the feed here"`
}

// StatusCheck is one thing that must be so for the program to serve.
type StatusCheck struct {
	Name string `json:"name"`
	Good bool   `json:"good"`
	Says string `json:"says"`
}

func (s Handlers) statusRoutes() {
	api.Handle(s.API, api.Route{
		ID: "status", For: access.Governing, Method: http.MethodGet, Path: "/status",
		Summary: "How the program and its database stand",
	}, s.status)
}

func (s Handlers) status(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body Status }, error) {
	out := &struct{ Body Status }{
		Status{
			Version: s.Version, RulesVersion: check.RulesVersion, Since: s.Since, Checks: s.checks(ctx),
			Streams: s.Hub.Watching(w.School),
		},
	}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) {
		out.Body.Database, err = tx.Database()
		return err
	})
}

// checks says of everything that must be so whether it is.
func (s Handlers) checks(ctx context.Context) []StatusCheck {
	one := func(name, good string, err error) StatusCheck {
		if err != nil {
			return StatusCheck{name, false, api.Sentence(err.Error())}
		}
		return StatusCheck{name, true, good}
	}
	answers := s.Store.Ping(ctx)
	out := []StatusCheck{one("database", "It answers.", answers)}
	if answers == nil {
		out = append(out, one("schema", "It is the newest.", s.Store.CheckSchema(ctx)),
			one("secret", "It opens the schools' signing keys.", s.Store.CheckSecret(ctx)))
	}
	return out
}

// Ready tells a proxy or a supervisor whether the program can serve, and what is
// missing where it cannot.
func (s Handlers) Ready(c *gin.Context) {
	ctx, cancel := context.WithTimeout(c.Request.Context(), 2*time.Second)
	defer cancel()
	for _, one := range s.checks(ctx) {
		if !one.Good {
			s.Log.Error("not ready", "missing", one.Name, "error", one.Says)
			api.Problem(c.Writer, http.StatusServiceUnavailable, "Not ready: "+one.Name+". "+one.Says)
			return
		}
	}
	c.String(http.StatusOK, "ready\n")
}
