package reports

import (
	"slices"

	"jetprimer/core/progress"
	"jetprimer/store"
)

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

// School is every student at a glance. It reads what was derived when lessons were signed: its statements are
// as many for five students as for five hundred.
func (r *Reports) School(tx *store.Tx) (SchoolView, error) {
	v := SchoolView{AsOf: r.day(tx), Groups: []SchoolGroup{}, Notes: []string{}}
	students, err := tx.Students()
	if err != nil {
		return v, err
	}
	all, err := tx.Packs(v.AsOf)
	if err != nil {
		return v, err
	}
	serving, err := tx.InForce("", v.AsOf)
	if err != nil {
		return v, err
	}
	p, err := tx.Policy(v.AsOf)
	if err != nil {
		return v, err
	}
	reach, err := r.reachOn(tx, serving, v.AsOf)
	if err != nil {
		return v, err
	}
	cases, err := tx.Cases(students)
	if err != nil {
		return v, err
	}
	flown, err := tx.Flown()
	if err != nil {
		return v, err
	}
	courses, err := tx.Courses(false)
	if err != nil {
		return v, err
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
	return v, nil
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
	return SchoolStudent{
		Student: st, Standings: standings, Met: r.Met, Required: r.Required, Blocks: r.Blocks,
		InTheWay: r.Required - r.Met + len(r.Blocks), Ready: r.Ready,
	}
}
