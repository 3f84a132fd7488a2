package lesson

import (
	"maps"

	"jetprimer/core/form"
)

// KindConditions says that conditions of the day have changed.
const KindConditions = "conditions-changed"

func init() {
	kinds[KindConditions] = func() payload { return new(conditionsChanged) }
	touches["conditions"] = (*touch).conditions
}

// conditionsChanged says what has become another since the lesson was opened:
// what it does not name stays.
type conditionsChanged struct {
	Conditions map[string]any `json:"conditions"`
}

func (c *conditionsChanged) check() error {
	if len(c.Conditions) == 0 {
		return form.Bad("payload.conditions", "must say what has changed")
	}
	return conditionsHold(c.Conditions)
}

func (p *conditionsChanged) apply(f *fold, _ *held) {
	maps.Copy(f.state.Conditions, p.Conditions)
}

func (t *touch) conditions() error {
	if typed := t.mark.Day; typed != nil {
		conditions, err := typed.Conditions()
		if err != nil {
			return err
		}
		t.mark.Conditions = conditions
	}
	t.add(KindConditions, conditionsChanged{t.mark.Conditions})
	return nil
}
