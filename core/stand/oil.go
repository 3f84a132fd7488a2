package stand

import "math"

// thickness of the oil against what it is at 60 °C, as friction and pressure feel it:
// half of it every 50 °C warmer. The oil's own changes more, of which a bearing feels
// less than the root (chosen).
func thickness(oilC float64) float64 { return exp2((60 - oilC) / 50) }

// oiled brings the oil pressure to what the pump gives against the clearances, held by
// the relief valve. After a start it comes up within seconds, later when it is cold.
func (e *engine) oiled(rig *Rig) {
	thick := thickness(e.oilC)
	flows := rig.Oil.Pump * e.speed * math.Sqrt(thick) * (1 - e.knobs[oilPumpWorn])
	to := rig.Oil.Relief * (1 - exp2(-1.4427*flows)) * (1 - 0.12*min(math.Abs(e.pitching)*8, 1))
	fills := rig.Oil.FillSeconds * (0.35 + 0.65*min(thick, 8)/2)
	if to < e.oil || e.oil > 0.5*to {
		fills = 0.4
	}
	if e.knobs[oilSlow] > 0 && to > e.oil {
		fills *= 1 + 80*e.knobs[oilSlow]
	}
	e.oil = toward(e.oil, to, fills)
}

// warmed lets the oil and the heads come to what the fire gives and the air takes. The
// oil's cooler opens with its thermostat. Times of a light engine; chosen.
func (e *engine) warmed(rig *Rig, a *air) {
	heat := 0.0
	if e.burning {
		heat = min(0.3+0.7*e.speed*e.manifold/0.96, 1.2)
	}
	blows := 0.35 + 0.65*min(e.speed, 1.2)
	cooled := 1 + max(e.oilC-rig.Oil.ThermostatC, 0)*0.12
	oilTo := a.tempC + rig.Oil.RiseC*heat*(1+e.knobs[runsHot])/cooled
	headTo := a.tempC + rig.Engine.HeadC*heat/math.Sqrt(blows)*(1+e.knobs[runsHot])
	headTo += (headTo - a.tempC) * rig.Engine.CowlFlaps * (1 - e.controls[CowlFlaps])
	if opens := rig.Engine.CoolantC; opens > 0 {
		headTo = a.tempC + (headTo-a.tempC)/(1+max(e.headC-opens, 0)*0.12)
	}
	if !e.burning {
		e.portsC = toward(e.portsC, e.headC, 60)
		e.oilC, e.headC = toward(e.oilC, a.tempC, 2400), toward(e.headC, a.tempC, 1500)
		return
	}
	e.portsC = toward(e.portsC, e.headC+60, 8)
	e.oilC, e.headC = toward(e.oilC, oilTo, 240), toward(e.headC, headTo, 110)
}
