//go:build !js

package main_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/practice"
)

// TestBrowserRunsTheSameEngines: what a good student does in every scenario shows the
// same in a browser as on the server, digit for digit, and comes to the same score: a run
// that is sent is accepted by what the server gets itself.
func TestBrowserRunsTheSameEngines(t *testing.T) {
	ask := build(t)
	c, err := catalog.Shipped()
	require.NoError(t, err)
	text := func(v any) string {
		out, err := json.Marshal(v)
		require.NoError(t, err)
		return string(out)
	}
	var calls [][]string
	var want []string
	for _, s := range c.Scenarios {
		course, _ := c.Course(s.Type)
		run, err := course.Show(s, 11, "student", "2026-11-27T09:00:00Z", "")
		require.NoError(t, err)
		run = run.Until(12_000)
		run.Mode = practice.Alone
		for _, d := range run.Deeds {
			if d.Call != nil && d.Call.Name == "shown" {
				d.Call.Name = "done"
			}
		}
		trace, err := course.Trace(run)
		require.NoError(t, err)
		whole := run
		whole.Decision = "grounded"
		session, err := course.Replay(whole, nil)
		require.NoError(t, err)
		score, err := session.Score()
		require.NoError(t, err)
		calls = append(calls, []string{"standTrace", text(course), text(run)}, []string{"standWatch", text(course), text(run), "100000"}, []string{"standDecide", text("grounded"), text("")})
		want = append(want, said([]byte(text(trace)), nil), "", score.Digest())
	}
	got := ask(calls)
	require.Len(t, got, len(want))
	for i := 0; i < len(want); i += 3 {
		id := c.Scenarios[i/3].ID
		assert.True(t, want[i] == got[i], "%s: another trace", id)
		assert.Contains(t, got[i+2], want[i+2], id)
	}
}
