package stand

import "math"

// drawn is the air that goes through the throttle.
type drawn struct {
	tempC float64
	// dense is its density at the day's pressure, relative.
	dense float64
}

// intake is the air before the throttle: the day's, warmed by the heater as far as it
// is open, with ice in the throat.
func (e *engine) intake(rig *Rig, a *air) drawn {
	opens := e.controls[Heat] * (1 - e.knobs[heatBlocked])
	e.heatLeft = max(e.heatLeft, opens*e.knobs[heatSticks])
	e.heated = max(opens, e.heatLeft)
	t := a.tempC + rig.Engine.HeatC*e.heated*(0.55+0.45*min(e.speed, 1))
	e.freeze(rig, a, t)
	return drawn{t, a.pressure * standardK / (t + zeroK)}
}

// freeze grows or melts ice in a carburettor's throat. The throat is 20 °C colder than
// the air drawn at part throttle (the fall of 15 to 25 °C that evaporating fuel and the
// expansion make); ice grows with what the air holds of water beyond saturation there,
// and melts with each degree above freezing. Left to itself it takes half an hour to be
// felt; a carburettor that ices badly is quicker. Rates chosen.
func (e *engine) freeze(rig *Rig, a *air, tempC float64) {
	if rig.Engine.HeatC == 0 || e.speed < 0.1 {
		return
	}
	part := 1 - 0.6*e.controls[Throttle]
	throat := tempC - 20*part
	if throat < 0 {
		surplus := max(vapourHPa(a.dewC)-vapourHPa(throat), 0)
		e.ice = min(e.ice+0.000004*(1+90*e.knobs[ices])*min(surplus, 8)*Step, 0.6)
	} else {
		e.ice = max(e.ice-0.0015*min(throat, 15)*Step, 0)
	}
}

// vapourHPa is the pressure of water vapour at saturation: doubling every 10.6 °C about
// 6.11 hPa at 0 °C (a fit to Magnus's formula from −20 to 25 °C, within 6 %).
func vapourHPa(dewC float64) float64 { return 6.11 * exp2(dewC/10.6) }

// manifoldSeconds is how long the manifold takes to fill at static speed; chosen.
const manifoldSeconds = 0.06

// breathe fills the manifold through the throttle and empties it into the cylinders,
// and gives the air that they took. Flow through the throttle is choked below 0.528 of
// the pressure before it; above, it falls as a quarter of an ellipse (Hendricks and
// Sorenson, SAE 900616).
func (e *engine) breathe(rig *Rig, a *air, in drawn) float64 {
	lever := e.throttled(rig)
	closed := rig.Engine.ThrottleClosed * (1 + e.knobs[idleHigh] - e.knobs[idleLow])
	area := closed + (rig.Engine.ThrottleOpen*(1-e.knobs[throttleShort])-closed)*lever*lever
	area *= (1 - e.ice) * (1 - rig.Engine.HeatLoss*e.heated)
	if k := e.knobs[intakeBlocked]; k > 0 { // a filter before it, as one opening behind another
		filter := 4 * (1 - k)
		area *= filter / math.Sqrt(area*area+filter*filter)
	}
	const critical = 0.528
	psi, falls := 1.0, 0.0
	if r := min(e.manifold/a.pressure, 0.9995); r > critical {
		q := (r - critical) / (1 - critical)
		psi = math.Sqrt(1 - q*q)
		falls = q / psi / (1 - critical)
	}
	warm := standardK / (in.tempC + zeroK)
	through := area * a.pressure * math.Sqrt(warm) * psi
	taken := e.speed * e.manifold * warm
	// Linearly implicit, since an open throttle fills it within a step.
	eases := (area*math.Sqrt(warm)*falls + e.speed*warm) / manifoldSeconds
	e.manifold += (through - taken) * Step / manifoldSeconds / (1 + eases*Step)
	e.manifold = min(max(e.manifold, 0.02), a.pressure)
	return taken
}
