package compare_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/check"
	"jetprimer/core/compare"
)

// TestEveryTypesNumbersAreFollowed: on each type a good reading of each of its
// checks gives the numbers that are the aircraft's, each with a limit, a unit
// where it has one and an id of its own.
func TestEveryTypesNumbersAreFollowed(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, typ := range c.Types {
		var log []compare.LogEntry
		for _, d := range check.All() {
			if typ.Limits[d.Name] == nil {
				continue
			}
			reading, conditions, ok := check.Example(d.Name, typ, nil, 0)
			require.True(t, ok, d.Name)
			request, err := json.Marshal(map[string]any{
				"aircraftType": typ.ID, "reading": reading, "conditions": conditions,
			})
			require.NoError(t, err)
			verdict, err := check.Run(d.Name, request, c.Type)
			require.NoError(t, err)
			raw, err := json.Marshal(reading)
			require.NoError(t, err)
			for n := range 13 {
				log = append(log, compare.LogEntry{
					Hours: float64(100 + n), Check: d.Name, Engine: 1, Item: d.Name, Reading: raw, Verdict: verdict,
				})
			}
		}
		seen, checks := map[string]bool{}, map[string]bool{}
		for _, s := range compare.Repeated(log, typ) {
			assert.False(t, seen[s.ID], s.ID)
			seen[s.ID], checks[s.Check] = true, true
			assert.True(t, s.Low != nil || s.High != nil, s.ID)
			assert.Len(t, s.Points, 13)
			assert.Equal(t, [2]string{"within", "steady"}, [2]string{string(s.State), s.Words}, "%s %s", typ.Name, s.ID)
			assert.NotEmpty(t, s.Label)
			assert.NotEmpty(t, s.Unit, s.ID)
		}
		for _, must := range []string{
			"battery", "magneto", "lanes", "control-unit", "gauges", "charging", "idle", "turbine-start",
			"piston-start", "diesel-start",
		} {
			assert.Equal(t, typ.Limits[must] != nil, checks[must], "%s %s", typ.Name, must)
		}
	}
}

// TestMaintenanceRestartsItsItemOnly: the series of the item that was worked on, with
// what was done; an invalid try is none.
func TestMaintenanceRestartsItsItemOnly(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	typ, _ := c.Type("alder-110")
	suction := func(hours, value float64) compare.LogEntry {
		return compare.LogEntry{Hours: hours, Check: "suction", Engine: 1, Item: "suction",
			Reading: fmt.Appendf(nil, `{"inHg":%g}`, value),
			Verdict: json.RawMessage(`{"outcome":"normal","values":{},"limits":{"min":4.5,"max":5.4}}`)}
	}
	idle := func(hours float64, outcome string) compare.LogEntry {
		return compare.LogEntry{
			Hours: hours, Check: "idle", Engine: 1, Item: "idle", Reading: json.RawMessage(`{"rpm":650}`),
			Verdict: json.RawMessage(`{"outcome":"` + outcome + `","limits":{"min":550,"max":750}}`),
		}
	}
	var log []compare.LogEntry
	for n := range 20 {
		log = append(log, suction(float64(n), 5-0.02*float64(n)+0.01*float64(n%2)),
			idle(float64(n), []string{"normal", "invalid"}[n%2]))
	}
	falling := compare.Repeated(log, typ)
	assert.Equal(t, [3]string{"suction", "below", "attend"},
		[3]string{falling[0].Check, falling[0].Toward, string(falling[0].State)})
	assert.Contains(t, falling[0].Long, "It meets its limit in some")
	log = append(log, compare.LogEntry{Hours: 20, Day: "2026-11-20", Item: "suction", Words: "pump changed"},
		suction(21, 5), suction(22, 5))
	for _, s := range compare.Repeated(log, typ) {
		switch s.Check {
		case "suction":
			assert.Equal(t, 2, s.Trend.N)
			assert.Equal(t, []compare.Restart{{Hours: 20, Day: "2026-11-20", Words: "pump changed"}}, s.Restarts)
			assert.Contains(t, s.Long, "2 tries since pump changed")
		case "idle":
			assert.Len(t, s.Points, 10)
			assert.Empty(t, s.Restarts)
		}
	}
}
