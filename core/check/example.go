package check

import (
	"encoding/json"
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
func Example(name string, t aircraft.Type, gaugeNames []string, lean float64) (reading, conditions map[string]any, ok bool) {
	own, known := t.Limits[name]
	if !known {
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
	s := sample{limits: limits, typ: t, gauges: gaugeNames, lean: math.Max(-1, math.Min(1, lean))}
	reading = s.reading(name)
	conditions = map[string]any{}
	switch name {
	case "altimeter":
		conditions["elevationFt"], conditions["qnhHPa"] = 412, 1013
	case "database":
		conditions["date"] = "2026-11-24"
	}
	return reading, conditions, reading != nil
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

func (s sample) reading(name string) map[string]any {
	switch name {
	case "battery":
		return object("volts", s.between(s.limit("startMin"), s.limit("startMin")*1.06, 0.1))
	case "piston-start", "diesel-start":
		return s.start(name)
	case "turbine-start":
		return object("batteryVolts", s.between(s.limit("batteryMinVolts"), s.limit("batteryMinVolts")+2, 0.1), "tailwindKt", 0,
			"fuelAtSpoolPercent", s.between(s.limit("fuelSpoolMinPercent"), s.limit("fuelSpoolMinPercent")+3, 0.1),
			"fuelAtTempC", s.between(0, s.limit("fuelTempMaxC"), 5), "lightOffSeconds", s.between(0, s.limit("lightOffMaxSeconds"), 0.1),
			"peakTempC", s.between(s.limit("tempLimitC")-120, s.limit("tempLimitC"), 5), "secondsAboveLimit", 0, "spoolAlwaysRising", true,
			"secondsToIdle", s.between(s.limit("toIdleMaxSeconds")/3, s.limit("toIdleMaxSeconds"), 1),
			"idleSpoolPercent", s.within("idleMinPercent", "idleMaxPercent", 0.1), "oilPressureAtIdle", true)
	case "clutch":
		return object("bladesTurningSeconds", s.between(0, s.limit("bladesTurningMax"), 0.5), "lampOutSeconds", s.between(s.limit("lampOutMax")/3, s.limit("lampOutMax"), 1))
	case "altimeter":
		return object("altimeters", []any{object("setting", 1013, "indicatedFt", s.between(412-s.limit("toleranceFt"), 412+s.limit("toleranceFt"), 10))})
	case "heading":
		return object("compassDeg", 200, "indicatorDeg", s.between(200-s.limit("toleranceDeg"), 200+s.limit("toleranceDeg"), 1), "runwayDeg", 200)
	case "database":
		return object("expires", "2026-12-24")
	case "magneto":
		return s.sides("left", "right", "bothAfterLeft", "bothAfterRight", "Left", "Right")
	case "lanes":
		r := s.sides("a", "b", "bothAfterA", "bothAfterB", "A", "B")
		r["lampOnA"], r["lampOutA"], r["lampOnB"], r["lampOutB"] = true, true, true, true
		return r
	case "control-unit":
		return object("engineStopped", false, "lampSequenceComplete", true, "rpmSwing", s.between(0, s.limit("rpmSwingMax"), 10), "propellerCycled", true, "lampsOut", true)
	case "carb-heat":
		base := s.speed()
		return object("base", base, "hot", base-s.within("dropMin", "dropMax", 10), "coldAfter", base)
	case "mixture-peak":
		rise := s.limit("riseMin") + 20
		return object("startRPM", s.speed(), "peakRPM", s.speed()+rise, "setRPM", s.speed()+rise-s.within("enrichMin", "enrichMax", 10), "setSide", "rich")
	case "propeller":
		return object("base", s.speed(), "low", s.speed()-s.within("dropMin", "dropMax", 10), "manifoldRose", true, "oilPressureDipped", true, "after", s.speed(), "cycles", s.limit("cyclesMin"))
	case "governor-hold":
		rpm := s.limit("governingMinRPM") + 200
		return object("rpmBefore", rpm, "manifoldBeforeInHg", 20, "manifoldAfterInHg", 20+s.limit("manifoldStepMinInHg")+1, "rpmAfter", s.between(rpm-s.limit("rpmTolerance"), rpm+s.limit("rpmTolerance"), 10))
	case "feather":
		return object("base", 1500, "low", 1500-s.within("dropMin", "dropMax", 10), "after", 1500)
	}
	return s.later(name)
}

// later are the checks from the rotor's on to shutdown.
func (s sample) later(name string) map[string]any {
	switch name {
	case "needle-split":
		return object("splitPercent", s.between(s.limit("splitMin"), s.limit("splitMin")+6, 1))
	case "deceleration":
		return object("startSpoolPercent", s.between(s.limit("startMin"), s.limit("startMin")+2, 0.1), "seconds", s.between(s.limit("secondsMin"), s.limit("secondsMin")+2, 0.1), "flamedOut", false)
	case "hydraulics":
		return object("stiffWhenOff", true, "freeWhenOn", true, "residualPull", false)
	case "low-rotor-warning":
		on := s.within("onMin", "onMax", 0.5)
		return object("onAtPercent", on, "offAtPercent", s.between(on, s.limit("onMax"), 0.5))
	case "suction":
		return object("inHg", s.within("min", "max", 0.1))
	case "charging":
		side := object("volts", s.within("voltsMin", "voltsMax", 0.1), "amps", s.between(s.limit("ampsMin")+2, s.limit("ampsMin")+20, 1))
		sides := []any{side}
		if s.typ.Engines > 1 {
			sides = append(sides, side)
		}
		return object("meter", "battery", "sides", sides)
	case "fuel-pressure":
		low := math.Max(s.limit("idleMin"), math.Max(s.limit("runUpMin"), s.limit("fullPowerMin")))
		p := s.between(low, s.limit("max"), 1)
		r := object("idle", p, "runUp", p)
		if _, has := s.limits["fullPowerMin"]; has {
			r["fullPower"] = math.Max(low, p-s.limit("sagMax")/2)
		}
		return r
	case "gauges":
		return s.named()
	case "engines-differ":
		r := map[string]any{}
		for pair, limits := range s.limits {
			apart, _ := limits.(map[string]any)["apartMax"].(float64)
			r[pair] = object("left", 4*apart, "right", s.between(3.5*apart, 4.5*apart, 0.1))
		}
		return r
	case "idle":
		return object("rpm", s.within("min", "max", 10), "seconds", s.limit("seconds")+1, "stopped", false)
	case "static-rpm":
		return object("rpm", s.within("min", "max", 10))
	case "idle-mixture":
		return object("idleRPM", 700, "peakRPM", 700+s.within("riseMin", "riseMax", 10))
	case "dead-cut":
		return object("ranOnAtOff", false, "fellAtOff", true)
	}
	return nil
}

// object is a JSON object of names and values in turn.
func object(pairs ...any) map[string]any {
	out := map[string]any{}
	for i := 0; i < len(pairs); i += 2 {
		out[pairs[i].(string)] = pairs[i+1]
	}
	return out
}

// speed is the engine speed at which the type is run up.
func (s sample) speed() float64 {
	if s.typ.Tachometer == "percent" {
		return 2000
	}
	for _, check := range []string{"magneto", "lanes"} {
		switch base := s.typ.Limits[check]["base"].(type) {
		case float64:
			return base
		case int:
			return float64(base)
		case uint64:
			return float64(base)
		}
	}
	return 2000
}

// start is a start at the first try.
func (s sample) start(name string) map[string]any {
	r := object("attempts", []any{object("crankSeconds", s.between(0, s.limit("crankMaxSeconds")*0.8, 1), "restSeconds", 0)}, "fired", true,
		"rpmPeak", s.between(s.limit("rpmMax")*0.75, s.limit("rpmMax"), 10), "secondsToOilPressure", s.between(0, s.limit("oilPressureSeconds")*0.7, 1),
		"starterLampOut", true, "chargeRestored", true)
	if name == "diesel-start" {
		r["glowLampOut"] = true
	}
	return r
}

// sides is the check of two ignitions, a little apart.
func (s sample) sides(first, second, afterFirst, afterSecond, one, other string) map[string]any {
	base, unit, step := s.limit("base"), "rpm", 1.0
	if s.typ.Tachometer == "percent" {
		unit, step = "percent", 0.1
	}
	drop := s.within("dropMin", "dropMax", step)
	r := object("unit", unit, "base", base, first, round(base-drop, step), afterFirst, base, second, round(base-drop+s.limit("differenceMax")/4, step), afterSecond, base)
	for _, side := range []string{one, other} {
		r["rough"+side], r["stopped"+side] = false, false
		if dwell := s.limit("dwellMinSeconds"); dwell > 0 {
			r["secondsHeld"+side] = dwell + 1
		}
	}
	return r
}

func round(v, step float64) float64 { return math.Round(math.Round(v/step)*step*1000) / 1000 }

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
		step := 1.0
		if one.limit(high)-one.limit(low) < 12 {
			step = 0.1
		}
		r[name] = one.within(low, high, step)
	}
	return r
}
