package checklist

import (
	"fmt"

	"jetprimer/core/form"
)

// Aid is one version of a school's memory aid for a phase: letters, each with
// its word and the items it stands for.
type Aid struct {
	ID           string   `json:"id"`
	Title        string   `json:"title"`
	Version      int      `json:"version"`
	AircraftType string   `json:"aircraftType"`
	Phase        string   `json:"phase"`
	Source       string   `json:"source"`
	Letters      []Letter `json:"letters"`
}

// Letter is one step of a memory aid.
type Letter struct {
	Letter string   `json:"letter"`
	Word   string   `json:"word"`
	Items  []string `json:"items,omitempty"`
}

// Problems lists every mistake that can be seen in the aid itself.
func (a Aid) Problems() []form.Problem {
	var faults []form.Problem
	add := func(path, format string, args ...any) {
		faults = append(faults, form.Problem{Field: path, Reason: fmt.Sprintf(format, args...)})
	}
	for field, value := range map[string]string{
		"id": a.ID, "title": a.Title, "aircraftType": a.AircraftType, "phase": a.Phase, "source": a.Source,
	} {
		if value == "" {
			add("$."+field, "is missing")
		}
	}
	if a.Version < 1 {
		add("$.version", "must be 1 or more")
	}
	if len(a.Letters) == 0 {
		add("$.letters", "has no letter")
	}
	for i, l := range a.Letters {
		for field, value := range map[string]string{"letter": l.Letter, "word": l.Word} {
			if value == "" {
				add(fmt.Sprintf("$.letters[%d].%s", i, field), "is missing")
			}
		}
	}
	return form.SortProblems(faults)
}
