package practice

import (
	"fmt"
	"slices"

	"jetprimer/core/stand"
)

// Act is how an item of a list shows on the stand: where its controls stand when it is
// done, and where they must have been on the way; or that it is only said.
type Act struct {
	// Item is the id of the item as it is printed, whatever engine it is worked for.
	Item   string  `json:"item"`
	Stands []Where `json:"stands,omitempty"`
	Moved  []Where `json:"moved,omitempty"`
	Said   bool    `json:"said,omitempty"`
}

// Where is a range of a control, from 0 to 1 or of the positions of a switch.
type Where struct {
	Control string   `json:"control"`
	Least   *float64 `json:"least,omitempty"`
	Most    *float64 `json:"most,omitempty"`
}

// Problems lists what of the act cannot be used.
func (a Act) Problems() []string {
	out := []string{}
	if a.Item == "" {
		out = append(out, "names no item")
	}
	if a.Said == (len(a.Stands)+len(a.Moved) > 0) {
		out = append(out, "is either said or shows by controls")
	}
	for _, w := range slices.Concat(a.Stands, a.Moved) {
		c, known := stand.ControlOf(w.Control)
		switch {
		case !known:
			out = append(out, fmt.Sprintf("names %q, which is no control", w.Control))
		case w.Least == nil && w.Most == nil, w.low() < 0, w.high(c) > c.Most(), w.low() > w.high(c):
			out = append(out, fmt.Sprintf("asks %s for what it cannot be", w.Control))
		}
	}
	return out
}

// Fits reports whether a panel has every control that the act is about.
func (a Act) Fits(p stand.Panel) bool {
	for _, w := range slices.Concat(a.Stands, a.Moved) {
		if !slices.ContainsFunc(p.Controls, func(c stand.PanelControl) bool { return c.Control == w.Control }) {
			return false
		}
	}
	return true
}

func (w Where) low() float64 {
	if w.Least == nil {
		return 0
	}
	return *w.Least
}

func (w Where) high(c stand.Control) float64 {
	if w.Most == nil {
		return c.Most()
	}
	return *w.Most
}

// holds reports whether a machine has the control in the range: of an engine, or
// where engine is 0 of each.
func (w Where) holds(m *stand.Machine, engines, engine int) bool {
	c, _ := stand.ControlOf(w.Control)
	from, to := engine, engine
	if engine == 0 {
		from, to = 1, engines
	}
	for e := from; e <= to; e++ {
		if at := m.At(c, e); at < w.low()-1e-9 || at > w.high(c)+1e-9 {
			return false
		}
	}
	return true
}

// bound is an act at its place of the list, with what it has seen of it.
type bound struct {
	act    Act
	engine int // 0 for each
	moved  []bool
}

// watch takes down what the controls do.
func (b *bound) watch(m *stand.Machine, engines int) {
	for i, w := range b.act.Moved {
		b.moved[i] = b.moved[i] || w.holds(m, engines, b.engine)
	}
}

// met reports whether the act is done as it stands.
func (b *bound) met(m *stand.Machine, engines int) bool {
	for i := range b.moved {
		if !b.moved[i] {
			return false
		}
	}
	for _, w := range b.act.Stands {
		if !w.holds(m, engines, b.engine) {
			return false
		}
	}
	return true
}

// controls are those that the act is about.
func (b *bound) controls() []string {
	out := []string{}
	for _, w := range slices.Concat(b.act.Moved, b.act.Stands) {
		if !slices.Contains(out, w.Control) {
			out = append(out, w.Control)
		}
	}
	return out
}
