//go:build !lesson

package bridge

import (
	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/handbook"
)

// Described is an aircraft type as it is described so far, with readings to drag of each
// check that can be judged.
type Described struct {
	handbook.Sheet
	Examples map[string]SoundReading `json:"examples"`
}

// SoundReading is a reading without a fault, and the conditions that it is taken under.
type SoundReading struct {
	Reading    map[string]any `json:"reading"`
	Conditions map[string]any `json:"conditions"`
}

func (b *Bridge) sheet(t aircraft.Type, older *aircraft.Type) (Described, error) {
	out, err := handbook.SheetOf(t, older)
	if err != nil {
		return Described{}, err
	}
	examples := map[string]SoundReading{}
	for _, p := range out.Parts {
		if !p.Judged {
			continue
		}
		if reading, conditions, ok := check.Example(p.Check, t, nil, 0); ok {
			examples[p.Check] = SoundReading{reading, conditions}
		}
	}
	return Described{out, examples}, nil
}

func (b *Bridge) number(t aircraft.Type, edit handbook.Edit) (aircraft.Type, error) {
	return handbook.Apply(t, edit)
}

func (b *Bridge) have(t aircraft.Type, part string, has bool) (aircraft.Type, error) {
	return handbook.Have(t, part, has)
}

func (b *Bridge) askCheck(t aircraft.Type, name string, asked bool) (aircraft.Type, error) {
	return handbook.Ask(t, name, asked)
}
