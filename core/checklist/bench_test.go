package checklist_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
)

// long is a list of a thousand items, and the same with one moved and one
// changed.
func long() (checklist.List, checklist.List) {
	l := checklist.List{ID: "long", Title: "Long", Version: 1, AircraftType: "x", Source: "made up"}
	for p := range 10 {
		phase := checklist.Phase{ID: fmt.Sprintf("p%d", p), Title: fmt.Sprintf("Phase %d", p)}
		for i := range 100 {
			item := checklist.Item{ID: fmt.Sprintf("i%d-%d", p, i), Challenge: fmt.Sprintf("Item %d", i),
				Response: "set and looked at",
				Why:      "It is there because a list of a thousand items has to be edited without a pause.",
				Look:     "the panel", Errors: []string{
					"forgets it",
				}}
			if i%7 == 0 {
				item.When = "oat < 5 °C and not engine is hot"
			}
			if i > 0 {
				item.After = []string{phase.Items[i-1].ID}
			}
			phase.Items = append(phase.Items, item)
		}
		l.Phases = append(l.Phases, phase)
	}
	data, _ := json.Marshal(l)
	var other checklist.List
	_ = json.Unmarshal(data, &other)
	other.Phases[4].Items[50].Response = "set, said aloud"
	other.Phases[2].Items[20].After, other.Phases[2].Items[21].After = nil, nil
	other.Phases[2].Items[20], other.Phases[2].Items[21] = other.Phases[2].Items[21], other.Phases[2].Items[20]
	return l, other
}

// BenchmarkThousandItems measures what follows each edit of a list of a
// thousand items, against the floor of writing and reading it once as JSON.
func BenchmarkThousandItems(b *testing.B) {
	list, other := long()
	typ := aircraft.Type{ID: "x", Name: "X", Engines: 1}
	cold := -3.0
	for name, work := range map[string]func() error{
		"json": func() error {
			data, err := json.Marshal(list)
			if err != nil {
				return err
			}
			var back checklist.List
			return json.Unmarshal(data, &back)
		},
		"faults": func() error { checklist.Surroundings{Type: typ}.ListProblems(list); return nil },
		"tailor": func() error {
			_, err := checklist.Tailor(list, nil, typ, checklist.Aircraft{}, checklist.Day{OATC: &cold})
			return err
		},
		"differences": func() error { checklist.Differences(list, other); return nil },
	} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				require.NoError(b, work())
			}
		})
	}
}
