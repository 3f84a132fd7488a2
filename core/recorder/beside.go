package recorder

import (
	"math"
	"strconv"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/form"
)

// Beside is one number of a check as the recorder has it beside what was typed. Of a
// number that falls from another it is the drop.
type Beside struct {
	Label    string `json:"label"`
	Unit     string `json:"unit,omitempty"`
	Recorded string `json:"recorded"`
	// Typed and Differs are empty where nothing was typed.
	Typed   string `json:"typed,omitempty"`
	Differs string `json:"differs,omitempty"`
	// Apart says that the two differ by more than an instrument is read off to.
	Apart bool `json:"apart"`
}

// apartSteps is by how many steps of its field two readings of a number may differ
// and still be read off the same instrument: 25 rpm of a magneto check.
const apartSteps = 2.5

// Compare sets what was measured beside what was typed, if anything was, number by
// number in the order of the check.
func (m Measured) Compare(typed map[string]any, tachometer string) []Beside {
	def, known := check.Find(m.Check)
	if !known {
		return nil
	}
	out := []Beside{}
	for _, f := range def.Fields {
		recorded, has := shown(f, m.Reading)
		if f.Kind != form.Number || !has {
			continue
		}
		b := Beside{Label: f.Label, Unit: f.Unit, Recorded: decimal(recorded, f.Decimals)}
		if f.DropsFrom != "" {
			b.Label += ", drop"
		}
		if f.Unit == form.Speed {
			b.Unit = form.TachometerIn(tachometer).Unit
		}
		if v, has := shown(f, typed); has {
			b.Typed, b.Differs = decimal(v, f.Decimals), decimal(recorded-v, f.Decimals)
			if recorded > v {
				b.Differs = "+" + b.Differs
			}
			b.Apart = math.Abs(recorded-v) > apartSteps*max(f.Step, math.Pow10(-f.Decimals))
		}
		out = append(out, b)
	}
	return out
}

// shown is the number of a field in a reading: the drop where it falls from another.
func shown(f form.Field, reading map[string]any) (float64, bool) {
	v := aircraft.Number(reading[f.Name])
	if f.DropsFrom != "" {
		if from := aircraft.Number(reading[f.DropsFrom]); v >= from/2 {
			v = from - v
		}
	}
	return v, !math.IsNaN(v)
}

func decimal(v float64, decimals int) string {
	text := strconv.FormatFloat(v, 'f', decimals, 64)
	if text == "-0" {
		return "0"
	}
	return text
}
