package compare

import (
	"cmp"
	"maps"
	"slices"
)

// sets are disjoint sets of numbers.
type sets []int

func newSets(n int) sets {
	s := make(sets, n)
	for i := range s {
		s[i] = i
	}
	return s
}

func (s sets) of(i int) int {
	for s[i] != i {
		s[i] = s[s[i]]
		i = s[i]
	}
	return i
}

func (s sets) join(a, b int) { s[s.of(a)] = s.of(b) }

// link finds what shared gradings link: students and instructors, whose
// severities have a mean of zero in each group; students and items; and the
// thresholds of each scale.
func (f *fit) link() {
	graded, worked := newSets(len(f.persons)+len(f.raters)), newSets(len(f.persons)+len(f.items))
	size := make([]float64, len(f.raters))
	for _, c := range f.cells {
		graded.join(c.person, len(f.persons)+c.rater)
		worked.join(c.person, len(f.persons)+c.item)
		size[c.rater] += c.n
	}
	// Groups are numbered by how much was graded in them, the largest first.
	weight, first := map[int]float64{}, map[int]int{}
	for j := range f.raters {
		root := graded.of(len(f.persons) + j)
		if _, seen := first[root]; !seen {
			first[root] = j
		}
		weight[root] += size[j]
	}
	roots := ordered(first, func(a, b int) int { return cmp.Or(cmp.Compare(weight[b], weight[a]), first[a]-first[b]) })
	number := map[int]int{}
	for n, root := range roots {
		number[root] = n
	}
	f.groups = len(roots)
	f.group, f.groupOf = make([]int, len(f.raters)), make([]int, len(f.persons))
	severities, difficulties := make([][]int, len(roots)), map[int][]int{}
	for j := range f.raters {
		n := number[graded.of(len(f.persons)+j)]
		f.group[j] = n + 1
		severities[n] = append(severities[n], f.raterAt(j))
	}
	for p := range f.persons {
		f.groupOf[p] = number[graded.of(p)] + 1
	}
	for i := range f.items {
		root := worked.of(len(f.persons) + i)
		difficulties[root] = append(difficulties[root], i)
	}
	f.means = severities
	for _, root := range slices.Sorted(maps.Keys(difficulties)) {
		f.means = append(f.means, difficulties[root])
	}
	most := 0
	for s, scale := range f.scales {
		if scale.used > f.scales[most].used {
			most = s
		}
		var thresholds []int
		for k := range len(scale.levels) - 1 {
			thresholds = append(thresholds, scale.at+k)
		}
		f.means = append(f.means, thresholds)
	}
	if len(f.scales) > 0 {
		f.means = append(f.means, []int{f.offsetAt(most)})
	}
}

// links proposes for each group but the largest the co-grading that would link
// it: of the two instructors who graded most in either, the student of the
// smaller group who was graded most.
func (f *fit) links() []Link {
	out := []Link{}
	if f.groups < 2 {
		return out
	}
	raters, persons := make([]float64, len(f.raters)), make([]float64, len(f.persons))
	for _, c := range f.cells {
		raters[c.rater] += c.n
		persons[c.person] += c.n
	}
	best := func(of []int, group int, most []float64) int {
		at := -1
		for i, g := range of {
			if g == group && (at < 0 || most[i] > most[at]) {
				at = i
			}
		}
		return at
	}
	with := f.raters[best(f.group, 1, raters)]
	for g := 2; g <= f.groups; g++ {
		out = append(out, Link{
			Instructor: f.raters[best(f.group, g, raters)], With: with,
			Student: f.persons[best(f.groupOf, g, persons)].student,
		})
	}
	return out
}
