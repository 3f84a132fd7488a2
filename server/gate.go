package server

import (
	"context"
	"errors"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"
)

// hashing are the parameters of password hashes. They are the same for every
// account, and for none, on whatever machine: the cost tells nothing.
var hashing = &argon2id.Params{Memory: 64 * 1024, Iterations: 1, Parallelism: 2, SaltLength: 16, KeyLength: 32}

// hashingCodes are the parameters for one-time codes. These are 50 random bits
// that hold for days, of which nobody tries many; hundreds are made at once.
var hashingCodes = &argon2id.Params{Memory: 4 * 1024, Iterations: 1, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// HashPassword is the hash of a password, as accounts keep it.
func HashPassword(password string) (string, error) { return argon2id.CreateHash(password, hashing) }

// Bounds of the gate: how many passwords are hashed at once, how many wait in
// all, and how many of one address.
const (
	hashedAtOnce = 2
	waitingMost  = 64
	waitingEach  = 3
)

// errBusy says that too many wait already.
var errBusy = errors.New("too many sign-ins wait")

// gate lets a few passwords at a time be hashed. Addresses that have not failed
// of late go before those that have, and no address fills the queue.
type gate struct {
	mu      sync.Mutex
	running int
	queues  [2][]*waiter // trusted first
	waiting map[string]int
	// unknown is hashed against when nobody has the address.
	unknown func() (string, error)
}

type waiter struct {
	address string
	go_     chan struct{}
}

func newGate() *gate {
	return &gate{waiting: map[string]int{}, unknown: sync.OnceValues(func() (string, error) { return HashPassword("nobody has this password") })}
}

// enter waits for a place; leave must be called once it is given.
func (g *gate) enter(ctx context.Context, address string, failed bool) error {
	g.mu.Lock()
	if g.running < hashedAtOnce {
		g.running++
		g.mu.Unlock()
		return nil
	}
	if g.waiting[address] >= waitingEach || len(g.queues[0])+len(g.queues[1]) >= waitingMost {
		g.mu.Unlock()
		return errBusy
	}
	at := 0
	if failed {
		at = 1
	}
	w := &waiter{address, make(chan struct{})}
	g.queues[at] = append(g.queues[at], w)
	g.waiting[address]++
	g.mu.Unlock()
	select {
	case <-w.go_:
		return nil
	case <-ctx.Done():
		g.mu.Lock()
		defer g.mu.Unlock()
		for i, o := range g.queues[at] {
			if o == w {
				g.queues[at] = append(g.queues[at][:i:i], g.queues[at][i+1:]...)
				g.left(address)
				return ctx.Err()
			}
		}
		g.next() // its turn came at the same moment
		return ctx.Err()
	}
}

func (g *gate) leave() {
	g.mu.Lock()
	defer g.mu.Unlock()
	g.next()
}

// next gives the place to the first who waits.
func (g *gate) next() {
	for at := range g.queues {
		if len(g.queues[at]) == 0 {
			continue
		}
		w := g.queues[at][0]
		g.queues[at] = g.queues[at][1:]
		g.left(w.address)
		close(w.go_)
		return
	}
	g.running--
}

func (g *gate) left(address string) {
	if g.waiting[address]--; g.waiting[address] <= 0 {
		delete(g.waiting, address)
	}
}

// matches compares a password with a hash; without one it takes as long and
// fails.
func (g *gate) matches(ctx context.Context, address string, failed bool, password, hash string) (bool, error) {
	known := hash != ""
	if !known {
		var err error
		if hash, err = g.unknown(); err != nil {
			return false, err
		}
	}
	if err := g.enter(ctx, address, failed); err != nil {
		return false, err
	}
	defer g.leave()
	same, err := argon2id.ComparePasswordAndHash(password, hash)
	return same && known, err
}

// Limits of guesses: how many failures are free, and after those how long the
// next must wait, doubling with each. An account may be tried more often in
// all than from one address, so that strangers do not lock its owner out.
type limit struct {
	free  int
	first time.Duration
	most  time.Duration
}

var (
	pairLimit    = limit{5, 2 * time.Second, 5 * time.Minute}
	addressLimit = limit{30, time.Second, time.Minute}
	accountLimit = limit{100, time.Second, 10 * time.Second}
)

const limitWindow = 30 * time.Minute

// wait is how long after the last of n attempts the next is taken.
func (l limit) wait(n int) time.Duration {
	if n <= l.free {
		return 0
	}
	d := l.first
	for range min(n-l.free-1, 16) {
		if d *= 2; d >= l.most {
			return l.most
		}
	}
	return d
}
