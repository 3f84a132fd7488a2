package stand_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/catalog"
	"jetprimer/core/stand"
)

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
			p := stand.Passer{What: rapid.SampledFrom([]string{stand.SomebodyNear, stand.AircraftBehind}).Draw(t, "what"),
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
	assert.Equal(t, "$.outside[0].what", s.Problems(c.Stand())[0].Path)
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
			run, err := course.Show(course.Scenarios[0], 1, "student", "2026-11-27T09:00:00Z", "temps-warm")
			require.NoError(t, err)
			full := func(change func(d *stand.Day)) (manifold, oil float64) {
				m, err := course.Scenarios[0].Begin(course.Library(), 1)
				require.NoError(t, err)
				next := 0
				for m.Tick() < run.Ticks {
					for ; next < len(run.Deeds) && run.Deeds[next].Tick <= m.Tick(); next++ {
						if move := run.Deeds[next].Move; move != nil {
							require.NoError(t, m.Put(stand.Input{Control: move.Control, Engine: move.Engine, Value: move.Value}))
						}
					}
					m.Step()
				}
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
