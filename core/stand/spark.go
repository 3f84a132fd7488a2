package stand

// sparking is the relative speed below which a magneto without its impulse coupling
// gives no spark: some 250 turns a minute; chosen.
const sparking = 0.1

// draws is how far an engine turns before its cylinders have drawn what burns: some two
// turns of the propeller, in seconds at static speed; chosen.
const draws = 0.05

// live is how surely the plugs of a circuit fire: 0 left (lane A), 1 right (lane B).
func (e *engine) live(circuit int) float64 {
	at := e.controls[Ignition]
	on := at == IgnitionBoth || at == IgnitionLeft && circuit == 0 || at == IgnitionRight && circuit == 1
	if !on && e.knobs[leftUngrounded+circuit] < 0.5 {
		return 0
	}
	if e.speed < sparking && e.knobs[impulseDead] >= 0.5 {
		return 0
	}
	return 1 - e.knobs[leftDead+circuit]
}

// faulty is the cylinder that a fault of a plug is on: the third, counted from the
// propeller.
const faulty = 2

// fires is how surely the plug of a circuit fires in a cylinder.
func (e *engine) fires(circuit, cylinder int) float64 {
	p := e.live(circuit)
	if cylinder == faulty {
		p *= 1 - e.knobs[leftPlugDead+circuit]
		p *= 1 - 0.9*max(e.fouling[circuit]-0.3, 0)/0.7
	}
	return p
}

// oneFlame is what a cylinder gives of its torque on one circuit alone: one flame burns
// slower. Timed late it gives less, timed early more.
func (e *engine) oneFlame(rig *Rig, circuit int) float64 {
	one := rig.Engine.OneFlame
	return one - 0.09*e.knobs[leftLate+circuit] + (1-one)*e.knobs[leftEarly+circuit]
}

// feltRough is the part of an engine's strokes that have to fail for it to be felt; chosen.
const feltRough = 0.04

// ignite burns what the cylinders drew.
func (e *engine) ignite(rig *Rig, in drawn) {
	e.foul()
	e.laned()
	h := hill(e.vapour)
	n := rig.Engine.Cylinders
	sum, failed, flames := 0.0, 0.0, 0.0
	one := [2]float64{e.oneFlame(rig, 0), e.oneFlame(rig, 1)}
	for c := range n {
		l, r := e.fires(0, c), e.fires(1, c)
		squeeze := 1.0
		if c == faulty {
			squeeze -= e.knobs[compressionLow]
		}
		sum += squeeze * (l*r + l*(1-r)*one[0] + r*(1-l)*one[1])
		none := (1 - l) * (1 - r)
		failed += none
		flames += l + r
		e.heatExhaust(rig, c, h, l, r)
	}
	if e.turned += e.speed * Step; e.speed == 0 {
		e.turned = 0
	}
	e.burning = h > 0 && flames > 0.5 && e.speed > 0.012 && e.turned > draws
	e.rough = 0
	if e.burning {
		e.rough = failed/float64(n) + max(0.75-h, 0)
	}
	e.torque = 0
	if e.burning {
		e.torque = rig.gain() * e.manifold * standardK / (in.tempC + zeroK) * h * sum / float64(n)
	}
}

// gain is the torque of a whole atmosphere of the best mixture with both flames: so
// much that the engine turns its propeller at static speed, warm, full rich.
func (r *Rig) gain() float64 {
	f := r.Engine.Friction
	return (1 + f[0] + f[1] + f[2] + 0.08*0.04) / (0.96 * hill(r.Engine.Rich))
}

// laned follows the lamps of electronic lanes: the lamp of a lane burns while it is off,
// and until both agree again for two seconds.
func (e *engine) laned() {
	at := e.controls[Ignition]
	for lane := range e.laneLamps {
		off := at == IgnitionOff || at == IgnitionLeft && lane == 1 || at == IgnitionRight && lane == 0
		if off {
			e.laneLamps[lane], e.wasOff[lane] = -2, true
		} else {
			e.laneLamps[lane] = min(e.laneLamps[lane]+Step, 0)
		}
	}
}

// LaneLamps reports whether the lamps of lanes A and B burn.
func (m *Machine) LaneLamps(engine int) (lamps [2]bool) {
	e := &m.engines[engine-1]
	for lane := range lamps {
		burns := e.laneLamps[lane] < 0 || e.laneLamps[lane] == 0 && e.wasOff[lane] && e.knobs[leftLampStays+lane] >= 0.5
		lamps[lane] = burns && e.knobs[leftLampDead+lane] < 0.5 && m.shared[Master] == 1
	}
	return lamps
}

// foul brings lead onto the plugs below about 1000 turns a minute while rich, and burns
// it off with a lean hot flame at run-up power (half a minute of it a part), or slowly
// at full power; rates chosen.
func (e *engine) foul() {
	rate := 0.0
	switch {
	case !e.burning:
	case e.speed < 0.43 && e.vapour > 1.25:
		rate = 1.0 / 3600
	case e.speed > 0.65 && e.vapour < 1.08:
		rate = -1.0 / 45
	case e.speed > 0.9:
		rate = -1.0 / 400
	}
	for i := range e.fouling {
		if e.live(i) > 0.5 {
			e.fouling[i] = min(max(e.fouling[i]+rate*Step, 0), 1)
		}
	}
}

// heatExhaust brings a cylinder's exhaust toward its temperature: highest at an
// equivalence ratio of 0.97, 35 °C more on one flame, which burns late, and cold
// without fire, within seconds.
func (e *engine) heatExhaust(rig *Rig, c int, h, l, r float64) {
	to := e.headC
	if h > 0 && l+r > 0 && e.speed > 0.05 {
		off := e.vapour - 0.97
		one := l*(1-r) + r*(1-l)
		burns := 1 - (1-l)*(1-r)
		hot := rig.Engine.ExhaustC*(0.55+0.45*min(e.manifold*e.speed*1.6, 1))*(1-0.9*off*off) + 35*one
		to += (hot - e.headC) * burns
	}
	e.exhaust[c] = toward(e.exhaust[c], to, 2.5)
}
