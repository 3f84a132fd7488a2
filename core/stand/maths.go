package stand

import "math"

// toward brings a value nearer to another in one step, with a time constant in
// seconds of at least three steps.
func toward(value, to, seconds float64) float64 { return value + (to-value)*Step/seconds }

// exp2 is 2 to the power of x. It is a polynomial (Taylor's series of 2^f about f = 0,
// to the eighth power; within 2e-9 of the true value) of multiplications and additions only, so
// that every processor gives the same bits.
func exp2(x float64) float64 {
	x = min(max(x, -60), 60)
	whole := math.Floor(x)
	f := float64((x - whole) * math.Ln2)
	sum := 1.0
	for _, n := range [...]float64{10, 9, 8, 7, 6, 5, 4, 3, 2, 1} {
		sum = 1 + float64(f*sum)/n
	}
	return math.Ldexp(sum, int(whole))
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
