//go:build !lesson

package bridge

import "jetprimer/core/policy"

func (b *Bridge) decisions(p policy.Policy, known policy.Known, older *policy.Policy) policy.Sheet {
	return policy.SheetOf(p, older, known, b.units)
}

func (b *Bridge) decide(p policy.Policy, edit policy.Edit, known policy.Known) (policy.Policy, error) {
	return policy.Apply(p, edit, known, b.units)
}
