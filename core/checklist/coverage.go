package checklist

import (
	"slices"

	"jetprimer/core/standard"
)

// Covered is an element with the items of a list that show it.
type Covered struct {
	Pack    string `json:"pack"`
	Task    string `json:"task"`
	Element string `json:"element"`
	Code    string `json:"code"`
	Kind    string `json:"kind"`
	Text    string `json:"text"`
	// Items show it as they are worked, Asked by a question.
	Items []Shows `json:"items"`
	Asked []Shows `json:"asked"`
}

// Shows is an item of the list, by its id and challenge.
type Shows struct {
	Item      string `json:"item"`
	Challenge string `json:"challenge"`
}

// Coverage is which elements of some packs the items of a list show.
type Coverage struct {
	Elements []Covered `json:"elements"`
	// Missing counts the elements that no item shows, Idle are items that show none.
	Missing int     `json:"missing"`
	Idle    []Shows `json:"idle"`
	// Every item of the list, for choosing one.
	Every []Shows `json:"every"`
}

// CoverageOf holds a list to the elements of the packs that cover a class.
func CoverageOf(l List, packs []standard.Pack, class string) Coverage {
	out := Coverage{Elements: []Covered{}, Idle: []Shows{}, Every: []Shows{}}
	places := l.Places()
	for _, p := range places {
		one := Shows{p.Item.ID, p.Item.Challenge}
		out.Every = append(out.Every, one)
		if len(p.Item.Elements)+len(p.Item.Knowledge) == 0 {
			out.Idle = append(out.Idle, one)
		}
	}
	for _, pack := range packs {
		if !slices.Contains(pack.Classes, class) {
			continue
		}
		for _, task := range pack.Tasks {
			for _, e := range (standard.Pack{Tasks: []standard.Task{task}}).For(class) {
				c := Covered{
					Pack: pack.Title, Task: task.Title, Element: e.ID, Code: e.Code, Kind: e.Kind, Text: e.Text,
					Items: []Shows{}, Asked: []Shows{},
				}
				for _, p := range places {
					one := Shows{p.Item.ID, p.Item.Challenge}
					if slices.Contains(p.Item.Elements, e.ID) {
						c.Items = append(c.Items, one)
					}
					if slices.Contains(p.Item.Knowledge, e.ID) {
						c.Asked = append(c.Asked, one)
					}
				}
				if len(c.Items)+len(c.Asked) == 0 {
					out.Missing++
				}
				out.Elements = append(out.Elements, c)
			}
		}
	}
	return out
}

// Link puts an element among those that an item shows, or takes it away; an item
// that shows one has no reason any more why it shows none.
func (l List) Link(item, element string, on bool) List {
	l = l.clone()
	for p := range l.Phases {
		for i := range l.Phases[p].Items {
			it := &l.Phases[p].Items[i]
			if it.ID != item {
				continue
			}
			it.Elements = without(it.Elements, func(id string) bool { return id == element })
			if on {
				it.Elements = append(it.Elements, element)
				it.NoStandard = ""
			}
			if len(it.Elements)+len(it.Knowledge) == 0 && it.NoStandard == "" {
				it.NoStandard = NoStandard
			}
		}
	}
	return l
}
