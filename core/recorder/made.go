package recorder

import (
	"math"

	"jetprimer/core/aircraft"
)

// Made is a track that was made up, and what is true in it.
type Made struct {
	Track
	Truth []RunUp
}

// Making says what a track is made of.
type Making struct {
	Seed uint64
	// Interval is the time between two samples in seconds, Noise how much the speed
	// scatters, as a part of the run-up speed.
	Interval, Noise float64
	// RunUps is how many there are.
	RunUps int
}

// Make makes up a flight of a type with an ignition check: warming up, taxiing,
// run-ups with the checks that a recorder can tell, an idle check, and a take-off.
// The same making gives the same track.
func Make(t aircraft.Type, m Making) Made {
	w := &maker{t: trace{typ: t, number: 1}, random: chance(m.Seed), making: m}
	name, _ := w.t.ignition()
	w.base = w.t.limit(name, "base")
	w.out.Engines = make([]Engine, t.Engines)
	idle := (w.t.limit("idle", "min") + w.t.limit("idle", "max")) / 2
	w.speed, w.oil, w.exhaust, w.manifold = idle, 15, 500, 12
	w.hold(30, idle*1.2, 0)
	w.oil = 70
	for range m.RunUps {
		w.hold(20+10*w.random.part(), w.base*0.6, 12)
		w.runUp(name, idle)
		w.hold(15, w.base*0.6, 11)
		w.hold(8, idle*1.3, 0)
	}
	static := (w.t.limit("static-rpm", "min") + w.t.limit("static-rpm", "max")) / 2
	if math.IsNaN(static) {
		static = w.base * 1.25
	} else {
		n := len(w.out.Truth) - 1
		w.out.Truth[n].Measured = append(w.out.Truth[n].Measured, Measured{
			"static-rpm", map[string]any{"rpm": w.t.atResolution(static)},
		})
	}
	w.hold(6, static, 8)
	w.hold(120, static*0.98, 80)
	w.hold(60, w.base*0.8, 6)
	return w.out
}

// maker is a track being made.
type maker struct {
	t                   trace
	random              chance
	making              Making
	out                 Made
	base                float64
	speed, oil, exhaust float64
	manifold, pressing  float64
	at                  float64
}

// hold goes to a speed within a second, and holds it for so long.
func (w *maker) hold(seconds, speed, ground float64) {
	from := w.speed
	for since := 0.0; since < seconds; since += w.making.Interval {
		w.speed = speed
		if since < 1 {
			w.speed = from + (speed-from)*since
		}
		w.sample(ground)
	}
	w.speed = speed
}

func (w *maker) sample(ground float64) {
	w.out.Seconds = append(w.out.Seconds, math.Round(w.at*1000)/1000)
	w.out.GroundKt = append(w.out.GroundKt, math.Round(10*ground)/10)
	for i := range w.out.Engines {
		e := &w.out.Engines[i]
		scatter := w.random.normal() * w.making.Noise * w.base
		e.Speed = append(e.Speed, math.Round(10*(w.speed+scatter))/10)
		e.OilC = append(e.OilC, w.oil)
		e.ManifoldInHg = append(e.ManifoldInHg, math.Round(10*w.manifold)/10)
		e.OilPressure = append(e.OilPressure, math.Round(70+w.pressing))
		if e.ExhaustC == nil {
			e.ExhaustC = make([][]float64, 4)
		}
		for c := range e.ExhaustC {
			e.ExhaustC[c] = append(e.ExhaustC[c], math.Round(w.exhaust+w.random.normal()))
		}
	}
	w.at += w.making.Interval
}

// between is a number inside a band, away from its ends.
func (w *maker) between(low, high float64) float64 {
	return low + (high-low)*(0.2+0.6*w.random.part())
}

// runUp works the checks of the type at its run-up speed.
func (w *maker) runUp(ignition string, idle float64) {
	w.manifold, w.exhaust = 18, 600
	w.hold(1.5, w.base, 0) // the throttle is on its way
	run := RunUp{Engine: 1, First: len(w.out.Seconds)}
	base := w.base * (1 + 0.004*w.random.normal())
	w.hold(8, base, 0)
	_, sides := w.t.ignition()
	reading := map[string]any{"base": w.t.atResolution(base)}
	least := max(w.t.limit(ignition, "dropMin"), 8*w.making.Noise*w.base)
	first, apart := w.between(least, w.t.limit(ignition, "dropMax")), w.t.limit(ignition, "differenceMax")/2
	for i, s := range sides {
		low := base - first
		if i == 1 {
			low = base - max(least, min(w.t.limit(ignition, "dropMax"), first+w.between(-apart, apart)))
		}
		w.exhaust += 35
		w.hold(5+2*w.random.part(), low, 0)
		w.exhaust -= 35
		w.hold(6, base, 0)
		reading[s.low], reading[s.both] = w.t.atResolution(low), w.t.atResolution(base)
	}
	run.Measured = append(run.Measured, Measured{ignition, reading})
	if w.t.typ.Limits["carb-heat"] != nil {
		hot := base - w.between(max(w.t.limit("carb-heat", "dropMin"), 8*w.making.Noise*w.base),
			w.t.limit("carb-heat", "dropMax"))
		w.exhaust -= 10
		w.hold(6, hot, 0)
		w.exhaust += 10
		w.hold(6, base, 0)
		run.Measured = append(run.Measured, Measured{
			"carb-heat",
			map[string]any{
				"base": w.t.atResolution(base), "hot": w.t.atResolution(hot), "coldAfter": w.t.atResolution(base),
			},
		})
	}
	w.cycles(&run, base)
	w.out.Truth = append(w.out.Truth, run)
	at := len(w.out.Truth) - 1
	w.manifold, w.exhaust = 12, 500
	w.hold(w.t.limit("idle", "seconds")+4, idle, 0)
	w.out.Truth[at].Last = len(w.out.Seconds) - 1
	w.out.Truth[at].Measured = append(w.out.Truth[at].Measured, Measured{
		"idle", map[string]any{"rpm": w.t.atResolution(idle)},
	})
}

func (w *maker) cycles(run *RunUp, base float64) {
	if w.t.typ.Limits["propeller"] == nil {
		return
	}
	pull := func(low float64) {
		w.manifold, w.pressing = 19.5, -8
		w.hold(4, low, 0)
		w.manifold, w.pressing = 18, 0
		w.hold(5, base, 0)
	}
	low := base - w.between(w.t.limit("propeller", "dropMin"), w.t.limit("propeller", "dropMax"))
	cycles := int(w.t.limit("propeller", "cyclesMin"))
	for range cycles {
		pull(low)
	}
	run.Measured = append(run.Measured, Measured{
		"propeller",
		map[string]any{
			"base": w.t.atResolution(base), "low": w.t.atResolution(low), "after": w.t.atResolution(base),
			"cycles": cycles,
		},
	})
	if w.t.typ.Limits["feather"] != nil {
		deep := base - w.between(w.t.limit("feather", "dropMin"), w.t.limit("feather", "dropMax"))
		pull(deep)
		run.Measured = append(run.Measured, Measured{
			"feather",
			map[string]any{
				"base": w.t.atResolution(base), "low": w.t.atResolution(deep), "after": w.t.atResolution(base),
			},
		})
	}
}

// chance is a sequence of numbers that looks like chance and is the same for the
// same seed (SplitMix64: Steele, Lea and Flood, OOPSLA 2014).
type chance uint64

// part is a number from 0 up to 1.
func (c *chance) part() float64 {
	*c += 0x9e3779b97f4a7c15
	z := uint64(*c)
	z = (z ^ z>>30) * 0xbf58476d1ce4e5b9
	z = (z ^ z>>27) * 0x94d049bb133111eb
	return float64((z^z>>31)>>11) / (1 << 53)
}

// normal is a number with mean 0 and standard deviation 1 (Box and Muller, 1958).
func (c *chance) normal() float64 {
	return math.Sqrt(-2*math.Log(1-c.part())) * math.Cos(2*math.Pi*c.part())
}
