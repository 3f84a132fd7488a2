//go:build !js

package main_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"jetprimer/browser/bridge"
	"jetprimer/catalog"
	"jetprimer/core/checklist"
)

func ptr[T any](v T) *T { return &v }

// TestBrowserTailorsTheSame: the list as flown, the mistakes and the
// differences of every type's list, byte for byte as the server has them. A
// lesson that a tablet opens is refused when they differ.
func TestBrowserTailorsTheSame(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	days := []checklist.Day{
		{},
		{OATC: ptr(-18.0), DewPointC: ptr(-24.0), EngineState: "cold", FirstFlight: ptr(true)},
		{
			OATC: ptr(34.5), ElevationFt: ptr(5200.0), QNHHPa: ptr(1013.2), EngineState: "hot", Rules: "VFR",
			Night: ptr(false),
		},
		{WindKt: ptr(18.0), GustKt: ptr(27.0), Rules: "IFR", Night: ptr(true),
			Exercises: []string{"stalls", "circuits"}},
	}
	layer := checklist.Layer{ID: "x", Title: "X", Version: 1, Rank: "bulletin", Source: "s", Date: "2026-11-24",
		Author: "a",
		Changes: []checklist.Change{{
			Op: checklist.OpChange, Item: "beacon",
			Set: map[string]any{"response": "on, seen from outside", "critical": true}, Why: "It failed twice.",
			When: "oat < 5 °C or night",
		},
			{Op: checklist.OpDrop, Item: "no-such-item", Why: "To be refused."}}}
	var asked calls
	for _, list := range c.Lists {
		typ, _ := c.Type(list.AircraftType)
		own := layer
		own.AircraftType = typ.ID
		orders := [][]int{nil}
		if typ.Engines > 1 {
			orders = append(orders, []int{2, 1}, []int{1, 1})
		}
		for _, day := range days {
			for _, order := range orders {
				of := checklist.Tailoring{
					List: list, Layers: []checklist.Layer{own}, Type: typ,
					Aircraft: checklist.Aircraft{Equipment: []string{"autopilot"}, StartOrder: order}, Day: day,
				}
				asked.ask(t, "tailor", of, nil)
			}
		}
		around := c.Surroundings(typ, c.Packs)
		other := list
		other.Phases = append([]checklist.Phase{}, list.Phases...)
		items := append([]checklist.Item{}, list.Phases[0].Items...)
		items[0], items[1] = items[1], items[0]
		items[2].When = "night and"
		items[3].Why = ""
		other.Phases[0].Items = items
		asked.ask(t, "problems", bridge.Document{Surroundings: around, List: &other})
		asked.ask(t, "problems", bridge.Document{Surroundings: around, List: &list})
		asked.ask(t, "problems", bridge.Document{Surroundings: around, Layer: &own})
		asked.ask(t, "differences", list, other)
	}
	asked.alike(t)
}
