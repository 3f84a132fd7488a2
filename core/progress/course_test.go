package progress_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/progress"
	"jetprimer/core/standard"
)

// course is a way with so many elements met after each lesson, a week apart, and no
// stage check left to pass.
func course(met ...int) progress.Course {
	out := progress.Course{}
	for i, m := range met {
		out = append(out, progress.Point{Lesson: fmt.Sprint(i), Date: day(7 * i), Met: m})
	}
	return out
}

func day(n int) string {
	return time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC).AddDate(0, 0, n).Format(time.DateOnly)
}

func courses(n int, of progress.Course) []progress.Course {
	out := make([]progress.Course, n)
	for i := range out {
		out[i] = of
	}
	return out
}

// TestACourseIsTheStandingAfterEachLesson: whatever was observed, the point after a
// lesson is how many elements stood to standard that day, as worked out from the
// lessons up to it alone.
func TestACourseIsTheStandingAfterEachLesson(t *testing.T) {
	p := policy()
	rapid.Check(t, func(t *rapid.T) {
		elements := []string{"a", "b", "c"}
		pack := standard.Pack{
			Tasks: []standard.Task{
				{Elements: []standard.Element{{ID: "a"}, {ID: "b"}, {ID: "c", Classes: []string{"twin"}}}},
			},
		}
		observations := map[string][]progress.Observation{}
		var lessons []progress.Seen
		var checks []progress.StageCheck
		on := 0
		for n := range rapid.IntRange(1, 14).Draw(t, "lessons") {
			on += rapid.SampledFrom([]int{0, 1, 7, 40, 70}).Draw(t, "later")
			l := progress.Seen{Lesson: fmt.Sprint(n), Date: day(on)}
			lessons = append(lessons, l)
			for _, e := range elements {
				if level := rapid.SampledFrom([]int{-1, 2, 3, 4, 4, 4, 4}).Draw(t, "level"); level >= 0 {
					observations[e] = append(observations[e], progress.Observation{
						Element: e, Lesson: l.Lesson, Level: level, Date: l.Date, Instructor: "A",
					})
				}
			}
			if rapid.IntRange(0, 4).Draw(t, "check") == 0 {
				checks = append(checks, progress.StageCheck{
					Lesson: l.Lesson, Date: l.Date, Stage: "checks", Class: "single", Instructor: "B",
					Passed: rapid.Bool().Draw(t, "passed"),
				})
			}
		}
		facts := func(until int) map[string]progress.Facts {
			out := map[string]progress.Facts{}
			for e, all := range observations {
				var some []progress.Observation
				for _, o := range all {
					if n := 0; o.Lesson != "" {
						_, _ = fmt.Sscan(o.Lesson, &n)
						if n <= until {
							some = append(some, o)
						}
					}
				}
				if len(some) > 0 {
					out[e] = p.Derive(e, some)
				}
			}
			return out
		}
		c := progress.Case{
			Class: "single", Packs: []standard.Pack{pack}, StageChecks: checks, Recommending: "A",
			Facts: facts(len(lessons)),
		}
		got := p.Course(c, []string{"a", "b"}, lessons)
		require.Len(t, got, len(lessons))
		for n, point := range got {
			then := c
			then.AsOf, then.Facts = lessons[n].Date, facts(n)
			r, _ := p.Glance(then)
			assert.Equal(t, r.Met, point.Met, "after lesson %d", n)
			assert.Equal(t, len(r.Blocks), point.Checks, "after lesson %d", n)
		}
	})
}

func TestWhoIsStuck(t *testing.T) {
	going := course(0, 0, 0, 4, 8, 12, 16, 20, 24, 30)
	for name, c := range map[string]struct {
		of     progress.Course
		others []progress.Course
		want   string
	}{
		"no gain where the others gained": {
			course(0, 0, 0, 4, 8, 8, 8, 7, 8, 8), courses(6, going),
			"No element more to standard in the last 5 lessons; of 6 others from there, half gained 22 or more.",
		},
		"the last element, at which others came two at once": {
			course(0, 0, 0, 8, 20, 29, 29, 29, 29, 29, 29),
			courses(6, course(0, 0, 0, 8, 20, 28, 30, 30, 30, 30, 30, 30)),
			"No element more to standard in the last 5 lessons; of 6 others from there, half gained 1 or more.",
		},
		"what slipped came back, and nothing else": {
			course(0, 0, 0, 8, 20, 29, 28, 29, 29, 29, 29),
			courses(6, course(0, 0, 0, 8, 20, 29, 30, 30, 30, 30, 30, 30)),
			"No element more to standard in the last 5 lessons; of 6 others from there, half gained 1 or more.",
		},
		"what had lapsed comes back":  {course(0, 0, 0, 20, 28, 2, 2, 9, 15, 20, 24), courses(6, going), ""},
		"a gain":                      {course(0, 0, 0, 4, 8, 8, 8, 7, 8, 9), courses(6, going), ""},
		"few lessons yet":             {course(0, 0, 0, 0), courses(6, going), ""},
		"a beginner like every other": {course(0, 0, 0, 0, 0), courses(6, course(0, 0, 0, 0, 0, 4, 9)), ""},
		"a beginner in a new school":  {course(0, 0, 0, 0, 0, 0), nil, ""},
		"nothing is missing":          {course(0, 0, 30, 30, 30, 30, 30, 30), courses(6, going), ""},
		"nobody to compare with": {
			course(0, 0, 0, 4, 8, 8, 8, 8, 8, 8), courses(4, going),
			"No element more to standard in the last 5 lessons; too few others were where they were to say what is usual.",
		},
		"the others did not go on from there": {
			course(0, 0, 0, 4, 8, 8, 8, 8, 8, 8), courses(9, course(0, 0, 0, 4, 8)),
			"No element more to standard in the last 5 lessons; too few others were where they were to say what is usual.",
		},
	} {
		assert.Equal(t, c.want, c.of.Stuck(30, c.others), name)
	}
}

func TestAForecast(t *testing.T) {
	var others []progress.Course
	for slow := range 10 {
		c := course(0, 0, 0, 10, 20)
		for range slow {
			c = append(c, progress.Point{Date: day(7 * len(c)), Met: 20})
		}
		c = append(c, progress.Point{Date: day(7 * len(c)), Met: 30})
		others = append(others, c)
	}
	f := course(0, 0, 10).Forecast(30, others, day(7*40))
	assert.Equal(t, 10, f.Others)
	assert.Equal(t, 10, f.Ready)
	require.NotNil(t, f.Lessons)
	assert.Equal(t, 3, f.Lessons.Low, "from ten elements on the quickest took two lessons, the next one three")
	assert.Equal(t, 6, f.Lessons.Middle)
	assert.Equal(t, 11, *f.Lessons.High)
	assert.Equal(t, 42, f.Days.Middle)
	assert.Equal(t,
		[]string{"6 more lessons; for eight of ten 3 to 11.",
			"About 12 February 2026; for eight of ten 22 January 2026 to 19 March 2026.",
			"From 10 others who once stood here, of whom 10 became ready.", "Too few forecasts came due in the last " +
				"year to say how well they hold."}, f.Words(day(0)))
	assert.Zero(t, f.Past.Made, "they all learnt at once: nobody could have been told from others")

	t.Run("on a past day what came later is not known", func(t *testing.T) {
		f := course(0, 0, 10).Forecast(30, others, day(35))
		assert.Equal(t, 1, f.Ready, "of ten only the quickest was ready by then")
		assert.Nil(t, f.Lessons)
	})
	t.Run("who has stood there for long has less quick ones to be compared with", func(t *testing.T) {
		f := course(0, 0, 20, 20, 20, 20).Forecast(30, append(others, others...), day(7*40))
		assert.Equal(t, 14, f.Others, "six of twenty were ready by then")
	})
	t.Run("never from fewer than it says", func(t *testing.T) {
		f := course(0, 0, 10).Forecast(30, others[:progress.ForecastFrom-1], day(7*40))
		assert.Nil(t, f.Lessons)
		assert.Nil(t, f.Days)
		assert.Equal(t, progress.ForecastFrom-1, f.Ready)
		assert.Equal(t, []string{
			"No forecast: 7 who trained for the same became ready from where they stand now, and it takes 8.",
		}, f.Words(day(0)))
	})
	t.Run("who is still on the way counts as long as they were seen", func(t *testing.T) {
		on := append(others, courses(12, course(0, 0, 0, 10, 20, 20, 20, 20, 20, 20, 20, 20, 20, 20, 20, 20, 20))...)
		f := course(0, 0, 10).Forecast(30, on, day(7*40))
		assert.Equal(t, 22, f.Others)
		assert.Nil(t, f.Lessons, "fewer than half are known to become ready")
	})
	t.Run("how those of the last year turned out is said", func(t *testing.T) {
		after := slices.Clone(others)
		for range 10 {
			late := course(0, 0, 10, 20, 30)
			for n := range late {
				late[n].Date = day(7*n + 100)
			}
			after = append(after, late)
		}
		f := course(0, 0, 10).Forecast(30, after, day(200))
		assert.Equal(t, progress.Kept{Made: 10, Held: 0}, f.Past,
			"all ten were quicker than eight of the ten before them")
		assert.Contains(t, f.Words(day(200)), "Of 10 such forecasts in the last year 0 held; eight of ten should.")
		assert.Equal(t, 0, course(0, 0, 10).Forecast(30, after, day(900)).Past.Made,
			"older ones are not of the last year")
	})
	t.Run("a stage check that is not passed is in the way", func(t *testing.T) {
		waiting := others[0]
		waiting = append(progress.Course{}, waiting...)
		for i := range waiting {
			waiting[i].Checks = 1
		}
		assert.Zero(t, course(0).Forecast(30, courses(9, waiting), day(0)).Ready)
	})
}

// TestForecastsHold: in a simulated school, whose students learn at their own pace,
// the intervals hold what came of about eight of ten.
func TestForecastsHold(t *testing.T) {
	r := rand.New(rand.NewPCG(12, 3))
	p := policy()
	p.Stages = nil
	const elements = 20
	var asked []string
	for e := range elements {
		asked = append(asked, fmt.Sprint(e))
	}
	learn := func() progress.Course {
		skill, gain, on := 0.4+0.5*r.NormFloat64(), 0.16*math.Exp(0.5*r.NormFloat64()), 0
		observations := map[string][]progress.Observation{}
		var lessons []progress.Seen
		for n := range 40 {
			on += 2 + r.IntN(8)
			l := progress.Seen{Lesson: fmt.Sprint(n), Date: day(on)}
			lessons = append(lessons, l)
			for e := range elements {
				if r.Float64() < 0.2 {
					continue
				}
				level := 4
				if r.Float64() > 1/(1+math.Exp(-skill-gain*float64(n)+float64(e%5)/3)) {
					level = 2
				}
				id := fmt.Sprint(e)
				observations[id] = append(observations[id], progress.Observation{
					Element: id, Lesson: l.Lesson, Level: level, Date: l.Date,
				})
			}
		}
		facts := map[string]progress.Facts{}
		for e, all := range observations {
			facts[e] = p.Derive(e, all)
		}
		return p.Course(progress.Case{Facts: facts}, asked, lessons)
	}
	made, held, days := 0, 0, 0
	for range 8 {
		var school []progress.Course
		for range 60 {
			school = append(school, learn())
		}
		for range 60 {
			c := learn()
			ready := slices.IndexFunc(c, func(p progress.Point) bool { return p.Met == elements })
			if ready < 0 {
				continue
			}
			at := 1 + r.IntN(ready)
			f := c[:at].Forecast(elements, school, day(5000))
			if f.Lessons == nil {
				continue
			}
			made++
			holds := func(s *progress.Spread, n int) int {
				if n >= s.Low && (s.High == nil || n <= *s.High) {
					return 1
				}
				return 0
			}
			then, _ := time.Parse(time.DateOnly, c[at-1].Date)
			end, _ := time.Parse(time.DateOnly, c[ready].Date)
			held += holds(f.Lessons, ready+1-at)
			days += holds(f.Days, int(end.Sub(then).Hours()/24))
		}
	}
	t.Logf("of %d forecasts %.1f %% hold in lessons, %.1f %% in days", made, 100*float64(held)/float64(made),
		100*float64(days)/float64(made))
	require.Greater(t, made, 400)
	assert.InDelta(t, 0.80, float64(held)/float64(made), 0.06)
	assert.InDelta(t, 0.80, float64(days)/float64(made), 0.06)
}
