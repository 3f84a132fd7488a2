package lesson_test

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/lesson"
)

// TestAPhaseIsBegunAgain: its items are open anew and its first is live; what was
// marked before is kept, and one undo takes the round back.
func TestAPhaseIsBegunAgain(t *testing.T) {
	h := twin(t, "read-and-do")
	for range 4 {
		h.touch(lesson.Mark{Name: "done"})
	}
	require.Equal(t, "apart", h.live())
	assert.Equal(t, "round item-opened", h.touch(lesson.Mark{Name: "round"}), "of the live item's phase")
	assert.Equal(t, "mag-1", h.live())
	assert.Equal(t, "done,done,,,,", h.marks())
	h.touch(lesson.Mark{Name: "left-out"})
	assert.Equal(t, "done,done,left-out,,,", h.marks())
	assert.Equal(t, "round item-opened", h.touch(lesson.Mark{Name: "round", Phase: "a"}), "of a phase by its name")
	assert.Equal(t, "papers", h.live())
	h.touch(lesson.Mark{Name: "undo"})
	assert.Equal(t, "done,done,left-out,,,", h.marks())
	_, err := h.try(lesson.Mark{Name: "round", Phase: "z"})
	assert.ErrorContains(t, err, `phase "z" is not on the list`)
}

// TestControlIsTakenWithAReason: where it had to be, it shows at the item.
func TestControlIsTakenWithAReason(t *testing.T) {
	h := twin(t, "read-and-do")
	for _, why := range []string{"", "  \t"} {
		_, err := h.try(lesson.Mark{Name: "control", Why: why})
		assert.ErrorContains(t, err, "why is not said yet")
	}
	_, err := h.try(lesson.Mark{Name: "control", Why: "w", Level: ptr(7)})
	assert.Error(t, err)
	kinds := h.touch(lesson.Mark{Name: "control", Item: "brakes", Why: " it rolled ", Level: ptr(0)})
	assert.Contains(t, kinds, lesson.KindControlTaken)
	h.touch(lesson.Mark{Name: "done", Item: "brakes"})
	level := h.State().Items[1].Level
	require.NotNil(t, level)
	assert.Equal(t, 0, *level, "done by a hand that was not the student's")
}

// TestAnHourMeterDoesNotRunBackwards: whichever value is typed first.
func TestAnHourMeterDoesNotRunBackwards(t *testing.T) {
	meter := lesson.Meters[0]
	read := func(h *hands, when string, hours float64) error {
		_, err := h.try(lesson.Mark{Name: "hours", Meter: meter, When: when, Hours: &hours})
		return err
	}
	h := twin(t, "read-and-do")
	_, err := h.try(lesson.Mark{Name: "hours", Meter: meter, When: "start"})
	assert.ErrorContains(t, err, "hours is not read yet")
	require.NoError(t, read(h, "start", 1240.3))
	assert.ErrorContains(t, read(h, "end", 1240.2), "run backwards: it was read as 1240.3 at the start")
	require.NoError(t, read(h, "end", 1240.3), "nothing was flown")
	require.NoError(t, read(h, "end", 1241.1))
	assert.ErrorContains(t, read(h, "start", 1241.2), "run backwards: it was read as")
	require.NoError(t, read(h, "start", 1240.4), "corrected")
	late := twin(t, "read-and-do")
	require.NoError(t, read(late, "end", 9.9))
	assert.ErrorContains(t, read(late, "start", 10), "at the end")
}

// TestAnObserverIsChosen: and is known to the lesson by name.
func TestAnObserverIsChosen(t *testing.T) {
	h := twin(t, "read-and-do")
	_, err := h.try(lesson.Mark{Name: "observer"})
	assert.ErrorContains(t, err, "person is not chosen yet")
	h.touch(lesson.Mark{Name: "observer", Person: "5c001000-0000-4000-8000-000000000103", Words: "Marit Solheim"})
	require.Len(t, h.State().Observers, 1)
	assert.True(t, lesson.OfStudent(lesson.KindSelfGrade))
	assert.False(t, lesson.OfStudent(lesson.KindObserver))
}

// TestHowLongALessonHasRun: by the moments at which events arrived; a device's
// wall clock does not come into it, and nothing runs without end.
func TestHowLongALessonHasRun(t *testing.T) {
	now := time.Date(2026, 11, 24, 12, 0, 0, 0, time.UTC)
	arrived := func(atMs int64, ago time.Duration, wall string) lesson.Event {
		return lesson.Event{AtMs: atMs, Received: now.Add(-ago).Format(time.RFC3339), Wall: wall}
	}
	for name, c := range map[string]struct {
		events []lesson.Event
		want   int64
	}{
		"nothing yet":  {nil, 0},
		"just now":     {[]lesson.Event{arrived(5000, 0, "2018-01-01T00:00:00Z")}, 5000},
		"a minute ago": {[]lesson.Event{arrived(5000, time.Minute, "2018-01-01T00:00:00Z")}, 65_000},
		"the longest of them": {
			[]lesson.Event{arrived(5000, time.Minute, ""), arrived(90_000, time.Second, "")}, 91_000,
		},
		"an arrival ahead of us":    {[]lesson.Event{arrived(5000, -time.Hour, "")}, 5000},
		"an arrival that is no day": {[]lesson.Event{{AtMs: 5000, Received: "soon"}}, 0},
		"years ago":                 {[]lesson.Event{arrived(0, 20*365*24*time.Hour, "")}, lesson.MaxAtMs},
	} {
		assert.Equal(t, c.want, lesson.RunningMs(c.events, now), name)
	}
}

// TestWhatAnEventCannotSay: bounds of what comes from a device, each named.
func TestWhatAnEventCannotSay(t *testing.T) {
	h := twin(t, "read-and-do")
	long := strings.Repeat("w", 5000)
	for kind, payloads := range map[string]map[string]string{
		lesson.KindRound: {
			`{"phase":""}`: "payload.phase", `{"phase":"` + strings.Repeat("p", 65) + `"}`: "payload.phase",
		},
		lesson.KindPractice: {`{"place":"moon"}`: "payload.place must be one of aircraft, stand, other-simulator"},
		lesson.KindSelfGrade: {
			`{"levels":{}}`: "must grade 1 to 64 phases", `{"levels":{"a":5}}`: "must be 0 to 4",
			`{"levels":{"a":-1}}`:                       "must be 0 to 4",
			`{"levels":{"a":1},"words":"` + long + `"}`: "payload.words must be at most",
		},
		lesson.KindHourMeter: {`{"meter":"sun","when":"start","value":1}`: "payload.meter must be one of"},
		lesson.KindNote:      {`{"words":""}`: "payload.words", `{"words":"` + long + `"}`: "payload.words"},
	} {
		version := 1
		if kind == lesson.KindHourMeter {
			version = 2 // the first named no meter that can be checked
		}
		for payload, want := range payloads {
			taken := h.Add(lesson.Event{
				ID: h.id(), Device: "d", Seq: h.next(), Counter: 2, AtMs: 1, Wall: "2026-11-24T10:00:00Z", Kind: kind,
				V: version, Payload: json.RawMessage(payload),
			})
			require.Len(t, taken, 1)
			assert.Equal(t, "refused", taken[0].Status, payload[:min(len(payload), 40)])
			assert.Contains(t, taken[0].Reason, want, kind)
		}
	}
}
