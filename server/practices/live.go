package practices

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/access"
	"jetprimer/core/form"
	"jetprimer/core/practice"
	"jetprimer/core/stand"
	"jetprimer/server/api"
	"jetprimer/store"
)

// Bounds of what is shown of the runs that go on: how many deeds come at once, in how many
// bytes, and how many bytes are held of one run and of all.
const (
	stepMost  = 5000
	stepBytes = 1 << 20
	playBytes = 8 << 20
	heldBytes = 128 << 20
)

// LiveRun is a run that goes on, as an instructor finds it.
type LiveRun struct {
	ID      string `json:"id"`
	Student string `json:"student"`
	Type    string `json:"type"`
	Title   string `json:"title"`
	Mode    string `json:"mode"`
	Seconds int    `json:"seconds"`
	Watched int    `json:"watched" doc:"how many look on"`
}

// LiveStep is what a student's stand has done since it told last.
type LiveStep struct {
	Run   practice.Run    `json:"run" doc:"what the run is; its deeds are left empty"`
	From  int             `json:"from" minimum:"0" doc:"the place of the first of these deeds"`
	Deeds []practice.Deed `json:"deeds" maxItems:"5000"`
	Tick  int             `json:"tick" minimum:"0"`
	Known int             `json:"known" minimum:"0" doc:"how many wishes it has taken"`
}

// LiveAnswer is what a student's stand is told.
type LiveAnswer struct {
	// At is how many deeds are held: the next ones begin there.
	At      int             `json:"at"`
	Wishes  []practice.Wish `json:"wishes" doc:"those that it has not taken yet"`
	Frozen  bool            `json:"frozen"`
	Watched int             `json:"watched"`
}

// LiveNews is what a station is told: the deeds that it does not have yet.
type LiveNews struct {
	// Run is given at first, and again when the student has gone back.
	Run    *practice.Run   `json:"run,omitempty"`
	Deeds  []practice.Deed `json:"deeds"`
	Tick   int             `json:"tick"`
	Frozen bool            `json:"frozen"`
	Ended  bool            `json:"ended"`
}

type liveStepInput struct {
	PracticeInput
	Body LiveStep
}

type liveWishInput struct {
	PracticeInput
	Body struct {
		practice.Wish
		Freeze *bool `json:"freeze,omitempty"`
	}
}

// played is a run that goes on, as it is shown to who looks on: the student's device has all
// of it and tells it again from the beginning to a server that does not hold it.
type played struct {
	account string
	run     practice.Run
	deeds   []practice.Deed
	sizes   []int // of the deeds, in bytes
	bytes   int
	tick    int
	frozen  bool
	ended   bool
	told    time.Time
	// gone counts how often the student has gone back.
	gone     int
	watching map[chan struct{}]bool
}

// stage holds the runs that go on, by their school and id.
type stage struct {
	mu    sync.Mutex
	now   func() time.Time
	runs  map[string]*played
	bytes int
}

func newStage(now func() time.Time) *stage { return &stage{now: now, runs: map[string]*played{}} }

// forget lets go of a run; who looks on is told that it has ended here.
func (s *stage) forget(key string) {
	p := s.runs[key]
	p.ended = true
	p.wake()
	s.bytes -= p.bytes
	delete(s.runs, key)
}

// tidy lets go of runs that have not been heard of for long, and of those heard of longest
// ago where they are too much.
func (s *stage) tidy() {
	for key, p := range s.runs {
		if s.now().Sub(p.told) > store.LiveFor {
			s.forget(key)
		}
	}
	for s.bytes > heldBytes {
		oldest := ""
		for key, p := range s.runs {
			if oldest == "" || p.told.Before(s.runs[oldest].told) {
				oldest = key
			}
		}
		s.forget(oldest)
	}
}

// wake tells those who look on that there is something new.
func (p *played) wake() {
	for c := range p.watching {
		select {
		case c <- struct{}{}:
		default: // it has not looked yet: once is enough
		}
	}
}

// check names what of a step cannot be used.
func (in LiveStep) check() error {
	if len(in.Deeds) > stepMost || in.Tick > stand.MaxSeconds*stand.TicksASecond {
		return form.Bad("deeds", "are more than can be told at once")
	}
	if len(in.Run.Deeds) > 0 {
		return form.Bad("run.deeds", "must be empty: what was done is told in deeds")
	}
	for i, d := range in.Deeds {
		at := fmt.Sprintf("deeds[%d]", i)
		if d.Tick < 0 || d.Tick > in.Tick {
			return form.Bad(at+".tick", "is later than the run")
		}
		if err := d.Check(at); err != nil {
			return err
		}
	}
	return nil
}

// deedBytes is about how much memory a deed takes.
func deedBytes(d practice.Deed) int {
	text, _ := json.Marshal(d) // plain values
	return 128 + len(text)
}

// step takes in what a stand has done; at is how much of it is held, watched how many look on.
func (s *stage) step(school, account, id string, in LiveStep, frozen bool) (at, watched int, err error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	key := school + id
	p := s.runs[key]
	if p == nil {
		if in.From > 0 {
			return 0, 0, nil // from the beginning, please
		}
		p = &played{account: account, run: in.Run, watching: map[chan struct{}]bool{}}
		p.run.Deeds = []practice.Deed{}
		s.runs[key] = p
	}
	if in.From > len(p.deeds) {
		return len(p.deeds), len(p.watching), nil
	}
	if in.From < len(p.deeds) || in.Tick < p.tick { // the student went back
		for _, n := range p.sizes[in.From:] {
			p.bytes -= n
			s.bytes -= n
		}
		p.deeds, p.sizes = p.deeds[:in.From], p.sizes[:in.From]
		p.gone++
	}
	for _, d := range in.Deeds {
		n := deedBytes(d)
		if len(p.deeds) >= stand.MaxInputs || p.bytes+n > playBytes {
			return 0, 0, form.Bad("deeds", "are more than a run can have")
		}
		p.deeds, p.sizes = append(p.deeds, d), append(p.sizes, n)
		p.bytes += n
		s.bytes += n
	}
	p.tick, p.told, p.frozen = in.Tick, s.now(), frozen
	p.wake()
	at, watched = len(p.deeds), len(p.watching)
	s.tidy()
	return at, watched, nil
}

// ends tells those who look on that a run has ended.
func (s *stage) ends(school, id string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.runs[school+id] != nil {
		s.forget(school + id)
	}
}

// changed tells those who look on that an instructor did something.
func (s *stage) changed(school, id string, freeze *bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if p := s.runs[school+id]; p != nil {
		if freeze != nil {
			p.frozen = *freeze
		}
		p.wake()
	}
}

// watched is how many look on at a run.
func (s *stage) watched(school, id string) int {
	s.mu.Lock()
	defer s.mu.Unlock()
	if p := s.runs[school+id]; p != nil {
		return len(p.watching)
	}
	return 0
}

// watch lets somebody look on: wake is told of news, news gives what has come since it was
// asked last.
func (s *stage) watch(school, id string) (wake chan struct{}, news func() LiveNews, stop func(), err error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	p := s.runs[school+id]
	if p == nil {
		return nil, nil, nil, store.ErrNotFound
	}
	wake = make(chan struct{}, 1)
	p.watching[wake] = true
	sent, gone := 0, -1
	news = func() LiveNews {
		s.mu.Lock()
		defer s.mu.Unlock()
		n := LiveNews{Tick: p.tick, Frozen: p.frozen, Ended: p.ended}
		if gone != p.gone {
			run := p.run
			n.Run, sent, gone = &run, 0, p.gone
		}
		n.Deeds = append([]practice.Deed{}, p.deeds[sent:]...)
		sent = len(p.deeds)
		return n
	}
	return wake, news, func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		delete(p.watching, wake)
	}, nil
}

func (s Handlers) liveRoutes() {
	api.Handle(s.API, api.Route{
		ID: "live-runs", For: access.Teaching, Method: http.MethodGet, Path: "/practice-live",
		Summary: "The runs that go on now",
	}, s.liveRuns)
	api.Handle(s.API, api.Route{
		ID: "live-step", For: access.Practising, Method: http.MethodPost, Path: "/practice-live/{id}",
		Summary: "Tell what a run has done since", MaxBodyBytes: stepBytes,
	}, s.liveStep)
	api.Handle(s.API, api.Route{
		ID: "live-wish", For: access.Teaching, Method: http.MethodPost, Path: "/practice-live/{id}/wishes",
		Summary: "Change something of a run that goes on, or mark it", MaxBodyBytes: 64 << 10,
		Status: http.StatusNoContent,
	}, s.liveWish)
	api.Handle(s.API, api.Route{
		ID: "live-stream", For: access.Teaching, Method: http.MethodGet, Path: "/practice-live/{id}/stream",
		Summary: "Server-sent events: what a run does, as it does it",
	}, s.liveStream)
}

func (s Handlers) liveRuns(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body []LiveRun }, error) {
	out := &struct{ Body []LiveRun }{[]LiveRun{}}
	err := s.In(ctx, w, func(tx *store.Tx) error {
		runs, err := tx.LiveRuns(s.Now())
		for _, r := range runs {
			out.Body = append(out.Body, LiveRun{
				r.ID, r.Student, r.Run.Scenario.Type, r.Run.Scenario.Title, r.Run.Mode, r.Tick / stand.TicksASecond,
				s.live.watched(w.School, r.ID),
			})
		}
		return err
	})
	return out, err
}

// liveStep keeps that a run goes on, shows it to those who look on, and gives what an
// instructor did to it.
func (s Handlers) liveStep(ctx context.Context, w api.Person, in *liveStepInput) (*struct{ Body LiveAnswer }, error) {
	if err := in.Body.check(); err != nil {
		return nil, err
	}
	out := &struct{ Body LiveAnswer }{}
	err := s.In(ctx, w, func(tx *store.Tx) error {
		run, wishes, err := tx.TellLive(in.ID, w.Account, in.Body.Run, in.Body.Tick, in.Body.Known, s.Now())
		out.Body.Wishes, out.Body.Frozen = append([]practice.Wish{}, wishes...), run.Frozen
		return err
	})
	if err != nil {
		return nil, err
	}
	out.Body.At, out.Body.Watched, err = s.live.step(w.School, w.Account, in.ID, in.Body, out.Body.Frozen)
	return out, err
}

func (s Handlers) liveWish(ctx context.Context, w api.Person, in *liveWishInput) (*struct{}, error) {
	wish := in.Body.Wish
	if wish.Call != nil {
		wish.Call.Instructor = true
	}
	does := wish.Change != nil || wish.Call != nil
	if !does && in.Body.Freeze == nil {
		return nil, form.Bad("wish", "must be one of change, call and freeze")
	}
	if does {
		if err := s.canBe(ctx, w, in.ID, wish); err != nil {
			return nil, err
		}
	}
	err := s.In(ctx, w, func(tx *store.Tx) error {
		if in.Body.Freeze != nil {
			if err := tx.FreezeLive(in.ID, *in.Body.Freeze); err != nil {
				return err
			}
		}
		if !does {
			return nil
		}
		return tx.Wish(in.ID, wish, w.Account, s.Now())
	})
	if err == nil {
		s.live.changed(w.School, in.ID, in.Body.Freeze)
	}
	return nil, err
}

// canBe tries a wish, with those before it, on a run of the same kind: what a student's
// stand could not take would keep its run from ever being whole.
func (s Handlers) canBe(ctx context.Context, w api.Person, id string, wish practice.Wish) error {
	var c practice.Course
	var live store.LiveRun
	var wishes []practice.Wish
	err := s.In(ctx, w, func(tx *store.Tx) (err error) {
		if live, wishes, err = tx.LiveRun(id); err != nil {
			return err
		}
		c, err = s.course(tx, w, live.Run.Scenario.Type, live.Run.List, live.Run.ListVersion)
		return err
	})
	if err != nil {
		return err
	}
	session, err := c.Begin(live.Run)
	if err != nil {
		return err
	}
	for _, one := range wishes {
		if one.Change == nil {
			continue // a mark stands in no other's way
		}
		if err := session.Do(practice.Deed{Change: one.Change}); err != nil {
			return err
		}
	}
	return session.Do(practice.Deed{Change: wish.Change, Call: wish.Call})
}

func (s Handlers) liveStream(_ context.Context, w api.Person, in *PracticeInput) (*huma.StreamResponse, error) {
	wake, news, stop, err := s.live.watch(w.School, in.ID)
	if err != nil {
		return nil, err
	}
	return s.Events(w, "live-stream", wake, stop, func(_ context.Context, send func(text string) bool) bool {
		n := news()
		text, err := json.Marshal(n)
		return err == nil && send("event: news\ndata: "+string(text)+"\n\n") && !n.Ended
	})
}
