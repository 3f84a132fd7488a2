package recorder

import (
	"math"
	"slices"
)

// level is a stretch of samples at which the speed was held.
type level struct {
	first, last int // samples
	speed       float64
	scatter     float64 // the mean distance of its samples from it
}

func (t trace) seconds(l level) float64 { return t.Seconds[l.last] - t.Seconds[l.first] }

// levels cuts the trace into stretches at which the speed was held within reach,
// in the order of their time. A stretch that ends is a move, and is no level.
func (t trace) levels(to int, reach float64) []level {
	var out []level
	keep := func(first, last int) {
		if t.Seconds[last]-t.Seconds[first] < settled {
			return
		}
		held := slices.Clone(t.engine.Speed[first : last+1])
		speed := median(held)
		scatter := 0.0
		for _, v := range held {
			scatter += math.Abs(v-speed) / float64(len(held))
		}
		if n := len(out); n > 0 && math.Abs(out[n-1].speed-speed) < reach/2 &&
			t.Seconds[first]-t.Seconds[out[n-1].last] < 2 {
			one := &out[n-1] // a level that wavered is one
			one.last = last
			one.speed = median(slices.Clone(t.engine.Speed[one.first : last+1]))
			one.scatter = max(one.scatter, scatter)
			return
		}
		out = append(out, level{first, last, speed, scatter})
	}
	first, low, high := t.from, math.Inf(1), math.Inf(-1)
	for i := t.from; i < to; i++ {
		v := t.engine.Speed[i]
		if math.IsNaN(v) {
			if i > first {
				keep(first, i-1)
			}
			first, low, high = i+1, math.Inf(1), math.Inf(-1)
			continue
		}
		low, high = min(low, v), max(high, v)
		if high-low > reach {
			if i-1 >= first {
				keep(first, i-1)
			}
			// The next level begins where the samples behind are as near as this one.
			first, low, high = i, v, v
			for first > t.from && math.Abs(t.engine.Speed[first-1]-v) <= reach/2 && (len(out) == 0 ||
				first-1 > out[len(out)-1].last) {
				first--
				low, high = min(low, t.engine.Speed[first]), max(high, t.engine.Speed[first])
			}
		}
	}
	if first < to {
		keep(first, to-1)
	}
	return out
}

func median(values []float64) float64 {
	slices.Sort(values)
	n := len(values)
	return (values[(n-1)/2] + values[n/2]) / 2
}

// mean of a column over some samples; NaN where it has none.
func mean(column []float64, first, last int) float64 {
	if column == nil {
		return math.NaN()
	}
	sum, n := 0.0, 0.0
	for _, v := range column[first : last+1] {
		if !math.IsNaN(v) {
			sum, n = sum+v, n+1
		}
	}
	return sum / n
}
