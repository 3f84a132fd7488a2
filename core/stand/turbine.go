package stand

// TurbineRig is a free-turbine turboshaft. Its spool's speed is of 100 %, its
// temperatures are of the outlet's gauge.
type TurbineRig struct {
	// IdleSpool is where the fuel control holds the spool at idle, FullSpool where it
	// gives full power.
	IdleSpool float64 `json:"idleSpool"`
	FullSpool float64 `json:"fullSpool"`
	// SpoolSeconds is how long the torque of a whole starter takes to bring the spool
	// to 100 %.
	SpoolSeconds float64 `json:"spoolSeconds"`
	// HeatC is how much hotter the gas is for the fuel of full power in the air of full
	// power.
	HeatC float64 `json:"heatC"`
	// StartFuel is the fuel of a start, of that of full power, StartMore what comes to it
	// for a spool of 100 %, and IdleFuel the idle's.
	StartFuel float64 `json:"startFuel"`
	StartMore float64 `json:"startMore"`
	IdleFuel  float64 `json:"idleFuel"`
	// TransmissionPressure is what its oil shows at idle speed and beyond, with TransmissionC.
	TransmissionPressure float64 `json:"transmissionPressure"`
	TransmissionC        float64 `json:"transmissionC"`
}

// The twist grip is closed below gripIdle, at idle up to gripFlight, and open beyond it.
const (
	gripIdle   = 0.2
	gripFlight = 0.5
)

// turbineStep goes on by 20 ms of a turbine: the starter and the gas turn the spool, the
// spool's gas turns the free turbine, and that the rotor through the freewheel.
func (e *engine) turbineStep(rig *Rig, a *air, s *ship, master bool) {
	t := rig.Turbine
	asked := e.metredFuel(t) * (1 - 0.55*e.knobs[fuelLean])
	e.light(t, asked, master)
	if e.lit {
		e.burnt = toward(e.burnt, asked, 0.25)
	} else {
		e.burnt = 0
	}

	// The gas's torque on the spool grows with the fuel and the air that there is, and
	// carries it above some 40 % (after Cohen, Rogers and Saravanamuttoo, Gas Turbine
	// Theory, 1987, chapter 9; coefficients chosen).
	n := e.spool
	drives := e.spun(rig, s, master) + e.burnt*n*(1-0.1*e.knobs[compressorDirty])
	rate := (drives - 0.22*n - 0.78*n*n*n) / t.SpoolSeconds
	e.spool = max(e.spool+rate*Step, 0)

	// It is hotter for more fuel in less air, and where a tail wind blows it back.
	air := max(n, 0.06) * (1 - 0.012*max(-a.windKt, 0)) * (1 - 0.37*e.knobs[compressorDirty])
	hot := a.tempC + 40*n + e.residual
	if e.lit {
		hot += t.HeatC * (a.tempC + zeroK) / standardK * e.burnt / air * (1 + e.flare)
	}
	e.flare = toward(e.flare, 0, 1.5)
	e.residual *= 1 - Step*(1+14*n)/120
	e.exhaust[0] = toward(e.exhaust[0], hot, 2)

	// The free turbine's torque falls with its own speed from twice what it gives where
	// it works best, which goes with the square of the spool's.
	n2 := n * n
	e.torque = 0
	if e.lit || n > 0.2 {
		e.torque = max((0.3+0.46*n2*n2)*a.density*(2-e.speed/max(0.85*n2, 0.05))*min(n/0.5, 1), 0)
	}
	drag := 0.03 * e.speed
	if e.speed > 0 {
		drag += 0.02
	}
	e.rotored(rig.Rotor, a, rig.Engine.InertiaSeconds, e.torque, drag)
	e.oiledTurbine(rig, a)
}

// metredFuel is the fuel that the control gives for the twist grip: none when closed, a
// start's schedule until the spool is near its idle, then as much as holds idle, or,
// with the grip open, as much as the governor asks for to hold the rotor.
func (e *engine) metredFuel(t *TurbineRig) float64 {
	grip := e.controls[Throttle]
	if grip < gripIdle {
		e.idled, e.governs = false, 0
		return 0
	}
	spool := e.spool * 100
	if !e.idled {
		if spool < t.IdleSpool-3 {
			return t.StartFuel + t.StartMore*e.spool
		}
		e.idled, e.schedule, e.metred = true, t.IdleFuel, t.IdleFuel
	}
	want := t.IdleSpool
	if grip > gripFlight {
		open := (grip - gripFlight) / (1 - gripFlight)
		off := 0.7 + 0.3*open - e.rotor
		e.governs = min(max(e.governs+off*0.4*Step, 0), 1)
		if e.knobs[governorStuck] < 0.5 {
			want += (t.FullSpool - t.IdleSpool) * min(max(e.governs+2.5*off, 0), 1)
		}
	} else {
		e.governs = 0
	}
	least, falls, follows := 0.8*t.IdleFuel, 0.16*Step, 0.25*Step
	if grip <= gripFlight && spool > t.IdleSpool+4 { // what keeps the flame in when the grip is closed quickly
		falls *= 1 + 90*e.knobs[decelQuick]
		follows *= 1 + 60*e.knobs[decelQuick]
		least *= 1 - min(1.5*e.knobs[decelQuick], 0.97)
	}
	off := (want - spool) / 100
	e.schedule = min(max(e.schedule+min(max(4*off, -1), 1)*follows, least), 1.1)
	e.metred = max(min(max(e.schedule+1.25*off, least), 1.2), e.metred-falls)
	return e.metred
}

// spun is the torque of the starter on the spool.
func (e *engine) spun(rig *Rig, s *ship, master bool) float64 {
	if e.controls[Starter] == 0 || !master {
		e.current = 0
		e.starterC = toward(e.starterC, 0, 110)
		return 0
	}
	pulls := max(s.volts/s.nominal-e.spool/0.65, 0)
	e.current = rig.Electric.StarterA * pulls / 0.6
	e.starterC += pulls * pulls / 0.36 / rig.Electric.StarterHeat * Step
	return 0.07 * pulls
}

// light is when fuel burns: with the igniters, which fire with the starter, and air
// enough, a second after both are there. What pooled before burns with it, and what is
// leaned too far blows out.
func (e *engine) light(t *TurbineRig, asked float64, master bool) {
	ignites := e.controls[Starter] == 1 && master && e.spool > 0.08 && e.knobs[igniterDead] < 0.5
	switch {
	case asked == 0 || e.spool < 0.05:
		e.lit, e.waits = false, 0
	case e.lit && e.burnt < 0.2*t.IdleFuel && e.spool > 0.3:
		e.lit, e.waits = false, 0
	case !e.lit && ignites:
		if e.waits += Step; e.waits > 1.1 {
			e.lit, e.flare, e.pooled = true, 0.3+2*max(e.pooled-0.2, 0), 0
			e.burnt = asked
		}
	}
	if !e.lit {
		e.pooled = min(e.pooled+asked*Step, 1)
	}
	e.burning = e.lit
}

// oiledTurbine brings the oil of the engine and the transmission to where they go.
func (e *engine) oiledTurbine(rig *Rig, a *air) {
	to := rig.Oil.Relief * (1 - exp2(-1.4427*rig.Oil.Pump*e.spool)) * (1 - e.knobs[oilPumpWorn])
	fills := rig.Oil.FillSeconds * (1 + 25*e.knobs[oilSlow])
	if to < e.oil {
		fills = 0.5
	}
	e.oil = toward(e.oil, to, fills)
	heat := 0.0
	if e.lit {
		heat = 0.4 + 0.6*e.spool
	}
	cooled := 1 + max(e.oilC-rig.Oil.ThermostatC, 0)*0.12
	e.oilC = toward(e.oilC, a.tempC+rig.Oil.RiseC*heat/cooled*(1+e.knobs[runsHot]), 150)
	e.transmission = toward(e.transmission,
		rig.Turbine.TransmissionPressure*(1-exp2(-13*e.rotor))*(1-e.knobs[transmissionWorn]), 0.8)
	e.headC = toward(e.headC, a.tempC+rig.Turbine.TransmissionC*min(e.rotor, 1)*(1+e.knobs[runsHot]), 300)
}

// Hydraulics tell how the controls feel: stiff without assistance, and pulling to a side
// where a servo sticks.
func (m *Machine) Hydraulics() (stiff, pulls bool) {
	e := &m.engines[0]
	works := e.controls[Hydraulics] == 1 || e.knobs[assistStays] >= 0.5
	return !works || e.knobs[assistDead] >= 0.5, works && e.knobs[servoSticks] >= 0.5
}
