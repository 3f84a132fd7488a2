package bridge_test

import (
	"encoding/json"
	"fmt"
	"os"
	"reflect"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/browser/bridge"
	"jetprimer/catalog"
	"jetprimer/core/form"
	"jetprimer/core/handbook"
	"jetprimer/core/lesson"
	"jetprimer/core/practice"
	"jetprimer/core/quantity"
	"jetprimer/core/stand"
)

// page is a bridge as a page uses it.
type page struct {
	testing.TB
	*bridge.Bridge
	functions map[string]bridge.Function
}

func open(t testing.TB) page {
	p := page{t, &bridge.Bridge{}, map[string]bridge.Function{}}
	for _, f := range bridge.Functions() {
		p.functions[f.Name] = f
	}
	return p
}

// refused is how a function refuses.
type refused struct{ Error, Field, Reason string }

// ask asks a function, and reads its answer into a value; where the value is nil, the
// function must refuse.
func (p page) ask(into any, name string, args ...any) refused {
	p.Helper()
	var given []string
	for _, a := range args {
		text, err := json.Marshal(a)
		require.NoError(p, err)
		given = append(given, string(text))
	}
	var answer struct {
		OK json.RawMessage
		refused
	}
	text := p.Ask(p.functions[name], given)
	require.NoError(p, json.Unmarshal([]byte(text), &answer), text)
	if into == nil {
		require.NotEmpty(p, answer.Error, "%s: %.200s", name, text)
		return answer.refused
	}
	require.Empty(p, answer.Error, name)
	require.NoError(p, json.Unmarshal(answer.OK, into), "%s: %.200s", name, text)
	return refused{}
}

// done is the answer of a function that answers nothing.
var done = new(any)

// TestTheTableIsWhole: each function has a name of its own, a sentence and a name for each
// argument, and a method that answers; where bytes are answered it is said what they hold.
func TestTheTableIsWhole(t *testing.T) {
	names := map[string]bool{}
	for _, f := range bridge.Functions() {
		assert.Regexp(t, regexp.MustCompile(`^[a-z][A-Za-z]*$`), f.Name)
		assert.False(t, names[f.Name], "%s is there twice", f.Name)
		names[f.Name] = true
		assert.Regexp(t, regexp.MustCompile(`^[A-Z].*\.$`), f.Doc, f.Name)
		call := reflect.TypeOf(f.Call)
		require.Equal(t, call.NumIn()-1, len(strings.Fields(f.Args)), "%s: names of its arguments", f.Name)
		require.Contains(t, []int{1, 2}, call.NumOut(), f.Name)
		if call.NumOut() == 2 {
			assert.Equal(t, reflect.TypeFor[error](), call.Out(1), f.Name)
		}
		left := false
		for _, a := range f.Takes() {
			assert.True(t, a.Optional || !left, "%s: %s comes after one that may be left out", f.Name, a.Name)
			left = a.Optional
		}
		if gives := f.Gives(); gives != nil {
			assert.NotEqual(t, reflect.TypeFor[bridge.Raw](), gives, "%s answers bytes of no type", f.Name)
		}
	}
}

// TestNothingIsAnsweredBeforeItIsOpened: what is about a lesson or a practice is refused
// before there is one, and so is another number of arguments and what is not JSON.
func TestNothingIsAnsweredBeforeItIsOpened(t *testing.T) {
	p := open(t)
	for name, f := range p.functions {
		args := make([]string, len(f.Takes()))
		switch name {
		case "add", "touch", "panel", "timer", "seen", "fixes", "phases", "strip", "at", "shown":
			assert.Contains(t, p.Ask(f, args), "no lesson is open", name)
		case "standDo", "standLook", "standFeed", "standStep", "standBack", "standNext", "standPanel", "standRead",
			"standDecide", "standRun":
			assert.Contains(t, p.Ask(f, args), "no stand has been begun", name)
		}
		assert.Contains(t, p.Ask(f, append(args, "1")),
			fmt.Sprintf("takes %d arguments, not %d", len(args), len(args)+1))
	}
	assert.Contains(t, p.Ask(p.functions["say"], []string{"{"}), "error")
	assert.NotEmpty(t, p.ask(nil, "units", quantity.Units{Temperature: "K"}).Error)
}

// TestALessonIsWorkedThroughTheBridge: a lesson opened from its events goes on with events of
// this device: each in its place, at its time, with an id of its own, in the reader's units.
func TestALessonIsWorkedThroughTheBridge(t *testing.T) {
	p := open(t)
	c, err := catalog.Shipped()
	require.NoError(t, err)
	alder, _ := c.Type("alder-110")
	list, _ := c.ListFor("alder-110")
	data, err := os.ReadFile("../testdata/lesson.jsonl")
	require.NoError(t, err)
	var first lesson.Event
	require.NoError(t, json.Unmarshal(data[:strings.IndexByte(string(data), '\n')], &first))

	var shown bridge.LessonShown
	p.ask(&shown, "open", lesson.Book{Type: alder, List: list}, []lesson.Event{first}, "tablet")
	assert.NotEmpty(t, shown.Rows)
	assert.NotEmpty(t, shown.Brief)
	item := shown.Rows[0].Item
	p.ask(&shown, "touch", lesson.Mark{Name: "done", Item: item}, -40.0, "2026-11-24T09:00:00Z")
	require.Len(t, shown.Events, 2, "the mark, and the item after it is open")
	assert.Equal(t, int64(0), shown.Events[0].AtMs, "a clock that was put back counts from the opening")
	assert.Less(t, shown.Events[0].ID, shown.Events[1].ID, "ids in the order of the events")
	p.ask(&shown, "touch", lesson.Mark{Name: "left-out", Item: item}, 1499.6, "2026-11-24T09:00:02Z")
	assert.Equal(t, int64(1500), shown.Events[0].AtMs)
	assert.Equal(t, first.Seq+3, shown.Events[0].Seq)
	var then bridge.Moment
	p.ask(&then, "at", 700.0)
	assert.Equal(t, "done", then.State.Items[0].Mark)
	assert.NotEmpty(t, then.Seen)
	p.ask(nil, "touch", lesson.Mark{Name: "done", Item: "no-such-item"}, 2000, "")
	p.ask(nil, "shown", "no-such-reading")

	var panel lesson.Panel
	p.ask(done, "units", quantity.Units{Temperature: "°F"})
	p.ask(&panel, "panel", "suction", nil)
	assert.NotEmpty(t, panel.Boxes)
	var said string
	p.ask(&said, "say", "It is 20 °C.")
	assert.Equal(t, "It is 68 °F.", said)
}

// TestATypeIsDescribedThroughTheBridge: a number that cannot be used is refused by its field,
// and each check that can be judged comes with a reading to drag.
func TestATypeIsDescribedThroughTheBridge(t *testing.T) {
	p := open(t)
	c, err := catalog.Shipped()
	require.NoError(t, err)
	alder, _ := c.Type("alder-110")
	var sheet bridge.Described
	p.ask(&sheet, "sheet", alder, nil)
	for _, part := range sheet.Parts {
		_, has := sheet.Examples[part.Check]
		assert.Equal(t, part.Judged, has, part.Check)
	}
	assert.NotEmpty(t, p.ask(nil, "number", alder, handbook.Edit{Path: "no.such"}).Error)
	var problems []form.Problem
	list, _ := c.ListFor("alder-110")
	list.Title = ""
	p.ask(&problems, "problems", bridge.Document{Surroundings: c.Surroundings(alder, c.Packs), List: &list})
	require.NotEmpty(t, problems)
	assert.Equal(t, "$.title", problems[0].Field)
}

// TestGaugesInViewStayInView: two gauges at most are in view, the third sends away the one
// that has been there longest, and what was in view then is in view after going back.
func TestGaugesInViewStayInView(t *testing.T) {
	p := open(t)
	c, err := catalog.Shipped()
	require.NoError(t, err)
	course, _ := c.Course("alder-110")
	var begun bridge.StandBegun
	p.ask(&begun, "standBegin", course, practice.Run{
		Scenario: course.Scenarios[0], Seed: 5, Mode: practice.Alone, Student: "student", Began: "2026-11-27T09:00:00Z",
		List: course.List.ID, ListVersion: course.List.Version, Deeds: []practice.Deed{},
	})
	var seen practice.Seen
	looks := func(gauge int) []int {
		p.ask(done, "standLook", gauge)
		p.ask(&seen, "standStep", stand.TicksASecond)
		return seen.InView
	}
	assert.Equal(t, []int{0}, looks(0))
	assert.Equal(t, []int{0, 2}, looks(2))
	assert.Equal(t, []int{2, 1}, looks(1))
	assert.Equal(t, []int{1}, looks(2))
	p.ask(nil, "standLook", 99)
	p.ask(&seen, "standBack", 2.5)
	assert.Equal(t, []int{2, 1}, seen.InView)
}
