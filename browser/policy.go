//go:build js && wasm && !lesson

package main

import "jetprimer/core/policy"

// decisions takes a policy, what it is compared with or nothing, and what it
// chooses from, and answers it question by question.
func decisions(args []string) (any, error) {
	var p policy.Policy
	var older *policy.Policy
	var known policy.Known
	if err := read(args, &p, &older, &known); err != nil {
		return nil, err
	}
	return policy.SheetOf(p, older, known, units), nil
}

// decide takes a policy, a decision and what it chooses from, and answers the
// policy with it.
func decide(args []string) (any, error) {
	var p policy.Policy
	var edit policy.Edit
	var known policy.Known
	if err := read(args, &p, &edit, &known); err != nil {
		return nil, err
	}
	return policy.Apply(p, edit, known, units)
}
