package main

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
)

// run calls the program with arguments and standard input.
func run(stdin string, args ...string) (string, error) {
	cmd, out := root(), &bytes.Buffer{}
	cmd.SetArgs(args)
	cmd.SetIn(strings.NewReader(stdin))
	cmd.SetOut(out)
	err := cmd.Execute()
	return out.String(), err
}

func TestCheck(t *testing.T) {
	out, err := run(`{"aircraftType":"alder-110","reading":{"inHg":4.2},"conditions":{"rules":"VFR","night":false}}`,
		"check", "suction")
	require.NoError(t, err)
	assert.True(t, strings.HasPrefix(out, `{"check":"suction","outcome":"caution","decision":"continue"`), out)
	assert.Equal(t, 1, strings.Count(out, "\n"))
	_, err = run(`{"reading":{"inHg":4.2}}`, "check", "suction")
	var input form.Problem
	require.ErrorAs(t, err, &input)
	assert.Equal(t, "limits.min is missing: a number in inHg", err.Error())
}

func TestCalc(t *testing.T) {
	out, err := run(`{"elevationFt":412,"qnhHPa":996,"oatC":34}`, "calc", "altitudes")
	require.NoError(t, err)
	assert.True(t,
		strings.HasPrefix(out,
			`{"values":{"pressureAltitudeFt":886,"densityAltitudeFt":3244},"advice":[{"code":"thin-air"`), out)
	_, err = run(`{"elevationFt":412,"oatC":34}`, "calc", "altitudes")
	var input form.Problem
	require.ErrorAs(t, err, &input)
	assert.Equal(t, "qnhHPa", input.Field)
}

func TestFold(t *testing.T) {
	events, err := os.ReadFile("../../browser/testdata/lesson.jsonl")
	require.NoError(t, err)
	out, err := run(string(events), "fold")
	require.NoError(t, err)
	var state lesson.State
	require.NoError(t, json.Unmarshal([]byte(out), &state))
	assert.True(t, state.Ended)
	assert.Equal(t, []string{"abnormal", "normal"},
		[]string{string(state.Readings[0].Verdict.Outcome), string(state.Readings[1].Verdict.Outcome)})
	unsafe := 0
	for _, item := range state.Items {
		if item.Mark == "unsafe" {
			unsafe++
			assert.Equal(t, "crank", item.ID)
		}
	}
	assert.Equal(t, 1, unsafe, "the starter before the brakes")

	lines := strings.Split(strings.TrimSpace(string(events)), "\n")
	backwards := ""
	for _, line := range lines {
		backwards = line + "\n\n" + line + "\n" + backwards
	}
	again, err := run(backwards, "fold")
	require.NoError(t, err)
	assert.Equal(t, out, again, "neither order nor doubles matter")

	for stdin, want := range map[string]string{
		"":               "no event of kind lesson-opened",
		"{}\nnonsense\n": "line 2 is no event",
		strings.Replace(lines[0], `"listVersion": 4`, `"listVersion": 9`, 1): "checklist alder-110-full version 9",
	} {
		_, err := run(stdin, "fold")
		var unusable *unusableError
		require.ErrorAs(t, err, &unusable)
		assert.Contains(t, err.Error(), want)
	}
}

func TestFlagsFromTheEnvironment(t *testing.T) {
	t.Setenv("JETPRIMER_DATABASE", "postgres://nobody@127.0.0.1:1/none?connect_timeout=1")
	_, err := run("", "serve")
	assert.ErrorContains(t, err, "--database and --secret must be given")
	t.Setenv("JETPRIMER_SECRET", "s")
	_, err = run("", "serve", "--tls-cert", "only.pem")
	assert.ErrorContains(t, err, "tls-key")
}

func TestTailorAndConvert(t *testing.T) {
	out, err := run(`{"oatC":-4,"night":true}`, "tailor", "hornbeam-twin", "--start-order", "2,1", "--layer",
		"../../demo/library/supplement-twin.yaml")
	require.NoError(t, err)
	var flown checklist.Flown
	require.NoError(t, json.Unmarshal([]byte(out), &flown))
	assert.Equal(t, []int{2, 1}, flown.StartOrder)
	assert.Equal(t, "tarn-hollow-twin", flown.Layers[0].ID)
	for stdin, args := range map[string][]string{`{"oat":1}`: {"tailor", "hornbeam-twin"}, "{}": {"tailor", "kestrel"},
		" ":  {"tailor", "larch-d2", "--start-order", "1,1"},
		"  ": {"convert", "sorrel-100", "--to", "stone"}, "   ": {"convert", "rules_test.go", "--kind", "song"},
		"    ": {
			"schema", "song",
		}} {
		_, err := run(stdin, args...)
		var unusable *unusableError
		assert.ErrorAs(t, err, &unusable, args)
	}

	table, err := run("", "convert", "sorrel-100", "--to", "csv")
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "sorrel.csv")
	require.NoError(t, os.WriteFile(file, []byte(table), 0o644))
	yaml, err := run("", "convert", file)
	require.NoError(t, err)
	assert.Contains(t, yaml, "challenge: Papers and list")
	pdf, err := run("", "convert", "sorrel-100", "--to", "pdf")
	require.NoError(t, err)
	assert.True(t, strings.HasPrefix(pdf, "%PDF-"))
	layer, err := run("", "convert", "../../demo/library/school-alder.yaml", "--kind", "layer", "--to", "json")
	require.NoError(t, err)
	assert.Contains(t, layer, `"id": "tarn-hollow-alder"`)
}
