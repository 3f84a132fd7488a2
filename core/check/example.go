package check

import (
	"encoding/json"
	"maps"
	"math"
	"slices"

	"jetprimer/core/aircraft"
)

// Example is a reading within the limits of a type, of one of its engines: what
// a reference page shows first, and what a sound aircraft reads. lean moves
// every number by so much of the room its limits leave, from -1 to 1; 0 lies
// in the middle. gauges are the ones to read where the check is gauges. The
// conditions are those without which the check could not be judged. It is false
// for a check that the type has no limits for.
func Example(name string, t aircraft.Type, gaugeNames []string, lean float64) (reading, conditions map[string]any,
	ok bool) {
	own, has := t.Limits[name]
	def, known := Find(name)
	if !has || !known {
		return nil, nil, false
	}
	data, err := json.Marshal(own)
	if err != nil {
		return nil, nil, false
	}
	var limits map[string]any
	if json.Unmarshal(data, &limits) != nil {
		return nil, nil, false
	}
	conditions = map[string]any{}
	maps.Copy(conditions, def.given)
	return def.example(sample{limits: limits, typ: t, gauges: gaugeNames, lean: math.Max(-1, math.Min(1, lean))}),
		conditions, true
}

// sample makes numbers that lie within limits.
type sample struct {
	limits map[string]any
	typ    aircraft.Type
	gauges []string
	lean   float64
}

func (s sample) limit(name string) float64 {
	v, _ := s.limits[name].(float64)
	return v
}

// between lies inside a band, at most a third of its half away from the middle,
// at a step.
func (s sample) between(low, high, step float64) float64 {
	v := (low+high)/2 + s.lean*(high-low)/6
	return math.Round(math.Round(v/step)*step*1000) / 1000
}

// within lies between two limits of the check.
func (s sample) within(low, high string, step float64) float64 {
	return s.between(s.limit(low), s.limit(high), step)
}

// object is a JSON object of names and values in turn.
func object(pairs ...any) map[string]any {
	out := map[string]any{}
	for i := 0; i < len(pairs); i += 2 {
		out[pairs[i].(string)] = pairs[i+1]
	}
	return out
}

// speed is the engine speed at which the type is run up, as its ignition check
// has it.
func (s sample) speed() float64 { return runUpSpeed(s.typ) }

// step is a step of the tachometer: so many rpm, or a tenth of a percent.
func (s sample) step(rpm float64) float64 {
	if s.typ.Tachometer == "percent" {
		return 0.1
	}
	return rpm
}

// runUpSpeed is the speed at which a type is run up, as its tachometer shows it.
func runUpSpeed(t aircraft.Type) float64 {
	if base, ok := ignitionSpeed(t); ok {
		return base
	}
	return 2000
}

// ignitionSpeed is the speed, as the type's tachometer shows it, of its ignition
// check.
func ignitionSpeed(t aircraft.Type) (float64, bool) {
	for _, check := range []string{"magneto", "lanes"} {
		if base, ok := asNumber(t.Limits[check]["base"]); ok {
			return base, true
		}
	}
	return 0, false
}

// start is a start at the first try.
func (s sample) start() map[string]any {
	return object("attempts", []any{
		object("crankSeconds", s.between(0, s.limit("crankMaxSeconds")*0.8, 1), "restSeconds", 0),
	}, "fired", true,
		"rpmPeak", s.between(s.limit("rpmMax")*0.75, s.limit("rpmMax"), s.step(10)), "secondsToOilPressure",
		s.between(0, s.limit("oilPressureSeconds")*0.7, 1),
		"starterLampOut", true, "chargeRestored", true)
}

// sides is the check of two ignitions, a little apart.
func (s sample) sides(first, second, afterFirst, afterSecond, one, other string) map[string]any {
	base, unit, step := s.limit("base"), "rpm", 1.0
	if s.typ.Tachometer == "percent" {
		unit, step = "percent", 0.1
	}
	drop := s.within("dropMin", "dropMax", step)
	r := object("unit", unit, "base", base, first, round(base-drop, step), afterFirst, base, second,
		round(base-drop+s.limit("differenceMax")/4, step), afterSecond, base)
	for _, side := range []string{one, other} {
		r["rough"+side], r["stopped"+side] = false, false
		if dwell := s.limit("dwellMinSeconds"); dwell > 0 {
			r["secondsHeld"+side] = dwell + 1
		}
	}
	return r
}

func round(v, step float64) float64 { return math.Round(math.Round(v/step)*step*1000) / 1000 }

// standardInHg is the pressure of the standard atmosphere at sea level.
const standardInHg = 29.92

// named reads gauges in their normal range.
func (s sample) named() map[string]any {
	r := map[string]any{}
	for name, limits := range s.limits {
		if len(s.gauges) > 0 && !slices.Contains(s.gauges, name) {
			continue
		}
		l, _ := limits.(map[string]any)
		one := sample{limits: l, lean: s.lean}
		low, high := "min", "max"
		if _, has := l["cautionMin"]; has {
			low = "cautionMin"
		}
		if _, has := l["cautionMax"]; has {
			high = "cautionMax"
		}
		if below, ofTheDay := l["belowAmbientMaxInHg"].(float64); ofTheDay { // on low ground, in the standard's air
			r[name] = one.between(standardInHg-below/2, standardInHg-below/5, 0.1)
			continue
		}
		step := 1.0
		if one.limit(high)-one.limit(low) < 12 {
			step = 0.1
		}
		r[name] = one.within(low, high, step)
	}
	return r
}
