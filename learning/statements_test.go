package learning_test

import (
	"context"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/exchange"
	"jetprimer/learning"
)

// statements are n that a store takes.
func statements(n int) []exchange.Statement {
	out := make([]exchange.Statement, n)
	agent := exchange.StatementActor{
		ObjectType: "Agent",
		Account:    exchange.StatementAccount{HomePage: "https://tarnhollow.example", Name: "somebody"},
	}
	for i := range out {
		out[i] = exchange.Statement{ID: uuid.NewSHA1(uuid.NameSpaceURL, []byte{byte(i), byte(i >> 8)}).String(),
			Actor: agent, Verb: exchange.StatementVerb{ID: "http://adlnet.gov/expapi/verbs/completed"},
			Object:    exchange.StatementObject{ObjectType: "Activity", ID: "https://tarnhollow.example/lists/a"},
			Context:   exchange.StatementContext{Registration: uuid.NewString(), Instructor: agent},
			Timestamp: "2026-11-27T09:00:00Z", Version: exchange.StatementVersion}
	}
	return out
}

// TestStatementsAreHeldOnce: through a store that is busy, away and slow to come
// back all of them are held, and sent again they are held once.
func TestStatementsAreHeldOnce(t *testing.T) {
	file := filepath.Join(t.TempDir(), "statements.jsonl")
	s, err := learning.StartLocalStore("127.0.0.1:0", file)
	require.NoError(t, err)
	defer func() { _ = s.Close() }()
	n := atomic.Int64{}
	behind := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch n.Add(1) % 4 {
		case 1:
			w.Header().Set("Retry-After", "0")
			w.WriteHeader(http.StatusServiceUnavailable)
		case 2:
			hijacked, _, err := w.(http.Hijacker).Hijack()
			if err == nil {
				_ = hijacked.Close()
			}
		default:
			request, _ := http.NewRequestWithContext(r.Context(), r.Method,
				strings.TrimSuffix(s.URL, "/xapi")+r.URL.Path, r.Body)
			request.Header = r.Header
			answer, err := http.DefaultClient.Do(request)
			if err == nil {
				w.WriteHeader(answer.StatusCode)
				_, _ = io.Copy(w, answer.Body)
				_ = answer.Body.Close()
			}
		}
	}))
	defer behind.Close()
	to := learning.RecordStore{Address: behind.URL + "/xapi", User: "school", Password: "x"}
	told := 0
	all := statements(250)
	require.NoError(t, to.Send(context.Background(), all, func(held int) { told = held }))
	assert.Equal(t, 250, told)
	assert.Equal(t, 250, s.Count())
	require.NoError(t, to.Send(context.Background(), all, func(int) {}))
	assert.Equal(t, 250, s.Count())
	text, err := os.ReadFile(file)
	require.NoError(t, err)
	assert.Equal(t, 250, strings.Count(string(text), "\n"))
	require.NoError(t, s.Close())
	again, err := learning.StartLocalStore("127.0.0.1:0", file)
	require.NoError(t, err)
	defer func() { _ = again.Close() }()
	assert.Equal(t, 250, again.Count())
}

// TestWhatAStoreRefusesIsSaid: what is no statement, another under an id that is
// held, and an address that is none are told at once, without another try.
func TestWhatAStoreRefusesIsSaid(t *testing.T) {
	s, err := learning.StartLocalStore("127.0.0.1:0", filepath.Join(t.TempDir(), "statements.jsonl"))
	require.NoError(t, err)
	defer func() { _ = s.Close() }()
	to := learning.RecordStore{Address: s.URL, Wait: time.Hour}
	send := func(change func(one *exchange.Statement)) error {
		all := statements(1)
		change(&all[0])
		return to.Send(context.Background(), all, func(int) {})
	}
	require.NoError(t, to.Send(context.Background(), statements(1)[:0], nil))
	same := statements(1)
	require.NoError(t, to.Send(context.Background(), same, func(int) {}))
	same[0].Timestamp = "2026-11-27T09:00:01Z"
	assert.ErrorContains(t, to.Send(context.Background(), same, func(int) {}), "another statement is held under")
	for why, change := range map[string]func(one *exchange.Statement){
		"no UUID":     func(one *exchange.Statement) { one.ID = "x" },
		"no agent":    func(one *exchange.Statement) { one.Actor.Account.Name = "" },
		"no activity": func(one *exchange.Statement) { one.Object.ObjectType = "StatementRef" },
		"no IRI":      func(one *exchange.Statement) { one.Verb.ID = "completed" },
		"no time":     func(one *exchange.Statement) { one.Timestamp = "yesterday" },
		"within -1 and 1": func(one *exchange.Statement) {
			one.Result = &exchange.StatementResult{Score: &exchange.StatementScore{Scaled: 2}}
		},
		"x is no IRI": func(one *exchange.Statement) { one.Context.Extensions = map[string]any{"x": 1} },
	} {
		assert.ErrorContains(t, send(change), why)
	}
	for _, address := range []string{"", "records", "ftp://a/b", "https://user:word@a/b"} {
		assert.ErrorContains(t, learning.RecordStore{Address: address}.Send(context.Background(), statements(1), nil),
			"must be written like")
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	assert.ErrorIs(t, to.Send(ctx, statements(2), func(int) {}), context.Canceled)
}

// TestOnlyWhatIsSaidToBeHeldCounts: a page of another program, a list of other statements, an
// empty answer and a redirect hold nothing; a redirect is not followed, and what a store says
// is told on one line without its control characters.
func TestOnlyWhatIsSaidToBeHeldCounts(t *testing.T) {
	followed := atomic.Bool{}
	elsewhere := httptest.NewServer(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { followed.Store(true) }))
	defer elsewhere.Close()
	for want, answers := range map[string]http.HandlerFunc{
		"is no list of statements": func(w http.ResponseWriter, _ *http.Request) {
			_, _ = io.WriteString(w, "<html>Welcome</html>")
		},
		"holds other statements": func(w http.ResponseWriter, _ *http.Request) {
			_, _ = io.WriteString(w, `["`+uuid.NewString()+`"]`)
		},
		"holds other ": func(w http.ResponseWriter, _ *http.Request) { _, _ = io.WriteString(w, `[]`) },
		"answers 204":  func(w http.ResponseWriter, _ *http.Request) { w.WriteHeader(http.StatusNoContent) },
		"answers 307": func(w http.ResponseWriter, r *http.Request) {
			http.Redirect(w, r, elsewhere.URL, http.StatusTemporaryRedirect)
		},
		"answers 302": func(w http.ResponseWriter, r *http.Request) {
			http.Redirect(w, r, elsewhere.URL, http.StatusFound)
		},
		"refuses them, 400: ": func(w http.ResponseWriter, _ *http.Request) {
			http.Error(w, "\x1b[2Jgone\nand again\x07", http.StatusBadRequest)
		},
	} {
		s := httptest.NewServer(answers)
		held := 0
		err := learning.RecordStore{Address: s.URL}.Send(context.Background(), statements(3), func(n int) { held = n })
		s.Close()
		assert.ErrorContains(t, err, want)
		assert.Zero(t, held)
		assert.NotRegexp(t, `[\x00-\x1f\x7f]`, err.Error())
	}
	assert.False(t, followed.Load(), "nothing is sent after a redirect")
}
