//go:build js && wasm && !lesson

package main

import (
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/record"
)

// verify takes the text of an exported record and answers what it was found to
// be.
func verify(args []string) (any, error) {
	var file string
	if err := read(args, &file); err != nil {
		return nil, err
	}
	found, err := record.Verify([]byte(file))
	if err != nil {
		return nil, err
	}
	found.State = found.State.In(units)
	names := map[string]string{}
	for _, i := range found.Record.Items {
		names[i.ID] = i.Challenge
	}
	return struct {
		record.Found
		Line  string       `json:"line"`
		Strip lesson.Strip `json:"strip"`
	}{found, found.Line(), lesson.StripOf(found.State, func(item string) string { return names[item] })}, nil
}

// tailor takes a list, layers, a type, an aircraft and a typed day, and answers
// the list as flown.
func tailor(args []string) (any, error) {
	var t checklist.Tailoring
	var typed checklist.TypedDay
	if err := read(args, &t, &typed); err != nil {
		return nil, err
	}
	if args[1] != "" {
		var err error
		typed.Units = units
		if t.Day, err = typed.Day(); err != nil {
			return nil, err
		}
	}
	flown, err := t.Flown()
	return flown.In(units), err
}

// problems takes a list, a layer or a memory aid with what it refers to, and
// answers every mistake in it. The list is that of a memory aid.
func problems(args []string) (any, error) {
	var asked struct {
		Surroundings checklist.Surroundings `json:"surroundings"`
		List         *checklist.List        `json:"list"`
		Layer        *checklist.Layer       `json:"layer"`
		Aid          *checklist.Aid         `json:"aid"`
	}
	if err := read(args, &asked); err != nil {
		return nil, err
	}
	found := []form.Problem{}
	switch {
	case asked.Layer != nil:
		found = append(found, asked.Surroundings.LayerProblems(*asked.Layer)...)
	case asked.Aid != nil && asked.List != nil:
		found = append(found, asked.Surroundings.AidProblems(*asked.Aid, *asked.List)...)
	case asked.List != nil:
		found = append(found, asked.Surroundings.ListProblems(*asked.List)...)
	}
	return found, nil
}

// differences takes an older and a newer list, and answers how they differ.
func differences(args []string) (any, error) {
	var lists struct{ Older, Newer checklist.List }
	if err := read(args, &lists); err != nil {
		return nil, err
	}
	return checklist.Differences(lists.Older, lists.Newer), nil
}

// slug takes words and answers an id made of them.
func slug(args []string) (any, error) {
	var words string
	if err := read(args, &words); err != nil {
		return nil, err
	}
	return checklist.Slug(words), nil
}
