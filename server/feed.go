package server

import (
	"context"
	"fmt"
	"net/http"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"

	"jetprimer/core/access"
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
	route(s, Route{
		ID: "feed", For: access.Everyone, Method: http.MethodGet, Path: "/feed", Summary: "What changed since a cursor",
	}, s.feed)
	route(s, Route{
		ID: "stream", For: access.Everyone, Method: http.MethodGet, Path: "/feed/stream",
		Summary: "Server-sent events: the cursor, as soon as something changes",
	}, s.stream)
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
		student, taught := students[c.Ref]
		if c.Subject == "lesson" && (taught && !may(student) || !taught && !s.may(w.roles, "aircraft-trends")) ||
			c.Subject == "student" && !may(c.Ref) {
			continue
		}
		own = append(own, c)
	}
	return own, nil
}

// How a stream is kept: changes that come close together are told once, a line is sent now
// and then so that nobody on the way takes it for dead, and it is asked again whether the
// person is still signed in and may still look on.
const (
	streamGather = 150 * time.Millisecond
	streamBeat   = 20 * time.Second
	streamCheck  = 15 * time.Second
	streamWrite  = 10 * time.Second
)

// Bounds of streams that are open at one time: of one person, of one school, and in all.
// Who has none is served by asking now and then.
const (
	streamsOfOne    = 12
	streamsOfSchool = 600
	streamsInAll    = 4000
)

// streams counts those that are open.
type streams struct {
	mu sync.Mutex
	of map[string]int
	n  int
}

// open counts one in; close must be called when it ends. ok is false where there are as
// many as may be.
func (s *streams) open(person, school string) (closed func(), ok bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	person, school = "person "+person, "school "+school
	if s.of[person] >= streamsOfOne || s.of[school] >= streamsOfSchool || s.n >= streamsInAll {
		return nil, false
	}
	s.of[person]++
	s.of[school]++
	s.n++
	return sync.OnceFunc(func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		less(s.of, person)
		less(s.of, school)
		s.n--
	}), true
}

// events keeps a stream: tell sends what there is at first and whenever woken, and reports
// whether the stream goes on. It ends as well when the person is signed in no more or may
// not look on, when they are gone, and when the server closes. stop is called at its end.
func (s *Server) events(w who, operation string, woken <-chan struct{}, stop func(),
	tell func(ctx context.Context, send func(text string) bool) bool) (*huma.StreamResponse, error) {
	closed, ok := s.streams.open(w.account, w.school)
	if !ok {
		stop()
		return nil, again(30, "As many pages as may be follow what changes. This one asks now and then.")
	}
	return &huma.StreamResponse{Body: func(hc huma.Context) {
		defer closed()
		defer stop()
		s.keepStream(hc, w, operation, woken, tell)
	}}, nil
}

func (s *Server) keepStream(hc huma.Context, w who, operation string, woken <-chan struct{},
	tell func(ctx context.Context, send func(text string) bool) bool) {
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
	beat, check := time.NewTicker(streamBeat), time.NewTicker(s.recheck)
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
			on = s.stillAllowed(ctx, w, operation)
		case <-s.closing.Done():
			on = false
		case <-ctx.Done():
			on = false
		}
	}
}

// stillAllowed reports whether a person is signed in and may do something, as long as that can be
// told.
func (s *Server) stillAllowed(ctx context.Context, w who, operation string) bool {
	_, there, err := s.store.Sessions().FindCtx(ctx, keptToken(s.sessions.Token(ctx)))
	if err != nil || !there {
		return err != nil
	}
	now, err := s.who(ctx)
	return err != nil || now.account == w.account && now.school == w.school && s.may(now.roles, operation)
}

func (s *Server) stream(_ context.Context, w who, _ *struct{}) (*huma.StreamResponse, error) {
	changes, stop := s.hub.Watch(w.school)
	told := int64(-1)
	return s.events(w, "stream", changes, stop, func(ctx context.Context, send func(text string) bool) bool {
		noticed := time.Now()
		if told >= 0 {
			time.Sleep(streamGather)
			select {
			case <-changes:
			default:
			}
		}
		cursor, err := s.cursors.of(ctx, w.school, func(ctx context.Context) (cursor int64, err error) {
			err = s.in(ctx, w, func(tx *store.Tx) (err error) { cursor, err = tx.Cursor(); return })
			return cursor, err
		})
		if err != nil || cursor == told {
			return ctx.Err() == nil // it is asked for again at the next change
		}
		if told >= 0 {
			s.metrics.feedLag.Observe(time.Since(noticed).Seconds())
		}
		told = cursor
		return send(fmt.Sprintf("event: cursor\ndata: %d\n\n", cursor))
	})
}

// cursors asks for a school's cursor once for all of its streams that are woken together.
type cursors struct {
	mu sync.Mutex
	// under is the question that is being asked, next the one that follows it: who comes
	// while one is under way may not take its answer, which can be older than their waking.
	under, next map[string]*question
}

type question struct {
	answered chan struct{}
	cursor   int64
	err      error
}

func (c *cursors) of(ctx context.Context, school string, ask func(ctx context.Context) (int64, error)) (int64, error) {
	c.mu.Lock()
	q := c.next[school]
	first := q == nil
	if first {
		q = &question{answered: make(chan struct{})}
		c.next[school] = q
	}
	before := c.under[school]
	c.mu.Unlock()
	if !first {
		select {
		case <-q.answered:
			return q.cursor, q.err
		case <-ctx.Done():
			return 0, ctx.Err()
		}
	}
	if before != nil {
		<-before.answered
	}
	c.mu.Lock()
	delete(c.next, school)
	c.under[school] = q
	c.mu.Unlock()
	// Others wait for it as well: it is asked whoever has gone meanwhile.
	bounded, cancel := context.WithTimeout(context.WithoutCancel(ctx), streamWrite)
	defer cancel()
	q.cursor, q.err = ask(bounded)
	c.mu.Lock()
	if c.under[school] == q {
		delete(c.under, school)
	}
	c.mu.Unlock()
	close(q.answered)
	return q.cursor, q.err
}
