package checklist

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
)

// Left is an item that a starting list leaves off, and why.
type Left struct {
	Item      string `json:"item"`
	Challenge string `json:"challenge"`
	Why       string `json:"why"`
}

// Start is what a starting list is made of.
type Start struct {
	// Outline is the list of a type of the same kind; Stock are items in the order
	// they are worked, of which those for equipment that the outline does not know
	// are put in.
	Outline List
	Stock   []Item
	Type    aircraft.Type
	// Judged reports whether the type has all that a check is held to.
	Judged func(check string) bool
	// Elements are the standard elements that cover the type's class.
	Elements []string
	// Others are lists of other kinds: of them is taken what the type has and Was, the
	// type of the outline, has not.
	Others []List
	Was    aircraft.Type
	// Parts are what a type must have for an item, beside the item's condition; see
	// aircraft.Type.Has.
	Parts map[string][]string
	// Title names a check.
	Title func(check string) string
}

// NoStandard is what an item says that no standard of its class names.
const NoStandard = "No standard of this class names it; it is part of the list as a whole."

// Starting is a first list for a type: every item of the outline, of the stock for
// its equipment and of other kinds' lists for what it has as they do, that an
// aircraft of the type can have. What is left off is told, and so is a check that
// the type has limits for and no item measures. The list is the school's to write on.
func Starting(s Start) (List, []Left) {
	left := []Left{}
	list := s.Outline.clone()
	list.ID, list.Title, list.Version, list.AircraftType = s.Type.ID+"-full", s.Type.Name+
		", start to shutdown", 1, s.Type.ID
	list.Source = s.Type.Source + "; made from the list “" + s.Outline.Title + "”"
	s.fromStock(&list)
	s.fromOthers(&list)
	kept := map[string]bool{}
	for p := range list.Phases {
		phase := &list.Phases[p]
		phase.Items = slices.DeleteFunc(phase.Items, func(item Item) bool {
			why := s.cannot(item)
			if why != "" {
				left = append(left, Left{item.ID, item.Challenge, why})
			}
			return why != ""
		})
		for i := range phase.Items {
			item := &phase.Items[i]
			s.fit(item)
			item.After = without(item.After, func(id string) bool { return !kept[id] })
			if !kept[item.Closes] {
				item.Closes = ""
			}
			kept[item.ID] = true
		}
	}
	list.Phases = slices.DeleteFunc(list.Phases, func(p Phase) bool { return len(p.Items) == 0 })
	for _, name := range s.unmeasured(list) {
		left = append(left, Left{
			"", s.Title(name), "the type has limits for it, and no item of this list measures it: write one",
		})
	}
	return list, left
}

// unmeasured are the checks that the type has all limits for and no item of a list
// measures.
func (s Start) unmeasured(list List) []string {
	var out []string
	measured := map[string]bool{}
	for _, place := range list.Places() {
		measured[place.Item.Check] = true
	}
	for _, name := range slices.Sorted(maps.Keys(s.Type.Limits)) {
		if !measured[name] && s.Judged(name) {
			out = append(out, name)
		}
	}
	return out
}

// fromOthers puts in what the type has and the outline's has not: of each check that
// nothing measures the items of the first list that measures it, and the items for
// parts such as a propeller's lever. Each stands in its phase behind what stands
// before it there.
func (s Start) fromOthers(list *List) {
	missing := s.unmeasured(*list)
	for _, other := range s.Others {
		taken := map[string]bool{}
		for p, phase := range other.Phases {
			to := slices.IndexFunc(list.Phases, func(own Phase) bool { return own.ID == phase.ID })
			for i, item := range phase.Items {
				if _, there := list.Find(item.ID); there || to < 0 || s.cannot(item) != "" {
					continue
				}
				parts := s.Parts[item.ID]
				measures := slices.Contains(missing, item.Check)
				if !measures && (len(parts) == 0 || s.Was.Fits(parts)) {
					continue
				}
				taken[item.Check] = taken[item.Check] || measures
				at := 0
				for b := i - 1; b >= 0 && at == 0; b-- {
					at = 1 +
						slices.IndexFunc(list.Phases[to].Items,
							func(own Item) bool { return own.ID == other.Phases[p].Items[b].ID })
				}
				list.Phases[to].Items = slices.Insert(list.Phases[to].Items, at, item)
			}
		}
		missing = slices.DeleteFunc(missing, func(name string) bool { return taken[name] })
	}
}

// fromStock puts in the items for equipment of the type that the outline does not
// have, each behind what stands before it in the stock.
func (s Start) fromStock(list *List) {
	for n, item := range s.Stock {
		if _, there := list.Find(item.ID); there || !s.asksForFitted(item) {
			continue
		}
		for b := n - 1; b >= 0; b-- {
			if p, i := list.position(s.Stock[b].ID); i >= 0 {
				items := &list.Phases[p].Items
				*items = slices.Insert(*items, i+1, item)
				break
			}
		}
	}
}

// asksForFitted reports whether an item is there for equipment, all of which the
// type can have.
func (s Start) asksForFitted(item Item) bool {
	condition, err := ParseCondition(item.When)
	if err != nil {
		return false
	}
	names := condition.Names("fitted")
	return len(names) > 0 && !slices.ContainsFunc(names, func(name string) bool { return !s.has(name) })
}

func (s Start) has(equipment string) bool {
	return slices.ContainsFunc(s.Type.Equipment, func(e aircraft.Equipment) bool { return e.ID == equipment })
}

func (l List) position(id string) (phase, item int) {
	for p := range l.Phases {
		if i := slices.IndexFunc(l.Phases[p].Items, func(it Item) bool { return it.ID == id }); i >= 0 {
			return p, i
		}
	}
	return -1, -1
}

// cannot says why no aircraft of the type can have the item; empty when one can.
func (s Start) cannot(item Item) string {
	for _, part := range s.Parts[item.ID] {
		if !s.Type.Fits([]string{part}) {
			return "it is for a type " + aircraft.PartWords(part)
		}
	}
	if item.Check != "" && !s.Judged(item.Check) {
		if s.Type.Limits[item.Check] == nil {
			return "the type has no such check"
		}
		return "its limits are not complete"
	}
	if len(item.Gauges) > 0 && !slices.ContainsFunc(item.Gauges, s.gauge) {
		return "the type has none of its gauges"
	}
	if item.LimitFrom == "power-limit" && s.Type.Power == nil {
		return "the type has no table of its power"
	}
	if len(s.Type.Cockpit) > 0 && item.Place != "" &&
		!slices.ContainsFunc(s.Type.Cockpit, func(p aircraft.Place) bool { return p.ID == item.Place }) {
		return fmt.Sprintf("the cockpit has no place for it (%s)", strings.ReplaceAll(item.Place, "-", " "))
	}
	if condition, err := ParseCondition(item.When); err == nil && !s.canHold(condition) {
		return "what it is for is not fitted"
	}
	return ""
}

func (s Start) gauge(id string) bool { return s.Type.Limits["gauges"][id] != nil }

// canHold reports whether a condition can hold on some aircraft of the type on
// some day: with all that it may have and everything planned, or with only what
// each has and nothing planned.
func (s Start) canHold(c Condition) bool {
	most := facts{named: map[string][]string{"fitted": {}, "planned": c.Names("planned")}}
	least := facts{named: map[string][]string{"fitted": {}, "planned": {}}}
	for _, e := range s.Type.Equipment {
		most.named["fitted"] = append(most.named["fitted"], e.ID)
		if !e.Optional {
			least.named["fitted"] = append(least.named["fitted"], e.ID)
		}
	}
	for _, f := range []facts{most, least} {
		if holds, _ := c.eval(f); holds != no {
			return true
		}
	}
	return false
}

// fit takes from an item what the type does not have: gauges, timers, engines,
// elements of another class.
func (s Start) fit(item *Item) {
	item.Gauges = without(item.Gauges, func(id string) bool { return !s.gauge(id) })
	item.Timers = without(item.Timers, func(id string) bool {
		return !slices.ContainsFunc(s.Type.Durations, func(d aircraft.Duration) bool { return d.ID == id })
	})
	if s.Type.Engines == 1 {
		item.Per, item.Only = "", ""
	}
	foreign := func(id string) bool { return !slices.Contains(s.Elements, id) }
	item.Elements, item.Knowledge = without(item.Elements, foreign), without(item.Knowledge, foreign)
	if len(item.Elements)+len(item.Knowledge) == 0 && item.NoStandard == "" {
		item.NoStandard = NoStandard
	}
}

// without is a copy of a list without some of its entries, nil when none is left.
func without(all []string, drop func(string) bool) []string {
	if kept := slices.DeleteFunc(slices.Clone(all), drop); len(kept) > 0 {
		return kept
	}
	return nil
}
