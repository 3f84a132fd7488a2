//go:build js

package main

import (
	"errors"

	"jetprimer/core/stand"
)

// practice is the stand that runs in the page: its scenario, and what was moved.
var practice struct {
	kit     stand.Kit
	run     stand.Run
	machine *stand.Machine
	panel   stand.Panel
	values  []float64
}

var errNoStand = errors.New("no stand has been begun")

// seen is what a stand shows.
type seen struct {
	Seconds float64     `json:"seconds"`
	Values  []float64   `json:"values"`
	Beyond  []bool      `json:"beyond"`
	Lamps   []bool      `json:"lamps"`
	Sound   stand.Sound `json:"sound"`
}

func view() seen {
	practice.machine.Read(practice.panel, practice.values)
	m := practice.machine
	return seen{m.Seconds(), practice.values, m.Beyond(practice.panel, practice.values), m.Lit(practice.panel), m.Sound()}
}

// standBegin takes a kit, a scenario of it and a seed, and answers the panel.
func standBegin(args []string) (any, error) {
	var kit stand.Kit
	var s stand.Scenario
	var seed uint64
	if err := read(args, &kit, &s, &seed); err != nil {
		return nil, err
	}
	m, err := s.Begin(kit.Library(), seed)
	if err != nil {
		return nil, err
	}
	practice.kit, practice.machine, practice.panel = kit, m, m.Panel()
	practice.run = stand.Run{Scenario: s, Seed: seed, Inputs: []stand.Input{}}
	practice.values = make([]float64, len(practice.panel.Gauges))
	return practice.panel, nil
}

// standMake makes up a scenario of a kit for a difficulty.
func standMake(args []string) (any, error) {
	var kit stand.Kit
	var difficulty int
	var seed uint64
	if err := read(args, &kit, &difficulty, &seed); err != nil {
		return nil, err
	}
	return kit.Generate(min(max(difficulty, 1), 5), seed), nil
}

// standMove moves a control now.
func standMove(args []string) (any, error) {
	var in stand.Input
	if err := read(args, &in); err != nil {
		return nil, err
	}
	if practice.machine == nil {
		return nil, errNoStand
	}
	in.Tick = practice.machine.Tick()
	if err := practice.machine.Put(in); err != nil {
		return nil, err
	}
	practice.run.Inputs = append(practice.run.Inputs, in)
	return nil, nil
}

// standStep goes on by so many ticks and answers what is seen.
func standStep(args []string) (any, error) {
	var ticks int
	if err := read(args, &ticks); err != nil {
		return nil, err
	}
	if practice.machine == nil {
		return nil, errNoStand
	}
	for range min(ticks, stand.MaxSeconds*stand.TicksASecond-practice.machine.Tick()) {
		practice.machine.Step()
	}
	practice.run.Ticks = practice.machine.Tick()
	return view(), nil
}

// standBack goes back to a second: everything that was moved later is as if it had not
// been. It answers what is seen then, and where each control of the panel stands.
func standBack(args []string) (any, error) {
	var second float64
	if err := read(args, &second); err != nil {
		return nil, err
	}
	if practice.machine == nil {
		return nil, errNoStand
	}
	run := practice.run.Until(int(second * stand.TicksASecond))
	m, err := run.Replay(practice.kit.Library(), nil)
	if err != nil {
		return nil, err
	}
	practice.machine, practice.run = m, run
	stands := make([]float64, len(practice.panel.Controls))
	for i, c := range practice.panel.Controls {
		control, _ := stand.ControlOf(c.Control)
		stands[i] = m.At(control, max(c.Engine, 1))
	}
	return struct {
		seen
		Stands []float64 `json:"stands"`
	}{view(), stands}, nil
}

// standRun answers the run so far, as it is sent.
func standRun(args []string) (any, error) {
	if practice.machine == nil {
		return nil, errNoStand
	}
	return practice.run, read(args)
}

// standTrace runs a run and answers what its instruments showed each second.
func standTrace(args []string) (any, error) {
	var kit stand.Kit
	var run stand.Run
	if err := read(args, &kit, &run); err != nil {
		return nil, err
	}
	return run.Trace(kit.Library())
}
