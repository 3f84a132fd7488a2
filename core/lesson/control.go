package lesson

import (
	"fmt"
	"strings"

	"jetprimer/core/form"
)

// KindControlTaken says that the instructor took the control.
const KindControlTaken = "control-taken"

func init() {
	kinds[KindControlTaken] = func() payload { return new(controlTaken) }
	touches["control"] = (*touch).control
}

// controlTaken says that the instructor took the control, and why: level 0
// where it had to be, else 1.
type controlTaken struct {
	Item  string `json:"item"`
	Why   string `json:"why"`
	Level int    `json:"level"`
}

func (c *controlTaken) check() error {
	if strings.TrimSpace(c.Why) == "" {
		return form.Bad("payload.why", "must say why the control was taken")
	}
	if c.Level < 0 || c.Level > 1 {
		return form.Bad("payload.level", "must be 0 or 1")
	}
	if err := words("why", c.Why); err != nil {
		return err
	}
	return needItem(c.Item)
}

func (p *controlTaken) apply(f *fold, _ *held) {
	if s := f.item(p.Item); s != nil {
		s.control = append(s.control, Reason{
			"control-taken", p.Level, fmt.Sprintf("The instructor took the control: %s", p.Why),
		})
	}
}

// control is the instructor's hand on the controls: where it had to be, level 0.
func (t *touch) control() error {
	level := 1
	if t.mark.Level != nil {
		level = *t.mark.Level
	}
	if strings.TrimSpace(t.mark.Why) == "" {
		return form.Bad("why", "is not said yet: why the control was taken")
	}
	t.add(KindControlTaken, controlTaken{Item: t.mark.Item, Why: strings.TrimSpace(t.mark.Why), Level: level})
	return nil
}
