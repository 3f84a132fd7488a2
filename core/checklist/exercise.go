package checklist

// Exercise is what a lesson may be planned for: what planned(…) in a condition
// may ask for.
type Exercise struct {
	ID    string `json:"id"`
	Label string `json:"label"`
}

// Exercises are all that there are.
var Exercises = []Exercise{
	{"circuits", "circuits"}, {"stalls", "stalls"}, {"spins", "spins"}, {"steep-turns", "steep turns"}, {"navigation", "navigation"}, {"short-field", "short field"},
	{"engine-failure", "engine failure"}, {"external-power", "start from external power"}, {"hover", "hover"}, {"autorotation", "autorotation"},
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
