package stand

import (
	"jetprimer/core/checklist"
)

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
