package stand_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/stand"
)

// seat is somebody who sits before a stand.
type seat struct {
	testing.TB
	m *stand.Machine
}

// sit begins a type's stand on a day, with faults at their worst.
func sit(t testing.TB, aircraftType string, day stand.Day, faults ...string) seat {
	t.Helper()
	c, err := catalog.Shipped()
	require.NoError(t, err)
	s := stand.Scenario{ID: "s", Title: "s", Goal: "g", Difficulty: 1, Type: aircraftType, Day: day}
	for _, f := range faults {
		s.Faults = append(s.Faults, stand.Slipped{Fault: f, Severity: 1})
	}
	m, err := s.Begin(c.Stand(), 1)
	require.NoError(t, err)
	return seat{t, m}
}

// moves moves controls of the first engine, or of what is there once.
func (s seat) moves(to map[stand.Control]float64) seat {
	for c := range stand.Controls { // in their order, so that a run is the same each time
		if v, moved := to[c]; moved {
			s.m.Move(c, 1, v)
		}
	}
	return s
}

func (s seat) waits(seconds float64) seat {
	for range int(seconds * stand.TicksASecond) {
		s.m.Step()
	}
	return s
}

func (s seat) reads(gauge string) float64 {
	s.Helper()
	v, shown := s.m.Gauge(gauge, 1)
	require.True(s, shown, "the aircraft has no %s", gauge)
	return v
}

// primes gives so many strokes.
func (s seat) primes(strokes int) seat {
	for range strokes {
		s.moves(map[stand.Control]float64{stand.Primer: 1}).waits(0.5).
			moves(map[stand.Control]float64{stand.Primer: 0}).waits(0.5)
	}
	return s
}

// ready sets a carburetted engine for its start.
func (s seat) ready(throttle float64) seat {
	return s.moves(map[stand.Control]float64{
		stand.Master: 1, stand.Brakes: 1, stand.Mixture: 1, stand.Throttle: throttle,
		stand.Ignition: stand.IgnitionBoth,
	})
}

// cranks turns the starter for a while.
func (s seat) cranks(seconds float64) seat {
	return s.moves(map[stand.Control]float64{stand.Starter: 1}).waits(seconds).moves(map[stand.Control]float64{
		stand.Starter: 0,
	})
}

// running is an engine that has run for so long at a throttle.
func (s seat) running(throttle, seconds float64) seat {
	s.ready(0.15).primes(2).cranks(3).waits(3)
	require.Greater(s, s.reads("speed"), 400.0, "it runs")
	return s.moves(map[stand.Control]float64{stand.Throttle: throttle}).waits(seconds)
}

// TestAStartIsWonAndLost: by priming for the day, by spark, and by fuel.
func TestAStartIsWonAndLost(t *testing.T) {
	cold, mild := standDays["cold soaked"], standDays["standard"]
	for name, c := range map[string]struct {
		day     stand.Day
		strokes int
		move    map[stand.Control]float64 // instead
		seconds float64
		runs    bool
	}{
		"by the table":               {mild, 2, nil, 3, true},
		"in the cold by the table":   {cold, 3, nil, 3, true},
		"flooded":                    {mild, 16, nil, 3, false},
		"with the mixture cut off":   {mild, 0, map[stand.Control]float64{stand.Mixture: 0}, 5, false},
		"with the ignition off":      {mild, 2, map[stand.Control]float64{stand.Ignition: stand.IgnitionOff}, 5, false},
		"on one magneto":             {mild, 2, map[stand.Control]float64{stand.Ignition: stand.IgnitionLeft}, 3, true},
		"with the battery off":       {mild, 2, map[stand.Control]float64{stand.Master: 0}, 5, false},
		"let go before it has drawn": {mild, 2, nil, 0.3, false},
	} {
		t.Run(name, func(t *testing.T) {
			s := sit(t, "alder-110", c.day).ready(0.15).primes(c.strokes).moves(c.move).cranks(c.seconds).waits(8)
			assert.Equal(t, c.runs, s.reads("speed") > 400, "%.0f rpm", s.reads("speed"))
		})
	}
}

// TestAFloodedEngineIsCleared: cranked with the throttle open and the mixture off, and then
// started as ever.
func TestAFloodedEngineIsCleared(t *testing.T) {
	s := sit(t, "alder-110", standDays["standard"]).ready(0.15).primes(16).cranks(3).waits(5)
	require.Less(t, s.reads("speed"), 100.0, "it is flooded")
	s.moves(map[stand.Control]float64{stand.Throttle: 1, stand.Mixture: 0}).cranks(8)
	s.moves(map[stand.Control]float64{stand.Throttle: 0.15, stand.Mixture: 1}).cranks(4).waits(8)
	assert.Greater(t, s.reads("speed"), 400.0, "the air has carried it off")
}

// TestVapourInTheLines: a hot injected engine does not start on what its lines give, until
// the pump has pushed the vapour out.
func TestVapourInTheLines(t *testing.T) {
	start := func(pumped float64) float64 {
		s := sit(t, "rowan-180i", standDays["after a short stop"]).moves(map[stand.Control]float64{
			stand.Master: 1, stand.Throttle: 0.13, stand.Ignition: stand.IgnitionBoth, stand.Pump: 1,
		})
		s.waits(pumped).moves(map[stand.Control]float64{stand.Pump: 0, stand.Mixture: 0.6}).cranks(3).waits(3)
		return s.reads("speed")
	}
	assert.Less(t, start(0), 100.0)
	assert.Greater(t, start(20), 400.0)
}

// TestOilAfterAStart: pressure comes within seconds, later in the cold; it reads high cold
// and lower hot at the same speed; without its pump it does not come.
func TestOilAfterAStart(t *testing.T) {
	comes := func(day string, faults ...string) float64 {
		s := sit(t, "alder-110", standDays[day], faults...).ready(0.15).primes(3).moves(map[stand.Control]float64{
			stand.Starter: 1,
		})
		from := math.NaN()
		for range 60 * stand.TicksASecond {
			s.m.Step()
			if math.IsNaN(from) && s.reads("speed") > 400 {
				from = s.m.Seconds()
				s.moves(map[stand.Control]float64{stand.Starter: 0})
			}
			if s.reads("oilPressure") > 25 && !math.IsNaN(from) {
				return s.m.Seconds() - from
			}
		}
		return math.Inf(1)
	}
	mild, cold := comes("standard"), comes("cold soaked")
	assert.InDelta(t, 2, mild, 2)
	assert.Greater(t, cold, mild)
	assert.Greater(t, comes("standard", "oil-late"), 30.0)
	s := sit(t, "alder-110", standDays["standard"]).running(0.25, 20)
	early := s.reads("oilPressure")
	s.waits(900)
	assert.Less(t, s.reads("oilPressure"), early, "warm oil is thin")
	assert.Greater(t, s.reads("oilTemperature"), 60.0)
}

// TestOneFlame: on one magneto speed falls by what is usual and the exhaust is hotter; a
// cylinder without a spark there is cold and the engine rough; on BOTH nothing shows.
func TestOneFlame(t *testing.T) {
	for _, c := range []struct {
		fault   string
		low     float64 // drop at least
		high    float64
		hotter  bool
		atBoth  float64 // speed lost on BOTH at most
		stopped bool
	}{
		{"", 35, 90, true, 1, false},
		{"left-plug-dead", 150, 500, false, 60, false},
		{"left-magneto-late", 100, 400, true, 30, false},
		{"left-magneto-early", -10, 15, true, 30, false},
		{"right-magneto-ungrounded", -5, 5, false, 1, false},
		{"left-magneto-dead", 0, 0, false, 80, true},
	} {
		t.Run(c.fault, func(t *testing.T) {
			healthy := sit(t, "alder-110", standDays["standard"]).running(0.45, 300)
			var faults []string
			if c.fault != "" {
				faults = append(faults, c.fault)
			}
			s := sit(t, "alder-110", standDays["standard"], faults...).running(0.45, 300)
			base, exhaust := s.reads("speed"), s.reads("exhaustGas")
			assert.InDelta(t, healthy.reads("speed"), base, c.atBoth+2)
			s.moves(map[stand.Control]float64{stand.Ignition: stand.IgnitionLeft}).waits(8)
			if c.stopped {
				assert.Less(t, s.reads("speed"), 100.0)
				return
			}
			drop := base - s.reads("speed")
			assert.GreaterOrEqual(t, drop, c.low)
			assert.LessOrEqual(t, drop, c.high)
			assert.Equal(t, c.hotter, s.reads("exhaustGas") > exhaust+15, "%.0f °C before, %.0f after", exhaust,
				s.reads("exhaustGas"))
			s.moves(map[stand.Control]float64{stand.Ignition: stand.IgnitionBoth}).waits(8)
			assert.InDelta(t, base, s.reads("speed"), 10, "back on BOTH")
			s.moves(map[stand.Control]float64{stand.Ignition: stand.IgnitionOff}).waits(8)
			assert.Equal(t, c.fault == "right-magneto-ungrounded", s.reads("speed") > 400, "at OFF")
		})
	}
}

// TestFoulingIsBurntOff: a fouled plug drops roughly; half a minute lean at run-up power
// takes a part of it off, full power rich hardly any.
func TestFoulingIsBurntOff(t *testing.T) {
	drop := func(s seat) float64 {
		base := s.moves(map[stand.Control]float64{
			stand.Throttle: 0.45, stand.Mixture: 1, stand.Ignition: stand.IgnitionBoth,
		}).waits(8).reads("speed")
		low := s.moves(map[stand.Control]float64{stand.Ignition: stand.IgnitionLeft}).waits(8).reads("speed")
		s.moves(map[stand.Control]float64{stand.Ignition: stand.IgnitionBoth}).waits(5)
		return base - low
	}
	s := sit(t, "alder-110", standDays["standard"], "left-plug-fouled").running(0.45, 120)
	first := drop(s)
	assert.Greater(t, first, 130.0)
	rich := drop(s.moves(map[stand.Control]float64{stand.Throttle: 1}).waits(20))
	s.moves(map[stand.Control]float64{stand.Throttle: 0.45, stand.Mixture: 0.7}).waits(45)
	lean := drop(s)
	assert.Greater(t, first-lean, 2*(first-rich))
	assert.Less(t, lean, first*0.6)
	idled := sit(t, "alder-110", standDays["standard"]).running(0.1, 2400)
	assert.Greater(t, idled.m.Wear().Fouling, 0.3, "forty minutes rich at idle")
}

// TestMixture: leaning raises the speed to a peak and drops it; the richer the thinner the
// air; what meters itself has no lever.
func TestMixture(t *testing.T) {
	curve := func(day string) (rise, at float64) {
		s := sit(t, "alder-110", standDays[day]).running(0.45, 300)
		start, peak := s.reads("speed"), 0.0
		for lever := 1.0; lever > 0.4; lever -= 0.01 {
			if now := s.moves(map[stand.Control]float64{stand.Mixture: lever}).waits(1.5).reads("speed"); now > peak {
				peak, at = now, lever
			}
		}
		assert.Less(t, s.reads("speed"), peak-100, "too lean")
		return peak - start, at
	}
	rise, at := curve("standard")
	assert.InDelta(t, 60, rise, 35)
	high, highAt := curve("hot and high")
	assert.Greater(t, high, rise)
	assert.Less(t, highAt, at)
	cold, _ := curve("cold soaked")
	assert.Less(t, cold, rise)
	s := sit(t, "alder-110", standDays["standard"]).running(0.2,
		60).moves(map[stand.Control]float64{stand.Mixture: 0}).waits(8)
	assert.Less(t, s.reads("speed"), 100.0, "cut-off stops it")
}

// TestIce: damp air near freezing closes the throat of a carburettor that ices; heat makes
// it worse first, and then better than it was.
func TestIce(t *testing.T) {
	s := sit(t, "alder-110", standDays["humid and cool"], "carburettor-ices").running(0.45, 60)
	before := s.reads("speed")
	iced := s.waits(400).reads("speed")
	assert.Less(t, iced, before-40)
	hot := s.moves(map[stand.Control]float64{stand.Heat: 1}).waits(2).reads("speed")
	assert.Less(t, hot, iced)
	after := s.waits(90).moves(map[stand.Control]float64{stand.Heat: 0}).waits(8).reads("speed")
	assert.Greater(t, after, iced+40)
	dry := standDays["humid and cool"]
	dry.DewPointC = -15
	d := sit(t, "alder-110", dry, "carburettor-ices").running(0.45, 60)
	before = d.reads("speed")
	assert.Greater(t, d.waits(400).reads("speed"), before-25, "dry air makes none")
}

// TestElectrics: the battery sags under the starter, more in the cold and when weak; the
// alternator holds the bus above its speed, and its current fades as the battery fills.
func TestElectrics(t *testing.T) {
	sags := func(day string, faults ...string) (rest, low float64) {
		s := sit(t, "alder-110", standDays[day], faults...).moves(map[stand.Control]float64{
			stand.Master: 1, stand.Mixture: 0,
		}).waits(2)
		rest = s.reads("volts")
		return rest, s.moves(map[stand.Control]float64{stand.Starter: 1}).waits(1).reads("volts")
	}
	rest, low := sags("standard")
	assert.InDelta(t, 12.4, rest, 0.3)
	assert.Less(t, low, rest-0.8)
	_, cold := sags("cold soaked")
	assert.Less(t, cold, low)
	weak, flat := sags("standard", "battery-weak")
	assert.Less(t, weak, 12.0)
	assert.Less(t, flat, low)
	s := sit(t, "alder-110", standDays["standard"]).running(0.25, 2)
	first := s.reads("amps")
	assert.InDelta(t, 14.1, s.reads("volts"), 0.2)
	assert.Less(t, s.waits(1200).reads("amps"), first)
	assert.Zero(t, sit(t, "alder-110", standDays["standard"]).reads("volts"), "nothing without the master")
	wears := sit(t, "alder-110", standDays["standard"]).moves(map[stand.Control]float64{stand.Master: 1}).cranks(60)
	assert.Greater(t, wears.m.Wear().StarterHeat, 0.6, "a minute of the starter")
}

// TestConstantSpeed: pulled back, speed falls and manifold pressure rises; above its least
// speed the governor holds speed against power; past the detent it goes to feather.
func TestConstantSpeed(t *testing.T) {
	begin := func(faults ...string) seat {
		s := sit(t, "hornbeam-twin", standDays["standard"], faults...).moves(map[stand.Control]float64{
			stand.Master: 1, stand.Brakes: 1, stand.Mixture: 1, stand.Throttle: 0.14,
			stand.Ignition: stand.IgnitionBoth, stand.Pump: 1,
		})
		s.waits(2).moves(map[stand.Control]float64{stand.Pump: 0}).cranks(4).waits(5)
		require.Greater(t, s.reads("speed"), 400.0)
		return s.moves(map[stand.Control]float64{stand.Throttle: 0.4}).waits(300)
	}
	s := begin()
	speed, manifold, oil := s.reads("speed"), s.reads("manifold"), s.reads("oilPressure")
	s.moves(map[stand.Control]float64{stand.Propeller: 0.16}).waits(1)
	assert.Less(t, s.reads("oilPressure"), oil-1, "the hub takes oil")
	s.waits(3)
	assert.Less(t, s.reads("speed"), speed-200)
	assert.Greater(t, s.reads("manifold"), manifold+0.5)
	s.moves(map[stand.Control]float64{stand.Propeller: 1}).waits(8)
	assert.InDelta(t, speed, s.reads("speed"), 20)
	s.moves(map[stand.Control]float64{stand.Propeller: 0.5}).waits(8)
	held := s.reads("speed")
	s.moves(map[stand.Control]float64{stand.Throttle: 0.5}).waits(8)
	assert.InDelta(t, held, s.reads("speed"), 25, "more power, the same speed")
	droops := begin("governor-droops").moves(map[stand.Control]float64{stand.Propeller: 0.5}).waits(8)
	held = droops.reads("speed")
	assert.Greater(t, droops.moves(map[stand.Control]float64{stand.Throttle: 0.5}).waits(8).reads("speed"), held+25)
	feathered := begin().moves(map[stand.Control]float64{stand.Propeller: 0}).waits(8)
	assert.Less(t, feathered.reads("speed"), 900.0)
	blocked := begin("feathering-blocked")
	before := blocked.reads("speed")
	assert.Greater(t, blocked.moves(map[stand.Control]float64{stand.Propeller: 0}).waits(5).reads("speed"), before-300)
}

// TestARotorAndItsFreewheel: belts take it along; a closed throttle lets it run on ahead,
// and a freewheel that sticks does not; the horn sounds below its speed.
func TestARotorAndItsFreewheel(t *testing.T) {
	begin := func(faults ...string) seat {
		s := sit(t, "juniper-h2", standDays["standard"], faults...).ready(0.15).primes(2).cranks(3).waits(5)
		require.Greater(t, s.reads("speed"), 30.0)
		assert.Zero(t, s.reads("rotor"), "the clutch is out")
		return s.moves(map[stand.Control]float64{stand.Clutch: 1, stand.Throttle: 0.35}).waits(70)
	}
	s := begin()
	assert.False(t, s.m.Lamp(), "the belts are tight")
	assert.InDelta(t, s.reads("speed"), s.reads("rotor"), 1, "the needles are joined")
	assert.True(t, s.m.Horn() == (s.reads("rotor") < 96.5))
	s.moves(map[stand.Control]float64{stand.Throttle: 0}).waits(2)
	assert.Greater(t, s.reads("rotor")-s.reads("speed"), 5.0)
	stuck := begin("freewheel-sticks").moves(map[stand.Control]float64{stand.Throttle: 0}).waits(2)
	assert.Less(t, stuck.reads("rotor")-stuck.reads("speed"), 5.0)
	governed := begin().moves(map[stand.Control]float64{stand.Throttle: 0.5}).waits(15).moves(map[stand.Control]float64{
		stand.Governor: 1,
	}).waits(20)
	assert.InDelta(t, 103, governed.reads("speed"), 3)
	assert.False(t, governed.m.Horn())
	governed.moves(map[stand.Control]float64{stand.Collective: 0.6}).waits(15)
	assert.InDelta(t, 103, governed.reads("speed"), 4, "the governor finds the power of the hover")
	assert.Greater(t, governed.reads("manifold"), 15.0)
}

// TestATurbineStart: the peak rises with each of what makes it hot, and a starter
// that is let go early leaves it hung, and nothing lights without igniters.
func TestATurbineStart(t *testing.T) {
	type how struct {
		day    string
		wind   float64
		gate   float64 // spool at which the fuel goes in
		letGo  float64 // spool at which the starter is let go
		faults []string
	}
	start := func(h how) (peak, spool float64, lit bool) {
		day := standDays[h.day]
		day.WindKt = h.wind
		s := sit(t, "willow-t5", day, h.faults...).moves(map[stand.Control]float64{stand.Master: 1, stand.Starter: 1})
		for range 70 * stand.TicksASecond {
			s.m.Step()
			if s.reads("spool") >= h.gate {
				s.moves(map[stand.Control]float64{stand.Throttle: 0.35})
			}
			if s.reads("spool") >= h.letGo {
				s.moves(map[stand.Control]float64{stand.Starter: 0})
			}
			peak = max(peak, s.reads("turbineTemperature"))
		}
		return peak, s.reads("spool"), s.reads("turbineTemperature") > 300
	}
	usual := how{"standard", 0, 16, 58, nil}
	peak, spool, lit := start(usual)
	assert.True(t, lit)
	assert.InDelta(t, 62, spool, 1.5)
	assert.Less(t, peak, 675.0)
	for name, worse := range map[string]how{
		"fuel too early":        {"standard", 0, 9, 58, nil},
		"a tail wind":           {"standard", -25, 16, 58, nil},
		"a hot day":             {"hot and high", 0, 16, 58, nil},
		"after a short stop":    {"after a short stop", 0, 10, 58, nil},
		"a dirty compressor":    {"standard", 0, 16, 58, []string{"compressor-dirty"}},
		"early with a weak one": {"hot and high", -25, 9, 58, []string{"battery-weak-turbine"}},
	} {
		hotter, _, _ := start(worse)
		assert.Greater(t, hotter, peak+5, name)
	}
	_, hung, _ := start(how{"standard", 0, 16, 25, nil})
	assert.Less(t, hung, 45.0, "it does not carry itself yet when the starter is let go")
	_, _, lit = start(how{"standard", 0, 16, 58, []string{"igniter-dead"}})
	assert.False(t, lit)
	_, lean, _ := start(how{"standard", 0, 16, 58, []string{"fuel-control-lean"}})
	assert.Less(t, lean, 58.0)
}

// TestADiesel: it fires when it has glowed, stops with its master, carries the load that its
// lever asks for, and its unit test runs by itself and ends with the lamps out.
func TestADiesel(t *testing.T) {
	day := standDays["cold soaked"]
	s := sit(t, "larch-d2", day).
		moves(map[stand.Control]float64{stand.Master: 1, stand.Brakes: 1, stand.EngineMaster: 1})
	require.True(t, s.m.Glowing(1))
	s.cranks(3).waits(1)
	assert.Less(t, s.reads("speed"), 400.0, "it has not glowed")
	s.waits(20)
	require.False(t, s.m.Glowing(1))
	s.cranks(3).waits(10)
	assert.InDelta(t, 885, s.reads("speed"), 60)
	assert.Greater(t, s.reads("oilPressure"), 0.9)
	seen := map[string]bool{}
	s.moves(map[stand.Control]float64{stand.UnitTest: 1})
	for range 26 * stand.TicksASecond {
		s.m.Step()
		a, b := s.m.UnitLamps(1)
		seen[fmt.Sprint(a, b)] = true
	}
	assert.Equal(t, map[string]bool{"true true": true, "true false": true, "false true": true, "false false": true},
		seen)
	a, b := s.m.UnitLamps(1)
	assert.False(t, a || b)
	s.moves(map[stand.Control]float64{stand.UnitTest: 0, stand.Throttle: 1}).waits(15)
	assert.InDelta(t, 95, s.reads("load"), 1)
	assert.Greater(t, s.reads("speed"), 2000.0)
	s.moves(map[stand.Control]float64{stand.EngineMaster: 0, stand.Throttle: 0}).waits(10)
	assert.Less(t, s.reads("speed"), 50.0)
}

// TestThinAir: at full throttle the manifold shows little less than the day's pressure, and
// the propeller's speed hardly changes with the height.
func TestThinAir(t *testing.T) {
	at := func(elevation float64) (manifold, speed float64) {
		day := standDays["standard"]
		day.ElevationFt = elevation
		s := sit(t, "alder-110", day).running(0.3, 200).moves(map[stand.Control]float64{
			stand.Throttle: 1, stand.Mixture: math.Round(100-elevation/160) / 100,
		}).waits(12)
		return s.reads("manifold"), s.reads("speed")
	}
	low, fast := at(0)
	assert.InDelta(t, 29.92*0.96, low, 0.6)
	high, faster := at(6000)
	assert.InDelta(t, low*0.80, high, 0.8)
	assert.InDelta(t, fast, faster, 150)
}
