package checklist

// Exercise is what a lesson may be planned for: what planned(…) in a condition
// may ask for.
type Exercise struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	// After are the exercises that are flown before it.
	After []string `json:"after,omitempty"`
}

// Exercises are all that there are.
var Exercises = []Exercise{
	{ID: "circuits", Label: "circuits"}, {ID: "stalls", Label: "stalls"},
	{ID: "spins", Label: "spins", After: []string{"stalls"}}, {ID: "steep-turns", Label: "steep turns"},
	{ID: "navigation", Label: "navigation", After: []string{"circuits"}},
	{ID: "short-field", Label: "short field", After: []string{"circuits"}},
	{ID: "engine-failure", Label: "engine failure"},
	{ID: "external-power", Label: "start from external power"}, {ID: "hover", Label: "hover"},
	{ID: "autorotation", Label: "autorotation", After: []string{"hover"}},
}

// ExerciseIDs are their ids.
func ExerciseIDs() []string {
	ids := make([]string, len(Exercises))
	for i, e := range Exercises {
		ids[i] = e.ID
	}
	return ids
}

// ExerciseWords are exercises in words; what is none is left out.
func ExerciseWords(ids []string) []string {
	out := []string{}
	for _, e := range Exercises {
		for _, id := range ids {
			if id == e.ID {
				out = append(out, e.Label)
			}
		}
	}
	return out
}
