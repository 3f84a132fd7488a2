package recorder

import (
	"encoding/json"
	"fmt"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
)

// Found is a run-up as it is told: its checks as requests, each with its verdict.
type Found struct {
	Start    string            `json:"start"`
	End      string            `json:"end"`
	Engine   int               `json:"engine"`
	Checks   []json.RawMessage `json:"checks"`
	Verdicts []json.RawMessage `json:"verdicts"`
	// Run is where in the track it is, and what was measured.
	Run RunUp `json:"-"`
}

// Skipped is a line of a recorder's file that could not be used.
type Skipped struct {
	Line int    `json:"line"`
	Why  string `json:"why"`
}

// File is what a recorder's file holds. When says a sample's moment as the file has
// it.
type File struct {
	Track
	Type    string
	Options Options
	When    func(sample int) string
	Skipped []Skipped
}

// Judge finds the run-ups of a file and judges what was measured in them.
func (f File) Judge(types aircraft.Finder) ([]Found, error) {
	t, known := types(f.Type)
	if !known {
		return nil, fmt.Errorf("there is no aircraft type %q", f.Type)
	}
	out := []Found{}
	for _, run := range RunUps(f.Track, t, f.Options) {
		one := Found{
			Start: f.When(run.First), End: f.When(run.Last), Engine: run.Engine, Checks: []json.RawMessage{},
			Verdicts: []json.RawMessage{}, Run: run,
		}
		for _, m := range run.Measured {
			request, err := json.Marshal(
				map[string]any{"aircraftType": t.ID, "engine": run.Engine, "reading": m.Reading})
			if err != nil {
				return nil, err
			}
			verdict, err := check.Run(m.Check, request, types)
			if err != nil {
				return nil, fmt.Errorf("the run-up at %s, %s: %w", one.Start, m.Check, err)
			}
			one.Checks, one.Verdicts = append(one.Checks, request), append(one.Verdicts, verdict)
		}
		out = append(out, one)
	}
	return out, nil
}
