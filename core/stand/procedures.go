package stand

import (
	"math"
	"slices"
	"time"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
)

// procedures are how each measured check is worked, by its name; they give its reading,
// nil where there is nothing to read. Each brings the engine to where the check begins,
// whatever was worked before.
var procedures = map[string]func(h *Hand, item checklist.Item, engine int) map[string]any{
	"battery": func(h *Hand, _ checklist.Item, _ int) map[string]any {
		h.set(Master, 0, 1)
		h.wait(3)
		return map[string]any{"volts": round(h.gauge("volts", 1), 1)}
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
		return map[string]any{"rpm": h.speed(engine), "seconds": h.limit("idle", "seconds") + 1, "stopped": h.stopped(engine)}
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
		return map[string]any{"altimeters": []any{map[string]any{"setting": round(h.day.QNHHPa, 2), "indicatedFt": math.Round(h.day.ElevationFt/10) * 10}}}
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

// start primes by the type's table for the day and cranks, at most as long as the
// starter is given; with another try after its rest when it does not fire.
func (h *Hand) start(_ checklist.Item, engine int) map[string]any {
	t := h.m.typ
	h.set(Master, 0, 1)
	h.set(Brakes, 0, 1)
	h.set(Avionic, 0, 0)
	h.set(Propeller, engine, 1)
	plan := h.plan()
	injected := h.m.rig.Engine.Injected
	h.rich(engine)
	h.set(Throttle, engine, opened(plan.Throttle))
	switch plan.Method {
	case "primer":
		for range int(plan.Amount) {
			h.set(Primer, engine, 1)
			h.wait(1)
			h.set(Primer, engine, 0)
			h.wait(1)
		}
	case "electric pump":
		h.set(Pump, engine, 1)
		h.wait(plan.Amount)
		h.set(Pump, engine, 0)
	case "choke":
		h.set(Choke, engine, 1)
	}
	if injected {
		h.set(Mixture, engine, 0)
		if plan.Method == "none" { // vapour in the lines
			h.set(Pump, engine, 1)
			h.wait(20)
			h.set(Pump, engine, 0)
		}
	}
	if t.StartType == "electronic" {
		h.set(Pump, engine, 1)
	}
	if t.Ignition != "none" {
		h.set(Ignition, engine, IgnitionBoth)
	}
	h.wait(2)
	reading := map[string]any{"fired": false, "rpmPeak": nil, "secondsToOilPressure": nil, "starterLampOut": true, "chargeRestored": nil}
	tries := []any{}
	for try := range 3 {
		from := h.m.tick
		h.set(Starter, engine, 1)
		catches := 2.5 * h.m.rig.Engine.CrankSpeed * h.m.rig.StaticSpeed
		fires := h.until(h.limit("piston-start", "crankMaxSeconds")-1, func() bool {
			if injected && (h.gauge("speed", engine) > 0.9*catches || h.m.tick-from > 3*TicksASecond) {
				h.set(Mixture, engine, 0.6) // forward as it fires, or when the prime is used up
			}
			return h.gauge("speed", engine) > catches
		})
		h.set(Starter, engine, 0)
		tries = append(tries, map[string]any{"crankSeconds": round(float64(h.m.tick-from)*Step, 1), "restSeconds": h.limit("piston-start", "restMinSeconds") + 5})
		if fires && h.runs(engine, reading) {
			reading["fired"] = true
			break
		}
		if try < 2 {
			h.wait(h.limit("piston-start", "restMinSeconds") + 5)
		}
	}
	reading["attempts"] = tries
	reading["starterLampOut"] = !h.m.engines[engine-1].stuck
	if reading["fired"] == false {
		reading["rpmPeak"] = nil
		return reading
	}
	h.started[engine-1] = true
	h.powered(engine, 0.43*h.m.rig.StaticSpeed)
	reading["chargeRestored"] = h.gauge("amps", engine) > 0.5
	return reading
}

// runs watches an engine that fired for its highest speed and its oil pressure, as long
// as that may take, and reports whether it keeps running.
func (h *Hand) runs(engine int, reading map[string]any) bool {
	peak, from := 0.0, h.m.tick
	low, _, _ := normalAt(h.m.typ, "oilPressure", "idle")
	came := math.NaN()
	limits := "piston-start"
	if h.m.rig.Diesel != nil {
		limits = "diesel-start"
	}
	h.until(max(h.limit(limits, "oilPressureSeconds")+1, 9), func() bool {
		since := float64(h.m.tick-from) * Step
		peak = max(peak, h.gauge("speed", engine))
		if math.IsNaN(came) && h.gauge("oilPressure", engine) >= low {
			came = since
		}
		h.set(Choke, engine, round(h.m.At(Choke, engine)*max(1-since/8, 0), 2))
		if h.m.At(Mixture, engine) < 1 && h.m.rig.Engine.Injected && h.m.tick%10 == 0 {
			h.set(Mixture, engine, round(min(0.6+since/12, 1), 2))
		}
		if since > 0.8 && h.m.tick%10 == 0 {
			h.nudge(engine, min(0.4*h.m.rig.StaticSpeed, 0.75*h.limit(limits, "rpmMax")))
		}
		return since > 8.5 && !math.IsNaN(came) || h.stopped(engine)
	})
	reading["rpmPeak"] = h.m.asRead(peak)
	if !math.IsNaN(came) {
		reading["secondsToOilPressure"] = round(came, 1)
	}
	return !h.stopped(engine)
}

// plan is how the engine is primed on the day.
func (h *Hand) plan() aircraft.PrimeRow {
	if h.m.typ.Prime == nil {
		return aircraft.PrimeRow{Method: "none"}
	}
	rows := h.m.typ.Prime.Rows
	i := slices.IndexFunc(rows, func(r aircraft.PrimeRow) bool {
		return r.Engine == h.day.EngineState && (r.BelowC == nil || h.day.OATC < *r.BelowC)
	})
	if i < 0 {
		return aircraft.PrimeRow{Method: "none"}
	}
	return rows[i]
}

// opened is where a throttle stands that was opened as a table says.
func opened(words string) float64 {
	switch words {
	case "fully open":
		return 1
	case "half open":
		return 0.5
	case "closed":
		return 0
	case "half an inch open":
		return 0.12
	}
	return 0.1
}

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
			sides = append(sides, map[string]any{"volts": round(h.gauge("volts", i+1), 1), "amps": round(h.gauge("amps", i+1), 1)})
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
	for heat := 0.0; banded && heat <= 1 && h.gauge("carburettorTemperature", engine) < low+(high-low)*0.25; heat += 0.05 {
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
		reading[[]string{first, second}[i]], reading["rough"+name], reading["stopped"+name], reading["bothAfter"+name] = nil, nil, nil, nil
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
	return map[string]any{"startRPM": start, "peakRPM": h.m.asRead(highest), "setRPM": h.speed(engine), "setSide": "rich"}
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

// cycles pulls the propeller lever back until the speed has fallen by the middle of
// what the type asks for, and forward again, as often as it asks for.
func (h *Hand) cycles(item checklist.Item, engine int) map[string]any {
	h.set(Propeller, engine, 1)
	h.powered(engine, h.runUp())
	reading := map[string]any{"base": h.speed(engine)}
	fall := (h.limit(item.Check, "dropMin") + h.limit(item.Check, "dropMax")) / 2
	lowest, rose, dipped := math.Inf(1), false, false
	cycles := int(h.limit(item.Check, "cyclesMin"))
	for range cycles {
		base, manifold, oil, from := h.gauge("speed", engine), h.gauge("manifold", engine), h.gauge("oilPressure", engine), h.m.tick
		h.set(Propeller, engine, 0.16)
		h.until(12, func() bool {
			rose = rose || h.gauge("manifold", engine) > manifold+0.3
			dipped = dipped || h.gauge("oilPressure", engine) < oil-1
			return h.gauge("speed", engine) < base-fall
		})
		was := h.compared["propellerSeconds"]
		was[engine-1] = float64(h.m.tick-from) * Step
		h.compared["propellerSeconds"] = was
		h.set(Propeller, engine, 1)
		h.until(4, func() bool {
			lowest = min(lowest, h.gauge("speed", engine))
			return false
		})
		h.wait(6)
	}
	reading["low"], reading["after"] = h.m.asRead(lowest), h.speed(engine)
	reading["cycles"], reading["manifoldRose"], reading["oilPressureDipped"] = float64(cycles), rose, dipped
	return reading
}

// governed raises the manifold pressure while the governor holds the speed.
func (h *Hand) governed(item checklist.Item, engine int) map[string]any {
	at := h.limit(item.Check, "governingMinRPM") + 100
	h.powered(engine, at+60)
	for lever := 1.0; lever > 0.2 && h.gauge("speed", engine) > at; lever -= 0.005 {
		h.set(Propeller, engine, round(lever, 3))
		h.wait(0.4)
	}
	h.wait(5)
	before, manifold := h.speed(engine), h.gauge("manifold", engine)
	h.until(10, func() bool {
		if h.m.tick%10 == 0 {
			h.set(Throttle, engine, round(min(h.m.At(Throttle, engine)+0.002, 1), 4))
		}
		return h.gauge("manifold", engine) > manifold+2*h.limit(item.Check, "manifoldStepMinInHg")
	})
	h.wait(4)
	reading := map[string]any{"rpmBefore": before, "manifoldBeforeInHg": round(manifold, 1), "rpmAfter": h.speed(engine), "manifoldAfterInHg": round(h.gauge("manifold", engine), 1)}
	h.powered(engine, h.runUp()*0.8)
	h.set(Propeller, engine, 1)
	h.wait(5)
	return reading
}

// feathered pulls the lever past its detent, and forward again before the propeller is
// in feather.
func (h *Hand) feathered(item checklist.Item, engine int) map[string]any {
	h.set(Propeller, engine, 1)
	h.powered(engine, 0.8*h.runUp())
	base, lowest := h.speed(engine), math.Inf(1)
	fall := h.limit(item.Check, "dropMin") + (h.limit(item.Check, "dropMax")-h.limit(item.Check, "dropMin"))*0.3
	from := h.gauge("speed", engine)
	h.set(Propeller, engine, 0)
	h.until(8, func() bool { return h.gauge("speed", engine) < from-fall })
	h.set(Propeller, engine, 1)
	h.until(4, func() bool { lowest = min(lowest, h.gauge("speed", engine)); return false })
	h.wait(8)
	return map[string]any{"base": base, "low": h.m.asRead(lowest), "after": h.speed(engine)}
}

// differ sets what was read of both engines side by side.
func (h *Hand) differ(item checklist.Item, _ int) map[string]any {
	h.powered(1, h.runUp())
	h.powered(2, h.runUp())
	reading := map[string]any{}
	for name := range h.m.typ.Limits[item.Check] {
		both, known := h.compared[name]
		if !known {
			l, shown := h.m.Gauge(name, 1)
			if !shown {
				continue
			}
			both = [MaxEngines]float64{l, h.gauge(name, 2)}
		}
		reading[name] = map[string]any{"left": round(both[0], 1), "right": round(both[1], 1)}
	}
	return reading
}

// clutched engages the clutch and watches the blades and the lamp.
func (h *Hand) clutched(item checklist.Item, engine int) map[string]any {
	if !h.started[engine-1] {
		return nil
	}
	h.powered(engine, 0.55*h.m.rig.StaticSpeed)
	reading := map[string]any{"bladesTurningSeconds": nil, "lampOutSeconds": nil}
	from := h.m.tick
	h.set(Clutch, engine, 1)
	h.until(2*h.limit(item.Check, "lampOutMax"), func() bool {
		since := round(float64(h.m.tick-from)*Step, 1)
		if reading["bladesTurningSeconds"] == nil && h.gauge("rotor", engine) > 1.5 {
			reading["bladesTurningSeconds"] = since
		}
		if h.m.tick%10 == 0 { // the engine is kept from falling under the belts
			h.nudge(engine, 0.55*h.m.rig.StaticSpeed)
		}
		if !h.m.Lamp() && since > 1 {
			reading["lampOutSeconds"] = since
			return true
		}
		return false
	})
	h.powered(engine, 0.55*h.m.rig.StaticSpeed)
	return reading
}

// split closes the throttle at run-up speed and reads how far the rotor runs ahead.
func (h *Hand) split(_ checklist.Item, engine int) map[string]any {
	h.set(Governor, engine, 0)
	h.at("runUp", engine)
	at, apart := h.m.At(Throttle, engine), 0.0
	h.set(Throttle, engine, h.shut())
	h.until(6, func() bool {
		apart = max(apart, h.gauge("rotor", engine)-h.gauge("speed", engine))
		return false
	})
	h.set(Throttle, engine, at)
	h.wait(6)
	return map[string]any{"splitPercent": round(apart, 1)}
}

// warned lets the rotor come down slowly from flying speed until the warning sounds,
// and up again until it is silent.
func (h *Hand) warned(item checklist.Item, engine int) map[string]any {
	h.set(Governor, engine, 0)
	high := h.limit(item.Check, "onMax")
	if h.at("runUp", engine); h.m.rig.Turbine == nil {
		h.powered(engine, (high+4)/100*h.m.rig.StaticSpeed)
	}
	reading := map[string]any{"onAtPercent": nil, "offAtPercent": nil}
	low := h.limit(item.Check, "onMin") - 12
	h.until(120, func() bool {
		if h.m.tick%20 == 0 {
			h.set(Throttle, engine, round(max(h.m.At(Throttle, engine)-0.0015, 0), 5))
		}
		if h.m.Horn() && h.gauge("rotor", engine) < high+3 {
			reading["onAtPercent"] = round(h.gauge("rotor", engine), 1)
			return true
		}
		return h.gauge("rotor", engine) < low
	})
	h.until(120, func() bool {
		if h.m.tick%20 == 0 {
			h.set(Throttle, engine, round(min(h.m.At(Throttle, engine)+0.002, 1), 5))
		}
		if !h.m.Horn() {
			reading["offAtPercent"] = round(h.gauge("rotor", engine), 1)
			return true
		}
		return h.gauge("rotor", engine) > high+5
	})
	return reading
}

// turbineStart motors the spool to its gate and below the residual temperature, opens
// the fuel, and watches the temperature and the spool up to idle.
func (h *Hand) turbineStart(item checklist.Item, engine int) map[string]any {
	h.set(Master, 0, 1)
	h.set(Avionic, 0, 0)
	h.wait(2)
	reading := map[string]any{"batteryVolts": round(h.gauge("volts", engine), 1), "tailwindKt": max(-h.day.WindKt, 0), "lightOffSeconds": nil, "peakTempC": nil,
		"secondsAboveLimit": 0.0, "spoolAlwaysRising": true, "secondsToIdle": nil, "idleSpoolPercent": nil, "oilPressureAtIdle": false}
	h.set(Starter, engine, 1)
	gate, cool := h.limit(item.Check, "fuelSpoolMinPercent"), h.limit(item.Check, "fuelTempMaxC")
	last := 0.0
	h.until(40, func() bool { // no faster any more
		if h.m.tick%50 != 0 {
			return false
		}
		was := last
		last = h.gauge("spool", engine)
		return last >= gate+1 && last < was+0.35 && h.gauge("turbineTemperature", engine) < 0.75*cool
	})
	reading["fuelAtSpoolPercent"], reading["fuelAtTempC"] = round(h.gauge("spool", engine), 1), math.Round(h.gauge("turbineTemperature", engine))
	h.set(Throttle, engine, 0.35)
	from, peak, above, spool := h.m.tick, 0.0, 0, h.gauge("spool", engine)
	limit, least := h.limit(item.Check, "tempLimitC"), h.limit(item.Check, "idleMinPercent")
	h.until(90, func() bool {
		since := float64(h.m.tick-from) * Step
		t := h.gauge("turbineTemperature", engine)
		peak = max(peak, t)
		if t > limit {
			above++
		}
		if reading["lightOffSeconds"] == nil && h.m.engines[engine-1].lit {
			reading["lightOffSeconds"] = round(since, 1)
		}
		now := h.gauge("spool", engine)
		if now > 58 {
			h.set(Starter, engine, 0)
		}
		if h.m.tick%100 == 0 {
			if now < spool-0.2 && now < least {
				reading["spoolAlwaysRising"] = false
			}
			spool = now
		}
		if now >= least {
			reading["secondsToIdle"] = round(since, 1)
			return true
		}
		return t > h.limit(item.Check, "tempAbsoluteMaxC") || reading["lightOffSeconds"] == nil && since > h.limit(item.Check, "lightOffMaxSeconds")+2
	})
	reading["secondsAboveLimit"] = round(float64(above)*Step, 1)
	if reading["lightOffSeconds"] != nil {
		reading["peakTempC"] = math.Round(peak)
	}
	h.set(Starter, engine, 0)
	if reading["secondsToIdle"] == nil {
		h.set(Throttle, engine, 0)
		return reading
	}
	h.started[engine-1] = true
	h.wait(20)
	reading["idleSpoolPercent"] = round(h.gauge("spool", engine), 1)
	low, _, _ := normalAt(h.m.typ, "engineOilPressure", "idle")
	reading["oilPressureAtIdle"] = h.gauge("engineOilPressure", engine) >= low
	return reading
}

// decelerate closes the grip from flying speed to idle and times the spool to 75 %.
func (h *Hand) decelerate(_ checklist.Item, engine int) map[string]any {
	h.set(Throttle, engine, 1)
	h.wait(25)
	reading := map[string]any{"startSpoolPercent": round(h.gauge("spool", engine), 1), "flamedOut": false}
	from := h.m.tick
	h.set(Throttle, engine, 0.35)
	h.until(15, func() bool { return h.gauge("spool", engine) < 75 })
	reading["seconds"] = round(float64(h.m.tick-from)*Step, 1)
	h.wait(4)
	if !h.m.engines[engine-1].lit {
		reading["flamedOut"], reading["seconds"] = true, nil
		h.started[engine-1] = false
	}
	return reading
}

func (h *Hand) hydraulics(_ checklist.Item, engine int) map[string]any {
	h.set(Hydraulics, engine, 0)
	h.wait(2)
	off, _ := h.m.Hydraulics()
	h.set(Hydraulics, engine, 1)
	h.wait(2)
	on, pulls := h.m.Hydraulics()
	return map[string]any{"stiffWhenOff": off, "freeWhenOn": !on, "residualPull": pulls}
}

// dieselStart waits for the glow lamp and cranks until the engine runs.
func (h *Hand) dieselStart(item checklist.Item, engine int) map[string]any {
	h.set(Master, 0, 1)
	h.set(Brakes, 0, 1)
	h.set(Avionic, 0, 0)
	h.set(Throttle, engine, 0)
	h.set(EngineMaster, engine, 1)
	h.until(40, func() bool { return !h.m.Glowing(engine) })
	reading := map[string]any{"glowLampOut": !h.m.Glowing(engine), "fired": false, "rpmPeak": nil, "secondsToOilPressure": nil, "starterLampOut": true, "chargeRestored": nil}
	tries := []any{}
	for try := range 3 {
		from := h.m.tick
		h.set(Starter, engine, 1)
		catches := 2.5 * h.m.rig.Engine.CrankSpeed * h.m.rig.StaticSpeed
		fires := h.until(h.limit(item.Check, "crankMaxSeconds")-1, func() bool { return h.gauge("speed", engine) > catches })
		h.set(Starter, engine, 0)
		tries = append(tries, map[string]any{"crankSeconds": round(float64(h.m.tick-from)*Step, 1), "restSeconds": h.limit(item.Check, "restMinSeconds") + 5})
		if fires && h.runs(engine, reading) {
			reading["fired"] = true
			break
		}
		if try < 2 {
			h.wait(h.limit(item.Check, "restMinSeconds") + 5)
		}
	}
	reading["attempts"] = tries
	reading["starterLampOut"] = !h.m.engines[engine-1].stuck
	if reading["fired"] == false {
		reading["rpmPeak"] = nil
		return reading
	}
	h.started[engine-1] = true
	h.idle(engine)
	reading["chargeRestored"] = h.gauge("amps", engine) > 0.5
	return reading
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
	both, onlyA, onlyB := false, false, false
	h.set(UnitTest, engine, 1)
	h.until(testEnds+2, func() bool {
		a, b := h.m.UnitLamps(engine)
		both, onlyA, onlyB = both || a && b, onlyA || a && !b, onlyB || b && !a
		if since := e.testing - testLamps; since > 5 && since < testUnit || since > testUnit+5 && since < 2*testUnit {
			low, high = min(low, h.gauge("speed", engine)), max(high, h.gauge("speed", engine))
			fine, coarse = min(fine, e.pitch), max(coarse, e.pitch)
		}
		return h.stopped(engine)
	})
	a, b := h.m.UnitLamps(engine)
	h.set(UnitTest, engine, 0)
	if h.stopped(engine) {
		h.started[engine-1] = false
		return map[string]any{"engineStopped": true, "lampSequenceComplete": nil, "lampsOut": nil, "propellerCycled": nil, "rpmSwing": nil}
	}
	h.wait(8)
	return map[string]any{"engineStopped": false, "lampSequenceComplete": both && (onlyA && onlyB || a), "lampsOut": !a && !b, "propellerCycled": coarse-fine > 0.05, "rpmSwing": h.m.asRead(max(high-low, 0))}
}
