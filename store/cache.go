package store

import (
	"container/list"
	"sync"

	"jetprimer/core/lesson"
)

// folded is a lesson held in memory between two batches: its events, and the
// rows that were last derived of it.
type folded struct {
	key    string
	seq    int64 // of the write that it reflects
	lesson *lesson.Lesson
	rows   derivedRows
}

// lessonCache holds the lessons that are being worked on, the newest ones. It
// only saves work: a lesson that is not in it, or was written by another server
// since, is read and folded again.
type lessonCache struct {
	mu    sync.Mutex
	order *list.List // of *folded, newest first
	held  map[string]*list.Element
}

// lessonsHeld bounds the cache: so many lessons can be flown at once on one
// server before work is done twice.
const lessonsHeld = 256

func newLessonCache() *lessonCache {
	return &lessonCache{order: list.New(), held: map[string]*list.Element{}}
}

// take removes a lesson that reflects the write seq from the cache: whoever has
// it may go on with it alone. It is nil when there is none.
func (c *lessonCache) take(school, id string, seq int64) *folded {
	c.mu.Lock()
	defer c.mu.Unlock()
	e := c.held[school+id]
	if e == nil {
		return nil
	}
	c.order.Remove(e)
	delete(c.held, school+id)
	if f := e.Value.(*folded); f.seq == seq {
		return f
	}
	return nil
}

// put gives a lesson back once its write has been committed.
func (c *lessonCache) put(f *folded) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if e := c.held[f.key]; e != nil {
		if e.Value.(*folded).seq > f.seq {
			return
		}
		c.order.Remove(e)
	}
	c.held[f.key] = c.order.PushFront(f)
	for c.order.Len() > lessonsHeld {
		oldest := c.order.Back()
		c.order.Remove(oldest)
		delete(c.held, oldest.Value.(*folded).key)
	}
}
