package stand_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/catalog"
	"jetprimer/core/practice"
	"jetprimer/core/stand"
)

// broughtTo is a machine as a good student has brought it to an item of the list, on the
// day and with the faults of a scenario.
func broughtTo(t *testing.T, c practice.Course, s stand.Scenario, item string) *stand.Machine {
	t.Helper()
	shown, err := c.Show(s, 1, "student", "2026-11-27T09:00:00Z", item)
	require.NoError(t, err)
	run := stand.Run{Scenario: s, Seed: 1, Ticks: shown.Ticks}
	for _, d := range shown.Deeds {
		if d.Move != nil {
			run.Inputs = append(run.Inputs, stand.Input{
				Tick: d.Tick, Control: d.Move.Control, Engine: d.Move.Engine, Value: d.Move.Value,
			})
		}
	}
	m, err := run.Replay(c.Library(), nil)
	require.NoError(t, err)
	return m
}

// TestWhoPasses: somebody is near just while they pass, whoever else does, and nobody of
// another kind is seen for it.
func TestWhoPasses(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	kit, _ := c.Kit("alder-110")
	rapid.Check(t, func(t *rapid.T) {
		m := stand.New(kit.Rig, kit.Type, stand.StandardDay, 1)
		near := map[string][]stand.Passer{}
		for range rapid.IntRange(0, 4).Draw(t, "passers") {
			p := stand.Passer{What: rapid.SampledFrom([]string{stand.SomebodyNear, stand.AircraftBehind}).Draw(t,
				"what"),
				From: float64(rapid.IntRange(0, 9).Draw(t, "from")), For: float64(rapid.IntRange(1, 5).Draw(t, "for"))}
			require.Nil(t, p.Check("p"))
			m.Passes(p)
			near[p.What] = append(near[p.What], p)
		}
		for second := range 15 {
			for _, what := range []string{stand.SomebodyNear, stand.AircraftBehind} {
				is := false
				for _, p := range near[what] {
					is = is || float64(second) >= p.From && float64(second) < p.From+p.For
				}
				assert.Equal(t, is, m.Near(what), "%s at %d s of %v", what, second, near)
			}
			for range stand.TicksASecond {
				m.Step()
			}
		}
	})
}

// TestPassersThatCannotBe: what of one cannot be used is named by its field.
func TestPassersThatCannotBe(t *testing.T) {
	for want, p := range map[string]stand.Passer{
		"o.what must be":  {What: "bear", For: 1},
		"o.from must be":  {What: stand.SomebodyNear, From: -1, For: 1},
		"o.for must be":   {What: stand.SomebodyNear},
		"o.for must be a": {What: stand.AircraftBehind, For: 1e9},
	} {
		err := p.Check("o")
		require.NotNil(t, err, want)
		assert.Contains(t, err.Error(), want)
	}
	c, err := catalog.Shipped()
	require.NoError(t, err)
	s := c.Scenarios[0]
	s.Outside = make([]stand.Passer, stand.MaxFaults+1)
	assert.Contains(t, s.Problems(c.Stand())[0].Reason, "at most 8")
	s.Outside = []stand.Passer{{What: "bear", For: 1}}
	assert.Equal(t, "$.outside[0].what", s.Problems(c.Stand())[0].Field)
}

// TestOtherWeather: while an engine runs the day becomes another: colder air is denser and
// gives more power, a higher field less; the wind is what is said; and the engine is as it
// was left, not begun anew.
func TestOtherWeather(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, id := range []string{"alder-110", "rowan-180i", "sorrel-100", "juniper-h2"} {
		t.Run(id, func(t *testing.T) {
			t.Parallel()
			course, _ := c.Course(id)
			full := func(change func(d *stand.Day)) (manifold, oil float64) {
				m := broughtTo(t, course, course.Scenarios[0], "temps-warm")
				before, _ := m.Gauge("oilTemperature", 1)
				day := course.Scenarios[0].Day
				change(&day)
				m.Weather(day)
				assert.Equal(t, day.WindKt, m.WindKt())
				m.Step()
				oil, _ = m.Gauge("oilTemperature", 1)
				assert.InDelta(t, before, oil, 1, "the engine is as it was")
				require.True(t, m.Runs(1))
				require.NoError(t, m.Put(stand.Input{Control: "throttle", Engine: 1, Value: 1}))
				for range 8 * stand.TicksASecond {
					m.Step()
				}
				manifold, _ = m.Gauge("manifold", 1)
				return manifold, oil
			}
			as, _ := full(func(*stand.Day) {})
			high, _ := full(func(d *stand.Day) { d.ElevationFt = 7000 })
			low, _ := full(func(d *stand.Day) { d.QNHHPa, d.WindKt = 960, -9 })
			assert.Less(t, high, as-3)
			assert.Less(t, low, as-0.5)
		})
	}
}

// TestSlippedInLater: a fault that is slipped into an engine that runs counts its seconds
// from then on.
func TestSlippedInLater(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	kit, _ := c.Kit("alder-110")
	fault, known := kit.Library().Fault("battery-weak")
	if !known {
		fault = kit.Faults[0]
	}
	m := stand.New(kit.Rig, kit.Type, stand.StandardDay, 1)
	sound := stand.New(kit.Rig, kit.Type, stand.StandardDay, 1)
	both := func(in stand.Input) {
		require.NoError(t, m.Put(in))
		require.NoError(t, sound.Put(in))
	}
	seconds := func(n int) {
		for range n * stand.TicksASecond {
			m.Step()
			sound.Step()
		}
	}
	apart := func() bool {
		a, _ := m.Gauge("volts", 1)
		b, _ := sound.Gauge("volts", 1)
		return a < b-0.05
	}
	both(stand.Input{Control: "master", Value: 1})
	both(stand.Input{Control: "starter", Engine: 1, Value: 1})
	seconds(2)
	m.Slip(fault, stand.Slipped{Severity: 1, Engine: 1, From: 3})
	seconds(2)
	assert.False(t, apart(), "not before its time")
	seconds(3)
	assert.True(t, apart(), "%s", fault.ID)
}

// TestCowlFlaps: with their flaps closed the heads of the twin get hotter, each engine's by
// its own, and open they cool again; an engine without any has no such control.
func TestCowlFlaps(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	course, _ := c.Course("hornbeam-twin")
	m := broughtTo(t, course, course.Scenarios[0], "runup-power")
	heads := func() (left, right float64) {
		for range 240 * stand.TicksASecond {
			m.Step()
		}
		left, _ = m.Gauge("cylinderHead", 1)
		right, _ = m.Gauge("cylinderHead", 2)
		return left, right
	}
	assert.Equal(t, []float64{1, 1}, []float64{m.At(stand.CowlFlaps, 1), m.At(stand.CowlFlaps, 2)},
		"a good student has opened them")
	left, right := heads()
	assert.InDelta(t, left, right, 3)
	require.NoError(t, m.Put(stand.Input{Control: "cowl-flaps", Engine: 1, Value: 0}))
	hot, same := heads()
	assert.Greater(t, hot, left+10)
	assert.InDelta(t, right, same, 3)
	require.NoError(t, m.Put(stand.Input{Control: "cowl-flaps", Engine: 1, Value: 1}))
	again, _ := heads()
	assert.Less(t, again, hot-10)
	for _, rig := range c.Rigs {
		kit, _ := c.Kit(rig.Type)
		has := false
		for _, control := range stand.New(kit.Rig, kit.Type, stand.StandardDay, 1).Panel().Controls {
			has = has || control.Control == "cowl-flaps"
		}
		assert.Equal(t, rig.Type == "hornbeam-twin", has, rig.Type)
	}
}

// TestTanks: the engine is fed from the tank that is chosen: off, or dry, it stops when the
// lines are empty, and runs again from the other; no litre is lost or made.
func TestTanks(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, id := range []string{"alder-110", "rowan-180i"} {
		t.Run(id, func(t *testing.T) {
			t.Parallel()
			course, _ := c.Course(id)
			s := course.Scenarios[0]
			run, err := course.Show(s, 1, "student", "2026-11-27T09:00:00Z", "temps-warm")
			require.NoError(t, err)
			begin := func(litres ...float64) *stand.Machine {
				s := s
				s.Day.FuelL = litres
				m, err := s.Begin(course.Library(), 1)
				require.NoError(t, err)
				next := 0
				for m.Tick() < run.Ticks {
					for ; next < len(run.Deeds) && run.Deeds[next].Tick <= m.Tick(); next++ {
						if move := run.Deeds[next].Move; move != nil {
							require.NoError(t,
								m.Put(stand.Input{Control: move.Control, Engine: move.Engine, Value: move.Value}))
						}
					}
					m.Step()
				}
				return m
			}
			litres := func(m *stand.Machine) (left, right float64) {
				left, _ = m.Gauge("fuelLeft", 1)
				right, _ = m.Gauge("fuelRight", 1)
				return left, right
			}
			stops := func(m *stand.Machine) int {
				for second := range 180 {
					if !m.Runs(1) {
						return second
					}
					for range stand.TicksASecond {
						m.Step()
					}
				}
				return -1
			}
			tank := func(m *stand.Machine, at float64) {
				require.NoError(t, m.Put(stand.Input{Control: "tank", Value: at}))
			}
			m := begin()
			left, right := litres(m)
			assert.Less(t, left, 0.6*float64(course.Type.Fuel.Tanks[0].UsableL), "it burns from the left")
			assert.Equal(t, 0.6*float64(course.Type.Fuel.Tanks[1].UsableL), right)
			assert.Equal(t, -1, stops(m), "there is enough")
			tank(m, 2)
			assert.Equal(t, -1, stops(m))
			_, after := litres(m)
			assert.Less(t, after, right)
			tank(m, 0)
			assert.Greater(t, stops(m), 3, "what is in the lines burns first")
			assert.False(t, m.Runs(1))

			dry := begin(0, 20)
			assert.NotEqual(t, -1, stops(dry), "from an empty tank it does not get far")
			l, r := litres(dry)
			assert.Equal(t, []float64{0, 20}, []float64{l, r})
			tank(dry, 2)
			for n := range 8 * stand.TicksASecond {
				require.NoError(t, dry.Put(stand.Input{Control: "starter", Engine: 1, Value: float64(n % 400 / 200)}))
				dry.Step()
			}
			_, r = litres(dry)
			assert.Less(t, r, 20.0, "the lines fill from the other")
		})
	}
	bad := c.Scenarios[0]
	for want, litres := range map[string][]float64{"$.day.fuelL": {1}, "$.day.fuelL[1]": {1, 1000}} {
		bad.Day.FuelL = litres
		assert.Equal(t, want, bad.Problems(c.Stand())[0].Field)
	}
	for _, s := range c.Scenarios {
		if s.Type == "willow-t5" {
			s.Day.FuelL = []float64{1, 2}
			assert.Equal(t, "$.day.fuelL", s.Problems(c.Stand())[0].Field, "nothing is chosen there")
			break
		}
	}
}
