package demo

import (
	"math"
	"slices"
	"time"

	"jetprimer/core/check"
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
		return f.add(lesson.KindReading, fields{
			"item": item.ID, "check": item.Check, "engine": max(item.Engine, 1), "reading": values,
		})
	}
	switch {
	case item.Check == "":
	case item.Check == "magneto" && f.typ.ID == "alder-110":
		f.magnetos(reading, item, day)
	case item.Check == "altimeter":
		indicated := f.about(float64(f.aircraft.ElevationFt)+8, 30, 10)
		rows := []fields{{"setting": f.qnh, "indicatedFt": indicated}}
		if slices.Contains(f.aircraft.Equipment, "second-altimeter") {
			rows = append(rows, fields{"setting": f.qnh, "indicatedFt": indicated - 10})
		}
		reading(fields{"altimeters": rows})
	case item.Check == "database":
		reading(fields{"expires": f.at.AddDate(0, 0, 9).Format(time.DateOnly)})
	case item.Check == "heading" && item.ID != "line-up-heading":
		reading(fields{"compassDeg": 270, "indicatorDeg": f.about(270, 6, 1)})
	case item.Check == "piston-start" && f.skill < 0:
		values, _, _ := check.Example(item.Check, f.typ, nil, 0)
		values["attempts"] = []fields{{"crankSeconds": f.about(8, 4, 1), "restSeconds": 0}}
		reading(values)
	default:
		values, _, ok := check.Example(item.Check, lesson.TypeAt(f.typ, item, f.conditions), item.Gauges,
			2*f.random.Float64()-1)
		if ok && item.Check == "charging" && f.aircraft.Registration == failing {
			f.discharge(values, day)
		}
		if ok {
			reading(values)
		}
	}
}

// discharge is how the alternator fails: its voltage goes down by the week, over
// the last half year.
func (f *flight) discharge(values fields, day time.Time) {
	weeks := day.Sub(f.at).Hours() / 24 / 7
	volts := f.about(13.35+0.03*min(weeks, 24), 0.06, 0.1)
	for _, side := range values["sides"].([]any) {
		side.(fields)["volts"] = volts
	}
}

// magnetos: the right magneto of QZ-AAB loses a little more each week, and
// about a week ago it was over its limit until the plugs had been cleared.
func (f *flight) magnetos(reading func(fields) string, item checklist.Item, day time.Time) {
	weeks := day.Sub(f.at).Hours() / 24 / 7
	left, right := f.about(90, 14, 2), f.about(84, 14, 2)
	if f.aircraft.Registration == "QZ-AAB" && weeks < ownDays/7 {
		right = f.about(124-3*weeks, 4, 2)
	}
	values := func(left, right float64, rough bool) fields {
		return fields{"unit": "rpm", "base": 1750, "left": 1750 - left, "bothAfterLeft": 1750, "right": 1750 - right,
			"bothAfterRight": 1750,
			"roughLeft":      false, "roughRight": rough, "stoppedLeft": false, "stoppedRight": false}
	}
	switch {
	case f.running:
		f.add(lesson.KindReading, fields{
			"item": item.ID, "check": "magneto", "engine": 1, "reading": values(96, 152, true),
		})
	case f.aircraft.Registration == "QZ-AAB" && f.student == foundBy:
		first := reading(values(left, 138, true))
		f.ms += 90_000
		reading(values(left, 124, false))
		found := f.add(lesson.KindFinding, fields{"item": item.ID, "reading": first, "code": "drop-excessive",
			"words": "Right magneto 138 rpm and rough, 124 rpm after clearing the plugs; it has been creeping up " +
				"for weeks."})
		f.add(lesson.KindDecision, fields{
			"about": found, "decision": "deferred", "told": Achterberg.Name,
			"why": "within limits after clearing; plugs to be looked at",
		})
	default:
		reading(values(left, right, false))
	}
}

// foundBy had QZ-AAB on the day its right magneto was over the limit.
var foundBy = Castell
