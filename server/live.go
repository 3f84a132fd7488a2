package server

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/form"
	"jetprimer/core/practice"
	"jetprimer/core/stand"
	"jetprimer/store"
)

// Bounds of the runs that go on: how many of a school, how many deeds come at once, how
// many wishes an instructor has, and after how long without a word a run is forgotten.
const (
	liveMost   = 60
	stepMost   = 5000
	wishesMost = 500
	liveFor    = 20 * time.Minute
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

// Wish is what an instructor does from the station: a change or a mark, which become deeds
// of the run at the moment at which they reach it.
type Wish struct {
	Change *practice.Change `json:"change,omitempty"`
	Call   *practice.Call   `json:"call,omitempty"`
}

// LiveAnswer is what a student's stand is told.
type LiveAnswer struct {
	// At is how many deeds are held: the next ones begin there.
	At      int    `json:"at"`
	Wishes  []Wish `json:"wishes" doc:"those that it has not taken yet"`
	Frozen  bool   `json:"frozen"`
	Watched int    `json:"watched"`
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
		Wish
		Freeze *bool `json:"freeze,omitempty"`
	}
}

// played is a run that goes on. The server holds what was done, and nothing of what came
// of it.
type played struct {
	school, account, student string
	run                      practice.Run
	deeds                    []practice.Deed
	tick                     int
	wishes                   []Wish
	frozen, ended            bool
	told                     time.Time
	// gone counts how often the student has gone back.
	gone     int
	watching map[chan struct{}]bool
}

// stage holds the runs that go on, by their school and id.
type stage struct {
	mu   sync.Mutex
	now  func() time.Time
	runs map[string]*played
}

func newStage(now func() time.Time) *stage { return &stage{now: now, runs: map[string]*played{}} }

// forget leaves out those that have not been heard of for long.
func (s *stage) forget() {
	for id, p := range s.runs {
		if s.now().Sub(p.told) > liveFor {
			p.end()
			delete(s.runs, id)
		}
	}
}

func (p *played) end() {
	p.ended = true
	p.wake()
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

// step takes in what a stand has done.
func (s *stage) step(w who, id string, in LiveStep) (LiveAnswer, error) {
	if len(in.Deeds) > stepMost || in.Tick > stand.MaxSeconds*stand.TicksASecond {
		return LiveAnswer{}, form.Bad("deeds", "are more than can be told at once")
	}
	for i, d := range in.Deeds {
		at := fmt.Sprintf("deeds[%d]", i)
		if d.Tick < 0 || d.Tick > in.Tick {
			return LiveAnswer{}, form.Bad(at+".tick", "is later than the run")
		}
		if err := d.Check(at); err != nil {
			return LiveAnswer{}, err
		}
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	s.forget()
	key := w.school + id
	p := s.runs[key]
	if p == nil {
		n := 0
		for _, other := range s.runs {
			if other.school == w.school {
				n++
			}
		}
		if n >= liveMost {
			return LiveAnswer{}, form.Bad("id", "cannot be shown: %d runs go on in the school already", liveMost)
		}
		if in.From > 0 {
			return LiveAnswer{Wishes: []Wish{}}, nil // from the beginning, please
		}
		p = &played{school: w.school, account: w.account, student: w.name, run: in.Run, watching: map[chan struct{}]bool{}}
		p.run.Deeds = []practice.Deed{}
		s.runs[key] = p
	}
	if p.account != w.account {
		return LiveAnswer{}, store.ErrNotFound
	}
	if in.From > len(p.deeds) {
		return LiveAnswer{At: len(p.deeds), Wishes: []Wish{}, Frozen: p.frozen, Watched: len(p.watching)}, nil
	}
	if in.From < len(p.deeds) || in.Tick < p.tick { // the student went back
		p.deeds = p.deeds[:in.From]
		p.gone++
	}
	if len(p.deeds)+len(in.Deeds) > stand.MaxInputs {
		return LiveAnswer{}, form.Bad("deeds", "are more than a run can have")
	}
	p.deeds = append(p.deeds, in.Deeds...)
	p.tick, p.told = in.Tick, s.now()
	p.wake()
	return LiveAnswer{len(p.deeds), append([]Wish{}, p.wishes[min(in.Known, len(p.wishes)):]...), p.frozen, len(p.watching)}, nil
}

// wished is what a run is, and what instructors have done to it so far.
func (s *stage) wished(school, id string) (practice.Run, []Wish, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	p := s.runs[school+id]
	if p == nil {
		return practice.Run{}, nil, store.ErrNotFound
	}
	return p.run, slices.Clone(p.wishes), nil
}

// wish takes in what an instructor does.
func (s *stage) wish(school, id string, in Wish, freeze *bool) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	p := s.runs[school+id]
	if p == nil || p.ended {
		return store.ErrNotFound
	}
	if freeze != nil {
		p.frozen = *freeze
	}
	if in.Change != nil || in.Call != nil {
		if len(p.wishes) >= wishesMost {
			return form.Bad("change", "is one more than a run can have")
		}
		p.wishes = append(p.wishes, in)
	}
	p.wake()
	return nil
}

// fits refuses a run that holds other changes and marks of an instructor than were made,
// in their order.
func (s *stage) fits(school, id string, run practice.Run) error {
	s.mu.Lock()
	var wishes []Wish
	if p := s.runs[school+id]; p != nil {
		wishes = slices.Clone(p.wishes)
	}
	s.mu.Unlock()
	at := 0
	for i, d := range run.Deeds {
		if d.Change == nil && (d.Call == nil || !d.Call.Instructor) {
			continue
		}
		if at >= len(wishes) || !same(wishes[at], Wish{d.Change, d.Call}) {
			return form.Bad(fmt.Sprintf("run.deeds[%d]", i), "was not made by an instructor at this run's station")
		}
		at++
	}
	if at < len(wishes) {
		return form.Bad("run.deeds", "do not hold all that the instructor did: %d of %d", at, len(wishes))
	}
	return nil
}

func same(a, b Wish) bool {
	x, _ := json.Marshal(a)
	y, _ := json.Marshal(b)
	return string(x) == string(y)
}

func (s *stage) ends(school, id string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if p := s.runs[school+id]; p != nil {
		p.end()
		delete(s.runs, school+id)
	}
}

func (s *stage) list(school string) []LiveRun {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.forget()
	out := []LiveRun{}
	for key, p := range s.runs {
		if p.school == school {
			out = append(out, LiveRun{key[len(school):], p.student, p.run.Scenario.Type, p.run.Scenario.Title, p.run.Mode, p.tick / stand.TicksASecond, len(p.watching)})
		}
	}
	slices.SortFunc(out, func(a, b LiveRun) int { return strings.Compare(a.Student+a.ID, b.Student+b.ID) })
	return out
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

func (s *Server) liveRoutes() {
	route(s, huma.Operation{OperationID: "live-runs", Method: http.MethodGet, Path: "/practice-live", Summary: "The runs that go on now"}, func(_ context.Context, w who, _ *struct{}) (*struct{ Body []LiveRun }, error) {
		return &struct{ Body []LiveRun }{s.live.list(w.school)}, nil
	})
	route(s, huma.Operation{OperationID: "live-step", Method: http.MethodPost, Path: "/practice-live/{id}", Summary: "Tell what a run has done since", MaxBodyBytes: 2 << 20}, func(_ context.Context, w who, in *liveStepInput) (*struct{ Body LiveAnswer }, error) {
		answer, err := s.live.step(w, in.ID, in.Body)
		return &struct{ Body LiveAnswer }{answer}, err
	})
	route(s, huma.Operation{OperationID: "live-wish", Method: http.MethodPost, Path: "/practice-live/{id}/wishes", Summary: "Change something of a run that goes on, or mark it", MaxBodyBytes: 64 << 10, DefaultStatus: http.StatusNoContent}, s.liveWish)
	route(s, huma.Operation{OperationID: "live-stream", Method: http.MethodGet, Path: "/practice-live/{id}/stream", Summary: "Server-sent events: what a run does, as it does it"}, s.liveStream)
}

func (s *Server) liveWish(ctx context.Context, w who, in *liveWishInput) (*struct{}, error) {
	wish := in.Body.Wish
	if wish.Call != nil {
		wish.Call.Instructor = true
	}
	if wish.Change != nil || wish.Call != nil {
		if err := s.canBe(ctx, w, in.ID, wish); err != nil {
			return nil, err
		}
	} else if in.Body.Freeze == nil {
		return nil, form.Bad("wish", "must be one of change, call and freeze")
	}
	return nil, s.live.wish(w.school, in.ID, wish, in.Body.Freeze)
}

// canBe tries a wish, with those before it, on a run of the same kind: what a student's
// stand could not take would keep its run from ever being whole.
func (s *Server) canBe(ctx context.Context, w who, id string, wish Wish) error {
	run, wishes, err := s.live.wished(w.school, id)
	if err != nil {
		return err
	}
	var c practice.Course
	err = s.in(ctx, w, func(tx *store.Tx) (err error) {
		c, err = s.course(tx, w, run.Scenario.Type, run.List, run.ListVersion)
		return err
	})
	if err != nil {
		return err
	}
	session, err := c.Begin(run)
	if err != nil {
		return err
	}
	for _, one := range append(wishes, wish) {
		err = session.Do(practice.Deed{Change: one.Change, Call: one.Call})
	}
	return err
}

func (s *Server) liveStream(_ context.Context, w who, in *PracticeInput) (*huma.StreamResponse, error) {
	wake, news, stop, err := s.live.watch(w.school, in.ID)
	if err != nil {
		return nil, err
	}
	return &huma.StreamResponse{Body: func(hc huma.Context) {
		defer stop()
		s.events(hc, wake, func(_ context.Context, send func(text string) bool) bool {
			n := news()
			text, err := json.Marshal(n)
			return err == nil && send("event: news\ndata: "+string(text)+"\n\n") && !n.Ended
		})
	}}, nil
}
