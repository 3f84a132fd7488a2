package lesson

import (
	"encoding/json"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
)

// The kinds of events.
const (
	KindOpened         = "lesson-opened"
	KindItemOpened     = "item-opened"
	KindItemResult     = "item-result"
	KindPrompt         = "prompt"
	KindAssist         = "assist"
	KindSelfCorrection = "self-correction"
	KindLate           = "late"
	KindOmitted        = "omitted"
	KindNotApplicable  = "not-applicable"
	KindError          = "error"
	KindReading        = "reading"
	KindFinding        = "finding"
	KindDecision       = "decision"
	KindOral           = "oral"
	KindTimerStarted   = "timer-started"
	KindTimerStopped   = "timer-stopped"
	KindNote           = "note"
	KindHourMeter      = "hour-meter"
	KindOverride       = "grade-override"
	KindUndo           = "undo"
	KindPhaseClosed    = "phase-closed"
	KindEnded          = "lesson-ended"
	KindDebriefNote    = "debrief-note"
	KindSealed         = "sealed"
	KindAcknowledged   = "acknowledged"
	KindAddendum       = "addendum"
	KindShown          = "shown"
	KindControlTaken   = "control-taken"
	KindConditions     = "conditions-changed"
	KindRound          = "round"
	KindPractice       = "practice-place"
	KindObserver       = "observer"
	KindSelfGrade      = "self-grade"
	KindCorrection     = "correction"
)

// payload is what an event of a known kind carries.
type payload interface{ check() error }

// kinds says what each kind carries.
var kinds = map[string]func() payload{
	KindOpened:         func() payload { return new(Opened) },
	KindItemOpened:     func() payload { return new(itemOpened) },
	KindItemResult:     func() payload { return new(itemResult) },
	KindPrompt:         func() payload { return new(itemMark) },
	KindAssist:         func() payload { return new(itemMark) },
	KindSelfCorrection: func() payload { return new(itemMark) },
	KindLate:           func() payload { return new(late) },
	KindOmitted:        func() payload { return new(itemMark) },
	KindNotApplicable:  func() payload { return new(itemMark) },
	KindError:          func() payload { return new(errorMade) },
	KindReading:        func() payload { return new(reading) },
	KindFinding:        func() payload { return new(finding) },
	KindDecision:       func() payload { return new(decision) },
	KindOral:           func() payload { return new(oral) },
	KindTimerStarted:   func() payload { return new(timer) },
	KindTimerStopped:   func() payload { return new(timer) },
	KindNote:           func() payload { return new(note) },
	KindHourMeter:      func() payload { return new(hourMeter) },
	KindOverride:       func() payload { return new(override) },
	KindUndo:           func() payload { return new(undo) },
	KindPhaseClosed:    func() payload { return new(phaseClosed) },
	KindEnded:          func() payload { return new(nothing) },
	KindDebriefNote:    func() payload { return new(note) },
	KindSealed:         func() payload { return new(Sealed) },
	KindAcknowledged:   func() payload { return new(Answered) },
	KindAddendum:       func() payload { return new(note) },
	KindShown:          func() payload { return new(itemMark) },
	KindControlTaken:   func() payload { return new(controlTaken) },
	KindConditions:     func() payload { return new(conditionsChanged) },
	KindRound:          func() payload { return new(round) },
	KindPractice:       func() payload { return new(practice) },
	KindObserver:       func() payload { return new(observer) },
	KindSelfGrade:      func() payload { return new(selfGrade) },
	KindCorrection:     func() payload { return new(correction) },
}

// Methods are the ways a list is worked.
var Methods = []string{"read-and-do", "flow-then-verify", "challenge-and-response"}

// Purposes are what a lesson is flown for.
var Purposes = []string{"training", "stage-check"}

// Maintenance is the purpose of a maintenance run: no student, no grade, and the
// measured checks of the list as flown.
const Maintenance = "maintenance"

// Passings are what a touch on a later item may pass without a mark: everything, or
// nothing that is critical or measured.
var Passings = []string{"everything", "not-critical"}

// Opened is the first event of a lesson: who, in what, by which versions.
type Opened struct {
	Student      string `json:"student"`
	Instructor   string `json:"instructor"`
	Aircraft     string `json:"aircraft"`
	AircraftType string `json:"aircraftType"`
	TypeVersion  int    `json:"typeVersion"`
	List         string `json:"list"`
	ListVersion  int    `json:"listVersion"`
	Method       string `json:"method"`
	Scale        string `json:"scale"`
	Purpose      string `json:"purpose"`
	// Passing is one of Passings, as the school decides; empty is everything.
	Passing string `json:"passing,omitempty"`
	// First is the item that a maintenance run looks at before all others.
	First string `json:"first,omitempty"`
	// Paper says that it was kept on paper, and is written down afterwards.
	Paper *Paper `json:"paper,omitempty"`
	// Stage is which stage a stage check is for; empty is the first.
	Stage  string `json:"stage,omitempty"`
	Runway string `json:"runway,omitempty"`
	// Fuel is what was dipped, where the pilot chooses the tank.
	Fuel       *FuelAboard    `json:"fuel,omitempty"`
	Wind       string         `json:"wind,omitempty"`
	Conditions map[string]any `json:"conditions,omitempty"`
	// Equipment is what the aircraft has of its type's optional equipment. Day
	// is what the list was tailored to, Flown the list as flown with the
	// reason of everything in it that is not as printed. Without Flown the list
	// is worked as it is printed.
	Equipment []string         `json:"equipment,omitempty"`
	Day       *checklist.Day   `json:"day,omitempty"`
	Flown     *checklist.Flown `json:"flown,omitempty"`
}

// maxVersion bounds the number of a version.
const maxVersion = 1 << 20

func (o *Opened) check() error {
	if err := o.parts(); err != nil {
		return err
	}
	for _, id := range []struct{ field, value string }{{"instructor", o.Instructor}, {"aircraft", o.Aircraft},
		{"aircraftType", o.AircraftType}, {"list", o.List}, {"scale", o.Scale}} {
		if id.value == "" || len(id.value) > 64 {
			return form.Bad("payload."+id.field, "must have 1 to 64 characters")
		}
	}
	switch {
	case o.TypeVersion < 1 || o.TypeVersion > maxVersion:
		return form.Bad("payload.typeVersion", "must be 1 to %d", maxVersion)
	case o.ListVersion < 1 || o.ListVersion > maxVersion:
		return form.Bad("payload.listVersion", "must be 1 to %d", maxVersion)
	case !slices.Contains(Methods, o.Method):
		return form.Bad("payload.method", "must be one of %s", strings.Join(Methods, ", "))
	case !slices.Contains(Purposes, o.Purpose) && !o.Run():
		return form.Bad("payload.purpose", "must be one of %s, %s", strings.Join(Purposes, ", "), Maintenance)
	case o.Passing != "" && !slices.Contains(Passings, o.Passing):
		return form.Bad("payload.passing", "must be one of %s", strings.Join(Passings, ", "))
	case len(o.Stage) > 64:
		return form.Bad("payload.stage", "must be at most 64 characters")
	case len(o.Runway) > 8 || len(o.Wind) > 16:
		return form.Bad("payload.runway", "and wind are a name such as 20 and a wind such as 190/11")
	}
	if o.Flown != nil {
		list := o.Flown.List
		if list.ID != o.List || list.Version != o.ListVersion || list.AircraftType != o.AircraftType {
			return form.Bad("payload.flown", "is not made of the list and version that the lesson names")
		}
		if faults := list.Problems(); len(faults) > 0 {
			return form.Bad("payload.flown.list"+strings.TrimPrefix(faults[0].Field, "$"), "%s", faults[0].Reason)
		}
	}
	if o.Fuel != nil {
		// A burn and an imbalance are the type's; any will do to read the numbers.
		if _, _, err := o.Fuel.plan(aircraft.Type{Fuel: &aircraft.Fuel{BurnLPerHour: 1, ImbalanceMaxL: 1}},
			""); err != nil {
			return form.Bad("payload.fuel", "cannot be used: %v", err)
		}
	}
	return conditionsHold(o.Conditions)
}

// Run reports whether it opens a maintenance run.
func (o *Opened) Run() bool { return o != nil && o.Purpose == Maintenance }

// parts holds the parts of a lesson, and of a run, to what each has.
func (o *Opened) parts() error {
	switch {
	case o.Run() && (o.Student != "" || o.Stage != "" || o.Passing != ""):
		return form.Bad("payload.student",
			"stage and passing must be empty in a maintenance run: nobody is graded in it")
	case o.Run() && o.Paper != nil:
		return form.Bad("payload.paper", "does not go with a maintenance run: its numbers are measured")
	case o.Paper != nil && o.Paper.check() != nil:
		return o.Paper.check()
	case o.Run() && o.Flown == nil:
		return form.Bad("payload.flown", "must hold the measured checks of the list")
	case !o.Run() && o.First != "":
		return form.Bad("payload.first", "is of a maintenance run only")
	case !o.Run() && (o.Student == "" || len(o.Student) > 64):
		return form.Bad("payload.student", "must have 1 to 64 characters")
	case len(o.First) > 64:
		return form.Bad("payload.first", "must have at most 64 characters")
	}
	return nil
}

// conditionsHold reports whether conditions are such as checks are judged under.
func conditionsHold(object map[string]any) error {
	conditions, err := numbers(object)
	if err != nil {
		return form.Bad("payload.conditions", "cannot be used: %v", err)
	}
	if _, err := check.ParseConditions(conditions); err != nil {
		return form.Bad("payload", "%v", err)
	}
	return nil
}

// numbers brings decoded JSON to the form that package check takes: numbers
// keep their text.
func numbers(object map[string]any) (map[string]any, error) {
	if object == nil {
		return nil, nil
	}
	data, err := json.Marshal(object)
	if err != nil {
		return nil, err
	}
	return form.ParseObject(data)
}

func needItem(item string) error {
	if item == "" || len(item) > 64 {
		return form.Bad("payload.item", "must have 1 to 64 characters")
	}
	return nil
}

const maxWords = 4000

func words(field, text string) error {
	if len(text) > maxWords {
		return form.Bad("payload."+field, "must be at most %d bytes", maxWords)
	}
	return nil
}

type nothing struct{}

func (*nothing) check() error { return nil }

// selfGrade is how the student saw each phase, before seeing how the instructor
// did: levels by phase.
type selfGrade struct {
	Levels map[string]int `json:"levels"`
	Words  string         `json:"words,omitempty"`
}

func (g *selfGrade) check() error {
	if len(g.Levels) == 0 || len(g.Levels) > 64 {
		return form.Bad("payload.levels", "must grade 1 to 64 phases")
	}
	for phase, level := range g.Levels {
		if len(phase) > 64 || level < 0 || level > 4 {
			return form.Bad("payload.levels", "must be 0 to 4 for each phase")
		}
	}
	return words("words", g.Words)
}

// OfStudent reports whether events of a kind are made by the student of a
// lesson, and by nobody else.
func OfStudent(kind string) bool { return kind == KindSelfGrade }

// Answered is the student's answer to a signed lesson: acknowledged, with
// remarks or without, or refused, with words.
type Answered struct {
	Refused bool   `json:"refused,omitempty"`
	Words   string `json:"words,omitempty"`
}

func (a *Answered) check() error {
	if a.Refused && strings.TrimSpace(a.Words) == "" {
		return form.Bad("payload.words", "must say why it is not acknowledged")
	}
	return words("words", a.Words)
}

type itemMark struct {
	Item string `json:"item"`
}

func (m *itemMark) check() error { return needItem(m.Item) }

// late says that the item was missing when its time came. Found is
// verification when the student's own check by the list found it.
type late struct {
	Item  string `json:"item"`
	Found string `json:"found,omitempty"`
}

func (m *late) check() error {
	if m.Found != "" && m.Found != "verification" && m.Found != "instructor" {
		return form.Bad("payload.found", "must be verification or instructor")
	}
	return needItem(m.Item)
}

// controlTaken says that the instructor took the control, and why: level 0
// where it had to be, else 1.
type controlTaken struct {
	Item  string `json:"item"`
	Why   string `json:"why"`
	Level int    `json:"level"`
}

func (c *controlTaken) check() error {
	if strings.TrimSpace(c.Why) == "" {
		return form.Bad("payload.why", "must say why the control was taken")
	}
	if c.Level < 0 || c.Level > 1 {
		return form.Bad("payload.level", "must be 0 or 1")
	}
	if err := words("why", c.Why); err != nil {
		return err
	}
	return needItem(c.Item)
}

// conditionsChanged says what has become another since the lesson was opened:
// what it does not name stays.
type conditionsChanged struct {
	Conditions map[string]any `json:"conditions"`
}

func (c *conditionsChanged) check() error {
	if len(c.Conditions) == 0 {
		return form.Bad("payload.conditions", "must say what has changed")
	}
	return conditionsHold(c.Conditions)
}

// round begins a phase again, such as a second start or run-up: its items and
// the attempts of its checks are counted anew, and the earlier ones are kept.
type round struct {
	Phase string `json:"phase"`
}

func (r *round) check() error {
	if r.Phase == "" || len(r.Phase) > 64 {
		return form.Bad("payload.phase", "must have 1 to 64 characters")
	}
	return nil
}

// Places of practice.
var Practices = []string{"aircraft", "stand", "other-simulator"}

type practice struct {
	Place string `json:"place"`
}

func (p *practice) check() error {
	if !slices.Contains(Practices, p.Place) {
		return form.Bad("payload.place", "must be one of %s", strings.Join(Practices, ", "))
	}
	return nil
}

// observer lets another instructor, who sits in, mark the lesson as well.
type observer struct {
	Person string `json:"person"`
	Name   string `json:"name"`
}

func (o *observer) check() error {
	if o.Person == "" || len(o.Person) > 64 || len(o.Name) > 200 {
		return form.Bad("payload.person", "must have 1 to 64 characters, and name at most 200")
	}
	return nil
}

type itemOpened struct {
	Item string `json:"item"`
}

func (o *itemOpened) check() error { return needItem(o.Item) }

type itemResult struct {
	Item     string `json:"item"`
	Result   string `json:"result"`
	Value    string `json:"value,omitempty"`
	Response string `json:"response,omitempty"`
	Implied  bool   `json:"implied,omitempty"`
}

func (r *itemResult) check() error {
	if r.Result != "done" && r.Result != "wrong" {
		return form.Bad("payload.result", "must be done or wrong")
	}
	if err := words("value", r.Value+r.Response); err != nil {
		return err
	}
	return needItem(r.Item)
}

type errorMade struct {
	Item     string `json:"item,omitempty"`
	Code     string `json:"code"`
	Severity string `json:"severity"`
	Words    string `json:"words,omitempty"`
	// AtMs is when it was noted, where it was put into words later.
	AtMs int64 `json:"atMs,omitempty"`
}

func (e *errorMade) check() error {
	if e.AtMs < 0 || e.AtMs > MaxAtMs {
		return form.Bad("payload.atMs", "must be 0 to a week in milliseconds")
	}
	if !slices.ContainsFunc(ErrorKinds, func(k ErrorKind) bool { return k.Code == e.Code }) {
		return form.Bad("payload.code", "%q is no kind of error", form.Clip(e.Code))
	}
	if _, ok := severityLevel[e.Severity]; !ok {
		return form.Bad("payload.severity", "must be slip, wrong or unsafe")
	}
	return words("words", e.Words)
}

type reading struct {
	Item    string         `json:"item,omitempty"`
	Check   string         `json:"check"`
	Engine  int            `json:"engine,omitempty"`
	Reading map[string]any `json:"reading"`
	// Conditions are those of this reading, where they are not the lesson's.
	Conditions map[string]any `json:"conditions,omitempty"`
	// Source is FromRecorder for what an engine recorder measured; empty for what was
	// read off by a person.
	Source string `json:"source,omitempty"`
}

// FromRecorder is the source of readings that an engine recorder measured.
const FromRecorder = "recorder"

func (r *reading) check() error {
	if _, ok := check.Find(r.Check); !ok {
		return form.Bad("payload.check", "%q is no check", form.Clip(r.Check))
	}
	if r.Reading == nil {
		return form.Bad("payload.reading", "is missing")
	}
	if r.Engine < 0 || r.Engine > 4 {
		return form.Bad("payload.engine", "must be 1 to 4")
	}
	if r.Source != "" && r.Source != FromRecorder {
		return form.Bad("payload.source", "is %q; it is %s or left out", form.Clip(r.Source), FromRecorder)
	}
	return conditionsHold(r.Conditions)
}

type finding struct {
	Item string `json:"item,omitempty"`
	// Reading is the id of the reading event that the finding rests on.
	Reading string `json:"reading,omitempty"`
	Code    string `json:"code,omitempty"`
	Words   string `json:"words"`
	// Pictures are the SHA-256 of each, in hexadecimal.
	Pictures []string `json:"pictures,omitempty"`
	// Noted says that the words are still to come; AtMs is when it was noted,
	// where they have come.
	Noted bool  `json:"noted,omitempty"`
	AtMs  int64 `json:"atMs,omitempty"`
}

// isHash reports whether a text is a SHA-256 in hexadecimal, small letters.
func isHash(text string) bool {
	return len(text) == 64 && strings.Trim(text, "0123456789abcdef") == ""
}

// MaxPictures is how many pictures a finding can have.
const MaxPictures = 4

func (f *finding) check() error {
	if strings.TrimSpace(f.Words) == "" {
		return form.Bad("payload.words", "must say what was found")
	}
	if len(f.Pictures) > MaxPictures {
		return form.Bad("payload.pictures", "must be at most %d", MaxPictures)
	}
	if f.AtMs < 0 || f.AtMs > MaxAtMs {
		return form.Bad("payload.atMs", "must be 0 to a week in milliseconds")
	}
	for _, hash := range f.Pictures {
		if !isHash(hash) {
			return form.Bad("payload.pictures", "must be named by their SHA-256, 64 hexadecimal digits each")
		}
	}
	return words("words", f.Words)
}

// Decisions are what a person decides on a finding.
var Decisions = []string{"normal-for-type", "cleared", "carried-on", "deferred", "grounded"}

type decision struct {
	// About is the id of the reading or finding event.
	About    string `json:"about"`
	Decision string `json:"decision"`
	Told     string `json:"told,omitempty"`
	Why      string `json:"why,omitempty"`
}

func (d *decision) check() error {
	if d.About == "" {
		return form.Bad("payload.about", "must name a reading or a finding")
	}
	if !slices.Contains(Decisions, d.Decision) {
		return form.Bad("payload.decision", "must be one of %s", strings.Join(Decisions, ", "))
	}
	return words("why", d.Why+d.Told)
}

type oral struct {
	Item     string `json:"item,omitempty"`
	Question string `json:"question"`
	// Bank is the id of a question of the bank, Elements what it shows; without
	// them the question shows its item's own.
	Bank     string   `json:"bank,omitempty"`
	Elements []string `json:"elements,omitempty"`
	Level    int      `json:"level"`
}

func (o *oral) check() error {
	if o.Level < 0 || o.Level > 4 {
		return form.Bad("payload.level", "must be 0 to 4")
	}
	if len(o.Elements) > 16 || len(o.Bank) > 64 {
		return form.Bad("payload.elements", "are at most 16, and bank at most 64 characters")
	}
	return words("question", o.Question)
}

type timer struct {
	Timer string `json:"timer"`
	Item  string `json:"item,omitempty"`
}

func (t *timer) check() error {
	if t.Timer == "" || len(t.Timer) > 64 {
		return form.Bad("payload.timer", "must have 1 to 64 characters")
	}
	return nil
}

type note struct {
	Item  string `json:"item,omitempty"`
	Words string `json:"words"`
}

func (n *note) check() error {
	if strings.TrimSpace(n.Words) == "" {
		return form.Bad("payload.words", "must not be empty")
	}
	return words("words", n.Words)
}

// Meters are what counts an aircraft's hours.
var Meters = []string{"hour", "tacho"}

type hourMeter struct {
	Meter string  `json:"meter"`
	When  string  `json:"when"`
	Value float64 `json:"value"`
}

func (h *hourMeter) check() error {
	switch {
	case !slices.Contains(Meters, h.Meter):
		return form.Bad("payload.meter", "must be one of %s", strings.Join(Meters, ", "))
	case h.When != "start" && h.When != "end":
		return form.Bad("payload.when", "must be start or end")
	case h.Value < 0 || h.Value > 99_999:
		return form.Bad("payload.value", "must be 0 to 99999 hours")
	}
	return nil
}

type override struct {
	Item   string `json:"item"`
	Level  int    `json:"level"`
	Reason string `json:"reason"`
}

func (o *override) check() error {
	if o.Level < 0 || o.Level > 4 {
		return form.Bad("payload.level", "must be 0 to 4")
	}
	if strings.TrimSpace(o.Reason) == "" {
		return form.Bad("payload.reason", "must say why the proposed level does not stand")
	}
	if err := words("reason", o.Reason); err != nil {
		return err
	}
	return needItem(o.Item)
}

type undo struct {
	Targets []string `json:"targets"`
}

func (u *undo) check() error {
	if len(u.Targets) == 0 || len(u.Targets) > 100 {
		return form.Bad("payload.targets", "must name 1 to 100 events")
	}
	return nil
}

type phaseClosed struct {
	Phase string `json:"phase"`
}

func (p *phaseClosed) check() error {
	if p.Phase == "" {
		return form.Bad("payload.phase", "is missing")
	}
	return nil
}

// Sealed is the signature of the exact set of events it names.
type Sealed struct {
	// Events are the ids of the sealed events, sorted; Hash is their SetHash.
	Events []string `json:"events"`
	Hash   string   `json:"hash"`
	// Last is the last sealed sequence of each device.
	Last map[string]int64 `json:"last"`
	// Result is the SHA-256 of the folded result, in hexadecimal.
	Result       string `json:"result"`
	RulesVersion string `json:"rulesVersion"`
	SignedBy     string `json:"signedBy"`
}

func (s *Sealed) check() error {
	if len(s.Events) == 0 || s.SignedBy == "" {
		return form.Bad("payload.events", "and signedBy must be given")
	}
	if s.Hash != SetHash(s.Events) {
		return form.Bad("payload.hash", "does not belong to the sealed events")
	}
	return nil
}
