package server_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/stand"
	"jetprimer/demo"
	"jetprimer/server"
)

// TestARunIsRunAgain: the server takes the inputs of a run and nothing else, gets what it
// gets itself, and refuses what cannot be by its field.
func TestARunIsRunAgain(t *testing.T) {
	student := as(t, start(t), demo.Brandt)
	types := got[[]server.StandType](t, student, "GET", "/api/v1/stands", "")
	require.Len(t, types, 7)
	kit := got[stand.Kit](t, student, "GET", "/api/v1/stands/alder-110", "")
	require.NotEmpty(t, kit.Scenarios)
	s := kit.Scenarios[0]
	for _, one := range kit.Scenarios {
		if one.ID == "live-propeller" {
			s = one
		}
	}
	run := stand.Run{Scenario: s, Seed: 4, Ticks: 500, Inputs: []stand.Input{
		{Tick: 5, Control: "master", Value: 1}, {Tick: 9, Engine: 1, Control: "mixture", Value: 1}, {Tick: 10, Engine: 1, Control: "ignition", Value: 3}, {Tick: 20, Engine: 1, Control: "starter", Value: 1}, {Tick: 200, Engine: 1, Control: "starter", Value: 0}}}
	m, err := run.Replay(kit.Library(), nil)
	require.NoError(t, err)
	send := func(run stand.Run, decision string) string {
		text, err := json.Marshal(map[string]any{"run": run, "decision": decision})
		require.NoError(t, err)
		return string(text)
	}
	answer := got[server.StandAnswer](t, student, "POST", "/api/v1/stand-runs", send(run, "grounded"))
	assert.True(t, answer.Right)
	assert.Equal(t, m.Wear(), answer.Wear)
	assert.Equal(t, 10.0, answer.Seconds)
	assert.Contains(t, answer.Faults[0].Title, "magneto")
	assert.False(t, got[server.StandAnswer](t, student, "POST", "/api/v1/stand-runs", send(run, "normal-for-type")).Right)

	for want, text := range map[string]string{
		"decision":                 send(run, "hope"),
		"run.inputs[0].control":    strings.Replace(send(run, "grounded"), `"master"`, `"parachute"`, 1),
		"run.inputs[1].tick":       strings.Replace(send(run, "grounded"), `"tick":5`, `"tick":50`, 1),
		"scenario faults[0].fault": strings.Replace(send(run, "grounded"), `"left-magneto-ungrounded"`, `"bad-luck"`, 1),
		"run.ticks":                strings.Replace(send(run, "grounded"), `"ticks":500`, `"ticks":500000000`, 1),
	} {
		status, body := student.call("POST", "/api/v1/stand-runs", text)
		assert.Equal(t, 422, status, want+": "+body)
		assert.Contains(t, body, want)
	}
	status, _ := student.call("GET", "/api/v1/stands/glider", "")
	assert.Equal(t, 404, status)
}
