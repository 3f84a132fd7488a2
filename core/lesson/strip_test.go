package lesson_test

import (
	"cmp"
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/check"
	"jetprimer/core/lesson"
)

// TestTheStripLaysALessonOut: phases where they began, items passed in one touch
// side by side, readings with their verdict, and the state at any moment.
func TestTheStripLaysALessonOut(t *testing.T) {
	w := opened("read-and-do") // an event a second
	w.mark("brakes")
	w.add(lesson.KindPrompt, `{"item":"beacon"}`)
	w.mark("beacon")
	w.add(lesson.KindReading, `{"item":"idle","check":"idle","reading":{"rpm":400,"seconds":6,"stopped":false}}`)
	w.add(lesson.KindError, `{"item":"idle","code":"unsafe-act","severity":"unsafe","words":"hand off"}`)
	w.mark("power")
	s := session(t, w)
	strip := s.Strip(s.State())
	assert.Equal(t, int64(7000), strip.EndMs)
	assert.Equal(t, []lesson.StripPhase{
		{ID: "start", Title: "Start", FromMs: 2000}, {ID: "run-up", Title: "Run-up", FromMs: 7000},
	}, strip.Phases)
	assert.Equal(t, []lesson.StripTick{
		{AtMs: 2000, Item: "brakes", Mark: "done"}, {AtMs: 4000, Item: "beacon", Mark: "prompted"},
		{AtMs: 7000, Item: "power", Mark: "done"},
	}, strip.Ticks)
	require.Len(t, strip.Readings, 1)
	assert.Equal(t, check.Attend, strip.Readings[0].State)
	assert.Contains(t, strip.Readings[0].Words, "look again. The idle speed is 400 rpm")
	assert.Equal(t, []lesson.StripMoment{
		{AtMs: 6000, Kind: "error", Item: "idle", Words: "unsafe act hand off", State: check.Out},
	}, strip.Moments)
	assert.Equal(t, []lesson.StripSpeed{{AtMs: 5000, Value: 400}}, strip.Speeds[0].Points)
	require.NotNil(t, strip.Readings[0].Band)
	assert.Equal(t, []any{400.0, "rpm"}, []any{*strip.Readings[0].Band.Value, strip.Readings[0].Band.Unit})
	assert.NotNil(t, cmp.Or(strip.Readings[0].Band.Min, strip.Readings[0].Band.Low))
	then := s.At(4000)
	assert.Equal(t, "done", then.Items[1].Status)
	assert.Empty(t, then.Readings)
	shown, err := s.Instrument(s.State(), strip.Readings[0].Event)
	require.NoError(t, err)
	assert.NotEmpty(t, shown.Strips)
	_, err = s.Instrument(s.State(), "another")
	assert.ErrorContains(t, err, "is no reading of the lesson")
}

// TestWeatherStandsOnTheStrip: as it was entered, where it changed, and again
// where a change was taken back.
func TestWeatherStandsOnTheStrip(t *testing.T) {
	w := opened("read-and-do")
	w.add(lesson.KindConditions, `{"conditions":{"oatC":9,"qnhHPa":1007}}`)
	w.mark("brakes")
	w.add(lesson.KindConditions, `{"conditions":{"oatC":9}}`)
	colder := w.add(lesson.KindConditions, `{"conditions":{"oatC":-2}}`)
	w.add(lesson.KindUndo, `{"targets":["`+colder+`"]}`)
	w.mark("beacon")
	s := session(t, w)
	before := s.Strip(s.State()).Weather
	require.GreaterOrEqual(t, len(before), 3)
	said := before[len(before)-3:]
	for i, words := range []string{"9 °C, 1007 hPa", "-2 °C, 1007 hPa", "9 °C, 1007 hPa"} {
		assert.Contains(t, said[i].Words, words)
	}
	assert.Equal(t, []int64{2000, 5000, 6000}, []int64{said[0].AtMs, said[1].AtMs, said[2].AtMs})
}

func session(t testing.TB, w *tape) *lesson.Session {
	t.Helper()
	l := lesson.New(book())
	for _, a := range l.Add(w.events...) {
		require.NotEqual(t, "refused", a.Status, a.Reason)
	}
	return lesson.NewSession(l)
}

// TestEveryMomentLiesInTheLesson: whatever was touched when, ticks stay in order
// between nought and the end.
func TestEveryMomentLiesInTheLesson(t *testing.T) {
	items := []string{"brakes", "beacon", "clear", "crank", "power", "decision"}
	rapid.Check(t, func(t *rapid.T) {
		w := opened("read-and-do")
		for range rapid.IntRange(0, 12).Draw(t, "touches") {
			at := rapid.Int64Range(0, 90_000).Draw(t, "at")
			for range rapid.IntRange(1, 3).Draw(t, "items") {
				w.mark(rapid.SampledFrom(items).Draw(t, "item"))
				w.events[len(w.events)-1].AtMs = at
			}
		}
		l := lesson.New(book())
		l.Add(w.events...)
		s := lesson.NewSession(l)
		strip := s.Strip(s.State())
		before := int64(0)
		for _, tick := range strip.Ticks {
			if tick.AtMs < before || tick.AtMs > strip.EndMs {
				t.Fatalf("%+v after %d, the end at %d", tick, before, strip.EndMs)
			}
			before = tick.AtMs
		}
	})
}

// TestWhatWasNotedIsPutIntoWords: as of its own moment; until then nothing is
// signed.
func TestWhatWasNotedIsPutIntoWords(t *testing.T) {
	w := opened("read-and-do")
	s := session(t, w)
	touch := func(m lesson.Mark, ms int64) {
		t.Helper()
		n := 0
		events, err := s.Touch(s.State(), m,
			lesson.Stamp{Device: "tablet", Seq: s.LastCounter(), AtMs: ms, Wall: "2026-11-24T09:00:00Z",
				ID: func() string {
					n++
					return fmt.Sprintf("01900000-0000-7000-8001-%06x%06x", ms, n)
				}})
		require.NoError(t, err)
		s.Add(events...)
	}
	touch(lesson.Mark{Name: "noted-error", Item: "brakes"}, 5000)
	touch(lesson.Mark{Name: "noted-finding", Item: "beacon"}, 6000)
	state := s.State()
	assert.Contains(t, fmt.Sprint(state.Problems), "An error was noted and is not said yet.")
	assert.Contains(t, fmt.Sprint(state.Problems), "A finding was noted and is not said yet.")
	_, err := s.Touch(state, lesson.Mark{Name: "word", About: state.Findings[0].Event, Words: "lens cracked"},
		lesson.Stamp{ID: func() string { return "" }})
	assert.ErrorContains(t, err, "decision is not chosen yet")
	touch(lesson.Mark{Name: "word", About: state.Errors[0].Event, Code: "eyes-inside"}, 90_000)
	touch(lesson.Mark{
		Name: "word", About: state.Findings[0].Event, Words: "lens cracked", Decision: "deferred", Told: "Bo",
		Why: "day only",
	}, 91_000)
	state = s.State()
	assert.Equal(t, []any{"eyes-inside", int64(5000)}, []any{state.Errors[0].Code, state.Errors[0].AtMs})
	require.Len(t, state.Findings, 1)
	assert.Equal(t, []any{"lens cracked", int64(6000), "deferred"},
		[]any{state.Findings[0].Words, state.Findings[0].AtMs, state.Findings[0].Decision.Decision})
	assert.Empty(t, state.Problems)
}

func TestTimesAreComputedAndDoubted(t *testing.T) {
	at := func(min int64) int64 { return min * 60_000 }
	state := lesson.State{DurationMs: at(73), Practice: "aircraft",
		Items: []lesson.ItemState{
			{ID: "a", Phase: "start", Status: "done", AtMs: at(5)},
			{ID: "b", Phase: "taxi", Status: "done", AtMs: at(12)},
			{ID: "c", Phase: "shutdown", Status: "done", AtMs: at(62)},
		},
		HourMeter: []lesson.Hours{
			{Meter: "hour", When: "start", Value: 1204.4}, {Meter: "hour", When: "end", Value: 1205.5},
		}}
	by := lesson.TimesOf(state, "hour-meter")
	assert.Equal(t, [5]int{73, 50, 66, 7, 11},
		[5]int{by.LessonMinutes, by.BlockMinutes, by.FlightMinutes, by.GroundMinutes, by.Meters[0].Tenths})
	block := lesson.TimesOf(state, "block")
	assert.Equal(t, [2]int{50, 23}, [2]int{block.FlightMinutes, block.GroundMinutes})
	state.HourMeter[1].Value = 1207
	assert.Equal(t, []string{"The hour meter counted 2.6 h in a lesson of 73 minutes."},
		lesson.TimesOf(state, "block").Doubts)
	state.HourMeter = nil
	without := lesson.TimesOf(state, "hour-meter")
	assert.Equal(t, "block", without.Rule)
	assert.Len(t, without.Doubts, 1)
	state.Practice = "stand"
	stand := lesson.TimesOf(state, "block")
	assert.Equal(t, [2]int{0, 73}, [2]int{stand.FlightMinutes, stand.GroundMinutes}, "practice is never aircraft time")
}

// TestTwoTabletsKeepTheirPlaces: each goes on at its own item, and takes back its
// own touch.
func TestTwoTabletsKeepTheirPlaces(t *testing.T) {
	w := opened("read-and-do")
	w.add(lesson.KindObserver, `{"person":"q","name":"Rafael Quist"}`)
	w.add(lesson.KindItemOpened, `{"item":"clear"}`)
	w.mark("clear")
	other := &tape{device: "other-tablet", n: 20}
	other.add(lesson.KindItemOpened, `{"item":"power"}`)
	last := other.add(lesson.KindPrompt, `{"item":"power"}`)
	w.events = append(w.events, other.events...)
	s := session(t, w)
	state := s.State()
	assert.Equal(t, []lesson.Observer{{Person: "q", Name: "Rafael Quist"}}, state.Observers)
	for device, item := range map[string]string{"tablet": "clear", "other-tablet": "power"} {
		s.Device = device
		assert.Equal(t, item, state.Items[s.Live(state)].ID)
	}
	undo := func(device string) (targets []string) {
		events, err := s.Touch(state, lesson.Mark{Name: "undo"},
			lesson.Stamp{
				Device: device, AtMs: 1, ID: func() string { return "01900000-0000-7000-8002-000000000001" }, Wall: "w",
				Seq: 50,
			})
		require.NoError(t, err)
		var p struct{ Targets []string }
		require.NoError(t, json.Unmarshal(events[0].Payload, &p))
		return p.Targets
	}
	assert.Equal(t, []string{last}, undo("other-tablet"))
	assert.NotContains(t, undo("tablet"), last)
}
