package stand

import (
	"math"
	"slices"
	"time"

	"jetprimer/core/checklist"
)

// procedures are how each measured check is worked, by its name; they give its reading,
// nil where there is nothing to read. Each brings the engine to where the check begins,
// whatever was worked before.
var procedures = map[string]func(h *Hand, item checklist.Item, engine int) map[string]any{
	"battery": func(h *Hand, _ checklist.Item, _ int) map[string]any {
		h.set(Master, 0, 1)
		h.wait(3)
		h.rested = round(h.gauge("volts", 1), 1)
		return map[string]any{"volts": h.rested}
	},
	"piston-start":  (*Hand).start,
	"charging":      (*Hand).charging,
	"suction":       (*Hand).suction,
	"gauges":        (*Hand).gauges,
	"magneto":       (*Hand).ignition,
	"lanes":         (*Hand).ignition,
	"carb-heat":     (*Hand).heat,
	"mixture-peak":  (*Hand).peak,
	"fuel-pressure": (*Hand).fuelPressure,
	"idle": func(h *Hand, _ checklist.Item, engine int) map[string]any {
		h.idle(engine)
		h.wait(h.limit("idle", "seconds"))
		return map[string]any{
			"rpm": h.speed(engine), "seconds": h.limit("idle", "seconds") + 1, "stopped": h.stopped(engine),
		}
	},
	"static-rpm": func(h *Hand, _ checklist.Item, engine int) map[string]any {
		h.rich(engine)
		h.set(Throttle, engine, 1)
		h.wait(10)
		speed := h.speed(engine)
		h.idle(engine)
		return map[string]any{"rpm": speed}
	},
	"clutch":            (*Hand).clutched,
	"needle-split":      (*Hand).split,
	"low-rotor-warning": (*Hand).warned,
	"turbine-start":     (*Hand).turbineStart,
	"diesel-start":      (*Hand).dieselStart,
	"control-unit":      (*Hand).unitTest,
	"deceleration":      (*Hand).decelerate,
	"hydraulics":        (*Hand).hydraulics,
	"propeller":         (*Hand).cycles,
	"governor-hold":     (*Hand).governed,
	"feather":           (*Hand).feathered,
	"idle-mixture":      (*Hand).idleMixture,
	"dead-cut":          (*Hand).deadCut,
	"engines-differ":    (*Hand).differ,
	"altimeter": func(h *Hand, _ checklist.Item, _ int) map[string]any {
		return map[string]any{
			"altimeters": []any{
				map[string]any{"setting": round(h.day.QNHHPa, 2), "indicatedFt": math.Round(h.day.ElevationFt/10) * 10},
			},
		}
	},
	"database": func(h *Hand, _ checklist.Item, _ int) map[string]any { // it serves four weeks
		on, err := time.Parse(time.DateOnly, h.day.Date)
		if err != nil {
			return nil
		}
		return map[string]any{"expires": on.AddDate(0, 0, 28).Format(time.DateOnly)}
	},
	"heading": func(*Hand, checklist.Item, int) map[string]any {
		return map[string]any{"compassDeg": 20.0, "indicatorDeg": 20.0}
	},
}

func (h *Hand) stopped(engine int) bool { return h.gauge("speed", engine) < 0.04*h.m.rig.StaticSpeed }

// charging reads the bus with each alternator that turns, the engines at a fast idle.
func (h *Hand) charging(_ checklist.Item, _ int) map[string]any {
	h.set(Avionic, 0, 1)
	sides := []any{}
	for i := range h.m.typ.Engines {
		if h.started[i] && h.m.rig.Turbine == nil && h.gauge("speed", i+1) < 0.4*h.m.rig.StaticSpeed {
			h.powered(i+1, 0.48*h.m.rig.StaticSpeed)
		}
	}
	h.wait(2)
	for i := range h.m.typ.Engines {
		if h.started[i] {
			sides = append(sides, map[string]any{
				"volts": round(h.gauge("volts", i+1), 1), "amps": round(h.gauge("amps", i+1), 1),
			})
		}
	}
	if len(sides) == 0 {
		return nil
	}
	return map[string]any{"meter": "load", "sides": sides}
}

func (h *Hand) suction(_ checklist.Item, engine int) map[string]any {
	h.powered(engine, h.runUp())
	return map[string]any{"inHg": round(h.gauge("suction", engine), 1)}
}

// gauges reads the gauges that an item names, or all that have limits, at its power,
// once they are warm.
func (h *Hand) gauges(item checklist.Item, engine int) map[string]any {
	if !h.started[engine-1] {
		return nil
	}
	if item.Power == "idle" && slices.Contains(item.Gauges, "oilTemperature") {
		h.warmUp(item.Gauges, engine)
	}
	h.at(item.Power, engine)
	if item.Power == "runUp" {
		h.wait(60)
	}
	low, high, banded := normal(h.m.typ, "carburettorTemperature")
	for heat := 0.0; banded && heat <= 1 && h.gauge("carburettorTemperature",
		engine) < low+(high-low)*0.25; heat += 0.05 {
		h.set(Heat, engine, round(heat, 2))
		h.wait(1)
	}
	reading := map[string]any{}
	for _, g := range h.m.typ.Gauges {
		if len(item.Gauges) == 0 || slices.Contains(item.Gauges, g.ID) {
			if v, shown := h.m.Gauge(g.ID, engine); shown {
				reading[g.ID] = round(v, 1)
			}
		}
	}
	h.set(Heat, engine, 0)
	if item.Power == "fullPower" || item.Power == "hover" {
		h.set(Collective, engine, 0)
		h.idle(engine)
	}
	return reading
}

// ignition tries each circuit alone at run-up speed.
func (h *Hand) ignition(item checklist.Item, engine int) map[string]any {
	h.rich(engine)
	h.powered(engine, h.runUp())
	first, second, lanes := "left", "right", item.Check == "lanes"
	names := [2]string{"Left", "Right"}
	if lanes {
		first, second, names = "a", "b", [2]string{"A", "B"}
	}
	unit := "rpm"
	if h.m.typ.Tachometer == "percent" {
		unit = "percent"
	}
	reading := map[string]any{"unit": unit, "base": h.speed(engine)}
	for i, name := range names { // null after a side on which it stopped
		for _, path := range []string{[]string{first, second}[i], "rough" + name, "stopped" + name, "bothAfter" + name} {
			reading[path] = nil
		}
	}
	dwell := max(h.limit(item.Check, "dwellMinSeconds"), 2) + 3.5
	if h.m.rig.Rotor != nil {
		dwell += 4 // a rotor takes its time
	}
	e := &h.m.engines[engine-1]
	for i, at := range []float64{IgnitionLeft, IgnitionRight} {
		name := []string{first, second}[i]
		h.set(Ignition, engine, at)
		rough := false
		stops := h.until(dwell, func() bool {
			rough = rough || e.rough > feltRough
			return h.stopped(engine)
		})
		reading["stopped"+names[i]] = stops
		if stops {
			h.set(Throttle, engine, 0)
			h.set(Mixture, engine, 0)
			h.started[engine-1] = false
			return reading
		}
		reading[name], reading["rough"+names[i]] = h.speed(engine), rough
		if lanes {
			reading["lampOn"+names[1-i]] = h.m.LaneLamps(engine)[1-i]
		}
		reading["secondsHeld"+names[i]] = round(dwell, 1)
		h.set(Ignition, engine, IgnitionBoth)
		h.wait(dwell)
		reading["bothAfter"+names[i]] = h.speed(engine)
		if lanes {
			reading["lampOut"+names[1-i]] = !h.m.LaneLamps(engine)[1-i]
		}
	}
	for i, side := range []string{"leftDrop", "rightDrop"} {
		was := h.compared[side]
		base := reading["base"]
		if i == 1 {
			base = reading["bothAfter"+names[0]]
		}
		was[engine-1] = base.(float64) - reading[[]string{first, second}[i]].(float64)
		h.compared[side] = was
	}
	return reading
}

// heat draws heated air until the speed is steady, and cold again.
func (h *Hand) heat(_ checklist.Item, engine int) map[string]any {
	h.powered(engine, h.runUp())
	reading := map[string]any{"base": h.speed(engine)}
	h.set(Heat, engine, 1)
	was := h.gauge("speed", engine)
	h.wait(6)
	h.until(60, func() bool { // ice takes its time
		if h.m.tick%100 != 0 {
			return false
		}
		steady := math.Abs(h.gauge("speed", engine)-was) < 0.002*h.m.rig.StaticSpeed
		was = h.gauge("speed", engine)
		return steady
	})
	reading["hot"] = h.speed(engine)
	h.set(Heat, engine, 0)
	h.wait(7)
	reading["coldAfter"] = h.speed(engine)
	return reading
}

// peak leans slowly at run-up speed to the highest speed, and enriches again until the
// speed has fallen well into what the type asks for, or to full rich.
func (h *Hand) peak(_ checklist.Item, engine int) map[string]any {
	h.rich(engine)
	h.powered(engine, h.runUp())
	start := h.speed(engine)
	highest, at := h.gauge("speed", engine), h.m.At(Mixture, engine)
	for lever := at; lever > 0.3 && h.gauge("speed", engine) > highest-0.01*h.m.rig.StaticSpeed; lever -= 0.005 {
		h.set(Mixture, engine, round(lever, 3))
		h.wait(0.7)
		if now := h.gauge("speed", engine); now > highest {
			highest, at = now, lever
		}
	}
	least := h.limit("mixture-peak", "enrichMin")
	below := least + 0.4*(h.limit("mixture-peak", "enrichMax")-least)
	h.set(Mixture, engine, round(at, 3))
	h.wait(3)
	for lever := at; lever < 1 && h.gauge("speed", engine) > highest-below; lever += 0.005 {
		h.set(Mixture, engine, round(min(lever, 1), 3))
		h.wait(0.7)
	}
	h.wait(2)
	return map[string]any{
		"startRPM": start, "peakRPM": h.m.asRead(highest), "setRPM": h.speed(engine), "setSide": "rich",
	}
}

func (h *Hand) fuelPressure(_ checklist.Item, engine int) map[string]any {
	h.idle(engine)
	reading := map[string]any{"idle": round(h.gauge("fuelPressure", engine), 1)}
	h.powered(engine, h.runUp())
	reading["runUp"] = round(h.gauge("fuelPressure", engine), 1)
	h.rich(engine)
	h.set(Throttle, engine, 1)
	h.wait(8)
	reading["fullPower"] = round(h.gauge("fuelPressure", engine), 1)
	h.powered(engine, h.runUp())
	return reading
}

// idleMixture pulls the mixture slowly at idle and reads the highest speed before the
// engine stops.
func (h *Hand) idleMixture(_ checklist.Item, engine int) map[string]any {
	h.rich(engine)
	h.idle(engine)
	reading := map[string]any{"idleRPM": h.speed(engine)}
	highest := h.gauge("speed", engine)
	for lever := h.m.At(Mixture, engine); lever > 0 && !h.stopped(engine); lever -= 0.005 {
		h.set(Mixture, engine, round(lever, 3))
		h.wait(0.5)
		highest = max(highest, h.gauge("speed", engine))
	}
	reading["peakRPM"] = h.m.asRead(highest)
	h.started[engine-1] = false
	return reading
}

// deadCut turns the ignition off for a moment at idle.
func (h *Hand) deadCut(_ checklist.Item, engine int) map[string]any {
	if !h.started[engine-1] {
		return nil
	}
	h.idle(engine)
	before := h.gauge("speed", engine)
	h.set(Ignition, engine, IgnitionOff)
	h.wait(0.7)
	fell := h.gauge("speed", engine) < 0.93*before
	h.set(Ignition, engine, IgnitionBoth)
	h.wait(4)
	return map[string]any{"ranOnAtOff": !fell, "fellAtOff": fell}
}

// unitTest holds the button of the control units' test at idle and watches lamps, speed
// and propeller.
func (h *Hand) unitTest(_ checklist.Item, engine int) map[string]any {
	if !h.started[engine-1] {
		return nil
	}
	h.idle(engine)
	e := &h.m.engines[engine-1]
	low, high := math.Inf(1), 0.0
	fine, coarse := math.Inf(1), 0.0
	took := h.compared["propellerSeconds"] // until it stands coarsest
	both, onlyA, onlyB := false, false, false
	h.set(UnitTest, engine, 1)
	h.until(testEnds+2, func() bool {
		a, b := h.m.UnitLamps(engine)
		both, onlyA, onlyB = both || a && b, onlyA || a && !b, onlyB || b && !a
		if since := e.testing - testLamps; since > 5 && since < testUnit || since > testUnit+5 && since < 2*testUnit {
			low, high = min(low, h.gauge("speed", engine)), max(high, h.gauge("speed", engine))
			if fine = min(fine, e.pitch); e.pitch > coarse {
				coarse = e.pitch
				took[engine-1] = since
			}
		}
		return h.stopped(engine)
	})
	h.compared["propellerSeconds"] = took
	a, b := h.m.UnitLamps(engine)
	h.set(UnitTest, engine, 0)
	if h.stopped(engine) {
		h.started[engine-1] = false
		return map[string]any{
			"engineStopped": true, "lampSequenceComplete": nil, "lampsOut": nil, "propellerCycled": nil,
			"rpmSwing": nil,
		}
	}
	h.wait(8)
	return map[string]any{
		"engineStopped": false, "lampSequenceComplete": both && (onlyA && onlyB || a), "lampsOut": !a && !b,
		"propellerCycled": coarse-fine > 0.05, "rpmSwing": h.m.asRead(max(high-low, 0)),
	}
}
