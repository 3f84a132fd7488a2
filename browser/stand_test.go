//go:build !js

package main_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
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
		items, err := c.FlownItems(kit.Type)
		require.NoError(t, err)
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
