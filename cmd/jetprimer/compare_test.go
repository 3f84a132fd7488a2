package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/compare"
	"jetprimer/core/form"
)

// TestCompare: grades come in by column, with any separator, and what cannot be
// used names its line.
func TestCompare(t *testing.T) {
	table := "item,student,level,instructor\n"
	for _, row := range []string{
		"crank,ana,4,tunde", "crank,ana,3,ilse", "brief,ana,3,tunde", "brief,ana,2,ilse", "crank,bo,2,tunde",
		"crank,bo,1,ilse", "brief,bo,4,tunde", "brief,bo,3,ilse",
	} {
		table += row + "\n"
	}
	out, err := run(table, "compare")
	require.NoError(t, err)
	var m compare.Model
	require.NoError(t, json.Unmarshal([]byte(out), &m))
	assert.Equal(t, 1, m.Groups)
	assert.Greater(t, m.Instructors[0].Severity, m.Instructors[1].Severity, "Ilse graded lower each time")
	again, err := run(strings.ReplaceAll(table, ",", ";"), "compare")
	require.NoError(t, err)
	assert.Equal(t, out, again)

	for table, want := range map[string]string{
		"":                                "line 1 has no row of column names",
		"student,item,level\n":            "line 1 has no column instructor",
		"student,item,instructor,level,x": `line 1 has the column "x"`,
		"student,item,instructor,level\na,b,c,3\na,b,c,\n":               "line 3 level is missing",
		"student,item,instructor,level\na,b,c,5\n":                       `line 2 level is "5"; levels are 0 to 4`,
		"student,item,instructor,level\na,b,c,3.5\n":                     `line 2 level is "3.5"`,
		"student,item,instructor,level\n\na,,c,3\n":                      "line 3 item is missing",
		"student,item,instructor,level\n\"a,b,c,3\n":                     "line 2 ",
		"student,item,instructor,level\na,\"" + strings.Repeat("i", 300): "line 2 ",
	} {
		_, err := run(table, "compare")
		var input form.Problem
		if assert.ErrorAs(t, err, &input, table) {
			assert.Contains(t, err.Error(), want)
			assert.NotContains(t, err.Error(), "\n")
		}
	}
}

func TestTrend(t *testing.T) {
	table := "hours,value,reset\n900,140,\n"
	for i := range 14 {
		table += []string{
			"1000,60,yes", "1004,61,", "1010,63,", "1013,65,", "1019,66,", "1022,70,", "1030,71,", "1034,72,",
			"1040,76,", "1042,77,", "1050,80,", "1056,82,", "1060,85,", "1066,88,",
		}[i] + "\n"
	}
	out, err := run(table, "trend", "--limit", "125", "--above")
	require.NoError(t, err)
	assert.True(t, strings.HasPrefix(out, `{"n":14,"slopePerHour":0.4`), out)
	assert.Contains(t, out, `"finding":{"code":"trend-to-limit"`)
	for _, c := range []struct {
		table string
		args  []string
		want  string
	}{
		{table, []string{"--above"}, "--limit is missing"},
		{table, []string{"--limit", "1"}, "one of --above and --below"},
		{"hours,value\n1,x\n", []string{"--limit", "1", "--below"}, `line 2 value is "x", which is no number`},
		{"hours,value\n-1,2\n", []string{"--limit", "1", "--below"}, "line 2 hours is below 0"},
		{"hours,value\n1,inf\n", []string{"--limit", "1", "--below"}, "line 2 value"},
		{"hours,value,reset\n1,2,maybe\n", []string{"--limit", "1", "--below"}, "line 2 reset"},
	} {
		_, err := run(c.table, append([]string{"trend"}, c.args...)...)
		assert.ErrorContains(t, err, c.want)
	}
}

// TestRunUps: what recording makes up, runups finds and judges; a file that is not
// what its map says names line and column.
func TestRunUps(t *testing.T) {
	dir := t.TempDir()
	plan, file := filepath.Join(dir, "map.yaml"), filepath.Join(dir, "flight.csv")
	for _, typ := range []string{"alder-110", "sorrel-100", "hornbeam-twin", "juniper-h2", "rowan-180i"} {
		text, err := run("", "recording", "--type", typ, "--map", plan, "--runups", "2")
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(file, []byte(text), 0o600))
		out, err := run("", "runups", file, "--map", plan)
		require.NoError(t, err)
		var found struct {
			RunUps []struct {
				Engine           int
				Checks, Verdicts []map[string]any
			}
			Skipped []any
		}
		require.NoError(t, json.Unmarshal([]byte(out), &found))
		assert.Contains(t, []int{2, 4}, len(found.RunUps), typ)
		assert.NotNil(t, found.Skipped)
		for _, r := range found.RunUps {
			require.Len(t, r.Verdicts, len(r.Checks))
			for i, v := range r.Verdicts {
				assert.Equal(t, "normal", v["outcome"], "%s %s: %v", typ, v["check"], r.Checks[i]["reading"])
			}
		}
	}
	require.NoError(t, os.WriteFile(file, []byte("Time,RPM\n1,2\n"), 0o600))
	_, err := run("", "runups", file, "--map", plan)
	var input form.Problem
	require.ErrorAs(t, err, &input)
	_, err = run("", "runups", file)
	assert.ErrorContains(t, err, "--map must be given")
	_, err = run("", "recording", "--type", "willow-t5", "--map", plan)
	assert.ErrorContains(t, err, "no type with an ignition check")
}
