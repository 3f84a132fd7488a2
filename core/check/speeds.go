package check

import "jetprimer/core/form"

// Speeds are the engine or rotor speeds of a reading as the tachometer shows
// them, in the order in which they were read; none where it holds none.
func (d Definition) Speeds(at Station, reading map[string]any) []float64 {
	t := d.tachometer(reading, &at.Type)
	if shown := at.Type.Tachometer; shown != "" && t.Unit != shown {
		return nil
	}
	plain := d.plain(at, reading)
	var out []float64
	for _, f := range d.Fields {
		if f.Kind != form.Number || t.UnitOf(f) != t.Unit || f.Unit != form.Speed && f.Unit != t.Unit {
			continue
		}
		if v := drawn(plain[f.Name]); v != nil {
			out = append(out, *v)
		}
	}
	return out
}
