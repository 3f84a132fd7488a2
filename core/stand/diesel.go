package stand

// DieselRig is a diesel with a single lever, whose control units set load and propeller.
type DieselRig struct {
	// Idle is the relative speed that the units hold with the lever closed; Full the load
	// with it open, of 1.
	Idle float64 `json:"idle"`
	Full float64 `json:"full"`
	// GlowSeconds is how long the plugs glow at 0 °C.
	GlowSeconds float64 `json:"glowSeconds"`
	// GearC is the gearbox's temperature above the air's at full power.
	GearC float64 `json:"gearC"`
}

// The unit test's times in seconds: the lamps first, then each unit with a pulse on the
// propeller, then the lamps go out; chosen.
const (
	testLamps = 2.0
	testUnit  = 10.0
	testEnds  = testLamps + 2*testUnit
)

// dieselStep goes on by 20 ms of a diesel.
func (e *engine) dieselStep(rig *Rig, a *air, s *ship, master bool) {
	d := rig.Diesel
	on := e.controls[EngineMaster] == 1 && master && s.volts > 0.55*s.nominal
	if on {
		e.glow = min(e.glow+Step/d.GlowSeconds*(1-e.knobs[glowDead]), 2)
	} else {
		e.glow = toward(e.glow, 0, 20)
	}
	unit := e.tested()
	fires := on && e.speed > 0.035 && (e.burning || e.glow >= e.glows()) && !(unit == 1 && e.knobs[unitStops] >= 0.5)
	asked := 0.0
	if fires {
		asked = e.loaded(d, unit)
	}
	e.load = toward(e.load, asked*(1-e.knobs[fuelBlocked]), 0.25)
	e.burning = fires && e.load > 0.02
	e.torque = 0
	if e.burning {
		e.torque = e.load / d.Full * rig.effort()
	}
	e.manifold = toward(e.manifold, a.pressure*(1+1.1*e.load*min(e.speed, 1)), 0.5)
	e.turn(rig, a, s, master)
	e.oiled(rig)
	e.warmed(rig, a)
	heat := 0.0
	if e.burning {
		heat = 0.35 + 0.65*e.load
	}
	e.gearC = toward(e.gearC, a.tempC+d.GearC*heat*(1+e.knobs[runsHot]), 260)
	e.fuelC = toward(e.fuelC, a.tempC+6*heat, 600)
}

// effort is the torque at full load: so much that the engine turns its propeller, at the
// pitch of full power, at static speed, warm.
func (r *Rig) effort() float64 {
	f := r.Engine.Friction
	return 1 + f[0] + f[1] + f[2]
}

// glows is how much glow an engine asks for before it fires: the full time at 0 °C, more
// when colder, hardly any when warm (chosen).
func (e *engine) glows() float64 { return min(max((50-e.headC)/50, 0.02), 2) }

// loaded is the load that the units ask for: what holds idle, and beyond it as far as
// the lever is open.
func (e *engine) loaded(d *DieselRig, unit int) float64 {
	idle := d.Idle
	if unit > 0 {
		idle = d.Idle * 1.5
		if int(e.testing/1.6)%2 == 0 { // a unit that hunts
			idle *= 1 - 0.6*e.knobs[unitSwings]
		}
	}
	off := idle - e.speed
	e.schedule = min(max(e.schedule+off*0.6*Step, 0.02), 0.5)
	load := min(max(e.schedule+off*1.5, 0.01), 0.6)
	if lever := e.controls[Throttle]; lever > 0.02 {
		load = max(load, d.Full*(0.12+0.88*lever)*(1-0.3*e.knobs[boostLeaks]))
	}
	return load
}

// tested goes on with the test of the control units, which the button begins at idle and
// runs by itself while it is held: lamps, unit A, unit B, each with a pulse on the
// propeller. It gives which unit is under test, 1 or 2; 0 for none.
func (e *engine) tested() int {
	if e.controls[UnitTest] == 0 || e.controls[Throttle] > 0.02 || !e.burning && e.testing == 0 {
		e.testing, e.pulses = 0, 0
		return 0
	}
	e.testing += Step
	since := e.testing - testLamps
	e.pulses = 0
	if since < 0 || e.testing > testEnds {
		return 0
	}
	unit := 1
	if since >= testUnit {
		unit, since = 2, since-testUnit
	}
	if since > 6 && since < 7.2 {
		e.pulses = 0.16 * (1 - e.knobs[hubSticks])
	}
	return unit
}

// UnitLamps reports whether the lamps of an engine's control units burn.
func (m *Machine) UnitLamps(engine int) (a, b bool) {
	e := &m.engines[engine-1]
	t := e.testing
	stays := e.knobs[unitLamp] >= 0.5 && t > 0
	a = t > 0 && t < testLamps+testUnit
	b = t > 0 && t < testLamps || t > testLamps+testUnit && t < testEnds
	return a || stays, b || stays
}

// Glowing reports whether the glow lamp of an engine burns.
func (m *Machine) Glowing(engine int) bool {
	e := &m.engines[engine-1]
	return e.controls[EngineMaster] == 1 && !e.burning && e.glow < e.glows()
}
