package compare

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/optimize"

	"jetprimer/core/progress"
)

// Answer is whether an item was still known, so many days after it was last shown,
// when it had been right and not right so often before.
type Answer struct {
	Right int
	Wrong int
	Days  float64
	Known bool
}

// FitForgettingFrom is the least number of answers that constants of a school's own
// are fitted to, and KindFrom how many of them must be known, and not.
const (
	FitForgettingFrom = 2000
	KindFrom          = 100
)

// The pull of the fit towards the constants it begins with, as a variance: answers
// that say nothing of one of them leave it there.
const forgettingVariance = 4.0

// FitForgetting fits the constants of half-life regression to answers, by maximum
// likelihood from those that it begins with. An error says what is too little.
func FitForgetting(answers []Answer, begin progress.Forgetting) (progress.Forgetting, error) {
	known := 0
	for _, a := range answers {
		if a.Known {
			known++
		}
	}
	if len(answers) < FitForgettingFrom || min(known, len(answers)-known) < KindFrom {
		return begin, fmt.Errorf("%d answers, of which %d were known, are too few: %d are needed, %d of either kind",
			len(answers), known, FitForgettingFrom, KindFrom)
	}
	type seen struct {
		x     [3]float64
		days  float64
		known bool
	}
	all := make([]seen, len(answers))
	for i, a := range answers {
		all[i] = seen{
			[3]float64{1, math.Sqrt(float64(1 + a.Right)), math.Sqrt(float64(1 + a.Wrong))}, max(a.Days, 0.25), a.Known,
		}
	}
	start := []float64{begin.Base, begin.Right, begin.Wrong}
	// loss is the negative logarithm of the likelihood, and adds its gradient to grad.
	loss := func(at, grad []float64) float64 {
		sum := 0.0
		for k := range start {
			d := at[k] - start[k]
			sum += d * d / (2 * forgettingVariance)
			if grad != nil {
				grad[k] = d / forgettingVariance
			}
		}
		for _, s := range all {
			// The chance is exp(-halves·ln 2); both it and its rest keep off 0.
			halves := s.days / math.Exp2(at[0]*s.x[0]+at[1]*s.x[1]+at[2]*s.x[2])
			log := min(max(halves*math.Ln2, 1e-6), 30)
			forgot := -math.Expm1(-log)
			slope := log // of the negative logarithm by the logarithm of the halves
			if s.known {
				sum += log
			} else {
				sum -= math.Log(forgot)
				slope = -log * (1 - forgot) / forgot
			}
			if grad != nil {
				for k, x := range s.x {
					grad[k] -= slope * math.Ln2 * x
				}
			}
		}
		return sum
	}
	found, err := optimize.Minimize(optimize.Problem{
		Func: func(at []float64) float64 { return loss(at, nil) },
		Grad: func(grad, at []float64) { loss(at, grad) },
	}, start, &optimize.Settings{MajorIterations: 200}, &optimize.BFGS{})
	if found == nil {
		return begin, err
	}
	fitted := progress.Forgetting{ID: begin.ID, Base: found.X[0], Right: found.X[1], Wrong: found.X[2]}
	return fitted, fitted.Check()
}
