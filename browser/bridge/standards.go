//go:build !lesson

package bridge

import (
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/standard"
)

func (b *Bridge) coverage(packs []standard.Pack, list checklist.List, class string) checklist.Coverage {
	return checklist.CoverageOf(list, packs, class)
}

func (b *Bridge) link(list checklist.List, item, element string, on bool) checklist.List {
	return list.Link(item, element, on)
}

func (b *Bridge) beside(before, after standard.Pack) []standard.Pair {
	return standard.Beside(before, after)
}

func (b *Bridge) packProblems(pack standard.Pack) []form.Problem {
	return append([]form.Problem{}, pack.Problems()...)
}
