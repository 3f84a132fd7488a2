package main

import (
	"encoding/json"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/check"
	"jetprimer/core/form"
)

// TestStand: a stand and a recorder's file of it prove each other; each request gives its
// verdict again; a script and a scenario from files are read strictly.
func TestStand(t *testing.T) {
	dir := t.TempDir()
	csv, columns := filepath.Join(dir, "run.csv"), filepath.Join(dir, "map.yaml")
	out, err := run("", "stand", "--type", "rowan-180i", "--script", "checklist", "--fault", "right-magneto-late=0.5",
		"--seed", "5", "--csv", csv, "--map", columns)
	require.NoError(t, err)
	type verdict struct {
		Check, Outcome string
		Values         map[string]any
	}
	var told struct {
		Checks []struct {
			Item    string
			Request json.RawMessage
			Verdict json.RawMessage
		}
		Score struct {
			Checks, Normal int
			Found, Missed  []map[string]string
		}
	}
	require.NoError(t, json.Unmarshal([]byte(out), &told))
	assert.Equal(t, []map[string]string{{"check": "magneto", "finding": "drop-excessive", "side": "right"}},
		told.Score.Found)
	assert.Empty(t, told.Score.Missed)
	assert.Equal(t, told.Score.Checks, len(told.Checks))
	read := map[string]verdict{}
	c, err := data()
	require.NoError(t, err)
	for _, one := range told.Checks {
		var v verdict
		require.NoError(t, json.Unmarshal(one.Verdict, &v))
		again, err := check.Run(v.Check, one.Request, c.Type)
		require.NoError(t, err, one.Item)
		assert.JSONEq(t, string(one.Verdict), string(again), one.Item)
		read[v.Check] = v
	}
	out, err = run("", "runups", csv, "--map", columns)
	require.NoError(t, err)
	var found struct {
		RunUps []struct{ Verdicts []verdict }
	}
	require.NoError(t, json.Unmarshal([]byte(out), &found))
	require.NotEmpty(t, found.RunUps)
	assert.Equal(t, "magneto", found.RunUps[0].Verdicts[0].Check)
	for _, drop := range []string{"leftDrop", "rightDrop"} {
		assert.InDelta(t, read["magneto"].Values[drop], found.RunUps[0].Verdicts[0].Values[drop], 10)
	}

	file := func(name, text string) string {
		path := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(path, []byte(text), 0o600))
		return path
	}
	day := "day: {oatC: 5, dewPointC: 0, qnhHPa: 1013, elevationFt: 18, windKt: 5, engineState: cold}\n"
	scenario := file("scenario.yaml",
		"id: a\ntitle: A\ngoal: g\ntype: willow-t5\ndifficulty: 2\n"+day+
			"faults: [{fault: igniter-dead, severity: 1}]\n")
	script := file("script.yaml", "- {work: fuel-in}\n- {wait: 3, control: avionics, value: 1}\n")
	out, err = run("", "stand", "--scenario", scenario, "--script", script)
	require.NoError(t, err)
	assert.Contains(t, out, `"finding":"no-light-off"`)
	for want, args := range map[string][]string{
		"--script must be given": {"--type", "alder-110"},
		"is no aircraft type":    {"--type", "glider", "--script", "checklist"},
		"severity must be 0 to 1": {
			"--type", "alder-110", "--script", "checklist", "--fault", "left-plug-dead=3",
		},
		"is no fault of the library":       {"--type", "alder-110", "--script", "checklist", "--fault", "bad-luck"},
		"does not happen to the Alder 110": {"--type", "alder-110", "--script", "checklist", "--fault", "unit-fails"},
		"the scenario is of":               {"--type", "alder-110", "--scenario", scenario, "--script", "checklist"},
		"yaml:7": {
			"--scenario",
			file("wrong.yaml", "id: a\ntitle: A\ngoal: g\ntype: willow-t5\ndifficulty: 2\n"+day+"parachute: 1\n"),
			"--script", "checklist",
		},
		"must be -40 to 50": {
			"--scenario",
			file("hot.yaml",
				"id: a\ntitle: A\ngoal: g\ntype: willow-t5\ndifficulty: 2\nday: {oatC: 90, dewPointC: 0, qnhHPa: "+
					"1013, engineState: cold}\n"),
			"--script", "checklist",
		},
		"is \"fly\", which is no item of the": {"--type", "alder-110", "--script", file("fly.yaml", "- {work: fly}\n")},
	} {
		_, err := run("", append([]string{"stand"}, args...)...)
		require.Error(t, err, want)
		assert.Contains(t, err.Error(), want)
		var unusable *unusableError
		var input form.Problem
		assert.True(t, errors.As(err, &unusable) || errors.As(err, &input), "%s: it is the input's fault", want)
	}
}

// TestScenariosFromFiles: the schema of a scenario says what a file may hold; a file that
// holds it runs, the same twice, and one that does not is refused by its line.
func TestScenariosFromFiles(t *testing.T) {
	out, err := run("", "schema", "scenario")
	require.NoError(t, err)
	var schema struct {
		Defs map[string]struct {
			Required   []string
			Properties map[string]any
		} `json:"$defs"`
	}
	require.NoError(t, json.Unmarshal([]byte(out), &schema))
	assert.Contains(t, schema.Defs["stand.Scenario"].Required, "goal")
	assert.Contains(t, schema.Defs["stand.Scenario"].Properties, "outside")
	assert.Contains(t, schema.Defs["stand.Slipped"].Properties, "severity")
	dir := t.TempDir()
	write := func(text string) string {
		name := filepath.Join(dir, "s.yaml")
		require.NoError(t, os.WriteFile(name, []byte(text), 0o600))
		return name
	}
	const whole = `id: frost
title: Frost
type: sorrel-100
goal: Start.
difficulty: 3
day: {oatC: -3, dewPointC: -6, qnhHPa: 1020, elevationFt: 400, windKt: 5, engineState: cold, date: "2026-11-27"}
faults: [{fault: lane-a-dead, severity: 1}]
outside: [{what: person, from: 4, for: 9}]
`
	var told [2]string
	for i := range told {
		told[i], err = run("", "stand", "--scenario", write(whole), "--script", "checklist", "--seed", "9")
		require.NoError(t, err)
	}
	assert.Equal(t, told[0], told[1])
	assert.Regexp(t, `"found":\s*\[\s*\{\s*"check":\s*"lanes"`, told[0])
	for want, change := range map[string][2]string{
		"severity":        {"severity: 1", "severity: 4"},
		"outside[0].what": {"person", "bear"},
		"colour":          {"goal:", "colour: red\ngoal:"},
		"type":            {"sorrel-100", "glider"},
		"engineState":     {"engineState: cold", "engineState: asleep"},
	} {
		_, err := run("", "stand", "--scenario", write(strings.Replace(whole, change[0], change[1], 1)), "--script",
			"checklist")
		assert.ErrorContains(t, err, want)
	}
}
