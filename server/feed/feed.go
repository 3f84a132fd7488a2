package feed

import (
	"context"
	"fmt"
	"net/http"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/access"
	"jetprimer/server/api"
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

func (s Handlers) feedRoutes() {
	api.Handle(s.API, api.Route{
		ID: "feed", For: access.Everyone, Method: http.MethodGet, Path: "/feed", Summary: "What changed since a cursor",
	}, s.feed)
	api.Handle(s.API, api.Route{
		ID: "stream", For: access.Everyone, Method: http.MethodGet, Path: "/feed/stream",
		Summary: "Server-sent events: the cursor, as soon as something changes",
	}, s.stream)
}

func (s Handlers) feed(ctx context.Context, w api.Person, in *feedInput) (*struct{ Body Feed }, error) {
	out := &struct{ Body Feed }{}
	err := s.In(ctx, w, func(tx *store.Tx) (err error) {
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
func (s Handlers) ownChanges(tx *store.Tx, w api.Person, changes []store.Change) ([]store.Change, error) {
	if w.Roles.Teach() {
		return changes, nil
	}
	may, err := s.Readable(tx, w)
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
		if c.Subject == "lesson" && (taught && !may(student) || !taught && !s.May(w.Roles, "aircraft-trends")) ||
			c.Subject == "student" && !may(c.Ref) {
			continue
		}
		own = append(own, c)
	}
	return own, nil
}

func (s Handlers) stream(_ context.Context, w api.Person, _ *struct{}) (*huma.StreamResponse, error) {
	changes, stop := s.Hub.Watch(w.School)
	told := int64(-1)
	return s.Events(w, "stream", changes, stop, func(ctx context.Context, send func(text string) bool) bool {
		noticed := time.Now()
		if told >= 0 {
			time.Sleep(api.StreamGather)
			select {
			case <-changes:
			default:
			}
		}
		cursor, err := s.cursors.of(ctx, w.School, func(ctx context.Context) (cursor int64, err error) {
			err = s.In(ctx, w, func(tx *store.Tx) (err error) { cursor, err = tx.Cursor(); return })
			return cursor, err
		})
		if err != nil || cursor == told {
			return ctx.Err() == nil // it is asked for again at the next change
		}
		if told >= 0 {
			s.Counters.FeedLag.Observe(time.Since(noticed).Seconds())
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
	bounded, cancel := context.WithTimeout(context.WithoutCancel(ctx), api.StreamWrite)
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
