package catalog_test

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
)

// protections are what is switched on against ice, and must be on still at the
// end of the phase in which it was.
var protections = []string{"pitot-heat", "anti-ice"}

// TestNothingNeedsWhatIsNotOnYet: each list as flown, on warm and cold days, by
// day and night, by sight and by instruments, with all and with none of its
// optional equipment: an item finds what it needs, nothing turns before the area
// was called clear, and what protects stays on.
func TestNothingNeedsWhatIsNotOnYet(t *testing.T) {
	c := catalogOf(t)
	yes, no := true, false
	at := func(v float64) *float64 { return &v }
	days := []checklist.Day{
		{OATC: at(20), DewPointC: at(5), Night: &no, Rules: "VFR", EngineState: "cold", FirstFlight: &yes},
		{OATC: at(-4), DewPointC: at(-5), Night: &yes, Rules: "IFR", EngineState: "cold", FirstFlight: &yes},
		{
			OATC: at(30), DewPointC: at(20), Night: &no, Rules: "IFR", EngineState: "hot", FirstFlight: &no,
			Exercises: []string{"external-power", "stalls"},
		},
	}
	for _, typ := range c.Types {
		if typ.Version < newest(c, typ.ID) {
			continue
		}
		var optional []string
		for _, e := range typ.Equipment {
			if e.Optional {
				optional = append(optional, e.ID)
			}
		}
		list, _ := c.ListFor(typ.ID)
		for i, day := range days {
			for _, equipment := range [][]string{nil, optional} {
				flown, err := checklist.Tailor(list, nil, typ, checklist.Aircraft{Equipment: equipment}, day)
				require.NoError(t, err)
				on := map[string]bool{}
				for _, phase := range flown.List.Phases {
					protected := map[string]bool{}
					for _, item := range phase.Items {
						for _, need := range item.Needs {
							assert.True(t, on[need], "%s, day %d: %s in %s needs %s, which is not on yet", typ.ID, i,
								item.ID, phase.ID, need)
						}
						for _, s := range item.Stops {
							delete(on, s)
							delete(protected, s)
						}
						for _, s := range item.Starts {
							on[s] = true
							protected[s] = slices.Contains(protections, s)
						}
					}
					for p, was := range protected {
						assert.True(t, !was || on[p], "%s, day %d: %s is off at the end of %s", typ.ID, i, p, phase.ID)
					}
				}
				delete(on, "clear")
				assert.Empty(t, on, "%s, day %d, %v: left on", typ.ID, i, equipment)
			}
		}
	}
}

// TestIgnitionIsBackBeforeAnythingElse: what follows an ignition check in its
// phase waits for both, whatever the method.
func TestIgnitionIsBackBeforeAnythingElse(t *testing.T) {
	c := catalogOf(t)
	for _, typ := range c.Types {
		list, _ := c.ListFor(typ.ID)
		for _, phase := range list.Phases {
			at := slices.IndexFunc(phase.Items,
				func(i checklist.Item) bool { return i.ID == "ignition-both" || i.ID == "lanes-both" })
			if at < 0 || phase.ID != "run-up" {
				continue
			}
			assert.NotEmpty(t, phase.Items[at].Closes,
				"%s: what is done before the ignition check by choice waits for nothing", typ.ID)
			for _, item := range phase.Items[at+1:] {
				assert.Contains(t, item.After, phase.Items[at].ID, "%s: %s", typ.ID, item.ID)
			}
		}
	}
}

// TestEachEngineHasItsOwnStart: it is primed just before its own crank and for no
// other, on the ignition that is timed for it and back on BOTH once it runs; and hot
// lines are pumped with the mixture at cut-off.
func TestEachEngineHasItsOwnStart(t *testing.T) {
	c := catalogOf(t)
	for _, typ := range newestTypes(c) {
		list, _ := c.ListFor(typ.ID)
		orders := [][]int{typ.StartOrder}
		if typ.Engines > 1 {
			orders = [][]int{{1, 2}, {2, 1}}
		}
		for _, order := range orders {
			typ.StartOrder = order
			for _, state := range []string{"cold", "hot"} {
				day := fair()
				day.EngineState = state
				flown, err := checklist.Tailor(list, nil, typ, checklist.Aircraft{}, day)
				require.NoError(t, err)
				var ids []string
				places := flown.List.Places()
				for _, p := range places {
					ids = append(ids, p.Item.ID)
				}
				for engine := 1; engine <= typ.Engines; engine++ {
					at := func(id string) int {
						if typ.Engines > 1 {
							id = fmt.Sprint(id, "-", engine)
						}
						return slices.Index(ids, id)
					}
					if prime := at("prime"); prime >= 0 && typ.Engines > 1 {
						for _, p := range places[prime:at("crank")] {
							assert.Equal(t, engine, p.Item.Engine, "%s: %s between priming and cranking", typ.ID,
								p.Item.ID)
						}
					}
					if typ.StartMagneto == "left" || typ.StartMagneto == "right" {
						assert.Greater(t, at("ignition-both-start"), at("crank"), typ.ID)
						assert.True(t, places[at("ignition-both-start")].Item.Critical)
					}
					if typ.StartType == "injected" && state == "hot" {
						assert.Less(t, at("mixture-cutoff-hot"), at("prime"), typ.ID)
					}
				}
				if typ.Class == "helicopter" {
					assert.Less(t, slices.Index(ids, "frictions-free"), slices.Index(ids, "controls"), typ.ID)
					for _, id := range []string{"hydraulics", "low-rotor-warning", "needle-split"} {
						assert.True(t,
							slices.Index(ids, id) < 0 ||
								slices.Index(ids, "controls-again") < slices.Index(ids, id), "%s: frictions before %s",
							typ.ID, id)
					}
				}
				if i := slices.Index(ids, "dry-motoring"); i >= 0 {
					assert.Less(t, i, slices.Index(ids, "residual-temperature"), "the gate is asked once it can be met")
				}
			}
		}
	}
}

// saidTime is a time that an item's response tells.
var saidTime = regexp.MustCompile(`\b(a|one|two|three|five|ten|thirty|\d+) (minute|second)s?\b`)

// TestTimesAreTheTypes: where a response tells a time and the item counts one, it is
// that of the type's data.
func TestTimesAreTheTypes(t *testing.T) {
	c := catalogOf(t)
	words := map[string]float64{"a": 1, "one": 1, "two": 2, "three": 3, "five": 5, "ten": 10, "thirty": 30}
	told := 0
	for _, typ := range newestTypes(c) {
		list, _ := c.ListFor(typ.ID)
		for _, p := range list.Places() {
			m := saidTime.FindStringSubmatch(p.Item.Response)
			if m == nil || len(p.Item.Timers) == 0 {
				continue
			}
			seconds, known := words[m[1]]
			if !known {
				seconds, _ = strconv.ParseFloat(m[1], 64)
			}
			if m[2] == "minute" {
				seconds *= 60
			}
			told++
			assert.True(t, slices.ContainsFunc(typ.Durations, func(d aircraft.Duration) bool {
				return slices.Contains(p.Item.Timers, d.ID) && (d.MinSeconds == seconds || d.MaxSeconds == seconds)
			}), "%s, %s: %q is no time of %v", typ.ID, p.Item.ID, p.Item.Response, p.Item.Timers)
		}
	}
	assert.Greater(t, told, 8)
}

// TestInstrumentRulesAskForPitotHeat whatever the temperature.
func TestInstrumentRulesAskForPitotHeat(t *testing.T) {
	c := catalogOf(t)
	warm := 25.0
	for _, id := range []string{"alder-110", "rowan-180i", "sorrel-100", "hornbeam-twin", "larch-d2"} {
		typ, _ := c.Type(id)
		list, _ := c.ListFor(id)
		flown, err := checklist.Tailor(list, nil, typ, checklist.Aircraft{},
			checklist.Day{OATC: &warm, DewPointC: &warm, Rules: "IFR"})
		require.NoError(t, err)
		_, there := flown.List.Find("pitot-heat-cold")
		assert.True(t, there, id)
	}
}
