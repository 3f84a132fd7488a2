package catalog

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/standard"
	"jetprimer/exchange"
)

// shippedList is a checklist as it is written in the catalog: an item may be
// taken from the stock, by its name alone or with "use" and fields of its own.
type shippedList struct {
	ID           string         `json:"id"`
	Title        string         `json:"title"`
	Version      int            `json:"version"`
	AircraftType string         `json:"aircraftType"`
	Source       string         `json:"source"`
	Phases       []shippedPhase `json:"phases"`
}

type shippedPhase struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	// Shows are elements that every critical or measured item of the phase shows.
	Shows []string `json:"shows"`
	Items []any    `json:"items"`
}

func (l *loader) stockItems(s *exchange.Source, items map[string]map[string]any) {
	names, lines := slices.Sorted(maps.Keys(items)), map[string]int{}
	for _, name := range names {
		lines[name] = s.Line("$." + name)
	}
	slices.SortStableFunc(names, func(a, b string) int { return lines[a] - lines[b] }) // as they are written
	for _, name := range names {
		if l.stock[name] != nil {
			s.At("$."+name, "is in the stock already")
		}
		items[name]["id"] = name
		l.parts(items[name])
		one, err := item(items[name])
		if err != nil {
			s.At("$."+name, err.Error())
		}
		l.stock[name] = items[name]
		l.catalog.Stock = append(l.catalog.Stock, one)
	}
}

// parts notes what a type must have for an item, as starting lists ask for it.
func (l *loader) parts(fields map[string]any) {
	has, _ := fields["has"].([]any)
	delete(fields, "has")
	for _, part := range has {
		id := fmt.Sprint(fields["id"])
		l.catalog.Parts[id] = append(l.catalog.Parts[id], fmt.Sprint(part))
	}
}

// item makes an item of its fields.
func item(fields map[string]any) (checklist.Item, error) {
	data, err := json.Marshal(fields)
	if err != nil {
		return checklist.Item{}, err
	}
	var out checklist.Item
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(&out); err != nil {
		return out, fmt.Errorf("%s", strings.TrimPrefix(err.Error(), "json: "))
	}
	return out, nil
}

// shippedList makes the whole list of what is written, then checks it like any
// other. Elements of other classes are left out: the stock serves all types.
func (l *loader) shippedList(s *exchange.Source, raw shippedList) {
	list := checklist.List{
		ID: raw.ID, Title: raw.Title, Version: raw.Version, AircraftType: raw.AircraftType, Source: raw.Source,
	}
	t, known := l.catalog.Type(raw.AircraftType)
	if !known {
		s.At("$.aircraftType", fmt.Sprintf("%q is no known aircraft type", raw.AircraftType))
		return
	}
	foreign := l.foreignElements(t.Class)
	sound := true
	for p, phase := range raw.Phases {
		out := checklist.Phase{ID: phase.ID, Title: phase.Title}
		for i, entry := range phase.Items {
			one, err := l.entry(entry)
			if err != nil {
				s.At(fmt.Sprintf("$.phases[%d].items[%d]", p, i), err.Error())
				sound = false
			}
			if one.Critical || one.Check != "" {
				one.Elements = append(slices.Clone(one.Elements), phase.Shows...)
			}
			one.Elements = without(one.Elements, foreign)
			one.Knowledge = without(one.Knowledge, foreign)
			if len(one.Elements)+len(one.Knowledge) == 0 && one.NoStandard == "" {
				one.NoStandard = checklist.NoStandard
			}
			out.Items = append(out.Items, one)
		}
		list.Phases = append(list.Phases, out)
	}
	if sound {
		s.Report(l.catalog.Surroundings(t, l.catalog.Packs).ListProblems(list))
		l.catalog.Lists = append(l.catalog.Lists, list)
	}
}

func without(ids []string, foreign map[string]bool) []string {
	kept := slices.DeleteFunc(slices.Clone(ids), func(id string) bool { return foreign[id] })
	if len(kept) == 0 {
		return nil
	}
	return slices.Compact(kept)
}

// entry is one entry of a phase: the name of a stock item, or an item whose
// fields lie over the stock item that it uses.
func (l *loader) entry(entry any) (checklist.Item, error) {
	if name, ok := entry.(string); ok {
		entry = map[string]any{"use": name}
	}
	own, ok := entry.(map[string]any)
	if !ok {
		return checklist.Item{}, fmt.Errorf("must be the name of a stock item, or an item")
	}
	fields := map[string]any{}
	if use, given := own["use"]; given {
		stock := l.stock[fmt.Sprint(use)]
		if stock == nil {
			return checklist.Item{}, fmt.Errorf("%q is not in the stock", use)
		}
		maps.Copy(fields, stock)
	}
	maps.Copy(fields, own)
	delete(fields, "use")
	if l.catalog.Parts[fmt.Sprint(fields["id"])] == nil {
		l.parts(fields)
	}
	delete(fields, "has")
	return item(fields)
}

// foreignElements are those of packs and elements that do not cover a class.
func (l *loader) foreignElements(class string) map[string]bool {
	foreign := map[string]bool{}
	for _, pack := range l.catalog.Packs {
		covered := map[string]bool{}
		if slices.Contains(pack.Classes, class) {
			for _, e := range pack.For(class) {
				covered[e.ID] = true
			}
		}
		for _, task := range pack.Tasks {
			for _, e := range task.Elements {
				if !covered[e.ID] {
					foreign[e.ID] = true
				}
			}
		}
	}
	return foreign
}

// StartingList is a first list for a type, made from the list of the type that
// it was described from and the stock, with the packs that the school holds its
// students to.
func (c *Catalog) StartingList(outline checklist.List, t aircraft.Type, packs []standard.Pack) (checklist.List,
	[]checklist.Left) {
	start := checklist.Start{Outline: outline, Stock: c.Stock, Type: t, Others: c.Lists, Was: t, Parts: c.Parts,
		Title: func(name string) string { def, _ := check.Find(name); return def.Title },
		Judged: func(name string) bool {
			return t.Limits[name] != nil && check.CheckLimits(name,
				t.Limits[name]) == nil
		}}
	if was, known := c.Type(outline.AircraftType); known {
		start.Was = was
	}
	for _, p := range packs {
		if slices.Contains(p.Classes, t.Class) {
			for _, e := range p.For(t.Class) {
				start.Elements = append(start.Elements, e.ID)
			}
		}
	}
	return checklist.Starting(start)
}
