package stand

import (
	"math"
	"slices"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
)

// start primes by the type's table for the day and cranks, at most as long as the
// starter is given; with another try after its rest when it does not fire.
func (h *Hand) start(_ checklist.Item, engine int) map[string]any {
	t := h.m.typ
	h.set(Master, 0, 1)
	h.set(Brakes, 0, 1)
	h.set(Avionic, 0, 0)
	h.set(Propeller, engine, 1)
	if h.m.rig.Engine.CowlFlaps > 0 {
		h.set(CowlFlaps, engine, 1)
	}
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
	reading := map[string]any{
		"fired": false, "rpmPeak": nil, "secondsToOilPressure": nil, "starterLampOut": true, "chargeRestored": nil,
	}
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
		tries = append(tries, map[string]any{
			"crankSeconds": round(float64(h.m.tick-from)*Step, 1),
			"restSeconds":  h.limit("piston-start", "restMinSeconds") + 5,
		})
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

// turbineStart motors the spool to its gate and below the residual temperature, opens
// the fuel, and watches the temperature and the spool up to idle.
func (h *Hand) turbineStart(item checklist.Item, engine int) map[string]any {
	h.set(Master, 0, 1)
	h.set(Avionic, 0, 0)
	h.wait(2)
	reading := map[string]any{"batteryVolts": round(h.gauge("volts", engine), 1), "tailwindKt": max(-h.day.WindKt, 0),
		"lightOffSeconds": nil, "peakTempC": nil,
		"secondsAboveLimit": 0.0, "spoolAlwaysRising": true, "secondsToIdle": nil, "idleSpoolPercent": nil,
		"oilPressureAtIdle": false}
	if h.m.At(Starter, engine) == 1 {
		reading["batteryVolts"] = h.rested
	}
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
	reading["fuelAtSpoolPercent"], reading["fuelAtTempC"] = round(h.gauge("spool", engine),
		1), math.Round(h.gauge("turbineTemperature", engine))
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
		return t > h.limit(item.Check, "tempAbsoluteMaxC") || reading["lightOffSeconds"] == nil &&
			since > h.limit(item.Check, "lightOffMaxSeconds")+2
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

// dieselStart waits for the glow lamp and cranks until the engine runs.
func (h *Hand) dieselStart(item checklist.Item, engine int) map[string]any {
	h.set(Master, 0, 1)
	h.set(Brakes, 0, 1)
	h.set(Avionic, 0, 0)
	h.set(Throttle, engine, 0)
	h.set(EngineMaster, engine, 1)
	h.until(40, func() bool { return !h.m.Glowing(engine) })
	reading := map[string]any{
		"glowLampOut": !h.m.Glowing(engine), "fired": false, "rpmPeak": nil, "secondsToOilPressure": nil,
		"starterLampOut": true, "chargeRestored": nil,
	}
	tries := []any{}
	for try := range 3 {
		from := h.m.tick
		h.set(Starter, engine, 1)
		catches := 2.5 * h.m.rig.Engine.CrankSpeed * h.m.rig.StaticSpeed
		fires := h.until(h.limit(item.Check, "crankMaxSeconds")-1,
			func() bool { return h.gauge("speed", engine) > catches })
		h.set(Starter, engine, 0)
		tries = append(tries, map[string]any{
			"crankSeconds": round(float64(h.m.tick-from)*Step, 1),
			"restSeconds":  h.limit(item.Check, "restMinSeconds") + 5,
		})
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
