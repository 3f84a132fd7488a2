package server

import (
	"context"
	"encoding/json"
	"net/http"
	"slices"
	"strconv"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/library"
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
func checksFlown(tx *store.Tx, c judgedCase) ([]CheckFlown, error) {
	out := []CheckFlown{}
	names, err := tx.Names()
	for _, check := range slices.Backward(c.StageChecks) {
		for _, stage := range c.Policy.Stages {
			if stage.ID != check.Stage || check.Date > c.AsOf {
				continue
			}
			flown := CheckFlown{Lesson: check.Lesson, On: check.Date, Title: stage.Title, Instructor: names[check.Instructor], Passed: check.Passed}
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
			out = append(out, PractiseView{p, list.Phases[place.Phase].Title, place.Item.Challenge, place.Item.Response})
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

type studentInput struct {
	ID     string    `path:"id" format:"uuid"`
	AsOf   string    `query:"asOf" format:"date" doc:"the day to judge by; today when left out"`
	Before time.Time `query:"before" doc:"lists the lessons opened before that moment"`
}

func (s *Server) studentRoutes() {
	route(s, huma.Operation{OperationID: "student", Method: http.MethodGet, Path: "/students/{id}", Summary: "A student's standing, readiness and lessons"}, s.studentView)
	route(s, huma.Operation{OperationID: "decide-critical", Method: http.MethodPost, Path: "/students/{id}/criticals", Summary: "Close a critical error whose condition does not come again, with the reason",
		DefaultStatus: http.StatusNoContent}, s.decideCritical)
	route(s, huma.Operation{OperationID: "export-standing", Method: http.MethodGet, Path: "/students/{id}/standing.csv", Summary: "A student's standing as a table, element by element"}, s.exportStanding)
	route(s, huma.Operation{OperationID: "statements", Method: http.MethodGet, Path: "/students/{id}/statements.json", Summary: "A student's signed lessons as xAPI statements"}, s.statements)
}

func (s *Server) exportStanding(ctx context.Context, w who, in *studentInput) (*fileOutput, error) {
	v, err := s.studentView(ctx, w, in)
	if err != nil {
		return nil, err
	}
	rows := [][]string{{"standard", "task", "code", "element", "standing", "as of", "lapses on", "lessons", "newest", "level of the newest", "why"}}
	why := map[string]string{}
	for _, m := range v.Body.Readiness.Missing {
		why[m.Element] = m.Why
	}
	for _, task := range v.Body.Tasks {
		for _, e := range task.Elements {
			row := []string{task.Pack, task.Title, e.Code, e.Text, e.Standing, v.Body.AsOf, e.LapsesOn, strconv.Itoa(len(e.History)), "", "", why[e.ID]}
			if n := len(e.History); n > 0 {
				row[8], row[9] = e.History[n-1].Date, strconv.Itoa(e.History[n-1].Level)
			}
			rows = append(rows, row)
		}
	}
	return csvTable("standing-"+v.Body.AsOf, rows)
}

func (s *Server) statements(ctx context.Context, w who, in *idInput) (*fileOutput, error) {
	out := &fileOutput{ContentType: "application/json", Disposition: `attachment; filename="statements.json"`}
	return out, s.in(ctx, w, func(tx *store.Tx) error {
		if err := s.mayRead(tx, w, in.ID); err != nil {
			return err
		}
		all, err := tx.Statements(in.ID, s.home(ctx), w.account == in.ID)
		if err != nil {
			return err
		}
		out.Body, err = json.MarshalIndent(all, "", "  ")
		return err
	})
}

type criticalInput struct {
	ID   string `path:"id" format:"uuid"`
	Body struct {
		Lesson string `json:"lesson" format:"uuid"`
		Item   string `json:"item" minLength:"1" maxLength:"64"`
		Why    string `json:"why" minLength:"1" maxLength:"1000"`
	}
}

func (s *Server) decideCritical(ctx context.Context, w who, in *criticalInput) (*struct{}, error) {
	err := s.in(ctx, w, func(tx *store.Tx) error {
		return tx.DecideCritical(in.ID, in.Body.Lesson, in.Body.Item, in.Body.Why, w.account, s.now())
	})
	if err == nil {
		s.audit(ctx, w, "critical error at "+in.Body.Item+" closed", in.ID)
	}
	return nil, err
}

func (s *Server) studentView(ctx context.Context, w who, in *studentInput) (*struct{ Body StudentView }, error) {
	out := &struct{ Body StudentView }{}
	if in.AsOf == "" {
		in.AsOf = s.today(w)
	}
	return out, s.in(ctx, w, func(tx *store.Tx) (err error) {
		if err := s.mayRead(tx, w, in.ID); err != nil {
			return err
		}
		out.Body, err = s.standingOf(tx, in.ID, in.AsOf, in.Before)
		return err
	})
}

// standingOf is a student's standing as of a day, with the lessons before a
// moment.
func (s *Server) standingOf(tx *store.Tx, student, asOf string, before time.Time) (StudentView, error) {
	v := StudentView{AsOf: asOf, Tasks: []TaskView{}, Criticals: []CriticalView{}, Notes: []string{}}
	var err error
	if v.Student, err = tx.Student(student); err != nil {
		return v, err
	}
	c, err := s.caseOf(tx, v.Student, v.AsOf)
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

// caseOf is all that a student's readiness rests on, as of a day.
func (s *Server) caseOf(tx *store.Tx, st store.Student, asOf string) (judgedCase, error) {
	p, err := tx.Policy(asOf)
	if err != nil {
		return judgedCase{}, err
	}
	on, err := s.casesOn(tx, asOf)
	if err != nil {
		return judgedCase{}, err
	}
	return on.of(st, p.Standing)
}

// judgedCase is a student's case with the rule that it is judged by.
type judgedCase struct {
	progress.Case
	Policy progress.Policy
	// Lessons are those that count, oldest first.
	Lessons []progress.Seen
}

// cases makes the cases of students as of a day, by any rule.
type cases struct {
	tx     *store.Tx
	asOf   string
	packs  []standard.Pack
	moves  map[string]string
	listOf func(store.Student) checklist.List
	reach  func(store.Student) map[string]bool
	asked  func(typ string) []string
}

func (s *Server) casesOn(tx *store.Tx, asOf string) (cases, error) {
	c := cases{tx: tx, asOf: asOf, asked: s.catalog.Asked}
	var err error
	if c.packs, err = tx.Packs(asOf); err != nil {
		return c, err
	}
	c.moves = standard.Moves(c.packs)
	serving, err := tx.InForce("", asOf)
	if err != nil {
		return c, err
	}
	if c.listOf, err = lists(tx, serving); err != nil {
		return c, err
	}
	c.reach, err = s.reachOn(tx, serving, asOf)
	return c, err
}

func (on cases) of(st store.Student, p progress.Policy) (judgedCase, error) {
	c, lessons, err := on.tx.Case(st, p, on.moves, on.asOf)
	if err != nil {
		return judgedCase{}, err
	}
	c.Packs, c.List, c.Reach = progress.HeldTo(p.Standards, on.packs, st.Class), on.listOf(st), on.reach(st)
	c.Asked = on.asked(c.List.AircraftType)
	return judgedCase{c, p, lessons}, nil
}

func taskView(pack string, task standard.Task, c progress.Case) TaskView {
	one := standard.Pack{Tasks: []standard.Task{task}}
	out := TaskView{Pack: pack, Title: task.Title, Elements: []ElementView{}}
	for _, e := range one.For(c.Class) {
		view := ElementView{ID: e.ID, Code: e.Code, Kind: e.Kind, Text: e.Text, Standing: progress.NotSeen, History: []progress.Seen{}}
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

// lists finds the list, of those that serve, for what a student trains on; types
// and lists are read once for all students.
func lists(tx *store.Tx, serving []library.Version) (func(store.Student) checklist.List, error) {
	var types, all []library.Version
	for _, v := range serving {
		switch v.Kind {
		case library.KindType:
			types = append(types, v)
		case library.KindList:
			all = append(all, v)
		}
	}
	typeDocs, err := store.Documents[aircraft.Type](tx, types)
	if err != nil {
		return nil, err
	}
	listDocs, err := store.Documents[checklist.List](tx, all)
	if err != nil {
		return nil, err
	}
	return func(s store.Student) checklist.List {
		for _, t := range typeDocs {
			if !progress.TrainsFor(s.Class, s.EngineKind, s.StartType, t) {
				continue
			}
			for _, l := range listDocs {
				if l.AircraftType == t.ID {
					return l
				}
			}
		}
		return checklist.List{}
	}, nil
}

// SchoolView is every student's standing at a glance, class by class.
type SchoolView struct {
	AsOf   string        `json:"asOf"`
	Groups []SchoolGroup `json:"groups"`
	Notes  []string      `json:"notes"`
}

// SchoolGroup is the students who train for one class, held to one standard.
type SchoolGroup struct {
	Class    string          `json:"class"`
	Columns  []SchoolColumn  `json:"columns"`
	Students []SchoolStudent `json:"students"`
}

// SchoolColumn is a task with its elements.
type SchoolColumn struct {
	Title    string   `json:"title"`
	Elements []string `json:"elements"`
}

// SchoolStudent is one student's row: a standing for each element in turn.
type SchoolStudent struct {
	Student   store.Student `json:"student"`
	Standings []string      `json:"standings"`
	Met       int           `json:"met"`
	Required  int           `json:"required"`
	Blocks    []string      `json:"blocks"`
	InTheWay  int           `json:"inTheWay" doc:"elements and other things between the student and the checkride"`
	Ready     bool          `json:"ready"`
	Lessons   int           `json:"lessons"`
	Last      string        `json:"last" doc:"day of the last lesson, empty when none"`
	Base      string        `json:"base" doc:"where the aircraft of the last lesson stands, empty when none"`
	Stuck     string        `json:"stuck" doc:"what is said of who gains nothing where others gained, empty for everybody else"`
}

func (s *Server) schoolRoutes() {
	route(s, huma.Operation{OperationID: "school", Method: http.MethodGet, Path: "/school", Summary: "Every student's standing"},
		func(ctx context.Context, w who, _ *struct{}) (*struct{ Body SchoolView }, error) {
			v, err := s.schoolView(ctx, w)
			return &struct{ Body SchoolView }{v}, err
		})
	route(s, huma.Operation{OperationID: "export-school", Method: http.MethodGet, Path: "/school.csv", Summary: "Every student's standing as a table"}, s.exportSchool)
	route(s, huma.Operation{OperationID: "standards", Method: http.MethodGet, Path: "/standards", Summary: "The standards packs in force"},
		func(ctx context.Context, w who, _ *struct{}) (out *struct{ Body []standard.Pack }, err error) {
			out = &struct{ Body []standard.Pack }{}
			err = s.in(ctx, w, func(tx *store.Tx) (err error) { out.Body, err = tx.Packs(s.today(w)); return })
			return
		})
}

// schoolView reads what was derived when lessons were signed: its statements are
// as many for five students as for five hundred.
func (s *Server) schoolView(ctx context.Context, w who) (SchoolView, error) {
	v := SchoolView{AsOf: s.today(w), Groups: []SchoolGroup{}, Notes: []string{}}
	err := s.in(ctx, w, func(tx *store.Tx) error {
		students, err := tx.Students()
		if err != nil {
			return err
		}
		all, err := tx.Packs(v.AsOf)
		if err != nil {
			return err
		}
		serving, err := tx.InForce("", v.AsOf)
		if err != nil {
			return err
		}
		p, err := tx.Policy(v.AsOf)
		if err != nil {
			return err
		}
		reach, err := s.reachOn(tx, serving, v.AsOf)
		if err != nil {
			return err
		}
		cases, err := tx.Cases(students)
		if err != nil {
			return err
		}
		flown, err := tx.Flown()
		if err != nil {
			return err
		}
		courses, err := tx.Courses(false)
		if err != nil {
			return err
		}
		for _, st := range students {
			if !st.Active {
				continue
			}
			c := cases[st.ID]
			c.AsOf, c.Packs, c.Reach = v.AsOf, progress.HeldTo(p.Standing.Standards, all, st.Class), reach(st)
			for _, p := range c.Packs {
				if !slices.Contains(v.Notes, p.Note) {
					v.Notes = append(v.Notes, p.Note)
				}
			}
			i := slices.IndexFunc(v.Groups, func(g SchoolGroup) bool { return g.Class == st.Class })
			if i < 0 {
				i, v.Groups = len(v.Groups), append(v.Groups, SchoolGroup{Class: st.Class, Columns: columns(c)})
			}
			row := schoolRow(st, c, p.Standing)
			if f := flown[st.ID]; f.N > 0 {
				row.Lessons, row.Last, row.Base = f.N, tx.Day(f.Last), f.Base
			}
			own, others := courseOf(st, courses)
			row.Stuck = own.Stuck(row.Required, others)
			v.Groups[i].Students = append(v.Groups[i].Students, row)
		}
		slices.SortStableFunc(v.Groups, func(a, b SchoolGroup) int { return len(b.Students) - len(a.Students) })
		return nil
	})
	return v, err
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

// columns are the tasks that a class is held to, with their elements.
func columns(c progress.Case) []SchoolColumn {
	out := []SchoolColumn{}
	for _, p := range c.Packs {
		for _, task := range p.Tasks {
			column := SchoolColumn{Title: task.Title, Elements: []string{}}
			for _, e := range taskView(p.ID, task, c).Elements {
				column.Elements = append(column.Elements, e.Text)
			}
			if len(column.Elements) > 0 {
				out = append(out, column)
			}
		}
	}
	return out
}

// schoolRow is one student's row.
func schoolRow(st store.Student, c progress.Case, p progress.Policy) SchoolStudent {
	r, standings := p.Glance(c)
	return SchoolStudent{Student: st, Standings: standings, Met: r.Met, Required: r.Required, Blocks: r.Blocks, InTheWay: r.Required - r.Met + len(r.Blocks), Ready: r.Ready}
}

func (s *Server) exportSchool(ctx context.Context, w who, _ *struct{}) (*fileOutput, error) {
	v, err := s.schoolView(ctx, w)
	if err != nil {
		return nil, err
	}
	rows := [][]string{}
	for i, g := range v.Groups {
		if i > 0 {
			rows = append(rows, []string{""})
		}
		head := []string{"student", "class", "instructor", "base", "lessons", "last lesson", "met", "required", "stuck"}
		for _, c := range g.Columns {
			head = append(head, c.Elements...)
		}
		rows = append(rows, head)
		for _, st := range g.Students {
			row := []string{st.Student.Name, g.Class, st.Student.Instructor, st.Base, strconv.Itoa(st.Lessons), st.Last, strconv.Itoa(st.Met), strconv.Itoa(st.Required), st.Stuck}
			rows = append(rows, append(row, st.Standings...))
		}
	}
	return csvTable("school-"+v.AsOf, rows)
}
