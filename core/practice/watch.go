package practice

import (
	"math"
	"slices"

	"jetprimer/core/aircraft"
	"jetprimer/core/lesson"
	"jetprimer/core/stand"
)

// watch is what the stand sees of how its engines are worked: what is unsafe, and what a
// stopwatch would have counted.
type watch struct {
	typ     aircraft.Type
	engines [stand.MaxEngines]seenOf
	rolling int // ticks
	told    []string
	// noticed are the seconds at which the student said that something is not normal.
	noticed []float64
}

// seenOf is what is seen of one engine.
type seenOf struct {
	ignition float64
	cranks   []span
	fired    int // the tick at which it first ran by itself, 0 before
	peak     float64
	oil      float64 // seconds from firing to oil pressure, NaN before
	sides    [4]span // on each position of the ignition, the last time
	closed   int     // ticks with the throttle closed
	hot      int     // ticks at full power with the heat on
	lean     int     // ticks at power with the mixture far back
	fast     int     // ticks faster than after a start is allowed
	clutch   int     // the tick at which it was engaged
	blades   float64
	tight    float64
	fuel     int // the tick at which a turbine got its fuel
	fuelAt   [2]float64
	lit      float64
	hottest  float64
	above    int
	toIdle   float64
	snapped  int
	spool    float64
	slowed   float64
}

// span is from one tick to another; to is 0 while it lasts.
type span struct{ from, to int }

func (s span) seconds(now int) float64 {
	if s.to > 0 {
		now = s.to
	}
	return float64(now-s.from) * stand.Step
}

func (w *watch) begin(t aircraft.Type) {
	w.typ = t
	for i := range w.engines {
		w.engines[i].oil, w.engines[i].blades, w.engines[i].tight = math.NaN(), math.NaN(), math.NaN()
		w.engines[i].lit, w.engines[i].toIdle, w.engines[i].slowed = math.NaN(), math.NaN(), math.NaN()
	}
}

// Chosen: how long the stand lets something go on before it is a mistake, in seconds, and
// from where a lever is open, hot or far back.
const (
	rollsFor    = 3.0
	wrongFor    = 3.0
	overspeedBy = 1.1 // of what is allowed after a start
	fastFor     = 1.5
	open        = 0.3
	wideOpen    = 0.9
	farBack     = 0.55
	slowedTo    = 75.0 // percent of the spool, to which a deceleration is timed
)

func ticks(seconds float64) int { return int(seconds * stand.TicksASecond) }

// belongs are the items at which a mistake is noted, the first that is on the list; of
// other mistakes it is the one that is worked.
var belongs = map[string][]string{
	"no-verbal-clear":  {"area-clear"},
	"unsafe-act":       {"area-clear"},
	"starter-too-long": {"crank", "starter-turbine"},
	"over-speed":       {"crank"},
	"brake-creep":      {"brakes-held", "brakes-set"},
	"back-to-both":     {"magnetos"},
	"heat-left-on":     {"carb-heat-off"},
	"mixture-moment":   {"mixture-takeoff"},
}

// noteMistake writes a mistake of an engine down, once at its item.
func (s *Session) noteMistake(engine int, code, words string) {
	item := s.places[s.Live].Item.ID
	for _, id := range slices.Backward(belongs[code]) {
		for _, p := range s.places {
			if p.Item.Printed() == id && (p.Item.Engine == 0 || p.Item.Engine == engine) {
				item = p.Item.ID
			}
		}
	}
	if key := code + " " + item; !slices.Contains(s.watch.told, key) {
		s.watch.told = append(s.watch.told, key)
		s.noted(s.touch(onStand, lesson.Mark{Name: "error", Item: item, Code: code, Words: words}))
	}
}

// watches looks at the machine once a tick.
func (s *Session) watches() {
	m, w := s.Machine, &s.watch
	for e := 1; e <= w.typ.Engines; e++ {
		s.engine(e, &w.engines[e-1])
	}
	w.rolling++
	if m.GroundKt() < 0.3 || s.Lesson.Rows()[s.Live].Moving {
		w.rolling = 0
	}
	if w.rolling == ticks(rollsFor) {
		s.noteMistake(1, "brake-creep", "The aircraft rolled, and nobody held it.")
	}
}

// engine looks at one engine.
func (s *Session) engine(e int, w *seenOf) {
	m, now, t := s.Machine, s.Machine.Tick(), s.watch.typ
	speed, _ := m.Gauge("speed", e)
	throttle := m.At(stand.Throttle, e)
	turning := m.At(stand.Starter, e) == 1 && m.At(stand.Master, e) == 1 || t.EngineKind == "diesel" &&
		m.At(stand.Starter, e) == 1
	limits := "piston-start"
	if t.EngineKind == "diesel" {
		limits = "diesel-start"
	}
	last := len(w.cranks) - 1
	switch {
	case turning && (last < 0 || w.cranks[last].to > 0):
		if len(w.cranks) < 50 {
			w.cranks = append(w.cranks, span{from: now})
		}
		s.cranked(e)
	case !turning && last >= 0 && w.cranks[last].to == 0:
		w.cranks[last].to = now
	case turning && t.EngineKind != "turbine" && w.cranks[last].seconds(now) > t.Limit(limits, "crankMaxSeconds")+1:
		s.noteMistake(e, "starter-too-long", "")
	}
	s.ignition(e, w, throttle, speed)
	runs := m.Runs(e)
	if runs && w.fired == 0 {
		w.fired = now
	}
	if since := float64(now-w.fired) * stand.Step; w.fired > 0 && since < 30 {
		w.peak = max(w.peak, speed)
		if math.IsNaN(w.oil) && m.OilIsUp(e) {
			w.oil = since
		}
		if w.fast++; !(speed > overspeedBy*t.Limit(limits, "rpmMax")) {
			w.fast = 0
		}
		if w.fast == ticks(fastFor) {
			s.noteMistake(e, "over-speed", "")
		}
	}
	count := func(n *int, is bool) bool {
		if *n++; !is {
			*n = 0
		}
		return *n == ticks(wrongFor)
	}
	count(&w.closed, throttle <= 0.02 && runs)
	if t.Has("carburettor") && count(&w.hot, runs && throttle > wideOpen && m.At(stand.Heat, e) > 0.5) {
		s.noteMistake(e, "heat-left-on", "")
	}
	if t.Has("mixture") && count(&w.lean, runs && throttle > wideOpen && m.At(stand.Mixture, e) < farBack) {
		s.noteMistake(e, "mixture-moment", "Full power with the mixture far back.")
	}
	if throttle > wideOpen && runs && m.Near(stand.AircraftBehind) {
		s.noteMistake(e, "unsafe-act", "Another aircraft stood in the blast.")
	}
	s.rotor(e, w)
	s.turbine(e, w)
}

// cranked is the moment at which a starter turns: the call, and who is near.
func (s *Session) cranked(e int) {
	if s.Machine.Near(stand.SomebodyNear) {
		s.noteMistake(e, "unsafe-act", "The starter turned while somebody stood by.")
	}
	for i, p := range s.places {
		called := s.State.Items[i].Status == "done" || s.State.Items[i].Status == "shown"
		if slices.Contains(p.Item.Starts, "clear") && (p.Item.Engine == 0 || p.Item.Engine == e) && !called {
			s.noteMistake(e, "no-verbal-clear", "")
		}
	}
}

// ignition follows the switch: how long it is on each side, and back to BOTH from OFF
// with the throttle open.
func (s *Session) ignition(e int, w *seenOf, throttle, speed float64) {
	m, now := s.Machine, s.Machine.Tick()
	at := m.At(stand.Ignition, e)
	if at == w.ignition {
		return
	}
	if w.ignition == stand.IgnitionOff && throttle > open && speed > 0.2*m.StaticSpeed() &&
		s.watch.typ.Has("magnetos") {
		s.noteMistake(e, "back-to-both", "")
	}
	w.sides[int(w.ignition)].to = now
	w.sides[int(at)] = span{from: now}
	w.ignition = at
}

// rotor counts what a clutch takes.
func (s *Session) rotor(e int, w *seenOf) {
	m, now := s.Machine, s.Machine.Tick()
	if s.watch.typ.Limits["clutch"] == nil {
		return
	}
	if m.At(stand.Clutch, e) == 0 {
		w.clutch = 0
		return
	}
	if w.clutch == 0 {
		w.clutch, w.blades, w.tight = now, math.NaN(), math.NaN()
	}
	since := float64(now-w.clutch) * stand.Step
	if turns, shown := m.Gauge("rotor", e); shown && turns > 2 && math.IsNaN(w.blades) {
		w.blades = since
	}
	if since > 1 && !m.Lamp() && math.IsNaN(w.tight) {
		w.tight = since
	}
}

// turbine follows the start of a turbine, and how quickly its spool slows.
func (s *Session) turbine(e int, w *seenOf) {
	m, now, t := s.Machine, s.Machine.Tick(), s.watch.typ
	if t.EngineKind != "turbine" {
		return
	}
	spool, _ := m.Gauge("spool", e)
	temp, _ := m.Gauge("turbineTemperature", e)
	throttle := m.At(stand.Throttle, e)
	if w.fuel == 0 && throttle > 0 && m.At(stand.Starter, e) == 1 {
		w.fuel, w.fuelAt = now, [2]float64{spool, temp}
	}
	if w.fuel > 0 && math.IsNaN(w.toIdle) {
		since := float64(now-w.fuel) * stand.Step
		if math.IsNaN(w.lit) && m.Runs(e) {
			w.lit = since
		}
		w.hottest = max(w.hottest, temp)
		if temp > t.Limit("turbine-start", "tempLimitC") {
			w.above++
		}
		if spool >= t.Limit("turbine-start", "idleMinPercent") {
			w.toIdle = since
		}
	}
	switch {
	case throttle >= wideOpen:
		w.snapped, w.spool = now, spool
	case w.snapped > 0 && math.IsNaN(w.slowed) && spool <= slowedTo:
		w.slowed = float64(now-w.snapped) * stand.Step
	}
}
