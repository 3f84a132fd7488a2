package lesson

import (
	"cmp"
	"slices"
)

// Fix is something to fix next time: the item, why it stands where it does, and
// what was measured there.
type Fix struct {
	Item     string `json:"item"`
	Why      string `json:"why"`
	Measured string `json:"measured"`
}

// fixes is how many things one can take along from a lesson.
const fixes = 3

// ToFix are the items that stand lowest, critical ones first among their like,
// then in the order of the list.
func (s *Session) ToFix(state State) []Fix {
	var low []int
	for i, item := range state.Items {
		if item.Level != nil && *item.Level < 4 {
			low = append(low, i)
		}
	}
	weight := func(i int) int {
		if s.places[i].Item.Critical {
			return 2 * *state.Items[i].Level
		}
		return 2**state.Items[i].Level + 1
	}
	slices.SortStableFunc(low, func(a, b int) int { return cmp.Compare(weight(a), weight(b)) })
	out := []Fix{}
	for _, i := range low[:min(fixes, len(low))] {
		item := state.Items[i]
		f := Fix{Item: item.ID}
		if len(item.Reasons) > 0 {
			f.Why = item.Reasons[0].Message
		}
		for _, r := range state.Readings {
			if r.Item == item.ID && r.Verdict != nil && len(r.Verdict.Findings) > 0 {
				f.Measured = s.Units.Say(r.Verdict.Findings[0].Message)
			}
		}
		out = append(out, f)
	}
	return out
}
