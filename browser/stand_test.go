//go:build !js

package main_test

import (
	"encoding/json"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/practice"
	"jetprimer/core/stand"
)

// TestBrowserRunsTheSameEngines: what a good student does in every other scenario shows the
// same in a browser as on the server, digit for digit, and comes to the same score: a run
// that is sent is accepted by what the server gets itself.
func TestBrowserRunsTheSameEngines(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	var asked calls
	for n, s := range c.Scenarios {
		if n%2 == 1 {
			continue // every other one, and all of them natively
		}
		course, _ := c.Course(s.Type)
		run, err := course.Show(s, 11, "student", "2026-11-27T09:00:00Z", "")
		require.NoError(t, err)
		run = run.Until(8_000)
		run.Mode = practice.Alone
		for _, d := range run.Deeds {
			if d.Call != nil && d.Call.Name == "shown" {
				d.Call.Name = "done"
			}
		}
		asked.ask(t, "standTrace", course, run)
		asked.ask(t, "standWatch", course, run, 100_000)
		asked.ask(t, "standDecide", "grounded", "")
	}
	// And hands that know nothing: whatever is moved, whenever.
	chance := rand.New(rand.NewPCG(3, 5))
	for _, rig := range c.Rigs {
		course, _ := c.Course(rig.Type)
		panel := stand.New(course.Rig, course.Type, stand.StandardDay, 1).Panel()
		run := practice.Run{Scenario: course.Scenarios[len(course.Scenarios)-1], Seed: chance.Uint64() >> 12,
			Mode: practice.Alone, Student: "student", Began: "2026-11-27T09:00:00Z",
			List: course.List.ID, ListVersion: course.List.Version, Ticks: 9000, Deeds: []practice.Deed{}}
		for tick := 0; tick < run.Ticks; tick += 1 + chance.IntN(300) {
			p := panel.Controls[chance.IntN(len(panel.Controls))]
			run.Deeds = append(run.Deeds, practice.Deed{
				Tick: tick,
				Move: &practice.Move{Control: p.Control, Engine: p.Engine, Value: float64(chance.IntN(5)) / 4},
			})
		}
		asked.ask(t, "standTrace", course, run)
	}
	for i, answer := range asked.alike(t) {
		assert.Contains(t, answer[:6], `{"ok"`, asked[i][0])
	}
}

// TestBrowserWorksAPractice: what a page asks of a stand while it is worked, a call after
// the other, is answered as the rules answer it here: begun with the way there shown, moved,
// asked, read, gone back, refused, decided; nothing is answered before a stand is begun.
func TestBrowserWorksAPractice(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	course, _ := c.Course("alder-110")
	run := practice.Run{
		Scenario: course.Scenarios[0], Seed: 5, Mode: practice.Guided, Student: "student",
		Began: "2026-11-27T09:00:00Z", From: "crank", List: course.List.ID, ListVersion: course.List.Version,
		Deeds: []practice.Deed{},
	}
	var asked calls
	do := func(d practice.Deed) { asked.ask(t, "standDo", d) }
	asked.ask(t, "standStep", 1)
	asked.ask(t, "standBegin", course, run)
	asked.ask(t, "standNext")
	do(practice.Deed{Move: &practice.Move{Control: "starter", Engine: 1, Value: 1}})
	asked.ask(t, "standStep", 120)
	do(practice.Deed{Move: &practice.Move{Control: "starter", Engine: 1}})
	asked.ask(t, "standStep", 400)
	do(practice.Deed{Move: &practice.Move{Control: "parachute"}})
	do(practice.Deed{Move: &practice.Move{Control: "heat", Engine: 1, Value: 1}})
	asked.ask(t, "standNext")
	asked.ask(t, "standPanel", "crank", form.Draft{})
	asked.ask(t, "standRead", "crank", "rpmPeak", "rpm")
	do(practice.Deed{Call: &practice.Call{Mark: lesson.Mark{Name: "reading", Item: "crank",
		Draft: form.Draft{"rpmPeak": "1200"}}}})
	do(practice.Deed{Call: &practice.Call{Mark: lesson.Mark{Name: "ask"}}})
	for _, gauge := range []int{2, 3, 4, 3, 100} {
		asked.ask(t, "standLook", gauge)
	}
	asked.ask(t, "standStep", 75)
	asked.ask(t, "standNext")
	asked.ask(t, "standBack", 8.5)
	asked.ask(t, "standRun", 0)
	asked.ask(t, "standDecide", "hope", "")
	asked.ask(t, "standDecide", "grounded", "enough")
	do(practice.Deed{Call: &practice.Call{Mark: lesson.Mark{Name: "ask"}}})
	asked.ask(t, "standMake", course, 4, 77)
	asked.alike(t)
}

// BenchmarkStandInTheBrowser reports how many seconds of each type's engines go by in one
// in WebAssembly: ten minutes from the start on, step by step as a page asks for them.
func BenchmarkStandInTheBrowser(b *testing.B) {
	ask := build(b)
	c, err := catalog.Shipped()
	require.NoError(b, err)
	for _, rig := range c.Rigs {
		b.Run(rig.Type, func(b *testing.B) {
			course, _ := c.Course(rig.Type)
			run, err := course.Show(course.Scenarios[0], 1, "student", "2026-11-27T09:00:00Z", "")
			require.NoError(b, err)
			kit, err := json.Marshal(course)
			require.NoError(b, err)
			text, err := json.Marshal(run)
			require.NoError(b, err)
			watch := []string{"standWatch", string(kit), string(text), "0"}
			const minutes = 10
			for b.Loop() {
				begun := time.Now()
				ask([][]string{watch})
				empty := time.Since(begun)
				begun = time.Now()
				ask([][]string{watch, {"standStep", "30000"}})
				b.ReportMetric(minutes*60/max(time.Since(begun)-empty, time.Millisecond).Seconds(), "s/s")
			}
			b.ReportMetric(0, "ns/op")
		})
	}
}
