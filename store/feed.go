package store

import (
	"bytes"
	"context"
	"fmt"
	"log/slog"
	"sync"
	"time"

	"github.com/jackc/pgx/v5"
)

// head is where a school's feed and chain of seals stand.
type head struct {
	Seq   int64
	Seals int64
	Chain []byte
}

// channel is where commits of any server are told of.
const channel = "jetprimer_feed"

// bump is the first statement of every write: it locks the school's feed,
// counts it on, and tells everybody who listens once the write is committed.
func (tx *Tx) bump() (head, error) {
	h, err := row[head](tx, `update school_feed set seq = seq + 1 where school_id = ?
		returning seq, seals, chain, pg_notify('`+channel+`', school_id::text)`, tx.School)
	if err != nil {
		return h, fmt.Errorf("entering the write in the school's feed: %w", err)
	}
	h.Chain = bytes.Clone(h.Chain)
	return h, nil
}

// changesKept is how many writes back a school's feed remembers.
const changesKept = 20_000

// changed notes in the feed what a write touched, and now and then forgets the
// oldest.
func (tx *Tx) changed(seq int64, subject, ref string) error {
	if seq%500 == 0 {
		if err := tx.db.Exec("delete from school_changes where school_id = ? and seq < ?", tx.School,
			seq-changesKept).Error; err != nil {
			return err
		}
	}
	return tx.db.Exec("insert into school_changes (school_id, seq, subject, ref) values (?, ?, ?, ?) on conflict do nothing",
		tx.School, seq, subject, ref).Error
}

// Change is an entry of a school's feed.
type Change struct {
	Seq     int64  `json:"seq"`
	Subject string `json:"subject"`
	Ref     string `json:"ref"`
}

// Cursor is where the school's feed stands now.
func (tx *Tx) Cursor() (int64, error) {
	return row[int64](tx, "select seq from school_feed where school_id = ?", tx.School)
}

// SignedStamp changes with every signature and with every name that is erased: what
// rests on signed lessons and approved documents alone is the same while it is.
func (tx *Tx) SignedStamp() (string, error) {
	return row[string](tx,
		"select concat_ws(' ', seals, (select count(*) from memberships m where m.school_id = f.school_id and "+
			"m.erased_at is not null)) from school_feed f where school_id = ?", tx.School)
}

// Feed lists what changed after a cursor, and the cursor to ask with next. A
// cursor older than what is remembered gives one change of the whole school.
func (tx *Tx) Feed(after int64) ([]Change, int64, error) {
	changes, err := rows[Change](tx,
		"select seq, subject, ref from school_changes where school_id = ? and seq > ? order by seq, subject, ref "+
			"limit 500", tx.School, after)
	if err != nil {
		return nil, 0, fmt.Errorf("reading the feed: %w", err)
	}
	if len(changes) > 0 && changes[0].Seq > after+1 {
		now, err := tx.Cursor()
		if err != nil {
			return nil, 0, err
		}
		if now-changesKept > after {
			return []Change{{Seq: now, Subject: "school", Ref: tx.School}}, now, nil
		}
	}
	if len(changes) > 0 {
		after = changes[len(changes)-1].Seq
	}
	return changes, after, nil
}

// Hub passes on that something changed in a school, whichever server wrote it.
// What comes close together is told once.
type Hub struct {
	mu       sync.Mutex
	waiting  map[string]map[chan struct{}]bool
	listened chan struct{} // closed once the hub listens
}

// Listen starts a hub that listens until the context ends. While the database
// cannot be reached it tries again; those who wait are woken when it is back.
func (s *Store) Listen(ctx context.Context) *Hub {
	h := &Hub{waiting: map[string]map[chan struct{}]bool{}, listened: make(chan struct{})}
	go func() {
		var once sync.Once
		for wait := time.Second; ctx.Err() == nil; wait = min(2*wait, 30*time.Second) {
			err := s.listen(ctx, h, func() { wait = time.Second; once.Do(func() { close(h.listened) }) })
			if ctx.Err() != nil {
				return
			}
			slog.Warn("the feed is not heard of just now", "error", plain(err).Error())
			h.wake("")
			select {
			case <-time.After(wait):
			case <-ctx.Done():
			}
		}
	}()
	return h
}

// Ready is closed once the hub listens.
func (h *Hub) Ready() <-chan struct{} { return h.listened }

func (s *Store) listen(ctx context.Context, h *Hub, ready func()) error {
	conn, err := pgx.Connect(ctx, s.url)
	if err != nil {
		return err
	}
	defer conn.Close(context.WithoutCancel(ctx))
	if _, err := conn.Exec(ctx, "listen "+channel); err != nil {
		return err
	}
	ready()
	h.wake("") // what was missed meanwhile
	for {
		n, err := conn.WaitForNotification(ctx)
		if err != nil {
			return err
		}
		h.wake(n.Payload)
	}
}

// wake tells those who wait for a school, or for any.
func (h *Hub) wake(school string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for of, channels := range h.waiting {
		if school != "" && school != of {
			continue
		}
		for c := range channels {
			select {
			case c <- struct{}{}:
			default: // it has not looked yet: once is enough
			}
		}
	}
}

// Watching is how many wait for changes in a school.
func (h *Hub) Watching(school string) int {
	h.mu.Lock()
	defer h.mu.Unlock()
	return len(h.waiting[school])
}

// Watch gives a channel that hears of changes in a school, until stop is called.
func (h *Hub) Watch(school string) (changes <-chan struct{}, stop func()) {
	c := make(chan struct{}, 1)
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.waiting[school] == nil {
		h.waiting[school] = map[chan struct{}]bool{}
	}
	h.waiting[school][c] = true
	return c, func() {
		h.mu.Lock()
		defer h.mu.Unlock()
		delete(h.waiting[school], c)
		if len(h.waiting[school]) == 0 {
			delete(h.waiting, school)
		}
	}
}
