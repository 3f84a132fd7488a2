package stand_test

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/catalog"
	"jetprimer/core/stand"
)

// told is what the instruments of a stand show, as they are printed.
func told(m *stand.Machine, engines int) string {
	var b strings.Builder
	for engine := range engines {
		for _, name := range []string{
			"speed", "manifold", "oilPressure", "oilTemperature", "cylinderHead", "fuelPressure", "fuelFlow", "suction",
			"volts", "amps", "spool", "rotor", "turbineTemperature", "load",
		} {
			if v, shown := m.Gauge(name, engine+1); shown {
				fmt.Fprintf(&b, " %.2f", v)
			}
		}
	}
	return b.String()
}

// drawnRun is a run of a type with faults and inputs at random, sound or wild.
func drawnRun(r *rapid.T, c *catalog.Catalog) stand.Run {
	rig := rapid.SampledFrom(c.Rigs).Draw(r, "rig")
	typ, _ := c.Type(rig.Type)
	s := stand.Scenario{ID: "s", Title: "s", Goal: "g", Difficulty: 1, Type: rig.Type,
		Day: rapid.SampledFrom([]stand.Day{
			standDays["cold soaked"], standDays["standard"], standDays["hot and high"], standDays["after a short stop"],
			{OATC: -40, DewPointC: -45, QNHHPa: 1080, ElevationFt: -1500, WindKt: -40, EngineState: "cold"},
			{OATC: 50, DewPointC: 50, QNHHPa: 900, ElevationFt: 14000, WindKt: 60, EngineState: "hot"},
		}).Draw(r, "day")}
	for range rapid.IntRange(0, 3).Draw(r, "faults") {
		f := rapid.SampledFrom(c.Faults).Draw(r, "fault")
		if typ.Fits(f.Has) {
			s.Faults = append(s.Faults, stand.Slipped{
				Fault: f.ID, Severity: rapid.Float64Range(0, 1).Draw(r, "severity"),
				From: rapid.Float64Range(0, 60).Draw(r, "from"),
			})
		}
	}
	run := stand.Run{Scenario: s, Seed: rapid.Uint64().Draw(r, "seed"), Ticks: rapid.IntRange(0, 6000).Draw(r, "ticks")}
	tick := 0
	for range rapid.IntRange(0, 60).Draw(r, "inputs") {
		tick = min(tick+rapid.IntRange(0, 300).Draw(r, "after"), run.Ticks)
		control := stand.Control(rapid.IntRange(0, int(stand.Controls)-1).Draw(r, "control"))
		in := stand.Input{
			Tick: tick, Control: control.String(),
			Value: math.Round(rapid.Float64Range(0, control.Most()).Draw(r, "value")*100) / 100,
		}
		if control == stand.Ignition || rapid.Bool().Draw(r, "whole") {
			in.Value = math.Round(in.Value)
		}
		if control.PerEngine() {
			in.Engine = rapid.IntRange(1, typ.Engines).Draw(r, "engine")
		}
		run.Inputs = append(run.Inputs, in)
	}
	return run
}

// TestARunIsItsInputs: whatever is moved, whenever, on whatever day, with whatever is
// wrong: the same run shows the same, and everything stays within what there can be.
func TestARunIsItsInputs(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	rapid.Check(t, func(r *rapid.T) {
		run := drawnRun(r, c)
		typ, _ := c.Type(run.Scenario.Type)
		d := run.Scenario.Day
		least, most := d.OATC-1, 1400.0
		first, err := run.Replay(c.Stand(), func(m *stand.Machine) {
			if m.Tick()%50 != 0 {
				return
			}
			for engine := range typ.Engines {
				for name, band := range map[string][2]float64{"speed": {0, 2.6 * 5200}, "oilPressure": {0, 200},
					"oilTemperature": {least, 400}, "cylinderHead": {least, 700}, "manifold": {0, 75},
					"fuelPressure": {0, 80}, "fuelFlow": {0, 900}, "suction": {0, 10}, "volts": {-5, 40}, "amps": {
						0, 400,
					}, "exhaustGas": {least, most}, "turbineTemperature": {least, 4000}, "spool": {0, 130}, "rotor": {
						0, 300,
					}, "load": {0, 100}} {
					if v, shown := m.Gauge(name, engine+1); shown && !(v >= band[0] && v <= band[1]) {
						r.Fatalf("%s at %g s: %s reads %g, which cannot be from %g to %g", typ.ID, m.Seconds(), name, v,
							band[0], band[1])
					}
				}
			}
		})
		require.NoError(r, err)
		text, err := json.Marshal(run) // as it is sent
		require.NoError(r, err)
		var sent stand.Run
		require.NoError(r, json.Unmarshal(text, &sent))
		again, err := sent.Replay(c.Stand(), nil)
		require.NoError(r, err)
		assert.Equal(r, told(first, typ.Engines), told(again, typ.Engines))
		assert.Equal(r, first.Wear(), again.Wear())
	})
}

// TestAStoppedEngineCools: to the air's temperature, and nothing of it goes on.
func TestAStoppedEngineCools(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, rig := range c.Rigs {
		m := atRunUp(t, c, rig)
		typ, _ := c.Type(rig.Type)
		for engine := range typ.Engines {
			for _, control := range []stand.Control{
				stand.Throttle, stand.Mixture, stand.Ignition, stand.EngineMaster, stand.Pump, stand.Starter,
			} {
				m.Move(control, engine+1, 0)
			}
		}
		m.Move(stand.Master, 0, 0)
		for range 3 * 60 * 60 * stand.TicksASecond {
			m.Step()
		}
		for engine := range typ.Engines {
			for name, want := range map[string]float64{
				"speed": 0, "oilPressure": 0, "fuelFlow": 0, "oilTemperature": standDays["standard"].OATC,
				"cylinderHead": standDays["standard"].OATC, "volts": 0,
			} {
				v, _ := m.Gauge(name, engine+1)
				assert.InDelta(t, want, v, 1.5, "%s: %s", rig.Type, name)
			}
		}
	}
}

// TestAFaultComesAndGoes: by the clock, when a needle has come so far, when a control is
// moved, and for a while each time.
func TestAFaultComesAndGoes(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	begin := func(f stand.Slipped) *stand.Machine {
		f.Fault, f.Severity = "alternator-tired", 1
		s := stand.Scenario{
			ID: "s", Title: "s", Goal: "g", Difficulty: 1, Type: "alder-110", Day: standDays["standard"],
			Faults: []stand.Slipped{f},
		}
		m, err := s.Begin(c.Stand(), 1)
		require.NoError(t, err)
		for _, in := range []stand.Input{
			{Control: "master", Value: 1}, {Engine: 1, Control: "mixture", Value: 1},
			{Engine: 1, Control: "throttle", Value: 0.25}, {Engine: 1, Control: "ignition", Value: 3},
			{Engine: 1, Control: "primer", Value: 1}, {Engine: 1, Control: "starter", Value: 1},
		} {
			require.NoError(t, m.Put(in))
		}
		return m
	}
	// charges are the seconds at which the bus is at its voltage.
	charges := func(m *stand.Machine, seconds int) (out []int) {
		for s := range seconds {
			for range stand.TicksASecond {
				m.Step()
			}
			if s == 3 {
				m.Move(stand.Starter, 1, 0)
			}
			if s == 40 {
				m.Move(stand.Throttle, 1, 0.4)
			}
			if v, _ := m.Gauge("volts", 1); v > 13.5 {
				out = append(out, s)
			}
		}
		return out
	}
	last := func(of []int) int { require.NotEmpty(t, of); return of[len(of)-1] }
	assert.Equal(t, 59, last(charges(begin(stand.Slipped{From: 3600}), 60)), "never")
	assert.InDelta(t, 30, last(charges(begin(stand.Slipped{From: 30}), 60)), 2)
	assert.InDelta(t, 40,
		last(charges(begin(stand.Slipped{Once: &stand.Trigger{Control: "throttle", Least: 0.35}}), 60)), 2)
	assert.InDelta(t, 41, last(charges(begin(stand.Slipped{Once: &stand.Trigger{Gauge: "speed", Least: 1400}}), 60)), 2)
	comes := charges(begin(stand.Slipped{From: 20, Every: 10, For: 4}), 60)
	assert.NotContains(t, comes, 22)
	assert.Contains(t, comes, 27)
	assert.NotContains(t, comes, 32)
	assert.Contains(t, comes, 37)
}

// TestAnEngineIsHeard: higher when it turns faster, and not when it stands.
func TestAnEngineIsHeard(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, rig := range c.Rigs {
		m := atRunUp(t, c, rig)
		typ, _ := c.Type(rig.Type)
		idle := m.Sound()
		for engine := range typ.Engines {
			m.Move(stand.Throttle, engine+1, 1)
		}
		for range 20 * stand.TicksASecond {
			m.Step()
		}
		full := m.Sound()
		assert.Greater(t, idle.Hz, 5.0, rig.Type)
		assert.Greater(t, full.Hz, idle.Hz, rig.Type)
		assert.Greater(t, full.Loud, idle.Loud, rig.Type)
		still := stand.New(rig, typ, standDays["standard"], 1)
		assert.Zero(t, still.Sound())
	}
}

// TestAnAircraftCreeps: at run-up power without its brakes, and not with them.
func TestAnAircraftCreeps(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, rig := range c.Rigs {
		if rig.Rotor != nil {
			continue
		}
		m := atRunUp(t, c, rig)
		typ, _ := c.Type(rig.Type)
		after := func(brakes float64) float64 {
			m.Move(stand.Brakes, 0, brakes)
			for engine := range typ.Engines {
				m.Move(stand.Throttle, engine+1, 0.7)
			}
			for range 10 * stand.TicksASecond {
				m.Step()
			}
			return m.GroundKt()
		}
		assert.Less(t, after(1), 0.1, rig.Type)
		assert.Greater(t, after(0), 3.0, rig.Type)
	}
}

// TestThePanelFitsItsType: nothing that a type has not, and everything that a good student
// moves on it.
func TestThePanelFitsItsType(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, rig := range c.Rigs {
		typ, _ := c.Type(rig.Type)
		s := stand.Scenario{ID: "s", Title: "s", Goal: "g", Difficulty: 1, Type: rig.Type,
			Day: standDays["cold soaked"]}
		out, err := s.Work(c.Stand(), 1, flownBy(t, c, typ), nil)
		require.NoError(t, err)
		m, err := s.Begin(c.Stand(), 1)
		require.NoError(t, err)
		panel := m.Panel()
		on := map[string]bool{}
		for _, control := range panel.Controls {
			on[control.Control] = true
			assert.NotEmpty(t, control.Label)
		}
		for _, in := range out.Run.Inputs {
			assert.True(t,
				on[in.Control] || in.Value == 1 && in.Control == "mixture" && !typ.Has("mixture") ||
					in.Control == "brakes" &&
						typ.Class == "helicopter", "%s: %s is moved and is not on the panel", rig.Type, in.Control)
		}
		for part, control := range map[string]string{
			"mixture": "mixture", "primer": "primer", "choke": "choke", "clutch": "clutch",
			"propeller-lever": "propeller", "carburettor": "heat",
		} {
			assert.Equal(t, typ.Has(part), on[control] && !(control == "heat" && typ.Has("alternate-air")),
				"%s and its %s", rig.Type, part)
		}
		values := make([]float64, len(panel.Gauges))
		m.Read(panel, values)
		for i, g := range panel.Gauges {
			assert.Less(t, g.From, g.To, g.ID)
			assert.True(t, values[i] >= g.From-1 && values[i] <= g.To, "%s: %s stands at %g beyond its scale", rig.Type,
				g.ID, values[i])
		}
		assert.Len(t, m.Lit(panel), len(panel.Lamps))
	}
}

// TestARunThatCannotBeIsRefused: by the field that is wrong, before anything runs.
func TestARunThatCannotBeIsRefused(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	sound := func() stand.Run {
		return stand.Run{Scenario: stand.Scenario{
			ID: "s", Title: "s", Goal: "g", Difficulty: 1, Type: "alder-110", Day: standDays["standard"],
		}, Ticks: 100,
			Inputs: []stand.Input{
				{Tick: 5, Control: "master", Value: 1}, {Tick: 9, Engine: 1, Control: "throttle", Value: 0.4},
			}}
	}
	_, err = sound().Replay(c.Stand(), nil)
	require.NoError(t, err)
	for want, change := range map[string]func(r *stand.Run){
		"run.ticks":                func(r *stand.Run) { r.Ticks = stand.MaxSeconds*stand.TicksASecond + 1 },
		"run.inputs[1].tick":       func(r *stand.Run) { r.Inputs[1].Tick = 4 },
		"run.inputs[0].tick":       func(r *stand.Run) { r.Inputs[0].Tick = -1 },
		"run.inputs[0].control":    func(r *stand.Run) { r.Inputs[0].Control = "parachute" },
		"run.inputs[1].engine":     func(r *stand.Run) { r.Inputs[1].Engine = 2 },
		"run.inputs[0].engine":     func(r *stand.Run) { r.Inputs[0].Engine = 1 },
		"run.inputs[1].value":      func(r *stand.Run) { r.Inputs[1].Value = math.NaN() },
		"run.inputs":               func(r *stand.Run) { r.Inputs = make([]stand.Input, stand.MaxInputs+1) },
		"scenario type":            func(r *stand.Run) { r.Scenario.Type = "glider" },
		"scenario day.oatC":        func(r *stand.Run) { r.Scenario.Day.OATC = math.Inf(1) },
		"scenario day.engineState": func(r *stand.Run) { r.Scenario.Day.EngineState = "lukewarm" },
		"scenario faults[0].fault": func(r *stand.Run) {
			r.Scenario.Faults = []stand.Slipped{{Fault: "unit-fails", Severity: 1}}
		},
		"scenario faults[0].severity": func(r *stand.Run) {
			r.Scenario.Faults = []stand.Slipped{{Fault: "left-plug-dead", Severity: 2}}
		},
		"scenario faults[0].every": func(r *stand.Run) {
			r.Scenario.Faults = []stand.Slipped{{Fault: "left-plug-dead", Every: 5}}
		},
		"scenario faults[0].once": func(r *stand.Run) {
			r.Scenario.Faults = []stand.Slipped{{Fault: "left-plug-dead", Once: &stand.Trigger{}}}
		},
		"scenario faults": func(r *stand.Run) { r.Scenario.Faults = make([]stand.Slipped, stand.MaxFaults+1) },
	} {
		run := sound()
		change(&run)
		_, err := run.Replay(c.Stand(), nil)
		require.Error(t, err, want)
		assert.Contains(t, err.Error(), want)
	}
}

// TestAScriptIsWorked: moves by the clock and items by the hand, refused where they
// cannot be.
func TestAScriptIsWorked(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	typ, _ := c.Type("alder-110")
	s := stand.Scenario{
		ID: "s", Title: "s", Goal: "g", Difficulty: 1, Type: typ.ID, Day: standDays["standard"],
		Faults: []stand.Slipped{{Fault: "right-plug-dead", Severity: 1}},
	}
	items := flownBy(t, c, typ)
	out, err := s.Work(c.Stand(), 1, items, []stand.Move{
		{Work: "crank"}, {Wait: 240}, {At: 300, Control: "throttle", Value: 0.3}, {Work: "magnetos"},
	})
	require.NoError(t, err)
	require.Len(t, out.Checks, 2)
	assert.Equal(t, []stand.Sign{{Check: "magneto", Finding: "drop-excessive", Side: "right"}}, out.Score.Found)
	assert.Empty(t, out.Score.Missed)
	m, err := out.Run.Replay(c.Stand(), nil)
	require.NoError(t, err)
	assert.Equal(t, out.Score.Wear, m.Wear(), "the run is its inputs")
	missed, err := s.Work(c.Stand(), 1, items, []stand.Move{{Work: "crank"}})
	require.NoError(t, err)
	assert.Equal(t, []stand.Sign{{Check: "magneto", Finding: "drop-excessive", Side: "right"}}, missed.Score.Missed)
	for want, script := range map[string][]stand.Move{
		"script[0].work": {{Work: "parachute"}}, "script[1].control": {{}, {Control: "throttle", Value: 2}},
		"script[0].at": {{At: 1e9}}, "script[0].engine": {{Engine: 3}},
	} {
		_, err := s.Work(c.Stand(), 1, items, script)
		require.Error(t, err)
		assert.Contains(t, err.Error(), want)
	}
}

// TestMadeUpScenariosCanBeMet: each is sound, the same for the same seed, and what one
// thing that is wrong from the beginning shows is found; the harder ones are harder.
func TestMadeUpScenariosCanBeMet(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	with := map[int]int{}
	for _, rig := range c.Rigs {
		kit, _ := c.Kit(rig.Type)
		items := flownBy(t, c, kit.Type)
		for difficulty := 1; difficulty <= 5; difficulty++ {
			for seed := range uint64(4) {
				s := kit.Generate(difficulty, seed)
				require.Empty(t, s.Problems(kit.Library()), s.ID)
				require.Equal(t, s, kit.Generate(difficulty, seed))
				with[difficulty] += len(s.Faults)
				if len(s.Faults) == 1 && s.Faults[0].From == 0 && difficulty <= 3 {
					out, err := s.Work(kit.Library(), seed, items, nil)
					require.NoError(t, err)
					assert.NotEmpty(t, out.Score.Found, "%s: %v", rig.Type, s.Faults)
				}
			}
		}
	}
	assert.Greater(t, with[5], with[1])
}

// FuzzRun: whatever is sent as a run is run within its bounds, or refused.
func FuzzRun(f *testing.F) {
	c, err := catalog.Shipped()
	require.NoError(f, err)
	f.Add([]byte(`{"scenario":{"id":"a","title":"a","goal":"g","type":"willow-t5","difficulty":1,"day":{"oatC":15,"dewPointC":5,"qnhHPa":1013,"elevationFt":0,"windKt":0,"engineState":"cold"}},"seed":1,"ticks":300,"inputs":[{"tick":1,"control":"master","value":1},{"tick":2,"engine":1,"control":"starter","value":1}]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		var run stand.Run
		if json.Unmarshal(data, &run) != nil {
			return
		}
		run.Ticks = min(run.Ticks, 3000)
		_, _ = run.Replay(c.Stand(), nil)
	})
}

// TestEveryScenarioIsMet: a good student finds in each what its faults show, unless it
// comes later than the checks; and each has a decision that is right.
func TestEveryScenarioIsMet(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	require.GreaterOrEqual(t, len(c.Scenarios), 36)
	for _, s := range c.Scenarios {
		typ, _ := c.Type(s.Type)
		out, err := s.Work(c.Stand(), 1, flownBy(t, c, typ), nil)
		require.NoError(t, err, s.ID)
		if len(s.Faults) == 0 {
			assert.Empty(t, out.Score.Found, s.ID)
		} else {
			assert.Empty(t, out.Score.Missed, s.ID)
		}
		right := 0
		for _, decision := range []string{"normal-for-type", "cleared", "carried-on", "deferred", "grounded"} {
			answer, err := s.Decide(c.Stand(), decision)
			require.NoError(t, err)
			assert.Len(t, answer.Faults, len(s.Faults))
			if answer.Right {
				right++
				assert.Equal(t, decision, answer.Asked)
			}
		}
		assert.Equal(t, 1, right, s.ID)
	}
	_, err = c.Scenarios[0].Decide(c.Stand(), "hope")
	assert.ErrorContains(t, err, "decision")
}
