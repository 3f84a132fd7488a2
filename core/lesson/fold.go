package lesson

import (
	"bytes"
	"cmp"
	"crypto/sha256"
	"fmt"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/calc"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
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

func (f *fold) item(id string) *itemFold {
	if i, ok := f.index[id]; ok {
		return &f.items[i]
	}
	return nil
}

// apply takes one event into the state.
func (f *fold) apply(h *held) {
	f.state.DurationMs = max(f.state.DurationMs, h.AtMs)
	if h.payload == nil {
		f.state.Unknown++
		return
	}
	h.payload.apply(f, h)
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
