// Package compare compares what instructors grade fairly, and watches the
// readings of aircraft over their hours.
//
// The comparison is the many-facet Rasch rating-scale model (Linacre, Many-facet
// Rasch measurement, 1989; Andrich, A rating formulation for ordered response
// categories, Psychometrika 43, 1978): of a grade at one of a scale's levels,
//
//	logit P(level k rather than k−1) = ability − difficulty − severity − threshold k
//
// in logits, with one ability for each student and stage. The means of items,
// of each linked group's severities and of each scale's thresholds are zero.
// What is maximised is the likelihood with a bias correction of the first order
// (Firth, Biometrika 80, 1993; of an ability alone it is Warm's, Psychometrika
// 54, 1989), so that extreme scores have estimates too.
package compare

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
)

// Levels that a grade can have, before any scale.
const (
	LeastLevel = 0
	MostLevel  = 4
)

// Grade is one item graded by one instructor: not an implied pass, and not a
// repeat within a lesson.
type Grade struct {
	Student    string
	Stage      string
	Item       string
	Instructor string
	Scale      string
	Level      int
}

// Student is the ability of a student in a stage.
type Student struct {
	ID      string  `json:"id"`
	Stage   string  `json:"stage,omitempty"`
	Ability float64 `json:"ability"`
	SE      float64 `json:"se"`
	N       int     `json:"n"`
	// Extreme says that every grade was the highest or the lowest that its scale
	// showed: the ability is only bounded on one side.
	Extreme bool `json:"extreme"`
}

// Item is how difficult an item is. Infit and Outfit are mean squares, near 1
// where grades scatter as the model expects.
type Item struct {
	ID         string  `json:"id"`
	Difficulty float64 `json:"difficulty"`
	SE         float64 `json:"se"`
	Infit      float64 `json:"infit"`
	Outfit     float64 `json:"outfit"`
}

// Instructor is how severely an instructor grades: above 0 is strict. Only those
// of one Group are compared.
type Instructor struct {
	ID       string  `json:"id"`
	Severity float64 `json:"severity"`
	SE       float64 `json:"se"`
	Infit    float64 `json:"infit"`
	Outfit   float64 `json:"outfit"`
	Group    int     `json:"group"`
}

// Link is a co-grading that would link two groups: the instructor grades a
// lesson of the student beside the other.
type Link struct {
	Instructor string `json:"instructor"`
	With       string `json:"with"`
	Student    string `json:"student,omitempty"`
}

// Model is a comparison. Its numbers are logits to three decimals.
type Model struct {
	Students    []Student    `json:"students"`
	Items       []Item       `json:"items"`
	Instructors []Instructor `json:"instructors"`
	// Thresholds are those between the levels that each scale showed, lowest first.
	Thresholds map[string][]float64 `json:"thresholds"`
	// Offsets are how much more it takes on a scale than on the one that is used
	// most, where the grades tell; scales without one are not in it.
	Offsets    map[string]float64 `json:"offsets,omitempty"`
	Groups     int                `json:"groups"`
	Links      []Link             `json:"links"`
	Iterations int                `json:"iterations"`
	Converged  bool               `json:"converged"`
}

// Done is how far a comparison is, 0 to 1, by its first change and its last: they
// shrink by about the same factor with every iteration.
func Done(first, change float64) float64 {
	if change <= closeEnough || first <= closeEnough {
		return 1
	}
	return min(1, max(0, math.Log(first/change)/math.Log(first/closeEnough)))
}

// Fit compares grades. It hears of each iteration and stops when the context
// ends. The order of the grades does not matter.
func Fit(ctx context.Context, grades []Grade, progress func(iteration int, change float64)) (Model, error) {
	for i, g := range grades {
		if g.Level < LeastLevel || g.Level > MostLevel {
			return Model{}, fmt.Errorf("grade %d has the level %d; levels are %d to %d", i+1, g.Level, LeastLevel,
				MostLevel)
		}
	}
	f := arrange(grades)
	converged, iterations := false, 0
	for iterations < maxIterations && !converged && len(f.cells) > 0 {
		if err := ctx.Err(); err != nil {
			return Model{}, err
		}
		iterations++
		change, err := f.step()
		if err != nil {
			return Model{}, err
		}
		if progress != nil {
			progress(iterations, change)
		}
		converged = change < closeEnough
	}
	return f.model(iterations, converged || len(f.cells) == 0)
}

const (
	maxIterations = 100
	// closeEnough is the largest change of a parameter in the last iteration, in
	// logits.
	closeEnough = 2e-5
	// longest is the longest step of a parameter in one iteration, in logits.
	longest = 1.0
)

// who is a student in a stage.
type who struct{ student, stage string }

// cell is what one instructor gave one student for one item on one scale: how
// often each step.
type cell struct {
	person, item, rater, scale int
	n                          float64
	counts                     [MostLevel + 1]float64
}

// scale are the levels that were given on it, lowest first: its steps.
type scale struct {
	id     string
	levels []int
	used   float64
	at     int // of its first threshold among the parameters
}

// fit is a comparison under way.
type fit struct {
	persons []who
	items   []string
	raters  []string
	scales  []scale
	cells   []cell // by person
	starts  []int  // of each person's cells, and the end

	ability []float64
	// rest are the other parameters: items, instructors, scales' offsets, thresholds.
	rest []float64
	// means are sets of parameters whose mean is zero.
	means [][]int
	group []int // of each instructor
	// groupOf is the group of each person.
	groupOf []int
	groups  int
	// variance is what items and instructors had in the last pass, for the bias
	// correction of the next.
	variance []float64
	// passes were made, last was the largest change of the last one, and pace is how
	// much of a step is made.
	passes     int
	last, pace float64
}

func (f *fit) raterAt(j int) int  { return len(f.items) + j }
func (f *fit) offsetAt(s int) int { return len(f.items) + len(f.raters) + s }

// arrange puts the grades in order, with every parameter at zero.
func arrange(grades []Grade) *fit {
	f := &fit{pace: 1, last: math.Inf(1)}
	persons, items, raters, scales := map[who]int{}, map[string]int{}, map[string]int{}, map[string]int{}
	levels := map[string]map[int]float64{}
	for _, g := range grades {
		persons[who{g.Student, g.Stage}], items[g.Item], raters[g.Instructor], scales[g.Scale] = 0, 0, 0, 0
		if levels[g.Scale] == nil {
			levels[g.Scale] = map[int]float64{}
		}
		levels[g.Scale][g.Level]++
	}
	f.persons = ordered(persons, func(a, b who) int {
		return cmp.Or(cmp.Compare(a.student, b.student), cmp.Compare(a.stage, b.stage))
	})
	f.items, f.raters = ordered(items, cmp.Compare), ordered(raters, cmp.Compare)
	next := len(f.items) + len(f.raters) + len(scales)
	for _, id := range ordered(scales, cmp.Compare) {
		s := scale{id: id, at: next}
		for level := LeastLevel; level <= MostLevel; level++ {
			if n := levels[id][level]; n > 0 {
				s.levels, s.used = append(s.levels, level), s.used+n
			}
		}
		f.scales = append(f.scales, s)
		next += len(s.levels) - 1
	}
	f.ability, f.rest = make([]float64, len(f.persons)), make([]float64, next)
	type key struct{ person, item, rater, scale int }
	cells := map[key]*cell{}
	for _, g := range grades {
		k := key{persons[who{g.Student, g.Stage}], items[g.Item], raters[g.Instructor], scales[g.Scale]}
		c := cells[k]
		if c == nil {
			c = &cell{person: k.person, item: k.item, rater: k.rater, scale: k.scale}
			cells[k] = c
		}
		c.n++
		c.counts[slices.Index(f.scales[k.scale].levels, g.Level)]++
	}
	f.cells = make([]cell, 0, len(cells))
	for _, c := range cells {
		f.cells = append(f.cells, *c)
	}
	slices.SortFunc(f.cells, func(a, b cell) int {
		return cmp.Or(a.person-b.person, a.item-b.item, a.rater-b.rater, a.scale-b.scale)
	})
	f.starts = make([]int, len(f.persons)+1)
	for at, c := range f.cells {
		f.starts[c.person+1] = at + 1
	}
	f.link()
	return f
}

// ordered gives the keys their order, and each its place in the map.
func ordered[K comparable](places map[K]int, compare func(a, b K) int) []K {
	out := make([]K, 0, len(places))
	for k := range places {
		out = append(out, k)
	}
	slices.SortFunc(out, compare)
	for i, k := range out {
		places[k] = i
	}
	return out
}

// model is the comparison as it is told.
func (f *fit) model(iterations int, converged bool) (Model, error) {
	m := Model{Students: []Student{}, Items: []Item{}, Instructors: []Instructor{}, Thresholds: map[string][]float64{},
		Links:  f.links(),
		Groups: f.groups, Iterations: iterations, Converged: converged}
	if len(f.cells) == 0 {
		return m, nil
	}
	errors, err := f.standardErrors()
	if err != nil {
		return m, err
	}
	items, raters := f.fits()
	for p, who := range f.persons {
		n, extreme := f.extent(p)
		m.Students = append(m.Students, Student{
			who.student, who.stage, rounded(f.ability[p]), rounded(errors.persons[p]), n, extreme,
		})
	}
	for i, id := range f.items {
		m.Items = append(m.Items, Item{
			id, rounded(f.rest[i]), rounded(errors.rest[i]), rounded(items[i].infit()), rounded(items[i].outfit()),
		})
	}
	for j, id := range f.raters {
		at := f.raterAt(j)
		m.Instructors = append(m.Instructors, Instructor{
			id, rounded(f.rest[at]), rounded(errors.rest[at]), rounded(raters[j].infit()), rounded(raters[j].outfit()),
			f.group[j],
		})
	}
	for s, scale := range f.scales {
		thresholds := []float64{}
		for k := range len(scale.levels) - 1 {
			thresholds = append(thresholds, rounded(f.rest[scale.at+k]))
		}
		m.Thresholds[scale.id] = thresholds
		if offset := rounded(f.rest[f.offsetAt(s)]); offset != 0 {
			if m.Offsets == nil {
				m.Offsets = map[string]float64{}
			}
			m.Offsets[scale.id] = offset
		}
	}
	return m, nil
}

// extent is how many grades a person had, and whether all lay at the same end.
func (f *fit) extent(p int) (n int, extreme bool) {
	low, high := true, true
	for _, c := range f.cells[f.starts[p]:f.starts[p+1]] {
		n += int(c.n)
		top := len(f.scales[c.scale].levels) - 1
		low = low && c.counts[0] == c.n
		high = high && c.counts[top] == c.n
	}
	return n, low || high
}

// rounded is a number to three decimals, and no negative zero.
func rounded(v float64) float64 {
	if math.IsNaN(v) || math.IsInf(v, 0) {
		return 0
	}
	return math.Round(v*1000)/1000 + 0
}
