package server_test

import (
	"context"
	"encoding/json"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/lesson"
	"jetprimer/core/practice"
	"jetprimer/core/stand"
	"jetprimer/demo"
	"jetprimer/server/practices"
	"jetprimer/store"
)

// TestScenariosOfTheSchool: whoever teaches writes them, from a file or on the page; every
// mistake is named; students meet them on the stand beside those that ship, and take them
// as a file that reads back the same.
func TestScenariosOfTheSchool(t *testing.T) {
	url := start(t)
	student, instructor := as(t, url, demo.Moreau), as(t, url, demo.Okonjo)
	one := stand.Scenario{
		ID: "frost", Title: "Frost on Friday", Type: "alder-110", Goal: "Start.", Difficulty: 3, Day: stand.StandardDay,
		Faults: []stand.Slipped{{Fault: "left-plug-dead", Severity: 1, Engine: 1}},
	}
	save := func(c *client, id string, s stand.Scenario) (int, string) {
		return c.call("PUT", "/api/v1/scenarios/"+id, body(t, s))
	}
	status, _ := save(student, "frost", one)
	assert.Equal(t, 403, status)
	for want, change := range map[string]func(s *stand.Scenario){
		"is not the one that it is saved under": func(s *stand.Scenario) { s.ID = "thaw" },
		"type":                                  func(s *stand.Scenario) { s.Type = "glider" },
		"difficulty":                            func(s *stand.Scenario) { s.Difficulty = 9 },
		"day.dewPointC":                         func(s *stand.Scenario) { s.Day.DewPointC = 40 },
		"faults[0].fault": func(s *stand.Scenario) {
			s.Faults = []stand.Slipped{{Fault: "bad-luck"}}
		},
		"title and goal may not hold control": func(s *stand.Scenario) { s.Goal = "Start.\x00" },
		"day.date":                            func(s *stand.Scenario) { s.Day.Date = "9999-12-31" },
		"outside[0].what": func(s *stand.Scenario) {
			s.Outside = []stand.Passer{{What: "bear", For: 3}}
		},
	} {
		wrong := one
		change(&wrong)
		status, said := save(instructor, "frost", wrong)
		assert.Equal(t, 422, status, want)
		assert.Contains(t, said, want)
	}
	ships := one
	ships.ID = "first-start"
	status, said := save(instructor, "first-start", ships)
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "that ships")
	status, said = save(instructor, "frost", one)
	require.Equal(t, 204, status, said)
	met := got[practice.Course](t, student, "GET", "/api/v1/stands/alder-110", "").Scenarios
	assert.Equal(t, one, met[0])
	assert.Greater(t, len(met), 5)
	assert.NotContains(t, body(t, got[practice.Course](t, student, "GET", "/api/v1/stands/willow-t5", "").Scenarios),
		"frost")

	_, file := student.call("GET", "/api/v1/scenarios/frost", "")
	assert.Contains(t, file, "title: Frost on Friday")
	read := got[practices.ScenarioRead](t, instructor, "POST", "/api/v1/scenarios", file)
	assert.Empty(t, read.Problems)
	assert.Equal(t, &one, read.Scenario)
	_, shipped := student.call("GET", "/api/v1/scenarios/first-start", "")
	assert.Contains(t, shipped, "alder-110")
	for text, want := range map[string]string{
		strings.Replace(file, "severity: 1", "severity: 7", 1): "severity",
		"colour: red\n" + file:                                 "colour",
		"[[[[":                                                 "scenario",
		strings.Repeat("- ", 9):                                "scenario",
		strings.Replace(file, "oatC: 15", "oatC: .nan", 1):     "holds what is no number: .nan",
		strings.Replace(file, "oatC: 15", "oatC: -.inf", 1):    "holds what is no number: -.inf",
		strings.Replace(file, "title: Frost on Friday", `title: "Frost\0"`,
			1): "holds the character NUL",
		strings.Replace(file, "difficulty: 3", "difficulty: 3\ndifficulty: 4", 1):                      "difficulty",
		`{"id":"frost","ID":"thaw","title":"t","type":"alder-110","goal":"g","difficulty":3,"day":{}}`: "ID stands there twice",
		`{"id":"frost","Title":"t","type":"alder-110","goal":"g","difficulty":3,"day":{}}`:             "Title must be written title",
	} {
		read := got[practices.ScenarioRead](t, instructor, "POST", "/api/v1/scenarios", text)
		require.NotEmpty(t, read.Problems, text)
		assert.Contains(t, strings.Join(read.Problems, "\n"), want)
	}
	status, _ = instructor.call("POST", "/api/v1/scenarios", strings.Repeat("#", 100<<10))
	assert.Equal(t, 413, status)
	status, _ = student.call("DELETE", "/api/v1/scenarios/frost", "")
	assert.Equal(t, 403, status)
	for _, want := range []int{204, 404} {
		status, _ = instructor.call("DELETE", "/api/v1/scenarios/frost", "")
		assert.Equal(t, want, status)
	}
	status, _ = student.call("GET", "/api/v1/scenarios/frost", "")
	assert.Equal(t, 404, status)
}

// TestRunsThatGoOnAreBounded: how much is told at once, how many go on, how many wishes
// there are; a run that is not heard of is forgotten, and one that went back is told anew.
func TestRunsThatGoOnAreBounded(t *testing.T) {
	url, d, clock := startAt(t, nil)
	student, instructor := as(t, url, demo.Moreau), as(t, url, demo.Okonjo)
	p := practises(t, student, demo.Moreau, "alder-110", "first-start", 3000)
	head := p.run
	head.Deeds, head.Decision = []practice.Deed{}, ""
	step := func(id string, from int, deeds []practice.Deed, tick int) (int, practices.LiveAnswer, string) {
		status, said := student.call("POST", "/api/v1/practice-live/"+id,
			body(t, practices.LiveStep{Run: head, From: from, Deeds: deeds, Tick: tick}))
		var answer practices.LiveAnswer
		if status == 200 {
			require.NoError(t, json.Unmarshal([]byte(said), &answer))
		}
		return status, answer, said
	}
	id := uuid.NewString()
	one := p.run.Deeds[:1]
	for want, in := range map[string]struct {
		deeds []practice.Deed
		tick  int
	}{
		"deeds[0].tick":      {[]practice.Deed{{Tick: 9, Move: one[0].Move}}, 3},
		"deeds[0] must be":   {[]practice.Deed{{Tick: 1}}, 3},
		"deeds[0].call.name": {[]practice.Deed{{Tick: 1, Call: &practice.Call{Instructor: true}}}, 3},
		"at once":            {one, 1 << 30},
		"5000":               {slices.Repeat(one, 5001), 400_000},
	} {
		status, _, said := step(id, 0, in.deeds, in.tick)
		assert.Equal(t, 422, status, want)
		assert.Contains(t, said, want)
	}
	assert.Empty(t, got[[]practices.LiveRun](t, instructor, "GET", "/api/v1/practice-live", ""),
		"what was refused goes on nowhere")
	_, answer, _ := step(id, 0, p.run.Deeds[:4], 500)
	assert.Equal(t, 4, answer.At)
	_, answer, _ = step(id, 9, []practice.Deed{}, 600)
	assert.Equal(t, 4, answer.At, "with a gap it is asked for from where it ends")
	_, answer, _ = step(id, 2, p.run.Deeds[2:3], 400)
	assert.Equal(t, 3, answer.At, "who went back goes on from there")
	require.NoError(t, d.Store.In(context.Background(), demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
		for range 499 {
			if err := tx.Wish(id, practice.Wish{
				Call: &practice.Call{Mark: lesson.Mark{Name: "note", Words: "w"}, Instructor: true},
			}, demo.Okonjo.ID, clock.time()); err != nil {
				return err
			}
		}
		return nil
	}))
	for _, want := range []int{204, 422} {
		status, said := instructor.call("POST", "/api/v1/practice-live/"+id+"/wishes",
			`{"call":{"name":"note","words":"w"}}`)
		assert.Equal(t, want, status, said)
	}
	others := []string{}
	for range 5 {
		clock.pass(time.Second)
		others = append(others, uuid.NewString())
		status, _, said := step(others[len(others)-1], 0, one, 100)
		require.Equal(t, 200, status, said)
	}
	assert.Len(t, got[[]practices.LiveRun](t, instructor, "GET", "/api/v1/practice-live", ""), 3,
		"who begins another has left the ones before")
	status, _, _ := step(id, 3, one, 600)
	assert.Equal(t, 404, status, "and they are shown no more")
	id = others[4]
	loud := []practice.Deed{
		{Tick: 1, Call: &practice.Call{Mark: lesson.Mark{Name: "note", Words: strings.Repeat("w", 2<<20)}}},
	}
	status, _, _ = step(id, 1, loud, 600)
	assert.Equal(t, 413, status, "two megabytes of words")
	loud[0].Call.Words = strings.Repeat("w", 9000)
	status, _, said := step(id, 1, loud, 600)
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "deeds[0].call holds more than")
	head.Scenario.Goal = strings.Repeat("w", 100<<10)
	status, _, said = step(uuid.NewString(), 0, one, 100)
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "run says more than")
	clock.pass(21 * time.Minute)
	assert.Empty(t, got[[]practices.LiveRun](t, instructor, "GET", "/api/v1/practice-live", ""))
}
