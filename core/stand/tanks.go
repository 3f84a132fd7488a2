package stand

import "jetprimer/core/aircraft"

// tanks are those that a pilot chooses from, in litres, and what is in the lines from
// there to the engine.
type tanks struct {
	chosen bool // whether there is anything to be chosen
	litres [2]float64
	line   float64
}

// wellFilled is what is in a tank where a day says nothing of it, and inLine what lines,
// filter and bowl hold, in litres: half a minute of an idle; chosen.
const (
	wellFilled = 0.6
	inLine     = 0.05
)

// choosesTank reports whether the engine is fed from one of two tanks at a time.
func choosesTank(typ aircraft.Type) bool { return typ.Fuel != nil && typ.Fuel.OneTank }

func (t *tanks) begin(typ aircraft.Type, day Day) {
	if t.chosen = choosesTank(typ); !t.chosen {
		return
	}
	t.line = inLine
	for i := range typ.Fuel.Tanks[:2] {
		t.litres[i] = wellFilled * float64(typ.Fuel.Tanks[i].UsableL)
		if i < len(day.FuelL) {
			t.litres[i] = day.FuelL[i]
		}
	}
}

// draw takes what the engine burns from the lines, and fills them from the tank that is
// chosen as long as there is something in it.
func (m *Machine) draw() {
	t := &m.tanks
	if !t.chosen {
		return
	}
	e := &m.engines[0]
	t.line = max(t.line-e.flow*Step/3600, 0)
	if on := int(m.shared[Tank]); on > 0 {
		comes := min(inLine-t.line, t.litres[on-1])
		t.litres[on-1] -= comes
		t.line += comes
	}
	e.starved = t.line <= 0
}
