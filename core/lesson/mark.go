package lesson

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
)

// Mark is what a person touched: its name, and what goes with it. An item that
// is not named is the live one.
type Mark struct {
	Name string `json:"name"`
	Item string `json:"item,omitempty"`
	// Code and Severity are of an error; an empty severity is the usual one.
	Code     string `json:"code,omitempty"`
	Severity string `json:"severity,omitempty"`
	// Words are of an error, a finding, a note or a question.
	Words string `json:"words,omitempty"`
	// About is the reading that a finding rests on, or the reading or finding
	// that is decided on.
	About    string `json:"about,omitempty"`
	Decision string `json:"decision,omitempty"`
	Told     string `json:"told,omitempty"`
	Why      string `json:"why,omitempty"`
	// Bank and Elements are those of a question of the bank; Level is the answer's
	// or the one that stands over the proposed.
	Bank     string   `json:"bank,omitempty"`
	Elements []string `json:"elements,omitempty"`
	Level    *int     `json:"level,omitempty"`
	// Timer is the timer that is started, or stopped when it runs.
	Timer string `json:"timer,omitempty"`
	// Draft is what was typed into an instrument.
	Draft form.Draft `json:"draft,omitempty"`
	// Heard are the elements of a spoken brief that were heard.
	Heard []string `json:"heard,omitempty"`
	// Phase is the one that is passed or begun again.
	Phase string `json:"phase,omitempty"`
	// Conditions are those that have changed, in the names and units of a check;
	// Day are those as they were typed.
	Conditions map[string]any      `json:"conditions,omitempty"`
	Day        *checklist.TypedDay `json:"day,omitempty"`
	// Place is where the lesson is worked.
	Place string `json:"place,omitempty"`
	// Meter, When and Hours are a value read off an hour meter.
	Meter string   `json:"meter,omitempty"`
	When  string   `json:"when,omitempty"`
	Hours *float64 `json:"hours,omitempty"`
	// Pictures are those of a finding, by their SHA-256.
	Pictures []string `json:"pictures,omitempty"`
	// Levels are how a student saw each phase.
	Levels map[string]int `json:"levels,omitempty"`
	// Person is the account of an observer; Words are the name.
	Person string `json:"person,omitempty"`
}

// Stamp is what the device adds to the events of one touch: who it is, the last
// sequence it gave in this lesson, when, and new ids.
type Stamp struct {
	Device string
	Seq    int64
	AtMs   int64
	Wall   string
	ID     func() string
}

// touch is one touch becoming events.
type touch struct {
	*Session
	state  State
	stamp  Stamp
	mark   Mark
	events []Event
}

func (t *touch) add(kind string, payload any) string {
	data, err := json.Marshal(payload)
	if err != nil {
		data = []byte("null") // payloads are plain values; a null is refused by its kind
	}
	n := int64(len(t.events) + 1)
	e := Event{ID: t.stamp.ID(), Device: t.stamp.Device, Seq: t.stamp.Seq + n, Counter: t.LastCounter() + n,
		AtMs: t.stamp.AtMs, Wall: t.stamp.Wall,
		Kind: kind, V: 1, Payload: data}
	t.events = append(t.events, e)
	return e.ID
}

// means are the meanings of marks. What cannot be kept is an form.Problem that
// names the field and says in words what is missing.
var means = map[string]func(t *touch) error{
	"done":       func(t *touch) error { return t.result("done") },
	"wrong":      func(t *touch) error { return t.result("wrong") },
	"prompted":   func(t *touch) error { return t.after(KindPrompt) },
	"helped":     func(t *touch) error { return t.after(KindAssist) },
	"self-fixed": (*touch).selfFixed,
	"left-out":   func(t *touch) error { return t.instead(KindOmitted) },
	"not-fitted": func(t *touch) error { return t.instead(KindNotApplicable) },
	"shown":      func(t *touch) error { return t.instead(KindShown) },
	"control":    (*touch).control,
	"open":       (*touch).open,
	"look":       (*touch).look,
	"pass-phase": (*touch).passPhase,
	"round":      (*touch).round,
	"conditions": (*touch).conditions,
	"practice":   func(t *touch) error { t.add(KindPractice, practice{t.mark.Place}); return nil },
	"hours":      (*touch).hours,
	"observer":   (*touch).observer,
	"undo":       (*touch).undo,
	"error":      (*touch).error,
	"finding":    (*touch).finding,
	// Marked with one touch while there is no hand for words; word puts it into
	// words later.
	"noted-error": func(t *touch) error {
		t.add(KindError, errorMade{Item: t.mark.Item, Code: notedError, Severity: "slip"})
		return nil
	},
	"noted-finding": func(t *touch) error {
		t.add(KindFinding, finding{Item: t.mark.Item, Words: "To be said in the debrief.", Noted: true})
		return nil
	},
	"word": (*touch).word,
	"unnote": func(t *touch) error {
		t.add(KindUndo, undo{[]string{t.mark.About}})
		return nil
	},
	"decide":   (*touch).decide,
	"reading":  (*touch).reading,
	"oral":     (*touch).oral,
	"timer":    (*touch).timer,
	"note":     func(t *touch) error { return t.note(KindNote) },
	"brief":    (*touch).brief,
	"comment":  (*touch).comment,
	"override": (*touch).override,
	"correct":  (*touch).correct,
	"end":      func(t *touch) error { t.add(KindEnded, struct{}{}); return nil },
	"self-grade": func(t *touch) error {
		t.add(KindSelfGrade, selfGrade{t.mark.Levels, strings.TrimSpace(t.mark.Words)})
		return nil
	},
}

// Touch makes the events of one touch: they share a moment and are undone
// together. Nothing is taken in: Add does that. An undo of nothing, and a touch
// on the item that is live already, make none.
func (s *Session) Touch(state State, m Mark, stamp Stamp) ([]Event, error) {
	mean, known := means[m.Name]
	if !known {
		return nil, form.Bad("name", "%q is no mark", form.Clip(m.Name))
	}
	if m.Item == "" && len(s.places) > 0 && m.Name != "oral" && m.Name != "comment" {
		m.Item = s.places[s.Live(state)].Item.ID
	}
	if _, listed := s.index[m.Item]; m.Item != "" && !listed {
		return nil, form.Bad("item", "%q is not on the list", form.Clip(m.Item))
	}
	t := &touch{Session: s, state: state, stamp: stamp, mark: m}
	if err := mean(t); err != nil {
		return nil, err
	}
	for _, e := range t.events {
		if err := e.Validate(); err != nil {
			return nil, err
		}
	}
	return t.events, nil
}

func (t *touch) item() itemMark { return itemMark{t.mark.Item} }

// pass passes the unmarked items from the live one up to a place as implied:
// only what deviates is marked, and what the school lets stop it stays unobserved.
func (t *touch) pass(until int) {
	if t.state.Opened.Run() {
		return // a run works the checks that it needs, and passes none
	}
	for at := t.Live(t.state); at < until; at++ {
		if t.state.Items[at].Status == "" && t.state.stops(t.places[at].Item) {
			continue
		}
		if t.state.Items[at].Status == "" {
			t.add(KindItemResult, itemResult{Item: t.places[at].Item.ID, Result: "done", Implied: true})
			t.takeOff(at)
		}
		if at+1 < len(t.places) && t.places[at+1].Phase != t.places[at].Phase {
			t.add(KindPhaseClosed, phaseClosed{t.book.List.Phases[t.places[at].Phase].ID})
		}
	}
}

// passTo passes up to a place, and no further than what stops the passing: that is
// then open.
func (t *touch) passTo(place int) {
	for at := t.Live(t.state); at < place && !t.state.Opened.Run(); at++ {
		if t.state.Items[at].Status == "" && t.state.stops(t.places[at].Item) {
			place = at
		}
	}
	t.pass(place)
	if place < len(t.places) && t.places[place].Item.ID != t.state.Live {
		t.add(KindItemOpened, itemOpened{t.places[place].Item.ID})
	}
}

// result marks the item and goes on to the next.
func (t *touch) result(result string) error {
	t.pass(t.index[t.mark.Item])
	t.add(KindItemResult, itemResult{Item: t.mark.Item, Result: result})
	t.takeOff(t.index[t.mark.Item])
	t.next()
	return nil
}

// takeOff starts the time on the tank once, where the item at a place counts it.
func (t *touch) takeOff(at int) {
	item := t.places[at].Item
	if slices.Contains(item.Timers, TankTimer) &&
		!slices.ContainsFunc(t.state.Timers, func(r Timer) bool { return r.Timer == TankTimer }) {
		t.add(KindTimerStarted, timer{Timer: TankTimer, Item: item.ID})
	}
}

// after marks the item done after a word or a hand.
func (t *touch) after(kind string) error {
	t.pass(t.index[t.mark.Item])
	t.add(kind, t.item())
	return t.result("done")
}

func (t *touch) instead(kind string) error {
	t.pass(t.index[t.mark.Item])
	t.add(kind, t.item())
	t.next()
	return nil
}

// selfFixed: in a flow the student's own check by the list found the item; line
// by line the student noticed alone.
func (t *touch) selfFixed() error {
	if t.state.Opened != nil && t.state.Opened.Method == "flow-then-verify" {
		t.add(KindLate, late{Item: t.mark.Item, Found: "verification"})
	} else {
		t.add(KindSelfCorrection, t.item())
	}
	return t.result("done")
}

// next opens the item after this one, and closes a phase that it leaves.
func (t *touch) next() {
	at := t.index[t.mark.Item]
	if at+1 >= len(t.places) {
		return
	}
	t.add(KindItemOpened, itemOpened{t.places[at+1].Item.ID})
	if t.places[at+1].Phase != t.places[at].Phase {
		t.add(KindPhaseClosed, phaseClosed{t.book.List.Phases[t.places[at].Phase].ID})
	}
}

// open opens an item; a later one passes what is unmarked before it as done.
func (t *touch) open() error {
	at := t.index[t.mark.Item]
	if at == t.Live(t.state) && t.state.Live == t.mark.Item {
		return nil
	}
	t.passTo(at)
	return nil
}

// look opens an item as it stands, to decide there what is open: nothing is passed by it.
func (t *touch) look() error {
	if t.state.Live != t.mark.Item {
		t.add(KindItemOpened, itemOpened{t.mark.Item})
	}
	return nil
}

// passPhase passes the rest of the live item's phase, and opens the next.
func (t *touch) passPhase() error {
	at := t.Live(t.state)
	end := at
	for end < len(t.places) && t.places[end].Phase == t.places[at].Phase {
		end++
	}
	t.passTo(end)
	return nil
}

// round begins a phase again: the live item's, where none is named.
func (t *touch) round() error {
	phase := t.mark.Phase
	if phase == "" {
		phase = t.book.List.Phases[t.places[t.index[t.mark.Item]].Phase].ID
	}
	for _, p := range t.places {
		if t.book.List.Phases[p.Phase].ID == phase {
			t.add(KindRound, round{phase})
			t.add(KindItemOpened, itemOpened{p.Item.ID})
			return nil
		}
	}
	return form.Bad("phase", "%q is not on the list", form.Clip(phase))
}

// control is the instructor's hand on the controls: where it had to be, level 0.
func (t *touch) control() error {
	level := 1
	if t.mark.Level != nil {
		level = *t.mark.Level
	}
	if strings.TrimSpace(t.mark.Why) == "" {
		return form.Bad("why", "is not said yet: why the control was taken")
	}
	t.add(KindControlTaken, controlTaken{Item: t.mark.Item, Why: strings.TrimSpace(t.mark.Why), Level: level})
	return nil
}

func (t *touch) conditions() error {
	if typed := t.mark.Day; typed != nil {
		conditions, err := typed.Conditions()
		if err != nil {
			return err
		}
		t.mark.Conditions = conditions
	}
	t.add(KindConditions, conditionsChanged{t.mark.Conditions})
	return nil
}

// hours keeps a value read off an hour meter; the end is not below the start.
func (t *touch) hours() error {
	m := t.mark
	if m.Hours == nil {
		return form.Bad("hours", "is not read yet")
	}
	for _, h := range t.state.HourMeter {
		if h.Meter == m.Meter &&
			(m.When == "end" && h.When == "start" && *m.Hours < h.Value || m.When == "start" && h.When == "end" &&
				*m.Hours > h.Value) {
			return form.Bad("hours", "would make the meter run backwards: it was read as %g at the %s", h.Value, h.When)
		}
	}
	t.add(KindHourMeter, hourMeter{Meter: m.Meter, When: m.When, Value: *m.Hours})
	t.events[len(t.events)-1].V = 2
	return nil
}

// undo takes back the last touch; with two who mark, the last of this device.
func (t *touch) undo() error {
	last := t.state.LastTouch
	if own := t.state.touches[t.stamp.Device]; len(own) > 0 || len(t.state.Observers) > 0 {
		last = own
	}
	if len(last) > 0 {
		t.add(KindUndo, undo{last})
	}
	return nil
}

// observer lets another instructor mark as well.
func (t *touch) observer() error {
	if t.mark.Person == "" {
		return form.Bad("person", "is not chosen yet")
	}
	t.add(KindObserver, observer{t.mark.Person, t.mark.Words})
	return nil
}

func (t *touch) error() error {
	severity := t.mark.Severity
	if i := slices.IndexFunc(ErrorKinds, func(k ErrorKind) bool { return k.Code == t.mark.Code }); severity == "" &&
		i >= 0 {
		severity = ErrorKinds[i].Severity
	}
	t.add(KindError, errorMade{
		Item: t.mark.Item, Code: t.mark.Code, Severity: severity, Words: strings.TrimSpace(t.mark.Words),
	})
	return nil
}

// finding writes down something abnormal together with what was decided.
func (t *touch) finding() error {
	return t.writeFinding(t.state.DecisionsWith(Finding{Item: t.mark.Item, Reading: t.mark.About, AtMs: t.stamp.AtMs}))
}

// writeFinding writes down a finding with one of the decisions that are open.
func (t *touch) writeFinding(open []string) error {
	m := t.mark
	switch {
	case strings.TrimSpace(m.Words) == "":
		return form.Bad("words", "is not said yet")
	case m.Decision == "":
		return form.Bad("decision", "is not chosen yet")
	}
	if err := m.complete(); err != nil {
		return err
	}
	if slices.Contains(Decisions, m.Decision) && !slices.Contains(open, m.Decision) {
		return form.Bad("decision", "needs a later try of the check that is without the finding: test again first")
	}
	id := t.add(KindFinding, finding{
		Item: m.Item, Reading: m.About, Words: strings.TrimSpace(m.Words), Pictures: m.Pictures,
	})
	t.add(KindDecision, decision{
		About: id, Decision: m.Decision, Told: strings.TrimSpace(m.Told), Why: strings.TrimSpace(m.Why),
	})
	return nil
}

// word puts what was noted into words: what was noted is taken back, and said
// in full as of its own moment.
func (t *touch) word() error {
	about := t.mark.About
	for _, e := range t.state.Errors {
		if e.Event != about {
			continue
		}
		if t.mark.Code == "" {
			return form.Bad("code", "is not chosen yet")
		}
		t.mark.Item = e.Item
		t.add(KindUndo, undo{[]string{about}})
		if err := t.error(); err != nil {
			return err
		}
		return t.amend(func(m map[string]any) { m["atMs"] = e.AtMs })
	}
	for _, f := range t.state.Findings {
		if f.Event != about {
			continue
		}
		t.mark.Item, t.mark.About = f.Item, f.Reading
		t.mark.Pictures = append(slices.Clone(f.Pictures), t.mark.Pictures...)
		open := t.state.DecisionsFor(about)
		trial := *t
		trial.events = nil
		if err := trial.writeFinding(open); err != nil {
			return err
		}
		t.add(KindUndo, undo{[]string{about}})
		if err := t.writeFinding(open); err != nil {
			return err
		}
		return t.amend(func(m map[string]any) { m["atMs"] = f.AtMs })
	}
	return form.Bad("about", "names no error and no finding")
}

// amend changes the payload of the error or finding that was just added.
func (t *touch) amend(change func(payload map[string]any)) error {
	for i, e := range t.events {
		if e.Kind != KindError && e.Kind != KindFinding {
			continue
		}
		var payload map[string]any
		if err := json.Unmarshal(e.Payload, &payload); err != nil {
			return err
		}
		change(payload)
		data, err := json.Marshal(payload)
		if err != nil {
			return err
		}
		t.events[i].Payload = data
	}
	return nil
}

// complete reports what a decision still needs: who was told, and why, unless
// the aircraft stays on the ground.
func (m Mark) complete() error {
	switch d := (Decision{Decision: m.Decision, Told: m.Told, Why: m.Why}); d.lacks(true) {
	case lacksTold:
		return form.Bad("told", "is not named yet: say who was told, a person")
	case lacksWhy:
		return form.Bad("why", "is not said yet in words: only “grounded” needs no reason")
	}
	return nil
}

// decide is a person's decision on a reading or a finding.
func (t *touch) decide() error {
	m := t.mark
	if err := m.complete(); err != nil {
		return err
	}
	if slices.Contains(Decisions, m.Decision) && !slices.Contains(t.state.DecisionsFor(m.About), m.Decision) {
		return form.Bad("decision", "needs a later try of the check that is without the finding: test again first")
	}
	t.add(KindDecision, decision{
		About: m.About, Decision: m.Decision, Told: strings.TrimSpace(m.Told), Why: strings.TrimSpace(m.Why),
	})
	return nil
}

// reading keeps what was typed into the item's instrument.
func (t *touch) reading() error {
	place := t.places[t.index[t.mark.Item]]
	def, measured := check.Find(place.Item.Check)
	if !measured {
		return form.Bad("item", "%q is not measured", t.mark.Item)
	}
	built := def.Form(t.station(t.state, place, 1), t.mark.Draft).Build(t.mark.Draft)
	switch {
	case len(built.Missing) > 0:
		return form.Bad("draft."+built.Missing[0], "is still empty")
	case len(built.Wrong) > 0:
		for path, why := range built.Wrong {
			return form.Bad("draft."+path, "%s", why)
		}
	}
	t.add(KindReading, reading{
		Item: t.mark.Item, Check: def.Name, Engine: max(place.Item.Engine, 1), Reading: built.Object,
	})
	return nil
}

func (t *touch) oral() error {
	if t.mark.Level == nil {
		return form.Bad("level", "is not chosen yet")
	}
	t.add(KindOral, oral{
		Item: t.mark.Item, Question: t.mark.Words, Bank: t.mark.Bank, Elements: t.mark.Elements, Level: *t.mark.Level,
	})
	return nil
}

// timer starts a timer, or stops it where it runs.
func (t *touch) timer() error {
	kind := KindTimerStarted
	for _, running := range t.state.Timers {
		if running.Timer == t.mark.Timer && running.Item == t.mark.Item && running.Running {
			kind = KindTimerStopped
		}
	}
	t.add(kind, timer{Timer: t.mark.Timer, Item: t.mark.Item})
	return nil
}

func (t *touch) note(kind string) error {
	t.add(kind, note{Item: t.mark.Item, Words: strings.TrimSpace(t.mark.Words)})
	return nil
}

// brief notes which elements of a spoken brief were heard.
func (t *touch) brief() error {
	elements := BriefElements(t.book.Type)
	var missed []string
	heard := 0
	for _, e := range elements {
		if slices.Contains(t.mark.Heard, e.ID) {
			heard++
		} else {
			missed = append(missed, e.Label)
		}
	}
	words := fmt.Sprintf("Brief: %d of %d heard.", heard, len(elements))
	if len(missed) > 0 {
		words = fmt.Sprintf("Brief: %d of %d heard; not heard: %s.", heard, len(elements), strings.Join(missed, ", "))
	}
	t.add(KindNote, note{Item: t.mark.Item, Words: words})
	return nil
}

// comment is a note of the debrief, and an addendum once the lesson is signed.
func (t *touch) comment() error {
	kind := KindDebriefNote
	if len(t.state.Seals) > 0 {
		kind = KindAddendum
	}
	return t.note(kind)
}

func (t *touch) override() error {
	switch {
	case t.mark.Level == nil:
		return form.Bad("level", "is not chosen yet")
	case strings.TrimSpace(t.mark.Why) == "":
		return form.Bad("why", "is not given yet: say why the proposed level does not stand")
	}
	t.add(KindOverride, override{Item: t.mark.Item, Level: *t.mark.Level, Reason: strings.TrimSpace(t.mark.Why)})
	return nil
}

func itoa(n int) string { return strconv.Itoa(n) }

func without(text, part string) string { return strings.Replace(text, part, "", 1) }

// asText is a number as text; false for anything else.
func asText(v any) (string, bool) {
	data, err := json.Marshal(v)
	text := string(data)
	return text, err == nil && text != "" && strings.Trim(text, "-.0123456789") == ""
}
