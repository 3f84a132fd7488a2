package practice

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/stand"
)

// noNeedle are checks that a stand has nothing to read for.
var noNeedle = []string{"altimeter", "heading", "database"}

// moves are the controls that a measured check is worked with.
var moves = map[string][]string{
	"battery": {"master"},
	"piston-start": {
		"master", "avionics", "brakes", "starter", "throttle", "mixture", "primer", "pump", "choke", "ignition",
		"propeller", "heat", "cowl-flaps",
	},
	"diesel-start":      {"master", "avionics", "engine-master", "starter", "throttle"},
	"turbine-start":     {"master", "avionics", "starter", "throttle"},
	"charging":          {"avionics"},
	"magneto":           {"ignition", "mixture"},
	"lanes":             {"ignition", "mixture"},
	"dead-cut":          {"ignition"},
	"carb-heat":         {"heat"},
	"mixture-peak":      {"mixture"},
	"idle-mixture":      {"mixture"},
	"static-rpm":        {"mixture"},
	"propeller":         {"propeller"},
	"feather":           {"propeller"},
	"governor-hold":     {"propeller"},
	"engines-differ":    {"propeller", "ignition"},
	"fuel-pressure":     {"pump", "mixture"},
	"control-unit":      {"unit-test"},
	"clutch":            {"clutch"},
	"needle-split":      {"governor"},
	"low-rotor-warning": {"governor", "collective"},
	"hydraulics":        {"hydraulics"},
	"gauges":            {"collective", "governor", "heat"},
}

// Guide is what is to be done next, and why.
type Guide struct {
	Item      string `json:"item"`
	Number    string `json:"number"`
	Challenge string `json:"challenge"`
	Response  string `json:"response"`
	Why       string `json:"why"`
	Look      string `json:"look,omitempty"`
	Caution   string `json:"caution,omitempty"`
	// Controls are those that it is worked with; Measured says that it is read, and Kept
	// that it has been.
	Controls []string `json:"controls"`
	Measured bool     `json:"measured"`
	Kept     bool     `json:"kept"`
	// Call is what the student calls when it is done, and CallWords what stands on it.
	Call      string `json:"call"`
	CallWords string `json:"callWords"`
	// Told is what was not right just now, in words.
	Told string `json:"told,omitempty"`
	// Place counts from 1, of Of.
	Place int `json:"place"`
	Of    int `json:"of"`
	// Asked is the question of a checkride that waits for its answer.
	Asked *Question `json:"asked,omitempty"`
}

// Next is what is to be done now. In a checkride nothing of it is said but its name.
func (s *Session) Next() Guide {
	item, row := s.places[s.Live].Item, s.Lesson.Rows()[s.Live]
	g := Guide{Item: item.ID, Number: row.Number, Challenge: item.Challenge, Response: item.Response,
		Controls: []string{},
		Measured: measured(item.Check), Kept: s.reading(item.ID) != nil, Told: s.Said, Place: s.Live +
			1, Of: len(s.places), Caution: item.Caution, Call: "done", CallWords: "Done"}
	if g.Measured {
		g.Call, g.CallWords = callNormal, "Normal"
	}
	if s.run.Mode == Checkride {
		g.Asked = s.question()
		g.Response, g.Told = "", ""
		return g
	}
	g.Why, g.Look = item.Why, item.Look
	if b := s.bounds[s.Live]; b != nil {
		g.Controls = b.controls()
	}
	for _, c := range moves[item.Check] {
		if !slices.Contains(g.Controls, c) {
			g.Controls = append(g.Controls, c)
		}
	}
	return g
}

// Told is the lesson as the student is told of it: in a checkride only what has been
// called, until it has ended.
func (s *Session) Told() lesson.State {
	state := s.State
	if s.run.Mode != Checkride || state.Ended {
		return state
	}
	state.Items = slices.Clone(state.Items)
	for i := range state.Items {
		one := &state.Items[i]
		called := lesson.ItemState{
			ID: one.ID, Phase: one.Phase, Position: one.Position, Status: one.Status, Broken: []string{},
			Reasons: []lesson.Reason{},
		}
		if one.Status != "" {
			called.Status, called.Mark = "done", "done"
		}
		*one = called
	}
	state.Errors, state.Findings = []lesson.Error{}, []lesson.Finding{}
	state.Readings, state.Problems = []lesson.Reading{}, []lesson.Problem{}
	return state
}

// measured reports whether a check is read on a stand.
func measured(name string) bool { return stand.Works(name) && !slices.Contains(noNeedle, name) }

// questionsAsked is how many questions a checkride has at most.
const questionsAsked = 4

// question is the one that is asked now: at items spread over the list by the seed, when
// the item is done and the question has not been answered.
func (s *Session) question() *Question {
	if len(s.State.Orals) >= questionsAsked {
		return nil
	}
	for at, p := range s.places {
		if s.State.Items[at].Status == "" || (uint64(at)+s.run.Seed)%7 != 0 {
			continue
		}
		for i, q := range s.course.Questions {
			if slices.Contains(q.Items, p.Item.Printed()) &&
				!slices.ContainsFunc(s.State.Orals, func(o lesson.Oral) bool { return o.Bank == q.ID }) {
				return &s.course.Questions[i]
			}
		}
	}
	return nil
}

// asks is a student who asks: what is to be done is said, and the item then counts as
// prompted.
func (s *Session) asks(at int) {
	item := s.places[at].Item
	s.coach(item.ID, fmt.Sprintf("%s: %s. %s", item.Challenge, item.Response, item.Why))
}

// guides says of a control that was moved at the wrong moment what comes first.
func (s *Session) guides(m Move) {
	item := s.places[s.Live].Item
	g := s.Next()
	running := false
	for e := 1; e <= s.course.Type.Engines; e++ {
		running = running || s.Machine.Runs(e)
	}
	switch {
	case slices.Contains(g.Controls, m.Control), m.Control == "brakes", running && m.Control == "throttle",
		m.Control == "starter" && m.Value == 0:
		return
	}
	words := fmt.Sprintf("Not yet: %s comes first, %s. %s", lower(item.Challenge), item.Response, item.Why)
	for at := s.Live + 1; at < len(s.bounds); at++ {
		if b := s.bounds[at]; b != nil && slices.Contains(b.controls(), m.Control) && s.State.Items[at].Status == "" {
			words = fmt.Sprintf("%s comes later. First %s: %s. %s", s.places[at].Item.Challenge, lower(item.Challenge),
				item.Response, item.Why)
			break
		}
	}
	if words != s.Said {
		s.coach(item.ID, words)
	}
}

// lower writes a challenge within a sentence; what is written large stays so.
func lower(words string) string {
	if len(words) > 1 && words[1] >= 'a' && words[1] <= 'z' {
		return strings.ToLower(words[:1]) + words[1:]
	}
	return words
}

// GaugeOf is the gauge, by its name and engine, that a box of a check is read off; empty
// where it is no needle.
func GaugeOf(name, path, unit string, engine int) (gauge string, of int) {
	of = max(engine, 1)
	field, side, _ := strings.Cut(path, ".")
	if side == "right" {
		of = 2
	}
	last := path[strings.LastIndexByte(path, '.')+1:]
	switch {
	case name == "suction":
		return "suction", of
	case name == "fuel-pressure":
		return "fuelPressure", of
	case name == "gauges" || name == "engines-differ":
		return field, of // what is compared of two engines is mostly a gauge of each
	case last == "volts" || last == "batteryVolts":
		return "volts", 1
	case last == "amps":
		return "amps", of
	case name == "low-rotor-warning":
		return "rotor", of
	case name == "needle-split":
		return "", of
	case strings.HasPrefix(last, "manifold"):
		return "manifold", of
	case strings.HasSuffix(last, "TempC"):
		return "turbineTemperature", of
	case strings.Contains(strings.ToLower(last), "spool"):
		return "spool", of
	case unit == "rpm" || unit == "%" || unit == "percent":
		return "speed", of
	}
	return "", of
}

// Read is what a box of an item shows now, as near as its gauge is read; empty where it
// is no needle.
func (s *Session) Read(item, path, unit string) string {
	at, listed := s.place(item)
	if !listed {
		return ""
	}
	of := s.places[at].Item
	name, engine := GaugeOf(of.Check, path, unit, of.Engine)
	for _, g := range s.panel.Gauges {
		if g.ID == name && g.Engine == engine {
			v, _ := s.Machine.Gauge(name, engine)
			return strconv.FormatFloat(v, 'f', g.Decimals, 64)
		}
	}
	return ""
}

// Panel is the instrument of an item: as it was read last, or with a draft, and what the
// stopwatch has counted beside it.
func (s *Session) Panel(item string, draft form.Draft) (lesson.Panel, error) {
	if draft == nil {
		return s.Lesson.Panel(s.State, item, nil)
	}
	if len(draft) == 0 {
		p, err := s.Lesson.Panel(s.State, item, draft)
		if err != nil {
			return p, err
		}
		draft = p.Draft
	}
	return s.Lesson.Panel(s.State, item, s.timed(item, draft))
}

// timed is a draft with what the stopwatch has counted in the boxes that hold nothing.
func (s *Session) timed(item string, draft form.Draft) form.Draft {
	out := form.Draft{}
	maps.Copy(out, draft)
	at, listed := s.place(item)
	if !listed {
		return out
	}
	for path, v := range s.counted(s.places[at].Item.Check, max(s.places[at].Item.Engine, 1)) {
		_, typed := out[strings.TrimSuffix(path, "!")]
		if box, has := out[path]; !has && !typed || box == "" {
			out[path] = v
		}
	}
	return out
}

// counted is what the stopwatch has for the boxes of a check.
func (s *Session) counted(name string, engine int) form.Draft {
	w, now, out := &s.watch.engines[engine-1], s.Machine.Tick(), form.Draft{}
	seconds := func(path string, v float64) {
		if !math.IsNaN(v) {
			out[path] = strconv.FormatFloat(v, 'f', 1, 64)
		} else {
			out[path+"!"] = true
		}
	}
	held := func(path string, position int) {
		if on := w.sides[position]; on.from > 0 {
			seconds(path, on.seconds(now))
		}
	}
	switch name {
	case "piston-start", "diesel-start":
		rows := min(len(w.cranks), 6)
		out["attempts#"] = strconv.Itoa(max(rows, 1))
		for i, c := range w.cranks[:rows] {
			seconds(fmt.Sprintf("attempts.%d.crankSeconds", i), c.seconds(now))
			rest := 0.0
			if i+1 < len(w.cranks) {
				rest = span{c.to, w.cranks[i+1].from}.seconds(now)
			} else if c.to > 0 {
				rest = span{from: c.to}.seconds(now)
			}
			seconds(fmt.Sprintf("attempts.%d.restSeconds", i), rest)
		}
		out["fired"] = s.Machine.Runs(engine)
		if s.Machine.Runs(engine) {
			out["rpmPeak"] = strconv.FormatFloat(w.peak, 'f', 0, 64)
			seconds("secondsToOilPressure", w.oil)
		}
	case "magneto":
		held("secondsHeldLeft", stand.IgnitionLeft)
		held("secondsHeldRight", stand.IgnitionRight)
	case "lanes":
		held("secondsHeldA", stand.IgnitionLeft)
		held("secondsHeldB", stand.IgnitionRight)
	case "idle":
		seconds("seconds", float64(w.closed)*stand.Step)
	case "clutch":
		seconds("bladesTurningSeconds", w.blades)
		seconds("lampOutSeconds", w.tight)
	case "turbine-start":
		seconds("lightOffSeconds", w.lit)
		seconds("secondsToIdle", w.toIdle)
		seconds("secondsAboveLimit", float64(w.above)*stand.Step)
		seconds("fuelAtSpoolPercent", w.fuelAt[0])
		out["fuelAtTempC"], out["peakTempC"] = strconv.FormatFloat(w.fuelAt[1], 'f', 0,
			64), strconv.FormatFloat(w.hottest, 'f', 0, 64)
		out["tailwindKt"] = strconv.FormatFloat(max(-s.Machine.WindKt(), 0), 'f', 0, 64)
	case "deceleration":
		seconds("seconds", w.slowed)
		seconds("startSpoolPercent", w.spool)
	}
	return out
}
