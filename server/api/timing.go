package api

import (
	"cmp"
	"context"
	"net/http"
	"time"
)

// How long a request may take on the line: a slow one is given time for what it has
// carried so far, none holds a connection without end.
const (
	answerTime  = 2 * time.Minute
	answerSlack = 30 * time.Second
)

// mobilePace is that of a poor mobile line.
var mobilePace = pace{least: 10 * time.Second, most: 5 * time.Minute, rate: 16 << 10}

// InTime bounds the time that a body takes to arrive and an answer to be read. Without a
// body nothing is bounded: net/http listens on the line meanwhile for the client's going,
// and would take the bound for that and give up this request and every later one of the
// connection.
func InTime(next http.Handler, stall time.Duration) http.Handler {
	p, counted := mobilePace, &arrivals{of: map[string]int64{}}
	p.least = cmp.Or(stall, p.least)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		control := http.NewResponseController(w)
		body := time.Duration(0)
		if r.ContentLength != 0 {
			a := &arriving{body: r.Body, control: control, began: time.Now(), pace: p, counted: counted}
			defer a.gone()
			body = p.most
			r = r.WithContext(context.WithValue(r.Context(), arrivingKey{}, a))
			r.Body = a
		}
		_ = control.SetWriteDeadline(time.Now().Add(body + answerTime)) // a test's recorder has none
		next.ServeHTTP(w, r)
		_ = control.SetWriteDeadline(time.Now().Add(answerSlack))
	})
}
