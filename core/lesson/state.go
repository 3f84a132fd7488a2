package lesson

import (
	"maps"
	"slices"

	"jetprimer/core/check"
	"jetprimer/core/quantity"
)

// State is all that follows from the events of a lesson.
type State struct {
	RulesVersion string       `json:"rulesVersion"`
	Opened       *Opened      `json:"opened"`
	Ended        bool         `json:"ended"`
	DurationMs   int64        `json:"durationMs"`
	Live         string       `json:"live"` // the item last opened
	Phases       []PhaseState `json:"phases"`
	Items        []ItemState  `json:"items"`
	Readings     []Reading    `json:"readings"`
	Errors       []Error      `json:"errors"`
	Findings     []Finding    `json:"findings"`
	Orals        []Oral       `json:"orals"`
	Timers       []Timer      `json:"timers"`
	Notes        []Note       `json:"notes"`
	Debrief      []Note       `json:"debrief"`
	HourMeter    []Hours      `json:"hourMeter"`
	// Rounds are the earlier rounds of phases that were begun again.
	Rounds []Round `json:"rounds"`
	// Conditions are the lesson's as they stand now.
	Conditions map[string]any `json:"conditions"`
	// Practice is where the lesson is worked: aircraft, stand or
	// other-simulator.
	Practice string `json:"practice"`
	// Observers are the instructors who sit in and mark as well.
	Observers    []Observer `json:"observers"`
	Acknowledged bool       `json:"acknowledged"`
	// Self is how the student saw it, before seeing this.
	Self *Self `json:"self,omitempty"`
	// Answer is the student's to the signature.
	Answer *Answer     `json:"answer,omitempty"`
	Seals  []SealState `json:"seals"`
	// Addenda are events that came after the signature and are not part of it.
	Addenda []Addendum `json:"addenda"`
	// Corrections are the marks that should stand in the place of signed ones.
	Corrections []Correction `json:"corrections,omitempty"`
	// Refused are events whose id is held with another content.
	Refused []Refusal `json:"refused"`
	// Unknown counts events of kinds that these rules do not know.
	Unknown int `json:"unknown"`
	// Problems keep the lesson from being signed.
	Problems []Problem `json:"problems"`
	// LastTouch are the events that an undo would take back.
	LastTouch []string `json:"lastTouch"`
	// EventHash is the SetHash of the events that this state shows.
	EventHash string `json:"eventHash"`
	Events    int    `json:"events"`
	// lives and touches are, by device, the item it opened last and what its undo
	// takes back.
	lives   map[string]string
	touches map[string][]string
}

// Observer is an instructor who sits in and marks as well.
type Observer struct {
	Person string `json:"person"`
	Name   string `json:"name"`
}

// Empty makes every list of a state that has none an empty one.
func (s *State) Empty() {
	s.Items, s.Readings, s.Errors, s.Findings = []ItemState{}, []Reading{}, []Error{}, []Finding{}
	s.Orals, s.Timers = []Oral{}, []Timer{}
	s.Notes, s.Debrief, s.HourMeter, s.Rounds, s.Observers = []Note{}, []Note{}, []Hours{}, []Round{}, []Observer{}
	s.Addenda, s.Refused, s.Problems = []Addendum{}, []Refusal{}, []Problem{}
	s.LastTouch, s.Conditions = []string{}, map[string]any{}
}

// Fill gives a state that was kept by earlier rules what it did not have yet:
// nothing in those lessons was begun again, changed or practised elsewhere.
func (s *State) Fill() {
	if s.Rounds == nil {
		s.Rounds = []Round{}
	}
	if s.Observers == nil {
		s.Observers = []Observer{}
	}
	if s.Practice == "" {
		s.Practice = Practices[0]
	}
	if s.Conditions == nil {
		s.Conditions = map[string]any{}
		if s.Opened != nil {
			maps.Copy(s.Conditions, s.Opened.Conditions)
		}
	}
	for i := range s.Readings {
		r := &s.Readings[i]
		r.Round = max(r.Round, 1)
		if r.Conditions == nil {
			r.Conditions = s.Conditions
		}
	}
}

// In is the state with its sentences in the units that a person reads.
func (s State) In(u quantity.Units) State {
	if u == (quantity.Units{}) {
		return s
	}
	s.Readings, s.Problems = slices.Clone(s.Readings), slices.Clone(s.Problems)
	for i, r := range s.Readings {
		if r.Verdict != nil {
			v := r.Verdict.In(u)
			s.Readings[i].Verdict = &v
		}
	}
	for i := range s.Problems {
		s.Problems[i].Message = u.Say(s.Problems[i].Message)
	}
	return s
}

// PhaseState counts the marks of a phase. Levels counts items by level 0 to 4.
type PhaseState struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	Total int    `json:"total"`
	// Marked were observed, Passed of them without a mark of their own; Unread are
	// measured checks passed or marked without a number.
	Marked   int    `json:"marked"`
	Passed   int    `json:"passed"`
	Unread   int    `json:"unread"`
	Prompted int    `json:"prompted"`
	Levels   [5]int `json:"levels"`
	Closed   bool   `json:"closed"`
}

// Round is a phase as it was worked before it was begun again; the first is 1.
type Round struct {
	Phase string      `json:"phase"`
	Round int         `json:"round"`
	Items []ItemState `json:"items"`
}

// ItemState is an item with its marks and its level.
type ItemState struct {
	ID       string `json:"id"`
	Phase    string `json:"phase"`
	Position int    `json:"position"`
	// Status is empty while the item is not observed, else done, wrong,
	// omitted, not-applicable or shown.
	Status string `json:"status"`
	// Mark is what to draw: done, prompted, helped, wrong, self-fixed, late,
	// out-of-order, left-out, unsafe, not-fitted, shown, passed or empty.
	Mark       string   `json:"mark"`
	Implied    bool     `json:"implied"`
	Order      int      `json:"order"` // completed as the n-th; 0 when not
	OutOfOrder bool     `json:"outOfOrder"`
	Broken     []string `json:"broken"`
	// TooLateFor are the items done before this one that it must precede.
	TooLateFor    []string  `json:"tooLateFor,omitempty"`
	Prompts       int       `json:"prompts"`
	Assists       int       `json:"assists"`
	SelfCorrected bool      `json:"selfCorrected"`
	Value         string    `json:"value,omitempty"`
	Response      string    `json:"response,omitempty"`
	Proposed      *int      `json:"proposed"`
	Reasons       []Reason  `json:"reasons"`
	Override      *Override `json:"override"`
	// Level is the override where there is one, else the proposal.
	Level *int `json:"level"`
	// First is what was signed, where a correction stands in its place.
	First *First `json:"first,omitempty"`
	AtMs  int64  `json:"atMs"`
}

// Override is the instructor's level over the proposed one; both are kept.
type Override struct {
	Level  int    `json:"level"`
	Reason string `json:"reason"`
	By     string `json:"by,omitempty"`
}

// Reading is a measured check with its verdict.
type Reading struct {
	Event  string `json:"event"`
	Item   string `json:"item,omitempty"`
	Check  string `json:"check"`
	Engine int    `json:"engine"`
	// Attempt counts the tries that could be judged, from 1, in this Round.
	Attempt int            `json:"attempt"`
	Round   int            `json:"round"`
	Reading map[string]any `json:"reading"`
	// Source is FromRecorder for what an engine recorder measured: the same try as the
	// one typed before it.
	Source string `json:"source,omitempty"`
	// Conditions are those it was judged under.
	Conditions map[string]any `json:"conditions"`
	Verdict    *check.Verdict `json:"verdict"`
	Unusable   string         `json:"unusable,omitempty"` // why there is no verdict
	Decision   *Decision      `json:"decision"`
	// Finding is the event of the finding that was written of it, and whose
	// decision this is.
	Finding string `json:"finding,omitempty"`
	// Open says that it asks for a person's decision, and that none is complete.
	Open bool  `json:"open"`
	AtMs int64 `json:"atMs"`
}

// Decision is the person's, beside the rules' own.
type Decision struct {
	Decision string `json:"decision"`
	Told     string `json:"told"`
	Why      string `json:"why"`
	By       string `json:"by,omitempty"`
}

// Error is a mistake the instructor noted.
type Error struct {
	Event    string `json:"event"`
	Item     string `json:"item,omitempty"`
	Code     string `json:"code"`
	Label    string `json:"label"`
	Severity string `json:"severity"`
	Words    string `json:"words,omitempty"`
	AtMs     int64  `json:"atMs"`
}

// Finding is something abnormal about the aircraft.
type Finding struct {
	Event    string   `json:"event"`
	Item     string   `json:"item,omitempty"`
	Reading  string   `json:"reading,omitempty"`
	Code     string   `json:"code,omitempty"`
	Words    string   `json:"words"`
	Pictures []string `json:"pictures,omitempty"`
	// Noted says that its words are still to come.
	Noted    bool      `json:"noted,omitempty"`
	Decision *Decision `json:"decision"`
	AtMs     int64     `json:"atMs"`
}

// Oral is a question asked and its level.
type Oral struct {
	Event    string `json:"event"`
	Item     string `json:"item,omitempty"`
	Question string `json:"question"`
	// Bank and Elements are those of a question of the bank.
	Bank     string   `json:"bank,omitempty"`
	Elements []string `json:"elements,omitempty"`
	Level    int      `json:"level"`
}

// Timer is a running or stopped timer; Seconds is given, to tenths, when the
// same device started and stopped it.
type Timer struct {
	Timer     string   `json:"timer"`
	Item      string   `json:"item,omitempty"`
	StartedMs int64    `json:"startedMs"`
	Running   bool     `json:"running"`
	Seconds   *float64 `json:"seconds"`
	device    string
}

// Note is a remark.
type Note struct {
	Event string `json:"event"`
	Item  string `json:"item,omitempty"`
	Words string `json:"words"`
	AtMs  int64  `json:"atMs"`
}

// Hours is a value read off an hour meter.
type Hours struct {
	Meter string  `json:"meter"`
	When  string  `json:"when"`
	Value float64 `json:"value"`
}

// SealState is a signature.
type SealState struct {
	Event        string `json:"event"`
	SignedBy     string `json:"signedBy"`
	RulesVersion string `json:"rulesVersion"`
	Wall         string `json:"wall"`
	Hash         string `json:"hash"`
	Result       string `json:"result"`
	Events       int    `json:"events"`
	// Missing counts sealed events that are not at hand.
	Missing int `json:"missing"`
	// Seal is the seal's own hash in the school's chain, where the school says it.
	Seal string `json:"seal,omitempty"`
}

// Self is how the student saw each phase: levels by phase.
type Self struct {
	Levels map[string]int `json:"levels"`
	Words  string         `json:"words,omitempty"`
}

// Answer is the student's to a signature, and when it was given.
type Answer struct {
	Event string `json:"event"`
	Answered
	At string `json:"at"`
}

// Addendum is an event that arrived outside the first seal.
type Addendum struct {
	Event  string `json:"event"`
	Kind   string `json:"kind"`
	By     string `json:"by,omitempty"`
	Words  string `json:"words,omitempty"`
	Signed bool   `json:"signed"`
	AtMs   int64  `json:"atMs"`
}

// Refusal is an event that was refused, and why.
type Refusal struct {
	Event  string `json:"event"`
	Reason string `json:"reason"`
}

// Problem is something to settle before the lesson can be signed.
type Problem struct {
	Item    string `json:"item,omitempty"`
	Event   string `json:"event,omitempty"`
	Message string `json:"message"`
}
