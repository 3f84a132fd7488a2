package checklist

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"jetprimer/core/form"
)

// Ranks are the kinds of layers, from the lowest to the highest: where two
// layers change the same thing, the higher one stands.
var Ranks = []string{"instructor", "school", "handbook", "bulletin"}

// Layer is one version of what somebody lays over a list: a handbook's
// supplement, the school's own, a service bulletin, an instructor's technique.
type Layer struct {
	ID      string `json:"id"`
	Title   string `json:"title"`
	Version int    `json:"version"`
	Rank    string `json:"rank"`
	// AircraftType is the type whose lists are changed.
	AircraftType string `json:"aircraftType"`
	// Source is the document the layer comes from, Date its day, Author who
	// wrote it down, Approval who let it be used.
	Source   string `json:"source"`
	Date     string `json:"date"`
	Author   string `json:"author"`
	Approval string `json:"approval"`
	// Instructor is whose technique it is: a layer of that rank is used in
	// their lessons only.
	Instructor string   `json:"instructor,omitempty"`
	Changes    []Change `json:"changes"`
}

// Change adds, changes or drops one item.
type Change struct {
	Op  string `json:"op"`
	Why string `json:"why"`
	// When is the Condition under which the change applies; empty is always.
	When string `json:"when,omitempty"`
	// Item is the id of the item to change or drop.
	Item string `json:"item,omitempty"`
	// Set holds new values of the item's fields, under their names.
	Set map[string]any `json:"set,omitempty"`
	// New is the item to add, Phase the phase it goes to and Follows the item
	// it comes behind; without one it comes first.
	New     *Item  `json:"new,omitempty"`
	Phase   string `json:"phase,omitempty"`
	Follows string `json:"follows,omitempty"`
}

// The operations of a change.
const (
	OpAdd    = "add"
	OpChange = "change"
	OpDrop   = "drop"
)

// rank is the layer's place among Ranks.
func (l Layer) rank() int { return slices.Index(Ranks, l.Rank) }

// target is the id of the item that the change is about.
func (c Change) target() string {
	if c.Op == OpAdd && c.New != nil {
		return c.New.ID
	}
	return c.Item
}

// Problems lists every mistake that can be seen in the layer itself.
func (l Layer) Problems() []form.Problem {
	var faults []form.Problem
	add := func(path, format string, args ...any) {
		faults = append(faults, form.Problem{Field: path, Reason: fmt.Sprintf(format, args...)})
	}
	for field, value := range map[string]string{
		"id": l.ID, "title": l.Title, "aircraftType": l.AircraftType, "source": l.Source, "author": l.Author,
	} {
		if value == "" {
			add("$."+field, "is missing")
		}
	}
	if l.Version < 1 {
		add("$.version", "must be 1 or more")
	}
	if l.rank() < 0 {
		add("$.rank", "%q is none of %s", l.Rank, strings.Join(Ranks, ", "))
	}
	if _, err := time.Parse(time.DateOnly, l.Date); err != nil {
		add("$.date", "%q is no day such as 2026-11-24", l.Date)
	}
	if len(l.Changes) == 0 {
		add("$.changes", "changes nothing")
	}
	touched := map[string]bool{}
	for i, c := range l.Changes {
		at := fmt.Sprintf("$.changes[%d]", i)
		c.faults(at, add)
		if id := c.target(); id != "" && touched[id+" "+c.When] {
			add(at, "touches %q a second time under the same condition", id)
		} else {
			touched[id+" "+c.When] = true
		}
	}
	return form.SortProblems(faults)
}

func (c Change) faults(at string, add func(path, format string, args ...any)) {
	if c.Why == "" {
		add(at+".why", "is missing: everybody must see why the list differs")
	}
	if _, err := ParseCondition(c.When); err != nil {
		add(at+".when", "%v", err)
	}
	switch c.Op {
	case OpAdd:
		switch {
		case c.New == nil || c.Phase == "":
			add(at, "needs new, the item to add, and phase, where it goes")
		case c.New.ID == "":
			add(at+".new.id", "is missing")
		default:
			c.New.faults(at+".new", add)
		}
	case OpChange:
		if c.Item == "" || len(c.Set) == 0 {
			add(at, "needs item, and set with the fields that become another")
		} else if _, err := (Item{ID: c.Item}).with(c.Set); err != nil {
			add(at+".set", "%v", err)
		}
	case OpDrop:
		if c.Item == "" {
			add(at, "needs item, the one to drop")
		}
	default:
		add(at+".op", "%q is none of add, change, drop", c.Op)
	}
}

// with is the item with fields set to other values.
func (i Item) with(set map[string]any) (Item, error) {
	data, err := json.Marshal(i)
	if err != nil {
		return i, err
	}
	var fields map[string]any
	if err := json.Unmarshal(data, &fields); err != nil {
		return i, err
	}
	if _, touchesID := set["id"]; touchesID {
		return i, fmt.Errorf("id may not become another")
	}
	maps.Copy(fields, set)
	if data, err = json.Marshal(fields); err != nil {
		return i, err
	}
	var out Item
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(&out); err != nil {
		return i, fmt.Errorf("%s", strings.TrimPrefix(err.Error(), "json: "))
	}
	return out, nil
}
