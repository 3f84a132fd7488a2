// Package checklist holds checklists: phases of items, each with its challenge
// and response, why it is there, and what must come before it.
package checklist

import (
	"fmt"

	"jetprimer/core/aircraft"
)

// List is one version of a checklist for one aircraft type. A version is
// immutable once a lesson has used it.
type List struct {
	ID           string  `json:"id"`
	Title        string  `json:"title"`
	Version      int     `json:"version"`
	AircraftType string  `json:"aircraftType"`
	Source       string  `json:"source"`
	Phases       []Phase `json:"phases"`
}

// Phase is a part of the list that is worked in one place.
type Phase struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	Items []Item `json:"items"`
}

// Item is one line of a list.
type Item struct {
	ID        string `json:"id"`
	Challenge string `json:"challenge"`
	Response  string `json:"response"`
	// Why says what the item protects from, in a sentence a student learns.
	Why string `json:"why"`
	// Errors are the mistakes students usually make here.
	Errors []string `json:"errors,omitempty"`
	// Critical items end the exercise when they are left out.
	Critical bool `json:"critical,omitempty"`
	// Caution is shown at the item while it is worked.
	Caution string `json:"caution,omitempty"`
	// After names items that must be complete before this one, whatever the
	// method of working the list: breaking this is a safety error.
	After []string `json:"after,omitempty"`
	// Check names the measured check that the item's reading goes to.
	Check string `json:"check,omitempty"`
	// Gauges names the gauges to read when Check is gauges.
	Gauges []string `json:"gauges,omitempty"`
	// Elements are the ids of the standard elements the item shows.
	Elements []string `json:"elements,omitempty"`
	// Knowledge are the ids of the elements that a question at this item shows.
	Knowledge []string `json:"knowledge,omitempty"`
}

// Place is where an item stands in its list.
type Place struct {
	Phase    int // index of the phase
	Position int // index among all items of the list
	Item     Item
}

// Places lists all items in order.
func (l List) Places() []Place {
	var places []Place
	for p, phase := range l.Phases {
		for _, item := range phase.Items {
			places = append(places, Place{p, len(places), item})
		}
	}
	return places
}

// Faults lists every mistake that can be seen in the list itself.
func (l List) Faults() []aircraft.Fault {
	var faults []aircraft.Fault
	add := func(path, format string, args ...any) {
		faults = append(faults, aircraft.Fault{Path: path, Reason: fmt.Sprintf(format, args...)})
	}
	for field, value := range map[string]string{"id": l.ID, "title": l.Title, "aircraftType": l.AircraftType, "source": l.Source} {
		if value == "" {
			add("$."+field, "is missing")
		}
	}
	if l.Version < 1 {
		add("$.version", "must be 1 or more")
	}
	if len(l.Phases) == 0 {
		add("$.phases", "has no phase")
	}
	known, phases := map[string]bool{}, map[string]bool{}
	for p, phase := range l.Phases {
		at := fmt.Sprintf("$.phases[%d]", p)
		if phase.ID == "" || phases[phase.ID] {
			add(at+".id", "%q is empty or used twice", phase.ID)
		}
		phases[phase.ID] = true
		if len(phase.Items) == 0 {
			add(at+".items", "has no item")
		}
		for i, item := range phase.Items {
			at := fmt.Sprintf("%s.items[%d]", at, i)
			if item.ID == "" || known[item.ID] {
				add(at+".id", "%q is empty or used twice", item.ID)
			}
			for field, value := range map[string]string{"challenge": item.Challenge, "response": item.Response, "why": item.Why} {
				if value == "" {
					add(at+"."+field, "is missing")
				}
			}
			for a, before := range item.After {
				if !known[before] {
					add(fmt.Sprintf("%s.after[%d]", at, a), "%q is no item that stands before this one", before)
				}
			}
			if len(item.Gauges) > 0 && item.Check != "gauges" {
				add(at+".gauges", "is only for items whose check is gauges")
			}
			known[item.ID] = true
		}
	}
	return aircraft.SortFaults(faults)
}
