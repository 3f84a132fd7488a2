package stand

// Sound is what is heard of the engines: the note of the loudest, how loud it is, and how
// unsteady, each of the last two from 0 to 1.
type Sound struct {
	Hz    float64 `json:"hz"`
	Loud  float64 `json:"loud"`
	Rough float64 `json:"rough"`
}

// spoolHz is the note of a turbine's spool at 100 %, deeper than it is, to be borne.
const spoolHz = 900.0

// Sound is what is heard now. A piston engine's note is that of its firing strokes, one a
// cylinder every other turn; a starter that turns it without fire is heard softly.
func (m *Machine) Sound() Sound {
	out := Sound{}
	for i := range m.typ.Engines {
		e := &m.engines[i]
		one := Sound{Rough: min(4*e.rough, 1)}
		turns := e.speed * m.rig.StaticSpeed / 60 // a second
		switch {
		case m.rig.Turbine != nil:
			one.Hz, one.Loud = spoolHz*e.spool, min(e.spool*0.8, 1)
		case m.typ.Tachometer == "percent":
			one.Hz = e.speed * 2700 / 60 * 2 // 100 % is some 2700 turns a minute
		default:
			one.Hz = turns * 2
		}
		if m.rig.Turbine == nil && e.speed > 0 {
			if one.Loud = 0.08; e.burning {
				one.Loud = min(0.2+0.8*e.speed*e.manifold, 1)
			}
		}
		if one.Loud > out.Loud {
			out = one
		}
	}
	return Sound{round(out.Hz, 1), round(out.Loud, 3), round(out.Rough, 2)}
}
