package compare

import (
	"errors"
	"math"
	"runtime"
	"sync"

	"gonum.org/v1/gonum/mat"
)

// moments of the step of one grade: its chances, mean, variance and third central
// moment.
type moments struct {
	chance         [MostLevel + 1]float64
	mean, variance float64
	third          float64
	top            int
}

func (f *fit) moments(c *cell) (m moments) {
	s := &f.scales[c.scale]
	eta := f.ability[c.person] - f.rest[c.item] - f.rest[f.raterAt(c.rater)] - f.rest[f.offsetAt(c.scale)]
	m.top = len(s.levels) - 1
	var logs [MostLevel + 1]float64
	highest := 0.0
	for k := 1; k <= m.top; k++ {
		logs[k] = logs[k-1] + eta - f.rest[s.at+k-1]
		highest = max(highest, logs[k])
	}
	sum := 0.0
	for k := 0; k <= m.top; k++ {
		m.chance[k] = math.Exp(logs[k] - highest)
		sum += m.chance[k]
	}
	for k := 0; k <= m.top; k++ {
		m.chance[k] /= sum
		m.mean += float64(k) * m.chance[k]
	}
	for k := 0; k <= m.top; k++ {
		d := float64(k) - m.mean
		m.variance += d * d * m.chance[k]
		m.third += d * d * d * m.chance[k]
	}
	return m
}

// above is the chance of step h or more, its covariance with the step, and with
// the squared distance of the step from its mean.
func (m *moments) above(h int) (chance, covariance, squared float64) {
	for k := h; k <= m.top; k++ {
		d := float64(k) - m.mean
		chance += m.chance[k]
		covariance += d * m.chance[k]
		squared += d * d * m.chance[k]
	}
	return chance, covariance, squared - m.variance*chance
}

// part is what the grades of some persons give: gradients and informations. The
// parts are summed in their order, so that the result is the same on any machine.
type part struct {
	gradient []float64 // of the other parameters
	schur    []float64 // their information with the abilities eliminated: the upper half, by row
	reduced  []float64 // what the abilities take from their gradient
	variance []float64 // of items and instructors
	// What one person's grades are worked out with: the places of the parameters
	// among those that they touch, 0 for none, and their moments.
	places  []int
	moments []moments
}

func newPart(n int) part {
	return part{make([]float64, n), make([]float64, n*n), make([]float64, n), make([]float64, n), make([]int, n), nil}
}

// inform adds to the information of two parameters.
func (p *part) inform(a, b int, v float64) {
	p.schur[min(a, b)*len(p.gradient)+max(a, b)] += v
}

// least is the information of what no grade tells about.
const least = 1e-6

// parts is into how many the persons are cut.
const parts = 16

// pass is one pass over all grades.
type pass struct {
	part
	gradient, variance []float64   // of the abilities
	cross              [][]float64 // of each ability with the other parameters
	touched            [][]int     // the parameters that a person's grades touch
}

// sweep sums over all grades. With correct the bias correction is in the gradient.
func (f *fit) sweep(correct bool) pass {
	n := len(f.rest)
	out := pass{gradient: make([]float64, len(f.persons)), variance: make([]float64, len(f.persons)),
		cross: make([][]float64, len(f.persons)), touched: make([][]int, len(f.persons))}
	cut := make([]part, parts)
	var work sync.WaitGroup
	slots := make(chan struct{}, runtime.GOMAXPROCS(0))
	for at := range cut {
		work.Add(1)
		go func() {
			defer work.Done()
			slots <- struct{}{}
			defer func() { <-slots }()
			cut[at] = newPart(n)
			for p := at * len(f.persons) / parts; p < (at+1)*len(f.persons)/parts; p++ {
				f.person(p, &cut[at], &out, correct)
			}
		}()
	}
	work.Wait()
	out.part = newPart(n)
	for _, c := range cut {
		for i, v := range c.schur {
			out.schur[i] += v
		}
		for i := range n {
			out.part.gradient[i] += c.gradient[i]
			out.reduced[i] += c.reduced[i]
			out.part.variance[i] += c.variance[i]
		}
	}
	for i := range n {
		out.part.variance[i] = max(out.part.variance[i], least)
	}
	return out
}

// person adds one person's grades.
func (f *fit) person(p int, sum *part, out *pass, correct bool) {
	cells := f.cells[f.starts[p]:f.starts[p+1]]
	var touched []int
	var cross []float64
	add := func(parameter int, v float64) {
		if sum.places[parameter] == 0 {
			touched, cross = append(touched, parameter), append(cross, 0)
			sum.places[parameter] = len(touched)
		}
		cross[sum.places[parameter]-1] += v
	}
	of := sum.moments[:0]
	for i := range cells {
		of = append(of, f.moments(&cells[i]))
		out.variance[p] += cells[i].n * of[i].variance
	}
	sum.moments, out.variance[p] = of, max(out.variance[p], least)
	for i := range cells {
		c, m := &cells[i], &of[i]
		s := &f.scales[c.scale]
		rater, offset := f.raterAt(c.rater), f.offsetAt(c.scale)
		weight := 0.0
		if correct {
			weight = (1/out.variance[p] + 1/f.variance[c.item] + 1/f.variance[rater]) / 2
		}
		observed := 0.0
		for k := 1; k <= m.top; k++ {
			observed += float64(k) * c.counts[k]
		}
		v := c.n * m.variance
		g := observed - c.n*m.mean + weight*c.n*m.third
		out.gradient[p] += g
		direct := [3]int{c.item, rater, offset}
		for _, a := range direct {
			sum.gradient[a] -= g
			sum.variance[a] += v
			add(a, -v)
			for _, b := range direct {
				if a <= b {
					sum.inform(a, b, v)
				}
			}
		}
		reached := c.n // how many grades reached the step
		for h := 1; h <= m.top; h++ {
			reached -= c.counts[h-1]
			chance, covariance, squared := m.above(h)
			t := s.at + h - 1
			sum.gradient[t] += c.n*chance - reached - weight*c.n*squared
			add(t, -c.n*covariance)
			for _, a := range direct {
				sum.inform(a, t, c.n*covariance)
			}
			for l := h; l <= m.top; l++ {
				higher, _, _ := m.above(l)
				sum.inform(t, s.at+l-1, c.n*higher*(1-chance))
			}
		}
	}
	for i, a := range touched {
		share := cross[i] / out.variance[p]
		sum.reduced[a] -= share * out.gradient[p]
		sum.places[a] = 0
		for j, b := range touched[:i+1] {
			sum.inform(a, b, -share*cross[j])
		}
	}
	out.cross[p], out.touched[p] = cross, touched
}

var errUnsolvable = errors.New("the grades do not hold together: no comparison can be made of them")

// curvature is the information of the other parameters once the abilities are
// eliminated, with what ties down the directions that no grade tells about: the
// means that are zero, and an offset of a scale by a prior of 1 logit.
func (f *fit) curvature(of *pass) (*mat.Cholesky, error) {
	n := len(f.rest)
	scale := 1.0
	for i := range n {
		scale = max(scale, of.schur[i*n+i])
	}
	for _, set := range f.means {
		for _, a := range set {
			for _, b := range set {
				if a <= b {
					of.inform(a, b, scale)
				}
			}
		}
	}
	for s := range f.scales {
		of.inform(f.offsetAt(s), f.offsetAt(s), 1)
	}
	for i := range n {
		of.inform(i, i, 1e-8*scale)
	}
	var out mat.Cholesky
	if !out.Factorize(mat.NewSymDense(n, of.schur)) {
		return nil, errUnsolvable
	}
	return &out, nil
}

// step is one step of Newton's method, with the expected information; it returns
// the largest change.
func (f *fit) step() (float64, error) {
	if f.variance == nil {
		f.variance = f.sweep(false).part.variance
	}
	now := f.sweep(true)
	factor, err := f.curvature(&now)
	if err != nil {
		return 0, err
	}
	n := len(f.rest)
	right, change := mat.NewVecDense(n, nil), mat.NewVecDense(n, nil)
	for i := range n {
		right.SetVec(i, now.part.gradient[i]+now.reduced[i])
	}
	for s := range f.scales {
		at := f.offsetAt(s)
		right.SetVec(at, right.AtVec(at)-f.rest[at])
	}
	if err := factor.SolveVecTo(change, right); err != nil && !errors.As(err, new(mat.Condition)) {
		return 0, errUnsolvable
	}
	f.centre(change.RawVector().Data)
	most := 0.0
	bounded := func(by float64) float64 {
		by = max(-longest, min(longest, by)) * f.pace
		most = max(most, math.Abs(by))
		return by
	}
	for p := range f.persons {
		g := now.gradient[p]
		for i, a := range now.touched[p] {
			g -= now.cross[p][i] * change.AtVec(a)
		}
		f.ability[p] += bounded(g / now.variance[p])
	}
	for i := range n {
		f.rest[i] += bounded(change.AtVec(i))
	}
	f.centre(f.rest)
	if f.passes++; f.passes > 15 && most > 0.7*f.last { // by now it swings
		f.pace = max(f.pace/2, 1.0/16)
	}
	f.variance, f.last = now.part.variance, most
	return most, nil
}

// centre makes the means zero that are.
func (f *fit) centre(parameters []float64) {
	for _, set := range f.means {
		mean := 0.0
		for _, a := range set {
			mean += parameters[a] / float64(len(set))
		}
		for _, a := range set {
			parameters[a] -= mean
		}
	}
}

type standardErrors struct{ persons, rest []float64 }

// standardErrors are by the inverse of the expected information.
func (f *fit) standardErrors() (out standardErrors, err error) {
	now := f.sweep(false)
	factor, err := f.curvature(&now)
	if err != nil {
		return out, err
	}
	var covariance mat.SymDense
	if err := factor.InverseTo(&covariance); err != nil && !errors.As(err, new(mat.Condition)) {
		return out, errUnsolvable
	}
	for i := range f.rest {
		out.rest = append(out.rest, math.Sqrt(max(0, covariance.At(i, i))))
	}
	for _, set := range f.means {
		if len(set) == 1 { // it is zero, and not estimated
			out.rest[set[0]] = 0
		}
	}
	for p := range f.persons {
		v := now.variance[p]
		own := 1 / v
		for i, a := range now.touched[p] {
			for j, b := range now.touched[p] {
				own += now.cross[p][i] * covariance.At(a, b) * now.cross[p][j] / (v * v)
			}
		}
		out.persons = append(out.persons, math.Sqrt(own))
	}
	return out, nil
}

// squares are what the fit of an item or an instructor is made of: squared
// residuals, their variances, squared standardised residuals, and how many.
type squares struct{ residual, variance, standard, n float64 }

// infit and outfit are mean squares: weighted by information, and plain.
func (s squares) infit() float64  { return s.residual / s.variance }
func (s squares) outfit() float64 { return s.standard / s.n }

func (f *fit) fits() (items, raters []squares) {
	items, raters = make([]squares, len(f.items)), make([]squares, len(f.raters))
	for i := range f.cells {
		c := &f.cells[i]
		m := f.moments(c)
		if m.variance < 1e-12 {
			continue
		}
		residual := 0.0
		for k := 0; k <= m.top; k++ {
			d := float64(k) - m.mean
			residual += d * d * c.counts[k]
		}
		for _, s := range []*squares{&items[c.item], &raters[c.rater]} {
			s.residual += residual
			s.variance += c.n * m.variance
			s.standard += residual / m.variance
			s.n += c.n
		}
	}
	return items, raters
}
