package api

import (
	"context"
	"errors"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"
)

// Bounds of the gate: how many passwords are hashed at once, how many wait in
// all, and how many of one address. A class behind one router signs in together.
const (
	hashedAtOnce = 2
	waitingMost  = 256
	waitingEach  = 120
)

// gate lets a few passwords at a time be hashed. Addresses take turns, and those that
// have failed of late share one place among them.
type gate struct {
	*turns
	// nobodys are hashed against where there is nothing to hold a password or a code to.
	password, code func() (string, error)
}

func newGate() *gate {
	nobodys := func(p *argon2id.Params) func() (string, error) {
		return sync.OnceValues(func() (string, error) { return argon2id.CreateHash("nobody has this", p) })
	}
	return &gate{
		newTurns(bounds{hashedAtOnce, hashedAtOnce, waitingMost, waitingEach, waitingEach}), nobodys(hashing),
		nobodys(hashingCodes),
	}
}

// matches compares a secret with a hash; without one it takes as long and fails.
func (g *gate) matches(ctx context.Context, p purpose, failed bool, secret, hash string) (bool, error) {
	known := hash != ""
	if !known {
		of := g.password
		if p.code {
			of = g.code
		}
		var err error
		if hash, err = of(); err != nil {
			return false, err
		}
	}
	group := Address(ctx)
	if failed {
		group = "failed"
	}
	leave, err := g.enter(ctx, group, Address(ctx))
	if err != nil {
		return false, err
	}
	defer leave()
	same, err := argon2id.ComparePasswordAndHash(secret, hash)
	return same && known, err
}

// purpose is what a secret is asked for. Each has counts of its own.
type purpose struct {
	name string
	// code says that it is a one-time code that is hashed as such.
	code bool
	// own says that only who is signed in can try, so that nothing is counted by
	// address: who sits beside them at the same router has nothing to do with it.
	own bool
}

var (
	ToSignIn  = purpose{name: "sign-in"}
	ToSign    = purpose{name: "signing", own: true}
	ToJoin    = purpose{name: "invitation", code: true}
	ToRecover = purpose{name: "recovery", code: true}
	ToShare   = purpose{name: "share", code: true}
	ToBegin   = purpose{name: "setup"}
	BySecond  = purpose{name: "second factor"}
	// ToPractise is no secret: each wrong one takes a processor for long.
	ToPractise = purpose{name: "practice", own: true}
)

// Limits of wrong guesses: how many are free, and after those how long the next must
// wait, doubling with each. An account may be tried more often in all than from one
// address, so that strangers do not lock its owner out; a device that has signed in to
// the account before is held to its own guesses only.
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

// wait is how long after the last of n wrong guesses the next is taken.
func (l limit) wait(n int) time.Duration {
	if n < l.free {
		return 0
	}
	d := l.first
	for range min(n-l.free, 16) {
		if d *= 2; d >= l.most {
			return l.most
		}
	}
	return d
}

// ErrWrong says that a password is not the account's.
var ErrWrong = errors.New("the password is not the account's")

// Guess holds a password, a PIN or a code against the hash that is kept of it. Only
// wrong ones count.
func (s *API) Guess(ctx context.Context, p purpose, name, hash, secret string) error {
	return s.Tried(ctx, p, name, func(failed bool) (bool, error) {
		return s.gate.matches(ctx, p, failed, secret, hash)
	})
}

// Tried lets a guess be made, or refuses it where there were too many wrong ones: for the
// account from this device or address, from the address, and for the account in all. It is
// counted before it is known how it ends, so that many at once are not many free ones; one
// that was right, was refused or could not be made is taken out again.
func (s *API) Tried(ctx context.Context, p purpose, name string, right func(failed bool) (bool, error)) error {
	keys, err := s.guessKeys(ctx, p, name)
	if err != nil {
		return err
	}
	now, kept := s.Now(), context.WithoutCancel(ctx)
	own, wrong, err := s.Store.BeginAttempt(ctx, keys, now.Add(-limitWindow), now)
	if err != nil {
		return err
	}
	for i, l := range []limit{pairLimit, addressLimit, accountLimit}[:len(keys)] {
		if left := wrong[i].Last.Add(l.wait(wrong[i].N)).Sub(now); wrong[i].N >= l.free && left > 0 {
			return errors.Join(s.Store.DropAttempt(kept, own), later(left))
		}
	}
	same, err := right(len(wrong) > 1 && wrong[1].N > 3)
	switch {
	case errors.Is(err, errBusy):
		return errors.Join(s.Store.DropAttempt(kept, own), later(time.Second))
	case err != nil:
		return errors.Join(s.Store.DropAttempt(kept, own), err)
	case !same:
		return errors.Join(s.Store.CountWrong(kept, keys[1:], now), ErrWrong)
	}
	return s.Store.ForgetAttempts(kept, keys[0])
}

// guessKeys are what a guess is counted by, the narrowest first.
func (s *API) guessKeys(ctx context.Context, p purpose, name string) ([]string, error) {
	if p.own {
		return []string{p.name + " " + name}, nil
	}
	from := OriginOf(ctx)
	if !p.code && from.Device != "" {
		known, err := s.Store.KnownDevice(ctx, name, KeptToken(from.Device))
		if err != nil {
			return nil, err
		}
		if known {
			return []string{p.name + " " + name + " on " + KeptToken(from.Device)}, nil
		}
	}
	return []string{p.name + " " + name + " " + from.address, p.name + " from " + from.address, p.name + " of " + name},
		nil
}
