package recorder_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/recorder"
	"jetprimer/core/stand"
)

// TestWhatIsWrongIsMeasured: of engines that behave, with one side that drops far, the
// other hardly, or neither as it should, what a recorder measures is what was read; and a
// propeller's cycles, which raise the manifold pressure as every dip does, are told from
// the ignition by the exhaust, and without it by their depth.
func TestWhatIsWrongIsMeasured(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	day := stand.Day{OATC: 14, DewPointC: 5, QNHHPa: 1013, ElevationFt: 412, EngineState: "cold"}
	measured := 0
	for _, typ := range sparked(t) {
		kit, _ := c.Kit(typ.ID)
		items, err := c.FlownItems(typ)
		require.NoError(t, err)
		for _, fault := range kit.Faults {
			ignition := fault.Finds[0].Check
			if ignition != "magneto" && ignition != "lanes" || fault.Finds[0].Finding == "engine-stopped" ||
				fault.Finds[0].Finding == "no-drop" {
				continue
			}
			s := stand.Scenario{
				ID: "s", Title: "s", Goal: "g", Difficulty: 1, Type: typ.ID, Day: day,
				Faults: []stand.Slipped{{Fault: fault.ID, Severity: 0.5}},
			}
			told, err := s.Work(kit.Library(), 2, items, nil)
			require.NoError(t, err)
			bare := told.Track
			bare.Engines = slices.Clone(bare.Engines)
			for i := range bare.Engines {
				bare.Engines[i].ExhaustC = nil
			}
			near := 10.0
			if typ.Tachometer == "percent" {
				near = 1
			}
			for what, track := range map[string]recorder.Track{"with the exhaust": told.Track, "without it": bare} {
				if what == "without it" && typ.Propeller != "fixed" {
					continue // a dead plug drops as deep as a cycle, or as the needles part
				}
				i := slices.IndexFunc(told.Checks,
					func(w stand.Worked) bool { return w.Check == ignition && w.Request.Engine == 1 })
				require.GreaterOrEqual(t, i, 0)
				read := told.Checks[i].Request.Reading
				for _, run := range recorder.RunUps(track, typ, recorder.Options{}) {
					for _, m := range run.Measured {
						if m.Check != ignition || run.Engine != 1 {
							continue
						}
						measured++
						for _, side := range [][2]string{
							{"base", "left"}, {"bothAfterLeft", "right"}, {"base", "a"}, {"bothAfterA", "b"},
						} {
							if from := aircraft.Number(read[side[0]]); from > 0 && aircraft.Number(read[side[1]]) > 0 {
								want := from - aircraft.Number(read[side[1]])
								got := aircraft.Number(m.Reading[side[0]]) - aircraft.Number(m.Reading[side[1]])
								assert.InDelta(t, want, got, max(near, 0.06*want), "%s, %s, %s: %s", typ.Name, fault.ID,
									what, side[1])
							}
						}
					}
				}
			}
		}
	}
	assert.Greater(t, measured, 40)
}

// TestACycleIsNoMagneto: in a healthy twin's run-up three quick cycles, the governor and the
// feather check come before or after the ignition, on both engines; none is taken for it.
func TestACycleIsNoMagneto(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	kit, _ := c.Kit("hornbeam-twin")
	s := stand.Scenario{ID: "s", Title: "s", Goal: "g", Difficulty: 1, Type: kit.Type.ID, Day: stand.StandardDay}
	items, err := c.FlownItems(kit.Type)
	require.NoError(t, err)
	told, err := s.Work(kit.Library(), 1, items, nil)
	require.NoError(t, err)
	seen := map[int]int{}
	for _, run := range recorder.RunUps(told.Track, kit.Type, recorder.Options{}) {
		for _, m := range run.Measured {
			if m.Check == "magneto" {
				seen[run.Engine]++
				for _, side := range [][2]string{{"base", "left"}, {"bothAfterLeft", "right"}} {
					assert.InDelta(t, 60, aircraft.Number(m.Reading[side[0]])-aircraft.Number(m.Reading[side[1]]), 20)
				}
			}
		}
	}
	assert.Equal(t, map[int]int{1: 1, 2: 1}, seen)
}
