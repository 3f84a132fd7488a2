package bridge

import (
	"fmt"

	"jetprimer/core/aircraft"
	"jetprimer/core/calc"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/weather"
)

func finder(t aircraft.Type) aircraft.Finder {
	return func(id string) (aircraft.Type, bool) { return t, id == t.ID && id != "" }
}

func (b *Bridge) limits(t aircraft.Type) []check.Limits { return check.LimitSheet(t, b.units) }

// judge answers the verdict's own bytes.
func (b *Bridge) judge(name string, request Raw, t aircraft.Type) (Raw, error) {
	verdict, err := check.Run(name, []byte(request), finder(t))
	return Raw(verdict), err
}

// compute answers the answer's own bytes.
func (b *Bridge) compute(name string, request Raw, t aircraft.Type, icing []calc.IcingBand) (Raw, error) {
	answer, err := calc.Run(name, []byte(request), calc.Tables{Type: finder(t), Icing: icing})
	return Raw(answer), err
}

// show takes a reading, the same reading without a fault, and the conditions.
func (b *Bridge) show(name string, t aircraft.Type, reading, sound, conditions Raw,
	attempt int) (check.Reference, error) {
	def, known := check.Find(name)
	if !known {
		return check.Reference{}, fmt.Errorf("%q is no check", name)
	}
	var objects [3]map[string]any
	for i, text := range []Raw{reading, sound, conditions} {
		var err error
		if objects[i], err = form.ParseObject([]byte(text)); err != nil {
			return check.Reference{}, err
		}
	}
	at := check.Station{Type: t, Conditions: objects[2], Attempt: attempt}
	at.Units = b.units
	return def.Reference(at, objects[0], objects[1]), nil
}

func (b *Bridge) fresh() calc.TypedDay { return calc.FreshDay(b.units) }

func (b *Bridge) day(typed calc.TypedDay, t aircraft.Type, equipment []string, field weather.Aerodrome,
	icing []calc.IcingBand,
) calc.Sheet {
	typed.Units = b.units
	return calc.PlanDay(typed, t, equipment, field, icing)
}

func (b *Bridge) report(text string, place weather.Aerodrome) (checklist.Reported, error) {
	return checklist.FromReport(text, place, b.units)
}
