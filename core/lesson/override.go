package lesson

import (
	"strings"

	"jetprimer/core/form"
)

// KindOverride is a level that the instructor gave in the place of the proposed one.
const KindOverride = "grade-override"

func init() {
	kinds[KindOverride] = func() payload { return new(override) }
	touches["override"] = (*touch).override
}

type override struct {
	Item   string `json:"item"`
	Level  int    `json:"level"`
	Reason string `json:"reason"`
}

func (o *override) check() error {
	if o.Level < 0 || o.Level > 4 {
		return form.Bad("payload.level", "must be 0 to 4")
	}
	if strings.TrimSpace(o.Reason) == "" {
		return form.Bad("payload.reason", "must say why the proposed level does not stand")
	}
	if err := words("reason", o.Reason); err != nil {
		return err
	}
	return needItem(o.Item)
}

func (p *override) apply(f *fold, h *held) {
	if s := f.item(p.Item); s != nil {
		s.override = &Override{p.Level, p.Reason, h.By}
	}
}

func (t *touch) override() error {
	switch {
	case t.mark.Level == nil:
		return form.Bad("level", "is not chosen yet")
	case strings.TrimSpace(t.mark.Why) == "":
		return form.Bad("why", "is not given yet: say why the proposed level does not stand")
	}
	t.add(KindOverride, override{Item: t.mark.Item, Level: *t.mark.Level, Reason: strings.TrimSpace(t.mark.Why)})
	return nil
}
