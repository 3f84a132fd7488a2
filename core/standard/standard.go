// Package standard holds standards packs: the elements a student is held to,
// in short words of this product's own, keyed to the public reference codes.
package standard

import (
	"fmt"
	"slices"

	"jetprimer/core/form"
)

// Pack is one version of a standard. Its wording is a paraphrase: Note says so
// and is shown wherever the pack is used.
type Pack struct {
	ID        string   `json:"id"`
	Title     string   `json:"title"`
	Version   int      `json:"version"`
	Authority string   `json:"authority,omitempty"`
	Document  string   `json:"document,omitempty"`
	Edition   string   `json:"edition,omitempty"`
	Status    string   `json:"status"`
	Note      string   `json:"note"`
	Classes   []string `json:"classes"`
	Tasks     []Task   `json:"tasks"`
	// Replaces says which elements of earlier editions, or of other packs, became
	// which of this one: what was shown of them counts on.
	Replaces []Replaced `json:"replaces,omitempty"`
}

// Replaced is an element that became another.
type Replaced struct {
	From string `json:"from"`
	To   string `json:"to"`
	Why  string `json:"why"`
}

// Moves are the elements that became others by the packs in force, each with what
// it became in the end.
func Moves(packs []Pack) map[string]string {
	moves := map[string]string{}
	for _, p := range packs {
		for _, r := range p.Replaces {
			moves[r.From] = r.To
		}
	}
	out := map[string]string{}
	for from, to := range moves {
		for range len(moves) { // a circle ends somewhere
			next, on := moves[to]
			if !on {
				break
			}
			to = next
		}
		out[from] = to
	}
	return out
}

// Task is a group of elements.
type Task struct {
	ID       string    `json:"id"`
	Code     string    `json:"code,omitempty"`
	Title    string    `json:"title"`
	Elements []Element `json:"elements"`
}

// Element is one thing a student is held to. ID is stable and this product's
// own; Code is the public reference, empty where it is not certain.
type Element struct {
	ID   string `json:"id"`
	Code string `json:"code,omitempty"`
	// Kind is knowledge, risk or skill.
	Kind string `json:"kind"`
	Text string `json:"text"`
	// Classes limits the element to some of the pack's classes.
	Classes []string `json:"classes,omitempty"`
}

// Kinds are the kinds of elements.
var Kinds = []string{"knowledge", "risk", "skill"}

// For lists the elements that the class requires, in order.
func (p Pack) For(class string) []Element {
	var out []Element
	for _, task := range p.Tasks {
		for _, e := range task.Elements {
			if len(e.Classes) == 0 || slices.Contains(e.Classes, class) {
				out = append(out, e)
			}
		}
	}
	return out
}

// Elements are the ids of those that students of a class are held to by packs.
func Elements(packs []Pack, class string) []string {
	out := []string{}
	for _, p := range packs {
		for _, e := range p.For(class) {
			out = append(out, e.ID)
		}
	}
	return out
}

// Problems lists every mistake in the pack.
func (p Pack) Problems() []form.Problem {
	var faults []form.Problem
	add := func(path, format string, args ...any) {
		faults = append(faults, form.Problem{Field: path, Reason: fmt.Sprintf(format, args...)})
	}
	for field, value := range map[string]string{"id": p.ID, "title": p.Title, "status": p.Status, "note": p.Note} {
		if value == "" {
			add("$."+field, "is missing")
		}
	}
	if p.Version < 1 {
		add("$.version", "must be 1 or more")
	}
	if len(p.Classes) == 0 {
		add("$.classes", "names no class")
	}
	if len(p.Tasks) == 0 {
		add("$.tasks", "has no task")
	}
	known := map[string]bool{}
	for t, task := range p.Tasks {
		at := fmt.Sprintf("$.tasks[%d]", t)
		if task.ID == "" || known["task "+task.ID] {
			add(at+".id", "%q is empty or used twice", task.ID)
		}
		known["task "+task.ID] = true
		if task.Title == "" {
			add(at+".title", "is missing")
		}
		for e, element := range task.Elements {
			at := fmt.Sprintf("%s.elements[%d]", at, e)
			if element.ID == "" || known[element.ID] {
				add(at+".id", "%q is empty or used twice", element.ID)
			}
			known[element.ID] = true
			if !slices.Contains(Kinds, element.Kind) {
				add(at+".kind", "%q is none of %v", element.Kind, Kinds)
			}
			if element.Text == "" {
				add(at+".text", "is missing")
			}
		}
	}
	from := map[string]bool{}
	for i, r := range p.Replaces {
		at := fmt.Sprintf("$.replaces[%d]", i)
		if r.From == "" || known[r.From] || from[r.From] {
			add(at+".from", "%q is empty, an element of this pack, or there twice", r.From)
		}
		from[r.From] = true
		if !known[r.To] {
			add(at+".to", "%q is no element of this pack", r.To)
		}
		if r.Why == "" {
			add(at+".why", "is missing: standing carries over with its reason")
		}
	}
	return form.SortProblems(faults)
}
