package check

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
)

// Powers are the powers that a gauge's band may differ by.
var Powers = []string{"idle", "runUp", "fullPower", "hover"}

// PowerWords are the powers as they are said.
var PowerWords = map[string]string{"idle": "idle", "runUp": "run-up", "fullPower": "full power", "hover": "the hover"}

// bandsAt brings the limits of gauges to those of a power: a gauge's own band
// with what its band at that power says over it. Where no power is named the
// widest of its bands holds.
func bandsAt(limits map[string]any, power string) (map[string]any, error) {
	out := map[string]any{}
	for name, raw := range limits {
		band, isObject := raw.(map[string]any)
		at, differs := band["at"]
		if !isObject || !differs {
			out[name] = raw
			continue
		}
		bands, isObject := at.(map[string]any)
		if !isObject {
			return nil, form.Bad("limits."+name+".at", "must be an object of bands by power")
		}
		own := maps.Clone(band)
		delete(own, "at")
		all := []map[string]any{}
		whole := own["min"] != nil && own["max"] != nil
		if whole {
			all = append(all, own)
		}
		named := map[string]map[string]any{}
		for _, p := range slices.Sorted(maps.Keys(bands)) {
			path := "limits." + name + ".at." + form.Clip(p)
			over, isObject := bands[p].(map[string]any)
			switch {
			case !slices.Contains(Powers, p):
				return nil, form.Bad(path, "is no power; known: %s", strings.Join(Powers, ", "))
			case !isObject:
				return nil, form.Bad(path, "must be an object with the band")
			}
			for _, key := range slices.Sorted(maps.Keys(over)) {
				if !slices.ContainsFunc(gauges.NamedLimits.Each, func(f form.Field) bool { return f.Name == key }) {
					return nil, form.Bad(path+"."+form.Clip(key), "is no part of a gauge's band")
				}
			}
			one := maps.Clone(own)
			maps.Copy(one, over)
			named[p] = one
			all = append(all, one)
		}
		switch one := named[power]; {
		case one != nil:
			all = []map[string]any{one}
		case power != "" && whole:
			all = []map[string]any{own}
		}
		if len(all) == 0 {
			return nil, form.Bad("limits."+name+".at", "names no band")
		}
		out[name] = widest(all)
	}
	return out, nil
}

// widest is a band that holds all of the bands; an edge that one of them does
// not have is open.
func widest(all []map[string]any) map[string]any {
	out := maps.Clone(all[0])
	for _, band := range all[1:] {
		for _, edge := range []struct {
			name string
			low  bool
		}{{"min", true}, {"cautionMin", true}, {"cautionMax", false}, {"max", false}, {"belowAmbientMaxInHg", false}} {
			have, known := asNumber(out[edge.name])
			other, given := asNumber(band[edge.name])
			switch {
			case known && !given && edge.name != "min" && edge.name != "max":
				delete(out, edge.name)
			case given && known && (other < have) == edge.low && other != have:
				out[edge.name] = band[edge.name]
			}
		}
		if have, _ := asNumber(out["timedMax"]); band["timedMax"] != nil {
			if other, _ := asNumber(band["timedMax"]); other > have {
				for _, name := range []string{"timedMax", "timedSeconds", "belowKt"} {
					out[name] = band[name]
				}
			}
		}
	}
	return out
}

// At is a type whose gauges' limits are those of an item: the bands of its power,
// the minimums to reach before the power that it raises to, and for the gauge
// that the day limits no more than the day's limit.
type At struct {
	Power string
	// Raises names what the type's minimums are waited for.
	Raises string
	// DayLimit is the limit of the day in Unit; nil where there is none, or where
	// it is not known: Unknown says why.
	DayLimit *float64
	Unknown  string
	Unit     string
	Gauges   []string
}

// Of is the type at the item.
func (a At) Of(t aircraft.Type) aircraft.Type {
	own := t.Limits[gauges.Name]
	if own == nil {
		return t
	}
	bands, err := bandsAt(own, a.Power)
	if err != nil {
		return t // the type's data are checked where they come in
	}
	change := func(name string, with func(band map[string]any)) {
		if band, known := bands[name].(map[string]any); known {
			band = maps.Clone(band)
			with(band)
			bands[name] = band
		}
	}
	for _, m := range t.Minimums {
		if a.Raises != "" && m.Before == a.Raises {
			change(m.Gauge, func(band map[string]any) {
				band["cautionMin"], band["lowDecision"] = m.Value, "warm-up"
				if least, known := asNumber(band["min"]); known && least > m.Value {
					band["min"] = m.Value
				}
			})
		}
	}
	for _, g := range t.Gauges {
		if a.DayLimit == nil && a.Unknown == "" || g.Unit != a.Unit || !slices.Contains(a.Gauges, g.ID) {
			continue
		}
		change(g.ID, func(band map[string]any) {
			if a.DayLimit == nil {
				band["dayLimitUnknown"] = a.Unknown
				return
			}
			for _, edge := range []string{"min", "cautionMin", "cautionMax", "max", "timedMax"} {
				if v, known := asNumber(band[edge]); known && v > *a.DayLimit {
					band[edge] = *a.DayLimit
				}
			}
		})
	}
	t.Limits = maps.Clone(t.Limits)
	t.Limits[gauges.Name] = bands
	return t
}

// gaugeWords is a gauge's own name and unit in a sentence, such as “oil
// pressure”; its id where no type is known.
func gaugeWords(t *aircraft.Type, id string) (label, unit string) {
	if t != nil {
		for _, g := range t.Gauges {
			if g.ID == id {
				return g.Label, g.Unit
			}
		}
	}
	return id, ""
}

// nameWords is what is read or compared under a name: a gauge, or a value that a
// check computed, such as “left drop” of leftDrop.
func nameWords(t *aircraft.Type, id string) (label, unit string) {
	if label, unit = gaugeWords(t, id); label == id {
		label = spaced(id)
	}
	return label, unit
}

// NameWords are the label and unit of a gauge of a type, or of what the check
// compares under a name.
func (d Definition) NameWords(t aircraft.Type, id string) (label, unit string) {
	return nameWords(&t, id)
}

// withUnit is a number and its unit as they stand in a sentence.
func withUnit(number fmt.Stringer, unit string) string {
	switch unit {
	case "":
		return number.String()
	case "%":
		return number.String() + " %"
	}
	return number.String() + " " + unit
}
