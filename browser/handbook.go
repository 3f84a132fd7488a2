//go:build js && wasm && !lesson

package main

import (
	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/handbook"
)

// sheet takes a type and what it is compared with, or nothing, and answers the
// type as it is described so far, with an example of each check that is judged.
func sheet(args []string) (any, error) {
	var t aircraft.Type
	var older *aircraft.Type
	if err := read(args, &t, &older); err != nil {
		return nil, err
	}
	out, err := handbook.SheetOf(t, older)
	if err != nil {
		return nil, err
	}
	return described{out, examples(t, out)}, nil
}

// described is a sheet with readings to drag.
type described struct {
	handbook.Sheet
	Examples map[string]example `json:"examples"`
}

type example struct {
	Reading    map[string]any `json:"reading"`
	Conditions map[string]any `json:"conditions"`
}

func examples(t aircraft.Type, s handbook.Sheet) map[string]example {
	out := map[string]example{}
	for _, p := range s.Parts {
		if !p.Judged {
			continue
		}
		if reading, conditions, ok := check.Example(p.Check, t, nil, 0); ok {
			out[p.Check] = example{reading, conditions}
		}
	}
	return out
}

// number takes a type and what was done to one of its numbers, and answers the
// type with it.
func number(args []string) (any, error) {
	var t aircraft.Type
	var edit handbook.Edit
	if err := read(args, &t, &edit); err != nil {
		return nil, err
	}
	return handbook.Apply(t, edit)
}

// have takes a type, a part besides its checks and whether the handbook has it,
// and answers the type.
func have(args []string) (any, error) {
	var t aircraft.Type
	var part string
	var has bool
	if err := read(args, &t, &part, &has); err != nil {
		return nil, err
	}
	return handbook.Have(t, part, has)
}

// ask takes a type, a check and whether it is asked for, and answers the type.
func ask(args []string) (any, error) {
	var t aircraft.Type
	var name string
	var asked bool
	if err := read(args, &t, &name, &asked); err != nil {
		return nil, err
	}
	return handbook.Ask(t, name, asked)
}
