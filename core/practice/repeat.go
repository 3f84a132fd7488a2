package practice

import (
	"context"
	"math"
	"slices"

	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/stand"
)

// Weak is an item that is to be gone through again, and why; the one that needs it most
// has the largest weight.
type Weak struct {
	Item   string
	Why    string
	Weight float64
}

// Portion is a practice of at most ten minutes: the stand works the list up to where it
// begins.
type Portion struct {
	Title    string         `json:"title"`
	Scenario stand.Scenario `json:"scenario"`
	From     string         `json:"from"`
	Minutes  int            `json:"minutes"`
	// Items are those that are weak, each with why.
	Items []PortionItem `json:"items"`
}

// PortionItem is an item of a portion that is weak.
type PortionItem struct {
	Item      string `json:"item"`
	Challenge string `json:"challenge"`
	Why       string `json:"why"`
}

// How long a portion is at most, how much longer than the hand that shows a student
// takes, and how many are told; chosen.
const (
	portionMinutes = 10.0
	slower         = 1.5
	portionsMost   = 3
)

// noDay is when something was shown that nobody keeps.
const noDay = "2026-01-01T00:00:00Z"

// Portions are what to repeat on the stand, the most needed first: each a part of one
// phase with weak items, on a standard day. Every other one has something wrong
// that its checks can show.
func (c Course) Portions(ctx context.Context, weak []Weak, seed uint64) ([]Portion, error) {
	base := stand.Scenario{ID: "repeat", Title: "To be repeated", Type: c.Type.ID, Difficulty: 2,
		Day:  stand.StandardDay,
		Goal: "Work the items as on the list, and say whether you would go."}
	flown, err := c.Flown(base)
	if err != nil {
		return nil, err
	}
	shown, err := c.Show(base, seed, "stand", noDay, "")
	if err != nil {
		return nil, err
	}
	ends := map[string]int{} // the tick at which each item was shown
	for _, d := range shown.Deeds {
		if d.Call != nil {
			ends[d.Call.Item] = d.Tick
		}
	}
	type ranked struct {
		Portion
		weight float64
	}
	minutes := func(from, to int) float64 { return float64(to-from) * stand.Step / 60 * slower }
	all := []ranked{}
	before := 0
	for _, phase := range flown.List.Phases {
		one := ranked{}
		from := 0
		close := func() {
			if len(one.Items) > 0 {
				all = append(all, one)
			}
			one = ranked{}
		}
		for _, item := range phase.Items {
			end, worked := ends[item.ID]
			if !worked {
				break // the stand does not come this far
			}
			why, weight := weakest(item, weak)
			if weight > 0 {
				if minutes(from, end) > portionMinutes {
					close()
				}
				if len(one.Items) == 0 {
					from, one.From = before, item.ID
				}
				one.Minutes = int(math.Ceil(min(minutes(from, end), portionMinutes)))
				one.Items = append(one.Items, PortionItem{item.ID, item.Challenge, why})
				one.weight += weight
				one.Title = phase.Title
				one.Scenario = base
				one.Scenario.Title = phase.Title + ", to be repeated"
				one.Scenario.Until = item.Printed()
				one.Scenario.ID = "repeat-" + one.From
			}
			before = end
		}
		close()
	}
	slices.SortStableFunc(all, func(a, b ranked) int { return int(math.Copysign(1, b.weight-a.weight)) })
	out := []Portion{}
	for i, p := range all[:min(len(all), portionsMost)] {
		if i%2 == 1 {
			if err := c.spoil(ctx, &p.Portion, flown.List.Places(), ends, seed); err != nil {
				return nil, err
			}
		}
		out = append(out, p.Portion)
	}
	return out, nil
}

// weakest is why an item is to be repeated, and how much.
func weakest(item checklist.Item, weak []Weak) (why string, weight float64) {
	for _, w := range weak {
		if (w.Item == item.ID || w.Item == item.Printed()) && w.Weight > weight {
			why, weight = w.Why, w.Weight
		}
	}
	return why, weight
}

// spoilTries is how many faults are tried for a portion.
const spoilTries = 6

// spoil slips a fault into a portion, as soon as the student begins, that whoever works it
// as it should be will find there; where none of those tried is found, nothing is wrong.
func (c Course) spoil(ctx context.Context, p *Portion, places []checklist.Place, ends map[string]int,
	seed uint64) error {
	items, start, in := map[string]bool{}, 0, false
	checks := []string{}
	for _, place := range places {
		in = in || place.Item.ID == p.From
		if !in {
			start = ends[place.Item.ID]
			continue
		}
		items[place.Item.ID] = true
		checks = append(checks, place.Item.Check)
		if place.Item.Printed() == p.Scenario.Until {
			break
		}
	}
	fits := slices.DeleteFunc(slices.Clone(c.Faults), func(f stand.Fault) bool {
		return f.Needs != "" ||
			!slices.ContainsFunc(f.Finds, func(s stand.Sign) bool { return slices.Contains(checks, s.Check) })
	})
	for n := range min(len(fits), spoilTries) {
		fault := fits[int((seed+uint64(n))%uint64(len(fits)))]
		spoilt := p.Scenario
		spoilt.Faults = []stand.Slipped{{Fault: fault.ID, Severity: 0.8, Engine: 1, From: float64(start) * stand.Step}}
		found, err := c.finds(ctx, spoilt, fault, items)
		if err != nil {
			return err
		}
		if found {
			p.Scenario = spoilt
			return nil
		}
	}
	return nil
}

// finds reports whether a good student reads a finding of a fault at one of some items.
func (c Course) finds(ctx context.Context, s stand.Scenario, fault stand.Fault, items map[string]bool) (bool, error) {
	run, err := c.Show(s, 1, "stand", noDay, "")
	if err != nil {
		return false, err
	}
	session, err := c.Replay(ctx, run, nil)
	if err != nil {
		return false, err
	}
	return slices.ContainsFunc(session.State.Readings, func(r lesson.Reading) bool {
		return items[r.Item] && r.Verdict != nil && slices.ContainsFunc(r.Verdict.Findings, func(f check.Finding) bool {
			return slices.Contains(fault.Finds, stand.Sign{Check: r.Check, Finding: f.Code, Side: f.Side})
		})
	}), nil
}
