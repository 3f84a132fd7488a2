package api

import (
	"context"
	"errors"
	"slices"
	"sync"
)

// turns lets some of what is costly be done at a time. Whoever waits does so in the
// queue of a group, such as a school; groups take turns, so that none of them keeps
// another waiting for longer than one of its own.
type turns struct {
	bounds
	mu       sync.Mutex
	running  map[string]int // by group
	inAll    int            // who goes on
	order    []string       // the groups that wait, the next first
	queues   map[string][]*waiter
	waits    int
	inGroup  map[string]int // who goes on or waits
	ofPerson map[string]int
}

// bounds of turns: how many go on at once, in all and of one group; how many may wait in
// all; and how many may go on or wait of one group and of one person.
type bounds struct{ atOnce, groupAtOnce, waiting, group, person int }

type waiter struct {
	group, person string
	begin         chan struct{}
}

// errBusy says that too many wait already.
var errBusy = errors.New("too many wait for the same")

func newTurns(b bounds) *turns {
	return &turns{
		bounds: b, running: map[string]int{}, queues: map[string][]*waiter{}, inGroup: map[string]int{},
		ofPerson: map[string]int{},
	}
}

// enter waits for a turn; leave must be called once it is given. It is errBusy where too
// many wait already, and the context's error where nobody waits for the answer any more.
func (t *turns) enter(ctx context.Context, group, person string) (leave func(), err error) {
	t.mu.Lock()
	defer t.mu.Unlock()
	free := t.inAll < t.atOnce && t.running[group] < t.groupAtOnce
	if t.inGroup[group] >= t.group || t.ofPerson[person] >= t.person || !free && t.waits >= t.waiting {
		return nil, errBusy
	}
	w := &waiter{group, person, make(chan struct{})}
	t.inGroup[group]++
	t.ofPerson[person]++
	leave = sync.OnceFunc(func() {
		t.mu.Lock()
		defer t.mu.Unlock()
		t.inAll--
		less(t.running, group)
		t.gone(w)
		t.next()
	})
	if free {
		t.goesOn(group)
		return leave, nil
	}
	if len(t.queues[group]) == 0 {
		t.order = append(t.order, group)
	}
	t.queues[group] = append(t.queues[group], w)
	t.waits++
	t.mu.Unlock()
	select {
	case <-w.begin:
		t.mu.Lock()
		return leave, nil
	case <-ctx.Done():
	}
	t.mu.Lock()
	if at := slices.Index(t.queues[group], w); at >= 0 {
		t.taken(group, at)
		t.gone(w)
		return nil, ctx.Err()
	}
	t.mu.Unlock() // its turn came at the same moment
	leave()
	t.mu.Lock()
	return nil, ctx.Err()
}

func (t *turns) goesOn(group string) {
	t.inAll++
	t.running[group]++
}

// next gives the turn to the first of the next group that may go on.
func (t *turns) next() {
	for t.inAll < t.atOnce {
		at := slices.IndexFunc(t.order, func(g string) bool { return t.running[g] < t.groupAtOnce })
		if at < 0 {
			return
		}
		group := t.order[at]
		w := t.queues[group][0]
		t.taken(group, 0)
		if i := slices.Index(t.order, group); i >= 0 { // its next one waits for the others
			t.order = append(slices.Delete(t.order, i, i+1), group)
		}
		t.goesOn(group)
		close(w.begin)
	}
}

// taken takes one out of the queue of its group.
func (t *turns) taken(group string, at int) {
	t.waits--
	t.queues[group] = slices.Delete(t.queues[group], at, at+1)
	if len(t.queues[group]) == 0 {
		delete(t.queues, group)
		t.order = slices.DeleteFunc(t.order, func(g string) bool { return g == group })
	}
}

// gone counts somebody out.
func (t *turns) gone(w *waiter) {
	less(t.inGroup, w.group)
	less(t.ofPerson, w.person)
}

func less(of map[string]int, key string) {
	if of[key]--; of[key] <= 0 {
		delete(of, key)
	}
}
