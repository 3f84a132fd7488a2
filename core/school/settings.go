package school

import (
	"cmp"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// Settings are what a school decides for itself.
type Settings struct {
	// Units are those that its people read, where they have not chosen others.
	Units quantity.Units `json:"units"`
	// FuelMethod is how it takes the tanks; empty is prove-both.
	FuelMethod string `json:"fuelMethod,omitempty" enum:"fuller-first,prove-both"`
	// TimeRule is how it counts flight time; empty is by the hour meter.
	TimeRule string `json:"timeRule,omitempty" enum:"hour-meter,block"`
	// SecondFactor asks its chief instructors and administrators for one-time codes.
	SecondFactor bool `json:"secondFactor,omitempty"`
}

// Check reports the first setting that cannot be used.
func (s Settings) Check() error {
	if err := s.Units.Check(); err != nil {
		return form.Bad("units", "cannot be used: %v", err)
	}
	if s.FuelMethod != "" && !slices.Contains(aircraft.FuelMethods, s.FuelMethod) {
		return form.Bad("fuelMethod", "must be one of %s", strings.Join(aircraft.FuelMethods, ", "))
	}
	if s.TimeRule != "" && !slices.Contains(TimeRules, s.TimeRule) {
		return form.Bad("timeRule", "must be one of %s", strings.Join(TimeRules, ", "))
	}
	return nil
}

// TimeRules are the ways in which schools count flight time: by the hour meter,
// or from moving off to the shutdown.
var TimeRules = []string{"hour-meter", "block"}

// FlightTime is the rule by which the school counts flight time.
func (s Settings) FlightTime() string { return cmp.Or(s.TimeRule, TimeRules[0]) }

// Tanks is the method by which the school takes the tanks.
func (s Settings) Tanks() string { return cmp.Or(s.FuelMethod, aircraft.FuelMethods[1]) }
