package stand

import (
	"fmt"
	"math"
	"slices"

	"jetprimer/core/check"
	"jetprimer/core/lesson"
)

// What a fault can turn: each is 0 in a healthy engine. One is added by its line here and
// where its model turns by it. Of a pair the left one is followed by the right.
var (
	leftDead         = pair("dead")
	leftUngrounded   = pair("ungrounded")
	leftLate         = pair("late")
	leftEarly        = pair("early")
	leftPlugDead     = pair("plug-dead")
	leftFouls        = pair("fouls") // once, when it comes
	impulseDead      = knob("impulse-dead")
	compressionLow   = knob("compression-low")
	heatBlocked      = knob("heat-blocked")
	throttleShort    = knob("throttle-short")
	intakeBlocked    = knob("intake-blocked")
	idleHigh         = knob("idle-high")
	idleLow          = knob("idle-low")
	idleRich         = knob("idle-rich")
	idleLean         = knob("idle-lean")
	runsRich         = knob("runs-rich")
	runsLean         = knob("runs-lean")
	runsHot          = knob("runs-hot")
	oilPumpWorn      = knob("oil-pump-worn")
	oilSlow          = knob("oil-slow")
	oilGauge         = knob("oil-gauge")
	starterStays     = knob("starter-stays")
	alternatorWeak   = knob("alternator-weak")
	alternatorDead   = knob("alternator-dead")
	overVoltage      = knob("over-voltage")
	batteryWeak      = knob("battery-weak")
	vacuumWorn       = knob("vacuum-worn")
	vacuumHigh       = knob("vacuum-high")
	fuelPumpWorn     = knob("fuel-pump-worn")
	electricPumpWorn = knob("electric-pump-worn")
	fuelVent         = knob("fuel-vent")
	fuelPressureHigh = knob("fuel-pressure-high")
	fuelBlocked      = knob("fuel-blocked")
	governorStuck    = knob("governor-stuck")
	featherStuck     = knob("feather-stuck")
	ices             = knob("ices")
	beltsWorn        = knob("belts-worn")
	beltsLoose       = knob("belts-loose")
	freewheelSticks  = knob("freewheel-sticks")
	hornSilent       = knob("horn-silent")
	hornEarly        = knob("horn-early")
	fuelLean         = knob("fuel-lean")
	decelQuick       = knob("decel-quick")
	igniterDead      = knob("igniter-dead")
	compressorDirty  = knob("compressor-dirty")
	transmissionWorn = knob("transmission-worn")
	assistStays      = knob("assist-stays")
	assistDead       = knob("assist-dead")
	servoSticks      = knob("servo-sticks")
	glowDead         = knob("glow-dead")
	unitStops        = knob("unit-stops")
	unitSwings       = knob("unit-swings")
	unitLamp         = knob("unit-lamp")
	hubSticks        = knob("hub-sticks")
	heatSticks       = knob("heat-sticks")
	governorDroops   = knob("governor-droops")
	boostLeaks       = knob("boost-leaks")
	leftLampDead     = pair("lamp-dead")
	leftLampStays    = pair("lamp-stays")
)

// knobs is room for all that can be turned.
const knobs = 96

// knobNames are what faults in data turn, in their order.
var knobNames []string

func knob(name string) int {
	knobNames = append(knobNames, name)
	return len(knobNames) - 1
}

// pair is a knob of the left circuit or lane; the next one is that of the right.
func pair(name string) int {
	left := knob("left-" + name)
	knob("right-" + name)
	return left
}

// Fault is something that is wrong with an engine, as a school can slip it in.
type Fault struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	// Has are the parts that a type must have for it, as everywhere; "no " before a part
	// excludes it.
	Has []string `json:"has,omitempty"`
	// Turns are what it turns, by how much at its worst; Least is the severity, of 1,
	// from which it is a fault.
	Turns map[string]float64 `json:"turns"`
	Least float64            `json:"least"`
	// Needs is what of the day it shows on: a cold engine, or damp air; empty is any.
	Needs string `json:"needs,omitempty" enum:"cold,damp"`
	// Symptom is what is seen, Finds what the checks of a good student make of it, until
	// one says stop, and Also what may show beside it; Finds is empty where no check sees
	// it.
	Symptom string `json:"symptom"`
	Finds   []Sign `json:"finds"`
	Also    []Sign `json:"also,omitempty"`
	// Decision is what is right.
	Decision string `json:"decision" enum:"cleared,carried-on,deferred,grounded"`
	Why      string `json:"why"`
}

// Sign is a finding of a check by which a fault shows.
type Sign struct {
	Check   string `json:"check"`
	Finding string `json:"finding"`
	Side    string `json:"side,omitempty"`
}

// Problems lists what of the fault cannot be used.
func (f Fault) Problems() []string {
	out := []string{}
	if f.ID == "" || f.Title == "" || f.Symptom == "" || f.Why == "" {
		out = append(out, "needs an id, a title, a symptom and a reason")
	}
	if f.Least <= 0 || f.Least > 1 {
		out = append(out, fmt.Sprintf("begins at a severity of %g, which is not above 0 and at most 1", f.Least))
	}
	if len(f.Turns) == 0 {
		out = append(out, "turns nothing")
	}
	if !slices.Contains([]string{"", "cold", "damp"}, f.Needs) {
		out = append(out, fmt.Sprintf("needs %q, which is neither cold nor damp", f.Needs))
	}
	for name, by := range f.Turns {
		if !slices.Contains(knobNames, name) || !(by > 0 && by <= 5) {
			out = append(out, fmt.Sprintf("turns %q by %g, which is nothing that can be turned by 0 to 5", name, by))
		}
	}
	for _, s := range slices.Concat(f.Finds, f.Also) {
		if _, known := check.Find(s.Check); !known {
			out = append(out, fmt.Sprintf("shows in %q, which is no check", s.Check))
		}
	}
	if !slices.Contains(lesson.Decisions, f.Decision) {
		out = append(out, fmt.Sprintf("asks for %q, which is no decision", f.Decision))
	}
	return out
}

// slipped is a fault at work.
type slipped struct {
	turns  [knobs]float64
	engine int
	from   int // tick
	once   Trigger
	// every and on are in ticks: how often it comes, and for how long; 0 is for good.
	every, on int
	begun     int // the tick at which it began; 0 before
	at        bool
}

// works reports whether a fault is at work now.
func (f *slipped) works(m *Machine) bool {
	if m.tick < f.from {
		return false
	}
	if f.begun == 0 {
		met := true
		switch {
		case f.once.Gauge != "":
			v, shown := m.Gauge(f.once.Gauge, f.engine)
			met = shown && v >= f.once.Least
		case f.once.Control != "":
			c, _ := ControlOf(f.once.Control)
			met = m.At(c, f.engine) >= f.once.Least
		case f.once.Item != "":
			met = m.item == f.once.Item
		}
		if !met {
			return false
		}
		f.begun = m.tick
	}
	return f.every == 0 || (m.tick-f.begun)%f.every < f.on
}

// step lets a fault come and go. What several turn is turned by the worst of them.
func (f *slipped) step(m *Machine) {
	now := f.works(m)
	if now == f.at {
		return
	}
	f.at = now
	e := &m.engines[f.engine-1]
	e.knobs = [knobs]float64{}
	for i := range m.faults {
		if o := &m.faults[i]; o.at && o.engine == f.engine {
			for k, by := range o.turns {
				e.knobs[k] = max(e.knobs[k], by)
			}
		}
	}
	if now {
		for circuit := range e.fouling {
			e.fouling[circuit] = max(e.fouling[circuit], f.turns[leftFouls+circuit])
		}
	}
	m.ship.weak = 0
	for i := range m.engines {
		m.ship.weak = max(m.ship.weak, m.engines[i].knobs[batteryWeak])
	}
}

// Comes tells that the list has come to an item, by its id as it is printed: what waits
// for it begins.
func (m *Machine) Comes(item string) { m.item = item }

// Slip slips a fault into an engine; its seconds count from now.
func (m *Machine) Slip(f Fault, as Slipped) {
	ticks := func(seconds float64) int { return int(math.Round(seconds * TicksASecond)) }
	s := slipped{engine: max(as.Engine, 1), from: m.tick + ticks(as.From), every: ticks(as.Every), on: ticks(as.For)}
	if as.Once != nil {
		s.once = *as.Once
	}
	for name, worst := range f.Turns {
		if i := slices.Index(knobNames, name); i >= 0 {
			s.turns[i] = worst * (f.Least + (1-f.Least)*min(max(as.Severity, 0), 1))
		}
	}
	m.faults = append(m.faults, s)
}
