package stand

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
)

// Scenario is what a student meets: an aircraft, a day, how its engines were left, what
// is wrong with it and what is to be done.
type Scenario struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	// Type is the aircraft type.
	Type string `json:"type"`
	// Goal is what the student is told to do, and Until the item of the list after which
	// it is done; empty is the whole list.
	Goal  string `json:"goal"`
	Until string `json:"until,omitempty"`
	// Difficulty is 1 to 5.
	Difficulty int       `json:"difficulty"`
	Day        Day       `json:"day"`
	Faults     []Slipped `json:"faults,omitempty"`
	// Outside is who passes by outside, and when.
	Outside []Passer `json:"outside,omitempty"`
}

// Slipped is a fault of a scenario: which, how bad, on which engine, and when.
type Slipped struct {
	Fault    string  `json:"fault"`
	Severity float64 `json:"severity"`
	Engine   int     `json:"engine,omitempty" doc:"from 1, the default"`
	From     float64 `json:"from,omitempty" doc:"seconds from the beginning"`
	// Once is what has to happen after that before it begins; nothing is at once.
	Once *Trigger `json:"once,omitempty"`
	// Every and For make it come and go: each so many seconds for so many.
	Every float64 `json:"every,omitempty"`
	For   float64 `json:"for,omitempty"`
}

// Trigger is what a fault waits for: a gauge that shows so much, a control of its engine
// that is moved so far, or an item that the list has come to.
type Trigger struct {
	Gauge   string  `json:"gauge,omitempty" doc:"as on the panel, such as speed or oilTemperature"`
	Control string  `json:"control,omitempty"`
	Item    string  `json:"item,omitempty" doc:"the id of an item as it is printed"`
	Least   float64 `json:"least,omitempty"`
}

// Bounds of a run: its length, how often something is moved, and how much is wrong at
// once.
const (
	MaxSeconds = 2 * 60 * 60
	MaxInputs  = 100_000
	MaxFaults  = 8
)

// The years that a scenario's day may be of.
const firstYear, lastYear = "2000", "2100"

// Library finds what scenarios name.
type Library struct {
	Rig   func(aircraftType string) (Rig, bool)
	Type  aircraft.Finder
	Fault func(id string) (Fault, bool)
}

// Problems lists what of a scenario cannot be used, by its path.
func (s Scenario) Problems(l Library) []form.Problem {
	out := []form.Problem{}
	add := func(path, reason string) { out = append(out, form.Problem{Field: path, Reason: reason}) }
	within := func(path string, v, least, most float64) {
		if !(v >= least && v <= most) {
			add(path, "must be "+number(least)+" to "+number(most))
		}
	}
	typ, known := l.Type(s.Type)
	if _, rigged := l.Rig(s.Type); !known || !rigged {
		add("$.type", "is no aircraft type with a stand")
		return out
	}
	if s.ID == "" || s.Title == "" || s.Goal == "" || len(s.Goal) > 500 || len(s.Title) > 120 {
		add("$.title", "needs an id, a title of at most 120 characters and a goal of at most 500")
	}
	if strings.ContainsFunc(s.ID+s.Title+s.Goal, func(r rune) bool { return r < ' ' && r != '\n' && r != '\t' }) {
		add("$.title", "and goal may not hold control characters")
	}
	if year, _, _ := strings.Cut(s.Day.Date, "-"); s.Day.Date != "" &&
		(!form.IsDay(s.Day.Date) || year < firstYear || year > lastYear) {
		add("$.day.date", "must be a day such as 2026-11-27, of "+firstYear+" to "+lastYear)
	}
	within("$.difficulty", float64(s.Difficulty), 1, 5)
	within("$.day.oatC", s.Day.OATC, -40, 50)
	within("$.day.dewPointC", s.Day.DewPointC, -60, s.Day.OATC)
	within("$.day.qnhHPa", s.Day.QNHHPa, 900, 1080)
	within("$.day.elevationFt", s.Day.ElevationFt, -1500, 14000)
	within("$.day.windKt", s.Day.WindKt, -40, 60)
	if f := s.Day.FuelL; len(f) > 0 && (!choosesTank(typ) || len(f) != len(typ.Fuel.Tanks)) {
		add("$.day.fuelL", "must be that of each tank of an aircraft whose pilot chooses one")
	} else {
		for i, litres := range f {
			within("$.day.fuelL["+number(float64(i))+"]", litres, 0, float64(typ.Fuel.Tanks[i].UsableL))
		}
	}
	if !slices.Contains([]string{"cold", "warm", "hot"}, s.Day.EngineState) {
		add("$.day.engineState", "must be cold, warm or hot")
	}
	if len(s.Faults) > MaxFaults {
		add("$.faults", "must be at most "+number(MaxFaults))
		return out
	}
	if len(s.Outside) > MaxFaults {
		add("$.outside", "must be at most "+number(MaxFaults))
		return out
	}
	for i, p := range s.Outside {
		if err := p.Check("$.outside[" + number(float64(i)) + "]"); err != nil {
			add(err.Field, err.Reason)
		}
	}
	for i, f := range s.Faults {
		path := "$.faults[" + number(float64(i)) + "]"
		fault, known := l.Fault(f.Fault)
		switch {
		case !known:
			add(path+".fault", "is no fault of the library")
		case !typ.Fits(fault.Has):
			add(path+".fault", "does not happen to the "+typ.Name)
		}
		within(path+".severity", f.Severity, 0, 1)
		within(path+".engine", float64(f.Engine), 0, float64(typ.Engines))
		within(path+".from", f.From, 0, MaxSeconds)
		within(path+".every", f.Every, 0, MaxSeconds)
		within(path+".for", f.For, 0, f.Every)
		if (f.Every == 0) != (f.For == 0) {
			add(path+".every", "goes together with for")
		}
		if o := f.Once; o != nil {
			_, control := ControlOf(o.Control)
			named := 0
			for _, name := range []string{o.Gauge, o.Control, o.Item} {
				if name != "" {
					named++
				}
			}
			if named != 1 || o.Control != "" && !control || len(o.Gauge) > 40 || len(o.Item) > 64 {
				add(path+".once", "must be one gauge, one control or one item")
			}
			within(path+".once.least", o.Least, -1000, 10_000)
		}
	}
	return out
}

func number(v float64) string {
	text, _ := json.Marshal(v) // a number
	return string(text)
}

// Begin makes the stand of a scenario.
func (s Scenario) Begin(l Library, seed uint64) (*Machine, error) {
	if problems := s.Problems(l); len(problems) > 0 {
		return nil, form.Bad("scenario "+problems[0].Field[2:], "%s", problems[0].Reason)
	}
	rig, _ := l.Rig(s.Type)
	typ, _ := l.Type(s.Type)
	m := New(rig, typ, s.Day, seed)
	for _, f := range s.Faults {
		fault, _ := l.Fault(f.Fault)
		m.Slip(fault, f)
	}
	for _, p := range s.Outside {
		m.Passes(p)
	}
	return m, nil
}

// Run is all that a run is: it can be run again from it.
type Run struct {
	Scenario Scenario `json:"scenario"`
	Seed     uint64   `json:"seed"`
	// Ticks is how long it went.
	Ticks  int     `json:"ticks"`
	Inputs []Input `json:"inputs"`
}

// Replay makes the stand of a run and runs it to its end; each is called after every
// step.
func (r Run) Replay(l Library, each func(m *Machine)) (*Machine, error) {
	if r.Ticks < 0 || r.Ticks > MaxSeconds*TicksASecond {
		return nil, form.Bad("run.ticks", "must be 0 to %d", MaxSeconds*TicksASecond)
	}
	if len(r.Inputs) > MaxInputs {
		return nil, form.Bad("run.inputs", "must be at most %d", MaxInputs)
	}
	m, err := r.Scenario.Begin(l, r.Seed)
	if err != nil {
		return nil, err
	}
	for i, in := range r.Inputs {
		if in.Tick < 0 || in.Tick > r.Ticks || i > 0 && in.Tick < r.Inputs[i-1].Tick {
			return nil, form.Bad("run.inputs["+number(float64(i))+"].tick",
				"must not be before the one before it, nor after the end")
		}
		if _, what, reason := m.reads(in); reason != "" {
			return nil, form.Bad("run.inputs["+number(float64(i))+"]."+what, "%s", reason)
		}
	}
	next := 0
	for m.tick < r.Ticks {
		for ; next < len(r.Inputs) && r.Inputs[next].Tick <= m.tick; next++ {
			c, _, _ := m.reads(r.Inputs[next])
			m.Move(c, r.Inputs[next].Engine, r.Inputs[next].Value)
		}
		m.Step()
		if each != nil {
			each(m)
		}
	}
	return m, nil
}

// reads finds the control of an input, or names what of it cannot be used, and why.
func (m *Machine) reads(in Input) (c Control, what, reason string) {
	c, known := ControlOf(in.Control)
	switch {
	case !known:
		return c, "control", fmt.Sprintf("is %q, which is no control", form.Clip(in.Control))
	case c.PerEngine() && (in.Engine < 1 || in.Engine > m.typ.Engines) || !c.PerEngine() && in.Engine != 0:
		return c, "engine", "has no " + in.Control
	case !(in.Value >= 0 && in.Value <= c.Most()):
		return c, "value", fmt.Sprintf("must be 0 to %g", c.Most())
	}
	return c, "", ""
}

// Put moves a control as an input says.
func (m *Machine) Put(in Input) error {
	c, what, reason := m.reads(in)
	if reason != "" {
		return form.Bad(what, "%s", reason)
	}
	m.Move(c, in.Engine, in.Value)
	return nil
}

// Kit is all that a type's stand is run from: in a browser as on a server.
type Kit struct {
	Type      aircraft.Type `json:"type"`
	Rig       Rig           `json:"rig"`
	Faults    []Fault       `json:"faults"`
	Scenarios []Scenario    `json:"scenarios"`
}

// Library finds what is in the kit.
func (k Kit) Library() Library {
	return Library{
		Rig:  func(id string) (Rig, bool) { return k.Rig, k.Rig.Type == id },
		Type: func(id string) (aircraft.Type, bool) { return k.Type, k.Type.ID == id },
		Fault: func(id string) (Fault, bool) {
			i := slices.IndexFunc(k.Faults, func(f Fault) bool { return f.ID == id })
			if i < 0 {
				return Fault{}, false
			}
			return k.Faults[i], true
		},
	}
}
