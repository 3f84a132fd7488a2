//go:build !js

package main_test

import (
	"context"
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
		trace, err := course.Trace(run)
		require.NoError(t, err)
		whole := run
		whole.Decision = "grounded"
		session, err := course.Replay(context.Background(), whole, nil)
		require.NoError(t, err)
		score, err := session.Score(context.Background())
		require.NoError(t, err)
		calls = append(calls, []string{"standTrace", text(course), text(run)},
			[]string{"standWatch", text(course), text(run), "100000"}, []string{
				"standDecide", text("grounded"), text(""),
			})
		want = append(want, said([]byte(text(trace)), nil), "", score.Digest())
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
		trace, err := course.Trace(run)
		require.NoError(t, err)
		calls, want = append(calls, []string{"standTrace", text(course), text(run)}), append(want,
			said([]byte(text(trace)), nil))
	}
	got := ask(calls)
	require.Len(t, got, len(want))
	for i := range c.Rigs {
		at := len(want) - len(c.Rigs) + i
		assert.True(t, want[at] == got[at], "%s: another trace of a hand that knows nothing", c.Rigs[i].Type)
	}
	for i := 0; i < len(want)-len(c.Rigs); i += 3 {
		id := c.Scenarios[i/3*2].ID
		assert.True(t, want[i] == got[i], "%s: another trace", id)
		assert.Contains(t, got[i+2], want[i+2], id)
	}
}

// TestBrowserWorksAPractice: what a page asks of a stand while it is worked, a call after
// the other, is answered as the rules answer it here: begun with the way there shown, moved,
// asked, read, gone back, refused, decided; nothing is answered before a stand is begun.
func TestBrowserWorksAPractice(t *testing.T) {
	ask := build(t)
	c, err := catalog.Shipped()
	require.NoError(t, err)
	course, _ := c.Course("alder-110")
	text := func(v any) string {
		out, err := json.Marshal(v)
		require.NoError(t, err)
		return string(out)
	}
	var calls [][]string
	var want []string
	say := func(answer any, err error, name string, args ...any) {
		call := []string{name}
		for _, a := range args {
			call = append(call, text(a))
		}
		calls = append(calls, call)
		if err == nil {
			want = append(want, said([]byte(text(answer)), nil))
		} else {
			want = append(want, said(nil, err))
		}
	}
	calls, want = append(calls, []string{"standStep", "1"}), append(want, `{"error":"no stand has been begun"}`)
	run := practice.Run{
		Scenario: course.Scenarios[0], Seed: 5, Mode: practice.Guided, Student: "student",
		Began: "2026-11-27T09:00:00Z", From: "crank", List: course.List.ID, ListVersion: course.List.Version,
		Deeds: []practice.Deed{},
	}
	s, err := course.Begin(run)
	require.NoError(t, err)
	require.NoError(t, s.LeadIn())
	first := struct {
		Panel stand.Panel  `json:"panel"`
		Rows  []lesson.Row `json:"rows"`
		practice.Seen
	}{s.Machine.Panel(), s.Lesson.Rows(), s.Seen()}
	say(first, nil, "standBegin", course, run)
	next := func() {
		say(struct {
			practice.Guide
			State lesson.State `json:"state"`
		}{s.Next(), s.Told()}, nil, "standNext")
	}
	next()
	step := func(ticks int) {
		for range ticks {
			s.Step()
		}
		say(s.Seen(), nil, "standStep", ticks)
	}
	do := func(d practice.Deed) { say(nil, s.Do(d), "standDo", d) }
	do(practice.Deed{Move: &practice.Move{Control: "starter", Engine: 1, Value: 1}})
	step(120)
	do(practice.Deed{Move: &practice.Move{Control: "starter", Engine: 1}})
	step(400)
	do(practice.Deed{Move: &practice.Move{Control: "parachute"}})
	do(practice.Deed{Move: &practice.Move{Control: "heat", Engine: 1, Value: 1}})
	next()
	panel, err := s.Panel("crank", form.Draft{})
	say(panel, err, "standPanel", "crank", form.Draft{})
	say(s.Read("crank", "rpmPeak", "rpm"), nil, "standRead", "crank", "rpmPeak", "rpm")
	call := practice.Call{Mark: lesson.Mark{Name: "reading", Item: "crank", Draft: panel.Draft}}
	do(practice.Deed{Call: &call})
	do(practice.Deed{Call: &practice.Call{Mark: lesson.Mark{Name: "ask"}}})
	do(practice.Deed{Look: &practice.Look{Gauge: 2, Open: true}})
	step(75)
	next()
	back := s.Run().Until(s.Machine.Tick() - 100)
	s, err = course.Replay(context.Background(), back, nil)
	require.NoError(t, err)
	say(s.Seen(), nil, "standBack", float64(s.Machine.Tick())/stand.TicksASecond)
	say(s.Run(), nil, "standRun", 0)
	say(nil, s.Decide("hope", ""), "standDecide", "hope", "")
	require.NoError(t, s.Decide("grounded", "enough"))
	score, err := s.Score(context.Background())
	require.NoError(t, err)
	say(struct {
		Run    practice.Run   `json:"run"`
		Score  practice.Score `json:"score"`
		Digest string         `json:"digest"`
	}{s.Run(), score, score.Digest()}, nil, "standDecide", "grounded", "enough")
	do(practice.Deed{Call: &practice.Call{Mark: lesson.Mark{Name: "ask"}}})
	say(course.Generate(4, 77), nil, "standMake", course, 4, 77)

	got := ask(calls)
	require.Len(t, got, len(want))
	for i := range want {
		if want[i] != got[i] {
			t.Errorf("%s: here %.400s\nin the browser %.400s", calls[i][0], want[i], got[i])
		}
	}
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
