package server

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/recorder"
	"jetprimer/exchange"
	"jetprimer/store"
)

// RecordingView is what an engine recorder's file holds, beside what was typed in the
// lessons of its aircraft.
type RecordingView struct {
	Columns []string             `json:"columns" doc:"of the file, without their units"`
	Map     exchange.RecorderMap `json:"map" doc:"the one that was given, kept, or guessed from the names"`
	Problem string               `json:"problem" doc:"why the map does not read the file; empty when it does"`
	Kept    bool                 `json:"kept" doc:"whether the map is the one kept for the aircraft"`
	RunUps  []RecordedRunUp      `json:"runups"`
	Skipped []recorder.Skipped   `json:"skipped" doc:"lines that could not be used"`
	Lessons []RecordedLesson     `json:"lessons" doc:"the newest with the aircraft"`
	Caution string               `json:"caution"`
}

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

// recordingMost bounds a recorder's file, and traceMost how many samples of a run-up
// are drawn.
const (
	recordingMost = 64 << 20
	traceMost     = 500
	recordedMost  = 12
)

const recordingCaution = "A recorder does not know where a switch stood: which dip is which follows from the order of the work. The instructor decides what is taken."

func (s *Server) recordingRoutes() {
	route(s, huma.Operation{OperationID: "read-recording", Method: http.MethodPost, Path: "/aircraft/{registration}/recording", Summary: "Read an engine recorder's file: its run-ups, measured and judged, beside what was typed", MaxBodyBytes: recordingMost}, s.readRecording)
	route(s, huma.Operation{OperationID: "take-recorded", Method: http.MethodPost, Path: "/lessons/{id}/recorded", Summary: "Take a check that was measured from a recorder into a lesson", MaxBodyBytes: 64 << 10, DefaultStatus: http.StatusNoContent}, s.takeRecorded)
}

type recordingInput struct {
	Registration string `path:"registration" maxLength:"20"`
	Map          string `query:"map" maxLength:"4000" doc:"which column is what, as JSON; the one kept for the aircraft, or a guess, when left out"`
	Lesson       string `query:"lesson" maxLength:"36" doc:"the lesson that the run-ups are of; told from their time when left out"`
	RawBody      []byte
}

// readRecording reads a file by a map, which is kept once it reads one.
func (s *Server) readRecording(ctx context.Context, w who, in *recordingInput) (*struct{ Body RecordingView }, error) {
	out := &struct{ Body RecordingView }{RecordingView{RunUps: []RecordedRunUp{}, Skipped: []recorder.Skipped{}, Lessons: []RecordedLesson{}, Caution: recordingCaution}}
	v := &out.Body
	var err error
	if v.Columns, err = exchange.RecordingColumns(bytes.NewReader(in.RawBody)); err != nil {
		return nil, err
	}
	var typ aircraft.Type
	if err := s.in(ctx, w, func(tx *store.Tx) error {
		a, err := tx.OneAircraft(in.Registration, s.today(w))
		if err != nil {
			return err
		}
		types, err := s.typesNow(tx, w)
		if err != nil {
			return err
		}
		typ = types.named(a.Type).With(a.Equipment)
		kept, err := tx.RecorderColumns(in.Registration)
		switch {
		case err != nil:
			return err
		case in.Map != "":
			d := json.NewDecoder(bytes.NewReader([]byte(in.Map)))
			d.DisallowUnknownFields()
			if err := d.Decode(&v.Map); err != nil {
				return form.Bad("map", "is no map of columns: %v", err)
			}
		case kept != nil:
			v.Kept = true
			if err := json.Unmarshal(kept, &v.Map); err != nil {
				return err
			}
		default:
			v.Map = exchange.GuessRecorderMap(v.Columns, typ)
		}
		v.Map.Type = typ.ID
		return nil
	}); err != nil {
		return nil, err
	}
	file, found, err := s.judgeRecording(ctx, w, v.Map, typ, in.RawBody)
	if err != nil {
		var wrong form.Problem
		if !errors.As(err, &wrong) {
			return nil, err
		}
		v.Problem = wrong.Error()
		return out, nil
	}
	v.Skipped = file.Skipped
	return out, s.in(ctx, w, func(tx *store.Tx) error {
		if !v.Kept {
			columns, err := json.Marshal(v.Map)
			if err != nil {
				return err
			}
			if err := tx.KeepRecorderColumns(in.Registration, columns, w.account, s.now()); err != nil {
				return err
			}
			v.Kept = true
		}
		lessons, err := tx.LessonsOn(in.Registration, recordedMost)
		if err != nil {
			return err
		}
		for _, l := range lessons {
			v.Lessons = append(v.Lessons, RecordedLesson{l.ID, tx.Day(l.OpenedAt), l.OpenedAt, l.Instructor, l.Status, l.InstructorID == w.account})
		}
		states := map[string]flownLesson{}
		for _, f := range found {
			run := RecordedRunUp{Start: f.Start, End: f.End, Engine: f.Engine, Unit: form.TachometerIn(typ.Tachometer).Unit, Lesson: lessonOf(f, lessons, in.Lesson), Checks: []RecordedCheck{}}
			run.Seconds, run.Speed = traced(file.Track, f.Run)
			state, err := flownIn(tx, lessons, run.Lesson, states)
			if err != nil {
				return err
			}
			for i, m := range f.Run.Measured {
				one := RecordedCheck{Check: m.Check, Reading: m.Reading, Item: state.item(m.Check, f.Engine)}
				if def, known := check.Find(m.Check); known {
					one.Title = def.Title
				}
				if err := json.Unmarshal(f.Verdicts[i], &one.Verdict); err != nil {
					return err
				}
				typed := state.last(m.Check, f.Engine)
				one.Typed, one.Taken = typed.Verdict, state.took(m, f.Engine)
				one.Beside = m.Compare(typed.Reading, typ.Tachometer)
				run.Checks = append(run.Checks, one)
			}
			v.RunUps = append(v.RunUps, run)
		}
		return nil
	})
}

// judgeRecording reads and judges a file in its turn: it takes memory.
func (s *Server) judgeRecording(ctx context.Context, w who, m exchange.RecorderMap, typ aircraft.Type, data []byte) (recorder.File, []recorder.Found, error) {
	if err := m.Check("map"); err != nil {
		return recorder.File{}, nil, err
	}
	done, err := w.turnOf(ctx, s.reading)
	if err != nil {
		return recorder.File{}, nil, err
	}
	defer done()
	file, err := exchange.ReadRecording(bytes.NewReader(data), m)
	if err != nil {
		return file, nil, err
	}
	found, err := file.Judge(func(string) (aircraft.Type, bool) { return typ, true })
	return file, found, err
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
		return r.Check == m.Check && r.Engine == engine && r.Source == lesson.FromRecorder && bytes.Equal(kept, measured)
	})
}

type recordedInput struct {
	ID   string `path:"id" format:"uuid"`
	Body struct {
		Event   string         `json:"event" format:"uuid" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-7" doc:"the id that the reading is to have, a UUID of version 7"`
		Item    string         `json:"item" maxLength:"64"`
		Check   string         `json:"check" minLength:"1" maxLength:"64"`
		Engine  int            `json:"engine" minimum:"1" maximum:"4"`
		Reading map[string]any `json:"reading"`
	}
}

// takeRecorded enters a measured check as a reading of the lesson, after all of its
// others. In a signed lesson it waits, as everything that comes late, to be signed.
func (s *Server) takeRecorded(ctx context.Context, w who, in *recordedInput) (*struct{}, error) {
	payload, err := json.Marshal(map[string]any{"item": in.Body.Item, "check": in.Body.Check, "engine": in.Body.Engine, "reading": in.Body.Reading, "source": lesson.FromRecorder})
	if err != nil {
		return nil, err
	}
	return nil, s.in(ctx, w, func(tx *store.Tx) error {
		row, err := tx.Lesson(in.ID)
		if err != nil {
			return err
		}
		_, _, events, err := tx.State(row)
		if err != nil {
			return err
		}
		e := lesson.Event{ID: in.Body.Event, Device: lesson.FromRecorder, Seq: 1, Counter: 1, Wall: s.now().UTC().Format(time.RFC3339), Kind: lesson.KindReading, V: 1, Payload: payload}
		for _, known := range events {
			e.Counter, e.AtMs = max(e.Counter, known.Counter+1), max(e.AtMs, known.AtMs)
			if known.Device == e.Device {
				e.Seq = max(e.Seq, known.Seq+1)
			}
		}
		answers, err := tx.Accept(in.ID, []lesson.Event{e}, store.Sender{ID: w.account, Roles: w.roles}, s.now())
		if err != nil {
			return err
		}
		if answers[0].Status == "refused" {
			return form.Bad("reading", "%s", answers[0].Reason)
		}
		return nil
	})
}
