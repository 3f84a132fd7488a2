package server

import (
	"context"
	"fmt"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"

	"jetprimer/store"
)

type feedInput struct {
	After int64 `query:"after" minimum:"0" doc:"the cursor of the last answer; 0 at first"`
}

// Feed is what changed since a cursor.
type Feed struct {
	Cursor  int64          `json:"cursor"`
	Changes []store.Change `json:"changes"`
}

func (s *Server) feedRoutes() {
	route(s, huma.Operation{OperationID: "feed", Method: http.MethodGet, Path: "/feed", Summary: "What changed since a cursor"}, s.feed)
	route(s, huma.Operation{OperationID: "stream", Method: http.MethodGet, Path: "/feed/stream", Summary: "Server-sent events: the cursor, as soon as something changes"}, s.stream)
}

func (s *Server) feed(ctx context.Context, w who, in *feedInput) (*struct{ Body Feed }, error) {
	out := &struct{ Body Feed }{}
	err := s.in(ctx, w, func(tx *store.Tx) (err error) {
		changes, cursor, err := tx.Feed(in.After)
		if err != nil {
			return err
		}
		out.Body.Cursor = cursor
		out.Body.Changes, err = s.ownChanges(tx, w, changes)
		return err
	})
	return out, err
}

// ownChanges leaves out what is about students whose record the person may not
// read: their lessons are not even named.
func (s *Server) ownChanges(tx *store.Tx, w who, changes []store.Change) ([]store.Change, error) {
	if w.roles.Teach() {
		return changes, nil
	}
	may, err := s.readable(tx, w)
	if err != nil {
		return nil, err
	}
	var lessons []string
	for _, c := range changes {
		if c.Subject == "lesson" {
			lessons = append(lessons, c.Ref)
		}
	}
	students, err := tx.StudentsOf(lessons)
	if err != nil {
		return nil, err
	}
	own := []store.Change{}
	for _, c := range changes {
		if c.Subject == "lesson" && !may(students[c.Ref]) || c.Subject == "student" && !may(c.Ref) {
			continue
		}
		own = append(own, c)
	}
	return own, nil
}

// How a stream is kept: changes that come close together are told once, a line
// is sent now and then so that nobody on the way takes it for dead, and it is
// asked again whether the person is still signed in.
const (
	streamGather = 150 * time.Millisecond
	streamBeat   = 20 * time.Second
	streamCheck  = time.Minute
	streamWrite  = 10 * time.Second
)

// events keeps a stream: tell sends what there is at first and whenever woken, and reports
// whether the stream goes on. It ends as well when the person is signed in no more, when
// they are gone, and when the server closes.
func (s *Server) events(hc huma.Context, woken <-chan struct{}, tell func(ctx context.Context, send func(text string) bool) bool) {
	c := humagin.Unwrap(hc)
	c.Header("Content-Type", "text/event-stream")
	c.Header("X-Accel-Buffering", "no")
	control := http.NewResponseController(c.Writer)
	send := func(text string) bool {
		_ = control.SetWriteDeadline(time.Now().Add(streamWrite))
		_, err := fmt.Fprint(c.Writer, text)
		return err == nil && control.Flush() == nil
	}
	s.metrics.streams.Inc()
	defer s.metrics.streams.Dec()
	beat, check := time.NewTicker(streamBeat), time.NewTicker(streamCheck)
	defer beat.Stop()
	defer check.Stop()
	ctx := c.Request.Context()
	for on := send("retry: 3000\n\n") && tell(ctx, send); on; {
		select {
		case <-woken:
			on = tell(ctx, send)
		case <-beat.C:
			on = send(": still here\n\n")
		case <-check.C:
			_, there, err := s.store.Sessions().FindCtx(ctx, keptToken(s.sessions.Token(ctx)))
			on = err != nil || there
		case <-s.closing.Done():
			on = false
		case <-ctx.Done():
			on = false
		}
	}
}

func (s *Server) stream(_ context.Context, w who, _ *struct{}) (*huma.StreamResponse, error) {
	return &huma.StreamResponse{Body: func(hc huma.Context) {
		changes, stop := s.hub.Watch(w.school)
		defer stop()
		told := int64(-1)
		s.events(hc, changes, func(ctx context.Context, send func(text string) bool) bool {
			noticed := time.Now()
			if told >= 0 {
				time.Sleep(streamGather)
				select {
				case <-changes:
				default:
				}
			}
			var cursor int64
			err := s.in(ctx, w, func(tx *store.Tx) (err error) { cursor, err = tx.Cursor(); return })
			if err != nil || cursor == told {
				return ctx.Err() == nil // it is asked for again at the next change
			}
			if told >= 0 {
				s.metrics.feedLag.Observe(time.Since(noticed).Seconds())
			}
			told = cursor
			return send(fmt.Sprintf("event: cursor\ndata: %d\n\n", cursor))
		})
	}}, nil
}
