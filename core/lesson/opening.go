package lesson

import (
	"encoding/json"
	"maps"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
)

// KindOpened is the opening of a lesson, on which everything else stands.
const KindOpened = "lesson-opened"

func init() {
	kinds[KindOpened] = func() payload { return new(Opened) }
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

func (*Opened) apply(*fold, *held) {}

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
