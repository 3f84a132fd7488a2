package server

import (
	"encoding/json"
	"net/http"
	"time"
)

// How long a request may take on the line: a slow one is given time for what it
// carries, none holds a connection without end.
const (
	bodyLeast   = 10 * time.Second
	bodyMost    = 5 * time.Minute
	bytesASec   = 16 << 10 // a poor mobile line
	answerTime  = 2 * time.Minute
	answerSlack = 30 * time.Second
)

// bodyTime is how long a body of so many bytes may take to arrive; a size that
// is not told is taken for a large one.
func bodyTime(bytes int64) time.Duration {
	if bytes < 0 {
		return bodyMost
	}
	return min(bodyMost, bodyLeast+time.Duration(bytes/bytesASec)*time.Second)
}

// inTime bounds the time that a body takes to arrive and an answer to be read.
// Without a body nothing is bounded: net/http listens on the line meanwhile for
// the client's going, and would take the bound for that and give up this request
// and every later one of the connection. With a body it lifts the bound itself,
// once all has arrived.
func inTime(next http.Handler, bodyTime func(bytes int64) time.Duration) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		control := http.NewResponseController(w)
		body := time.Duration(0)
		if r.ContentLength != 0 {
			body = bodyTime(r.ContentLength)
			_ = control.SetReadDeadline(time.Now().Add(body)) // a test's recorder has none
		}
		_ = control.SetWriteDeadline(time.Now().Add(body + answerTime))
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
