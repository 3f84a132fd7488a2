package reports

import (
	"slices"
	"time"

	"jetprimer/core/checklist"
	"jetprimer/core/progress"
	"jetprimer/core/standard"
	"jetprimer/store"
)

// StudentView is a student's standing and what stands in the way.
type StudentView struct {
	Student   store.Student      `json:"student"`
	AsOf      string             `json:"asOf"`
	Readiness progress.Readiness `json:"readiness"`
	Forecast  ForecastView       `json:"forecast"`
	Stuck     string             `json:"stuck" doc:"what is said of who gains nothing where others gained; empty otherwise"`
	Checks    []CheckFlown       `json:"checks" doc:"the stage checks that were flown, the newest first"`
	Practise  []PractiseView     `json:"practise" doc:"what to go through alone, the least known first"`
	Fitted    int                `json:"fitted" doc:"how many answers of the school's own the forgetting was fitted to; 0 for the constants that ship"`
	Tasks     []TaskView         `json:"tasks"`
	Lessons   []store.Lesson     `json:"lessons" doc:"the newest first"`
	More      bool               `json:"more" doc:"whether there are older lessons"`
	Criticals []CriticalView     `json:"criticals" doc:"critical errors that no two later lessons have answered"`
	Notes     []string           `json:"notes"`
}

// CheckFlown is a stage check that was flown.
type CheckFlown struct {
	Lesson     string `json:"lesson"`
	On         string `json:"on"`
	Title      string `json:"title"`
	Instructor string `json:"instructor"`
	Passed     bool   `json:"passed"`
	Until      string `json:"until" doc:"the last day on which it counts; empty where it was not passed"`
}

// checksFlown are the stage checks of a case that the policy knows, the newest first.
func checksFlown(tx *store.Tx, c StudentCase) ([]CheckFlown, error) {
	out := []CheckFlown{}
	names, err := tx.Names()
	for _, check := range slices.Backward(c.StageChecks) {
		for _, stage := range c.Policy.Stages {
			if stage.ID != check.Stage || check.Date > c.AsOf {
				continue
			}
			flown := CheckFlown{
				Lesson: check.Lesson, On: check.Date, Title: stage.Title, Instructor: names[check.Instructor],
				Passed: check.Passed,
			}
			if check.Passed {
				flown.Until = stage.Until(check.Date)
			}
			out = append(out, flown)
		}
	}
	return out, err
}

// ForecastView is a forecast with what is said of it.
type ForecastView struct {
	progress.Forecast
	Words []string `json:"words"`
}

// PractiseView is an item to go through alone.
type PractiseView struct {
	progress.Practise
	Phase    string `json:"phase"`
	Words    string `json:"words"`
	Response string `json:"response"`
}

// practiseMost is how many items are gone through alone in ten minutes.
const practiseMost = 8

// practise is what a student is to go through alone on a day, of what is on the
// list, and to how many answers the forgetting was fitted.
func practise(tx *store.Tx, student, asOf string, list checklist.List) ([]PractiseView, int, error) {
	tried, err := tx.Tried(student, asOf)
	if err != nil {
		return nil, 0, err
	}
	forgetting, fitted, err := tx.Forgetting()
	if err != nil {
		return nil, 0, err
	}
	places := map[string]checklist.Place{}
	for _, p := range list.Places() {
		places[p.Item.ID] = p
	}
	out := []PractiseView{}
	for _, p := range forgetting.Practise(tried, asOf) {
		if place, on := places[p.Item]; on && len(out) < practiseMost {
			out = append(out,
				PractiseView{p, list.Phases[place.Phase].Title, place.Item.Challenge, place.Item.Response})
		}
	}
	return out, fitted, nil
}

// CriticalView is a critical error that stands open.
type CriticalView struct {
	Lesson string `json:"lesson"`
	On     string `json:"on"`
	Item   string `json:"item"`
	Words  string `json:"words"`
}

func criticalsOf(c progress.Case) []CriticalView {
	out := []CriticalView{}
	for _, o := range c.Criticals {
		view := CriticalView{o.Lesson, o.Date, o.Item, o.Item}
		if item, ok := c.List.Find(o.Item); ok {
			view.Words = item.Challenge
		}
		out = append(out, view)
	}
	return out
}

// TaskView is a task of a standard with the student's standing in each element.
type TaskView struct {
	Pack     string        `json:"pack"`
	Title    string        `json:"title"`
	Elements []ElementView `json:"elements"`
}

// ElementView is the student's standing in one element.
type ElementView struct {
	ID       string          `json:"id"`
	Code     string          `json:"code"`
	Kind     string          `json:"kind" enum:"knowledge,risk,skill"`
	Text     string          `json:"text"`
	Standing string          `json:"standing" enum:"not seen,introduced,practising,to standard,consolidated,lapsed,not required"`
	Slip     bool            `json:"slip" doc:"whether the newest lesson fell short and took nothing away"`
	LapsesOn string          `json:"lapsesOn"`
	Soon     bool            `json:"soon" doc:"whether it lapses within three weeks, without a further lesson"`
	History  []progress.Seen `json:"history"`
}

// Student is a student's standing as of a day, with the lessons before a
// moment.
func (r *Reports) Student(tx *store.Tx, student, asOf string, before time.Time) (StudentView, error) {
	v := StudentView{AsOf: asOf, Tasks: []TaskView{}, Criticals: []CriticalView{}, Notes: []string{}}
	var err error
	if v.Student, err = tx.Student(student); err != nil {
		return v, err
	}
	c, err := r.Case(tx, v.Student, v.AsOf)
	if err != nil {
		return v, err
	}
	v.Criticals = criticalsOf(c.Case)
	v.Readiness = c.Policy.Ready(c.Case)
	courses, err := tx.Courses(true)
	if err != nil {
		return v, err
	}
	_, others := courseOf(v.Student, courses)
	own := c.Policy.Course(c.Case, standard.Elements(c.Packs, v.Student.Class), c.Lessons)
	forecast := own.Forecast(v.Readiness.Required, others, v.AsOf).AtLeast(len(v.Readiness.Plan))
	v.Forecast, v.Stuck = ForecastView{forecast, forecast.Words(v.AsOf)}, own.Stuck(v.Readiness.Required, others)
	if v.Checks, err = checksFlown(tx, c); err != nil {
		return v, err
	}
	if v.Practise, v.Fitted, err = practise(tx, student, asOf, c.List); err != nil {
		return v, err
	}
	for _, p := range c.Packs {
		v.Notes = append(v.Notes, p.Note)
		for _, task := range p.Tasks {
			if t := taskView(p.ID, task, c.Case); len(t.Elements) > 0 {
				v.Tasks = append(v.Tasks, t)
			}
		}
	}
	v.Lessons, err = tx.Lessons(student, time.Time{}, before)
	v.More = len(v.Lessons) == store.PageOfLessons
	return v, err
}

func taskView(pack string, task standard.Task, c progress.Case) TaskView {
	one := standard.Pack{Tasks: []standard.Task{task}}
	out := TaskView{Pack: pack, Title: task.Title, Elements: []ElementView{}}
	for _, e := range one.For(c.Class) {
		view := ElementView{
			ID: e.ID, Code: e.Code, Kind: e.Kind, Text: e.Text, Standing: progress.NotSeen, History: []progress.Seen{},
		}
		if f, ok := c.Facts[e.ID]; ok {
			view.Standing, view.LapsesOn, view.History = f.Standing(c.AsOf), f.LapsesOn, f.History
			view.Slip = f.Slip && view.Standing != progress.Lapsed
			view.Soon = f.LapsesSoon(c.AsOf)
		}
		if c.Reach != nil && !c.Reach[e.ID] {
			view.Standing = progress.NotRequired
		}
		out.Elements = append(out.Elements, view)
	}
	return out
}

// courseOf is a student's course, and those of who trains or trained for the same.
func courseOf(st store.Student, all []store.StudentCourse) (own progress.Course, others []progress.Course) {
	for _, c := range all {
		switch {
		case c.StudentID == st.ID:
			own = c.Course
		case c.Comparable(st):
			others = append(others, c.Course)
		}
	}
	return own, others
}
