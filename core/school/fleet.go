package school

import (
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"jetprimer/core/form"
)

// Airframe is one aircraft of a school.
type Airframe struct {
	Registration string   `json:"registration"`
	Type         string   `json:"type"`
	Base         string   `json:"base" doc:"the id of a base"`
	Equipment    []string `json:"equipment,omitempty" doc:"what it has of its type's optional equipment"`
	// Hours are the airframe's in all, to a tenth, as somebody wrote them down.
	Hours *float64 `json:"hours,omitempty"`
	Notes string   `json:"notes,omitempty"`
}

// isRegistration reports whether a text has 2 to 10 capital letters and digits, single
// hyphens between them.
func isRegistration(text string) bool {
	n := 0
	for i, r := range text {
		switch {
		case r >= 'A' && r <= 'Z' || r >= '0' && r <= '9':
			n++
		case r != '-' || i == 0 || i == len(text)-1 || text[i-1] == '-':
			return false
		}
	}
	return n >= 2 && n <= 10
}

// Bounds of what is written down of an aircraft.
const (
	hoursMost = 99_999.9
	notesMost = 2_000 // letters
)

// Check reports the first mistake in the aircraft.
func (a Airframe) Check() error {
	if faults := a.Problems(); len(faults) > 0 {
		return faults[0]
	}
	return nil
}

// Problems lists every mistake in the aircraft, each with its field.
func (a Airframe) Problems() (faults []error) {
	if !isRegistration(a.Registration) {
		faults = append(faults, form.Bad("registration", "must be 2 to 10 capital letters and digits, such as QZ-AAA"))
	}
	for i, e := range a.Equipment {
		if slices.Contains(a.Equipment[:i], e) {
			faults = append(faults, form.Bad("equipment", "names %q twice", e))
		}
	}
	if h := a.Hours; h != nil && !(*h >= 0 && *h <= hoursMost && math.Abs(*h*10-math.Round(*h*10)) < 1e-6) {
		faults = append(faults, form.Bad("hours", "must be hours from 0 to %.1f, to a tenth", hoursMost))
	}
	if len([]rune(a.Notes)) > notesMost {
		faults = append(faults, form.Bad("notes", "must have at most %d letters", notesMost))
	}
	return faults
}

// Tidy is the aircraft without what is only around the words.
func (a Airframe) Tidy() Airframe {
	a.Registration = strings.ToUpper(strings.TrimSpace(a.Registration))
	a.Base = strings.ToUpper(strings.TrimSpace(a.Base))
	a.Type, a.Notes = strings.TrimSpace(a.Type), strings.TrimSpace(a.Notes)
	return a
}

// Hangar is a school's aircraft and what they can be, as the rows of a table are
// held against it.
type Hangar struct {
	Aircraft map[string]KnownAirframe // by registration
	Bases    []string
	Types    map[string]string // ids of the types in force, by id and by name in small letters
	// Equipment is what can be fitted to a type, by its id.
	Equipment map[string][]string
}

// KnownAirframe is an aircraft that the school has or had.
type KnownAirframe struct {
	Airframe
	Retired bool
}

// FleetEntry is one row of a table of aircraft: the type stands there by its name
// or id, the hours as they were written.
type FleetEntry struct {
	Line int
	Airframe
	Hours string
}

// Judge holds the rows of a table against the school: what it would add and
// change, and everything that cannot be.
func (h Hangar) Judge(entries []FleetEntry) []AirframeRow {
	lines := map[string]int{}
	out := make([]AirframeRow, len(entries))
	for i, e := range entries {
		a := e.Tidy()
		j := form.NewRow(e.Line, a.Registration)
		if e.Hours != "" {
			if n, why := form.PlainNumber(e.Hours, "h"); why != "" {
				j.Refuse(form.Bad("hours", "%s", why))
			} else if v, err := strconv.ParseFloat(n.String(), 64); err == nil {
				a.Hours = &v
			}
		}
		a.Type = h.Types[strings.ToLower(e.Type)]
		if a.Type == "" {
			j.Refuse(form.Bad("type", "%q is no aircraft type in force", e.Type))
		}
		if !slices.Contains(h.Bases, a.Base) {
			j.Refuse(form.Bad("base", "%q is none of the school's bases: %s", e.Base, strings.Join(h.Bases, ", ")))
		}
		for _, fitted := range a.Equipment {
			if a.Type != "" && !slices.Contains(h.Equipment[a.Type], fitted) {
				j.Refuse(form.Bad("equipment", "%q is no optional equipment of the type: %s", fitted,
					strings.Join(h.Equipment[a.Type], ", ")))
			}
		}
		for _, fault := range a.Problems() {
			j.Refuse(fault)
		}
		j.Once(lines, "registration", a.Registration)
		known, there := h.Aircraft[a.Registration]
		if there {
			j.Changes = known.changes(a)
			if known.Retired {
				j.Refuse(form.Bad("registration", "belongs to an aircraft that is retired: bring it back first"))
			}
			if a.Type != "" && a.Type != known.Type {
				j.Refuse(form.Bad("type", "cannot change: it is a %s here", known.Type))
			}
		}
		j.Settle(there)
		out[i] = AirframeRow{j, a}
	}
	return out
}

// AirframeRow is a row of a table of aircraft with the aircraft that it makes.
type AirframeRow struct {
	form.Row
	Airframe Airframe
}

func (k KnownAirframe) changes(a Airframe) []string {
	return form.Changed(
		form.Column{Name: "base", Differs: k.Base != a.Base},
		form.Column{Name: "equipment", Differs: !form.SameSet(k.Equipment, a.Equipment)},
		form.Column{Name: "hours", Differs: a.Hours != nil && (k.Hours == nil || *k.Hours != *a.Hours)},
		form.Column{Name: "notes", Differs: k.Notes != a.Notes})
}

// CheckDay refuses what is neither empty nor a day.
func CheckDay(field, day string) error {
	if _, err := time.Parse(time.DateOnly, day); day != "" && err != nil {
		return form.Bad(field, "must be a day such as 2026-11-26")
	}
	return nil
}
