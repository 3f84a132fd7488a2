package stand_test

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/recorder"
	"jetprimer/core/stand"
)

// standDays are five kinds of day.
var standDays = map[string]stand.Day{
	"cold soaked": {
		OATC: -4, DewPointC: -9, QNHHPa: 1024, ElevationFt: 412, EngineState: "cold", Date: "2026-11-27",
	},
	"standard": {
		OATC: 14, DewPointC: 5, QNHHPa: 1013, ElevationFt: 412, EngineState: "cold", Date: "2026-11-27",
	},
	"hot and high": {
		OATC: 34, DewPointC: 12, QNHHPa: 1009, ElevationFt: 2400, EngineState: "cold", Date: "2026-11-27",
	},
	"humid and cool": {
		OATC: 9, DewPointC: 8, QNHHPa: 1004, ElevationFt: 412, EngineState: "cold", Date: "2026-11-27",
	},
	"after a short stop": {
		OATC: 20, DewPointC: 9, QNHHPa: 1016, ElevationFt: 412, EngineState: "hot", Date: "2026-11-27",
	},
}

// flownBy is a type's list as it is flown with nothing planned.
func flownBy(t testing.TB, c *catalog.Catalog, typ aircraft.Type) []checklist.Item {
	items, err := c.FlownItems(typ)
	require.NoError(t, err)
	return items
}

// TestEveryHealthyEngineReadsNormal: on every kind of day a good student who works the
// list of a type finds every measured check normal, and its numbers in the middle two
// thirds of their bands.
func TestEveryHealthyEngineReadsNormal(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	require.Len(t, c.Rigs, 7)
	for _, rig := range c.Rigs {
		typ, _ := c.Type(rig.Type)
		items := flownBy(t, c, typ)
		for name, day := range standDays {
			t.Run(typ.ID+" "+name, func(t *testing.T) {
				t.Parallel()
				asked := map[string]bool{}
				for _, item := range items {
					asked[item.Check] = true
				}
				h := stand.NewHand(stand.New(rig, typ, day, 1), day)
				worked, err := h.Work(items)
				require.NoError(t, err)
				for _, w := range worked {
					delete(asked, w.Check)
					assert.Equal(t, check.Normal, w.Verdict.Outcome, "%s: %v", w.Item, w.Verdict.Findings)
					for _, e := range edges(t, w) {
						t.Errorf("%s: %s", w.Item, e)
					}
				}
				for missing := range asked {
					assert.Empty(t, missing, "was not worked")
				}
			})
		}
	}
}

// TestEveryFaultShowsWhereItSays: at three severities the checks of a good student find
// what the table of faults names, and nothing else.
func TestEveryFaultShowsWhereItSays(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	require.GreaterOrEqual(t, len(c.Faults), 48)
	day := standDays["standard"]
	for _, rig := range c.Rigs {
		typ, _ := c.Type(rig.Type)
		items := flownBy(t, c, typ)
		for _, fault := range c.Faults {
			if !typ.Fits(fault.Has) {
				continue
			}
			for _, severity := range []float64{0, 0.5, 1} {
				t.Run(fmt.Sprint(typ.ID, " ", fault.ID, " ", severity), func(t *testing.T) {
					t.Parallel()
					m := stand.New(rig, typ, day, 7)
					m.Slip(fault, stand.Slipped{Severity: severity})
					worked, err := stand.NewHand(m, day).Work(items)
					require.NoError(t, err)
					found := []string{}
					for _, w := range worked {
						for _, f := range w.Verdict.Findings {
							if sign := fmt.Sprint(stand.Sign{Check: w.Check, Finding: f.Code,
								Side: f.Side}); !slices.Contains(found, sign) {
								found = append(found, sign)
							}
						}
					}
					named := []string{}
					for _, sign := range fault.Finds {
						named = append(named, fmt.Sprint(sign))
					}
					for _, sign := range fault.Also {
						found = slices.DeleteFunc(found, func(f string) bool { return f == fmt.Sprint(sign) })
					}
					assert.Equal(t, named, found)
				})
			}
		}
	}
}

// TestAWorseFaultNeverReadsBetter: neither in what comes of the checks nor in the drops.
func TestAWorseFaultNeverReadsBetter(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	rank := map[check.Outcome]int{check.Normal: 0, check.Caution: 1, check.Invalid: 2, check.Abnormal: 3}
	for _, id := range []string{"alder-110", "sorrel-100", "willow-t5"} {
		kit, _ := c.Kit(id)
		items := flownBy(t, c, kit.Type)
		for _, fault := range kit.Faults {
			t.Run(id+" "+fault.ID, func(t *testing.T) {
				t.Parallel()
				worst, drop := 0, 0.0
				for _, severity := range []float64{0, 0.4, 1} {
					m := stand.New(kit.Rig, kit.Type, standDays["standard"], 2)
					m.Slip(fault, stand.Slipped{Severity: severity})
					worked, err := stand.NewHand(m, standDays["standard"]).Work(items)
					require.NoError(t, err)
					now, fell := 0, 0.0
					for _, w := range worked {
						now = max(now, rank[w.Verdict.Outcome])
						for _, field := range []string{"left", "right", "a", "b"} {
							if low := aircraft.Number(w.Request.Reading[field]); w.Check == fault.Finds[0].Check &&
								!math.IsNaN(low) {
								fell = max(fell, aircraft.Number(w.Request.Reading["base"])-low)
							}
						}
					}
					assert.GreaterOrEqual(t, now, worst, "at %g", severity)
					if fault.Finds[0].Finding == "drop-excessive" {
						assert.GreaterOrEqual(t, fell, drop, "at %g", severity)
					}
					worst, drop = now, fell
				}
			})
		}
	}
}

// TestARecorderMeasuresTheStand: what is found in the track of a stand is what the
// student read on it, within 10 rpm.
func TestARecorderMeasuresTheStand(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, rig := range c.Rigs {
		typ, _ := c.Type(rig.Type)
		if typ.Ignition == "none" {
			continue
		}
		t.Run(typ.ID, func(t *testing.T) {
			t.Parallel()
			s := stand.Scenario{ID: "s", Title: "s", Goal: "s", Difficulty: 1, Type: typ.ID, Day: standDays["standard"]}
			told, err := s.Work(c.Stand(), 3, flownBy(t, c, typ), nil)
			require.NoError(t, err)
			near := 10.0
			if typ.Tachometer == "percent" {
				near = 1 // it is read to a half
			}
			compared := map[string]bool{}
			for _, run := range recorder.RunUps(told.Track, typ, recorder.Options{}) {
				for _, m := range run.Measured {
					i := slices.IndexFunc(told.Checks,
						func(w stand.Worked) bool { return w.Check == m.Check && w.Request.Engine == run.Engine })
					require.GreaterOrEqual(t, i, 0, m.Check)
					compared[m.Check] = true
					for _, drop := range [][2]string{
						{"base", "left"}, {"bothAfterLeft", "right"}, {"base", "a"}, {"bothAfterA", "b"},
						{"base", "hot"}, {"", "rpm"},
					} {
						by := func(reading map[string]any) float64 {
							from, zero := aircraft.Number(reading[drop[0]]), drop[0] == ""
							if zero {
								from = 0
							}
							return from - aircraft.Number(reading[drop[1]])
						}
						if read := by(told.Checks[i].Request.Reading); !math.IsNaN(read) {
							assert.InDelta(t, read, by(m.Reading), near, "%s of engine %d, %s", m.Check, run.Engine,
								drop[1])
						}
					}
				}
			}
			if typ.Ignition == "lanes" {
				assert.True(t, compared["lanes"], compared)
			} else {
				assert.True(t, compared["magneto"], compared)
			}
		})
	}
}

// edges are the numbers of a check that lie outside the middle two thirds of their band,
// or nearer than a sixth to the only limit above them.
func edges(t testing.TB, w stand.Worked) (out []string) {
	def, _ := check.Find(w.Check)
	text, err := json.Marshal(w.Verdict)
	require.NoError(t, err)
	var v struct{ Values, Limits map[string]any }
	require.NoError(t, json.Unmarshal(text, &v))
	hold := func(name string, value, low, high any) {
		n, is := value.(float64)
		l, hasLow := low.(float64)
		h, hasHigh := high.(float64)
		switch {
		case !is:
		case hasLow && hasHigh && (n < l+(h-l)/6 || n > h-(h-l)/6), hasHigh && !hasLow && n > h-math.Abs(h)/6,
			hasLow && !hasHigh && n < l:
			out = append(out, fmt.Sprintf("%s reads %g of %v to %v", name, n, low, high))
		}
	}
	if def.NamedReading != nil {
		for name, value := range w.Request.Reading {
			band, _ := v.Limits[name].(map[string]any)
			low, high := band["cautionMin"], band["cautionMax"]
			if low == nil {
				low = band["min"]
			}
			if high == nil {
				high = band["max"]
			}
			// One band of the flow serves every power; that of the manifold pressure at
			// full power ends where the air does.
			if name != "fuelFlow" && w.Request.Conditions["power"] != "fullPower" {
				hold(name, value, low, high)
			}
		}
	}
	for _, s := range def.Scales {
		low, high := v.Limits[s.Low], v.Limits[s.High]
		list, field, nested := strings.Cut(s.Of, ".")
		switch {
		case nested:
			rows, _ := w.Request.Reading[list].([]any)
			for _, row := range rows {
				hold(s.Label, row.(map[string]any)[field], low, high)
			}
		case s.Computed:
			hold(s.Label, v.Values[s.Of], low, high)
		default:
			hold(s.Label, w.Request.Reading[s.Of], low, high)
		}
	}
	return out
}
