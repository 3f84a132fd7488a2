package compare_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/compare"
)

func reading(hours, value float64) compare.Reading {
	return compare.Reading{Hours: hours, Value: value}
}

// TestASlopeIsTheMedianOfAll: held to the plain definition, for any readings; the
// interval holds it, and the hours to the limit are those of the slope.
func TestASlopeIsTheMedianOfAll(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var readings []compare.Reading
		for range rapid.IntRange(2, 40).Draw(t, "n") {
			readings = append(readings,
				reading(float64(rapid.IntRange(0, 60).Draw(t, "hours")),
					float64(rapid.IntRange(50, 90).Draw(t, "value"))))
		}
		var slopes []float64
		for i, a := range readings {
			for _, b := range readings[:i] {
				if a.Hours != b.Hours {
					slopes = append(slopes, (a.Value-b.Value)/(a.Hours-b.Hours))
				}
			}
		}
		trend := compare.TrendOf(readings, 100, compare.Above)
		if len(slopes) == 0 {
			assert.Nil(t, trend.SlopePerHour)
			return
		}
		slices.Sort(slopes)
		median := (slopes[len(slopes)/2] + slopes[(len(slopes)-1)/2]) / 2
		assert.InDelta(t, median, *trend.SlopePerHour, 1e-6)
		if trend.Low != nil {
			assert.LessOrEqual(t, *trend.Low, *trend.SlopePerHour)
		}
		if trend.High != nil {
			assert.GreaterOrEqual(t, *trend.High, *trend.SlopePerHour)
		}
		if median > 1e-6 {
			assert.InDelta(t, (100-*trend.EWMA)/median, *trend.HoursToLimit, 0.1+1e-3/median)
		} else if median <= 0 {
			assert.Nil(t, trend.HoursToLimit)
		}
		assert.Equal(t, trend.HoursHigh == nil, trend.Low == nil || *trend.Low <= 0,
			"unbounded when the slope may be none")
	})
}

// TestAKnownTrend: figures worked out by hand, on either side of a limit.
func TestAKnownTrend(t *testing.T) {
	var up, down []compare.Reading
	for i := range 20 {
		bump := 1.0
		if i%2 == 1 {
			bump = -1
		}
		up = append(up, reading(float64(i*10), 80+float64(i*2)+bump))
		down = append(down, reading(float64(i*10), 80-float64(i*2)-bump))
	}
	above, below := compare.TrendOf(up, 140, compare.Above), compare.TrendOf(down, 20, compare.Below)
	assert.Equal(t, 20, above.N)
	assert.InDelta(t, 0.2, *above.SlopePerHour, 1e-9)
	assert.InDelta(t, -0.2, *below.SlopePerHour, 1e-9)
	assert.Equal(t, above.HoursToLimit, below.HoursToLimit)
	assert.Equal(t, above.HoursLow, below.HoursLow)
	require.NotNil(t, above.Finding)
	require.NotNil(t, below.Finding)
	assert.Equal(t, "trend-to-limit", above.Finding.Code)
	assert.Equal(t, "trend-to-limit", below.Finding.Code)
	assert.Nil(t, compare.TrendOf(up, 20, compare.Below).HoursToLimit, "it goes the other way")
	assert.Equal(t, "at-limit", compare.TrendOf(up, 100, compare.Above).Finding.Code)
	assert.Nil(t, compare.TrendOf(up[:11], 140, compare.Above).Control, "a chart needs twelve")
	assert.NotNil(t, compare.TrendOf(up[:12], 140, compare.Above).Control)
	assert.Equal(t, compare.Trend{}, compare.TrendOf(nil, 1, compare.Above))
	one := compare.TrendOf(up[:1], 140, compare.Above)
	assert.Equal(t, [2]any{1, (*float64)(nil)}, [2]any{one.N, one.SlopePerHour})
}

// TestMaintenanceRestartsATrend: what was read before it counts no more.
func TestMaintenanceRestartsATrend(t *testing.T) {
	var readings []compare.Reading
	for i := range 30 {
		readings = append(readings, reading(float64(i), 80+float64(i)+float64(i%3)))
	}
	require.NotNil(t, compare.TrendOf(readings, 140, compare.Above).Finding)
	for i := range 15 {
		r := reading(float64(30+i), 80+float64(i%3))
		r.Reset = i == 0
		readings = append(readings, r)
	}
	after := compare.TrendOf(readings, 140, compare.Above)
	assert.Equal(t, 15, after.N)
	assert.Nil(t, after.Finding)
	assert.InDelta(t, 81, after.Control.Centre, 0.01)
}

// TestACreepIsRaisedBeforeTheLimit: in 1,000 aircraft, each with its own scatter,
// height and creep; and of 1,000 without one fewer than 2 in 100 raise anything in
// a year of 250 hours.
func TestACreepIsRaisedBeforeTheLimit(t *testing.T) {
	const aircraft = 1000
	var raised, alarms atomic.Int64
	var work sync.WaitGroup
	for part := range 4 {
		work.Add(1)
		go func() {
			defer work.Done()
			for n := part; n < aircraft; n += 4 {
				random := rand.New(rand.NewPCG(uint64(n), 11))
				noise, start, per := 3+7*random.Float64(), 40+50*random.Float64(), 4+2*random.Float64()
				limit := start + noise*(5+5*random.Float64())
				finding := func(until, from, creep float64) bool {
					var readings []compare.Reading
					for h := 0.0; h < until; h += per {
						level := start + max(0, h-from)*creep
						readings = append(readings, reading(h, math.Round(level+random.NormFloat64()*noise)))
						if level < limit && compare.TrendOf(readings, limit, compare.Above).Finding != nil {
							return true
						}
					}
					return false
				}
				if finding(250, 0, 0) {
					alarms.Add(1)
				}
				begins, takes := 60*random.Float64(), 60+190*random.Float64()
				if finding(begins+takes, begins, (limit-start)/takes) {
					raised.Add(1)
				}
			}
		}()
	}
	work.Wait()
	assert.GreaterOrEqual(t, raised.Load(), int64(950))
	assert.Less(t, alarms.Load(), int64(20))
	t.Logf("raised %d of %d, false alarms %d", raised.Load(), aircraft, alarms.Load())
}
