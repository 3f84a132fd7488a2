package stand

// propeller is the torque that the propeller takes: with the air's density and the
// square of the speed (Glauert, The Elements of Aerofoil and Airscrew Theory, 1947), at
// its pitch.
func (e *engine) propeller(rig *Rig, a *air) float64 {
	takes := 1.0 // fixed
	if g := rig.Governor; g != nil {
		e.govern(rig, g)
		takes = g.Fine + (g.Coarse-g.Fine)*min(e.pitch, 1)
		takes += (g.Feather - g.Coarse) * max(e.pitch-1, 0)
	}
	return takes * a.density * e.speed * e.speed
}

// govern moves the hub's pitch with oil: coarser above the speed that the lever asks
// for, finer below it, between its stops; past the detent to feather. Cold oil moves it
// slower. A governor that sticks moves it less.
func (e *engine) govern(rig *Rig, g *GovernorRig) {
	const detent = 0.15
	lever := e.controls[Propeller]
	asked := g.Low + (g.High-g.Low)*max(lever-detent, 0)/(1-detent)
	if rig.Diesel != nil { // the units ask for it
		asked = g.Low + (g.High-g.Low)*min(e.controls[Throttle]*1.6, 1)
	}
	rate := g.Rate / (0.6 + 0.4*thickness(e.oilC)) * (1 - e.knobs[governorStuck])
	was := e.pitch
	switch {
	case lever < detent:
		rate *= 1 - e.knobs[featherStuck]
		e.pitch = min(e.pitch+1.2*rate*Step, 2)
	case e.pitch > 1:
		e.pitch -= 1.5 * rate * Step
	default:
		off := min(max((e.speed-asked)*8, -1), 1)
		if slack := e.knobs[governorDroops]; slack > 0 { // it goes only as far as it is off
			off = min(max((e.speed-asked)/(0.3*slack)-e.pitch, -1), 1)
		}
		e.pitch = min(max(e.pitch+off*rate*Step, 0), 1)
		if e.pulses > 0 {
			e.pitch = toward(e.pitch, max(e.pulses, e.pitch), 0.3)
		}
	}
	e.pitching = toward(e.pitching, (e.pitch-was)/Step, 0.3)
}
