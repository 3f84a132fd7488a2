// Package lesson turns the events of a lesson into its state: marks, order and
// omission errors, verdicts of readings, proposed levels. A lesson is its set
// of events; any order of arrival, any duplicates and any split into batches
// give the same state.
package lesson

import (
	"bytes"
	"cmp"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"jetprimer/core/form"
)

// Event is one thing that happened. ID is its identity (a UUIDv7): the same id
// with another content is refused and shown. Events are ordered by Counter (a
// Lamport counter of the lesson), Device and Seq.
type Event struct {
	ID     string `json:"id"`
	Device string `json:"device"`
	// Seq numbers the events of the device in this lesson, from 1.
	Seq int64 `json:"seq"`
	// Counter is above every counter the device had seen when it made the event.
	Counter int64 `json:"counter"`
	// AtMs is milliseconds since the lesson opened, by the device's monotonic
	// clock. Durations come from it. Events of one touch share it.
	AtMs int64 `json:"atMs"`
	// Wall is the device's wall time, RFC 3339: a claim only.
	Wall    string          `json:"wall"`
	Kind    string          `json:"kind"`
	V       int             `json:"v"`
	Payload json.RawMessage `json:"payload"`
	// By and Received are added by the server: who sent it, when it arrived.
	By       string `json:"by,omitempty"`
	Received string `json:"received,omitempty"`
}

// MaxPayload is the largest payload of one event, in bytes. The opening event
// carries the whole list as flown, and may have MaxOpening. The seal, which
// only the server writes, may be larger.
const (
	MaxPayload = 32 << 10
	MaxOpening = 1 << 20
)

// MaxAtMs is the longest that a lesson runs: a week, in milliseconds.
const MaxAtMs = 7 * 24 * 3600 * 1000

func maxPayload(kind string) int {
	switch kind {
	case KindOpened:
		return MaxOpening
	case KindSealed:
		return math.MaxInt
	}
	return MaxPayload
}

// Bounds of an event's counters: no lesson comes near the first; what is held
// already, and the seal above it, may reach the second.
const (
	MaxCounter = 1 << 31
	heldMax    = 1 << 41
)

// Validate reports whether the event can be taken in: a sound envelope, text
// that can be kept, and a payload that its kind understands. A kind that is not
// known is kept as it is, since an older program meets newer tablets.
func (e Event) Validate() error {
	switch {
	case e.Seq > MaxCounter:
		return form.Bad("seq", "must be 1 to %d", MaxCounter)
	case e.Counter > MaxCounter:
		return form.Bad("counter", "must be 1 to %d", MaxCounter)
	}
	p, err := e.keepable()
	if err != nil {
		return err
	}
	if err := exact("payload", e.Payload, p); err != nil {
		return err
	}
	if e.Kind == KindHourMeter {
		var now hourMeter
		_ = json.Unmarshal(e.Payload, &now)
		return now.check()
	}
	return nil
}

// keepable is Validate for an event that may be held already, from before its
// counters were bounded.
func (e Event) keepable() (payload, error) {
	switch {
	case form.Depth(e.Payload) > form.MaxDepth:
		return nil, form.Bad("payload", "nests deeper than %d levels", form.MaxDepth)
	case len(e.Payload) > maxPayload(e.Kind):
		return nil, form.Bad("payload", "must be at most %d bytes, not %d", maxPayload(e.Kind), len(e.Payload))
	}
	for _, text := range []struct{ field, value string }{{"device", e.Device}, {"kind", e.Kind}, {"wall", e.Wall}} {
		if strings.ContainsRune(text.value, 0) || !utf8.ValidString(text.value) {
			return nil, form.Bad(text.field, "holds what is no text")
		}
	}
	if at, reason := form.Unholdable(e.Payload); reason != "" {
		return nil, form.Bad(strings.TrimSuffix("payload."+form.FieldAt(e.Payload, at), "."), "%s", reason)
	}
	return e.decode()
}

// sound reports whether the envelope of an event that is held can be folded.
func (e Event) sound() error {
	switch {
	case !isUUIDv7(e.ID):
		return form.Bad("id", "must be a UUID of version 7, not %q", form.Clip(e.ID))
	case e.Device == "" || len(e.Device) > 64:
		return form.Bad("device", "must have 1 to 64 characters")
	case e.Seq < 1 || e.Seq > heldMax:
		return form.Bad("seq", "must be 1 or more")
	case e.Counter < 1 || e.Counter > heldMax:
		return form.Bad("counter", "must be 1 or more")
	case e.AtMs < 0 || e.AtMs > MaxAtMs:
		return form.Bad("atMs", "must be 0 to a week in milliseconds")
	case len(e.Wall) > 40:
		return form.Bad("wall", "must be a time such as 2026-11-24T09:00:00Z")
	case e.Kind == "" || len(e.Kind) > 64:
		return form.Bad("kind", "must have 1 to 64 characters")
	case e.V < 1 || e.V > 1<<20:
		return form.Bad("v", "must be 1 or more")
	}
	return nil
}

func isUUIDv7(id string) bool {
	if len(id) != 36 || id[14] != '7' {
		return false
	}
	for i := range len(id) {
		c := id[i]
		if i == 8 || i == 13 || i == 18 || i == 23 {
			if c != '-' {
				return false
			}
		} else if !(c >= '0' && c <= '9' || c >= 'a' && c <= 'f') {
			return false
		}
	}
	return true
}

// decode reads the payload of a sound event as its kind has it; nil for a kind
// not known.
func (e Event) decode() (payload, error) {
	if err := e.sound(); err != nil {
		return nil, err
	}
	create, known := kinds[e.Kind]
	if !known {
		if !json.Valid(e.Payload) {
			return nil, form.Bad("payload", "is not valid JSON")
		}
		return nil, nil
	}
	p := create()
	if err := json.Unmarshal(e.Payload, p); err != nil {
		if t, ok := err.(*json.UnmarshalTypeError); ok {
			return nil, form.Bad("payload."+t.Field, "must be a %s, not a %s", t.Type, t.Value)
		}
		return nil, form.Bad("payload", "is not valid JSON: %v", err)
	}
	// What is held from long ago names the hour meter by another word.
	if h, ok := p.(*hourMeter); ok && e.V < 2 && h.Meter != "tacho" {
		h.Meter = "hour"
	}
	if err := p.check(); err != nil {
		return nil, err
	}
	return p, nil
}

// Canonical is the event without what the server adds, in the one form that is
// compared, hashed and sealed: keys in the order of Event, the payload's keys
// sorted, no white space.
func (e Event) Canonical() []byte {
	e.By, e.Received = "", ""
	d := json.NewDecoder(bytes.NewReader(e.Payload))
	d.UseNumber()
	var payload any
	if d.Decode(&payload) == nil {
		if sorted, err := json.Marshal(payload); err == nil {
			e.Payload = sorted
		}
	}
	if e.Payload == nil {
		e.Payload = json.RawMessage("null")
	}
	out, err := json.Marshal(e)
	if err != nil {
		// Only a payload that is no JSON can do this; Validate refuses it.
		return fmt.Appendf(nil, "%q", string(e.Payload))
	}
	return out
}

// order compares two events by counter, device and sequence.
func order(a, b *held) int {
	return cmp.Or(
		cmp.Compare(a.Counter, b.Counter),
		strings.Compare(a.Device, b.Device),
		cmp.Compare(a.Seq, b.Seq),
		strings.Compare(a.ID, b.ID),
	)
}

// SetHash is the SHA-256 of a set of event ids, in hexadecimal: the ids
// sorted, one a line. It is how a person's screen says which events it showed.
func SetHash(ids []string) string {
	ids = slices.Clone(ids)
	slices.Sort(ids)
	return fmt.Sprintf("%x", sha256.Sum256([]byte(strings.Join(ids, "\n"))))
}
