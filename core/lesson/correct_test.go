package lesson_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/lesson"
)

// sealAll adds a signature over all events so far.
func (w *tape) sealAll(t *testing.T) {
	l := lesson.New(book())
	l.Add(w.events...)
	payload, err := json.Marshal(l.Seal("i", strings.Repeat("0", 64)))
	require.NoError(t, err)
	w.add(lesson.KindSealed, string(payload))
}

// TestASignedMarkIsCorrected: once it is signed itself, with the first result beside
// it; before that, and on what was never signed, it changes nothing.
func TestASignedMarkIsCorrected(t *testing.T) {
	w := opened("read-and-do")
	w.mark("brakes")
	w.add(lesson.KindOmitted, `{"item":"clear"}`)
	w.add(lesson.KindEnded, `{}`)
	w.sealAll(t)
	clear := func(s lesson.State) lesson.ItemState { return s.Items[2] }
	assert.Equal(t, 0, *clear(fold(t, w.events)).Level)

	w.add(lesson.KindCorrection, `{"item":"clear","mark":"prompted","why":"I had said clear myself before he could"}`)
	w.add(lesson.KindAcknowledged, `{}`)
	s := fold(t, w.events)
	assert.Equal(t, 0, *clear(s).Level, "unsigned it stands beside what was signed")
	assert.Nil(t, clear(s).First)
	require.Len(t, s.Corrections, 1)
	assert.False(t, s.Corrections[0].Signed)
	assert.True(t, s.Acknowledged)

	w.sealAll(t)
	s = fold(t, w.events)
	assert.Equal(t, 2, *clear(s).Level)
	assert.Equal(t, "prompted", clear(s).Mark)
	require.NotNil(t, clear(s).First)
	assert.Equal(t, 0, *clear(s).First.Level)
	assert.Equal(t, "left-out", clear(s).First.Mark)
	assert.Equal(t, [5]int{0, 0, 1, 0, 1}, s.Phases[0].Levels)
	assert.False(t, s.Acknowledged, "the student is told again")

	w.add(lesson.KindCorrection, `{"item":"clear","mark":"not-fitted","why":"the ramp was fenced"}`)
	w.sealAll(t)
	again := clear(fold(t, w.events))
	assert.Nil(t, again.Level)
	assert.Equal(t, "left-out", again.First.Mark, "what was signed first stays")

	for payload, why := range map[string]string{
		`{"item":"clear","mark":"good","why":"it was so"}`:                 "payload.mark",
		`{"item":"clear","mark":"done","why":"."}`:                         "payload.why",
		`{"item":"clear","mark":"done","level":5,"why":"it was so"}`:       "payload.level",
		`{"item":"clear","mark":"not-fitted","level":3,"why":"it was so"}`: "payload.level",
		`{"item":"","mark":"done","why":"it was so"}`:                      "payload.item",
		`{"item":"clear","mark":"done","why":"it was so","Mark":"wrong"}`:  "Mark",
		`{"item":"clear","mark":"done","mark":"wrong","why":"it was so"}`:  "mark",
	} {
		e := lesson.Event{
			ID: "01900000-0000-7000-8000-00000000ffff", Device: "d", Seq: 1, Counter: 1, Kind: lesson.KindCorrection,
			V: 1, Wall: "2026-11-24T09:00:00Z", Payload: json.RawMessage(payload),
		}
		assert.ErrorContains(t, e.Validate(), why, payload)
	}
}
