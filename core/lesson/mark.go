package lesson

import (
	"encoding/json"
	"slices"
	"strconv"
	"strings"

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

// touches are what a mark becomes, by its name. What cannot be kept is a form.Problem that
// names the field and says in words what is missing.
var touches = map[string]func(t *touch) error{"word": (*touch).word}

// Touch makes the events of one touch: they share a moment and are undone
// together. Nothing is taken in: Add does that. An undo of nothing, and a touch
// on the item that is live already, make none.
func (s *Session) Touch(state State, m Mark, stamp Stamp) ([]Event, error) {
	becomes, known := touches[m.Name]
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
	if err := becomes(t); err != nil {
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

func itoa(n int) string { return strconv.Itoa(n) }

func without(text, part string) string { return strings.Replace(text, part, "", 1) }

// asText is a number as text; false for anything else.
func asText(v any) (string, bool) {
	data, err := json.Marshal(v)
	text := string(data)
	return text, err == nil && text != "" && strings.Trim(text, "-.0123456789") == ""
}
