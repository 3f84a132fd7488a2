// Package progress turns signed lessons into a student's standing against each
// element of a standard, and into readiness for the checkride. Facts carry no
// clock: what depends on today is computed as of a given day. Days are written
// 2026-11-24.
package progress

import (
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
}

// FromLesson lists the observations of a folded lesson, in the order of the
// list, oral questions after the items.
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
			})
		}
	}
	places := book.List.Places()
	for i, item := range state.Items {
		if item.Level != nil {
			add(places[i].Item.Elements, item.ID, *item.Level, item.Implied, false, item.Mark)
		}
	}
	for _, o := range state.Orals {
		if len(o.Elements) > 0 {
			add(o.Elements, o.Item, o.Level, false, true, "oral")
			continue
		}
		for _, p := range places {
			if p.Item.ID == o.Item {
				add(p.Item.Knowledge, o.Item, o.Level, false, true, "oral")
			}
		}
	}
	return out
}

// Policy is a school's rule for standing and readiness.
type Policy struct {
	ID      string `json:"id"`
	Version int    `json:"version"`
	// Enter is what it takes to be to standard.
	Enter struct {
		Observations int `json:"observations"`
		Lessons      int `json:"lessons"`
		LevelAtLeast int `json:"levelAtLeast"`
		// TouchedLevel is the least level of the latest observation that the
		// instructor touched: an implied pass alone does not bring it.
		TouchedLevel int `json:"touchedLevel"`
		// ClearOfZero is how many latest observations may hold no level 0.
		ClearOfZero int `json:"clearOfZero"`
	} `json:"enter"`
	// StayAtLeast is the level the latest observation needs to stay.
	StayAtLeast int `json:"stayAtLeast"`
	LapseDays   int `json:"lapseDays"`
	// LapseAtMost is the level that makes a standing once reached lapse.
	LapseAtMost  int `json:"lapseAtMost"`
	Consolidated struct {
		Observations int `json:"observations"`
		Lessons      int `json:"lessons"`
		Instructors  int `json:"instructors"`
	} `json:"consolidated"`
	// Standards are the ids of the packs that students are held to, as far as
	// those cover their class.
	Standards []string `json:"standards"`
	// StageChecks is how many must be passed with an instructor other than the
	// one recommending. One is passed with no critical item below
	// StageCheckCritical and no other below StageCheckOther.
	StageChecks        int `json:"stageChecks"`
	StageCheckCritical int `json:"stageCheckCritical"`
	StageCheckOther    int `json:"stageCheckOther"`
	// Lessons are the kinds of lessons that a plan is made of.
	Lessons []LessonPlan `json:"lessons"`
}

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
	case p.Enter.Observations < 1 || p.Enter.Lessons < 1 || p.LapseDays < 1:
		return fmt.Errorf("policy %s: enter.observations, enter.lessons and lapseDays must be 1 or more", p.ID)
	case p.Consolidated.Observations < p.Enter.Observations:
		return fmt.Errorf("policy %s: consolidated.observations is below enter.observations", p.ID)
	case len(p.Lessons) == 0:
		return fmt.Errorf("policy %s: lessons names no kind of lesson", p.ID)
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
)

// Facts are what is stored of a student and an element: nothing in them
// depends on today.
type Facts struct {
	Element string `json:"element"`
	// Held is the standing right after the newest observation.
	Held   string `json:"held"`
	Newest string `json:"newest"`
	// LapsesOn is the first day on which a standing reached has lapsed; empty
	// when none is held.
	LapsesOn string `json:"lapsesOn,omitempty"`
	Lessons  int    `json:"lessons"`
	// History is every observation's level and mark, oldest first.
	History []Seen `json:"history"`
	// observations are kept to see what would change the standing.
	observations []Observation
}

// Seen is one observation in a history.
type Seen struct {
	Date   string `json:"date"`
	Lesson string `json:"lesson"`
	Level  int    `json:"level"`
	Mark   string `json:"mark"`
}

// Derive works through the observations of one element, oldest first.
func (p Policy) Derive(element string, observations []Observation) Facts {
	f := Facts{Element: element, Held: NotSeen, History: []Seen{}, observations: observations}
	in, ever, fell := false, false, false
	lessons := map[string]bool{}
	for i, o := range observations {
		lessons[o.Lesson] = true
		seen := observations[:i+1]
		if in && o.Date >= addDays(f.Newest, p.LapseDays+1) {
			in, fell = false, true
		}
		f.Newest = o.Date
		if in && o.Level < p.StayAtLeast {
			in = false
		}
		if ever && !in && o.Level <= p.LapseAtMost {
			fell = true
		}
		if !in && p.enters(seen) {
			in, ever, fell = true, true, false
		}
		f.History = append(f.History, Seen{o.Date, o.Lesson, o.Level, o.Mark})
		switch {
		case in && p.consolidates(seen):
			f.Held = Consolidated
		case in:
			f.Held = ToStandard
		case fell:
			f.Held = Lapsed
		case len(lessons) > 1:
			f.Held = Practising
		default:
			f.Held = Introduced
		}
	}
	f.Lessons = len(lessons)
	if in {
		f.LapsesOn = addDays(f.Newest, p.LapseDays+1)
	}
	return f
}

func addDays(day string, n int) string {
	t, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return day
	}
	return t.AddDate(0, 0, n).Format(time.DateOnly)
}

// run is the shortest run of the newest observations that holds that many
// observations, lessons and instructors; none when there are too few.
func run(seen []Observation, observations, lessons, instructors int) []Observation {
	inLessons, byInstructors := map[string]bool{}, map[string]bool{}
	for n := 1; n <= len(seen); n++ {
		o := seen[len(seen)-n]
		inLessons[o.Lesson], byInstructors[o.Instructor] = true, true
		if n >= observations && len(inLessons) >= lessons && len(byInstructors) >= instructors {
			return seen[len(seen)-n:]
		}
	}
	return nil
}

func (p Policy) allAtLeast(run []Observation) bool {
	return run != nil && !slices.ContainsFunc(run, func(o Observation) bool { return o.Level < p.Enter.LevelAtLeast })
}

// enters reports whether the newest observations bring the element to
// standard.
func (p Policy) enters(seen []Observation) bool {
	if !p.allAtLeast(run(seen, p.Enter.Observations, p.Enter.Lessons, 1)) {
		return false
	}
	clear := seen[max(0, len(seen)-p.Enter.ClearOfZero):]
	if slices.ContainsFunc(clear, func(o Observation) bool { return o.Level == 0 }) {
		return false
	}
	for i := len(seen) - 1; i >= 0; i-- {
		if !seen[i].Implied {
			return seen[i].Level >= p.Enter.TouchedLevel
		}
	}
	return false
}

func (p Policy) consolidates(seen []Observation) bool {
	c := p.Consolidated
	return p.allAtLeast(run(seen, c.Observations, c.Lessons, c.Instructors))
}

// Standing is the element's standing as of a day.
func (f Facts) Standing(asOf string) string {
	if f.LapsesOn != "" && asOf >= f.LapsesOn {
		return Lapsed
	}
	return f.Held
}

// meets reports whether a standing is to standard or better.
func meets(standing string) bool { return standing == ToStandard || standing == Consolidated }

// lessonsNeeded is how many further lessons, each with one touched observation
// at level 4 on that day, would bring the element to standard; 0 when it is.
func (p Policy) lessonsNeeded(f Facts, asOf string) int {
	if meets(f.Standing(asOf)) {
		return 0
	}
	observations := slices.Clone(f.observations)
	for n := 1; n <= 12; n++ {
		observations = append(observations, Observation{
			Element: f.Element, Lesson: fmt.Sprintf("planned %d", n), Level: 4, Date: asOf,
		})
		if meets(p.Derive(f.Element, observations).Held) {
			return n
		}
	}
	return 12
}
