package lesson

import (
	"slices"
	"strings"

	"jetprimer/core/form"
)

// KindPractice says where the lesson is worked: in the aircraft or on a simulator.
const KindPractice = "practice-place"

func init() {
	kinds[KindPractice] = func() payload { return new(practice) }
	touches["practice"] = func(t *touch) error { t.add(KindPractice, practice{t.mark.Place}); return nil }
}

// Places of practice.
var Practices = []string{"aircraft", "stand", "other-simulator"}

type practice struct {
	Place string `json:"place"`
}

func (p *practice) check() error {
	if !slices.Contains(Practices, p.Place) {
		return form.Bad("payload.place", "must be one of %s", strings.Join(Practices, ", "))
	}
	return nil
}

func (p *practice) apply(f *fold, _ *held) {
	f.state.Practice = p.Place
}
