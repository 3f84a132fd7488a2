package progress

import (
	"cmp"
	"math"
	"slices"
	"time"
)

// Way is one way that a student's lessons may go until nothing is missing, after a
// comparable student, with its chance.
type Way struct {
	Lessons int
	Days    int
	Chance  float64
}

// Ahead is what lies before a student: the ways, whose chances leave to 1 that it
// takes longer than anybody's so far.
type Ahead struct {
	Class string
	Ways  []Way
}

// Ahead are the ways of a course, from the same students as its forecast; without
// ways where there is no forecast.
func (c Course) Ahead(required int, others []Course) []Way {
	all, ready := c.comparable(required, others)
	if ready < ForecastFrom {
		return nil
	}
	slices.SortStableFunc(all, func(a, b left) int { return cmp.Compare(a.days, b.days) })
	out := []Way{}
	still := 1.0
	for i, l := range all {
		if l.ready {
			chance := still / float64(len(all)-i)
			still -= chance
			out = append(out, Way{l.lessons, l.days, chance})
		}
	}
	return out
}

// Expected is a number that is expected, and the interval that holds it in eight of
// ten cases.
type Expected struct {
	Low  float64 `json:"low"`
	Mean float64 `json:"mean"`
	High float64 `json:"high"`
}

// Times is so many times it, such as the hours of so many lessons.
func (e Expected) Times(by float64) Expected { return Expected{e.Low * by, e.Mean * by, e.High * by} }

// Plus is the sum of two, taken as if both ends came together: no narrower than it is.
func (e Expected) Plus(o Expected) Expected {
	return Expected{e.Low + o.Low, e.Mean + o.Mean, e.High + o.High}
}

// Month is what a calendar month brings.
type Month struct {
	Month string `json:"month" doc:"such as 2026-12"`
	// From and To are its days, To the first that is no more of it; the first month
	// begins on the day of the outlook.
	From string `json:"from"`
	To   string `json:"to"`
	// Checkrides are the students who become ready in it.
	Checkrides Expected `json:"checkrides"`
	// Lessons are those that the students need in it, by class.
	Lessons map[string]Expected `json:"lessons"`
}

// tenth is how many standard deviations leave a tenth outside on either side.
const tenth = 1.2816

// Outlook is what the months from a day on bring, of students who go their ways
// independently of one another. Their lessons are spread evenly over their days; of a
// student who takes longer than anybody so far they go on as often.
func Outlook(asOf string, months int, students []Ahead) []Month {
	day, err := time.Parse(time.DateOnly, asOf)
	if err != nil {
		return nil
	}
	out := []Month{}
	from := day
	for range months {
		to := time.Date(from.Year(), from.Month()+1, 1, 0, 0, 0, 0, time.UTC)
		a, b := from.Sub(day).Hours()/24, to.Sub(day).Hours()/24
		m := Month{
			Month: from.Format("2006-01"), From: from.Format(time.DateOnly), To: to.Format(time.DateOnly),
			Lessons: map[string]Expected{},
		}
		count := []float64{1} // the chance of so many checkrides
		type moments struct{ mean, variance float64 }
		lessons := map[string]moments{}
		for _, s := range students {
			if len(s.Ways) == 0 {
				continue
			}
			ready, mean, square, rest := 0.0, 0.0, 0.0, 1.0
			pace, days := 0.0, 0.0
			for _, w := range s.Ways {
				long := math.Max(1, float64(w.Days))
				if long > a && long <= b {
					ready += w.Chance
				}
				n := float64(w.Lessons) * math.Max(0, math.Min(b, long)-a) / long
				mean, square, rest = mean+w.Chance*n, square+w.Chance*n*n, rest-w.Chance
				pace, days = pace+w.Chance*float64(w.Lessons), days+w.Chance*long
			}
			if rest = math.Max(0, rest); rest > 0 {
				n := pace / days * (b - a)
				mean, square = mean+rest*n, square+rest*n*n
			}
			next := make([]float64, len(count)+1)
			for k, chance := range count {
				next[k] += chance * (1 - ready)
				next[k+1] += chance * ready
			}
			count = next
			l := lessons[s.Class]
			lessons[s.Class] = moments{l.mean + mean, l.variance + square - mean*mean}
		}
		m.Checkrides = ofChances(count)
		for class, l := range lessons {
			reach := tenth * math.Sqrt(math.Max(0, l.variance))
			m.Lessons[class] = Expected{math.Max(0, l.mean-reach), l.mean, l.mean + reach}
		}
		out = append(out, m)
		from = to
	}
	return out
}

// ofChances are the mean of a number with those chances, and where a tenth lies below
// and above.
func ofChances(count []float64) Expected {
	e := Expected{Low: -1, High: -1}
	sum := 0.0
	for k, chance := range count {
		e.Mean += float64(k) * chance
		sum += chance
		if e.Low < 0 && sum > 0.1 {
			e.Low = float64(k)
		}
		if e.High < 0 && sum >= 0.9 {
			e.High = float64(k)
		}
	}
	return e
}

// Enough says whether so many hours are enough for what is needed, beside the most
// that was flown in one month so far: within, attend or out, in words.
func Enough(need Expected, had, most float64) (state, words string) {
	switch {
	case need.Low > had:
		return "out", "short: more than there is"
	case need.High > had:
		return "attend", "may be short"
	case most > 0 && need.Mean > most:
		return "attend", "more than in any month so far"
	}
	return "within", "enough"
}
