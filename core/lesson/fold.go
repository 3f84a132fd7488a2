package lesson

import (
	"bytes"
	"cmp"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/calc"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
)

// Lesson holds the events of one lesson, decoded.
type Lesson struct {
	book   Book
	places []checklist.Place
	index  map[string]int // item id to its place
	events map[string]*held
	// others are the different contents that came under an id already held.
	others   map[string]bool
	verdicts map[verdictKey]verdictOrReason
}

type held struct {
	Event
	payload payload
	content []byte
}

type verdictKey struct {
	event   string
	attempt int
	// before are the findings of earlier tries, as one text.
	before string
	// conditions are those it is judged under, as one text.
	conditions string
}

type verdictOrReason struct {
	verdict *check.Verdict
	reason  string
}

// New is a lesson without events.
func New(book Book) *Lesson {
	l := &Lesson{
		book: book, places: book.List.Places(), index: map[string]int{},
		events: map[string]*held{}, others: map[string]bool{}, verdicts: map[verdictKey]verdictOrReason{},
	}
	for i, p := range l.places {
		l.index[p.Item.ID] = i
	}
	return l
}

// Taken says what became of an event.
type Taken struct {
	ID     string `json:"id"`
	Status string `json:"status"` // held, known or refused
	Reason string `json:"reason,omitempty"`
}

// Add takes events in. Each is answered: held, known (already held with the
// same content), or refused with the reason. Of different contents under one
// id the one that sorts first is kept, so that arrival does not matter.
func (l *Lesson) Add(events ...Event) []Taken {
	answers := make([]Taken, len(events))
	for i, e := range events {
		answers[i] = l.add(e)
	}
	return answers
}

func (l *Lesson) add(e Event) Taken {
	p, err := e.keepable()
	if err != nil {
		return Taken{e.ID, "refused", err.Error()}
	}
	h := &held{e, p, e.Canonical()}
	known, ok := l.events[e.ID]
	if !ok {
		l.events[e.ID] = h
		return Taken{e.ID, "held", ""}
	}
	if bytes.Equal(known.content, h.content) {
		if known.By == "" {
			known.By, known.Received = e.By, e.Received
		}
		return Taken{e.ID, "known", ""}
	}
	if bytes.Compare(h.content, known.content) < 0 {
		l.events[e.ID] = h
		clear(l.verdicts) // none of the content that is gone may answer for this one
	}
	l.others[e.ID] = true
	return Taken{e.ID, "refused", differentContent}
}

// Why an event is refused that is sound in itself.
const (
	differentContent = "id is already held with another content"
	SecondOpening    = "kind lesson-opened: the lesson was opened by another event, and is opened once"
)

// Book is what the lesson is folded against.
func (l *Lesson) Book() Book { return l.book }

// Len is the number of events held.
func (l *Lesson) Len() int { return len(l.events) }

// Has reports whether an event of that id is held.
func (l *Lesson) Has(id string) bool { return l.events[id] != nil }

// LastCounter is the highest counter among the events.
func (l *Lesson) LastCounter() int64 {
	last := int64(0)
	for _, e := range l.events {
		last = max(last, e.Counter)
	}
	return last
}

// Content is the canonical form of all events, in order: what a seal keeps.
func (l *Lesson) Content() [][]byte {
	out := make([][]byte, 0, len(l.events))
	for _, h := range l.sorted() {
		out = append(out, h.content)
	}
	return out
}

// Arrivals is the SHA-256, in hexadecimal, of who sent each event and when it arrived: a line
// an event, by its id. The events themselves do not say so.
func (l *Lesson) Arrivals() string {
	all := make([]Event, 0, len(l.events))
	for _, h := range l.events {
		all = append(all, h.Event)
	}
	return ArrivalsOf(all)
}

// ArrivalsOf is Arrivals of some events.
func ArrivalsOf(events []Event) string {
	lines := make([]string, len(events))
	for i, e := range events {
		lines[i] = e.ID + " " + e.By + " " + e.Received
	}
	slices.Sort(lines)
	return fmt.Sprintf("%x", sha256.Sum256([]byte(strings.Join(lines, "\n"))))
}

// Seal is the signature payload over every event now held, for the result
// with the given hash.
func (l *Lesson) Seal(signedBy, resultHash string) Sealed {
	s := Sealed{Last: map[string]int64{}, Result: resultHash, RulesVersion: check.RulesVersion, SignedBy: signedBy}
	for id, e := range l.events {
		s.Events = append(s.Events, id)
		s.Last[e.Device] = max(s.Last[e.Device], e.Seq)
	}
	slices.Sort(s.Events)
	s.Hash = SetHash(s.Events)
	return s
}

func (l *Lesson) sorted() []*held {
	all := make([]*held, 0, len(l.events))
	for _, h := range l.events {
		all = append(all, h)
	}
	slices.SortFunc(all, order)
	return all
}

// fold is the state being made.
type fold struct {
	*Lesson
	state  State
	items  []itemFold
	done   int             // completions so far
	closed map[string]bool // phases
	// rounds are the earlier rounds of phases; begun counts them all, and
	// attempts the tries that could be judged.
	rounds   []pastRound
	begun    int
	attempts map[try]int
	// asked are the findings that earlier judged tries asked to look at again.
	asked map[try]map[check.Place]bool
	// cold are gauges that were too low for power when they were last read, by the
	// item at which they were.
	cold map[string]map[needle]bool
}

// needle is a gauge of an engine.
type needle struct {
	gauge  string
	engine int
}

// pastRound is a phase as it stood when it was begun again.
type pastRound struct {
	phase, round int
	items        []itemFold
}

// try is what attempts are counted of.
type try struct {
	item, check   string
	engine, round int
}

// itemFold is what the events so far say of one item.
type itemFold struct {
	status        string
	implied       bool
	completed     int // ordinal, from 1
	prompts       int
	assists       int
	selfCorrected bool
	late          bool
	verified      bool
	outOfOrder    bool
	round         int // of all rounds, in which it was completed
	broken        []string
	tooLateFor    []string
	errors        []Error
	spoken        []Reason // by the item's readings and timers
	control       []Reason
	override      *Override
	value         string
	response      string
	atMs          int64
}

// State folds the events. Once a seal is among them, the state is that of the
// events of the first seal, and everything else is an addendum.
func (l *Lesson) State() State {
	all := l.sorted()
	f := fold{Lesson: l, items: make([]itemFold, len(l.places)), closed: map[string]bool{}, attempts: map[try]int{},
		asked: map[try]map[check.Place]bool{}, cold: map[string]map[needle]bool{}}
	f.state = State{
		RulesVersion: check.RulesVersion, Readings: []Reading{}, Errors: []Error{}, Findings: []Finding{},
		Orals: []Oral{}, Timers: []Timer{}, Notes: []Note{}, Debrief: []Note{}, HourMeter: []Hours{},
		Seals: []SealState{}, Addenda: []Addendum{}, Refused: []Refusal{}, Problems: []Problem{}, LastTouch: []string{},
		Rounds: []Round{}, Conditions: map[string]any{}, Practice: Practices[0], Observers: []Observer{},
		lives: map[string]string{}, touches: map[string][]string{},
	}
	for _, h := range all {
		switch {
		case l.others[h.ID]:
			f.state.Refused = append(f.state.Refused, Refusal{h.ID, differentContent})
		case h.Kind == KindOpened && l.book.Opening != "" && h.ID != l.book.Opening:
			f.state.Refused = append(f.state.Refused, Refusal{h.ID, SecondOpening})
		}
	}
	body := f.seals(all)
	live := effective(body)
	for _, h := range live {
		f.open(h)
	}
	for _, h := range live {
		f.apply(h)
	}
	f.judgeOrder(f.items)
	f.settleItems()
	f.askDecisions()
	f.problems()
	if o := f.state.Opened; o != nil && o.Paper != nil {
		f.state.timeless()
	}
	f.state.LastTouch = lastTouch(live, "")
	for _, h := range live {
		if _, known := f.state.touches[h.Device]; !known {
			f.state.touches[h.Device] = lastTouch(live, h.Device)
		}
	}
	ids := make([]string, len(all))
	for i, h := range all {
		ids[i] = h.ID
	}
	f.state.Events, f.state.EventHash = len(all), SetHash(ids)
	return f.state.Corrected(f.state.Corrections)
}

// seals records the signatures and the addenda, and returns the events that
// the state is made of.
func (f *fold) seals(all []*held) []*held {
	var sealed map[string]bool // by the first seal
	signed := map[string]bool{}
	for _, h := range all {
		s, ok := h.payload.(*Sealed)
		if !ok {
			continue
		}
		set := map[string]bool{h.ID: true}
		missing := 0
		for _, id := range s.Events {
			set[id], signed[id] = true, true
			if f.events[id] == nil {
				missing++
			}
		}
		signed[h.ID] = true
		if sealed == nil {
			sealed = set
		}
		f.state.Seals = append(f.state.Seals, SealState{
			Event: h.ID, SignedBy: s.SignedBy, RulesVersion: s.RulesVersion, Wall: h.Wall, Hash: s.Hash,
			Result: s.Result, Events: len(s.Events), Missing: missing,
		})
	}
	if sealed == nil {
		return all
	}
	var body []*held
	for _, h := range all {
		if sealed[h.ID] {
			body = append(body, h)
			continue
		}
		switch p := h.payload.(type) {
		case *Sealed: // what was answered, was answered to an earlier one
			f.state.Acknowledged = false
		case *note:
			f.state.Addenda = append(f.state.Addenda, Addendum{h.ID, h.Kind, h.By, p.Words, signed[h.ID], h.AtMs})
		case *correction:
			f.state.Addenda = append(f.state.Addenda, Addendum{h.ID, h.Kind, h.By, p.Why, signed[h.ID], h.AtMs})
			f.correct(h, p, signed[h.ID])
		case *Answered:
			f.answer(h, p)
		case *selfGrade:
			if f.state.Self == nil {
				f.state.Self = &Self{p.Levels, p.Words}
			}
		default:
			f.state.Addenda = append(f.state.Addenda, Addendum{h.ID, h.Kind, h.By, "", signed[h.ID], h.AtMs})
		}
	}
	return body
}

// answer takes the student's answer: the latest stands.
func (f *fold) answer(h *held, p *Answered) {
	f.state.Acknowledged = !p.Refused
	f.state.Answer = &Answer{Event: h.ID, Answered: *p, At: cmp.Or(h.Received, h.Wall)}
}

// effective drops the events that are undone. A later undo decides over an
// earlier one, so an undo may itself be undone.
func effective(all []*held) []*held {
	undone := map[string]bool{}
	place := make(map[string]int, len(all))
	for i, h := range all {
		place[h.ID] = i
	}
	for i := len(all) - 1; i >= 0; i-- {
		u, isUndo := all[i].payload.(*undo)
		if !isUndo || undone[all[i].ID] {
			continue
		}
		for _, target := range u.Targets {
			at, here := place[target]
			if !here {
				continue
			}
			if _, targetIsUndo := all[at].payload.(*undo); targetIsUndo && at > i {
				continue
			}
			undone[target] = true
		}
	}
	live := make([]*held, 0, len(all))
	for _, h := range all {
		if _, isUndo := h.payload.(*undo); !isUndo && !undone[h.ID] {
			live = append(live, h)
		}
	}
	return live
}

// lastTouch is the last group of events of one device and moment that a person
// made and can take back: of a device where one is named.
func lastTouch(live []*held, device string) []string {
	ids := []string{}
	var last *held
	for i := len(live) - 1; i >= 0; i-- {
		h := live[i]
		if h.Kind == KindOpened || h.Kind == KindSealed || h.Kind == KindTimerStarted || h.Kind == KindTimerStopped ||
			device != "" && h.Device != device {
			continue
		}
		if last == nil {
			last = h
		}
		if h.Device == last.Device && h.AtMs == last.AtMs {
			ids = append(ids, h.ID)
		}
	}
	slices.Reverse(ids)
	return ids
}

// open takes the opening event into the state: whatever its place in the order,
// all the others stand on it.
func (f *fold) open(h *held) {
	p, opens := h.payload.(*Opened)
	if !opens || f.state.Opened != nil || f.book.Opening != "" && f.book.Opening != h.ID {
		return
	}
	// The list as flown is in the book; the state stays small.
	opened := *p
	opened.Flown = nil
	f.state.Opened = &opened
	maps.Copy(f.state.Conditions, p.Conditions)
}

func (f *fold) item(id string) *itemFold {
	if i, ok := f.index[id]; ok {
		return &f.items[i]
	}
	return nil
}

// apply takes one event into the state.
func (f *fold) apply(h *held) {
	f.state.DurationMs = max(f.state.DurationMs, h.AtMs)
	switch p := h.payload.(type) {
	case nil:
		f.state.Unknown++
	case *itemOpened:
		f.state.Live = p.Item
		f.state.lives[h.Device] = p.Item
	case *observer:
		f.state.Observers = append(slices.DeleteFunc(f.state.Observers,
			func(o Observer) bool { return o.Person == p.Person }), Observer(*p))
	case *itemResult:
		f.result(h, p)
	case *itemMark:
		f.mark(h, p.Item)
	case *late:
		f.late(p)
	case *errorMade:
		f.error(h, p)
	case *reading:
		f.read(h, p)
	case *finding:
		f.state.Findings = append(f.state.Findings, Finding{
			Event: h.ID, Item: p.Item, Reading: p.Reading, Code: p.Code, Words: p.Words, Pictures: p.Pictures,
			Noted: p.Noted, AtMs: cmp.Or(p.AtMs, h.AtMs),
		})
	case *decision:
		f.decide(h, p)
	case *oral:
		f.state.Orals = append(f.state.Orals, Oral{h.ID, p.Item, p.Question, p.Bank, p.Elements, p.Level})
	case *timer:
		f.time(h, p)
	case *note:
		n := Note{h.ID, p.Item, p.Words, h.AtMs}
		if h.Kind == KindNote {
			f.state.Notes = append(f.state.Notes, n)
		} else {
			f.state.Debrief = append(f.state.Debrief, n)
		}
	case *hourMeter:
		f.state.HourMeter = append(slices.DeleteFunc(f.state.HourMeter, func(o Hours) bool {
			return o.Meter == p.Meter && o.When == p.When
		}), Hours{p.Meter, p.When, p.Value})
	case *override:
		if s := f.item(p.Item); s != nil {
			s.override = &Override{p.Level, p.Reason, h.By}
		}
	case *phaseClosed:
		f.closed[p.Phase] = true
	case *controlTaken:
		if s := f.item(p.Item); s != nil {
			s.control = append(s.control, Reason{
				"control-taken", p.Level, fmt.Sprintf("The instructor took the control: %s", p.Why),
			})
		}
	case *conditionsChanged:
		maps.Copy(f.state.Conditions, p.Conditions)
	case *round:
		f.again(p.Phase)
	case *practice:
		f.state.Practice = p.Place
	case *nothing:
		f.state.Ended = f.state.Ended || h.Kind == KindEnded
	case *Answered:
		f.answer(h, p)
	case *selfGrade:
		f.state.Self = &Self{p.Levels, p.Words}
	}
}

func (f *fold) result(h *held, p *itemResult) {
	s := f.item(p.Item)
	if s == nil || p.Implied && (s.status != "" || f.stops(f.index[p.Item])) {
		return
	}
	s.status, s.implied, s.atMs = p.Result, p.Implied, h.AtMs
	s.value, s.response = p.Value, p.Response
	f.complete(f.index[p.Item])
}

// stops reports whether an item stops the passing of what nobody marked, as the
// school decides.
func (f *fold) stops(at int) bool { return f.state.stops(f.places[at].Item) }

func (s *State) stops(item checklist.Item) bool {
	return s.Opened != nil && s.Opened.Passing == Passings[1] && (item.Critical || item.Check != "")
}

// complete counts the item at a place as done in its turn. What was read too low
// for the power that the item raises has not been waited for.
func (f *fold) complete(at int) {
	s := &f.items[at]
	if s.completed != 0 {
		return
	}
	f.done++
	s.completed, s.round = f.done, f.begun
	for _, before := range f.places[at].Item.After {
		if len(f.cold[before]) > 0 {
			s.broken = append(s.broken, before)
		}
	}
}

// late says that an item was missing when its time came. What the student's own
// check by the list found is no omission.
func (f *fold) late(p *late) {
	s := f.item(p.Item)
	if s == nil {
		return
	}
	s.late, s.verified = p.Found != "verification", p.Found == "verification"
	if s.verified && s.status == KindOmitted {
		s.status = "done"
		f.complete(f.index[p.Item])
	}
}

// again begins a phase anew: its items as they stand are kept as a round.
func (f *fold) again(phase string) {
	at := slices.IndexFunc(f.book.List.Phases, func(p checklist.Phase) bool { return p.ID == phase })
	mine := func(i int) bool { return f.places[i].Phase == at }
	touched := false
	for i := range f.items {
		touched = touched || mine(i) && f.items[i].status != ""
	}
	if !touched {
		return
	}
	f.begun++
	past := pastRound{phase: at, round: f.roundOf(at), items: slices.Clone(f.items)}
	f.judgeOrder(past.items)
	f.rounds = append(f.rounds, past)
	for i := range f.items {
		if mine(i) {
			f.items[i] = itemFold{}
		}
	}
	delete(f.closed, phase)
}

// roundOf is the round of a phase that is being worked, from 1.
func (f *fold) roundOf(phase int) int {
	n := 1
	for _, past := range f.rounds {
		if past.phase == phase {
			n++
		}
	}
	return n
}

func (f *fold) mark(h *held, item string) {
	s := f.item(item)
	if s == nil {
		return
	}
	s.atMs = h.AtMs
	switch h.Kind {
	case KindPrompt:
		s.prompts++
	case KindAssist:
		s.assists++
	case KindSelfCorrection:
		s.selfCorrected = true
	case KindOmitted, KindNotApplicable, KindShown:
		s.status, s.completed, s.implied = h.Kind, 0, false
	}
}

func (f *fold) error(h *held, p *errorMade) {
	i := slices.IndexFunc(ErrorKinds, func(k ErrorKind) bool { return k.Code == p.Code })
	e := Error{h.ID, p.Item, p.Code, ErrorKinds[i].Label, p.Severity, p.Words, cmp.Or(p.AtMs, h.AtMs)}
	if p.Code == usualError {
		e.Label, e.Words = cmp.Or(p.Words, e.Label), ""
	}
	f.state.Errors = append(f.state.Errors, e)
	if s := f.item(p.Item); s != nil {
		s.errors = append(s.errors, e)
	}
}

func (f *fold) decide(h *held, p *decision) {
	d := &Decision{p.Decision, p.Told, p.Why, h.By}
	for i := range f.state.Readings {
		if f.state.Readings[i].Event == p.About {
			f.state.Readings[i].Decision = d
		}
	}
	for i := range f.state.Findings {
		if f.state.Findings[i].Event == p.About {
			f.state.Findings[i].Decision = d
		}
	}
}

func (f *fold) time(h *held, p *timer) {
	if h.Kind == KindTimerStarted {
		f.state.Timers = append(f.state.Timers, Timer{
			Timer: p.Timer, Item: p.Item, StartedMs: h.AtMs, Running: true, device: h.Device,
		})
		return
	}
	for i := len(f.state.Timers) - 1; i >= 0; i-- {
		t := &f.state.Timers[i]
		if t.Timer != p.Timer || t.Item != p.Item || !t.Running {
			continue
		}
		t.Running = false
		if t.device == h.Device && h.AtMs >= t.StartedMs {
			tenths := (h.AtMs - t.StartedMs + 50) / 100
			seconds := float64(tenths) / 10
			t.Seconds = &seconds
			f.timed(p.Timer, p.Item, seconds)
		}
		return
	}
}

// timed holds a timer to the time of its type: what the person does may not run
// over its limit, and nothing that is waited for may be stopped before its least.
func (f *fold) timed(timer, item string, seconds float64) {
	if o := f.state.Opened; o != nil && o.Paper != nil {
		return // what is written down is not timed
	}
	s := f.item(item)
	for _, d := range f.book.Type.Durations {
		if s == nil || d.ID != timer {
			continue
		}
		code := ""
		switch {
		case d.Act && d.MaxSeconds > 0 && seconds > d.MaxSeconds:
			code = "timer-overrun"
		case d.MinSeconds > 0 && seconds < d.MinSeconds:
			code = "timer-cut-short"
		default:
			continue
		}
		s.spoken = append(s.spoken, Reason{code, 1, fmt.Sprintf("%g s of “%s”: %s.", seconds, d.Label, d.Words())})
	}
}

// read gives a reading its verdict under the conditions of its moment. Attempts
// count the tries of the same check at the same item, engine and round; one
// that could not be judged uses none up, and what a recorder measured is the try that
// was typed before it.
func (f *fold) read(h *held, p *reading) {
	r := Reading{
		Event: h.ID, Item: p.Item, Check: p.Check, Engine: max(p.Engine, 1), Round: 1, Reading: p.Reading,
		Source: p.Source, AtMs: h.AtMs,
	}
	if i, listed := f.index[p.Item]; listed {
		r.Round = f.roundOf(f.places[i].Phase)
	}
	r.Conditions = maps.Clone(f.state.Conditions)
	maps.Copy(r.Conditions, p.Conditions)
	f.onRunway(&r)
	key := try{r.Item, r.Check, r.Engine, r.Round}
	r.Attempt = f.attempts[key] + 1
	if r.Source == FromRecorder {
		r.Attempt = max(f.attempts[key], 1)
	}
	v := f.verdict(&r, f.asked[key])
	r.Verdict, r.Unusable = v.verdict, v.reason
	if r.judged() {
		f.attempts[key] = r.Attempt
		for _, found := range r.Verdict.Counted {
			if f.asked[key] == nil {
				f.asked[key] = map[check.Place]bool{}
			}
			f.asked[key][found.At()] = true
		}
		f.warmth(r)
	}
	if s := f.item(r.Item); s != nil && v.verdict != nil {
		for _, found := range v.verdict.Findings {
			if act, personal := personal[found.Code]; personal {
				s.spoken = append(s.spoken, Reason{act.code, act.level, found.Message})
			}
		}
	}
	f.state.Readings = append(f.state.Readings, r)
}

// onRunway puts the runway of the lesson into a reading that is taken on it.
func (f *fold) onRunway(r *Reading) {
	i, listed := f.index[r.Item]
	if !listed || !f.places[i].Item.OnRunway {
		return
	}
	r.Conditions["onRunway"] = true
	degrees, known := runwayDegrees(f.state.Opened)
	def, _ := check.Find(r.Check)
	if _, asks := form.Find(def.Fields, "runwayDeg"); !asks || !known || r.Reading["runwayDeg"] != nil {
		return
	}
	r.Reading = maps.Clone(r.Reading)
	r.Reading["runwayDeg"] = degrees
}

// runwayDegrees is the direction of a lesson's runway by its name: 20, or 20L, is
// 200°.
func runwayDegrees(o *Opened) (int, bool) {
	if o == nil {
		return 0, false
	}
	n, err := strconv.Atoi(strings.TrimRight(strings.TrimSpace(o.Runway), "LCR"))
	return n * 10, err == nil && n >= 1 && n <= 36
}

// judged says whether a reading could be judged at all.
func (r Reading) judged() bool { return r.Verdict != nil && r.Verdict.Outcome != check.Invalid }

// warmth notes which gauges were too low for power where they were read, and
// which are no longer.
func (f *fold) warmth(r Reading) {
	if r.Check != "gauges" {
		return
	}
	low := map[string]bool{}
	for _, found := range r.Verdict.Findings {
		low[found.Side] = low[found.Side] || found.Code == "gauge-low"
	}
	for name := range r.Reading {
		n := needle{name, r.Engine}
		if low[name] && r.Item != "" {
			if f.cold[r.Item] == nil {
				f.cold[r.Item] = map[needle]bool{}
			}
			f.cold[r.Item][n] = true
		}
		if !low[name] {
			for _, waits := range f.cold {
				delete(waits, n)
			}
		}
	}
}

func (f *fold) verdict(r *Reading, before map[check.Place]bool) verdictOrReason {
	text, err := json.Marshal(r.Conditions)
	key := verdictKey{r.Event, r.Attempt, placesText(before), string(text)}
	if v, ok := f.verdicts[key]; ok {
		return v
	}
	var given, conditions map[string]any
	if err == nil {
		given, err = numbers(r.Reading)
	}
	if err == nil {
		conditions, err = numbers(r.Conditions)
	}
	out := verdictOrReason{}
	if err == nil {
		var v check.Verdict
		v, err = check.Judge(r.Check, check.Request{
			AircraftType: f.book.Type.ID, Engine: r.Engine, Attempt: r.Attempt, Reading: given, Conditions: conditions,
			Before: placesOf(before),
		}, func(string) (aircraft.Type, bool) { return f.typeAt(r.Item, r.Conditions), true })
		out.verdict = &v
	}
	if err != nil {
		out = verdictOrReason{reason: err.Error()}
	}
	f.verdicts[key] = out
	return out
}

// placesOf are the findings of earlier tries; none is said where there was none.
func placesOf(before map[check.Place]bool) map[check.Place]bool {
	if before == nil {
		return map[check.Place]bool{}
	}
	return before
}

// placesText are places as one text.
func placesText(places map[check.Place]bool) string {
	var out []string
	for p := range places {
		out = append(out, p.Code+"."+p.Side)
	}
	slices.Sort(out)
	return strings.Join(out, " ")
}

// typeAt is the lesson's type with the limits that hold at an item: those of its
// power, of the power it raises to, and of the day.
func (l *Lesson) typeAt(item string, conditions map[string]any) aircraft.Type {
	i, listed := l.index[item]
	if !listed {
		return l.book.Type
	}
	return TypeAt(l.book.Type, l.places[i].Item, conditions)
}

// TypeAt is a type with the limits that hold at an item under conditions.
func TypeAt(t aircraft.Type, item checklist.Item, conditions map[string]any) aircraft.Type {
	at := check.At{Power: item.Power, Raises: item.Raises, Gauges: item.Gauges}
	if item.LimitFrom == "power-limit" && t.Power != nil {
		at.Unit = t.Power.Unit
		at.DayLimit, at.Unknown = calc.DayLimit(*t.Power, conditions)
	}
	return at.Of(t)
}

// judgeOrder finds items done out of order by the lesson's method, and broken
// precedences, which count whatever the method. Both items of a broken one are
// marked; what nobody observed breaks nothing.
func (f *fold) judgeOrder(items []itemFold) {
	var done []int
	for i := range items {
		if items[i].completed > 0 {
			done = append(done, i)
		}
	}
	slices.SortFunc(done, func(a, b int) int { return cmp.Compare(items[a].completed, items[b].completed) })
	flow := f.state.Opened != nil && f.state.Opened.Method == "flow-then-verify"
	positions := make([]int, len(done))
	for n, i := range done {
		items[i].completed = n + 1
		positions[n] = f.places[i].Row
		if flow {
			positions[n] = f.places[i].Phase
		}
		positions[n] += items[i].round * len(f.places) // a round begins behind all that was done before it
	}
	for n, blamed := range checklist.OutOfOrder(positions, true) {
		items[done[n]].outOfOrder = blamed
	}
	for _, i := range done {
		for _, before := range f.places[i].Item.After {
			first, now := f.thenOf(items, f.index[before], items[i].round)
			late := first.completed > items[i].completed
			if !f.bites(items, before, i) {
				continue
			}
			if (first.status == KindOmitted || late) && !slices.Contains(items[i].broken, before) {
				items[i].broken = append(items[i].broken, before)
			}
			if late && now {
				first.tooLateFor = append(first.tooLateFor, f.places[i].Item.ID)
			}
		}
	}
}

// bites reports whether an item has to wait for another: one that closes what a
// third opens is waited for only once that was done.
func (f *fold) bites(items []itemFold, before string, at int) bool {
	opens := f.places[f.index[before]].Item.Closes
	if opens == "" {
		return true
	}
	o, listed := f.index[opens]
	if !listed {
		return true
	}
	begun, _ := f.thenOf(items, o, items[at].round)
	return begun.completed > 0 && begun.completed < items[at].completed
}

// thenOf is an item as it stood in a round: of a phase that was begun again
// since, the kept one, which has been judged itself; now says that it is among
// the items.
func (f *fold) thenOf(items []itemFold, at, round int) (_ *itemFold, now bool) {
	for _, past := range f.rounds[min(round, len(f.rounds)):] {
		if past.phase == f.places[at].Phase {
			return &past.items[at], false
		}
	}
	return &items[at], true
}

func (f *fold) settleItems() {
	read := map[string]bool{}
	for _, r := range f.state.Readings {
		read[r.Item] = true
	}
	f.state.Items = make([]ItemState, len(f.places))
	for _, phase := range f.book.List.Phases {
		f.state.Phases = append(f.state.Phases, PhaseState{
			ID: phase.ID, Title: phase.Title, Total: len(phase.Items), Closed: f.closed[phase.ID],
		})
	}
	for i := range f.places {
		out := f.settle(i, &f.items[i])
		phase := &f.state.Phases[f.places[i].Phase]
		if out.Status != "" {
			phase.Marked++
			if out.Implied {
				phase.Passed++
			}
			if f.places[i].Item.Check != "" && !read[out.ID] && (out.Status == "done" || out.Status == "wrong") {
				phase.Unread++
			}
		}
		if out.Prompts > 0 {
			phase.Prompted++
		}
		if out.Level != nil {
			phase.Levels[*out.Level]++
		}
		f.state.Items[i] = out
	}
	for _, past := range f.rounds {
		r := Round{Phase: f.book.List.Phases[past.phase].ID, Round: past.round, Items: []ItemState{}}
		for i := range past.items {
			if f.places[i].Phase == past.phase {
				r.Items = append(r.Items, f.settle(i, &past.items[i]))
			}
		}
		f.state.Rounds = append(f.state.Rounds, r)
	}
}

// settle is an item with the level that its events force.
func (f *fold) settle(i int, s *itemFold) ItemState {
	place := f.places[i]
	out := ItemState{
		ID: place.Item.ID, Phase: f.book.List.Phases[place.Phase].ID, Position: place.Position, Status: s.status,
		Implied: s.implied,
		Order:   s.completed, OutOfOrder: s.outOfOrder, Broken: append([]string{}, s.broken...),
		TooLateFor: s.tooLateFor,
		Prompts:    s.prompts, Assists: s.assists, SelfCorrected: s.selfCorrected || s.verified,
		Value: s.value, Response: s.response, Override: s.override, AtMs: s.atMs,
	}
	if f.state.Opened.Run() {
		// Nobody is graded, and nothing has to come before anything else.
		out.Override, out.OutOfOrder, out.Reasons = nil, false, []Reason{}
		out.Mark = map[string]string{"done": "done", "wrong": "wrong", KindNotApplicable: "not-fitted"}[s.status]
		return out
	}
	out.Proposed, out.Reasons = s.propose(place.Item.Critical,
		func(id string) string { return f.places[f.index[id]].Item.Challenge })
	out.Level = out.Proposed
	if s.override != nil {
		level := s.override.Level
		out.Level = &level
	}
	out.Mark = s.shape(out.Proposed)
	return out
}

// shape is the mark that is drawn for the item: its worst deviation.
func (s *itemFold) shape(proposed *int) string {
	switch {
	case s.status == KindNotApplicable:
		return "not-fitted"
	case s.status == KindShown:
		return "shown"
	case len(s.broken) > 0, proposed != nil && *proposed == 0 && s.status != KindOmitted:
		return "unsafe"
	case s.status == KindOmitted:
		return "left-out"
	case s.status == "wrong", proposed != nil && *proposed == 1 && s.assists == 0:
		return "wrong"
	case s.assists > 0:
		return "helped"
	case s.prompts > 0:
		return "prompted"
	case s.selfCorrected, s.verified:
		return "self-fixed"
	case s.late:
		return "late"
	case s.outOfOrder:
		return "out-of-order"
	case s.implied:
		return "passed"
	case proposed != nil && *proposed == 3:
		return "self-fixed"
	case s.status == "done":
		return "done"
	}
	return ""
}

// problems lists what keeps the lesson from being signed: what is open, and what
// cannot be.
func (f *fold) problems() {
	add := func(item, event, format string, args ...any) {
		f.state.Problems = append(f.state.Problems, Problem{item, event, fmt.Sprintf(format, args...)})
	}
	if f.state.Opened == nil {
		add("", "", "The event that opens the lesson has not arrived.")
	}
	for i, r := range f.state.Readings {
		if !r.Open {
			continue
		}
		def, _ := check.Find(r.Check)
		what := "“" + def.Title + "”"
		switch {
		case r.Decision != nil:
			add(r.Item, r.Event, lackWords[r.Decision.lacks(f.state.clearedSince(i))], what)
		case r.Verdict.Decision == check.Stop:
			add(r.Item, r.Event, "%s asked to stop, and nobody has decided what follows.", what)
		default:
			add(r.Item, r.Event, "%s asked to be done again and was not, or did not get better: decide what follows.",
				what)
		}
	}
	for _, e := range f.state.Errors {
		if e.Code == notedError {
			add(e.Item, e.Event, "An error was noted and is not said yet.")
		}
	}
	for _, found := range f.state.Findings {
		switch d := found.Decision; {
		case found.Noted:
			add(found.Item, found.Event, "A finding was noted and is not said yet.")
		case d == nil:
			add(found.Item, found.Event, "A finding has no decision: %s", found.Words)
		case d.lacks(f.state.clearable(found)) != "":
			add(found.Item, found.Event, lackWords[d.lacks(f.state.clearable(found))], "the finding “"+found.Words+"”")
		}
	}
	for _, end := range f.state.HourMeter {
		for _, start := range f.state.HourMeter {
			if end.Meter == start.Meter && end.When == "end" && start.When == "start" && end.Value < start.Value {
				add("", "", "The %s meter ends at %g, below the %g it began with.", end.Meter, end.Value, start.Value)
			}
		}
	}
}
