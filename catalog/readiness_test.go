package catalog_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/progress"
	"jetprimer/core/standard"
)

// trainee works whole lists of one aircraft, lesson by lesson.
type trainee struct {
	*testing.T
	catalog   *catalog.Catalog
	book      lesson.Book
	packs     []standard.Pack
	reach     map[string]bool
	random    *rand.Rand
	right     float64 // share of items done right
	seen      map[string][]progress.Observation
	checks    []progress.StageCheck
	lessons   int
	met       bool // every element is to standard
	questions []catalog.Question
}

// begin is a student of an aircraft with that of its type's optional equipment.
func begin(t *testing.T, c *catalog.Catalog, typ aircraft.Type, equipment []string, right float64,
	seed uint64) *trainee {
	list, ok := c.ListFor(typ.ID)
	require.True(t, ok)
	of := checklist.Aircraft{Equipment: equipment}
	oat, spread, wind, no := 12.0, 4.0, 8.0, false
	dew := oat - spread
	flown, err := checklist.Tailor(list, nil, typ, of, checklist.Day{
		OATC: &oat, DewPointC: &dew, WindKt: &wind, Night: &no, FirstFlight: &no, Rules: "VFR", EngineState: "cold",
		Exercises: []string{"circuits"},
	})
	require.NoError(t, err)
	reach, err := progress.Reach(list, typ, of, checklist.ExerciseIDs(), c.Asked(typ.ID))
	require.NoError(t, err)
	return &trainee{T: t, catalog: c, book: lesson.Book{Type: typ, List: flown.List},
		packs: progress.HeldTo(c.Policy.Standards, c.Packs, typ.Class), reach: reach,
		random: rand.New(rand.NewPCG(seed, 1)), right: right, seen: map[string][]progress.Observation{},
		questions: c.QuestionsFor(typ.ID)}
}

// level is how one item goes.
func (s *trainee) level() int {
	switch x := s.random.Float64(); {
	case x < s.right:
		return 4
	case x < s.right+(1-s.right)*0.85:
		return 2
	}
	return 1
}

// fly is one whole list, every item touched and of each thing to know two
// questions asked: with the recommending instructor and, in turn or when all is
// to standard, with another, as a stage check until one is passed.
func (s *trainee) fly() {
	s.lessons++
	opened := &lesson.Opened{Purpose: "training", Instructor: "A", Aircraft: "QZ"}
	if s.lessons%2 == 0 || s.met {
		opened.Instructor = "B"
	}
	passed := len(s.checks) > 0 && s.checks[len(s.checks)-1].Passed
	if opened.Instructor == "B" && !passed {
		opened.Purpose = "stage-check"
	}
	state := lesson.State{Opened: opened}
	for _, p := range s.book.List.Places() {
		level := s.level()
		state.Items = append(state.Items, lesson.ItemState{ID: p.Item.ID, Level: &level})
	}
	asked := map[string]int{}
	for i := range s.questions {
		q := s.questions[(i+7*s.lessons)%len(s.questions)]
		if slices.ContainsFunc(q.Elements, func(e string) bool { return asked[e] < 2 }) {
			state.Orals = append(state.Orals, lesson.Oral{Bank: q.ID, Elements: q.Elements, Level: s.level()})
			for _, e := range q.Elements {
				asked[e]++
			}
		}
	}
	id := fmt.Sprint(s.lessons)
	for _, o := range progress.FromLesson(id, s.day(), state, s.book) {
		s.seen[o.Element] = append(s.seen[o.Element], o)
	}
	if c, ok := s.catalog.Policy.StageCheckOf(id, s.day(), state, s.book, s.packs); ok {
		s.checks = append(s.checks, c)
	}
}

func (s *trainee) day() string {
	return time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC).AddDate(0, 0, 3*s.lessons).Format(time.DateOnly)
}

func (s *trainee) ready() progress.Readiness {
	c := progress.Case{
		AsOf: s.day(), Class: s.book.Type.Class, Packs: s.packs, Facts: map[string]progress.Facts{}, Reach: s.reach,
		StageChecks: s.checks, Recommending: "A", List: s.book.List,
	}
	for element, seen := range s.seen {
		c.Facts[element] = s.catalog.Policy.Derive(element, seen)
	}
	r, _ := s.catalog.Policy.Glance(c)
	s.met = r.Met == r.Required
	return r
}

// TestAPerfectStudentBecomesReady on every type, with every combination of its
// optional equipment.
func TestAPerfectStudentBecomesReady(t *testing.T) {
	c := catalogOf(t)
	for _, typ := range c.Types {
		var optional []string
		for _, e := range typ.Equipment {
			if e.Optional {
				optional = append(optional, e.ID)
			}
		}
		for set := range 1 << len(optional) {
			var fitted []string
			for i, e := range optional {
				if set>>i&1 == 1 {
					fitted = append(fitted, e)
				}
			}
			s := begin(t, c, typ, fitted, 1, 1)
			for range 6 {
				s.fly()
			}
			if r := s.ready(); !r.Ready {
				c := progress.Case{
					AsOf: s.day(), Class: typ.Class, Packs: s.packs, Facts: map[string]progress.Facts{}, Reach: s.reach,
					StageChecks: s.checks, Recommending: "A",
				}
				for e, seen := range s.seen {
					c.Facts[e] = s.catalog.Policy.Derive(e, seen)
				}
				var missing []string
				for _, m := range s.catalog.Policy.Ready(c).Missing {
					missing = append(missing, m.Element)
				}
				assert.Fail(t, "not ready", "%s with %v: %v %v", typ.ID, fitted, missing, r.Blocks)
			}
		}
	}
}

// TestThePolicyIsFair: who does nearly everything right is ready within twelve
// lessons and stays so; who does three of four right never is.
func TestThePolicyIsFair(t *testing.T) {
	c := catalogOf(t)
	for _, typ := range c.Types {
		if typ.Version < newest(c, typ.ID) {
			continue
		}
		t.Run(typ.ID, func(t *testing.T) {
			t.Parallel()
			first := begin(t, c, typ, nil, 1, 0)
			at := func(right float64, lessons, runs int) (within, after float64) {
				reached, ready, followed := 0, 0, 0
				for run := range runs {
					s := *first
					s.right, s.random, s.seen = right, rand.New(rand.NewPCG(uint64(run),
						1)), map[string][]progress.Observation{}
					was := false
					for n := 1; n <= lessons; n++ {
						s.fly()
						now := s.ready().Ready
						if was {
							followed++
							if now {
								ready++
							}
						}
						if now && !was {
							was = true
							if n <= 12 {
								reached++
							}
						}
					}
				}
				return float64(reached) / float64(runs), float64(ready) / float64(max(followed, 1))
			}
			within, after := at(0.97, 20, 40)
			t.Logf("97 %%: %.2f ready within 12 lessons, and then after %.2f of lessons", within, after)
			assert.GreaterOrEqual(t, within, 0.90)
			assert.GreaterOrEqual(t, after, 0.70)
			within, _ = at(0.95, 12, 40)
			t.Logf("95 %%: %.2f", within)
			assert.GreaterOrEqual(t, within, 0.60)
			within, _ = at(0.75, 12, 10)
			assert.Less(t, within, 0.01, "at 75 %%")
		})
	}
}

// catalogOf is what ships.
func catalogOf(t *testing.T) *catalog.Catalog {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	return c
}

func newest(c *catalog.Catalog, id string) int {
	t, _ := c.Type(id)
	return t.Version
}
