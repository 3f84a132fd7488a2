//go:build js && wasm

// Package main is core for the browser: compiled to WebAssembly it gives a
// tablet without signal the very verdicts that the school's record will hold.
// It sets one global, jetprimerRules, whose functions take and return JSON
// text; an answer is {"ok": …} or {"error": "…", "field": "…"}. The page runs
// it synchronously; a worker runs another for long work.
package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"runtime/debug"
	"syscall/js"

	"jetprimer/core/aircraft"
	"jetprimer/core/calc"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/quantity"
	"jetprimer/core/weather"
)

// open is the lesson being worked on, with the state that is shown of it.
var open struct {
	session *lesson.Session
	state   lesson.State
	device  string
	seq     int64
}

// units are those that the person reads: numbers are typed and shown in them.
var units quantity.Units

// functions are those of the module, by name: what a lesson takes, and in the module with
// everything what rules.go adds.
var functions = map[string]any{
	"units":  function(setUnits),
	"say":    function(convert),
	"fresh":  function(fresh),
	"book":   function(book),
	"open":   function(openLesson),
	"add":    function(add),
	"touch":  function(touch),
	"panel":  function(panel),
	"timer":  function(timer),
	"fixes":  function(fixes),
	"seen":   function(seen),
	"strip":  function(strip),
	"phases": function(phases),
	"at":     function(at),
	"shown":  function(instrument),
	"limits": function(limits),
	"check":  function(judge),
	"calc":   function(compute),
	"show":   function(show),
	"day":    function(day),
	"report": function(reported),
	"choose": function(choose),
	"opened": function(opened),
}

func main() {
	debug.SetGCPercent(400) // a touch should not wait for the collector; what is live is a few megabytes
	js.Global().Set("jetprimerRules", js.ValueOf(functions))
	select {}
}

// fresh answers what the day's sheet begins with.
func fresh([]string) (any, error) { return calc.FreshDay(units), nil }

// function wraps fn, whose arguments and answer are JSON text.
func function(fn func(args []string) (any, error)) js.Func {
	return js.FuncOf(func(_ js.Value, values []js.Value) any {
		args := make([]string, len(values))
		for i, v := range values {
			args[i] = v.String()
		}
		answer, err := fn(args)
		if err == nil {
			var out []byte
			if out, err = json.Marshal(map[string]any{"ok": answer}); err == nil {
				return string(out)
			}
		}
		said := map[string]string{"error": err.Error()}
		var bad form.Problem
		if errors.As(err, &bad) {
			said["field"], said["reason"] = bad.Field, bad.Reason
		}
		out, _ := json.Marshal(said)
		return string(out)
	})
}

// read decodes as many arguments as there are places for them.
func read(args []string, into ...any) error {
	if len(args) != len(into) {
		return fmt.Errorf("takes %d arguments, not %d", len(into), len(args))
	}
	for i, at := range into {
		if args[i] == "" {
			continue
		}
		if err := json.Unmarshal([]byte(args[i]), at); err != nil {
			return err
		}
	}
	return nil
}

// shown is what a screen draws the lesson from.
type shown struct {
	Answers []lesson.Taken `json:"answers,omitempty"`
	Events  []lesson.Event `json:"events,omitempty"`
	State   lesson.State   `json:"state"`
	Live    int            `json:"live"`
	Counter int64          `json:"counter"`
	// Rows, Brief and the list in its reader's units come when a lesson is opened.
	Rows  []lesson.Row     `json:"rows,omitempty"`
	Brief []lesson.Element `json:"brief,omitempty"`
	List  *checklist.List  `json:"list,omitempty"`
}

// setUnits takes the units that the person reads from now on.
func setUnits(args []string) (any, error) {
	var now quantity.Units
	if err := read(args, &now); err != nil {
		return nil, err
	}
	if err := now.Check(); err != nil {
		return nil, err
	}
	units = now
	if open.session != nil {
		open.session.Units = now
	}
	return nil, nil
}

// convert takes a sentence and answers it in the units that the person reads.
func convert(args []string) (any, error) {
	var sentence string
	if err := read(args, &sentence); err != nil {
		return nil, err
	}
	return units.Say(sentence), nil
}

func now() shown {
	return shown{State: open.state.In(units), Live: open.session.Live(open.state), Counter: open.session.LastCounter()}
}

// desk is what serves one aircraft type: a shelf for the lessons on it.
type desk struct {
	Type   aircraft.Type    `json:"type"`
	Lists  []checklist.List `json:"lists"`
	Scales []lesson.Scale   `json:"scales"`
}

func (d desk) TypeVersion(id string, version int) (aircraft.Type, bool) {
	return d.Type, d.Type.ID == id && d.Type.Version == version
}

func (d desk) ListVersion(id string, version int) (checklist.List, bool) {
	for _, l := range d.Lists {
		if l.ID == id && l.Version == version {
			return l, true
		}
	}
	return checklist.List{}, false
}

func (d desk) Scale(id string) (lesson.Scale, bool) {
	for _, s := range d.Scales {
		if s.ID == id {
			return s, true
		}
	}
	return lesson.Scale{}, false
}

// book takes what serves an aircraft type and an opening event, and answers
// what the lesson is folded against.
func book(args []string) (any, error) {
	var from desk
	var e lesson.Event
	if err := read(args, &from, &e); err != nil {
		return nil, err
	}
	e, opened, err := lesson.OpeningOf([]lesson.Event{e}, "")
	if err != nil {
		return nil, err
	}
	return lesson.BookFrom(from, e.ID, opened)
}

// openLesson takes a book, events and the device's name; of the device's own
// events the last sequence is found.
func openLesson(args []string) (any, error) {
	var book lesson.Book
	var events []lesson.Event
	var device string
	if err := read(args, &book, &events, &device); err != nil {
		return nil, err
	}
	l := lesson.New(book)
	answers := l.Add(events...)
	open.session, open.device, open.seq = lesson.NewSession(l), device, 0
	open.session.Units, open.session.Device = units, device
	for _, e := range events {
		if e.Device == device {
			open.seq = max(open.seq, e.Seq)
		}
	}
	open.state = open.session.State()
	out := now()
	list := book.List.In(units)
	out.Answers, out.Rows, out.Brief, out.List = answers, open.session.Rows(), lesson.BriefElements(book.Type), &list
	return out, nil
}

var errNoLesson = errors.New("no lesson is open")

// add takes in events that came from elsewhere.
func add(args []string) (any, error) {
	var events []lesson.Event
	if err := read(args, &events); err != nil {
		return nil, err
	}
	if open.session == nil {
		return nil, errNoLesson
	}
	answers := open.session.Add(events...)
	open.state = open.session.State()
	out := now()
	out.Answers = answers
	return out, nil
}

// touch takes a mark, the milliseconds since the lesson opened and the wall
// time, and answers the events that it became and the state with them.
func touch(args []string) (any, error) {
	var mark lesson.Mark
	var atMs int64
	var wall string
	if err := read(args, &mark, &atMs, &wall); err != nil {
		return nil, err
	}
	if open.session == nil {
		return nil, errNoLesson
	}
	if mark.Day != nil {
		mark.Day.Units = units
	}
	events, err := open.session.Touch(open.state, mark, lesson.Stamp{
		Device: open.device, Seq: open.seq, AtMs: atMs, Wall: wall, ID: newID,
	})
	if err != nil {
		return nil, err
	}
	if len(events) > 0 {
		open.session.Add(events...)
		open.seq = events[len(events)-1].Seq
		open.state = open.session.State()
	}
	out := now()
	out.Events = events
	return out, nil
}

// newID is a UUID of version 7, of the browser's clock and randomness.
func newID() string {
	ms := uint64(js.Global().Get("Date").Call("now").Float())
	random := js.Global().Get("Uint8Array").New(10)
	js.Global().Get("crypto").Call("getRandomValues", random)
	b := make([]byte, 10)
	js.CopyBytesToGo(b, random)
	return fmt.Sprintf("%08x-%04x-7%03x-%04x-%x", ms>>16, ms&0xffff, (uint16(b[0])<<8|uint16(b[1]))&0xfff,
		(uint16(b[2])<<8|uint16(b[3]))&0x3fff|0x8000, b[4:])
}

// panel shows a measured item; a draft is what has been typed into it.
func panel(args []string) (any, error) {
	var item string
	var draft form.Draft
	if err := read(args, &item, &draft); err != nil {
		return nil, err
	}
	if open.session == nil {
		return nil, errNoLesson
	}
	return open.session.Panel(open.state, item, draft)
}

// fixes takes how items went in the lessons before and answers the things to
// fix next time.
func fixes(args []string) (any, error) {
	var before map[string]lesson.Tally
	if err := read(args, &before); err != nil {
		return nil, err
	}
	if open.session == nil {
		return nil, errNoLesson
	}
	return open.session.ToFix(open.state, before), nil
}

// seen is how much of the list was observed, and how.
func seen([]string) (any, error) {
	if open.session == nil {
		return nil, errNoLesson
	}
	return open.state.Seen(), nil
}

// phases are the levels that each phase shows.
func phases([]string) (any, error) {
	if open.session == nil {
		return nil, errNoLesson
	}
	return lesson.PhaseLevels(open.state), nil
}

// strip is the lesson laid out in time.
func strip([]string) (any, error) {
	if open.session == nil {
		return nil, errNoLesson
	}
	return open.session.Strip(open.state), nil
}

// at takes milliseconds since the opening and answers the lesson as it stood.
func at(args []string) (any, error) {
	var ms int64
	if err := read(args, &ms); err != nil {
		return nil, err
	}
	if open.session == nil {
		return nil, errNoLesson
	}
	then := open.session.At(ms)
	return struct {
		State lesson.State `json:"state"`
		Day   string       `json:"day"`
		Seen  string       `json:"seen"`
	}{then.In(units), open.session.DayWords(then), then.Seen().Words}, nil
}

// instrument takes a reading's event and answers it on its scales.
func instrument(args []string) (any, error) {
	var event string
	if err := read(args, &event); err != nil {
		return nil, err
	}
	if open.session == nil {
		return nil, errNoLesson
	}
	return open.session.Instrument(open.state, event)
}

// timer says how so many seconds of a timer at an item stand.
func timer(args []string) (any, error) {
	var id, item string
	var seconds float64
	if err := read(args, &id, &item, &seconds); err != nil {
		return nil, err
	}
	if open.session == nil {
		return nil, errNoLesson
	}
	return open.session.Timed(id, item, seconds), nil
}

func finder(t aircraft.Type) aircraft.Finder {
	return func(id string) (aircraft.Type, bool) { return t, id == t.ID && id != "" }
}

// limits takes a type and answers the limits of each of its checks, as a person
// reads them.
func limits(args []string) (any, error) {
	var t aircraft.Type
	if err := read(args, &t); err != nil {
		return nil, err
	}
	return check.LimitSheet(t, units), nil
}

// judge takes a check's name, a request and the aircraft type it may name, and
// answers the verdict's own bytes.
func judge(args []string) (any, error) {
	if len(args) != 3 {
		return nil, errors.New("check takes a name, a request and an aircraft type")
	}
	var t aircraft.Type
	if err := read(args[2:], &t); err != nil {
		return nil, err
	}
	verdict, err := check.Run(args[0], []byte(args[1]), finder(t))
	return json.RawMessage(verdict), err
}

// compute takes a calculator's name, a request, the aircraft type it may name
// and the bands of the icing chart, and answers the answer's own bytes.
func compute(args []string) (any, error) {
	if len(args) != 4 {
		return nil, errors.New("calc takes a name, a request, an aircraft type and icing bands")
	}
	var t aircraft.Type
	var tables calc.Tables
	if err := read(args[2:], &t, &tables.Icing); err != nil {
		return nil, err
	}
	tables.Type = finder(t)
	answer, err := calc.Run(args[0], []byte(args[1]), tables)
	return json.RawMessage(answer), err
}

// show takes a check's name, an aircraft type, a reading, its conditions and
// the attempt, and answers the instrument with the ranges to drag through.
func show(args []string) (any, error) {
	var name string
	var at check.Station
	var objects [3]json.RawMessage
	if err := read(args, &name, &at.Type, &objects[0], &objects[1], &objects[2], &at.Attempt); err != nil {
		return nil, err
	}
	var reading, sound map[string]any
	for i, into := range []*map[string]any{&reading, &sound, &at.Conditions} {
		var err error
		if *into, err = form.ParseObject(objects[i]); err != nil {
			return nil, err
		}
	}
	def, known := check.Find(name)
	if !known {
		return nil, fmt.Errorf("%q is no check", name)
	}
	at.Units = units
	return def.Reference(at, reading, sound), nil
}

// day takes what was typed for the day, the aircraft type, the aircraft's
// equipment, its base and the icing bands, and answers the sheet.
func day(args []string) (any, error) {
	typed := calc.FreshDay(units)
	var t aircraft.Type
	var equipment []string
	var field weather.Aerodrome
	var icing []calc.IcingBand
	if err := read(args, &typed, &t, &equipment, &field, &icing); err != nil {
		return nil, err
	}
	typed.Units = units
	return calc.PlanDay(typed, t, equipment, field, icing), nil
}

// reported takes a report and the place it is of, and answers what it says as
// the boxes of a day take it.
func reported(args []string) (any, error) {
	var text string
	var place weather.Aerodrome
	if err := read(args, &text, &place); err != nil {
		return nil, err
	}
	return checklist.FromReport(text, place, units)
}

// choose takes what a lesson is to be opened with, and answers the list as
// flown; opened answers what the opening event carries.
func choose(args []string) (any, error) {
	var c lesson.Choice
	if err := read(args, &c); err != nil {
		return nil, err
	}
	c.Day.Units = units
	flown, _, err := c.Tailored()
	return flown.In(units), err
}

func opened(args []string) (any, error) {
	var c lesson.Choice
	if err := read(args, &c); err != nil {
		return nil, err
	}
	c.Day.Units = units
	return c.Opened()
}
