// Package practice is a lesson on the practice stand: what a student moved and called,
// as the events of a lesson, folded and graded by the same rules as one at the
// aircraft, with what only a stand can know beside it. A run is its scenario, its seed
// and its deeds, each at its tick; the same run comes to the same score in a browser
// and on a server.
package practice

import (
	"slices"

	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/stand"
)

// Course is all that a type is practised from: its stand, the list as printed, how its
// items show, and what is asked about them.
type Course struct {
	stand.Kit
	List      checklist.List `json:"list"`
	Acts      []Act          `json:"acts"`
	Questions []Question     `json:"questions"`
	// Scale is the one that levels are shown on.
	Scale string `json:"scale"`
}

// Question is asked on a checkride, at one of its items.
type Question struct {
	ID       string   `json:"id"`
	Ask      string   `json:"ask"`
	Answer   string   `json:"answer"`
	Items    []string `json:"items"`
	Elements []string `json:"elements"`
}

func (c Course) act(i checklist.Item) (Act, bool) {
	at := slices.IndexFunc(c.Acts, func(a Act) bool { return a.Item == i.Printed() })
	if at < 0 {
		return Act{}, false
	}
	return c.Acts[at], true
}

// Flown is the list as it is practised in a scenario: tailored to its day as a lesson's
// is, without the items that a stand cannot show, and up to where the scenario is done.
func (c Course) Flown(s stand.Scenario) (checklist.Flown, error) {
	d := s.Day
	night, first := false, d.EngineState == "cold"
	wind := max(d.WindKt, 0)
	flown, err := checklist.Tailor(c.List, nil, c.Type, checklist.Aircraft{},
		checklist.Day{OATC: &d.OATC, DewPointC: &d.DewPointC, WindKt: &wind,
			ElevationFt: &d.ElevationFt, QNHHPa: &d.QNHHPa, Night: &night, FirstFlight: &first, Rules: "VFR",
			EngineState: d.EngineState, FuelMethod: "fuller-first"})
	if err != nil {
		return flown, err
	}
	last := ""
	for _, p := range flown.List.Places() {
		if s.Until != "" && (p.Item.ID == s.Until || p.Item.Printed() == s.Until) {
			last = p.Item.ID // of the last engine that it is worked for
		}
	}
	phases, kept, done := []checklist.Phase{}, map[string]bool{}, false
	for _, p := range flown.List.Phases {
		items := []checklist.Item{}
		for _, item := range p.Items {
			_, acts := c.act(item)
			if done || !acts && !measured(item.Check) {
				continue
			}
			item.After = slices.DeleteFunc(slices.Clone(item.After), func(id string) bool { return !kept[id] })
			kept[item.ID] = true
			items = append(items, item)
			done = item.ID == last
		}
		if p.Items = items; len(items) > 0 {
			phases = append(phases, p)
		}
	}
	if len(phases) == 0 {
		return flown, form.Bad("scenario.type", "has a list with nothing on it that a stand can show")
	}
	flown.List.Phases = phases
	flown.Reasons = slices.DeleteFunc(flown.Reasons, func(r checklist.Reason) bool { return !kept[r.Item] })
	return flown, nil
}
