package reports

import (
	"bytes"
	"cmp"
	"encoding/json"
	"slices"
	"time"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/recorder"
	"jetprimer/exchange"
	"jetprimer/store"
)

// RecordedLesson is a lesson that a run-up can be of.
type RecordedLesson struct {
	ID         string    `json:"id"`
	On         string    `json:"on"`
	OpenedAt   time.Time `json:"openedAt"`
	Instructor string    `json:"instructor"`
	Status     string    `json:"status" enum:"open,ended,signed"`
	Own        bool      `json:"own" doc:"whether the person gave it, and may take readings into it"`
}

// RecordedRunUp is a run-up that was found.
type RecordedRunUp struct {
	Start  string `json:"start" doc:"as the file has it"`
	End    string `json:"end"`
	Engine int    `json:"engine"`
	// Lesson is the one that it is set beside; empty where there is none.
	Lesson string `json:"lesson"`
	// Seconds and Speed are the trace, thinned; Unit is that of the speed.
	Seconds []float64       `json:"seconds"`
	Speed   []float64       `json:"speed"`
	Unit    string          `json:"unit"`
	Checks  []RecordedCheck `json:"checks"`
}

// RecordedCheck is a check as it was measured, and the last typed one of the lesson.
type RecordedCheck struct {
	Check   string            `json:"check"`
	Title   string            `json:"title"`
	Item    string            `json:"item" doc:"where on the lesson's list it belongs; empty where it has no place"`
	Reading map[string]any    `json:"reading"`
	Verdict check.Verdict     `json:"verdict"`
	Typed   *check.Verdict    `json:"typed,omitempty" doc:"what was said of the typed one; left out where none was typed"`
	Taken   bool              `json:"taken" doc:"whether the lesson has it already"`
	Beside  []recorder.Beside `json:"beside"`
}

// traceMost is how many samples of a run-up are drawn.
const traceMost = 500

// RunUps are the run-ups of a recorder's file beside what was typed in the lessons of
// their aircraft. named is the lesson that they are of; empty leaves it to their time.
func RunUps(tx *store.Tx, track recorder.Track, found []recorder.Found, typ aircraft.Type, lessons []store.Lesson,
	named string) ([]RecordedRunUp, error) {
	out := []RecordedRunUp{}
	states := map[string]flownLesson{}
	for _, f := range found {
		run := RecordedRunUp{
			Start: f.Start, End: f.End, Engine: f.Engine, Unit: form.TachometerIn(typ.Tachometer).Unit,
			Lesson: lessonOf(f, lessons, named), Checks: []RecordedCheck{},
		}
		run.Seconds, run.Speed = traced(track, f.Run)
		state, err := flownIn(tx, lessons, run.Lesson, states)
		if err != nil {
			return nil, err
		}
		for i, m := range f.Run.Measured {
			one, err := state.beside(m, f.Engine, f.Verdicts[i], typ.Tachometer)
			if err != nil {
				return nil, err
			}
			run.Checks = append(run.Checks, one)
		}
		out = append(out, run)
	}
	return out, nil
}

// beside is a measured check with the lesson's own reading of it.
func (f flownLesson) beside(m recorder.Measured, engine int, verdict []byte, tachometer string) (RecordedCheck, error) {
	typed := f.last(m.Check, engine)
	one := RecordedCheck{
		Check: m.Check, Reading: m.Reading, Item: f.item(m.Check, engine),
		Typed: typed.Verdict, Taken: f.took(m, engine), Beside: m.Compare(typed.Reading, tachometer),
	}
	if def, known := check.Find(m.Check); known {
		one.Title = def.Title
	}
	return one, json.Unmarshal(verdict, &one.Verdict)
}

// lessonOf is the lesson that a run-up is of: the one that was named, the nearest one
// within a day where the file has days, or the newest.
func lessonOf(f recorder.Found, lessons []store.Lesson, named string) string {
	if named != "" || len(lessons) == 0 {
		return named
	}
	at, dated := exchange.RecordedOn(f.Start)
	if !dated {
		return lessons[0].ID
	}
	away := func(l store.Lesson) time.Duration { return l.OpenedAt.Sub(at).Abs() }
	nearest := slices.MinFunc(lessons, func(a, b store.Lesson) int { return cmp.Compare(away(a), away(b)) })
	if away(nearest) > 24*time.Hour {
		return ""
	}
	return nearest.ID
}

// traced are the samples of a run-up with a little before and after it, thinned.
func traced(t recorder.Track, run recorder.RunUp) (seconds, speed []float64) {
	const margin = 8.0
	first, last := run.First, run.Last
	for first > 0 && t.Seconds[run.First]-t.Seconds[first-1] < margin {
		first--
	}
	for last < len(t.Seconds)-1 && t.Seconds[last+1]-t.Seconds[run.Last] < margin {
		last++
	}
	step := (last-first)/traceMost + 1
	for i := first; i <= last; i += step {
		v := t.Engines[run.Engine-1].Speed[i]
		if v == v { // a number
			seconds, speed = append(seconds, t.Seconds[i]-t.Seconds[run.First]), append(speed, v)
		}
	}
	return seconds, speed
}

// flownLesson is a lesson that run-ups are set beside.
type flownLesson struct {
	state lesson.State
	book  lesson.Book
}

// flownIn is a lesson of those given, read once.
func flownIn(tx *store.Tx, lessons []store.Lesson, id string, read map[string]flownLesson) (flownLesson, error) {
	if known, ok := read[id]; ok {
		return known, nil
	}
	i := slices.IndexFunc(lessons, func(l store.Lesson) bool { return l.ID == id })
	if i < 0 {
		return flownLesson{}, nil
	}
	state, book, _, err := tx.State(lessons[i])
	read[id] = flownLesson{state, book}
	return read[id], err
}

func (f flownLesson) item(name string, engine int) string {
	for _, p := range f.book.List.Places() {
		if p.Item.Check == name && max(p.Item.Engine, 1) == engine {
			return p.Item.ID
		}
	}
	return ""
}

// last is the lesson's last reading of a check that was typed; an empty one where none
// was.
func (f flownLesson) last(name string, engine int) lesson.Reading {
	for _, r := range slices.Backward(f.state.Readings) {
		if r.Check == name && r.Engine == engine && r.Source == "" {
			return r
		}
	}
	return lesson.Reading{}
}

// took reports whether the lesson has what was measured.
func (f flownLesson) took(m recorder.Measured, engine int) bool {
	measured, _ := json.Marshal(m.Reading) // numbers and words
	return slices.ContainsFunc(f.state.Readings, func(r lesson.Reading) bool {
		kept, _ := json.Marshal(r.Reading)
		return r.Check == m.Check && r.Engine == engine && r.Source == lesson.FromRecorder &&
			bytes.Equal(kept, measured)
	})
}
