// Package checklist holds checklists: phases of items, each with its challenge
// and response, why it is there, and what must come before it.
package checklist

import (
	"fmt"
	"strings"
	"unicode"

	"jetprimer/core/form"
)

// Printed is the id of the item as its list has it, whatever engine it is worked for.
func (i Item) Printed() string {
	if i.Of != "" {
		return i.Of
	}
	return i.ID
}

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
	// Look says what the item is looked at with: the hand's place, a gauge, the
	// outside.
	Look string `json:"look,omitempty"`
	// Abnormal says how it looks when something is wrong.
	Abnormal string `json:"abnormal,omitempty"`
	// Errors are the mistakes students usually make here.
	Errors []string `json:"errors,omitempty"`
	// Place is where in the cockpit, or outside it, the item is worked: the id
	// of one of the type's cockpit places.
	Place string `json:"place,omitempty"`
	// When is the Condition under which the item is worked; empty is always.
	When string `json:"when,omitempty"`
	// Per says that the item is worked once an engine: "each" engine beside the
	// other, or in a "block" with its neighbours, one engine after the other.
	Per string `json:"per,omitempty"`
	// Only restricts an item of a block to the "first" or the "second" engine.
	Only string `json:"only,omitempty"`
	// Engine and Of are set in a list as flown: the engine, and the id of the
	// item that this one was made of for it.
	Engine int    `json:"engine,omitempty"`
	Of     string `json:"of,omitempty"`
	// Critical items end the exercise when they are left out.
	Critical bool `json:"critical,omitempty"`
	// Caution is shown at the item while it is worked.
	Caution string `json:"caution,omitempty"`
	// After names items that must be complete before this one, whatever the
	// method of working the list: breaking this is a safety error.
	After []string `json:"after,omitempty"`
	// Closes names the item that opens what this one closes, as BOTH does the
	// magneto check: what must come after this one must only once that was done.
	Closes string `json:"closes,omitempty"`
	// Check names the measured check that the item's reading goes to.
	Check string `json:"check,omitempty"`
	// Gauges names the gauges to read when Check is gauges.
	Gauges []string `json:"gauges,omitempty"`
	// Power is the power at which the gauges are read: one of check.Powers.
	// Raises says what the item's gauges are waited for, by the type's minimums;
	// LimitFrom is the calculator whose limit of the day they are held to.
	Power     string `json:"power,omitempty"`
	Raises    string `json:"raises,omitempty"`
	LimitFrom string `json:"limitFrom,omitempty"`
	// OnRunway says that the aircraft stands on the runway of the lesson there.
	OnRunway bool `json:"onRunway,omitempty"`
	// Needs is what must be on, running or called for the item to be worked at
	// all, Starts and Stops what it brings about: battery, avionics, engine,
	// clear (the area called clear), or a protection such as pitot-heat.
	Needs  []string `json:"needs,omitempty"`
	Starts []string `json:"starts,omitempty"`
	Stops  []string `json:"stops,omitempty"`
	// Timers names what is timed here, by the type's durations or freely.
	Timers []string `json:"timers,omitempty"`
	// Elements are the ids of the standard elements the item shows.
	Elements []string `json:"elements,omitempty"`
	// Knowledge are the ids of the elements that a question at this item shows.
	Knowledge []string `json:"knowledge,omitempty"`
	// NoStandard says why no standard element is shown here.
	NoStandard string `json:"noStandard,omitempty"`
}

// Place is where an item stands in its list.
type Place struct {
	Phase    int // index of the phase
	Position int // index among all items of the list
	// Row is the position of the first of items that are worked side by side,
	// in either order; of any other item it is its own position.
	Row  int
	Item Item
}

// Places lists all items in order.
func (l List) Places() []Place {
	count := 0
	for _, phase := range l.Phases {
		count += len(phase.Items)
	}
	places := make([]Place, 0, count)
	for p, phase := range l.Phases {
		for _, item := range phase.Items {
			at := Place{p, len(places), len(places), item}
			if n := len(places); n > 0 && item.beside(places[n-1].Item) {
				at.Row = places[n-1].Row
			}
			places = append(places, at)
		}
	}
	return places
}

// beside reports whether the item is worked side by side with the one before.
func (i Item) beside(before Item) bool { return i.Per == "each" && i.Of != "" && i.Of == before.Of }

// Find finds an item by its id. The id may also be that of a list as flown,
// where an item that is worked once an engine has one id for each.
func (l List) Find(id string) (Item, bool) {
	bare := id
	if at := strings.LastIndexByte(id, '-'); at > 0 && len(id) == at+2 && id[at+1] >= '1' && id[at+1] <= '4' {
		bare = id[:at]
	}
	var found Item
	for _, phase := range l.Phases {
		for _, item := range phase.Items {
			if item.ID == id {
				return item, true
			}
			if item.ID == bare && item.Per != "" {
				found = item
			}
		}
	}
	return found, found.ID != ""
}

// Problems lists every mistake that can be seen in the list itself.
func (l List) Problems() []form.Problem {
	var faults []form.Problem
	add := func(path, format string, args ...any) {
		faults = append(faults, form.Problem{Field: path, Reason: fmt.Sprintf(format, args...)})
	}
	for field, value := range map[string]string{
		"id": l.ID, "title": l.Title, "aircraftType": l.AircraftType, "source": l.Source,
	} {
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
		if phase.Title == "" || !oneLine(phase.Title) {
			add(at+".title", "must be one line, not empty, without spaces at its ends")
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
			item.faults(at, add)
			for a, before := range item.After {
				if !known[before] {
					add(fmt.Sprintf("%s.after[%d]", at, a), "%q is no item that stands before this one", before)
				}
			}
			if item.Closes != "" && !known[item.Closes] {
				add(at+".closes", "%q is no item that stands before this one", item.Closes)
			}
			known[item.ID] = true
		}
	}
	return form.SortProblems(faults)
}

// faults lists the mistakes inside one item, which stands at a path.
func (i Item) faults(at string, add func(path, format string, args ...any)) {
	for field, value := range map[string]string{"challenge": i.Challenge, "response": i.Response, "why": i.Why} {
		if value == "" {
			add(at+"."+field, "is missing")
		}
	}
	for field, text := range map[string]string{"id": i.ID, "challenge": i.Challenge, "response": i.Response,
		"why": i.Why, "look": i.Look,
		"abnormal": i.Abnormal, "place": i.Place, "caution": i.Caution, "check": i.Check, "noStandard": i.NoStandard,
		"closes": i.Closes} {
		if !oneLine(text) {
			add(at+"."+field, "must be one line, without spaces at its ends")
		}
	}
	for field, entries := range map[string][]string{"errors": i.Errors, "after": i.After, "gauges": i.Gauges,
		"timers": i.Timers, "needs": i.Needs, "starts": i.Starts, "stops": i.Stops,
		"elements": i.Elements, "knowledge": i.Knowledge} {
		for n, text := range entries {
			if text == "" || !oneLine(text) {
				add(fmt.Sprintf("%s.%s[%d]", at, field, n), "must be one line, not empty, without spaces at its ends")
			}
		}
	}
	if _, err := ParseCondition(i.When); err != nil {
		add(at+".when", "%v", err)
	}
	if i.Per != "" && i.Per != "each" && i.Per != "block" {
		add(at+".per", "%q is neither each nor block", i.Per)
	}
	if i.Only != "" && (i.Per != "block" || i.Only != "first" && i.Only != "second") {
		add(at+".only", "must be first or second, on an item that is per block")
	}
	if i.LimitFrom != "" && i.LimitFrom != "power-limit" {
		add("limitFrom", "%q is none of power-limit", i.LimitFrom)
	}
	if len(i.Gauges) > 0 && i.Check != "gauges" {
		add(at+".gauges", "is only for items whose check is gauges")
	}
	if len(i.Elements)+len(i.Knowledge) > 0 && i.NoStandard != "" {
		add(at+".noStandard", "stands beside elements that the item shows")
	}
}

// oneLine reports whether a text can stand on a line of a printed list.
func oneLine(text string) bool {
	return text == strings.TrimSpace(text) && !strings.ContainsFunc(text, unicode.IsControl)
}
