package lesson

import (
	"fmt"
	"slices"
	"strings"

	"jetprimer/core/form"
)

const (
	// KindNote is a note of the lesson.
	KindNote = "note"
	// KindDebriefNote is a comment of the debrief.
	KindDebriefNote = "debrief-note"
	// KindAddendum is a comment on a signed lesson.
	KindAddendum = "addendum"
)

func init() {
	kinds[KindNote] = func() payload { return new(note) }
	kinds[KindDebriefNote] = func() payload { return new(note) }
	kinds[KindAddendum] = func() payload { return new(note) }
	touches["note"] = func(t *touch) error { return t.note(KindNote) }
	touches["brief"] = (*touch).brief
	touches["comment"] = (*touch).comment
}

type note struct {
	Item  string `json:"item,omitempty"`
	Words string `json:"words"`
}

func (n *note) check() error {
	if strings.TrimSpace(n.Words) == "" {
		return form.Bad("payload.words", "must not be empty")
	}
	return words("words", n.Words)
}

func (p *note) apply(f *fold, h *held) {
	n := Note{h.ID, p.Item, p.Words, h.AtMs}
	if h.Kind == KindNote {
		f.state.Notes = append(f.state.Notes, n)
	} else {
		f.state.Debrief = append(f.state.Debrief, n)
	}
}

func (t *touch) note(kind string) error {
	t.add(kind, note{Item: t.mark.Item, Words: strings.TrimSpace(t.mark.Words)})
	return nil
}

// brief notes which elements of a spoken brief were heard.
func (t *touch) brief() error {
	elements := BriefElements(t.book.Type)
	var missed []string
	heard := 0
	for _, e := range elements {
		if slices.Contains(t.mark.Heard, e.ID) {
			heard++
		} else {
			missed = append(missed, e.Label)
		}
	}
	words := fmt.Sprintf("Brief: %d of %d heard.", heard, len(elements))
	if len(missed) > 0 {
		words = fmt.Sprintf("Brief: %d of %d heard; not heard: %s.", heard, len(elements), strings.Join(missed, ", "))
	}
	t.add(KindNote, note{Item: t.mark.Item, Words: words})
	return nil
}

// comment is a note of the debrief, and an addendum once the lesson is signed.
func (t *touch) comment() error {
	kind := KindDebriefNote
	if len(t.state.Seals) > 0 {
		kind = KindAddendum
	}
	return t.note(kind)
}
