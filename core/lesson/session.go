package lesson

import (
	"slices"
	"strings"

	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// Session is a lesson being worked on, or looked at: what a touch means as
// events, and what is shown of it. Browser, server, demo and practice stand
// all work a lesson through it.
type Session struct {
	*Lesson
	// Units are those that numbers are typed and shown in.
	Units quantity.Units
	// Device is the one that it is worked on: of two that mark one lesson each
	// keeps its place and takes back its own touches.
	Device string
	rows   []Row
}

// NewSession works on a lesson.
func NewSession(l *Lesson) *Session { return &Session{Lesson: l, rows: rowsOf(l)} }

// Row is an item as it is shown. Items that are worked once an engine, side by
// side, share a row: Mates are all of them.
type Row struct {
	Item   string `json:"item"`
	Phase  int    `json:"phase"`
	Number string `json:"number"`
	// Challenge is without the engine's name, Engine that name, such as left.
	Challenge string `json:"challenge"`
	Engine    string `json:"engine,omitempty"`
	Mates     []int  `json:"mates"`
	// Moving says that the aircraft moves under its own power in the phase.
	Moving bool `json:"moving"`
	// Kind says what the item is: measured, critical.
	Kind string `json:"kind"`
	// Before are the challenges of what must come first.
	Before []string `json:"before"`
	// Timers are the durations timed at the item that no box of its check counts.
	Timers []string `json:"timers"`
	// Why are the reasons that it is not as printed, or on the list at all.
	Why []checklist.Reason `json:"why"`
}

func rowsOf(l *Lesson) []Row {
	rows := make([]Row, len(l.places))
	number, phase := 0, -1
	mates := []int{}
	for i, p := range l.places {
		if p.Phase != phase {
			number, phase = 0, p.Phase
		}
		if p.Row == p.Position {
			number++
			mates = []int{}
		}
		mates = append(mates, i)
		for _, m := range mates {
			rows[m].Mates = mates
		}
		row := &rows[i]
		row.Item, row.Phase, row.Number = p.Item.ID, p.Phase, itoa(p.Phase+1)+"."+itoa(number)
		row.Moving = slices.Contains(moving, l.book.List.Phases[p.Phase].ID)
		row.Challenge, row.Kind, row.Before, row.Why = p.Item.Challenge, kindOf(p.Item), []string{}, []checklist.Reason{}
		if p.Item.Engine > 0 {
			row.Engine = l.book.Type.EngineName(p.Item.Engine)
			row.Challenge = without(row.Challenge, ", "+row.Engine)
		}
		for _, id := range p.Item.After {
			if at, known := l.index[id]; known {
				row.Before = append(row.Before, l.places[at].Item.Challenge)
			}
		}
		row.Timers = slices.DeleteFunc(append([]string{}, p.Item.Timers...),
			func(id string) bool { return counted(p.Item.Check, id) })
		for _, r := range l.book.Reasons {
			if (r.Item == p.Item.Of || p.Item.Of == "" && r.Item == p.Item.ID) &&
				slices.Contains([]string{"added", "changed", "included"}, r.Kind) {
				row.Why = append(row.Why, r)
			}
		}
	}
	return rows
}

// counted says whether a box of the check counts the duration.
func counted(name, duration string) bool {
	def, _ := check.Find(name)
	return slices.ContainsFunc(def.Fields, func(f form.Field) bool {
		return f.Timer == duration ||
			slices.ContainsFunc(f.Each, func(each form.Field) bool { return each.Timer == duration })
	})
}

func kindOf(item checklist.Item) string {
	switch {
	case item.Check != "" && item.Critical:
		return "measured, critical"
	case item.Check != "":
		return "measured"
	case item.Critical:
		return "critical"
	}
	return "item"
}

// Rows are the items as they are shown, in the order of the list.
func (s *Session) Rows() []Row {
	rows := slices.Clone(s.rows)
	for i, row := range rows {
		rows[i].Challenge, rows[i].Why = s.Units.Say(row.Challenge), slices.Clone(row.Why)
		for n, r := range row.Why {
			rows[i].Why[n] = r.In(s.Units)
		}
	}
	return rows
}

// Live is the place of the item that is worked: the one last opened, here where
// anything was, else the first that is not marked.
func (s *Session) Live(state State) int {
	for _, item := range []string{state.lives[s.Device], state.Live} {
		if at, known := s.index[item]; known {
			return at
		}
	}
	for i, item := range state.Items {
		if item.Status == "" {
			return i
		}
	}
	return 0
}

// Panel is the instrument of a measured item as it stands: what is being typed,
// or what was kept last.
type Panel struct {
	check.Instrument
	// Entering says that boxes are to be filled; Draft is what they begin with
	// when nothing has been typed yet.
	Entering bool       `json:"entering"`
	Draft    form.Draft `json:"draft"`
	// Event is the reading event that is shown, when none is being entered.
	Event    string     `json:"event,omitempty"`
	Unusable string     `json:"unusable,omitempty"`
	Decision *Decision  `json:"decision,omitempty"`
	Try      int        `json:"try"`
	TryWords string     `json:"tryWords"`
	Engine   string     `json:"engine,omitempty"`
	Source   string     `json:"source"`
	Earlier  []Try      `json:"earlier"`
	Beside   []Neighbor `json:"beside"`
	// Asks says that the verdict asks for a person's decision.
	Asks bool `json:"asks"`
	// Stops says that it is a stop that asks, and not one more try; Decisions are
	// those that can be made as things stand.
	Stops     bool     `json:"stops"`
	Decisions []string `json:"decisions"`
	// Needs says what a decision that cannot be made yet needs; empty for none.
	Needs string `json:"needs,omitempty"`
}

// Try is one earlier reading, in words.
type Try struct {
	Words   string `json:"words"`
	Said    string `json:"said"`
	Finding string `json:"finding,omitempty"`
}

// Neighbor is what the engine beside this one last showed.
type Neighbor struct {
	Engine string `json:"engine"`
	Try    *Try   `json:"try,omitempty"`
}

// Panel shows a measured item. A draft is what has been typed, an empty one
// begins another reading; nil when nothing is being typed, and the last reading
// is shown where there is one. The error
// says that the item has no instrument.
func (s *Session) Panel(state State, item string, draft form.Draft) (Panel, error) {
	at, known := s.index[item]
	if !known {
		return Panel{}, form.Bad("item", "%q is not on the list", form.Clip(item))
	}
	place := s.places[at]
	def, measured := check.Find(place.Item.Check)
	if !measured {
		return Panel{}, form.Bad("item", "%q is not measured", item)
	}
	kept := s.readingsOf(state, place)
	attempt := 1
	for _, r := range kept {
		if r.judged() {
			attempt++
		}
	}
	station := s.station(state, place, attempt)
	station.Before = askedBefore(kept)
	p := Panel{
		Try: attempt, Engine: s.rows[at].Engine, Source: without(s.book.Type.Source, "fictional type, "),
		Earlier: []Try{}, Beside: []Neighbor{}, Decisions: []string{},
	}
	p.Entering = draft != nil || len(kept) == 0
	if p.Entering {
		p.Draft = draft
		if len(draft) == 0 {
			p.Draft = def.Fresh(station)
			s.known(state, def, station, p.Draft)
			if degrees, named := runwayDegrees(state.Opened); named && place.Item.OnRunway {
				p.Draft["runwayDeg"] = itoa(degrees)
			}
		}
		p.Instrument = def.Fill(station, p.Draft)
	} else {
		last := kept[len(kept)-1]
		station.Attempt, p.Try = last.Attempt, last.Attempt
		station.Conditions, _ = numbers(last.Conditions)
		p.Instrument = def.Show(station, last.Reading)
		if last.Verdict != nil { // as it was judged when it was kept
			judged := check.JudgedBy(*last.Verdict, s.Units)
			if last.Verdict.Tiles == nil {
				judged.Tiles = p.Tiles
			}
			p.Judged = judged
		}
		p.Event, p.Unusable, p.Decision = last.Event, last.Unusable, last.Decision
		p.Asks, p.Decisions = last.Open, state.DecisionsFor(last.Event)
		if p.Asks && !slices.Contains(p.Decisions, "cleared") {
			p.Needs = "“Cleared and tested again” needs another try without the finding."
		}
		p.Stops = last.Verdict != nil && last.Verdict.Decision == check.Stop
		kept = kept[:len(kept)-1]
	}
	p.TryWords = tryWords(p.Try)
	for _, r := range kept {
		p.Earlier = append(p.Earlier, s.try(def, station, r))
	}
	for _, m := range s.rows[at].Mates {
		if m == at {
			continue
		}
		n := Neighbor{Engine: s.rows[m].Engine}
		if others := s.readingsOf(state, s.places[m]); len(others) > 0 {
			t := s.try(def, station, others[len(others)-1])
			n.Try = &t
		}
		p.Beside = append(p.Beside, n)
	}
	return p, nil
}

// askedBefore are the findings that judged tries asked to look at again.
func askedBefore(tries []Reading) map[check.Place]bool {
	out := map[check.Place]bool{}
	for _, r := range tries {
		if r.judged() {
			for _, f := range r.Verdict.Counted {
				out[f.At()] = true
			}
		}
	}
	return out
}

// Timed is what so many seconds of a timer are: what they count, what the
// type's own duration asks for, and how they stand to it; no state where the
// type asks for nothing.
type Timed struct {
	Label string `json:"label"`
	// Shown are the seconds as a person reads them.
	Shown string `json:"shown"`
	Words string `json:"words"`
	State string `json:"state"`
	// Boxed says that the time goes into a box of the item's instrument.
	Boxed bool `json:"boxed"`
}

// Timed says how a timer at an item stands. A timer is named by the duration it
// counts, or by the path of the box that it fills.
func (s *Session) Timed(timer, item string, seconds float64) Timed {
	out, counts := Timed{Label: strings.ReplaceAll(timer, "-", " ")}, timer
	if at, known := s.index[item]; known {
		if def, measured := check.Find(s.places[at].Item.Check); measured {
			last := timer[strings.LastIndexByte(timer, '.')+1:]
			for _, f := range def.Fields {
				for _, one := range append([]form.Field{f}, f.Each...) {
					if one.Name == last && one.Taken == form.Timed {
						out.Label, out.Boxed, counts = one.Label, true, one.Timer
					}
				}
			}
			gauge, _, _ := strings.Cut(timer, ".")
			if rating, limited := def.Rating(s.typeAt(item, nil), gauge); limited && gauge != timer {
				out.Label, out.Boxed, out.Words, out.State = rating.Label, true, rating.Words(), rating.Stands(seconds)
			}
		}
	}
	out.Shown = clock(seconds)
	if counts == TankTimer {
		out.Label = "on this tank"
		if d := s.book.Tank; d != nil {
			out.Label, out.Words, out.State = d.Label, "change after "+itoa(int(d.MaxSeconds/60))+
				" min", d.Stands(seconds)
		}
	}
	for _, d := range s.book.Type.Durations {
		if d.ID == counts {
			out.Label, out.Words, out.State = d.Label, d.Words(), d.Stands(seconds)
		}
	}
	return out
}

// station is where the item's check is read, and in which try.
func (s *Session) station(state State, place checklist.Place, attempt int) check.Station {
	at := check.Station{
		Type: s.typeAt(place.Item.ID, state.Conditions), Engine: max(place.Item.Engine, 1), Attempt: attempt,
		Gauges: place.Item.Gauges, Units: s.Units,
	}
	at.Conditions, _ = numbers(state.Conditions)
	if place.Item.OnRunway {
		if at.Conditions == nil {
			at.Conditions = map[string]any{}
		}
		at.Conditions["onRunway"] = true
	}
	return at
}

// readingsOf are the readings of an item in the round that is being worked.
func (s *Session) readingsOf(state State, at checklist.Place) []Reading {
	now := 1
	for _, past := range state.Rounds {
		if past.Phase == s.book.List.Phases[at.Phase].ID {
			now++
		}
	}
	var out []Reading
	for _, r := range state.Readings {
		if r.Item == at.Item.ID && r.Round == now {
			out = append(out, r)
		}
	}
	return out
}

func (s *Session) try(def check.Definition, at check.Station, r Reading) Try {
	t := Try{Words: "not judged", Said: def.Said(at, r.Reading)}
	if r.Verdict != nil {
		t.Words = check.OutcomeWords(r.Verdict.Outcome)
		if len(r.Verdict.Findings) > 0 {
			t.Finding = s.Units.Say(r.Verdict.Findings[0].Message)
		}
	}
	return t
}

// known puts what both engines have shown so far into the boxes that compare
// them.
func (s *Session) known(state State, def check.Definition, at check.Station, draft form.Draft) {
	if def.NamedReading == nil || len(def.NamedReading.Each) != 2 {
		return
	}
	for _, r := range state.Readings {
		if r.Engine < 1 || r.Engine > 2 {
			continue
		}
		side := def.NamedReading.Each[r.Engine-1].Name
		for _, name := range def.Form(at, draft).Names {
			text, read := shown(r, name.ID)
			if v, err := quantity.Parse(text, quantity.MaxDecimals); read && err == nil {
				v, _ = s.Units.Show(v, name.Unit)
				draft[name.ID+"."+side] = v.String()
			}
		}
	}
}

// shown is a number of a reading, or one that its verdict computed.
func shown(r Reading, name string) (string, bool) {
	if r.Verdict != nil {
		if v := r.Verdict.Values.Get(name); v != nil {
			if text, ok := asText(v); ok {
				return text, true
			}
		}
	}
	if own, measured := r.Reading[name].(map[string]any); measured {
		return asText(form.RPM.Plain(map[string]any{name: own}, []form.Field{{Name: name, Kind: form.Number}})[name])
	}
	return asText(r.Reading[name])
}

func tryWords(n int) string {
	if words := []string{"first try", "second try", "third try", "fourth try"}; n >= 1 && n <= len(words) {
		return words[n-1]
	}
	return "try " + itoa(n)
}
