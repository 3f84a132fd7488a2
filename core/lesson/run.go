package lesson

import (
	"slices"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
)

// RunChoice is what a maintenance run is opened with: the aircraft as it is today,
// and the item that is looked at first.
type RunChoice struct {
	By        string
	Aircraft  string
	Equipment []string
	// ElevationFt is of the place where the aircraft stands.
	ElevationFt int
	// Date is the school's day; Day holds what is known of the air.
	Date  string
	Day   checklist.TypedDay
	Scale string
	First string
	List  checklist.List
	Type  aircraft.Type
	Over  []checklist.Layer
}

// Opened is what the opening event of the run carries. What the day leaves open
// leaves no check off.
func (c RunChoice) Opened() (Opened, error) {
	elevation := float64(c.ElevationFt)
	typed := checklist.TypedDay{OAT: c.Day.OAT, QNH: c.Day.QNH, Units: c.Day.Units}
	known, err := typed.Day()
	if err != nil {
		return Opened{}, err
	}
	day := checklist.Day{OATC: known.OATC, QNHHPa: known.QNHHPa, ElevationFt: &elevation}
	flown, err := checklist.Tailor(c.List, c.Over, c.Type, checklist.Aircraft{Equipment: c.Equipment}, day)
	if err != nil {
		return Opened{}, err
	}
	conditions, err := typed.Conditions()
	if err != nil {
		return Opened{}, err
	}
	conditions["elevationFt"], conditions["date"] = c.ElevationFt, c.Date
	flown = flown.Measured(c.First)
	o := Opened{Instructor: c.By, Aircraft: c.Aircraft, AircraftType: c.Type.ID, TypeVersion: c.Type.Version,
		List: c.List.ID, ListVersion: c.List.Version,
		Method: Methods[0], Scale: c.Scale, Purpose: Maintenance, First: c.First, Conditions: conditions,
		Equipment: c.Equipment, Day: &day, Flown: &flown}
	return o, o.check()
}

// FailedBehind are the readings that what reached an aircraft rests on, and that
// asked to stop or to look again: of each check and engine the last. There is none
// where it was only seen.
func (s *State) FailedBehind(event string) []Reading {
	var out []Reading
	for i, r := range s.Readings {
		on := s.findingOn(i)
		if r.Verdict == nil || len(asks(r.Verdict)) == 0 || r.Event != event && (on == nil || on.Event != event) {
			continue
		}
		out = append(slices.DeleteFunc(out, func(o Reading) bool { return o.Check == r.Check && o.Engine == r.Engine }),
			r)
	}
	return out
}

// Retest is how a signed run answers what failed on an aircraft.
type Retest struct {
	// Answers says that each check that failed was judged again in it, and that the
	// newest try of each asks for nothing.
	Answers bool `json:"answers"`
	// Words are what was measured, or what is still missing.
	Words string `json:"words"`
}

// Retests holds a run to readings that failed; what it measured before sinceMs does
// not count.
func (s *State) Retests(failed []Reading, sinceMs int64) Retest {
	out := Retest{Answers: len(s.Seals) > 0}
	add := func(text string) {
		if out.Words != "" {
			out.Words += " "
		}
		out.Words += text
	}
	if !out.Answers {
		add("It is not signed yet.")
	}
	for _, f := range failed {
		def, _ := check.Find(f.Check)
		var newest *Reading
		for i, r := range s.Readings {
			if r.Check == f.Check && r.Engine == f.Engine && r.judged() && r.AtMs >= sinceMs {
				newest = &s.Readings[i]
			}
		}
		switch {
		case newest == nil:
			out.Answers = false
			add(def.Title + " was not measured again.")
		case newest.Verdict.Decision != check.Continue:
			out.Answers = false
			add(reportWords(*newest))
		default:
			add(def.Title + ": " + check.OutcomeWords(newest.Verdict.Outcome) + ".")
		}
	}
	return out
}
