package lesson

import "jetprimer/core/form"

// KindOral is a question that was asked, and how it was answered.
const KindOral = "oral"

func init() {
	kinds[KindOral] = func() payload { return new(oral) }
	touches["oral"] = (*touch).oral
}

type oral struct {
	Item     string `json:"item,omitempty"`
	Question string `json:"question"`
	// Bank is the id of a question of the bank, Elements what it shows; without
	// them the question shows its item's own.
	Bank     string   `json:"bank,omitempty"`
	Elements []string `json:"elements,omitempty"`
	Level    int      `json:"level"`
}

func (o *oral) check() error {
	if o.Level < 0 || o.Level > 4 {
		return form.Bad("payload.level", "must be 0 to 4")
	}
	if len(o.Elements) > 16 || len(o.Bank) > 64 {
		return form.Bad("payload.elements", "are at most 16, and bank at most 64 characters")
	}
	return words("question", o.Question)
}

func (p *oral) apply(f *fold, h *held) {
	f.state.Orals = append(f.state.Orals, Oral{h.ID, p.Item, p.Question, p.Bank, p.Elements, p.Level})
}

func (t *touch) oral() error {
	if t.mark.Level == nil {
		return form.Bad("level", "is not chosen yet")
	}
	t.add(KindOral, oral{
		Item: t.mark.Item, Question: t.mark.Words, Bank: t.mark.Bank, Elements: t.mark.Elements, Level: *t.mark.Level,
	})
	return nil
}
