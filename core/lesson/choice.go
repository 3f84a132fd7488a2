package lesson

import (
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
)

// Element is a part of a spoken take-off brief.
type Element struct {
	ID    string `json:"id"`
	Label string `json:"label"`
}

// BriefElements are the parts that a spoken take-off brief has on a type.
func BriefElements(t aircraft.Type) []Element {
	if t.Class == "helicopter" {
		return []Element{{"runway", "where, and what lies ahead"}, {"wind", "wind, across and along"},
			{"configuration", "configuration"}, {"speeds", "speeds"},
			{"performance", "power needed and its limit"}, {"flying-by", "when to go back down"},
			{"before-rotation", "failure in the hover"},
			{"no-runway-low", "failure low"}, {"no-runway-high", "failure higher, and the height"}, {
				"who", "who flies, who reads",
			}}
	}
	return []Element{{"runway", "runway and length"}, {"wind", "wind, across and along"},
		{"configuration", "configuration"}, {"speeds", "speeds"},
		{"performance", "distance needed"}, {"flying-by", "the point to be flying by"},
		{"before-rotation", "failure before rotation"},
		{"runway-left", "failure with runway left"}, {"no-runway-low", "failure low"}, {
			"no-runway-high", "failure higher, and the height",
		}, {"who", "who flies, who reads"}}
}

// Choice is what a lesson is opened with, as it was chosen and typed.
type Choice struct {
	Student    string `json:"student"`
	Instructor string `json:"instructor"`
	Aircraft   string `json:"aircraft"`
	// Equipment and ElevationFt are the aircraft's.
	Equipment   []string `json:"equipment"`
	ElevationFt int      `json:"elevationFt"`
	Method      string   `json:"method"`
	Scale       string   `json:"scale"`
	Purpose     string   `json:"purpose"`
	Passing     string   `json:"passing,omitempty"`
	Paper       *Paper   `json:"paper,omitempty"`
	Runway      string   `json:"runway"`
	Wind        string   `json:"wind"`
	StartOrder  []int    `json:"startOrder,omitempty"`
	// Date is the school's day.
	Date string `json:"date"`
	// FuelLeft and FuelRight were dipped, in the unit that the person reads.
	FuelLeft  string             `json:"fuelLeft"`
	FuelRight string             `json:"fuelRight"`
	Day       checklist.TypedDay `json:"day"`
	List      checklist.List     `json:"list"`
	Type      aircraft.Type      `json:"type"`
	Over      []checklist.Layer  `json:"layers"`
}

// Tailored is the list as flown that a choice makes.
func (c Choice) Tailored() (checklist.Flown, checklist.Day, error) {
	day, err := c.Day.WithWind(c.Wind)
	if err != nil {
		return checklist.Flown{}, day, err
	}
	elevation := float64(c.ElevationFt)
	day.ElevationFt = &elevation
	flown, err := checklist.Tailor(c.List, c.Over, c.Type, checklist.Aircraft{
		Equipment: c.Equipment, StartOrder: c.StartOrder,
	}, day)
	return flown, day, err
}

// Opened is what the opening event of the lesson carries.
func (c Choice) Opened() (Opened, error) {
	switch {
	case c.Student == "":
		return Opened{}, form.Bad("student", "is not chosen yet")
	case c.Aircraft == "":
		return Opened{}, form.Bad("aircraft", "is not chosen yet")
	case c.List.ID == "":
		return Opened{}, form.Bad("aircraft", "has no checklist in force")
	}
	flown, day, err := c.Tailored()
	if err != nil {
		return Opened{}, err
	}
	conditions, err := c.Day.Conditions()
	if err != nil {
		return Opened{}, err
	}
	conditions["elevationFt"], conditions["date"] = c.ElevationFt, c.Date
	if c.Paper != nil {
		conditions["date"] = c.Paper.Day
	}
	o := Opened{Student: c.Student, Paper: c.Paper, Instructor: c.Instructor, Aircraft: c.Aircraft,
		AircraftType: c.Type.ID, TypeVersion: c.Type.Version,
		List: c.List.ID, ListVersion: c.List.Version, Method: c.Method, Scale: c.Scale, Purpose: c.Purpose,
		Runway: strings.TrimSpace(c.Runway), Wind: strings.TrimSpace(c.Wind),
		Conditions: conditions, Equipment: c.Equipment, Day: &day, Flown: &flown}
	if c.Passing != Passings[0] {
		o.Passing = c.Passing
	}
	if o.Fuel, err = c.fuel(); err != nil {
		return Opened{}, err
	}
	return o, o.check()
}

// fuel is what was dipped, nil where it is not said or the pilot has no choice.
func (c Choice) fuel() (*FuelAboard, error) {
	if !c.Type.Has("tank-choice") || strings.TrimSpace(c.FuelLeft+c.FuelRight) == "" {
		return nil, nil
	}
	out := &FuelAboard{}
	for _, side := range []struct {
		name, text string
		into       *any
	}{{"fuelLeft", c.FuelLeft, &out.Left}, {"fuelRight", c.FuelRight, &out.Right}} {
		unit := c.Day.Units.For("L")
		n, why := form.PlainNumber(side.text, unit)
		switch {
		case strings.TrimSpace(side.text) == "":
			return nil, form.Bad(side.name, "is not said yet: the plan needs both")
		case why != "":
			return nil, form.Bad(side.name, "%s", why)
		}
		if *side.into = n; unit != "L" {
			*side.into = form.Measured(n, unit)
		}
	}
	if _, _, err := out.plan(c.Type, c.Day.FuelMethod); err != nil {
		return nil, form.Bad("fuelLeft", "and right cannot be used: %v", err)
	}
	return out, nil
}
