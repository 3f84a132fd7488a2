package api

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/form"
	"jetprimer/store"
)

// WentWrong is what is said of a failure that is not the person's.
const WentWrong = "This could not be done just now. What you entered is kept on this device; try again."

// problem turns an error into what a person is told.
func (s *API) problem(ctx context.Context, operation string, err error) error {
	var status huma.StatusError
	var bad form.Problem
	var unreadable *store.UnreadableError
	switch {
	case errors.As(err, &status):
		return err
	case errors.As(err, &bad):
		return unusable(err, bad)
	case errors.As(err, &unreadable):
		return huma.Error422UnprocessableEntity(fmt.Sprintf("Version %d of %s cannot be read as what it should be. "+
			"Open it on the Lists page to see its mistakes.", unreadable.Version, unreadable.ID))
	case errors.Is(err, store.ErrNotFound):
		return huma.Error404NotFound("There is no such record in your school, or it is not open to you.")
	case errors.Is(err, store.ErrText):
		return huma.Error422UnprocessableEntity("A text holds a character that cannot be kept, such as NUL. Nothing " +
			"of this was kept.")
	case errors.Is(err, store.ErrUnavailable):
		s.Log.Error("unavailable", "id", OriginOf(ctx).Id, "operation", operation, "error", err.Error())
		return huma.ErrorWithHeaders(huma.Error503ServiceUnavailable("The school's records cannot be reached just "+
			"now. What you entered is kept on this device; try again in a moment."), http.Header{
			"Retry-After": {"5"},
		})
	case errors.Is(err, store.ErrStale):
		return huma.Error409Conflict("The lesson has changed since this page showed it. Look at it again, then " +
			"sign. Nothing was signed.")
	case errors.Is(err, store.ErrUnsettled), errors.Is(err, store.ErrConflict):
		return huma.Error409Conflict(Sentence(err.Error()))
	case errors.Is(err, context.Canceled):
		return huma.NewError(499, "The request was given up.")
	}
	s.Log.Error("failed", "id", OriginOf(ctx).Id, "operation", operation, "error", err.Error())
	return huma.Error500InternalServerError(WentWrong)
}

// unusable is the answer to what cannot be used. It begins with the field, or is a
// sentence of its own.
func unusable(err error, p form.Problem) error {
	if p.Field == "" {
		return huma.Error422UnprocessableEntity(Sentence(err.Error()))
	}
	detail := err.Error()
	if detail != p.Error() {
		detail = Sentence(detail)
	}
	return huma.Error422UnprocessableEntity(detail, &huma.ErrorDetail{Location: p.Field, Message: p.Reason})
}

// Sentence begins with a capital and ends with a full stop.
func Sentence(text string) string {
	text = strings.ToUpper(text[:1]) + text[1:]
	if !strings.HasSuffix(text, ".") {
		text += "."
	}
	return text
}

// Problem writes an error as RFC 9457 has it.
func Problem(w http.ResponseWriter, status int, detail string) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(status)
	// Nobody is left to be told of a failure.
	_ = json.NewEncoder(w).Encode(map[string]any{"title": http.StatusText(status), "status": status, "detail": detail})
}

// saidMost is how long what is said of one field is at most, in bytes.
const saidMost = 500

// errorOf is an error as it is told: what does not fit now is asked to come again, and what
// was sent is not sent back.
func errorOf(_ huma.Context, status int, detail string, errs ...error) huma.StatusError {
	for i, err := range errs {
		if errors.Is(err, errCrowded) {
			return huma.NewError(http.StatusTooManyRequests,
				"Too much is being sent at once from this account or school. What you entered is kept on this "+
					"device; try again in a moment.")
		}
		var one *huma.ErrorDetail
		if errors.As(err, &one) {
			errs[i] = &huma.ErrorDetail{Message: one.Message[:min(len(one.Message), saidMost)], Location: one.Location}
		}
	}
	return huma.NewError(status, detail, errs...)
}

// later asks to try again after a while.
func later(d time.Duration) error {
	seconds := int(math.Ceil(d.Seconds()))
	return Again(seconds, fmt.Sprintf("Too many tries. Wait %s, then try again.", Plural(seconds, "second")))
}

// Again asks to come again after some seconds.
func Again(seconds int, words string) error {
	return huma.ErrorWithHeaders(huma.Error429TooManyRequests(words), http.Header{"Retry-After": {fmt.Sprint(seconds)}})
}

// Plural is a number of things, such as "1 minute" and "2 minutes".
func Plural(n int, what string) string {
	if n == 1 {
		return "1 " + what
	}
	return fmt.Sprintf("%d %ss", n, what)
}
