// Package learning sends learning records, xAPI statements, to a learning-record store.
// [StartLocalStore] stands in for such a store, for a demo and for tests.
package learning

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"jetprimer/core/form"
	"jetprimer/exchange"
	"jetprimer/mail"
)

// RecordStore is a learning-record store (xAPI 1.0.3).
type RecordStore struct {
	// Address is that below which its statements lie, such as
	// https://records.school.example/xapi.
	Address        string
	User, Password string
	// Wait is how long the first try after a failure waits; each one after it waits
	// twice as long.
	Wait time.Duration
}

// Bounds of what is sent at once, and how often it is tried.
const (
	statementsAtOnce = 100
	statementTries   = 6
	longestWait      = 2 * time.Minute
	answerMost       = 1 << 20
)

// Check says what of an address cannot be.
func (r RecordStore) Check() error {
	u, err := url.Parse(r.Address)
	if err != nil || u.Scheme != "https" && u.Scheme != "http" || u.Host == "" || u.User != nil || u.RawQuery != "" {
		return errors.New("the address of the record store must be written like https://records.school.example/xapi")
	}
	return nil
}

// Send sends statements, some at a time, and tells how many are held after each.
// A store that does not answer, or is busy, is tried again with growing pauses, or
// when it says; what it refuses is an error that says why. What was held before is
// held once.
func (r RecordStore) Send(ctx context.Context, all []exchange.Statement, told func(held int)) error {
	if err := r.Check(); err != nil {
		return err
	}
	for held := 0; held < len(all); {
		batch := all[held:min(held+statementsAtOnce, len(all))]
		body, err := json.Marshal(batch)
		if err != nil {
			return err
		}
		if err := r.tried(ctx, body, batch); err != nil {
			return fmt.Errorf("%d of %d statements are held: %w", held, len(all), err)
		}
		held += len(batch)
		told(held)
	}
	return nil
}

// tried sends one batch until it is held.
func (r RecordStore) tried(ctx context.Context, body []byte, batch []exchange.Statement) error {
	wait := max(r.Wait, time.Millisecond)
	for try := 1; ; try++ {
		after, err := r.post(ctx, body, batch)
		var final *refusedError
		switch {
		case err == nil:
			return nil
		case errors.As(err, &final), try == statementTries:
			return err
		}
		timer := time.NewTimer(min(max(wait, after), longestWait))
		select {
		case <-ctx.Done():
			timer.Stop()
			return ctx.Err()
		case <-timer.C:
		}
		wait *= 2
	}
}

// refusedError is what another try would not change.
type refusedError struct{ why string }

func (e *refusedError) Error() string { return e.why }

// post sends one batch once; after is how long the store asks to wait.
func (r RecordStore) post(ctx context.Context, body []byte, batch []exchange.Statement) (after time.Duration,
	err error) {
	ctx, cancel := context.WithTimeout(ctx, mail.Patience)
	defer cancel()
	request, err := http.NewRequestWithContext(ctx, http.MethodPost, strings.TrimSuffix(r.Address, "/")+"/statements",
		bytes.NewReader(body))
	if err != nil {
		return 0, &refusedError{err.Error()}
	}
	request.Header.Set("Content-Type", "application/json")
	request.Header.Set("X-Experience-API-Version", exchange.StatementVersion)
	if r.User != "" {
		request.SetBasicAuth(r.User, r.Password)
	}
	answer, err := straight.Do(request)
	if err != nil {
		return 0, fmt.Errorf("reaching the record store: %s", form.Printable(err.Error()))
	}
	defer answer.Body.Close()
	text, err := io.ReadAll(io.LimitReader(answer.Body, answerMost))
	switch {
	case answer.StatusCode == http.StatusOK && err != nil:
		return 0, errors.New("the record store was cut short before it said what it holds")
	case answer.StatusCode == http.StatusOK:
		return 0, holds(text, batch)
	case answer.StatusCode < 400:
		return 0, &refusedError{
			fmt.Sprintf("the record store answers %d and not that it holds them; where it sends elsewhere nothing "+
				"is sent after it: give its own address", answer.StatusCode),
		}
	case answer.StatusCode == http.StatusTooManyRequests || answer.StatusCode >= 500:
		seconds, _ := strconv.Atoi(answer.Header.Get("Retry-After"))
		return time.Duration(min(max(seconds, 0), 3600)) * time.Second,
			fmt.Errorf("the record store answers %d", answer.StatusCode)
	}
	said := form.Printable(string(text))
	return 0, &refusedError{
		fmt.Sprintf("the record store refuses them, %d: %s", answer.StatusCode, said[:min(len(said), mail.SaidMost)]),
	}
}

// straight asks where it is told to and nowhere else: what it carries is about people.
var straight = &http.Client{CheckRedirect: func(*http.Request,
	[]*http.Request) error {
	return http.ErrUseLastResponse
}}

// holds refuses an answer that does not name just the statements that were sent, in their
// order (xAPI 1.0.3, part three, 2.1.2).
func holds(text []byte, batch []exchange.Statement) error {
	var ids []string
	if err := json.Unmarshal(text, &ids); err != nil {
		return &refusedError{
			"the record store answers what is no list of statements: it is none, or something else answers in its place",
		}
	}
	same := len(ids) == len(batch)
	for i := range ids {
		same = same && strings.EqualFold(ids[i], batch[i].ID)
	}
	if !same {
		return &refusedError{"the record store says that it holds other statements than were sent"}
	}
	return nil
}
