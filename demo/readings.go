package demo

import (
	"math"
	"time"

	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
)

// about is a reading near a value, at a step.
func (f *flight) about(value, spread, step float64) float64 {
	v := value + spread*(2*f.random.Float64()-1)
	return math.Round(math.Round(v/step)*step*100) / 100
}

// read enters the reading of a measured item, as the aircraft is on that day.
func (f *flight) read(item checklist.Item, day time.Time) {
	reading := func(values fields) string {
		return f.add(lesson.KindReading, fields{"item": item.ID, "check": item.Check, "engine": 1, "reading": values})
	}
	switch item.Check {
	case "piston-start":
		crank := f.about(4, 2, 1)
		if f.skill < 0 {
			crank = f.about(8, 4, 1)
		}
		reading(fields{"attempts": []fields{{"crankSeconds": crank, "restSeconds": 0}}, "fired": true, "rpmPeak": f.about(1080, 90, 50),
			"secondsToOilPressure": f.about(8, 4, 1), "starterLampOut": true, "chargeRestored": true})
	case "altimeter":
		reading(fields{"altimeters": []fields{{"setting": f.qnh, "indicatedFt": f.about(420, 30, 10)}}})
	case "magneto":
		f.magnetos(reading, item, day)
	case "carb-heat":
		base := 1750.0
		reading(fields{"base": base, "hot": base - f.about(95, 25, 10), "coldAfter": base})
	case "suction":
		reading(fields{"inHg": f.about(4.9, 0.2, 0.1)})
	case "charging":
		reading(fields{"meter": "battery", "sides": []fields{{"volts": f.about(14, 0.3, 0.1), "amps": f.about(8, 5, 1)}}})
	case "gauges":
		typical := map[string][3]float64{"oilPressure": {72, 10, 1}, "oilTemperature": {62, 12, 1}, "fuelPressure": {4, 1, 0.5}}
		values := fields{}
		for _, name := range item.Gauges {
			t := typical[name]
			values[name] = f.about(t[0], t[1], t[2])
		}
		reading(values)
	case "idle":
		reading(fields{"rpm": f.about(640, 50, 10), "seconds": f.about(6, 1, 1), "stopped": false})
	}
}

// magnetos: the right magneto of QZ-AAB loses a little more each week, and
// about a week ago it was over its limit until the plugs had been cleared.
func (f *flight) magnetos(reading func(fields) string, item checklist.Item, day time.Time) {
	weeks := day.Sub(f.at).Hours() / 24 / 7
	left, right := f.about(90, 14, 2), f.about(84, 14, 2)
	if f.aircraft == "QZ-AAB" {
		right = f.about(124-3*weeks, 4, 2)
	}
	values := func(left, right float64, rough bool) fields {
		return fields{"unit": "rpm", "base": 1750, "left": 1750 - left, "bothAfterLeft": 1750, "right": 1750 - right, "bothAfterRight": 1750,
			"roughLeft": false, "roughRight": rough, "stoppedLeft": false, "stoppedRight": false}
	}
	switch {
	case f.running:
		f.add(lesson.KindReading, fields{"item": item.ID, "check": "magneto", "engine": 1, "reading": values(96, 152, true)})
	case f.aircraft == "QZ-AAB" && f.student == foundBy:
		first := reading(values(left, 138, true))
		f.ms += 90_000
		reading(values(left, 124, false))
		found := f.add(lesson.KindFinding, fields{"item": item.ID, "reading": first, "code": "drop-excessive",
			"words": "Right magneto 138 rpm and rough, 124 rpm after clearing the plugs; it has been creeping up for weeks."})
		f.add(lesson.KindDecision, fields{"about": found, "decision": "deferred", "told": Achterberg.Name, "why": "within limits after clearing; plugs to be looked at"})
	default:
		reading(values(left, right, false))
	}
}

// foundBy had QZ-AAB on the day its right magneto was over the limit.
var foundBy = Castell
