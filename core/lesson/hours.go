package lesson

import (
	"slices"
	"strings"

	"jetprimer/core/form"
)

// KindHourMeter is what a meter of the aircraft showed.
const KindHourMeter = "hour-meter"

func init() {
	kinds[KindHourMeter] = func() payload { return new(hourMeter) }
	touches["hours"] = (*touch).hours
}

// Meters are what counts an aircraft's hours.
var Meters = []string{"hour", "tacho"}

type hourMeter struct {
	Meter string  `json:"meter"`
	When  string  `json:"when"`
	Value float64 `json:"value"`
}

func (h *hourMeter) check() error {
	switch {
	case !slices.Contains(Meters, h.Meter):
		return form.Bad("payload.meter", "must be one of %s", strings.Join(Meters, ", "))
	case h.When != "start" && h.When != "end":
		return form.Bad("payload.when", "must be start or end")
	case h.Value < 0 || h.Value > 99_999:
		return form.Bad("payload.value", "must be 0 to 99999 hours")
	}
	return nil
}

func (p *hourMeter) apply(f *fold, _ *held) {
	f.state.HourMeter = append(slices.DeleteFunc(f.state.HourMeter, func(o Hours) bool {
		return o.Meter == p.Meter && o.When == p.When
	}), Hours{p.Meter, p.When, p.Value})
}

// hours keeps a value read off an hour meter; the end is not below the start.
func (t *touch) hours() error {
	m := t.mark
	if m.Hours == nil {
		return form.Bad("hours", "is not read yet")
	}
	for _, h := range t.state.HourMeter {
		if h.Meter == m.Meter &&
			(m.When == "end" && h.When == "start" && *m.Hours < h.Value || m.When == "start" && h.When == "end" &&
				*m.Hours > h.Value) {
			return form.Bad("hours", "would make the meter run backwards: it was read as %g at the %s", h.Value, h.When)
		}
	}
	t.add(KindHourMeter, hourMeter{Meter: m.Meter, When: m.When, Value: *m.Hours})
	t.events[len(t.events)-1].V = 2
	return nil
}
