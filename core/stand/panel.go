package stand

import (
	"math"
	"slices"

	"jetprimer/core/aircraft"
)

// Panel is what a type's stand is worked with and read from, in the order of the flow.
type Panel struct {
	Controls []PanelControl `json:"controls"`
	Gauges   []PanelGauge   `json:"gauges"`
	Lamps    []PanelLamp    `json:"lamps"`
}

// PanelLamp is a lamp, or something that is felt or seen from the seat.
type PanelLamp struct {
	ID     string `json:"id"`
	Engine int    `json:"engine" doc:"from 1"`
	Label  string `json:"label"`
}

// PanelControl is a control as it stands on the panel.
type PanelControl struct {
	Control string `json:"control"`
	Engine  int    `json:"engine,omitempty" doc:"from 1; 0 for what is there once"`
	Label   string `json:"label"`
	// Group is where it stands, and Kind how it is moved: a switch goes and stays, a
	// lever slides, a button is held, positions are turned to.
	Group     string     `json:"group"`
	Kind      string     `json:"kind" enum:"switch,lever,hold,positions"`
	Low       string     `json:"low,omitempty" doc:"what it is at its least, and"`
	High      string     `json:"high,omitempty" doc:"at its most"`
	Positions []Position `json:"positions,omitempty"`
	At        float64    `json:"at" doc:"where it stands at the beginning"`
}

// Position is one of those that a switch is turned to.
type Position struct {
	Label string  `json:"label"`
	Value float64 `json:"value"`
}

// PanelGauge is an instrument with its scale and its normal band.
type PanelGauge struct {
	ID     string   `json:"id"`
	Engine int      `json:"engine"`
	Label  string   `json:"label"`
	Unit   string   `json:"unit"`
	From   float64  `json:"from"`
	To     float64  `json:"to"`
	Low    *float64 `json:"low,omitempty"`
	High   *float64 `json:"high,omitempty"`
	// Decimals are as many as it is read to.
	Decimals int `json:"decimals"`
}

// Panel is the panel of the stand.
func (m *Machine) Panel() Panel {
	p := Panel{Lamps: []PanelLamp{}}
	add := func(c Control, group, kind, label, low, high string) *PanelControl {
		if !c.PerEngine() {
			p.Controls = append(p.Controls, PanelControl{
				Control: c.String(), Label: label, Group: group, Kind: kind, Low: low, High: high, At: m.At(c, 1),
			})
			return &p.Controls[len(p.Controls)-1]
		}
		for i := range m.typ.Engines {
			name := label
			if m.typ.Engines > 1 {
				name += ", " + m.typ.EngineName(i+1)
			}
			p.Controls = append(p.Controls, PanelControl{
				Control: c.String(), Engine: i + 1, Label: name, Group: group, Kind: kind, Low: low, High: high,
				At: m.At(c, i+1),
			})
		}
		return nil
	}
	t := m.typ
	add(Master, "electrics", "switch", "Battery", "off", "on")
	add(Avionic, "electrics", "switch", "Avionics", "off", "on")
	if t.EngineKind == "diesel" {
		add(EngineMaster, "electrics", "switch", "Engine master", "off", "on")
	}
	if t.Ignition != "none" {
		add(Ignition, "ignition", "positions", "Ignition", "", "")
		positions := []Position{
			{"OFF", IgnitionOff}, {"RIGHT", IgnitionRight}, {"LEFT", IgnitionLeft}, {"BOTH", IgnitionBoth},
		}
		if t.Ignition == "lanes" {
			positions = []Position{
				{"OFF", IgnitionOff}, {"A alone", IgnitionLeft}, {"B alone", IgnitionRight}, {"A and B", IgnitionBoth},
			}
		}
		for i := range p.Controls {
			if p.Controls[i].Control == Ignition.String() {
				p.Controls[i].Positions = positions
			}
		}
	}
	add(Starter, "ignition", "hold", "Starter", "", "")
	if t.EngineKind == "diesel" {
		add(UnitTest, "ignition", "hold", "Unit test", "", "")
	}
	switch {
	case t.EngineKind == "turbine":
		add(Throttle, "levers", "positions", "Twist grip", "", "")
		for i := range p.Controls {
			if p.Controls[i].Control == Throttle.String() {
				p.Controls[i].Positions = []Position{{"closed", 0}, {"idle", 0.35}, {"flight", 1}}
			}
		}
	case t.Has("power-lever"):
		add(Throttle, "levers", "lever", "Power", "idle", "full")
	default:
		add(Throttle, "levers", "lever", "Throttle", "closed", "open")
	}
	if m.rig.Governor != nil && m.rig.Diesel == nil {
		add(Propeller, "levers", "lever", "Propeller", "feather", "forward")
	}
	if t.Has("mixture") {
		add(Mixture, "levers", "lever", "Mixture", "cut-off", "rich")
	}
	switch {
	case t.Has("carburettor"):
		add(Heat, "levers", "lever", "Carburettor heat", "cold", "hot")
	case t.Has("alternate-air"):
		add(Heat, "levers", "lever", "Alternate air", "closed", "open")
	}
	if m.rig.Engine.CowlFlaps > 0 {
		add(CowlFlaps, "levers", "switch", "Cowl flaps", "closed", "open")
	}
	if t.Has("choke") {
		add(Choke, "levers", "lever", "Choke", "in", "out")
	}
	if m.tanks.chosen {
		add(Tank, "fuel", "positions", "Tank", "", "")
		p.Controls[len(p.Controls)-1].Positions = []Position{{"off", 0}, {"left", 1}, {"right", 2}}
	}
	if t.Has("primer") {
		add(Primer, "fuel", "hold", "Primer, a stroke", "", "")
	}
	if m.rig.Fuel.ElectricPump > 0 {
		add(Pump, "fuel", "switch", "Electric pump", "off", "on")
	}
	if m.rig.Rotor != nil {
		if m.rig.Rotor.BeltSeconds > 0 {
			add(Clutch, "rotor", "switch", "Clutch", "out", "in")
			add(Governor, "rotor", "switch", "Governor", "off", "on")
		}
		if m.rig.Rotor.Hydraulic {
			add(Hydraulics, "rotor", "switch", "Hydraulics", "off", "on")
		}
		add(Collective, "rotor", "lever", "Collective", "down", "up")
	} else {
		add(Brakes, "brakes", "switch", "Brakes", "off", "held")
	}
	m.gauges(&p)
	m.lamps(&p)
	return p
}

// lamps are the lamps of the panel, and what else is felt and seen.
func (m *Machine) lamps(p *Panel) {
	t := m.typ
	add := func(id, label string) {
		for i := range t.Engines {
			name := label
			if t.Engines > 1 {
				name += ", " + t.EngineName(i+1)
			}
			p.Lamps = append(p.Lamps, PanelLamp{id, i + 1, name})
		}
	}
	if t.EngineKind != "turbine" {
		add("starter", "starter in")
	}
	if t.EngineKind == "diesel" {
		add("glow", "glow")
		add("unit-a", "unit A")
		add("unit-b", "unit B")
	}
	if t.Ignition == "lanes" {
		add("lane-a", "lane A")
		add("lane-b", "lane B")
	}
	if r := m.rig.Rotor; r != nil {
		if r.BeltSeconds > 0 {
			add("clutch", "clutch")
		}
		add("low-rotor", "low rotor")
		if r.Hydraulic {
			add("stiff", "controls stiff")
			add("pulls", "controls pull")
		}
	}
	if m.rig.Engine.Cylinders > 0 {
		add("rough", "runs rough")
	}
	if m.rig.Rotor == nil {
		p.Lamps = append(p.Lamps, PanelLamp{"moves", 1, "the aircraft moves"})
	}
}

// gauges are the instruments of the panel.
func (m *Machine) gauges(p *Panel) {
	t := m.typ
	of := func(id, label, unit string, decimals int, from, to, low, high float64) {
		engines := t.Engines
		if id == "volts" {
			engines = 1
		}
		for i := range engines {
			if _, shown := m.Gauge(id, i+1); !shown {
				continue
			}
			name := label
			if engines > 1 {
				name += ", " + t.EngineName(i+1)
			}
			g := PanelGauge{ID: id, Engine: i + 1, Label: name, Unit: unit, From: from, To: to, Decimals: decimals}
			if !math.IsNaN(low) {
				g.Low = &low
			}
			if !math.IsNaN(high) {
				g.High = &high
			}
			p.Gauges = append(p.Gauges, g)
		}
	}
	none := math.NaN()
	unit := "rpm"
	if t.Tachometer == "percent" || t.EngineKind == "turbine" {
		unit = "%"
	}
	switch {
	case m.rig.Turbine != nil:
		of("spool", "spool", "%", 1, 0, 110, none, none)
		of("rotor", "rotor", "%", 1, 0, 115, none, none)
	case m.rig.Rotor != nil:
		of("speed", "engine speed", unit, 1, 0, 115, none, none)
		of("rotor", "rotor", "%", 1, 0, 115, none, none)
	default:
		of("speed", "engine speed", unit, 0, 0, 1.15*m.rig.StaticSpeed, none, none)
	}
	for _, g := range t.Gauges {
		low, high, banded := normal(t, g.ID)
		if !banded {
			continue
		}
		from, to := g.From, g.To
		if from == to {
			from, to = scaleOf(t, g.ID)
		}
		if g.Unit == "°C" {
			from = min(from, -30) // it is cold in the morning
		}
		decimals := 0
		if to-from < 20 {
			decimals = 1
		}
		of(g.ID, g.Label, g.Unit, decimals, from, to, low, high)
	}
	shown := func(id string) bool {
		return slices.ContainsFunc(p.Gauges, func(g PanelGauge) bool { return g.ID == id })
	}
	if !shown("fuelPressure") && t.Limits["fuel-pressure"] != nil {
		of("fuelPressure", "fuel pressure", "psi", 1, 0, math.Ceil(1.25*m.rig.Fuel.Regulated), none, none)
	}
	if m.rig.SuctionInHg > 0 {
		of("suction", "suction", "inHg", 1, 0, 8, t.Limit("suction", "min"), t.Limit("suction", "max"))
	}
	if m.tanks.chosen {
		of("fuelLeft", "fuel, left", "L", 1, 0, float64(t.Fuel.Tanks[0].UsableL), none, none)
		of("fuelRight", "fuel, right", "L", 1, 0, float64(t.Fuel.Tanks[1].UsableL), none, none)
	}
	of("volts", "voltage", "V", 1, 0, m.rig.Electric.BatteryV*1.35, t.Limit("charging", "voltsMin"),
		t.Limit("charging", "voltsMax"))
	of("amps", "charge", "A", 0, 0, m.rig.Electric.AlternatorA, none, none)
}

// scaleOf is the scale of a gauge that says none: beyond its limits by a quarter.
func scaleOf(t aircraft.Type, id string) (from, to float64) {
	band, _ := t.Limits["gauges"][id].(map[string]any)
	low, high := aircraft.Number(band["min"]), aircraft.Number(band["max"])
	if math.IsNaN(high) {
		high = aircraft.Number(band["cautionMax"])
	}
	if math.IsNaN(low) {
		low = 0
	}
	return math.Floor(min(0, low-0.25*math.Abs(low))), math.Ceil(high * 1.25)
}

// Read gives what the gauges of a panel show, in its order.
func (m *Machine) Read(p Panel, into []float64) {
	for i, g := range p.Gauges {
		into[i], _ = m.Gauge(g.ID, g.Engine)
	}
}

// Beyond gives which of the gauges of a panel show something outside their normal band
// while their engine runs, in its order; of one that stands nothing is said.
func (m *Machine) Beyond(p Panel, values []float64) []bool {
	out := make([]bool, len(values))
	for i, g := range p.Gauges {
		outside := g.Low != nil && values[i] < *g.Low || g.High != nil && values[i] > *g.High
		out[i] = outside && m.engines[g.Engine-1].burning
	}
	return out
}

// Lit gives which lamps of a panel burn, in its order.
func (m *Machine) Lit(p Panel) []bool {
	out := make([]bool, len(p.Lamps))
	for i, lamp := range p.Lamps {
		e := &m.engines[lamp.Engine-1]
		a, b := m.UnitLamps(lamp.Engine)
		stiff, pulls := m.Hydraulics()
		switch lamp.ID {
		case "starter":
			out[i] = m.shared[Master] == 1 && (e.controls[Starter] == 1 || e.stuck)
		case "glow":
			out[i] = m.Glowing(lamp.Engine)
		case "unit-a":
			out[i] = a
		case "unit-b":
			out[i] = b
		case "lane-a":
			out[i] = m.LaneLamps(lamp.Engine)[0]
		case "lane-b":
			out[i] = m.LaneLamps(lamp.Engine)[1]
		case "clutch":
			out[i] = m.Lamp()
		case "low-rotor":
			out[i] = m.Horn()
		case "stiff":
			out[i] = stiff
		case "pulls":
			out[i] = pulls
		case "rough":
			out[i] = e.burning && e.rough > feltRough
		case "moves":
			out[i] = m.GroundKt() > 0.3
		}
	}
	return out
}
