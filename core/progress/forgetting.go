package progress

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// Forgetting are the constants of half-life regression (Settles and Meeder, 2016):
// how quickly what was done right is forgotten. The chance that it is still known
// halves with every half-life; that is, in days, 2 to the power of
// Base + Right·√(1+r) + Wrong·√(1+w) after r times right and w times not right.
type Forgetting struct {
	ID    string  `json:"id"`
	Base  float64 `json:"base"`
	Right float64 `json:"right"`
	Wrong float64 `json:"wrong"`
}

// The shortest and the longest half-life, in days: a quarter of an hour and nine
// months.
const (
	ShortestHalfLife = 15.0 / (24 * 60)
	LongestHalfLife  = 274.0
)

// Check reports constants that cannot be: they must be numbers from -20 to 20.
func (f Forgetting) Check() error {
	for name, v := range map[string]float64{"base": f.Base, "right": f.Right, "wrong": f.Wrong} {
		if math.IsNaN(v) || math.Abs(v) > 20 {
			return fmt.Errorf("forgetting %s: %s must be from -20 to 20", f.ID, name)
		}
	}
	return nil
}

// HalfLife is in how many days the chance halves, after so many times right and so
// many not right.
func (f Forgetting) HalfLife(right, wrong int) float64 {
	h := math.Exp2(f.Base + f.Right*math.Sqrt(float64(1+right)) + f.Wrong*math.Sqrt(float64(1+wrong)))
	return min(max(h, ShortestHalfLife), LongestHalfLife)
}

// Known is the chance, 0 to 1, that something is still done right unprompted so
// many days after it was last shown.
func (f Forgetting) Known(right, wrong int, days float64) float64 {
	return math.Exp2(-max(days, 0) / f.HalfLife(right, wrong))
}

// Tried is an item as it was shown in one lesson: right when nobody had to help.
type Tried struct {
	Item  string `json:"item"`
	Date  string `json:"date"`
	Right bool   `json:"right"`
}

// Practise is an item to go through alone.
type Practise struct {
	Item string `json:"item"`
	// Known is the chance, 0 to 1, that it would be right today.
	Known float64 `json:"known"`
	Last  string  `json:"last"`
	Right int     `json:"right"`
	Wrong int     `json:"wrong"`
	Why   string  `json:"why"`
}

// PractiseBelow is the chance below which an item is to be gone through again.
const PractiseBelow = 0.9

// Practise lists what is most likely forgotten on a day, of items as they were
// tried, oldest first: those below PractiseBelow, the least known first.
func (f Forgetting) Practise(tried []Tried, asOf string) []Practise {
	by := map[string]*Practise{}
	for _, t := range tried {
		p := by[t.Item]
		if p == nil {
			p = &Practise{Item: t.Item}
			by[t.Item] = p
		}
		p.Last = t.Date
		if t.Right {
			p.Right++
		} else {
			p.Wrong++
		}
	}
	out := []Practise{}
	for _, p := range by {
		days := daysBetween(p.Last, asOf)
		if p.Known = f.Known(p.Right, p.Wrong, float64(days)); p.Known >= PractiseBelow {
			continue
		}
		p.Why = fmt.Sprintf("Right in %d of %d lessons, last shown %s.", p.Right, p.Right+p.Wrong, ago(days))
		if p.Right+p.Wrong == 1 {
			p.Why = fmt.Sprintf("Shown once, %s.", ago(days))
		}
		out = append(out, *p)
	}
	slices.SortFunc(out,
		func(a, b Practise) int { return cmp.Or(cmp.Compare(a.Known, b.Known), cmp.Compare(a.Item, b.Item)) })
	return out
}

func ago(days int) string {
	switch {
	case days <= 0:
		return "today"
	case days == 1:
		return "yesterday"
	}
	return fmt.Sprintf("%d days ago", days)
}
