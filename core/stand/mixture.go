package stand

import "math"

// idleFlow is what an idling engine breathes: fuel on the walls is counted in seconds
// of it.
const idleFlow = 0.09

// Where a mixture burns at all, and where it gives most, as equivalence ratios; the
// shape of the torque about it is a parabola to each side (after Taylor, The Internal
// Combustion Engine in Theory and Practice, 1966, chapter 12; steepness chosen).
const (
	leanest, best, richest = 0.62, 1.15, 1.9
	richSide, leanSide     = 1.1, 2.2
)

// hill is the part of the best torque that a mixture gives.
func hill(ratio float64) float64 {
	side := leanSide
	if ratio > best {
		side = richSide
	}
	h := 1 - side*(ratio-best)*(ratio-best)
	fade := min(max(min(ratio-leanest, richest-ratio)/0.06, 0), 1)
	return max(h, 0) * fade
}

// metered is the equivalence ratio of what the carburettor or the servo gives. Fuel is
// drawn by the air's speed, so the mixture grows richer with the root of thinner air
// (Taylor, as above), half as much in a servo, which feels the air's pressure as well;
// what meters itself does not.
func (e *engine) metered(rig *Rig, in drawn) float64 {
	idle := max(1-e.controls[Throttle]/0.15, 0)
	rich := rig.Engine.Rich + (rig.Engine.IdleRich*(1+e.knobs[idleRich]-e.knobs[idleLean])-rig.Engine.Rich)*idle
	rich *= 1 + e.knobs[runsRich] - e.knobs[runsLean]
	if rig.Engine.ChokeRich > 0 {
		rich *= 1 + (rig.Engine.ChokeRich-1)*e.controls[Choke]*(1-e.controls[Throttle])
	} else if root := math.Sqrt(in.dense); rig.Engine.Injected {
		rich /= math.Sqrt(root)
	} else {
		rich /= root
	}
	return rich * e.controls[Mixture]
}

// mix brings fuel to the air. A part of it is vapour at once, the rest wets the walls
// and comes off with a time that doubles every 12 °C colder (the film of Aquino, SAE
// 810494; its temperatures chosen); the ports are warm within seconds of the first fire. The electric pump and the
// primer wet the walls of
// an engine that stands.
func (e *engine) mix(rig *Rig, in drawn, airflow float64, master bool) {
	if e.strokes > 0 {
		e.film += rig.Engine.Stroke * float64(e.strokes)
		e.strokes = 0
	}
	pumped := e.controls[Pump] == 1 && master
	if rig.Engine.Injected {
		cools := 0.0
		if pumped {
			cools = 1.0 / 18
		} else if e.burning {
			cools = 1.0 / 30
		}
		e.boiled = max(e.boiled-cools*Step, 0)
		if pumped && !e.burning {
			e.film += rig.Engine.PumpFuel * e.controls[Mixture] * (1 - e.boiled) * Step
		}
	}
	warmth := 0.5*in.tempC + 0.5*e.portsC
	evaporates := 1.1 * exp2((20-warmth)/12)
	evaporates = min(max(evaporates, 0.15), 40)
	atOnce := min(max(0.55*exp2((warmth-20)/40), 0.15), 0.95)
	if airflow < 0.004 {
		e.vapour, e.flow = 0, toward(e.flow, 0, 0.5)
		e.film = toward(e.film, 0, evaporates*15+30)
		return
	}
	given := e.metered(rig, in) * airflow / idleFlow * (1 - e.boiled) * e.fed(rig)
	off := e.film / evaporates
	e.film += (given*(1-atOnce) - off) * Step
	e.vapour = (given*atOnce + off) * idleFlow / airflow
	e.flow = toward(e.flow, given*idleFlow*rig.Fuel.FullFlow/(0.96*rig.Engine.Rich), 0.5)
}
