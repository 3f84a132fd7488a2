// Package progress turns signed lessons into a student's standing against each
// element of a standard, and into readiness for the checkride. Facts carry no
// clock: what depends on today is computed as of a given day. Days are written
// 2026-11-24.
package progress

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"jetprimer/core/lesson"
)

// Observation is one item, or one oral question, seen to show one element. It
// counts only for the class, engine kind and start type of its aircraft.
type Observation struct {
	Element    string `json:"element"`
	Lesson     string `json:"lesson"`
	Item       string `json:"item"`
	Level      int    `json:"level"`
	Implied    bool   `json:"implied"`
	Oral       bool   `json:"oral"`
	Mark       string `json:"mark"`
	Aircraft   string `json:"aircraft"`
	Class      string `json:"class"`
	EngineKind string `json:"engineKind"`
	StartType  string `json:"startType"`
	Instructor string `json:"instructor"`
	Date       string `json:"date"`
	// Practice is where it was shown: in an aircraft, on the stand, in another simulator.
	Practice string `json:"practice"`
}

// FromLesson lists the observations of a folded lesson: earlier rounds first,
// then the items in the order of the list, oral questions after them. An answer
// counts for the elements that its question is about.
func FromLesson(id, date string, state lesson.State, book lesson.Book) []Observation {
	if state.Opened == nil {
		return nil
	}
	var out []Observation
	add := func(elements []string, item string, level int, implied, oral bool, mark string) {
		for _, element := range elements {
			out = append(out, Observation{
				Element: element, Lesson: id, Item: item, Level: level, Implied: implied, Oral: oral, Mark: mark,
				Aircraft: state.Opened.Aircraft, Class: book.Type.Class, EngineKind: book.Type.EngineKind,
				StartType: book.Type.StartType, Instructor: state.Opened.Instructor, Date: date,
				Practice: state.Practice,
			})
		}
	}
	elements := map[string][]string{}
	for _, p := range book.List.Places() {
		elements[p.Item.ID] = p.Item.Elements
	}
	show := func(items []lesson.ItemState) {
		for _, item := range items {
			if item.Level != nil {
				add(elements[item.ID], item.ID, *item.Level, item.Implied, false, item.Mark)
			}
		}
	}
	for _, past := range state.Rounds {
		show(past.Items)
	}
	show(state.Items)
	for _, o := range state.Orals {
		add(o.Elements, o.Item, o.Level, false, true, "oral")
	}
	return out
}

// Policy is a school's rule for standing and readiness.
type Policy struct {
	ID      string `json:"id"`
	Version int    `json:"version"`
	// AtLeast is the lesson level that is to standard, 3.
	AtLeast int `json:"atLeast"`
	// Enter is what it takes to be to standard for the first time: so many
	// lessons in a row at AtLeast, the latest touched one at Touched, and no
	// lesson at 0 among the last ClearOfZero.
	Enter Entering `json:"enter"`
	// Lose is when it is lost: Below lessons of the last Of below AtLeast. A
	// lesson at 0 loses it at once.
	Lose Losing `json:"lose"`
	// Restore is how many lessons in a row bring back what was lost, the latest
	// at Enter.Touched.
	Restore   int `json:"restore"`
	LapseDays int `json:"lapseDays"`
	// Consolidated is so many lessons at AtLeast by so many instructors since
	// the standing was reached.
	Consolidated Consolidating `json:"consolidated"`
	// Standards are the ids of the packs that students are held to, as far as
	// those cover their class.
	Standards []string `json:"standards"`
	// Stages are the stage checks to pass.
	Stages []Stage `json:"stages"`
	// CriticalLessons is how many later lessons answer a critical error.
	CriticalLessons int `json:"criticalLessons"`
	// PracticeCounts says that what is shown on the stand and in simulators counts as what
	// is shown in an aircraft.
	PracticeCounts bool `json:"practiceCounts,omitempty"`
	// Plans are the kinds of lessons that a plan is made of.
	Plans []LessonPlan `json:"lessons"`
}

// Entering is what it takes to be to standard for the first time.
type Entering struct {
	Lessons     int `json:"lessons"`
	Touched     int `json:"touched"`
	ClearOfZero int `json:"clearOfZero"`
}

// Losing is how many lessons of the last ones, below the level, lose a standing.
type Losing struct {
	Below int `json:"below"`
	Of    int `json:"of"`
}

// Consolidating is what it takes to be consolidated.
type Consolidating struct {
	Lessons     int `json:"lessons"`
	Instructors int `json:"instructors"`
}

// Stage is one stage check: the kinds of elements it asks for, and how many
// days a passed one counts.
type Stage struct {
	ID    string   `json:"id"`
	Title string   `json:"title"`
	Kinds []string `json:"kinds"`
	Days  int      `json:"days"`
}

// Until is the last day on which a check passed on a day counts.
func (s Stage) Until(day string) string { return addDays(day, s.Days) }

// LessonPlan is a kind of lesson: some phases of the list, or oral questions.
type LessonPlan struct {
	ID     string   `json:"id"`
	Title  string   `json:"title"`
	Phases []string `json:"phases,omitempty"`
	Oral   bool     `json:"oral,omitempty"`
}

// Check reports the first mistake in the policy.
func (p Policy) Check() error {
	switch {
	case p.ID == "" || p.Version < 1:
		return fmt.Errorf("policy: id and version must be given")
	case p.AtLeast < 1 || p.Enter.Lessons < 1 || p.Restore < 1 || p.LapseDays < 1 || p.CriticalLessons < 1:
		return fmt.Errorf("policy %s: atLeast, enter.lessons, restore, criticalLessons and lapseDays must be 1 or more",
			p.ID)
	case p.Lose.Below < 1 || p.Lose.Of < p.Lose.Below:
		return fmt.Errorf("policy %s: lose.below must be 1 or more, and lose.of not below it", p.ID)
	case len(p.Plans) == 0:
		return fmt.Errorf("policy %s: lessons names no kind of lesson", p.ID)
	}
	for _, s := range p.Stages {
		if s.ID == "" || s.Title == "" || len(s.Kinds) == 0 || s.Days < 1 {
			return fmt.Errorf("policy %s: a stage needs id, title, kinds and days of 1 or more", p.ID)
		}
	}
	return nil
}

// The standings of an element, from least to most; Lapsed stands apart.
const (
	NotSeen      = "not seen"
	Introduced   = "introduced"
	Practising   = "practising"
	ToStandard   = "to standard"
	Consolidated = "consolidated"
	Lapsed       = "lapsed"
	// NotRequired is for what nothing on the student's aircraft can show.
	NotRequired = "not required"
)

// Facts are what is stored of a student and an element: nothing in them
// depends on today.
type Facts struct {
	Element string `json:"element"`
	// Held is the standing right after the newest lesson.
	Held   string `json:"held"`
	Newest string `json:"newest"`
	// LapsesOn is the first day on which a standing reached has lapsed; empty
	// when none is held.
	LapsesOn string `json:"lapsesOn,omitempty"`
	Lessons  int    `json:"lessons"`
	// Slip says that the standing is held although the newest lesson fell short.
	Slip bool `json:"slip"`
	// History is what each lesson showed, oldest first.
	History []Seen `json:"history"`
	// Needs is how many further lessons, each at level 4, would bring the element to
	// standard; of one that is, how many once it has lapsed.
	Needs int `json:"-"`
}

// Seen is what one lesson showed of an element: its lesson level, and the mark
// of the observation that set it.
type Seen struct {
	Date       string `json:"date"`
	Lesson     string `json:"lesson"`
	Level      int    `json:"level"`
	Mark       string `json:"mark"`
	Implied    bool   `json:"implied"`
	Items      int    `json:"items"`
	instructor string
	// met says whether the element was to standard after the lesson.
	met bool
}

// showings are what each lesson showed, of observations that are oldest first.
func showings(observations []Observation) []Seen {
	var out []Seen
	for i := 0; i < len(observations); {
		end := i + 1
		for end < len(observations) && observations[end].Lesson == observations[i].Lesson {
			end++
		}
		out = append(out, showing(observations[i:end]))
		i = end
	}
	return out
}

// showing is what one lesson shows of an element, however many of its items
// were worked: what its touched items show together. Of items only implied it
// is an implied one.
func showing(of []Observation) Seen {
	var touched []Observation
	for _, o := range of {
		if !o.Implied {
			touched = append(touched, o)
		}
	}
	first := of[0]
	s := Seen{Date: first.Date, Lesson: first.Lesson, Items: len(of), instructor: first.Instructor}
	if len(touched) == 0 {
		s.Level, s.Mark, s.Implied = first.Level, first.Mark, true
		return s
	}
	slices.SortStableFunc(touched, func(a, b Observation) int { return cmp.Compare(a.Level, b.Level) })
	levels := make([]int, len(touched))
	for i, o := range touched {
		levels[i] = o.Level
	}
	level, by := lesson.ShownLevel(levels)
	s.Level, s.Mark = level, touched[by].Mark
	return s
}

// track is one element on its way through the lessons that showed it.
type track struct {
	Policy
	touched []Seen // the lessons in which it was touched
	newest  string // the day of the newest lesson
	// in says that it is to standard, ever that it was once.
	in, ever bool
	since    int // where among the touched the standing held now began
}

// step takes the next lesson.
func (t *track) step(s Seen) {
	if t.in && s.Date >= addDays(t.newest, t.LapseDays+1) {
		t.in = false
	}
	t.newest = s.Date
	if s.Implied {
		return
	}
	t.touched = append(t.touched, s)
	switch {
	case t.in && t.loses(t.touched):
		t.in = false
	case !t.in && t.enters(t.touched, t.ever):
		t.since = len(t.touched) - t.needed(t.ever)
		t.in, t.ever = true, true
	}
}

// mostNeeded is where counting the lessons that an element needs ends.
const mostNeeded = 12

// needs is how many further lessons, each with one touched observation at level 4,
// would bring the element to standard: now where it is not, else once it has lapsed.
// Nothing but having lapsed depends on the days on which they are flown.
func (t track) needs() int {
	t.touched, t.in = slices.Clone(t.touched), false
	for n := 1; n < mostNeeded; n++ {
		if t.step(Seen{Date: t.newest, Level: 4}); t.in {
			return n
		}
	}
	return mostNeeded
}

// Derive works through the observations of one element, oldest first.
func (p Policy) Derive(element string, observations []Observation) Facts {
	f := Facts{Element: element, Held: NotSeen, History: []Seen{}}
	t := track{Policy: p}
	for _, s := range showings(observations) {
		t.step(s)
		f.Newest = s.Date
		f.Lessons++
		f.Slip = t.in && !s.Implied && s.Level < p.AtLeast
		s.met = t.in
		f.History = append(f.History, s)
		switch {
		case t.in && p.consolidated(t.touched[t.since:]):
			f.Held = Consolidated
		case t.in:
			f.Held = ToStandard
		case t.ever:
			f.Held = Lapsed
		case f.Lessons > 1:
			f.Held = Practising
		default:
			f.Held = Introduced
		}
	}
	if t.in {
		f.LapsesOn = addDays(f.Newest, p.LapseDays+1)
	}
	f.Needs = t.needs()
	return f
}

// last are the newest n, fewer where there are not so many.
func last(touched []Seen, n int) []Seen { return touched[max(0, len(touched)-n):] }

func (p Policy) below(of []Seen) int {
	n := 0
	for _, s := range of {
		if s.Level < p.AtLeast {
			n++
		}
	}
	return n
}

// enters reports whether the newest touched lessons bring the element to
// standard, or back to it.
func (p Policy) enters(touched []Seen, again bool) bool {
	need := p.needed(again)
	newest := last(touched, need)
	if len(newest) < need || p.below(newest) > 0 || newest[need-1].Level < p.Enter.Touched {
		return false
	}
	return again || !slices.ContainsFunc(last(touched, p.Enter.ClearOfZero), func(s Seen) bool { return s.Level == 0 })
}

// needed is how many lessons in a row it takes.
func (p Policy) needed(again bool) int {
	if again {
		return p.Restore
	}
	return p.Enter.Lessons
}

// loses reports whether the newest touched lessons take the standing away: one
// slip does not.
func (p Policy) loses(touched []Seen) bool {
	return touched[len(touched)-1].Level == 0 || p.below(last(touched, p.Lose.Of)) >= p.Lose.Below
}

func (p Policy) consolidated(held []Seen) bool {
	lessons, instructors := 0, map[string]bool{}
	for _, s := range held {
		if s.Level >= p.AtLeast {
			lessons++
			instructors[s.instructor] = true
		}
	}
	return lessons >= p.Consolidated.Lessons && len(instructors) >= p.Consolidated.Instructors
}

func addDays(day string, n int) string {
	t, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return day
	}
	return t.AddDate(0, 0, n).Format(time.DateOnly)
}

// Standing is the element's standing as of a day.
func (f Facts) Standing(asOf string) string {
	if f.LapsesOn != "" && asOf >= f.LapsesOn {
		return Lapsed
	}
	return f.Held
}

// soon is how many days before it lapses a standing is told of.
const soon = 21

// LapsesSoon reports whether a standing that is held on a day lapses soon after it.
func (f Facts) LapsesSoon(asOf string) bool {
	return f.LapsesOn != "" && asOf < f.LapsesOn && f.LapsesOn <= addDays(asOf, soon)
}

// meets reports whether a standing is to standard or better.
func meets(standing string) bool { return standing == ToStandard || standing == Consolidated }
