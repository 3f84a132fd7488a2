//go:build !js

package main_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/checklist"
)

// TestBrowserRunsTheSameEngines: what a good student does on every type's stand shows
// the same in a browser as on the server, digit for digit: runs that are sent are
// accepted by what the server gets itself.
func TestBrowserRunsTheSameEngines(t *testing.T) {
	ask := build(t)
	c, err := catalog.Shipped()
	require.NoError(t, err)
	var calls [][]string
	var want []string
	for _, s := range c.Scenarios {
		kit, _ := c.Kit(s.Type)
		list, _ := c.ListFor(s.Type)
		flown, err := checklist.Tailor(list, nil, kit.Type, checklist.Aircraft{}, checklist.Day{})
		require.NoError(t, err)
		var items []checklist.Item
		for _, p := range flown.List.Places() {
			items = append(items, p.Item)
		}
		worked, err := s.Work(c.Stand(), 11, items, nil)
		require.NoError(t, err)
		run := worked.Run.Until(12_000)
		trace, err := run.Trace(c.Stand())
		require.NoError(t, err)
		kitText, err := json.Marshal(kit)
		require.NoError(t, err)
		runText, err := json.Marshal(run)
		require.NoError(t, err)
		answer, err := json.Marshal(trace)
		require.NoError(t, err)
		calls, want = append(calls, []string{"standTrace", string(kitText), string(runText)}), append(want, said(answer, nil))
	}
	got := ask(calls)
	require.Len(t, got, len(want))
	for i := range want {
		assert.Equal(t, want[i], got[i], c.Scenarios[i].ID)
	}
}
