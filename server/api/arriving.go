package api

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/form"
)

// Bounds of what arrives and is held at one time: of one person, of one school, and of
// all. What does not fit is asked to come again.
const (
	arrivesOfOne    = 68 << 20
	arrivesOfSchool = 96 << 20
	arrivesInAll    = 256 << 20
)

// arrivals counts the bytes of requests that are held at one time.
type arrivals struct {
	mu  sync.Mutex
	of  map[string]int64
	all int64
}

// take counts bytes in for a person and a school, or none of them where they are too many.
func (h *arrivals) take(person, school string, n int64) bool {
	h.mu.Lock()
	defer h.mu.Unlock()
	if n > 0 && (h.of[person]+n > arrivesOfOne || h.of[school]+n > arrivesOfSchool || h.all+n > arrivesInAll) {
		return false
	}
	for _, key := range []string{person, school} {
		if h.of[key] += n; h.of[key] <= 0 {
			delete(h.of, key)
		}
	}
	h.all += n
	return true
}

// errCrowded says that too much is arriving from a person, at a school or in all.
var errCrowded = errors.New("too much is arriving at once")

// arriving is the body of a request on its way: it comes at a least pace or is given up,
// and what has come is counted against its person and school.
type arriving struct {
	body    io.ReadCloser
	control *http.ResponseController
	began   time.Time
	pace    pace
	got     int64
	counted *arrivals
	// person and school are who it is counted against, told once it is known who asks.
	person, school string
	// passing says that it is written away as it comes, and not held.
	passing bool
	// whole says that all of it has come.
	whole bool
}

type arrivingKey struct{}

// arrivesFrom tells whose a body is: it is read after that.
func arrivesFrom(ctx context.Context, person, school string) {
	if a, ok := ctx.Value(arrivingKey{}).(*arriving); ok {
		a.person, a.school = "person "+person, "school "+school
	}
}

// Passes says that a body is written away as it comes, and may take so long.
func Passes(ctx context.Context, most time.Duration) {
	if a, ok := ctx.Value(arrivingKey{}).(*arriving); ok {
		a.passing, a.pace.most = true, most
		_ = a.control.SetWriteDeadline(time.Now().Add(most + answerTime)) // a test's recorder has none
	}
}

// Read reads on. The bound is set anew with each piece: a framework that lifts it before
// it reads lifts nothing.
func (a *arriving) Read(p []byte) (int, error) {
	_ = a.control.SetReadDeadline(a.began.Add(a.pace.by(a.got))) // a test's recorder has none
	n, err := a.body.Read(p)
	if n > 0 && !a.passing && !a.counted.take(a.person, a.school, int64(n)) {
		return 0, errCrowded
	}
	a.got += int64(n)
	if errors.Is(err, io.EOF) { // net/http listens on the line for the client's going
		a.whole = true
		_ = a.control.SetReadDeadline(time.Time{})
	}
	return n, err
}

// Close lets go of the body; what came of it is held until the request is answered.
func (a *arriving) Close() error { return a.body.Close() }

// restTime is how long the rest of a body that nobody reads any more is waited for.
const restTime = time.Second

// gone counts what came of it out. net/http reads a little of what is left, so that the line
// serves the next request: it does not wait for it.
func (a *arriving) gone() {
	if !a.whole {
		_ = a.control.SetReadDeadline(time.Now().Add(restTime))
	}
	if !a.passing {
		a.counted.take(a.person, a.school, -a.got)
	}
}

// pace is how quickly a body must come.
type pace struct {
	least time.Duration // for the first byte of it, and of what is small
	most  time.Duration
	rate  int64 // bytes a second
}

// by is how long after its beginning a body that has come so far must go on.
func (p pace) by(got int64) time.Duration {
	return min(p.most, p.least+time.Duration(got/p.rate)*time.Second)
}

// bodyDepth is how deep a body nests at most: a document, and what it comes in.
const bodyDepth = form.MaxDepth + 8

// Itemised is a body whose parts are each looked at, answered and refused by themselves.
type Itemised interface{ Itemised() }

// exactJSON reads JSON that means the same to whoever reads it.
var exactJSON = huma.Format{Marshal: huma.DefaultJSONFormat.Marshal, Unmarshal: func(data []byte, v any) error {
	if _, first := v.(*any); first { // it is read once as it is, and then into its shape
		if form.Depth(data) > bodyDepth {
			return form.Bad("body", "nests deeper than %d levels", bodyDepth)
		}
		return json.Unmarshal(data, v)
	}
	if err := json.Unmarshal(data, v); err != nil {
		return err
	}
	if _, by := v.(Itemised); by {
		return nil
	}
	return form.Exact("body", data, nil)
}}
