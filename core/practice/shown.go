package practice

import (
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/stand"
)

// How long the hand that shows stays at an item, in seconds; chosen, to be read.
const (
	saysFor  = 3.0
	movesFor = 1.5
)

// Show works a scenario as a good student does, each item shown at its moment, up to an
// item of the list or to where a check says stop; empty is to its end.
func (c Course) Show(s stand.Scenario, seed uint64, student, began, until string) (Run, error) {
	run := Run{Scenario: s, Seed: seed, Mode: Shown, Student: student, Began: began, Deeds: []Deed{}}
	if err := run.check(); err != nil {
		return run, err
	}
	m, err := s.Begin(c.Library(), seed)
	if err != nil {
		return run, err
	}
	flown, err := c.Flown(s)
	if err != nil {
		return run, err
	}
	h := stand.NewHand(m, s.Day)
	for _, p := range flown.List.Places() {
		if until != "" && (p.Item.ID == until || p.Item.Printed() == until) {
			break
		}
		m.Comes(p.Item.Printed())
		from := len(h.Inputs())
		worked, err := c.shows(h, p.Item)
		if err != nil {
			return run, err
		}
		for _, in := range h.Inputs()[from:] {
			run.Deeds = append(run.Deeds, Deed{Tick: in.Tick, Move: &Move{in.Control, in.Engine, in.Value}})
		}
		says := func(mark lesson.Mark) {
			mark.Item = p.Item.ID
			run.Deeds = append(run.Deeds, Deed{Tick: m.Tick(), Call: &Call{Mark: mark}})
		}
		for _, w := range worked {
			says(lesson.Mark{Name: "reading", Draft: form.Typed(w.Request.Reading)})
		}
		says(lesson.Mark{Name: "shown"})
		if len(worked) > 0 && worked[0].Verdict.Decision == check.Stop {
			break
		}
	}
	run.Ticks = m.Tick()
	return run, nil
}

// shows works one item.
func (c Course) shows(h *stand.Hand, item checklist.Item) ([]stand.Worked, error) {
	if measured(item.Check) {
		return h.Work([]checklist.Item{item})
	}
	act, _ := c.act(item)
	if act.Said {
		h.Wait(saysFor)
		return nil, nil
	}
	for _, all := range [][]Where{act.Moved, act.Stands} {
		for _, w := range all {
			c.brings(h, w, item.Engine)
			h.Wait(movesFor)
		}
	}
	return nil, nil
}

// brings brings a control to where an act asks for it, where it is not there already.
func (c Course) brings(h *stand.Hand, w Where, engine int) {
	control, _ := stand.ControlOf(w.Control)
	to := w.high(control)
	if w.Most == nil || w.low() > 0 && control != stand.Throttle {
		to = w.low()
	} else if w.low() > 0 {
		to = (w.low() + to) / 3
	}
	for e := 1; e <= c.Type.Engines; e++ {
		if (engine == 0 || engine == e) && !h.Has(w.Control, e, w.low(), w.high(control)) {
			h.Set(control, e, to)
		}
	}
}
