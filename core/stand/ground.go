package stand

// What an aircraft does on its wheels, as parts of its weight: the thrust of full power
// standing, what rolling takes on a hard surface, and what held brakes take; chosen, for a
// light aircraft.
const (
	fullThrust = 0.28
	rolls      = 0.045
	brakesHold = 0.35
)

// roll moves an aircraft that its brakes do not hold: thrust goes with the square of the
// engine's speed and falls as it rolls.
func (m *Machine) roll() {
	if m.rig.Rotor != nil {
		return
	}
	thrust := 0.0
	for i := range m.typ.Engines {
		e := &m.engines[i]
		thrust += fullThrust * e.speed * e.speed * m.air.density * (1 - min(e.pitch, 1)*0.4)
	}
	thrust *= (1 - min(m.groundMS/50, 1)) / float64(m.typ.Engines)
	holds := rolls
	if m.shared[Brakes] == 1 {
		holds += brakesHold
	}
	const g = 9.80665 // m/s²
	by := (thrust - holds) * g * Step
	m.groundMS = min(max(m.groundMS+by, 0), 60)
}

// GroundKt is how fast the aircraft rolls, in knots.
func (m *Machine) GroundKt() float64 { return m.groundMS * 1.943844 }
