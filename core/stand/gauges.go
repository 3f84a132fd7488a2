package stand

// gauges are what the instruments show: behind the truth by their lag, with the little
// shake that they have.
type gauges struct {
	speed, oil, oilC, headC, exhaust, manifold, fuel, flow, suction float64
}

func (g *gauges) begin(e *engine) {
	g.oilC, g.headC, g.exhaust, g.manifold = e.oilC, e.headC, e.exhaust[0], e.manifold
}

// see brings the gauges of an engine to what is true. The shake of the speed is 0.04 %
// of static speed, and as much more as the engine runs rough; chosen.
func (e *engine) see(rig *Rig, seed uint64, tick, number int) {
	g := &e.seen
	shake := 0.0
	if e.burning {
		shake = (0.0004 + 0.012*min(e.rough, 0.4)) * scatter(seed, number, tick/5)
	}
	g.speed = toward(g.speed, e.speed*(1+shake), 0.12)
	g.oil = toward(g.oil, e.oil*(1-0.5*e.knobs[oilGauge]), 0.4)
	g.oilC = toward(g.oilC, e.oilC, 2)
	g.headC = toward(g.headC, e.headC, 2)
	g.exhaust = toward(g.exhaust, e.exhaust[0], 1)
	g.manifold = toward(g.manifold, e.manifold, 0.2)
	g.fuel = toward(g.fuel, e.fuel, 0.3)
	g.flow = toward(g.flow, e.flow, 0.3)
	g.suction = toward(g.suction, e.suction, 0.5)
}

// Gauge is what an instrument of an engine shows, in its unit: speed, or the id of one
// of the type's gauges; false for one that the aircraft has not.
func (m *Machine) Gauge(name string, engine int) (float64, bool) {
	e := &m.engines[engine-1]
	g := &e.seen
	switch name {
	case "speed":
		return g.speed * m.rig.StaticSpeed, true
	case "spool":
		return e.spool * 100, m.rig.Turbine != nil
	case "turbineTemperature":
		return g.exhaust, m.rig.Turbine != nil
	case "torque":
		return e.lifts * 100, m.rig.Turbine != nil
	case "engineOilPressure":
		return g.oil, true
	case "transmissionPressure":
		return e.transmission, m.rig.Turbine != nil
	case "transmissionTemperature":
		return g.headC, true
	case "load":
		return e.load * 100, m.rig.Diesel != nil
	case "gearboxTemperature":
		return e.gearC, m.rig.Diesel != nil
	case "fuelTemperature":
		return e.fuelC, m.rig.Diesel != nil
	case "rotor":
		return e.rotor * 100, m.rig.Rotor != nil
	case "oilPressure":
		return g.oil, true
	case "oilTemperature":
		return g.oilC, true
	case "cylinderHead":
		return g.headC, true
	case "coolantTemperature":
		return g.headC, true
	case "exhaustGas":
		sum := 0.0
		for _, t := range e.exhaust[:m.rig.Engine.Cylinders] {
			sum += t
		}
		return sum / float64(max(m.rig.Engine.Cylinders, 1)), m.rig.Engine.Cylinders > 0
	case "manifold":
		return g.manifold * 29.9213, true
	case "carburettorTemperature":
		return e.throatC(&m.rig, &m.air), true
	case "fuelPressure":
		return g.fuel, true
	case "fuelFlow":
		return g.flow, true
	case "suction":
		return g.suction, true
	case "fuelLeft":
		return m.tanks.litres[0], m.tanks.chosen
	case "fuelRight":
		return m.tanks.litres[1], m.tanks.chosen
	case "volts":
		return m.ship.volts, true
	case "amps":
		return e.amps, true
	}
	return 0, false
}

// throatC is the air in the carburettor's throat.
func (e *engine) throatC(rig *Rig, a *air) float64 {
	t := a.tempC + rig.Engine.HeatC*e.heated
	if e.burning {
		t -= 20 * (1 - 0.6*e.controls[Throttle])
	}
	return t
}

// OilIsUp reports whether the gauge shows the oil pressure that an idling engine has.
func (m *Machine) OilIsUp(engine int) bool {
	low, _, _ := normalAt(m.typ, "oilPressure", "idle")
	v, _ := m.Gauge("oilPressure", engine)
	return v >= low
}

// Runs reports whether an engine burns its fuel.
func (m *Machine) Runs(engine int) bool {
	e := &m.engines[engine-1]
	return e.burning || e.lit
}

// StaticSpeed is the speed at full throttle, standing, as the tachometer shows it.
func (m *Machine) StaticSpeed() float64 { return m.rig.StaticSpeed }
