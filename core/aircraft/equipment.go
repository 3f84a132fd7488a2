package aircraft

import (
	"maps"
	"slices"
)

// With is the type as an aircraft of it is that has some of the optional equipment:
// the limits of what is fitted lie over the type's own, field by field, those of
// gauges band by band. It says nothing of equipment any more that limits anything.
func (t Type) With(fitted []string) Type {
	if !slices.ContainsFunc(t.Equipment, func(e Equipment) bool { return e.Limits != nil }) {
		return t
	}
	own := t.Limits
	t.Equipment, t.Limits = slices.Clone(t.Equipment), map[string]map[string]any{}
	maps.Copy(t.Limits, own)
	for i, e := range t.Equipment {
		t.Equipment[i].Limits = nil
		if !slices.Contains(fitted, e.ID) {
			continue
		}
		for name, over := range e.Limits {
			t.Limits[name] = overlaid(t.Limits[name], over)
		}
	}
	return t
}

// overlaid is an object with another laid over it, member by member and level by level.
func overlaid(own, over map[string]any) map[string]any {
	out := maps.Clone(own)
	if out == nil {
		out = map[string]any{}
	}
	for name, value := range over {
		below, isObject := out[name].(map[string]any)
		inner, overIsObject := value.(map[string]any)
		if isObject && overIsObject {
			value = overlaid(below, inner)
		}
		out[name] = value
	}
	return out
}

// MostLimiting bounds how much of a type's equipment may have limits of its own.
const MostLimiting = 4

// Limiting lists the optional equipment that has limits of its own for a check.
func (t Type) Limiting(check string) []string {
	var out []string
	for _, e := range t.Equipment {
		if e.Limits[check] != nil && len(out) < MostLimiting {
			out = append(out, e.ID)
		}
	}
	return out
}
