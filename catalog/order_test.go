package catalog_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

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
		{OATC: at(30), DewPointC: at(20), Night: &no, Rules: "IFR", EngineState: "hot", FirstFlight: &no, Exercises: []string{"external-power", "stalls"}},
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
							assert.True(t, on[need], "%s, day %d: %s in %s needs %s, which is not on yet", typ.ID, i, item.ID, phase.ID, need)
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
				assert.True(t, !on["battery"] && !on["engine"] && !on["avionics"], "%s, day %d: something is left on: %v", typ.ID, i, on)
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
			at := slices.IndexFunc(phase.Items, func(i checklist.Item) bool { return i.ID == "ignition-both" || i.ID == "lanes-both" })
			if at < 0 || phase.ID != "run-up" {
				continue
			}
			for _, item := range phase.Items[at+1:] {
				assert.Contains(t, item.After, phase.Items[at].ID, "%s: %s", typ.ID, item.ID)
			}
		}
	}
}

// TestInstrumentRulesAskForPitotHeat whatever the temperature.
func TestInstrumentRulesAskForPitotHeat(t *testing.T) {
	c := catalogOf(t)
	warm := 25.0
	for _, id := range []string{"alder-110", "rowan-180i", "sorrel-100", "hornbeam-twin", "larch-d2"} {
		typ, _ := c.Type(id)
		list, _ := c.ListFor(id)
		flown, err := checklist.Tailor(list, nil, typ, checklist.Aircraft{}, checklist.Day{OATC: &warm, DewPointC: &warm, Rules: "IFR"})
		require.NoError(t, err)
		_, there := flown.List.Find("pitot-heat-cold")
		assert.True(t, there, id)
	}
}
