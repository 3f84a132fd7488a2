package progress

import (
	"fmt"
	"slices"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/standard"
)

// StageCheck is a lesson flown as a check of one stage and class.
type StageCheck struct {
	Lesson     string `json:"lesson"`
	Date       string `json:"date"`
	Stage      string `json:"stage"`
	Class      string `json:"class"`
	Instructor string `json:"instructor"`
	Passed     bool   `json:"passed"`
}

// StageCheckOf judges a folded lesson as a stage check; false when it was not
// flown as one, or of a stage that the policy does not know. It passes when all
// that the stage asks for was shown, none below AtLeast, and no item was at 0.
// What nothing on the list as flown can show is not asked for.
func (p Policy) StageCheckOf(id, date string, state lesson.State, book lesson.Book, packs []standard.Pack) (StageCheck,
	bool) {
	if state.Opened == nil || state.Opened.Purpose != "stage-check" {
		return StageCheck{}, false
	}
	stage, known := p.stage(state.Opened.Stage)
	if !known {
		return StageCheck{}, false
	}
	s := StageCheck{Lesson: id, Date: date, Stage: stage.ID, Class: book.Type.Class,
		Instructor: state.Opened.Instructor}
	of := map[string][]Observation{}
	clear := true
	for _, o := range FromLesson(id, date, state, book) {
		of[o.Element] = append(of[o.Element], o)
		clear = clear && o.Level > 0
	}
	shows := map[string]bool{}
	for _, place := range book.List.Places() {
		for _, e := range place.Item.Elements {
			shows[e] = true
		}
	}
	asked, good := 0, 0
	for _, pack := range packs {
		for _, e := range pack.For(book.Type.Class) {
			if !slices.Contains(stage.Kinds, e.Kind) || !shows[e.ID] {
				continue
			}
			asked++
			if seen := of[e.ID]; len(seen) > 0 && showing(seen).Level >= p.AtLeast {
				good++
			}
		}
	}
	s.Passed = clear && asked > 0 && good == asked
	return s, true
}

// stage is the one of that id; without an id the first.
func (p Policy) stage(id string) (Stage, bool) {
	for _, s := range p.Stages {
		if id == "" || s.ID == id {
			return s, true
		}
	}
	return Stage{}, false
}

// ItemLevel is the level an item had in a lesson.
type ItemLevel struct {
	Lesson string `json:"lesson"`
	Date   string `json:"date"`
	Item   string `json:"item"`
	Class  string `json:"class"`
	Level  int    `json:"level"`
}

// OpenCriticals lists the level-0 results, oldest first, that as many later
// lessons as the policy asks for have not answered with a level to standard on
// the same item in the same class.
func (p Policy) OpenCriticals(levels []ItemLevel) []ItemLevel {
	open := []ItemLevel{}
	answered := map[ItemLevel]map[string]bool{} // by the lessons that answer it
	for _, l := range levels {
		if l.Level >= p.AtLeast {
			open = slices.DeleteFunc(open, func(o ItemLevel) bool {
				if o.Item != l.Item || o.Class != l.Class || o.Lesson == l.Lesson {
					return false
				}
				answered[o][l.Lesson] = true
				return len(answered[o]) >= p.CriticalLessons
			})
		}
		if l.Level == 0 && answered[l] == nil {
			open = append(open, l)
			answered[l] = map[string]bool{}
		}
	}
	return open
}

// Reach are the elements that an aircraft can show: those of the items that
// stand on its list on some day, whatever is flown, and those that questions
// asked on its type are about.
func Reach(list checklist.List, t aircraft.Type, of checklist.Aircraft, exercises,
	asked []string) (map[string]bool, error) {
	reach := map[string]bool{}
	for _, e := range asked {
		reach[e] = true
	}
	for _, day := range []checklist.Day{{}, {Exercises: exercises}} {
		flown, err := checklist.Tailor(list, nil, t, of, day)
		if err != nil {
			return nil, err
		}
		for _, place := range flown.List.Places() {
			for _, e := range place.Item.Elements {
				reach[e] = true
			}
		}
	}
	return reach, nil
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
	// Reach are the elements that the student's aircraft can show; nil is all.
	Reach map[string]bool
	// Asked are the elements that oral questions are about.
	Asked []string
}

// Readiness says whether a student is ready for the checkride, and if not,
// exactly what is missing and which lessons would close it.
type Readiness struct {
	Ready    bool      `json:"ready"`
	Required int       `json:"required"`
	Met      int       `json:"met"`
	Missing  []Missing `json:"missing"`
	// NotRequired are elements that nothing on the student's aircraft can show.
	NotRequired []string `json:"notRequired"`
	// Blocks are what is missing besides elements, in sentences.
	Blocks []string `json:"blocks"`
	Plan   []Step   `json:"plan"`
	// stages are the titles of the stage checks that are asked for, criticals how
	// many critical errors stand open.
	stages    []string
	criticals int
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

// Step is one lesson of a plan with the missing elements it would show; a stage
// check and a whole list that answers a critical error show none that is missing.
type Step struct {
	Lesson   string   `json:"lesson"`
	Title    string   `json:"title"`
	Elements []string `json:"elements"`
}

// Next is the lesson to fly next, and the part of readiness that it brings, 0 to
// 1. A lesson of the plan brings of each missing element that it shows one of the
// lessons that this still needs, of all that is required. Where no element is
// missing the readiness itself waits for what stands in the way: a stage check, or
// a whole list that answers a critical error. False where nothing is in the way. It
// needs no more of the facts than each standing and what brings it to standard.
func (p Policy) Next(c Case) (next Step, gain float64, any bool) {
	r := p.missing(c, func(Facts, string) string { return "" })
	if len(r.Plan) == 0 {
		return Step{}, 0, false
	}
	return r.Plan[0], r.gain(r.Plan[0]), true
}

// What a plan has besides lessons of the policy's kinds: their ids and titles.
const (
	stageCheckStep  = "stage-check"
	StageCheckTitle = "Stage check"
	wholeListStep   = "whole-list"
	wholeListTitle  = "The whole list"
)

func (r Readiness) gain(s Step) float64 {
	if len(s.Elements) == 0 {
		return 1 / float64(max(len(r.Blocks), 1))
	}
	sum := 0.0
	for _, m := range r.Missing {
		if m.Lessons > 0 && slices.Contains(s.Elements, m.Element) {
			sum += 1 / float64(m.Lessons)
		}
	}
	return sum / float64(max(r.Required, 1))
}

// Ready judges readiness by the policy, with what is missing and a plan.
func (p Policy) Ready(c Case) Readiness { return p.missing(c, p.why) }

// missing judges readiness, with what is missing, each with its why, and a plan.
func (p Policy) missing(c Case, why func(f Facts, standing string) string) Readiness {
	r := Readiness{Missing: []Missing{}, NotRequired: []string{}, Blocks: []string{}, Plan: []Step{}}
	p.required(c, &r, func(task standard.Task, e standard.Element, facts Facts, standing string) {
		if meets(standing) || standing == NotRequired {
			return
		}
		r.Missing = append(r.Missing,
			Missing{e.ID, e.Code, e.Text, task.Title, standing, facts.Needs, why(facts, standing)})
	})
	p.plan(c, &r)
	return r
}

// Glance judges readiness without saying how to get there, and gives the
// standing of each element that the student's class is held to, in order. It
// needs no more of the facts than each standing.
func (p Policy) Glance(c Case) (Readiness, []string) {
	r := Readiness{Missing: []Missing{}, NotRequired: []string{}, Blocks: []string{}, Plan: []Step{}}
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
				if c.Reach != nil && !c.Reach[e.ID] {
					r.NotRequired = append(r.NotRequired, e.Text)
					each(task, e, Facts{Element: e.ID, Held: NotRequired}, NotRequired)
					continue
				}
				r.Required++
				facts, ok := c.Facts[e.ID]
				if !ok {
					facts = p.Derive(e.ID, nil)
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

func (p Policy) why(f Facts, standing string) string {
	more := fmt.Sprintf("%d more lessons", f.Needs)
	if f.Needs == 1 {
		more = "one more lesson"
	}
	switch {
	case standing == NotSeen:
		return fmt.Sprintf("not seen yet; at least %s", more)
	case standing == Lapsed && f.LapsesOn != "":
		return fmt.Sprintf("lapsed on %s; %s at level 4", f.LapsesOn, more)
	}
	last := f.History[len(f.History)-1]
	switch {
	case last.Level == 0:
		return fmt.Sprintf("an unsafe act on %s; %s at level 4", last.Date, more)
	case last.Implied:
		return fmt.Sprintf("last passed unmarked; %s at level 4, touched", more)
	}
	return fmt.Sprintf("last seen at level %d; %s at level 4, unprompted", last.Level, more)
}

// stageBlock is how a stage check stands in the way, empty when it does not: of the
// class the latest one counts, as long as the policy says.
func (p Policy) stageBlock(c Case, stage Stage) string {
	var latest *StageCheck
	for i, s := range c.StageChecks {
		if s.Stage == stage.ID && s.Class == c.Class && s.Date <= c.AsOf && s.Instructor != c.Recommending &&
			(latest == nil || s.Date >= latest.Date) {
			latest = &c.StageChecks[i]
		}
	}
	switch {
	case latest == nil:
		return fmt.Sprintf("Stage check not flown yet with an instructor other than the one recommending: %s.",
			stage.Title)
	case !latest.Passed:
		return fmt.Sprintf("Stage check on %s not passed: %s.", latest.Date, stage.Title)
	case stage.Until(latest.Date) < c.AsOf:
		return fmt.Sprintf("Stage check on %s is older than %d days: %s.", latest.Date, stage.Days, stage.Title)
	}
	return ""
}

// blocks are what stands in the way besides elements.
func (p Policy) blocks(c Case, r *Readiness) {
	for _, stage := range p.Stages {
		if block := p.stageBlock(c, stage); block != "" {
			r.Blocks = append(r.Blocks, block)
			r.stages = append(r.stages, stage.Title)
		}
	}
	for _, o := range c.Criticals {
		if o.Class != c.Class {
			continue
		}
		r.criticals++
		name := o.Item
		if item, ok := c.List.Find(o.Item); ok {
			name = item.Challenge
		}
		r.Blocks = append(r.Blocks,
			fmt.Sprintf("Critical error on %s not yet answered in %d later lessons: %s.", o.Date, p.CriticalLessons,
				name))
	}
}

// mostLessons bounds the lessons of a plan for what is missing.
const mostLessons = 12

// plan picks lessons for the missing elements; then come a whole list where a
// critical error waits for one, and each stage check that is missing.
func (p Policy) plan(c Case, r *Readiness) {
	p.lessons(c, r)
	if r.criticals > 0 && len(r.Plan) == 0 {
		r.Plan = append(r.Plan, Step{wholeListStep, wholeListTitle, []string{}})
	}
	for _, title := range r.stages {
		r.Plan = append(r.Plan, Step{stageCheckStep, StageCheckTitle + ": " + title, []string{}})
	}
}

// lessons picks lessons greedily: each time the kind of lesson that shows the
// most elements still missing, the shorter one where two show as many.
func (p Policy) lessons(c Case, r *Readiness) {
	need := map[string]int{}
	for _, m := range r.Missing {
		need[m.Element] = m.Lessons
	}
	for len(r.Plan) < mostLessons {
		best, bestItems := Step{}, 0
		for _, kind := range p.Plans {
			step, items := Step{kind.ID, kind.Title, nil}, 0
			show := func(elements []string) {
				for _, element := range elements {
					if need[element] > 0 && !slices.Contains(step.Elements, element) {
						step.Elements = append(step.Elements, element)
					}
				}
			}
			for _, phase := range c.List.Phases {
				if !slices.Contains(kind.Phases, phase.ID) {
					continue
				}
				items += len(phase.Items)
				for _, item := range phase.Items {
					show(item.Elements)
				}
			}
			if kind.Oral {
				show(c.Asked)
			}
			if len(step.Elements) > len(best.Elements) || len(step.Elements) == len(best.Elements) &&
				len(best.Elements) > 0 && items < bestItems {
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
