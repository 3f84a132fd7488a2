package stand

import (
	"slices"

	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/recorder"
)

// Move is a line of a script: at a second, or after a wait, a control is moved, or an
// item of the list is worked as a good student works it.
type Move struct {
	At      float64 `json:"at,omitempty" doc:"seconds from the beginning; passed already is at once"`
	Wait    float64 `json:"wait,omitempty" doc:"seconds from the move before"`
	Engine  int     `json:"engine,omitempty" doc:"from 1, the default"`
	Control string  `json:"control,omitempty"`
	Value   float64 `json:"value,omitempty"`
	Work    string  `json:"work,omitempty" doc:"the id of an item of the list"`
}

// MaxMoves bounds a script.
const MaxMoves = 10_000

// Score is what came of a run.
type Score struct {
	Seconds float64 `json:"seconds"`
	// Checks are how many measured checks were worked, Normal how many of them read so.
	Checks int `json:"checks"`
	Normal int `json:"normal"`
	// Found are the findings, Missed those that the faults should have shown and that no
	// check has.
	Found  []Sign `json:"found"`
	Missed []Sign `json:"missed"`
	Wear   Wear   `json:"wear"`
}

// Told is what working a stand from a script gives.
type Told struct {
	Checks []Worked `json:"checks"`
	Score  Score    `json:"score"`
	Run    Run      `json:"-"`
	// Track is what an engine recorder would have kept.
	Track recorder.Track `json:"-"`
}

// trackTicks is how often a recorder keeps a sample: each half second.
const trackTicks = TicksASecond / 2

// Work runs a scenario by a script, or, where there is none, works the list as a good
// student does, until a check says stop.
func (s Scenario) Work(l Library, seed uint64, items []checklist.Item, script []Move) (Told, error) {
	out := Told{Checks: []Worked{}}
	m, err := s.Begin(l, seed)
	if err != nil {
		return out, err
	}
	h := NewHand(m, s.Day)
	h.Watch = func(m *Machine) {
		if m.tick%trackTicks == 0 {
			m.Record(&out.Track)
		}
	}
	if script == nil {
		out.Checks, err = h.Work(items)
	} else {
		out.Checks, err = h.follow(script, items)
	}
	out.Run = Run{s, seed, m.tick, h.Inputs()}
	out.Score = score(m, s, l, out.Checks)
	return out, err
}

// follow works a script.
func (h *Hand) follow(script []Move, items []checklist.Item) ([]Worked, error) {
	out := []Worked{}
	if len(script) > MaxMoves {
		return out, form.Bad("script", "must be at most %d moves", MaxMoves)
	}
	for n, move := range script {
		bad := func(what, words string, args ...any) error {
			return form.Bad("script["+number(float64(n))+"]."+what, words, args...)
		}
		if !(move.At >= 0 && move.At <= MaxSeconds) || !(move.Wait >= 0 && move.Wait <= MaxSeconds) {
			return out, bad("at", "must be 0 to %d seconds", MaxSeconds)
		}
		h.wait(move.Wait)
		h.wait(move.At - h.m.Seconds())
		if h.m.Seconds() > MaxSeconds {
			return out, bad("at", "is later than %d seconds", MaxSeconds)
		}
		engine := max(move.Engine, 1)
		if engine > h.m.typ.Engines {
			return out, bad("engine", "must be 1 to %d", h.m.typ.Engines)
		}
		if move.Control != "" {
			c, known := ControlOf(move.Control)
			if !known || !(move.Value >= 0 && move.Value <= c.Most()) {
				return out, bad("control", "is %q at %g, which is no control or no value of it",
					form.Clip(move.Control), move.Value)
			}
			h.set(c, engine, move.Value)
		}
		if move.Work == "" {
			continue
		}
		i := slices.IndexFunc(items, func(i checklist.Item) bool { return i.ID == move.Work })
		if i < 0 {
			return out, bad("work", "is %q, which is no item of the list", form.Clip(move.Work))
		}
		for e := range h.m.typ.Engines { // whoever started it
			h.started[e] = h.started[e] || h.m.engines[e].burning
		}
		done, err := h.Work(items[i : i+1])
		if err != nil {
			return out, err
		}
		out = append(out, done...)
	}
	return out, nil
}

// score is what came of a run's checks.
func score(m *Machine, s Scenario, l Library, worked []Worked) Score {
	out := Score{Seconds: round(m.Seconds(), 2), Checks: len(worked), Found: []Sign{}, Missed: []Sign{}, Wear: m.Wear()}
	for _, w := range worked {
		if w.Verdict.Outcome == check.Normal {
			out.Normal++
		}
		for _, f := range w.Verdict.Findings {
			if sign := (Sign{w.Check, f.Code, f.Side}); !slices.Contains(out.Found, sign) {
				out.Found = append(out.Found, sign)
			}
		}
	}
	for _, slipped := range s.Faults {
		fault, _ := l.Fault(slipped.Fault)
		for _, sign := range fault.Finds {
			if !slices.Contains(out.Found, sign) && !slices.Contains(out.Missed, sign) {
				out.Missed = append(out.Missed, sign)
			}
		}
	}
	return out
}
