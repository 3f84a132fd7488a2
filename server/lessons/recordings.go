package lessons

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"time"

	"jetprimer/core/access"
	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/recorder"
	"jetprimer/exchange"
	"jetprimer/reports"
	"jetprimer/server/api"
	"jetprimer/store"
)

// RecordingView is what an engine recorder's file holds, beside what was typed in the
// lessons of its aircraft.
type RecordingView struct {
	Columns []string                 `json:"columns" doc:"of the file, without their units"`
	Map     exchange.RecorderMap     `json:"map" doc:"the one that was given, kept, or guessed from the names"`
	Problem string                   `json:"problem" doc:"why the map does not read the file; empty when it does"`
	Kept    bool                     `json:"kept" doc:"whether the map is the one kept for the aircraft"`
	RunUps  []reports.RecordedRunUp  `json:"runups"`
	Skipped []recorder.Skipped       `json:"skipped" doc:"lines that could not be used"`
	Lessons []reports.RecordedLesson `json:"lessons" doc:"the newest with the aircraft"`
	Caution string                   `json:"caution"`
}

// recordingMost bounds a recorder's file, recordedMost how many lessons are offered.
const (
	recordingMost = 64 << 20
	recordedMost  = 12
)

const recordingCaution = "A recorder does not know where a switch stood: which dip is which follows from the order " +
	"of the work. The instructor decides what is taken."

func (s Handlers) recordingRoutes() {
	api.Handle(s.API, api.Route{
		ID: "read-recording", For: access.FindingReaders, Method: http.MethodPost,
		Path:         "/aircraft/{registration}/recording",
		Summary:      "Read an engine recorder's file: its run-ups, measured and judged, beside what was typed",
		MaxBodyBytes: recordingMost,
	}, s.readRecording)
	api.Handle(s.API, api.Route{
		ID: "take-recorded", For: access.Roles{access.Instructor, access.Chief}, Method: http.MethodPost,
		Path: "/lessons/{id}/recorded", Summary: "Take a check that was measured from a recorder into a lesson",
		MaxBodyBytes: 64 << 10, Status: http.StatusNoContent,
	}, s.takeRecorded)
}

type recordingInput struct {
	Registration string `path:"registration" maxLength:"20"`
	Map          string `query:"map" maxLength:"4000" doc:"which column is what, as JSON; the one kept for the aircraft, or a guess, when left out"`
	Lesson       string `query:"lesson" maxLength:"36" doc:"the lesson that the run-ups are of; told from their time when left out"`
	RawBody      []byte
}

// readRecording reads a file by a map, which is kept once it reads one.
func (s Handlers) readRecording(ctx context.Context, w api.Person,
	in *recordingInput) (*struct{ Body RecordingView }, error) {
	out := &struct{ Body RecordingView }{
		RecordingView{
			RunUps: []reports.RecordedRunUp{}, Skipped: []recorder.Skipped{}, Lessons: []reports.RecordedLesson{},
			Caution: recordingCaution,
		},
	}
	v := &out.Body
	var err error
	if v.Columns, err = exchange.RecordingColumns(bytes.NewReader(in.RawBody)); err != nil {
		return nil, err
	}
	var typ aircraft.Type
	if err := s.In(ctx, w, func(tx *store.Tx) error {
		a, err := tx.OneAircraft(in.Registration, s.Today(w))
		if err != nil {
			return err
		}
		types, err := s.Reports.Types(tx)
		if err != nil {
			return err
		}
		typ = types.Named(a.Type).With(a.Equipment)
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
	return out, s.In(ctx, w, func(tx *store.Tx) error {
		if !v.Kept {
			columns, err := json.Marshal(v.Map)
			if err != nil {
				return err
			}
			if err := tx.KeepRecorderColumns(in.Registration, columns, w.Account, s.Now()); err != nil {
				return err
			}
			v.Kept = true
		}
		lessons, err := tx.LessonsOn(in.Registration, recordedMost)
		if err != nil {
			return err
		}
		for _, l := range lessons {
			v.Lessons = append(v.Lessons, reports.RecordedLesson{
				ID: l.ID, On: tx.Day(l.OpenedAt), OpenedAt: l.OpenedAt, Instructor: l.Instructor, Status: l.Status,
				Own: l.InstructorID == w.Account,
			})
		}
		v.RunUps, err = reports.RunUps(tx, file.Track, found, typ, lessons, in.Lesson)
		return err
	})
}

// judgeRecording reads and judges a file in its turn: it takes memory.
func (s Handlers) judgeRecording(ctx context.Context, w api.Person, m exchange.RecorderMap, typ aircraft.Type,
	data []byte) (recorder.File, []recorder.Found, error) {
	if err := m.Check("map"); err != nil {
		return recorder.File{}, nil, err
	}
	done, err := w.TurnOf(ctx, s.Reading)
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
func (s Handlers) takeRecorded(ctx context.Context, w api.Person, in *recordedInput) (*struct{}, error) {
	payload, err := json.Marshal(map[string]any{
		"item": in.Body.Item, "check": in.Body.Check, "engine": in.Body.Engine, "reading": in.Body.Reading,
		"source": lesson.FromRecorder,
	})
	if err != nil {
		return nil, err
	}
	return nil, s.In(ctx, w, func(tx *store.Tx) error {
		row, err := tx.Lesson(in.ID)
		if err != nil {
			return err
		}
		_, _, events, err := tx.State(row)
		if err != nil {
			return err
		}
		e := lesson.Event{
			ID: in.Body.Event, Device: lesson.FromRecorder, Seq: 1, Counter: 1,
			Wall: s.Now().UTC().Format(time.RFC3339), Kind: lesson.KindReading, V: 1, Payload: payload,
		}
		for _, known := range events {
			e.Counter, e.AtMs = max(e.Counter, known.Counter+1), max(e.AtMs, known.AtMs)
			if known.Device == e.Device {
				e.Seq = max(e.Seq, known.Seq+1)
			}
		}
		answers, err := tx.Accept(in.ID, []lesson.Event{e}, store.Sender{ID: w.Account, Roles: w.Roles}, s.Now())
		if err != nil {
			return err
		}
		if answers[0].Status == "refused" {
			return form.Bad("reading", "%s", answers[0].Reason)
		}
		return nil
	})
}
