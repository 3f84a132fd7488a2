package stand

import (
	"math"

	"jetprimer/core/recorder"
)

// Wear is what a run did to the engines, the worst of them.
type Wear struct {
	// StarterHeat is the most that the starter came to, of its limit.
	StarterHeat float64 `json:"starterHeat"`
	// Fouling is the most lead on the plugs of a magneto, 0 to 1.
	Fouling float64 `json:"fouling"`
	// DrySeconds is how long an engine ran without oil pressure.
	DrySeconds float64 `json:"drySeconds"`
	// OverspeedSeconds is how long one ran faster than a twentieth over its static speed,
	// HotSeconds how long a turbine was hotter than its limit.
	OverspeedSeconds float64 `json:"overspeedSeconds"`
	HotSeconds       float64 `json:"hotSeconds"`
}

// wears takes down what a step did.
func (m *Machine) wears() {
	w := &m.wear
	for i := range m.typ.Engines {
		e := &m.engines[i]
		w.StarterHeat = max(w.StarterHeat, e.starterC)
		w.Fouling = max(w.Fouling, e.fouling[0], e.fouling[1])
		if e.burning && e.oil < 0.12*m.rig.Oil.Relief {
			w.DrySeconds += Step
		}
		if e.speed > 1.05 {
			w.OverspeedSeconds += Step
		}
		if m.rig.Turbine != nil && e.exhaust[0] > m.hot {
			w.HotSeconds += Step
		}
	}
}

// Wear is what the run has done to the engines so far, to a hundredth.
func (m *Machine) Wear() Wear {
	w := m.wear
	return Wear{
		round(w.StarterHeat, 2), round(w.Fouling, 2), round(w.DrySeconds, 2), round(w.OverspeedSeconds, 2),
		round(w.HotSeconds, 2),
	}
}

// Record appends to a track what an engine recorder would keep now.
func (m *Machine) Record(t *recorder.Track) {
	if t.Engines == nil {
		t.Engines = make([]recorder.Engine, m.typ.Engines)
	}
	t.Seconds = append(t.Seconds, round(m.Seconds(), 3))
	t.GroundKt = append(t.GroundKt, round(m.GroundKt(), 1))
	for i := range t.Engines {
		e, of := &m.engines[i], &t.Engines[i]
		of.Speed = append(of.Speed, round(e.seen.speed*m.rig.StaticSpeed, 1))
		of.ManifoldInHg = append(of.ManifoldInHg, round(e.seen.manifold*29.9213, 1))
		of.OilC = append(of.OilC, math.Round(e.seen.oilC))
		of.OilPressure = append(of.OilPressure, round(e.seen.oil, 1))
		if of.ExhaustC == nil {
			of.ExhaustC = make([][]float64, max(m.rig.Engine.Cylinders, 1))
		}
		for c := range of.ExhaustC {
			of.ExhaustC[c] = append(of.ExhaustC[c], math.Round(e.exhaust[c]))
		}
	}
}
