package recorder

import (
	"math"
	"slices"

	"jetprimer/core/check"
	"jetprimer/core/form"
)

// dip is a lower level between two at the run-up speed.
type dip struct{ before, low, after level }

func (d dip) depth() float64 { return d.before.speed - d.low.speed }

// runUps finds the run-ups before a sample, and measures them.
func (t trace) runUps(to int) (out []RunUp) {
	name, _ := t.ignition()
	base := t.limit(name, "base")
	if math.IsNaN(base) || to-t.from < 8 {
		return nil
	}
	levels := t.levels(to, t.reach(to, base))
	for i := 0; i < len(levels); i++ {
		if !t.high(levels[i], base) || !t.warm(levels[i].first) || t.seconds(levels[i]) < held {
			continue
		}
		end := i
		for j := i + 1; j < len(levels); j++ {
			l := levels[j]
			if t.Seconds[l.first]-t.Seconds[levels[end].last] > 45 || l.speed < base/2 || l.speed > base*(1+2*near) ||
				!t.standsStill(l) {
				break
			}
			if t.high(l, base) {
				end = j
			}
		}
		run := RunUp{Engine: t.number, First: levels[i].first, Last: levels[end].last}
		run.Measured = t.measure(levels[i:end+1], base)
		if len(run.Measured) > 0 {
			run.Measured = append(run.Measured, t.afterwards(levels[end+1:], t.Seconds[run.Last])...)
			for _, m := range run.Measured {
				t.unit(m)
			}
			out = append(out, run)
		}
		i = end
	}
	return out
}

// reach is how far the samples of one level lie apart: six times what they
// scatter, or two and a half steps of the recorder.
func (t trace) reach(to int, base float64) float64 {
	var moves []float64
	step := math.Inf(1)
	for i := t.from + 1; i < to; i++ {
		move := math.Abs(t.engine.Speed[i] - t.engine.Speed[i-1])
		if math.IsNaN(move) || move > base/20 {
			continue
		}
		moves = append(moves, move)
		if move > 1e-9 {
			step = min(step, move)
		}
	}
	if len(moves) == 0 {
		return base / 50
	}
	const ofDifferences = 0.954 // the median difference of two normal samples, in standard deviations
	noise := median(moves) / ofDifferences
	if math.IsInf(step, 1) {
		step = 0
	}
	return max(6*noise, min(2.5*step, base/50), base/200)
}

// high reports whether a level is at the run-up speed, with the aircraft standing.
func (t trace) high(l level, base float64) bool {
	return math.Abs(l.speed-base) <= near*base && t.standsStill(l)
}

// measure takes the levels of a run-up, of which the first and the last are at its
// speed.
func (t trace) measure(levels []level, base float64) (out []Measured) {
	name, sides := t.ignition()
	smallest := t.limit(name, "dropMin")
	if math.IsNaN(smallest) {
		smallest = base / 200
	}
	var dips []dip
	before := levels[0]
	for i := 1; i < len(levels); i++ {
		low := levels[i]
		if before.speed-low.speed < smallest/2 {
			before = low
			continue
		}
		for i+1 < len(levels) && before.speed-levels[i+1].speed >= smallest/2 {
			if i++; levels[i].speed < low.speed { // it went down in steps
				low = levels[i]
			}
		}
		if i+1 < len(levels) {
			dips = append(dips, dip{before, low, levels[i+1]})
		}
	}
	cycles, rest := t.cycles(dips, name)
	pair, heat := t.split(rest)
	if len(pair) == 2 {
		out = append(out, Measured{name, t.circuits(pair, sides)})
	}
	if heat != nil {
		out = append(out, Measured{
			"carb-heat",
			map[string]any{
				"base": t.atResolution(heat.before.speed), "hot": t.atResolution(heat.low.speed),
				"coldAfter": t.atResolution(heat.after.speed),
			},
		})
	}
	return append(out, t.propeller(cycles)...)
}

// cycles are the dips that the propeller made. The manifold pressure rises in them, as
// in every dip at an open throttle; but on one circuit alone the exhaust is hotter, and
// where that is not recorded a cycle is deep.
func (t trace) cycles(dips []dip, ignition string) (cycles, rest []dip) {
	least, deepest := t.limit("propeller", "dropMin"), t.limit(ignition, "dropMax")
	for _, d := range dips {
		rose := mean(t.engine.ManifoldInHg, d.low.first, d.low.last) - mean(t.engine.ManifoldInHg, d.before.first,
			d.before.last)
		warmer := t.warmer(d)
		deep := d.depth() > 0.8*least
		if math.IsNaN(rose) {
			deep = d.depth() > max(0.8*least, 1.1*deepest)
		}
		if !math.IsNaN(least) && !(rose <= 0.3) && (warmer < oneCircuitC || math.IsNaN(warmer) && deep) {
			cycles = append(cycles, d)
		} else {
			rest = append(rest, d)
		}
	}
	return cycles, rest
}

// oneCircuitC is how much hotter the exhaust is at least on one circuit alone, which
// burns late.
const oneCircuitC = 12.0

// warmer is how much hotter the exhaust was in a dip, in the middle of the cylinders: a
// cylinder that does not fire is cold.
func (t trace) warmer(d dip) float64 {
	var rises []float64
	for _, cylinder := range t.engine.ExhaustC {
		if rise := mean(cylinder, d.low.first, d.low.last) - mean(cylinder, d.before.first,
			d.before.last); !math.IsNaN(rise) {
			rises = append(rises, rise)
		}
	}
	if len(rises) == 0 {
		return math.NaN()
	}
	return median(rises)
}

// split tells the two dips of the ignition from the one of carburettor heat: on one
// circuit the exhaust is hotter; where that is not recorded the ignition comes
// first.
func (t trace) split(dips []dip) (pair []dip, heat *dip) {
	known := len(dips) > 0 && !math.IsNaN(t.warmer(dips[0]))
	hasHeat := t.typ.Limits["carb-heat"] != nil
	for i, d := range dips {
		switch {
		case len(pair) < 2 && (!known || t.warmer(d) > 4 || !hasHeat):
			pair = append(pair, d)
		case hasHeat && heat == nil:
			heat = &dips[i]
		}
	}
	return pair, heat
}

// circuits is the reading of an ignition check.
func (t trace) circuits(pair []dip, sides [2]side) map[string]any {
	if t.SecondFirst {
		slices.Reverse(pair)
	}
	reading := map[string]any{"base": t.atResolution(pair[0].before.speed)}
	if t.SecondFirst { // the second side is measured against what comes before it
		reading["base"] = t.atResolution(pair[1].before.speed)
	}
	for i, s := range sides {
		d := pair[i]
		reading[s.low], reading[s.both] = t.atResolution(d.low.speed), t.atResolution(d.after.speed)
		reading["rough"+s.name] = d.low.scatter > 3*max(d.before.scatter, 0.002*d.before.speed)
		reading["stopped"+s.name] = false
		reading["secondsHeld"+s.name] = math.Round(10*(t.Seconds[d.after.first]-t.Seconds[d.before.last])) / 10
	}
	return reading
}

// propeller is the reading of its cycles; the one that goes deepest after enough of
// them is the feather check.
func (t trace) propeller(cycles []dip) (out []Measured) {
	enough := t.limit("propeller", "cyclesMin")
	if math.IsNaN(enough) {
		enough = 1
	}
	if n := len(cycles); t.typ.Limits["feather"] != nil && float64(n) > enough {
		last := cycles[n-1]
		cycles = cycles[:n-1]
		out = append(out, Measured{
			"feather",
			map[string]any{
				"base": t.atResolution(last.before.speed), "low": t.atResolution(last.low.speed),
				"after": t.atResolution(last.after.speed),
			},
		})
	}
	if len(cycles) == 0 {
		return out
	}
	low, rose, dipped := cycles[0].low.speed, true, true
	for _, d := range cycles {
		low = min(low, d.low.speed)
		change := func(column []float64) float64 {
			return mean(column, d.low.first, d.low.last) - mean(column, d.before.first, d.before.last)
		}
		rose = rose && !(change(t.engine.ManifoldInHg) <= 0)
		dipped = dipped && !(change(t.engine.OilPressure) >= 0)
	}
	reading := map[string]any{"base": t.atResolution(cycles[0].before.speed), "low": t.atResolution(low),
		"after":  t.atResolution(cycles[len(cycles)-1].after.speed),
		"cycles": len(cycles), "manifoldRose": rose, "oilPressureDipped": dipped}
	return append([]Measured{{"propeller", reading}}, out...)
}

// afterwards are the idle and the static speed that follow a run-up.
func (t trace) afterwards(levels []level, ended float64) (out []Measured) {
	low, high, static := t.limit("idle", "min"), t.limit("idle", "max"), t.limit("static-rpm", "min")
	idle := false
	for _, l := range levels {
		since := t.Seconds[l.first] - ended
		switch {
		case since > after:
			return out
		case !idle && since < 120 && l.speed > 0.7*low && l.speed < 1.2*high &&
			t.seconds(l) >= t.limit("idle", "seconds") && t.standsStill(l):
			idle = true
			out = append(out, Measured{
				"idle",
				map[string]any{"rpm": t.atResolution(l.speed), "seconds": math.Floor(t.seconds(l)), "stopped": false},
			})
		case t.GroundKt != nil && l.speed > 0.9*static && t.seconds(l) >= 2 && t.GroundKt[l.first] < 30:
			return append(out, Measured{"static-rpm", map[string]any{"rpm": t.atResolution(l.speed)}})
		}
	}
	return out
}

// unit says what the speeds of a reading are in, where the check asks.
func (t trace) unit(m Measured) {
	d, _ := check.Find(m.Check)
	if _, asks := form.Find(d.Fields, "unit"); asks {
		m.Reading["unit"] = form.TachometerIn(t.typ.Tachometer).Unit
	}
}

// atResolution is a speed at the resolution of the type's tachometer.
func (t trace) atResolution(speed float64) float64 {
	step := math.Pow10(form.TachometerIn(t.typ.Tachometer).Decimals)
	return math.Round(speed*step) / step
}
