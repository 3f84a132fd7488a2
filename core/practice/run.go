package practice

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"time"

	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/stand"
)

// The modes that a practice is worked in: shown by the stand step by step, guided,
// alone, and as on a checkride, where nothing is said before the end.
const (
	Shown     = "shown"
	Guided    = "guided"
	Alone     = "alone"
	Checkride = "checkride"
)

// Mode is one way of practising as it is offered, with what it allows.
type Mode struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	Words string `json:"words"`
	// Worked is set where the student works the list, and not the stand.
	Worked bool `json:"worked"`
	// Explains is set where each step is explained, Judges where a reading is judged as soon
	// as it is kept, Answers where the student may ask what is next.
	Explains bool `json:"explains"`
	Judges   bool `json:"judges"`
	Answers  bool `json:"answers"`
	// GoesBack is set where a run may go back to an earlier second.
	GoesBack bool `json:"goesBack"`
	// CountsLooks is set where a gauge is read only while it is in view, and looking is
	// counted.
	CountsLooks bool `json:"countsLooks"`
}

// Modes are all of them, the most helpful first.
var Modes = []Mode{
	{
		ID: Shown, Label: "Shown", Words: "the stand works the list, and says why at each step",
		Explains: true, Judges: true, GoesBack: true,
	},
	{
		ID: Guided, Label: "Guided", Words: "asks for the next step, and explains a wrong one",
		Worked: true, Explains: true, Judges: true, Answers: true, GoesBack: true,
	},
	{
		ID: Alone, Label: "Alone",
		Words:  "you work and call the list; what you read is judged after you have said what it is",
		Worked: true, Answers: true, GoesBack: true, CountsLooks: true,
	},
	{
		ID: Checkride, Label: "Checkride", Words: "nothing is said before the end, and questions are asked",
		Worked: true, CountsLooks: true,
	},
}

// isMode says whether there is such a mode.
func isMode(id string) bool {
	return slices.ContainsFunc(Modes, func(m Mode) bool { return m.ID == id })
}

// MaxInView is how many gauges stand in view at once where looking is counted.
const MaxInView = 2

// Bounds of what is called, looked at and changed in a run: how often, and how much is
// said at once, in bytes of its JSON.
const (
	MaxCalls = 4000
	MaxCall  = 8 << 10
)

// Run is all that a practice is: it comes to its score again from it.
type Run struct {
	Scenario stand.Scenario `json:"scenario"`
	Seed     uint64         `json:"seed"`
	Mode     string         `json:"mode" enum:"shown,guided,alone,checkride"`
	Student  string         `json:"student"`
	// List and ListVersion are the list that is worked.
	List        string `json:"list"`
	ListVersion int    `json:"listVersion"`
	// Began is when, by the clock of the device: a claim only, RFC 3339.
	Began string `json:"began"`
	// From is the item that the student begins at: what comes before is shown. Empty is the
	// first.
	From string `json:"from,omitempty"`
	// Ticks is how long it went; Deeds are what was done, in their order.
	Ticks int    `json:"ticks"`
	Deeds []Deed `json:"deeds"`
	// Decision is the one that it ended with, and Why its reason; empty before.
	Decision string `json:"decision,omitempty"`
	Why      string `json:"why,omitempty"`
}

// Deed is one thing that was done at a tick: one of a control that was moved, a call, a
// look at a gauge, and a change that the instructor made.
type Deed struct {
	Tick   int     `json:"tick"`
	Move   *Move   `json:"move,omitempty"`
	Call   *Call   `json:"call,omitempty"`
	Look   *Look   `json:"look,omitempty"`
	Change *Change `json:"change,omitempty"`
}

// Move is a control that was moved: of an engine from 1, or of 0 for what is there once.
type Move struct {
	Control string  `json:"control"`
	Engine  int     `json:"engine,omitempty"`
	Value   float64 `json:"value"`
}

// Call is what somebody said: the student, or the instructor who looks on.
type Call struct {
	lesson.Mark
	Instructor bool `json:"instructor,omitempty"`
}

// Look is a gauge, by its place on the panel, that was brought in view or left.
type Look struct {
	Gauge int  `json:"gauge"`
	Open  bool `json:"open"`
}

// Change is what an instructor changes from the station: a fault slipped in, other
// weather, somebody outside.
type Change struct {
	Slip    *stand.Slipped `json:"slip,omitempty"`
	Weather *Weather       `json:"weather,omitempty"`
	Outside *stand.Passer  `json:"outside,omitempty"`
}

// Weather is what of the day can become another while a run goes on.
type Weather struct {
	OATC      float64 `json:"oatC"`
	DewPointC float64 `json:"dewPointC"`
	WindKt    float64 `json:"windKt"`
}

// What a student may call on the stand beside the marks of a lesson: that a reading is
// normal or is not, and to be told.
const (
	callNormal   = "normal"
	callAbnormal = "abnormal"
	callAsk      = "ask"
)

// InstructorMarks are the marks of a lesson that an instructor gives an item from the
// station.
var InstructorMarks = []string{"prompted", "helped", "wrong", "left-out", "self-fixed"}

var (
	studentCalls = []string{
		"done", callNormal, callAbnormal, callAsk, "open", "reading", "oral", "undo", "note", "shown",
	}
	instructorCalls = append(slices.Clone(InstructorMarks), "error", "note", "oral", "override")
)

// check names what of the run cannot be used, before anything of it is run.
func (r Run) check() error {
	if !isMode(r.Mode) {
		return form.Bad("run.mode", "is %q; it is one of shown, guided, alone, checkride", form.Clip(r.Mode))
	}
	if r.Student == "" || len(r.Student) > 64 {
		return form.Bad("run.student", "must have 1 to 64 characters")
	}
	if _, err := time.Parse(time.RFC3339, r.Began); err != nil || len(r.Began) > 40 {
		return form.Bad("run.began", "must be a time such as 2026-11-27T09:00:00Z")
	}
	if r.Ticks < 0 || r.Ticks > stand.MaxSeconds*stand.TicksASecond {
		return form.Bad("run.ticks", "must be 0 to %d", stand.MaxSeconds*stand.TicksASecond)
	}
	if len(r.Deeds) > stand.MaxInputs {
		return form.Bad("run.deeds", "must be at most %d", stand.MaxInputs)
	}
	calls := 0
	for i, d := range r.Deeds {
		at := fmt.Sprintf("run.deeds[%d]", i)
		if d.Tick < 0 || d.Tick > r.Ticks || i > 0 && d.Tick < r.Deeds[i-1].Tick {
			return form.Bad(at+".tick", "must not be before the one before it, nor after the end")
		}
		if err := d.Check(at); err != nil {
			return err
		}
		if d.Move == nil {
			calls++
		}
	}
	if calls > MaxCalls {
		return form.Bad("run.deeds", "must hold at most %d calls, looks and changes", MaxCalls)
	}
	if len(r.Why) > 500 {
		return form.Bad("run.why", "must have at most 500 characters")
	}
	return nil
}

// Check names what of a deed cannot be used at all; what cannot be done just then is
// refused when its moment comes.
func (d Deed) Check(at string) error {
	kinds := 0
	for _, is := range []bool{d.Move != nil, d.Call != nil, d.Look != nil, d.Change != nil} {
		if is {
			kinds++
		}
	}
	if kinds != 1 {
		return form.Bad(at, "must be one of move, call, look and change")
	}
	switch {
	case d.Call != nil:
		may := studentCalls
		if d.Call.Instructor {
			may = instructorCalls
		}
		if !slices.Contains(may, d.Call.Name) {
			return form.Bad(at+".call.name", "is %q, which is nothing that can be called here", form.Clip(d.Call.Name))
		}
		if text, err := json.Marshal(d.Call); err != nil || len(text) > MaxCall {
			return form.Bad(at+".call", "holds more than the %d bytes that can be said at once", MaxCall)
		}
	case d.Look != nil:
		if d.Look.Gauge < 0 || d.Look.Gauge > 100 {
			return form.Bad(at+".look.gauge", "is no gauge of the panel")
		}
	case d.Change != nil:
		return d.Change.check(at + ".change")
	}
	return nil
}

func (c Change) check(at string) error {
	if c.Slip == nil && c.Weather == nil && c.Outside == nil {
		return form.Bad(at, "must be one of slip, weather and outside")
	}
	if w := c.Weather; w != nil {
		for _, v := range []struct {
			field      string
			at, lo, hi float64
		}{{"oatC", w.OATC, -40, 50}, {"dewPointC", w.DewPointC, -60, w.OATC}, {"windKt", w.WindKt, -40, 60}} {
			if !(v.at >= v.lo && v.at <= v.hi) {
				return form.Bad(at+".weather."+v.field, "must be %g to %g", v.lo, v.hi)
			}
		}
	}
	if c.Outside != nil {
		if err := c.Outside.Check(at + ".outside"); err != nil {
			return err
		}
	}
	return nil
}

// Until is the run up to a tick: what was done later is as if it had not been.
func (r Run) Until(tick int) Run {
	r.Ticks = min(max(tick, 0), r.Ticks)
	if i := slices.IndexFunc(r.Deeds, func(d Deed) bool { return d.Tick > r.Ticks }); i >= 0 {
		r.Deeds = slices.Clone(r.Deeds[:i])
	}
	r.Decision, r.Why = "", ""
	return r
}

// WithoutFaults is what the hands of the run do on an aircraft that has nothing: the moves
// alone, judged by nobody.
func (r Run) WithoutFaults() Run {
	r.Mode, r.Decision, r.Why, r.Scenario.Faults = Shown, "", "", nil
	r.Deeds = slices.DeleteFunc(slices.Clone(r.Deeds), func(d Deed) bool { return d.Move == nil })
	return r
}

// Replay works a run again from its deeds, until the context ends; each is called after
// every step.
func (c Course) Replay(ctx context.Context, r Run, each func(s *Session)) (*Session, error) {
	if err := r.check(); err != nil {
		return nil, err
	}
	s, err := c.Begin(r)
	if err != nil {
		return nil, err
	}
	if err := s.follows(ctx, r, each); err != nil {
		return nil, err
	}
	if r.Decision != "" {
		err = s.Decide(r.Decision, r.Why)
	}
	return s, err
}

// Trace works a run again and gives what the instruments of its panel showed each second,
// as they are printed.
func (c Course) Trace(r Run) ([][]string, error) {
	out := [][]string{}
	_, err := c.Replay(context.Background(), r, func(s *Session) {
		if s.Machine.Tick()%stand.TicksASecond != 0 {
			return
		}
		seen := s.Seen()
		row := make([]string, len(seen.Values))
		for i, v := range seen.Values {
			row[i] = strconv.FormatFloat(v, 'f', s.panel.Gauges[i].Decimals, 64)
		}
		out = append(out, row)
	})
	return out, err
}
