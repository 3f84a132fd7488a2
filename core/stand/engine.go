package stand

// maxCylinders bounds the cylinders of an engine.
const maxCylinders = 6

// engine is the state of one engine, flat. Relative quantities are of the package's
// comment.
type engine struct {
	controls [Controls]float64
	strokes  int // of the primer that are not in yet
	knobs    [knobs]float64

	speed     float64
	manifold  float64 // pressure
	film      float64 // fuel on the walls, in seconds of an idling engine's fuel
	vapour    float64 // equivalence ratio of what burns
	boiled    float64 // vapour in an injected engine's lines, 0 to 1
	burning   bool
	turned    float64    // since it stood, in seconds at static speed
	torque    float64    // indicated
	rough     float64    // the part of its strokes that fail
	ice       float64    // the part of the carburettor's throat that it closes
	heated    float64    // how far the heater's valve is open
	heatLeft  float64    // how far it stays open
	laneLamps [2]float64 // seconds until a lane's lamp goes out, below 0
	wasOff    [2]bool    // whether a lane has been off
	pitch     float64    // 0 fine to 1 coarse, beyond it to 2 in feather
	pitching  float64    // its rate
	current   float64    // of the starter, A
	starterC  float64    // heat of the starter: 1 is its limit
	oilC      float64
	oil       float64 // pressure
	headC     float64
	portsC    float64 // where the fuel's film lies
	exhaust   [maxCylinders]float64
	suction   float64
	starved   bool       // nothing comes from the tanks
	fuel      float64    // pressure
	flow      float64    // L/h
	amps      float64    // of the alternator
	fouling   [2]float64 // lead on the plugs of each magneto, 0 to 1
	stuck     bool       // the starter stays in
	// of a helicopter
	rotor   float64 // its speed, where the engine's is 1 at 100 %
	tension float64 // of the belts
	governs float64 // what the governor adds to the throttle
	lifts   float64 // the torque that the rotor takes
	// of a diesel
	glow    float64 // of what the plugs take at 0 °C
	load    float64
	gearC   float64
	fuelC   float64
	testing float64 // seconds of the unit test
	pulses  float64 // what the test does to the pitch
	// of a turbine
	spool        float64 // of 100 %
	lit, idled   bool
	burnt        float64 // fuel, of that of full power
	schedule     float64 // what the fuel control gives
	metred       float64 // fuel that it lets through
	pooled       float64 // fuel that has not burnt
	waits        float64 // seconds of igniters and fuel without fire
	flare        float64 // how much hotter the first fire is
	residual     float64 // heat that was left, in °C
	transmission float64 // pressure of its oil
	seen         gauges
}

func (e *engine) begin(rig *Rig, a air, state string) {
	use := rig.Oil.ThermostatC
	e.oilC, e.headC = left(state, a.tempC, use), left(state, a.tempC, a.tempC+0.6*rig.Engine.HeadC)
	e.portsC = e.headC
	for i := range e.exhaust {
		e.exhaust[i] = e.headC
	}
	e.manifold = a.pressure
	if rig.Engine.Injected && state == "hot" {
		e.boiled = 1
	}
	e.controls[Propeller], e.controls[Hydraulics] = 1, 1
	e.fuelC = a.tempC
	if d := rig.Diesel; d != nil {
		e.gearC = left(state, a.tempC, a.tempC+0.7*d.GearC)
		e.headC = left(state, a.tempC, rig.Engine.CoolantC)
	}
	if rig.Turbine != nil {
		e.headC = left(state, a.tempC, a.tempC+rig.Turbine.TransmissionC)
		e.residual = left(state, 0, 240)
		e.exhaust[0] = a.tempC + e.residual
	}
	e.seen.begin(e)
}

// step goes on by 20 ms: air in, fuel with it, fire, torque against what it turns, and
// the heat that stays.
func (e *engine) step(rig *Rig, a *air, s *ship, master bool) {
	switch {
	case rig.Turbine != nil:
		e.turbineStep(rig, a, s, master)
		return
	case rig.Diesel != nil:
		e.dieselStep(rig, a, s, master)
		return
	}
	intake := e.intake(rig, a)
	airflow := e.breathe(rig, a, intake)
	e.mix(rig, intake, airflow, master)
	e.ignite(rig, intake)
	e.turn(rig, a, s, master)
	e.oiled(rig)
	e.warmed(rig, a)
	e.supplied(rig, master)
}

// turn balances the torques.
func (e *engine) turn(rig *Rig, a *air, s *ship, master bool) {
	drag := e.friction(rig)
	if e.speed > 0 && rig.Diesel == nil {
		drag += e.pumping(a)
	}
	drive := e.torque + e.cranked(rig, s, master)
	if r := rig.Rotor; r != nil {
		e.rotored(r, a, rig.Engine.InertiaSeconds, drive, drag)
		return
	}
	was := e.speed
	drag += e.propeller(rig, a)
	e.speed += (drive - drag) * Step / rig.Engine.InertiaSeconds
	if e.speed < 0 || was == 0 && drive < e.friction(rig) {
		e.speed = 0
	}
}

// friction of the engine: with the oil's thickness, with speed, and with its square
// (Heywood, Internal Combustion Engine Fundamentals, 1988, section 13.5).
func (e *engine) friction(rig *Rig) float64 {
	f := rig.Engine.Friction
	return f[0]*thickness(e.oilC) + f[1]*e.speed + f[2]*e.speed*e.speed
}

// pumping is the torque that it takes to draw air past a closed throttle: 0.08 of
// static torque for a whole atmosphere; chosen.
func (e *engine) pumping(a *air) float64 {
	return 0.08 * max(a.pressure-e.manifold, 0) * min(e.speed*20, 1)
}
