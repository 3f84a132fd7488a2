package api

import (
	"context"
	"fmt"
	"net/http"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
)

// How a stream is kept: changes that come close together are told once, a line is sent now
// and then so that nobody on the way takes it for dead, and it is asked again whether the
// person is still signed in and may still look on.
const (
	StreamGather = 150 * time.Millisecond
	streamBeat   = 20 * time.Second
	streamCheck  = 15 * time.Second
	StreamWrite  = 10 * time.Second
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

// Events keeps a stream: tell sends what there is at first and whenever woken, and reports
// whether the stream goes on. It ends as well when the person is signed in no more or may
// not look on, when they are gone, and when the server closes. stop is called at its end.
func (s *API) Events(w Person, operation string, woken <-chan struct{}, stop func(),
	tell func(ctx context.Context, send func(text string) bool) bool) (*huma.StreamResponse, error) {
	closed, ok := s.streams.open(w.Account, w.School)
	if !ok {
		stop()
		return nil, Again(30, "As many pages as may be follow what changes. This one asks now and then.")
	}
	return &huma.StreamResponse{Body: func(hc huma.Context) {
		defer closed()
		defer stop()
		s.keepStream(hc, w, operation, woken, tell)
	}}, nil
}

func (s *API) keepStream(hc huma.Context, w Person, operation string, woken <-chan struct{},
	tell func(ctx context.Context, send func(text string) bool) bool) {
	c := humagin.Unwrap(hc)
	c.Header("Content-Type", "text/event-stream")
	c.Header("X-Accel-Buffering", "no")
	control := http.NewResponseController(c.Writer)
	send := func(text string) bool {
		_ = control.SetWriteDeadline(time.Now().Add(StreamWrite))
		_, err := fmt.Fprint(c.Writer, text)
		return err == nil && control.Flush() == nil
	}
	s.Counters.streams.Inc()
	defer s.Counters.streams.Dec()
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
		case <-s.Closing.Done():
			on = false
		case <-ctx.Done():
			on = false
		}
	}
}

// stillAllowed reports whether a person is signed in and may do something, as long as that can be
// told.
func (s *API) stillAllowed(ctx context.Context, w Person, operation string) bool {
	_, there, err := s.Store.Sessions().FindCtx(ctx, KeptToken(s.Sessions.Token(ctx)))
	if err != nil || !there {
		return err != nil
	}
	now, err := s.Who(ctx)
	return err != nil || now.Account == w.Account && now.School == w.School && s.May(now.Roles, operation)
}
