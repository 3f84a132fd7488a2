package stand

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
)

// Worked is a measured check that a hand worked on a stand.
type Worked struct {
	Item    string        `json:"item"`
	Check   string        `json:"-"`
	Request Request       `json:"request"`
	Verdict check.Verdict `json:"verdict"`
}

// Request is what was read, as the check takes it.
type Request struct {
	AircraftType string         `json:"aircraftType"`
	Engine       int            `json:"engine"`
	Attempt      int            `json:"attempt"`
	Reading      map[string]any `json:"reading"`
	Conditions   map[string]any `json:"conditions"`
}

// Hand works a stand as a good student does: it reads instruments, not truth, waits
// for them to settle, and moves one thing at a time.
type Hand struct {
	m      *Machine
	day    Day
	inputs []Input
	// Watch is called after every step.
	Watch func(m *Machine)
	// what was measured before, for the comparison of two engines
	compared map[string][MaxEngines]float64
	started  [MaxEngines]bool
	rested   float64 // volts, before anything was cranked
	looked   [MaxEngines]struct {
		tick  int
		speed float64
	}
}

// NewHand is a hand on a stand.
func NewHand(m *Machine, day Day) *Hand {
	return &Hand{m: m, day: day, inputs: []Input{}, compared: map[string][MaxEngines]float64{}}
}

// Inputs are what the hand has moved, in their time.
func (h *Hand) Inputs() []Input { return h.inputs }

// Work works the items of a list in its order, and judges those that are measured, until
// one says stop.
func (h *Hand) Work(items []checklist.Item) ([]Worked, error) {
	out := []Worked{}
	for _, item := range items {
		h.m.Comes(item.Printed())
		work, known := procedures[item.Check]
		if !known {
			continue
		}
		engine := max(item.Engine, 1)
		if !slices.Contains(standing, item.Check) && !h.running(engine) {
			continue
		}
		reading := work(h, item, engine)
		if reading == nil {
			continue
		}
		one, err := h.judged(item, engine, reading)
		if err != nil {
			return out, fmt.Errorf("%s: %w", item.ID, err)
		}
		if out = append(out, one); one.Verdict.Decision == check.Stop {
			return out, nil
		}
	}
	return out, nil
}

// Works reports whether a check can be worked on a stand.
func Works(name string) bool { return procedures[name] != nil }

// standing are the checks that need no engine that runs.
var standing = []string{
	"battery", "piston-start", "diesel-start", "turbine-start", "altimeter", "heading", "database", "hydraulics",
}

func (h *Hand) running(engine int) bool { return h.started[engine-1] && !h.stopped(engine) }

// judged holds a reading to the limits that hold at an item.
func (h *Hand) judged(item checklist.Item, engine int, reading map[string]any) (Worked, error) {
	d := h.day
	r := Request{
		h.m.typ.ID, engine, 1, reading,
		map[string]any{
			"oatC": d.OATC, "qnhHPa": d.QNHHPa, "elevationFt": d.ElevationFt, "engineState": d.EngineState,
			"rules": "VFR", "night": false,
		},
	}
	if d.Date != "" {
		r.Conditions["date"] = d.Date
	}
	if item.Check == "gauges" && item.Power != "" {
		r.Conditions["power"] = item.Power
	}
	text, err := json.Marshal(r) // numbers as they are in JSON
	if err != nil {
		return Worked{}, err
	}
	request, err := check.ParseRequest(text)
	if err != nil {
		return Worked{}, err
	}
	at := lesson.TypeAt(h.m.typ, item, r.Conditions)
	v, err := check.Judge(item.Check, request, func(string) (aircraft.Type, bool) { return at, true })
	return Worked{item.ID, item.Check, r, v}, err
}

// Set moves a control.
func (h *Hand) Set(c Control, engine int, value float64) { h.set(c, engine, value) }

// Wait lets so many seconds go by.
func (h *Hand) Wait(seconds float64) { h.wait(seconds) }

// set moves a control.
func (h *Hand) set(c Control, engine int, value float64) {
	if h.m.At(c, engine) == value {
		return
	}
	if !c.PerEngine() {
		engine = 0
	}
	h.m.Move(c, engine, value)
	h.inputs = append(h.inputs, Input{h.m.tick, engine, c.String(), value})
}

func (h *Hand) step() {
	h.m.Step()
	if h.Watch != nil {
		h.Watch(h.m)
	}
}

func (h *Hand) wait(seconds float64) {
	for range int(seconds * TicksASecond) {
		h.step()
	}
}

// until waits for something, at most so long, and reports whether it came.
func (h *Hand) until(seconds float64, come func() bool) bool {
	for range int(seconds * TicksASecond) {
		if come() {
			return true
		}
		h.step()
	}
	return come()
}

func (h *Hand) gauge(name string, engine int) float64 {
	v, _ := h.m.Gauge(name, engine)
	return v
}

// speed is what the tachometer shows, as near as it is read.
func (h *Hand) speed(engine int) float64 { return h.m.asRead(h.gauge("speed", engine)) }

// asRead brings a speed to how near a tachometer is read: 5 rpm, or a half percent.
func (m *Machine) asRead(speed float64) float64 {
	near := 5.0
	if m.typ.Tachometer == "percent" {
		near = 0.5
	}
	return math.Round(speed/near) * near
}

// powered brings an engine to a speed with the throttle, and lets it settle.
func (h *Hand) powered(engine int, speed float64) {
	settled := 0
	for range 90 * TicksASecond / 10 {
		if settled = settled + 1; !h.nudge(engine, speed) {
			settled = 0
		}
		if settled > 15 {
			break
		}
		h.wait(0.2)
	}
	h.wait(2)
}

// nudge moves the throttle a little toward a speed, and reports whether it is there. A
// hand looks ahead of a needle that moves, further of a heavy rotor's.
func (h *Hand) nudge(engine int, speed float64) bool {
	now, ahead := h.gauge("speed", engine), 0.0
	if since := h.m.tick - h.looked[engine-1].tick; since > 0 && since <= TicksASecond {
		ahead = (now - h.looked[engine-1].speed) / (float64(since) * Step) * 0.2
		if h.m.rig.Rotor != nil {
			ahead *= 15
		}
	}
	h.looked[engine-1].tick, h.looked[engine-1].speed = h.m.tick, now
	off := (speed - now - ahead) / h.m.rig.StaticSpeed
	at := h.m.At(Throttle, engine) + min(max(off, -0.05), 0.05)*0.25
	h.set(Throttle, engine, round(min(max(at, 0), 1), 5))
	return math.Abs(speed-now) < 0.0025*h.m.rig.StaticSpeed && math.Abs(off) < 0.004
}

// rich sets the mixture rich, leaner where the air is thin: as the handbooks ask for from
// a density altitude of some 4000 ft on.
func (h *Hand) rich(engine int) {
	if d := h.m.air.density; d < 0.89 {
		h.set(Mixture, engine, round(math.Sqrt(d), 2))
		return
	}
	h.set(Mixture, engine, 1)
}

// idle closes the throttle, within some seconds, and lets the engine settle.
func (h *Hand) idle(engine int) {
	h.set(Governor, engine, 0)
	from, to := h.m.At(Throttle, engine), h.shut()
	for n := 7.0; n >= 0; n-- {
		h.set(Throttle, engine, round(to+(from-to)*n/8, 4))
		h.wait(0.5)
	}
	h.wait(8)
}

// limit is a number among the limits of a check; NaN where there is none.
func (h *Hand) limit(name, field string) float64 { return h.m.typ.Limit(name, field) }

// runUp is the speed of the run-up, of the ignition check.
func (h *Hand) runUp() float64 {
	for _, name := range []string{"magneto", "lanes"} {
		if base := h.limit(name, "base"); !math.IsNaN(base) {
			return base
		}
	}
	return 0.75 * h.m.rig.StaticSpeed
}

// at brings an engine to the power that gauges are read at.
func (h *Hand) at(power string, engine int) {
	if h.m.rig.Turbine != nil {
		h.gripped(power, engine)
		return
	}
	switch power {
	case "runUp":
		h.powered(engine, h.runUp())
	case "fullPower":
		h.set(Throttle, engine, 1)
		h.wait(10)
	case "hover":
		h.powered(engine, 0.95*h.m.rig.StaticSpeed)
		h.set(Governor, engine, 1)
		h.wait(8)
		h.lift(engine)
	case "idle":
		h.idle(engine)
	}
}

// gripped brings a turbine to the power that gauges are read at.
func (h *Hand) gripped(power string, engine int) {
	switch power {
	case "runUp", "fullPower", "hover":
		h.set(Throttle, engine, 1)
		h.wait(25)
	case "idle":
		h.idle(engine)
	}
	if power == "hover" {
		h.lift(engine)
	}
}

// lift raises the collective to the hover.
func (h *Hand) lift(engine int) {
	for lifted := 0.05; lifted < 0.61; lifted += 0.05 {
		h.set(Collective, engine, round(lifted, 2))
		h.wait(1)
	}
	h.wait(8)
}

// shut is where a throttle stands at idle: closed, but a turbine's grip at its gate.
func (h *Hand) shut() float64 {
	if h.m.rig.Turbine != nil {
		return 0.35
	}
	return 0
}

// warmUp waits at a fast idle until an engine's temperatures lie well within their
// bands, as far as twenty minutes bring them.
func (h *Hand) warmUp(gauges []string, engine int) {
	if h.m.rig.Turbine == nil && h.m.rig.Diesel == nil {
		h.powered(engine, 0.45*h.m.rig.StaticSpeed)
	}
	h.until(1200, func() bool {
		return !slices.ContainsFunc(h.m.typ.Gauges, func(g aircraft.Gauge) bool {
			low, high, banded := normal(h.m.typ, g.ID)
			return banded && g.Unit == "°C" && slices.Contains(gauges, g.ID) && h.gauge(g.ID, engine) < low+
				(high-low)*0.22
		})
	})
}

// normal is the normal band of a gauge, at whatever power.
func normal(t aircraft.Type, id string) (low, high float64, banded bool) {
	return normalAt(t, id, "")
}

// normalAt is the normal band of a gauge at a power.
func normalAt(t aircraft.Type, id, power string) (low, high float64, banded bool) {
	band, ok := t.Limits["gauges"][id].(map[string]any)
	if !ok {
		return 0, 0, false
	}
	at, _ := band["at"].(map[string]any)
	own, _ := at[power].(map[string]any)
	number := func(names ...string) float64 {
		for _, of := range []map[string]any{own, band} {
			for _, n := range names {
				if v := aircraft.Number(of[n]); !math.IsNaN(v) {
					return v
				}
			}
		}
		return math.NaN()
	}
	return number("cautionMin", "min"), number("cautionMax", "max"), true
}

func round(v float64, decimals int) float64 {
	by := math.Pow(10, float64(decimals))
	return math.Round(v*by) / by
}

// Has reports whether a control of an engine stands in a range.
func (h *Hand) Has(control string, engine int, low, high float64) bool {
	c, known := ControlOf(control)
	at := h.m.At(c, engine)
	return known && at >= low && at <= high
}
