package compare

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat/distuv"
)

// Reading is one repeated reading of an aircraft: the first try of its run-up, at
// the hours of its meter. Reset says that maintenance worked on it just before;
// what was read earlier says nothing of it any more.
type Reading struct {
	Hours float64
	Value float64
	Reset bool
}

// Toward is the side of its limit that a reading is bad on.
type Toward int

// The sides.
const (
	Above Toward = 1
	Below Toward = -1
)

// Control is a control chart as it stands: its centre, and how far the weighted
// average may lie from it.
type Control struct {
	Centre float64 `json:"centre"`
	Upper  float64 `json:"upper"`
	Lower  float64 `json:"lower"`
}

// Finding is what a trend gives reason to look at.
type Finding struct {
	Code    string `json:"code"`
	Message string `json:"message"`
}

// Trend is how a reading goes over the hours since maintenance last worked on it.
// What cannot be told yet, or has no bound, is null.
type Trend struct {
	N            int      `json:"n"`
	SlopePerHour *float64 `json:"slopePerHour"`
	Low          *float64 `json:"low"`
	High         *float64 `json:"high"`
	EWMA         *float64 `json:"ewma"`
	Control      *Control `json:"control"`
	HoursToLimit *float64 `json:"hoursToLimit"`
	HoursLow     *float64 `json:"hoursLow"`
	HoursHigh    *float64 `json:"hoursHigh"`
	Finding      *Finding `json:"finding"`
}

const (
	// weight is how much the newest reading counts in the weighted average, and
	// sigmas how far it may lie from the centre (Lucas and Saccucci, Technometrics
	// 32, 1990).
	weight, sigmas = 0.2, 2.7
	// chartFrom is how many readings a chart begins with: they are its centre.
	chartFrom = 12
	// horizon is how many hours ahead of a limit a trend is a finding.
	horizon = 150.0
	// mostReadings bounds what a slope is told from: the newest ones.
	mostReadings = 2000
)

// TrendOf follows readings to a limit. They are taken in their order up to the last
// reset, and by their hours after it.
func TrendOf(readings []Reading, limit float64, toward Toward) Trend {
	readings = slices.Clone(readings[sinceReset(readings):])
	slices.SortStableFunc(readings, func(a, b Reading) int { return cmp.Compare(a.Hours, b.Hours) })
	t := Trend{N: len(readings)}
	if t.N == 0 {
		return t
	}
	slope, low, high := theilSen(readings[max(0, len(readings)-mostReadings):])
	average, control := chart(readings)
	t.EWMA, t.Control = toDecimals(average, 3), control
	t.SlopePerHour, t.Low, t.High = toDecimals(slope, 6), toDecimals(low, 6), toDecimals(high, 6)
	t.ahead(limit-average, slope, low, high, toward)
	t.Finding = t.finding(average, slope, low, high, limit, toward)
	return t
}

// sinceReset is the first reading after the last reset.
func sinceReset(readings []Reading) int {
	for i := len(readings) - 1; i > 0; i-- {
		if readings[i].Reset {
			return i
		}
	}
	return 0
}

// ahead is how many hours it is to the limit, away, at a slope within its interval.
func (t *Trend) ahead(away, slope, low, high float64, toward Toward) {
	side := float64(toward)
	if away*side <= 0 {
		t.HoursToLimit, t.HoursLow, t.HoursHigh = toDecimals(0, 1), toDecimals(0, 1), toDecimals(0, 1)
		return
	}
	hours := func(slope float64) *float64 {
		if !(slope*side > 0) || math.IsInf(slope, 0) {
			return nil
		}
		return toDecimals(away/slope, 1)
	}
	fast, slow := high, low
	if toward == Below {
		fast, slow = low, high
	}
	t.HoursToLimit, t.HoursLow, t.HoursHigh = hours(slope), hours(fast), hours(slow)
}

// finding is raised once the weighted average is at the limit, or has left its
// chart on the limit's side while the slope leads there within the horizon.
func (t *Trend) finding(average, slope, low, high, limit float64, toward Toward) *Finding {
	side := float64(toward)
	if (average-limit)*side > 0 {
		return &Finding{
			"at-limit", fmt.Sprintf("The readings lie beyond the limit of %g: about %.4g now.", limit, average),
		}
	}
	if t.Control == nil || math.IsNaN(slope) {
		return nil
	}
	left := average > t.Control.Upper
	surely := low > 0
	if toward == Below {
		left, surely = average < t.Control.Lower, high < 0
	}
	if !left || !surely || t.HoursToLimit == nil || *t.HoursToLimit > horizon {
		return nil
	}
	return &Finding{
		"trend-to-limit",
		fmt.Sprintf("The readings go by %.3g an hour towards the limit of %g, from about %.4g now: some %.0f hours "+
			"are left.", slope, limit, average, *t.HoursToLimit),
	}
}

// chart is the exponentially weighted average of the readings and, from twelve
// readings on, its control limits. Their spread comes of the differences of
// neighbours, which a trend hardly changes.
func chart(readings []Reading) (average float64, control *Control) {
	centre := meanOfFirst(readings)
	all := averages(readings)
	average = all[len(all)-1]
	if len(readings) < chartFrom {
		return average, nil
	}
	moved := 0.0
	for i := 1; i < len(readings); i++ {
		moved += math.Abs(readings[i].Value-readings[i-1].Value) / float64(len(readings)-1)
	}
	const ofMovingRange = 1.128 // the mean range of two normal readings, in standard deviations
	reach := sigmas * moved / ofMovingRange * math.Sqrt(weight/(2-weight)*(1-math.Pow(1-weight,
		2*float64(len(readings)))))
	return average, &Control{*toDecimals(centre, 3), *toDecimals(centre+reach, 3), *toDecimals(centre-reach, 3)}
}

// meanOfFirst is the mean of the readings that a chart begins with.
func meanOfFirst(readings []Reading) float64 {
	first := readings[:min(len(readings), chartFrom)]
	sum := 0.0
	for _, r := range first {
		sum += r.Value
	}
	return sum / float64(len(first))
}

// averages are the weighted average after each reading.
func averages(readings []Reading) []float64 {
	out := make([]float64, len(readings))
	average := meanOfFirst(readings)
	for i, r := range readings {
		average += weight * (r.Value - average)
		out[i] = average
	}
	return out
}

// theilSen is the median of the slopes between every two readings at different
// hours, with the interval that holds the true slope in 95 of 100 cases (Sen,
// Journal of the American Statistical Association 63, 1968, with his correction
// for ties). What cannot be told is NaN, what has no bound infinite.
func theilSen(readings []Reading) (slope, low, high float64) {
	var slopes []float64
	for i, a := range readings {
		for _, b := range readings[i+1:] {
			if b.Hours > a.Hours {
				slopes = append(slopes, (b.Value-a.Value)/(b.Hours-a.Hours))
			}
		}
	}
	if len(slopes) == 0 {
		return math.NaN(), math.NaN(), math.NaN()
	}
	slices.Sort(slopes)
	n := len(slopes)
	slope = (slopes[(n-1)/2] + slopes[n/2]) / 2
	reach := distuv.UnitNormal.Quantile(0.975) * math.Sqrt(variance(readings))
	at := func(i int) float64 {
		switch {
		case i < 1:
			return math.Inf(-1)
		case i > n:
			return math.Inf(1)
		}
		return slopes[i-1]
	}
	return slope, at(int(math.Floor((float64(n) - reach) / 2))), at(int(math.Ceil((float64(n)+reach)/2)) + 1)
}

// variance of Kendall's score of readings that have no trend, some of them at the
// same hours or of the same value.
func variance(readings []Reading) float64 {
	of := func(n float64) float64 { return n * (n - 1) * (2*n + 5) }
	tied := func(value func(Reading) float64) (sum float64) {
		times := map[float64]float64{}
		for _, r := range readings {
			times[value(r)]++
		}
		for _, n := range times {
			sum += of(n)
		}
		return sum
	}
	v := of(float64(len(readings))) - tied(func(r Reading) float64 { return r.Value }) - tied(func(r Reading) float64 {
		return r.Hours
	})
	return max(0, v) / 18
}

// toDecimals is a number to so many decimals; nil where there is none.
func toDecimals(v float64, decimals int) *float64 {
	if math.IsNaN(v) || math.IsInf(v, 0) {
		return nil
	}
	step := math.Pow10(decimals)
	v = math.Round(v*step)/step + 0
	return &v
}
