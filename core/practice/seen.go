package practice

import "jetprimer/core/stand"

// Seen is what a stand shows at a moment: gauges, lamps and controls in the order of the
// panel.
type Seen struct {
	Seconds float64   `json:"seconds"`
	Values  []float64 `json:"values"`
	Beyond  []bool    `json:"beyond"`
	Lamps   []bool    `json:"lamps"`
	// Stands is where each control of the panel stands.
	Stands []float64   `json:"stands"`
	Sound  stand.Sound `json:"sound"`
	// Person and Aircraft say who is outside, WindKt the wind from ahead, RollsKt how fast
	// the aircraft rolls.
	Person   bool    `json:"person"`
	Aircraft bool    `json:"aircraft"`
	WindKt   float64 `json:"windKt"`
	RollsKt  float64 `json:"rollsKt"`
	// InView are the gauges in view, by their place on the panel, where looking is counted.
	InView []int `json:"inView"`
	// Turns counts on whenever there is something else to be shown of the lesson.
	Turns int `json:"turns"`
}

// Seen is what the stand shows now.
func (s *Session) Seen() Seen {
	m := s.Machine
	values := make([]float64, len(s.panel.Gauges))
	m.Read(s.panel, values)
	stands := make([]float64, len(s.panel.Controls))
	for i, c := range s.panel.Controls {
		control, _ := stand.ControlOf(c.Control)
		stands[i] = m.At(control, max(c.Engine, 1))
	}
	return Seen{
		m.Seconds(), values, m.Beyond(s.panel, values), m.Lit(s.panel), stands, m.Sound(), m.Near(stand.SomebodyNear),
		m.Near(stand.AircraftBehind), m.WindKt(), m.GroundKt(), append([]int{}, s.inView...), s.Turns,
	}
}
