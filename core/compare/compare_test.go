package compare_test

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/stat"
	"pgregory.net/rapid"

	"jetprimer/core/compare"
)

// school is a simulated one whose truth is known.
type school struct {
	random                        *rand.Rand
	ability, difficulty, severity []float64
	thresholds                    []float64
	grades                        []compare.Grade
}

func simulated(seed uint64, students, items, instructors int) *school {
	s := &school{random: rand.New(rand.NewPCG(seed, 7)), thresholds: []float64{-2, -0.7, 0.6, 2.1}}
	draw := func(n int, spread, centred float64) []float64 {
		out := make([]float64, n)
		for i := range out {
			out[i] = s.random.NormFloat64() * spread
		}
		mean := stat.Mean(out, nil) * centred
		for i := range out {
			out[i] -= mean
		}
		return out
	}
	s.ability, s.difficulty, s.severity = draw(students, 1.2, 0), draw(items, 0.8, 1), draw(instructors, 0.6, 1)
	return s
}

// level is a grade as the model gives it.
func (s *school) level(eta float64) int {
	weights, sum, log := make([]float64, len(s.thresholds)+1), 0.0, 0.0
	for k := range weights {
		if k > 0 {
			log += eta - s.thresholds[k-1]
		}
		weights[k] = math.Exp(log)
		sum += weights[k]
	}
	at := s.random.Float64() * sum
	for k, w := range weights {
		if at -= w; at < 0 {
			return k
		}
	}
	return len(weights) - 1
}

func (s *school) grade(student, item, instructor int) *compare.Grade {
	s.grades = append(s.grades,
		compare.Grade{Student: fmt.Sprintf("s%03d", student), Item: fmt.Sprintf("i%03d", item),
			Instructor: fmt.Sprintf("t%02d", instructor),
			Level:      s.level(s.ability[student] - s.difficulty[item] - s.severity[instructor])})
	return &s.grades[len(s.grades)-1]
}

// linked has every student graded once on every item, each item by another
// instructor.
func linked(seed uint64) *school {
	s := simulated(seed, 200, 30, 8)
	for student := range s.ability {
		for item := range s.difficulty {
			s.grade(student, item, (student+item)%8)
		}
	}
	return s
}

func fit(t require.TestingT, grades []compare.Grade) compare.Model {
	m, err := compare.Fit(context.Background(), grades, nil)
	require.NoError(t, err)
	require.True(t, m.Converged)
	return m
}

func abilities(m compare.Model) (of, errors []float64) {
	for _, s := range m.Students {
		of, errors = append(of, s.Ability), append(errors, s.SE)
	}
	return of, errors
}

func severities(m compare.Model) (of, errors []float64) {
	for _, i := range m.Instructors {
		of, errors = append(of, i.Severity), append(errors, i.SE)
	}
	return of, errors
}

// recovered holds estimates to the truth: their correlation, the slope of the
// estimates on the truth, and their error by the mean standard error.
func recovered(t *testing.T, what string, truth, estimate, errors []float64, slack float64) {
	square := 0.0
	for i := range truth {
		square += (truth[i] - estimate[i]) * (truth[i] - estimate[i]) / float64(len(truth))
	}
	_, slope := stat.LinearRegression(truth, estimate, nil, false)
	assert.GreaterOrEqual(t, stat.Correlation(truth, estimate, nil), 0.95, what)
	assert.InDelta(t, 1, slope, 0.05*slack, what)
	assert.LessOrEqual(t, math.Sqrt(square), 1.2*slack*stat.Mean(errors, nil), what)
}

// TestSimulatedParametersAreRecovered: of 200 students, 30 items and 8 linked
// instructors, with standard errors that are true; nothing scatters more or less
// than it should, and the thresholds are those that the grades were drawn with.
func TestSimulatedParametersAreRecovered(t *testing.T) {
	for seed := range uint64(4) {
		s := linked(seed)
		m := fit(t, s.grades)
		assert.Equal(t, 1, m.Groups)
		assert.Empty(t, m.Links)
		estimate, errors := abilities(m)
		recovered(t, "abilities", s.ability, estimate, errors, 1)
		estimate, errors = severities(m)
		recovered(t, "severities", s.severity, estimate, errors, 1.5) // eight numbers
		assert.InDelta(t, 0, stat.Mean(estimate, nil), 1e-3)
		estimate, errors = nil, nil
		for _, i := range m.Items {
			estimate, errors = append(estimate, i.Difficulty), append(errors, i.SE)
			assert.InDelta(t, 1, i.Infit, 0.35, i.ID)
			assert.InDelta(t, 1, i.Outfit, 0.5, i.ID)
		}
		recovered(t, "difficulties", s.difficulty, estimate, errors, 1.2)
		for k, threshold := range m.Thresholds[""] {
			assert.InDelta(t, s.thresholds[k], threshold, 0.2)
		}
	}
}

// TestGroupsThatNothingLinks: are found, are not compared, and the co-grading that
// would link them is named; with it they are one.
func TestGroupsThatNothingLinks(t *testing.T) {
	s := simulated(3, 60, 20, 6)
	for student := range s.ability {
		for item := range s.difficulty {
			switch {
			case student < 40:
				s.grade(student, item, (student+item)%3)
			case student < 59:
				s.grade(student, item, 3+(student+item)%2)
			default:
				s.grade(student, item, 5)
			}
		}
	}
	m := fit(t, s.grades)
	assert.Equal(t, 3, m.Groups)
	mean := map[int]float64{}
	for _, i := range m.Instructors {
		mean[i.Group] += i.Severity
	}
	for group, sum := range mean {
		assert.InDelta(t, 0, sum, 2e-3, group)
	}
	assert.Equal(t, 3, m.Instructors[5].Group)
	assert.Zero(t, m.Instructors[5].SE, "alone, it is not estimated")
	require.Len(t, m.Links, 2)
	assert.Equal(t, compare.Link{Instructor: "t05", With: m.Links[0].With, Student: "s059"}, m.Links[1])
	for _, link := range m.Links {
		grade := compare.Grade{Student: link.Student, Item: "i000", Instructor: link.With, Level: 3}
		s.grades = append(s.grades, grade)
	}
	assert.Equal(t, 1, fit(t, s.grades).Groups)

	// A student who was graded by both, but in different stages, links nothing.
	s = simulated(4, 2, 10, 2)
	for item := range s.difficulty {
		s.grade(0, item, 0).Stage = "solo"
		s.grade(0, item, 1).Stage = "checkride"
		s.grade(1, item, 0).Stage = "solo"
	}
	m = fit(t, s.grades)
	assert.Equal(t, 2, m.Groups)
	assert.Equal(t, []string{"checkride", "solo", "solo"},
		[]string{m.Students[0].Stage, m.Students[1].Stage, m.Students[2].Stage})
}

// TestMixedScales: a coarse scale has thresholds of its own and is no stricter for
// it; severities are found as if all had graded on one.
func TestMixedScales(t *testing.T) {
	s := simulated(5, 200, 30, 8)
	for student := range s.ability {
		for item := range s.difficulty {
			g := s.grade(student, item, (student+item)%8)
			if g.Scale = "independence"; (student/2+item)%3 == 0 {
				chance := 1 / (1 + math.Exp(0.6-s.ability[student]+s.difficulty[item]+s.severity[(student+item)%8]))
				g.Scale, g.Level = "satisfactory", map[bool]int{true: 3, false: 1}[s.random.Float64() < chance]
			}
		}
	}
	m := fit(t, s.grades)
	assert.Len(t, m.Thresholds["independence"], 4)
	assert.Equal(t, []float64{0}, m.Thresholds["satisfactory"])
	assert.InDelta(t, 0.6, m.Offsets["satisfactory"], 0.2)
	estimate, errors := severities(m)
	recovered(t, "severities", s.severity, estimate, errors, 1.5)
	estimate, errors = abilities(m)
	recovered(t, "abilities", s.ability, estimate, errors, 1)
}

// TestExtremeScores: whoever had the highest grade each time is flagged, above all
// others, and bounded on one side only.
func TestExtremeScores(t *testing.T) {
	s := linked(6)
	for i := range s.grades {
		switch s.grades[i].Student {
		case "s000":
			s.grades[i].Level = 4
		case "s001":
			s.grades[i].Level = 0
		}
	}
	m := fit(t, s.grades)
	for i, student := range m.Students {
		assert.Equal(t, i < 2, student.Extreme, student.ID)
		assert.Equal(t, 30, student.N)
		if i > 1 {
			assert.Greater(t, m.Students[0].Ability, student.Ability)
			assert.Less(t, m.Students[1].Ability, student.Ability)
			assert.Less(t, student.SE, m.Students[0].SE)
		}
	}
}

// TestAnyGradesComeToNumbers: whatever was graded, in whatever order: an answer
// that is finite, the same for the same grades, with the means that are zero.
func TestAnyGradesComeToNumbers(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		name := func(prefix string, most int) string {
			return fmt.Sprint(prefix, rapid.IntRange(0, most).Draw(t, prefix))
		}
		var grades []compare.Grade
		for range rapid.IntRange(0, 60).Draw(t, "grades") {
			grades = append(grades, compare.Grade{
				Student: name("s", 5), Stage: name("stage", 1), Item: name("i", 4), Instructor: name("t", 3),
				Scale: name("scale", 1), Level: rapid.IntRange(0, 4).Draw(t, "level"),
			})
		}
		m, err := compare.Fit(context.Background(), grades, nil)
		require.NoError(t, err)
		for _, of := range [][]float64{first(abilities(m)), first(severities(m))} {
			for _, v := range of {
				assert.Less(t, math.Abs(v), 50.0)
			}
		}
		again, err := compare.Fit(context.Background(), rapid.Permutation(grades).Draw(t, "order"), nil)
		require.NoError(t, err)
		assert.Equal(t, m, again)
	})
}

func first[A, B any](a A, _ B) A { return a }

// TestAComparisonStops: when nobody waits for it any more; a level that is none is
// refused.
func TestAComparisonStops(t *testing.T) {
	s := linked(7)
	ctx, cancel := context.WithCancel(context.Background())
	heard := 0
	_, err := compare.Fit(ctx, s.grades, func(int, float64) { heard++; cancel() })
	assert.True(t, errors.Is(err, context.Canceled))
	assert.Equal(t, 1, heard)
	s.grades[7].Level = 5
	_, err = compare.Fit(context.Background(), s.grades, nil)
	assert.EqualError(t, err, "grade 8 has the level 5; levels are 0 to 4")
}

// BenchmarkFit compares half a million grades.
func BenchmarkFit(b *testing.B) {
	s := simulated(1, 500, 120, 25)
	for range 500_000 {
		s.grade(s.random.IntN(500), s.random.IntN(120), s.random.IntN(25))
	}
	for b.Loop() {
		b.ReportMetric(float64(fit(b, s.grades).Iterations), "iterations")
	}
}
