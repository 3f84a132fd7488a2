package practice

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/recorder"
	"jetprimer/core/stand"
)

// Session is a practice that runs: a machine, and the lesson that is worked on it.
type Session struct {
	Machine *stand.Machine
	Lesson  *lesson.Session
	State   lesson.State
	// Live is the place of the item that is worked.
	Live int
	// Said is what the student was told last, empty when nothing is to be told.
	Said string
	// Turns counts on whenever there is something else to be shown of the lesson.
	Turns int

	course Course
	run    Run
	panel  stand.Panel
	places []checklist.Place
	bounds []*bound
	first  int // the place that the student begins at
	// came are the items that the list came to, each at its tick.
	came []came
	// met says that the live item's act was met when it came up; asked which items the
	// student was told about.
	met    bool
	asked  map[string]bool
	seqs   map[string]int64
	ids    int
	watch  watch
	looked []looked
	// inView are the gauges that are in view, the one that was brought there last at the end.
	inView []int
	track  recorder.Track
	fault  error
}

type came struct {
	tick int
	item string
}

// The devices that the events of a practice are made on.
const (
	onStand   = "stand"
	onStation = "station"
)

// Begin begins a practice: what a run says that it is, before anything of it was done.
func (c Course) Begin(run Run) (*Session, error) {
	run.Ticks, run.Deeds, run.Decision, run.Why = 0, []Deed{}, "", ""
	if err := run.check(); err != nil {
		return nil, err
	}
	if run.List == "" {
		run.List, run.ListVersion = c.List.ID, c.List.Version
	}
	if run.List != c.List.ID || run.ListVersion != c.List.Version {
		return nil, form.Bad("run.list", "is %s version %d; the stand works %s version %d", form.Clip(run.List),
			run.ListVersion, c.List.ID, c.List.Version)
	}
	s, seed := run.Scenario, run.Seed
	m, err := s.Begin(c.Library(), seed)
	if err != nil {
		return nil, err
	}
	flown, err := c.Flown(s)
	if err != nil {
		return nil, err
	}
	d := s.Day
	conditions := map[string]any{
		"oatC": d.OATC, "qnhHPa": d.QNHHPa, "elevationFt": d.ElevationFt, "engineState": d.EngineState, "rules": "VFR",
		"night": false,
	}
	if d.Date != "" {
		conditions["date"] = d.Date
	}
	l := lesson.NewSession(lesson.New(lesson.Book{
		Type: c.Type, List: flown.List, StartOrder: flown.StartOrder, Reasons: flown.Reasons,
	}))
	l.Device = onStand
	out := &Session{
		Machine: m, Lesson: l, course: c, run: run, panel: m.Panel(), asked: map[string]bool{},
		seqs: map[string]int64{}, places: flown.List.Places(),
	}
	out.looked = make([]looked, len(out.panel.Gauges))
	out.watch.begin(c.Type)
	for at, p := range out.places {
		if p.Item.ID == run.From || p.Item.Printed() == run.From && out.first == 0 {
			out.first = at
		}
		var b *bound
		if act, bounded := c.act(p.Item); bounded && !act.Said {
			b = &bound{act, p.Item.Engine, make([]bool, len(act.Moved))}
		}
		out.bounds = append(out.bounds, b)
	}
	if run.From != "" && out.first == 0 && out.places[0].Item.ID != run.From {
		return nil, form.Bad("run.from", "is %q, which is not on the list", form.Clip(run.From))
	}
	err = out.opens(lesson.Opened{Student: run.Student, Instructor: onStand, Aircraft: onStand, AircraftType: c.Type.ID,
		TypeVersion: c.Type.Version, List: c.List.ID, ListVersion: c.List.Version,
		Method: "flow-then-verify", Scale: c.Scale, Purpose: "training", Conditions: conditions, Flown: &flown})
	return out, err
}

// opens writes the events that open the lesson and say where it is worked.
func (s *Session) opens(o lesson.Opened) error {
	payload, err := json.Marshal(o)
	if err != nil {
		return err
	}
	stamp := s.stamp(onStand)
	e := lesson.Event{
		ID: stamp.ID(), Device: onStand, Seq: 1, Counter: 1, Wall: stamp.Wall, Kind: lesson.KindOpened, V: 1,
		Payload: payload,
	}
	if err := e.Validate(); err != nil {
		return err
	}
	s.Lesson.Add(e)
	s.seqs[onStand]++
	s.refold()
	return s.touch(onStand, lesson.Mark{Name: "practice", Place: "stand"})
}

// stamp is what events of this moment carry; ids count, so that the same run makes the
// same events.
func (s *Session) stamp(device string) lesson.Stamp {
	return lesson.Stamp{Device: device, Seq: s.seqs[device], AtMs: int64(s.Machine.Tick()) * 1000 / stand.TicksASecond,
		Wall: s.run.Began, ID: func() string {
			s.ids++
			return fmt.Sprintf("00000000-0000-7000-8000-%012x", s.ids)
		}}
}

// touch takes a mark in as the lesson does.
func (s *Session) touch(device string, m lesson.Mark) error {
	ids := s.ids
	events, err := s.Lesson.Touch(s.State, m, s.stamp(device))
	if err != nil {
		s.ids = ids // what is refused leaves nothing behind
		return err
	}
	s.Lesson.Add(events...)
	s.seqs[device] += int64(len(events))
	s.refold()
	return nil
}

func (s *Session) refold() {
	s.State = s.Lesson.State()
	live := s.Lesson.Live(s.State)
	if s.Turns++; live != s.Live {
		s.Said = ""
	}
	s.Live = live
	if item := s.places[live].Item.Printed(); len(s.came) == 0 || s.came[len(s.came)-1].item != item {
		s.came = append(s.came, came{s.Machine.Tick(), item})
		s.Machine.Comes(item)
	}
	b := s.bounds[live]
	s.met = b != nil && b.met(s.Machine, s.course.Type.Engines)
}

// Run is the run so far, as it is sent.
func (s *Session) Run() Run {
	r := s.run
	r.Ticks = s.Machine.Tick()
	return r
}

// trackTicks is how often the run is recorded: each half second.
const trackTicks = stand.TicksASecond / 2

// Step goes on by one tick.
func (s *Session) Step() {
	s.Machine.Step()
	for _, b := range s.bounds {
		if b != nil {
			b.watch(s.Machine, s.course.Type.Engines)
		}
	}
	if s.Machine.Tick()%trackTicks == 0 {
		s.Machine.Record(&s.track)
	}
	s.watches()
	for i := range s.looked {
		s.looked[i].step()
	}
	item := s.places[s.Live].Item
	if b := s.bounds[s.Live]; b != nil && !s.met && item.Check == "" && s.State.Items[s.Live].Status == "" &&
		s.student() && b.met(s.Machine, s.course.Type.Engines) {
		s.noted(s.callDone(s.Live))
	}
}

// student reports whether the student has the controls, and not the stand that shows.
func (s *Session) student() bool { return s.run.Mode != Shown && s.Live >= s.first }

// LeadIn lets the stand work the list up to the item that the student begins at.
func (s *Session) LeadIn() error {
	if s.first == 0 {
		return nil
	}
	shown, err := s.course.Show(s.run.Scenario, s.run.Seed, s.run.Student, s.run.Began, s.places[s.first].Item.ID)
	if err != nil {
		return err
	}
	return s.follows(context.Background(), shown, nil)
}

// follows does the deeds of a run at their ticks, and goes on to its end, or until the
// context ends.
func (s *Session) follows(ctx context.Context, r Run, each func(s *Session)) error {
	for next := 0; ; {
		for ; next < len(r.Deeds) && r.Deeds[next].Tick <= s.Machine.Tick(); next++ {
			if err := s.Do(r.Deeds[next]); err != nil {
				return fmt.Errorf("run.deeds[%d]: %w", next, err)
			}
		}
		if s.Machine.Tick() >= r.Ticks {
			return nil
		}
		if s.Machine.Tick()%stand.TicksASecond == 0 && ctx.Err() != nil {
			return ctx.Err()
		}
		s.Step()
		if each != nil {
			each(s)
		}
	}
}

// noted keeps the first thing that could not be written down; it is told at the end.
func (s *Session) noted(err error) {
	if s.fault == nil {
		s.fault = err
	}
}

// Do does a deed now, and keeps it.
func (s *Session) Do(d Deed) error {
	if err := d.Check("deed"); err != nil {
		return err
	}
	if s.State.Ended {
		return form.Bad("deed", "comes after the decision")
	}
	d.Tick = s.Machine.Tick()
	var err error
	switch {
	case d.Move != nil:
		err = s.move(*d.Move)
	case d.Call != nil:
		err = s.call(*d.Call)
	case d.Look != nil:
		if d.Look.Gauge >= len(s.looked) {
			return form.Bad("deed.look.gauge", "is no gauge of the panel")
		}
		s.looked[d.Look.Gauge].open = d.Look.Open
		s.inView = slices.DeleteFunc(s.inView, func(g int) bool { return g == d.Look.Gauge })
		if d.Look.Open {
			s.inView = append(s.inView, d.Look.Gauge)
		}
	default:
		err = s.change(*d.Change)
	}
	if err == nil {
		s.run.Deeds = append(s.run.Deeds, d)
	}
	return err
}

// Look brings a gauge in view, or leaves it where it is; where MaxInView are, the one that has
// been there longest gives way.
func (s *Session) Look(gauge int) error {
	away := -1
	switch {
	case slices.Contains(s.inView, gauge):
		away = gauge
	case len(s.inView) >= MaxInView:
		away = s.inView[0]
	}
	if away >= 0 {
		if err := s.Do(Deed{Look: &Look{Gauge: away}}); err != nil || away == gauge {
			return err
		}
	}
	return s.Do(Deed{Look: &Look{Gauge: gauge, Open: true}})
}

func (s *Session) move(m Move) error {
	if err := s.Machine.Put(stand.Input{Control: m.Control, Engine: m.Engine, Value: m.Value}); err != nil {
		return err
	}
	if s.run.Mode == Guided && s.student() {
		s.guides(m)
	}
	return nil
}

func (s *Session) change(c Change) error {
	if c.Slip != nil {
		one := s.run.Scenario
		one.Faults = []stand.Slipped{*c.Slip}
		if problems := one.Problems(s.course.Library()); len(problems) > 0 {
			return form.Bad("deed.change.slip", "%s: %s", problems[0].Field, problems[0].Reason)
		}
		if len(s.Faults()) >= stand.MaxFaults {
			return form.Bad("deed.change.slip", "would be more than %d faults at once", stand.MaxFaults)
		}
	}
	s.apply(s.Machine, c, true)
	if c.Weather == nil {
		return nil
	}
	return s.touch(onStation, lesson.Mark{Name: "conditions", Conditions: map[string]any{"oatC": c.Weather.OATC}})
}

// apply makes a change on a machine, with the fault that it slips in or without.
func (s *Session) apply(m *stand.Machine, c Change, slips bool) {
	if c.Slip != nil && slips {
		fault, _ := s.course.Library().Fault(c.Slip.Fault)
		m.Slip(fault, *c.Slip)
	}
	if w := c.Weather; w != nil {
		day := s.run.Scenario.Day
		day.OATC, day.DewPointC, day.WindKt = w.OATC, w.DewPointC, w.WindKt
		m.Weather(day)
	}
	if c.Outside != nil {
		p := *c.Outside
		p.From += m.Seconds()
		m.Passes(p)
	}
}

// Faults are those of the scenario and what was slipped in since.
func (s *Session) Faults() []stand.Slipped {
	out := slices.Clone(s.run.Scenario.Faults)
	for _, d := range s.run.Deeds {
		if d.Change != nil && d.Change.Slip != nil {
			slip := *d.Change.Slip
			slip.From += float64(d.Tick) * stand.Step
			out = append(out, slip)
		}
	}
	return out
}

// place is that of an item of the list.
func (s *Session) place(item string) (at int, listed bool) {
	at = slices.IndexFunc(s.places, func(p checklist.Place) bool { return p.Item.ID == item })
	return at, at >= 0
}

// call is something that is said.
func (s *Session) call(c Call) error {
	if c.Instructor {
		return s.touch(onStation, c.Mark)
	}
	item := c.Item
	if item == "" {
		item = s.places[s.Live].Item.ID
	}
	at, listed := s.place(item)
	if !listed {
		return form.Bad("deed.call.item", "is %q, which is not on the list", form.Clip(item))
	}
	switch c.Name {
	case "shown":
		return s.touch(onStand, lesson.Mark{Name: "shown", Item: item})
	case "done", callNormal:
		return s.callDone(at)
	case callAbnormal:
		return s.abnormal(item)
	case callAsk:
		s.asks(at)
		return nil
	}
	m := c.Mark
	if m.Name != "undo" {
		m.Item = item
	}
	if m.Name == "reading" {
		m.Draft = s.timed(item, m.Draft)
	}
	if m.Name == "open" || m.Name == "reading" {
		ids := s.ids
		if _, err := s.Lesson.Touch(s.State, m, s.stamp(onStand)); err != nil {
			return err // before anything is passed over
		}
		s.ids = ids
		if err := s.leavesOut(at); err != nil {
			return err
		}
	}
	return s.touch(onStand, m)
}

// reading is the last one kept at an item in its round.
func (s *Session) reading(item string) *lesson.Reading {
	for i := len(s.State.Readings) - 1; i >= 0; i-- {
		if s.State.Readings[i].Item == item {
			return &s.State.Readings[i]
		}
	}
	return nil
}

// undone says in words what of an item was not done; empty when it was.
func (s *Session) undone(at int) string {
	item := s.places[at].Item
	if b := s.bounds[at]; b != nil && !b.met(s.Machine, s.course.Type.Engines) {
		return fmt.Sprintf("%s: “%s” is not so yet.", item.Challenge, item.Response)
	}
	if measured(item.Check) && s.reading(item.ID) == nil {
		return item.Challenge + " has not been read yet."
	}
	return ""
}

// leavesOut marks what was passed over on the way to a place and has not been done; that
// the area is clear has to be called.
func (s *Session) leavesOut(to int) error {
	for at := s.Live; at < to; at++ {
		if s.State.Items[at].Status == "" &&
			(s.undone(at) != "" || slices.Contains(s.places[at].Item.Starts, "clear")) {
			if err := s.touch(onStand, lesson.Mark{Name: "left-out", Item: s.places[at].Item.ID}); err != nil {
				return err
			}
		}
	}
	return nil
}

// callDone is an item called done. What is called and was not done was answered without
// looking; a guided student is told instead.
func (s *Session) callDone(at int) error {
	item := s.places[at].Item.ID
	if why := s.undone(at); why != "" {
		if s.run.Mode == Guided {
			s.coach(item, why+" "+s.places[at].Item.Why)
			return nil
		}
		if err := s.leavesOut(at); err != nil {
			return err
		}
		if err := s.touch(onStand,
			lesson.Mark{Name: "error", Item: item, Code: "answered-without-looking", Words: why}); err != nil {
			return err
		}
		return s.touch(onStand, lesson.Mark{Name: "wrong", Item: item})
	}
	if err := s.leavesOut(at); err != nil {
		return err
	}
	if r := s.reading(item); r != nil && r.Verdict != nil && r.Verdict.Outcome != check.Normal &&
		s.run.Mode != Guided && !s.saidAbnormal(item) {
		if err := s.touch(onStand, lesson.Mark{Name: "error", Item: item, Code: "abnormal-not-noticed"}); err != nil {
			return err
		}
	}
	name := "done"
	if s.asked[item] {
		name = "prompted"
	}
	return s.touch(onStand, lesson.Mark{Name: name, Item: item})
}

// coach says something to the student at an item, which then counts as prompted.
func (s *Session) coach(item, words string) {
	s.asked[item] = true
	s.Said = words
	s.Turns++
}

// saidAbnormal reports whether something was said not to be normal at an item.
func (s *Session) saidAbnormal(item string) bool {
	return slices.ContainsFunc(s.State.Findings, func(f lesson.Finding) bool { return f.Item == item })
}

// abnormal is something that the student says is not normal, at an item.
func (s *Session) abnormal(item string) error {
	if s.saidAbnormal(item) {
		return nil
	}
	s.watch.noticed = append(s.watch.noticed, s.Machine.Seconds())
	return s.touch(onStand, lesson.Mark{Name: "noted-finding", Item: item})
}

// Decide ends a practice with what is decided of the engine: on everything that was
// found, and that asks for a decision.
func (s *Session) Decide(decision, why string) error {
	if !slices.Contains(lesson.Decisions, decision) {
		return form.Bad("run.decision", "is %q, which is no decision", form.Clip(decision))
	}
	if s.State.Ended {
		return form.Bad("run.decision", "has been made")
	}
	s.run.Decision, s.run.Why = decision, why
	if why == "" {
		why = "decided on the stand"
	}
	// What is called cleared and was not tried again keeps the aircraft on the ground;
	// the run itself keeps what was said.
	decided := func(about string, open []string) lesson.Mark {
		m := lesson.Mark{Decision: decision, Told: "the instructor", Why: why, About: about}
		if !slices.Contains(open, decision) {
			m.Decision, m.Why = "grounded", "said to be cleared, and not tried again: "+why
		}
		return m
	}
	words := func(item string) string {
		if r := s.reading(item); r != nil && r.Verdict != nil && len(r.Verdict.Findings) > 0 {
			return r.Verdict.Findings[0].Message
		}
		return "Said not to be normal."
	}
	for _, f := range s.State.Findings {
		if f.Noted {
			m := decided(f.Event, s.State.DecisionsFor(f.Event))
			m.Name, m.Words = "word", words(f.Item)
			if err := s.touch(onStand, m); err != nil {
				return err
			}
		}
	}
	for _, r := range s.State.Readings {
		if r.Open {
			m := decided(r.Event, s.State.DecisionsFor(r.Event))
			m.Name = "decide"
			if err := s.touch(onStand, m); err != nil {
				return err
			}
		}
	}
	if decision != stand.Normal && len(s.State.Findings) == 0 {
		item, at := s.places[s.Live].Item.ID, s.stamp(onStand).AtMs
		m := decided("", s.State.DecisionsWith(lesson.Finding{Item: item, AtMs: at}))
		m.Name, m.Item, m.Words = "finding", item, "Said not to be normal."
		if err := s.touch(onStand, m); err != nil {
			return err
		}
	}
	return s.touch(onStand, lesson.Mark{Name: "end"})
}
