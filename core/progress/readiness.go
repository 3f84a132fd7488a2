package progress

import (
	"fmt"
	"slices"

	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/standard"
)

// StageCheck is a lesson flown as a stage check.
type StageCheck struct {
	Lesson     string `json:"lesson"`
	Date       string `json:"date"`
	Instructor string `json:"instructor"`
	Passed     bool   `json:"passed"`
}

// StageCheckOf judges a folded lesson as a stage check; false when it was not
// flown as one.
func (p Policy) StageCheckOf(id, date string, state lesson.State, list checklist.List) (StageCheck, bool) {
	if state.Opened == nil || state.Opened.Purpose != "stage-check" {
		return StageCheck{}, false
	}
	s := StageCheck{Lesson: id, Date: date, Instructor: state.Opened.Instructor, Passed: true}
	for i, place := range list.Places() {
		least := p.StageCheckOther
		if place.Item.Critical {
			least = p.StageCheckCritical
		}
		if level := state.Items[i].Level; level != nil && *level < least {
			s.Passed = false
		}
	}
	return s, true
}

// ItemLevel is the level an item had in a lesson.
type ItemLevel struct {
	Lesson string `json:"lesson"`
	Date   string `json:"date"`
	Item   string `json:"item"`
	Level  int    `json:"level"`
}

// OpenCriticals lists the level-0 results, oldest first, that no later lesson
// has answered with a level of 3 or more on the same item.
func OpenCriticals(levels []ItemLevel) []ItemLevel {
	open := []ItemLevel{}
	for _, l := range levels {
		if l.Level >= 3 {
			open = slices.DeleteFunc(open, func(o ItemLevel) bool { return o.Item == l.Item && o.Lesson != l.Lesson })
		}
		if l.Level == 0 {
			open = append(open, l)
		}
	}
	return open
}

// Case is all that readiness rests on.
type Case struct {
	AsOf  string
	Class string
	Packs []standard.Pack
	// Facts by element id; an element without facts is not seen.
	Facts        map[string]Facts
	StageChecks  []StageCheck
	Criticals    []ItemLevel // that stand open
	Recommending string      // the instructor who would recommend
	List         checklist.List
}

// Readiness says whether a student is ready for the checkride, and if not,
// exactly what is missing and which lessons would close it.
type Readiness struct {
	Ready    bool      `json:"ready"`
	Required int       `json:"required"`
	Met      int       `json:"met"`
	Missing  []Missing `json:"missing"`
	// Blocks are what is missing besides elements, in sentences.
	Blocks []string `json:"blocks"`
	Plan   []Step   `json:"plan"`
}

// Missing is an element that is not to standard.
type Missing struct {
	Element  string `json:"element"`
	Code     string `json:"code,omitempty"`
	Text     string `json:"text"`
	Task     string `json:"task"`
	Standing string `json:"standing"`
	// Lessons is the least number of lessons that would bring it to standard.
	Lessons int    `json:"lessons"`
	Why     string `json:"why"`
}

// Step is one lesson of a plan with the missing elements it would show.
type Step struct {
	Lesson   string   `json:"lesson"`
	Title    string   `json:"title"`
	Elements []string `json:"elements"`
}

// Ready judges readiness by the policy, with what is missing and a plan.
func (p Policy) Ready(c Case) Readiness {
	r := Readiness{Missing: []Missing{}, Blocks: []string{}, Plan: []Step{}}
	p.required(c, &r, func(task standard.Task, e standard.Element, facts Facts, standing string) {
		if meets(standing) {
			return
		}
		n := p.lessonsNeeded(facts, c.AsOf)
		r.Missing = append(r.Missing, Missing{e.ID, e.Code, e.Text, task.Title, standing, n, p.why(facts, standing, n)})
	})
	p.plan(c, &r)
	return r
}

// Glance judges readiness without saying how to get there, and gives the
// standing of each element that the student's class is held to, in order. It
// needs no more of the facts than each standing.
func (p Policy) Glance(c Case) (Readiness, []string) {
	r := Readiness{Missing: []Missing{}, Blocks: []string{}, Plan: []Step{}}
	standings := []string{}
	p.required(c, &r, func(_ standard.Task, _ standard.Element, _ Facts, standing string) {
		standings = append(standings, standing)
	})
	return r, standings
}

// required counts the elements that the student's class is held to, and calls
// each for every one.
func (p Policy) required(c Case, r *Readiness, each func(standard.Task, standard.Element, Facts, string)) {
	for _, pack := range c.Packs {
		for _, task := range pack.Tasks {
			for _, e := range task.Elements {
				if len(e.Classes) > 0 && !slices.Contains(e.Classes, c.Class) {
					continue
				}
				r.Required++
				facts, ok := c.Facts[e.ID]
				if !ok {
					facts = Facts{Element: e.ID, Held: NotSeen}
				}
				standing := facts.Standing(c.AsOf)
				if meets(standing) {
					r.Met++
				}
				each(task, e, facts, standing)
			}
		}
	}
	p.blocks(c, r)
	r.Ready = r.Met == r.Required && len(r.Blocks) == 0
}

func (p Policy) why(f Facts, standing string, lessons int) string {
	more := fmt.Sprintf("%d more lessons", lessons)
	if lessons == 1 {
		more = "one more lesson"
	}
	switch {
	case standing == NotSeen:
		return fmt.Sprintf("not seen yet; at least %s", more)
	case standing == Lapsed && f.LapsesOn != "":
		return fmt.Sprintf("lapsed on %s; %s at level 4", f.LapsesOn, more)
	}
	last := f.History[len(f.History)-1]
	if last.Level == 0 {
		return fmt.Sprintf("an unsafe act on %s; %s at level 4", last.Date, more)
	}
	return fmt.Sprintf("last seen at level %d; %s at level 4, unprompted", last.Level, more)
}

func (p Policy) blocks(c Case, r *Readiness) {
	passed := 0
	for _, s := range c.StageChecks {
		if s.Passed && s.Instructor != c.Recommending {
			passed++
		}
	}
	if passed < p.StageChecks {
		r.Blocks = append(r.Blocks, fmt.Sprintf("Stage check passed with an instructor other than the one recommending: %d of %d.", passed, p.StageChecks))
	}
	for _, o := range c.Criticals {
		name := o.Item
		if item, ok := c.List.Find(o.Item); ok {
			name = item.Challenge
		}
		r.Blocks = append(r.Blocks, fmt.Sprintf("Critical error on %s not yet answered: %s.", o.Date, name))
	}
}

// plan picks lessons greedily: each time the kind of lesson that shows the
// most elements still missing, the shorter one where two show as many.
func (p Policy) plan(c Case, r *Readiness) {
	need := map[string]int{}
	for _, m := range r.Missing {
		need[m.Element] = m.Lessons
	}
	for len(r.Plan) < 12 {
		best, bestItems := Step{}, 0
		for _, kind := range p.Lessons {
			step, items := Step{kind.ID, kind.Title, nil}, 0
			for _, phase := range c.List.Phases {
				if !kind.Oral && !slices.Contains(kind.Phases, phase.ID) {
					continue
				}
				items += len(phase.Items)
				for _, item := range phase.Items {
					shown := item.Elements
					if kind.Oral {
						shown = item.Knowledge
					}
					for _, element := range shown {
						if need[element] > 0 && !slices.Contains(step.Elements, element) {
							step.Elements = append(step.Elements, element)
						}
					}
				}
			}
			if len(step.Elements) > len(best.Elements) || len(step.Elements) == len(best.Elements) && len(best.Elements) > 0 && items < bestItems {
				best, bestItems = step, items
			}
		}
		if len(best.Elements) == 0 {
			return
		}
		for _, element := range best.Elements {
			need[element]--
		}
		r.Plan = append(r.Plan, best)
	}
}
