package stand

import "math"

// toward brings a value nearer to another in one step, with a time constant in
// seconds of at least three steps.
func toward(value, to, seconds float64) float64 { return value + (to-value)*Step/seconds }

// exp2 is 2 to the power of x, of multiplications and additions only, each rounded by
// itself, so that every processor gives the same bits: Taylor's series of 2^f to
// the tenth power, within 5e-10 of the true value.
func exp2(x float64) float64 {
	x = min(max(x, -60), 60)
	whole := math.Floor(x)
	f := x - whole
	sum := taylor[0]
	for _, c := range taylor[1:] {
		sum = float64(sum*f) + c
	}
	return sum * math.Float64frombits(uint64(int64(whole)+1023)<<52)
}

// taylor are (ln 2)^n / n!, from the tenth down.
var taylor = [...]float64{
	7.054911620801121e-09,
	1.0178086009239696e-07,
	1.3215486790144305e-06,
	1.5252733804059838e-05,
	0.00015403530393381606,
	0.0013333558146428441,
	0.009618129107628477,
	0.055504108664821576,
	0.2402265069591007,
	0.6931471805599453,
	1.0,
}

// chance is a number from 0 up to 1 that looks like chance: of a seed, of what it is
// for, and of when (the mixing of SplitMix64: Steele, Lea and Flood, OOPSLA 2014).
func chance(seed uint64, what, when int) float64 {
	z := seed + uint64(what)*0xd1342543de82ef95 + uint64(when)*0x9e3779b97f4a7c15
	z = (z ^ z>>30) * 0xbf58476d1ce4e5b9
	z = (z ^ z>>27) * 0x94d049bb133111eb
	return float64((z^z>>31)>>11) / (1 << 53)
}

// scatter is a number about 0 with a standard deviation of 1: the sum of four even
// chances (Irwin and Hall), which never goes beyond 3.5.
func scatter(seed uint64, what, when int) float64 {
	sum := 0.0
	for n := range 4 {
		sum += chance(seed, what*4+n, when)
	}
	return (sum - 2) * 1.7320508
}
