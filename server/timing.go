package server

import (
	"context"
	"encoding/json"
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

// inTime bounds the time that a body takes to arrive and an answer to be read. Without a
// body nothing is bounded: net/http listens on the line meanwhile for the client's going,
// and would take the bound for that and give up this request and every later one of the
// connection.
func inTime(next http.Handler, p pace, counted *arrivals) http.Handler {
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

// problem writes an error as RFC 9457 has it.
func problem(w http.ResponseWriter, status int, detail string) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(status)
	// Nobody is left to be told of a failure.
	_ = json.NewEncoder(w).Encode(map[string]any{"title": http.StatusText(status), "status": status, "detail": detail})
}
