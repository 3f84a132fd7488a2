package lesson

import (
	"slices"
	"strings"

	"jetprimer/core/form"
)

// KindCorrection is a mark that should stand in the place of a signed one.
const KindCorrection = "correction"

func init() {
	kinds[KindCorrection] = func() payload { return new(correction) }
	touches["correct"] = (*touch).correct
}

// correction is what should stand in the place of a signed mark. It is made after
// the signature and signed by itself; what was signed first stays beside it.
type correction struct {
	Item string `json:"item"`
	// Mark is one of CorrectMarks. Level is what it stands for, where that is not
	// the mark's usual one.
	Mark  string `json:"mark"`
	Level *int   `json:"level,omitempty"`
	Why   string `json:"why"`
}

// CorrectMarks are the marks that a correction can put in the place of another.
var CorrectMarks = []string{
	"done", "prompted", "helped", "wrong", "self-fixed", "late", "out-of-order", "left-out", "unsafe", "not-fitted",
	"shown",
}

// markLevel is the level that a mark stands for; those that are not named have
// none. What was left out is 0 where it is critical.
var markLevel = map[string]int{
	"done": 4, "prompted": 2, "helped": 1, "wrong": 1, "self-fixed": 3, "late": 3, "out-of-order": 3, "left-out": 1,
	"unsafe": 0,
}

func (c *correction) check() error {
	switch {
	case !slices.Contains(CorrectMarks, c.Mark):
		return form.Bad("payload.mark", "must be one of %s", strings.Join(CorrectMarks, ", "))
	case c.Level != nil && (*c.Level < 0 || *c.Level > 4):
		return form.Bad("payload.level", "must be 0 to 4")
	case c.Level != nil && (c.Mark == "not-fitted" || c.Mark == "shown"):
		return form.Bad("payload.level", "does not go with %s, which has none", c.Mark)
	case !hasWord(c.Why):
		return form.Bad("payload.why", "must say in words why the mark does not stand")
	}
	if err := words("why", c.Why); err != nil {
		return err
	}
	return needItem(c.Item)
}

func (*correction) apply(*fold, *held) {}

// Correction is a mark that should stand in the place of a signed one.
type Correction struct {
	Event string `json:"event"`
	Item  string `json:"item"`
	Mark  string `json:"mark"`
	Level *int   `json:"level"`
	Why   string `json:"why"`
	By    string `json:"by,omitempty"`
	// Signed says that a signature covers it: until then the first result stands.
	Signed bool  `json:"signed"`
	AtMs   int64 `json:"atMs"`
}

// First is what was signed of an item before it was corrected.
type First struct {
	Mark  string `json:"mark"`
	Level *int   `json:"level"`
	// Why says why it does not stand, By who corrected it.
	Why string `json:"why"`
	By  string `json:"by,omitempty"`
}

// correct notes a correction; what is of no item of the list corrects nothing.
func (f *fold) correct(h *held, p *correction, signed bool) {
	at, listed := f.index[p.Item]
	if !listed {
		return
	}
	level := p.Level
	if usual, has := markLevel[p.Mark]; has && level == nil {
		if p.Mark == "left-out" && f.places[at].Item.Critical {
			usual = 0
		}
		level = &usual
	}
	f.state.Corrections = append(f.state.Corrections, Correction{
		h.ID, p.Item, p.Mark, level, p.Why, h.By, signed, h.AtMs,
	})
}

// Corrected is a signed state with what its signed corrections put in the place
// of what was signed first; of several on one item the latest stands, and the first
// result stays beside it.
func (s State) Corrected(corrections []Correction) State {
	s.Corrections = corrections
	if !slices.ContainsFunc(corrections, func(c Correction) bool { return c.Signed }) {
		return s
	}
	s.Items, s.Phases = slices.Clone(s.Items), slices.Clone(s.Phases)
	for i := range s.Items {
		item := &s.Items[i]
		for _, c := range corrections {
			if c.Item != item.ID || !c.Signed {
				continue
			}
			first := First{Mark: item.Mark, Level: item.Level}
			if item.First != nil {
				first = *item.First
			}
			first.Why, first.By = c.Why, c.By
			item.Mark, item.Level, item.First, item.Implied = c.Mark, c.Level, &first, false
		}
	}
	for p := range s.Phases {
		s.Phases[p].Levels = [5]int{}
		for _, item := range s.Items {
			if item.Phase == s.Phases[p].ID && item.Level != nil {
				s.Phases[p].Levels[*item.Level]++
			}
		}
	}
	return s
}

// correct is a correction of a signed lesson.
func (t *touch) correct() error {
	switch {
	case len(t.state.Seals) == 0:
		return form.Bad("name", "corrects what was signed; before the signature the mark itself is changed")
	case !slices.Contains(CorrectMarks, t.mark.Code):
		return form.Bad("code", "is not chosen yet: the mark that should stand")
	case !hasWord(t.mark.Why):
		return form.Bad("why", "is not said yet in words: why the signed mark does not stand")
	}
	t.add(KindCorrection, correction{
		Item: t.mark.Item, Mark: t.mark.Code, Level: t.mark.Level, Why: strings.TrimSpace(t.mark.Why),
	})
	return nil
}
