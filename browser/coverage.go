//go:build js && wasm && !lesson

package main

import (
	"jetprimer/core/checklist"
	"jetprimer/core/standard"
)

// coverage takes standards packs, a list and a class, and answers which elements
// the items of the list show.
func coverage(args []string) (any, error) {
	var packs []standard.Pack
	var list checklist.List
	var class string
	if err := read(args, &packs, &list, &class); err != nil {
		return nil, err
	}
	return checklist.CoverageOf(list, packs, class), nil
}

// link takes a list, an item, an element and whether the item shows it, and
// answers the list.
func link(args []string) (any, error) {
	var list checklist.List
	var item, element string
	var on bool
	if err := read(args, &list, &item, &element, &on); err != nil {
		return nil, err
	}
	return list.Link(item, element, on), nil
}

// packProblems takes a standards pack and answers every mistake in it.
func packProblems(args []string) (any, error) {
	var pack standard.Pack
	if err := read(args, &pack); err != nil {
		return nil, err
	}
	return pack.Problems(), nil
}

// beside takes two editions of a pack and answers them side by side.
func beside(args []string) (any, error) {
	var before, after standard.Pack
	if err := read(args, &before, &after); err != nil {
		return nil, err
	}
	return standard.Beside(before, after), nil
}
