package lesson

import (
	"strings"

	"jetprimer/core/form"
)

// KindSelfGrade is how the student saw the phases.
const KindSelfGrade = "self-grade"

func init() {
	kinds[KindSelfGrade] = func() payload { return new(selfGrade) }
	touches["self-grade"] = func(t *touch) error {
		t.add(KindSelfGrade, selfGrade{t.mark.Levels, strings.TrimSpace(t.mark.Words)})
		return nil
	}
}

// selfGrade is how the student saw each phase, before seeing how the instructor
// did: levels by phase.
type selfGrade struct {
	Levels map[string]int `json:"levels"`
	Words  string         `json:"words,omitempty"`
}

func (g *selfGrade) check() error {
	if len(g.Levels) == 0 || len(g.Levels) > 64 {
		return form.Bad("payload.levels", "must grade 1 to 64 phases")
	}
	for phase, level := range g.Levels {
		if len(phase) > 64 || level < 0 || level > 4 {
			return form.Bad("payload.levels", "must be 0 to 4 for each phase")
		}
	}
	return words("words", g.Words)
}

func (p *selfGrade) apply(f *fold, _ *held) {
	f.state.Self = &Self{p.Levels, p.Words}
}

// OfStudent reports whether events of a kind are made by the student of a
// lesson, and by nobody else.
func OfStudent(kind string) bool { return kind == KindSelfGrade }
