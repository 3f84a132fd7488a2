package practice_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/stand"
)

// TestEveryListCanBeFlown: on every type, on a cold, a mild and a hot day, with all
// and with none of its optional equipment and with either engine first, a good student
// who works the list in its order breaks no precedence, does nothing out of order and
// nothing that the type forbids.
func TestEveryListCanBeFlown(t *testing.T) {
	c, err := shipped()
	require.NoError(t, err)
	days := map[string]stand.Day{
		"cold": {
			OATC: -6, DewPointC: -8, QNHHPa: 1022, ElevationFt: 412, WindKt: 4, EngineState: "cold", Date: "2026-12-01",
		},
		"mild": {
			OATC: 14, DewPointC: 5, QNHHPa: 1013, ElevationFt: 18, WindKt: 8, EngineState: "warm", Date: "2026-12-01",
		},
		"hot": {
			OATC: 31, DewPointC: 12, QNHHPa: 1009, ElevationFt: 2400, WindKt: 3, EngineState: "hot", Date: "2026-12-01",
		},
	}
	for _, rig := range c.Rigs {
		for day, air := range days {
			for _, all := range []bool{false, true} {
				for turned := range 2 {
					c := course(t, rig.Type)
					if turned == 1 && c.Type.Engines == 1 {
						continue
					}
					if all {
						c.Type.Equipment = slices.Clone(c.Type.Equipment)
						for i := range c.Type.Equipment {
							c.Type.Equipment[i].Optional = false
						}
					}
					if turned == 1 {
						c.Type.StartOrder = slices.Clone(c.Type.StartOrder)
						slices.Reverse(c.Type.StartOrder)
					}
					t.Run(fmt.Sprintf("%s, %s, all equipment %v, order %d", rig.Type, day, all, turned),
						func(t *testing.T) {
							t.Parallel()
							s := c.Scenarios[0]
							s.Day, s.Faults, s.Until = air, nil, ""
							score := scored(t, c, good(t, c, s))
							assert.Empty(t, codes(score))
							assert.Empty(t, score.State.Problems)
							for _, i := range score.State.Items {
								assert.Empty(t, i.Broken, i.ID)
								assert.False(t, i.OutOfOrder, i.ID)
								if assert.NotNil(t, i.Level, i.ID) {
									assert.Equal(t, 4, *i.Level, "%s: %v", i.ID, i.Reasons)
								}
							}
						})
				}
			}
		}
	}
}
