//go:build !js

package main_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
)

func ptr[T any](v T) *T { return &v }

// TestBrowserTailorsTheSame: the list as flown, the mistakes and the
// differences of every type's list, byte for byte as the server has them. A
// lesson that a tablet opens is refused when they differ.
func TestBrowserTailorsTheSame(t *testing.T) {
	ask := build(t)
	c, err := catalog.Shipped()
	require.NoError(t, err)
	days := []checklist.Day{
		{},
		{OATC: ptr(-18.0), DewPointC: ptr(-24.0), EngineState: "cold", FirstFlight: ptr(true)},
		{
			OATC: ptr(34.5), ElevationFt: ptr(5200.0), QNHHPa: ptr(1013.2), EngineState: "hot", Rules: "VFR",
			Night: ptr(false),
		},
		{WindKt: ptr(18.0), GustKt: ptr(27.0), Rules: "IFR", Night: ptr(true), Exercises: []string{"stalls", "circuits"}},
	}
	layer := checklist.Layer{ID: "x", Title: "X", Version: 1, Rank: "bulletin", Source: "s", Date: "2026-11-24",
		Author: "a",
		Changes: []checklist.Change{{
			Op: checklist.OpChange, Item: "beacon",
			Set: map[string]any{"response": "on, seen from outside", "critical": true}, Why: "It failed twice.",
			When: "oat < 5 °C or night",
		},
			{Op: checklist.OpDrop, Item: "no-such-item", Why: "To be refused."}}}
	var calls [][]string
	var want []string
	expect := func(name string, request, answer any, err error) {
		asked, e := json.Marshal(request)
		require.NoError(t, e)
		call := []string{name, string(asked)}
		if name == "tailor" {
			call = append(call, "") // the day is given, not typed
		}
		calls = append(calls, call)
		given, e := json.Marshal(answer)
		require.NoError(t, e)
		want = append(want, said(given, err))
	}
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
				flown, err := of.Flown()
				expect("tailor", of, flown, err)
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
		expect("problems", map[string]any{"surroundings": around, "list": other}, around.ListProblems(other), nil)
		expect("problems", map[string]any{"surroundings": around, "list": list}, []form.Problem{}, nil)
		expect("problems", map[string]any{"surroundings": around, "layer": own},
			append([]form.Problem{}, around.LayerProblems(own)...), nil)
		expect("differences", map[string]any{"older": list, "newer": other}, checklist.Differences(list, other), nil)
	}
	got := ask(calls)
	require.Len(t, got, len(want))
	for i := range want {
		assert.Equal(t, want[i], got[i], "%s %d", calls[i][0], i)
	}
}
