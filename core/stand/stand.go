// Package stand makes engines that behave: what a student does with the controls
// becomes speeds, pressures and temperatures, and every check reads on them as it
// would in the aircraft.
//
// A run is its scenario, its seed and its inputs, and nothing else: time goes in
// ticks of 20 ms, chance comes from the seed and the tick, and the same run gives
// the same engine natively and in a browser. One model stands in a file. Engine
// quantities are relative, so that one set of relations serves every size: speed to
// the static speed at full throttle, torque to the torque that the propeller takes
// there, pressures to 1013.25 hPa, air to what the engine breathes there on a
// standard day. Seconds, °C, volts, amperes and litres are themselves. Constants of a
// type are its rig's, in data; those of the physics stand beside their relation, with
// their source or the word chosen.
package stand

import (
	"jetprimer/core/aircraft"
)

// TicksASecond is how many steps a second has, and Step how long each is, in seconds.
const (
	TicksASecond = 50
	Step         = 1.0 / TicksASecond
)

// MaxEngines bounds the engines of a stand.
const MaxEngines = 2

// Control is something that a hand moves. Levers go from 0 to 1, switches are 0 or 1.
type Control uint8

// The controls. Those from Ignition on are there once for each engine.
const (
	Master    Control = iota
	Avionic           // the avionics' own switch
	Brakes            // 1 held
	Tank              // of a pilot who chooses: 0 off, 1 left, 2 right
	Ignition          // see the switch positions
	Starter           // held
	Throttle          // 0 closed, 1 open
	Mixture           // 0 cut-off, 1 rich
	Propeller         // 0 feather, 1 forward
	Heat              // carburettor heat or alternate air: 0 cold, 1 hot
	Primer            // each 1 after a 0 is a stroke
	Pump              // the electric fuel pump
	Choke
	Clutch     // of the rotor's belts
	Governor   // of the rotor
	Collective // 0 down, 0.6 in the hover
	Hydraulics
	EngineMaster // of a diesel
	UnitTest     // of a diesel's control units, held
	CowlFlaps    // 0 closed, 1 open
	Controls     // how many there are
)

// The positions of an ignition switch. With lanes LEFT is lane A alone and RIGHT is
// lane B alone.
const (
	IgnitionOff   = 0
	IgnitionRight = 1
	IgnitionLeft  = 2
	IgnitionBoth  = 3
)

// controlNames are the controls in inputs and scripts, in their order.
var controlNames = [Controls]string{
	"master", "avionics", "brakes", "tank", "ignition", "starter", "throttle", "mixture", "propeller", "heat", "primer",
	"pump", "choke", "clutch", "governor", "collective", "hydraulics", "engine-master", "unit-test", "cowl-flaps",
}

func (c Control) String() string { return controlNames[c] }

// ControlOf is the control of a name.
func ControlOf(name string) (Control, bool) {
	for i, n := range controlNames {
		if n == name {
			return Control(i), true
		}
	}
	return 0, false
}

// PerEngine reports whether each engine has the control for itself.
func (c Control) PerEngine() bool { return c >= Ignition }

// Most is the highest value of a control; the lowest is 0.
func (c Control) Most() float64 {
	switch c {
	case Ignition:
		return IgnitionBoth
	case Tank:
		return 2
	}
	return 1
}

// Input is a control that was moved: at a tick, of an engine from 1 (0 for what is
// there once), to a value.
type Input struct {
	Tick    int     `json:"tick"`
	Engine  int     `json:"engine,omitempty"`
	Control string  `json:"control"`
	Value   float64 `json:"value"`
}

// Machine is a stand that runs.
type Machine struct {
	rig     Rig
	typ     aircraft.Type
	air     air
	seed    uint64
	tick    int
	shared  [Controls]float64
	ship    ship
	engines [MaxEngines]engine
	tanks   tanks
	faults  []slipped
	item    string // that the list has come to
	passers []Passer
	wear    Wear
	// groundMS is how fast the aircraft rolls, in m/s.
	groundMS float64
	hot      float64 // the outlet temperature limit of a turbine, in °C
}

// New makes a stand of a type on a day, as the day says that its engines were left.
func New(rig Rig, typ aircraft.Type, day Day, seed uint64) *Machine {
	m := &Machine{rig: rig, typ: typ, air: day.air(), seed: seed, hot: typ.Limit("turbine-start", "tempLimitC")}
	m.ship.begin(rig, m.air)
	m.tanks.begin(typ, day)
	m.shared[Tank] = 1
	for i := range typ.Engines {
		m.engines[i].begin(&m.rig, m.air, day.EngineState)
	}
	return m
}

// Move moves a control; engine counts from 1. What is there once has engine 0.
func (m *Machine) Move(c Control, engine int, value float64) {
	value = min(max(value, 0), c.Most())
	if !c.PerEngine() {
		m.shared[c] = value
		return
	}
	e := &m.engines[engine-1]
	if c == Primer && value == 1 && e.controls[c] == 0 {
		e.strokes++
	}
	e.controls[c] = value
}

// At is where a control stands.
func (m *Machine) At(c Control, engine int) float64 {
	if !c.PerEngine() {
		return m.shared[c]
	}
	return m.engines[engine-1].controls[c]
}

// Tick is how many steps were made.
func (m *Machine) Tick() int { return m.tick }

// Seconds is the time since the beginning.
func (m *Machine) Seconds() float64 { return float64(m.tick) * Step }

// Step goes on by 20 ms. It allocates nothing.
func (m *Machine) Step() {
	m.tick++
	for i := range m.faults {
		m.faults[i].step(m)
	}
	m.draw()
	for i := range m.typ.Engines {
		m.engines[i].step(&m.rig, &m.air, &m.ship, m.shared[Master] == 1)
	}
	m.ship.step(&m.rig, m.engines[:m.typ.Engines], m.shared[Master] == 1, m.shared[Avionic] == 1)
	for i := range m.typ.Engines {
		m.engines[i].see(&m.rig, m.seed, m.tick, i)
	}
	m.roll()
	m.wears()
}
