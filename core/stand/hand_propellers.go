package stand

import (
	"math"

	"jetprimer/core/checklist"
)

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
		base, manifold, oil, from := h.gauge("speed", engine), h.gauge("manifold", engine), h.gauge("oilPressure",
			engine), h.m.tick
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
	reading := map[string]any{
		"rpmBefore": before, "manifoldBeforeInHg": round(manifold, 1), "rpmAfter": h.speed(engine),
		"manifoldAfterInHg": round(h.gauge("manifold", engine), 1),
	}
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
