// Package catalog holds what ships as data: aircraft types, checklists,
// standards packs, scales and policies. Every file is read strictly; a mistake
// is reported with its file, its line and the reason.
package catalog

import (
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"slices"
	"sync"

	"jetprimer/core/aircraft"
	"jetprimer/core/calc"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/practice"
	"jetprimer/core/progress"
	"jetprimer/core/stand"
	"jetprimer/core/standard"
	"jetprimer/core/weather"
	"jetprimer/exchange"
)

//go:embed types stands faults scenarios practice stock checklists standards policies questions
var shipped embed.FS

// Catalog is a set of data that fits together: every list's type, checks and
// elements exist.
type Catalog struct {
	Types []aircraft.Type
	// Kinds are what a type can be described from, in the order they are offered.
	Kinds []Kind
	// Stock are the items that lists are made of, in the order they are worked.
	Stock []checklist.Item
	// Parts are what a type must have for an item, by its id; see aircraft.Type.Has.
	Parts  map[string][]string
	Lists  []checklist.List
	Packs  []standard.Pack
	Scales []lesson.Scale
	Policy progress.Policy
	// Forgetting are the constants of a school that has seen too little of its own.
	Forgetting progress.Forgetting
	// Icing are the bands of the general icing chart, worst first; Aerodromes
	// the fields that ship with the program.
	Icing      []calc.IcingBand
	Aerodromes []weather.Aerodrome
	// Questions are what is asked orally, by the type they are for.
	Questions  []Question
	Procedures []Procedure
	// Rigs are the constants of the practice stand's engines, a type each.
	Rigs []stand.Rig
	// Faults are what can be slipped into them.
	Faults []stand.Fault
	// Scenarios are what students meet on it.
	Scenarios []stand.Scenario
	// Acts are how items of lists show on it.
	Acts []practice.Act
}

// Shipped is the catalog that comes with the program. It is read once, and shared: nobody
// changes it.
func Shipped() (*Catalog, error) { return readShipped() }

var readShipped = sync.OnceValues(func() (*Catalog, error) { return Load(shipped) })

// Load reads the folders types, stands, faults, scenarios, stock, checklists, standards and policies. The error
// joins a mistake for everything that is wrong.
func Load(files fs.FS) (*Catalog, error) {
	l := &loader{files: files, catalog: &Catalog{Parts: map[string][]string{}}, stock: map[string]map[string]any{}}
	each(l, "types", l.aircraftType)
	each(l, "stands", func(s *exchange.Source, r stand.Rig) {
		t, _ := l.catalog.Type(r.Type)
		s.Report(r.Problems(t))
		l.catalog.Rigs = append(l.catalog.Rigs, r)
	})
	one(l, "faults/faults.yaml", l.faults)
	one(l, "scenarios/scenarios.yaml", func(s *exchange.Source, all []stand.Scenario) {
		l.catalog.Scenarios = all
		for i, one := range all {
			for _, f := range one.Problems(l.catalog.Stand()) {
				s.At(fmt.Sprintf("$[%d]%s", i, f.Field[1:]), f.Reason)
			}
		}
	})
	one(l, "practice/acts.yaml", func(s *exchange.Source, all []practice.Act) {
		l.catalog.Acts = all
		for i, a := range all {
			for _, problem := range a.Problems() {
				s.At(fmt.Sprintf("$[%d]", i), problem)
			}
		}
	})
	each(l, "standards", func(s *exchange.Source, p standard.Pack) {
		s.Report(p.Problems())
		l.catalog.Packs = append(l.catalog.Packs, p)
	})
	one(l, "policies/carb-ice.yaml", func(_ *exchange.Source, i []calc.IcingBand) { l.catalog.Icing = i })
	one(l, "policies/aerodromes.yaml", func(_ *exchange.Source, a []weather.Aerodrome) { l.catalog.Aerodromes = a })
	one(l, "policies/procedures.yaml", l.procedures)
	for _, phase := range []string{
		"before-start", "start", "after-start", "taxi", "run-up", "before-take-off", "after-landing", "shutdown",
	} {
		one(l, "stock/"+phase+".yaml", l.stockItems)
	}
	one(l, "policies/kinds.yaml", l.kinds)
	each(l, "checklists", l.shippedList)
	one(l, "policies/scales.yaml", l.scales)
	one(l, "policies/progress.yaml", func(s *exchange.Source, p progress.Policy) {
		l.catalog.Policy = p
		if err := p.Check(); err != nil {
			s.At("$", err.Error())
		}
	})
	one(l, "policies/forgetting.yaml", func(s *exchange.Source, f progress.Forgetting) {
		l.catalog.Forgetting = f
		if err := f.Check(); err != nil {
			s.At("$", err.Error())
		}
	})
	each(l, "questions", l.questions)
	if err := errors.Join(l.mistakes...); err != nil {
		return nil, err
	}
	return l.catalog, nil
}

type loader struct {
	files    fs.FS
	catalog  *Catalog
	stock    map[string]map[string]any
	mistakes []error
}

// each reads every file of a folder into a T and hands it on.
func each[T any](l *loader, folder string, take func(*exchange.Source, T)) {
	names, err := fs.Glob(l.files, folder+"/*.yaml")
	if err == nil && len(names) == 0 {
		err = errors.New("holds no .yaml file")
	}
	if err != nil {
		l.mistakes = append(l.mistakes, form.Problem{File: folder, Reason: err.Error()})
		return
	}
	for _, name := range names {
		one(l, name, take)
	}
}

// one reads a file into a T; what can be read goes on to take.
func one[T any](l *loader, name string, take func(*exchange.Source, T)) {
	data, err := fs.ReadFile(l.files, name)
	if err != nil {
		l.mistakes = append(l.mistakes, form.Problem{File: name, Reason: err.Error()})
		return
	}
	s := exchange.Open(name, data)
	if doc, ok := exchange.Decode[T](s); ok {
		take(s, doc)
	}
	l.mistakes = append(l.mistakes, s.Err())
}

func (l *loader) aircraftType(s *exchange.Source, t aircraft.Type) {
	s.Report(t.Problems())
	s.Report(check.LimitProblems(t))
	s.Report(check.Impossible(t))
	l.catalog.Types = append(l.catalog.Types, t)
}

func (l *loader) faults(s *exchange.Source, faults []stand.Fault) {
	l.catalog.Faults = faults
	seen := map[string]bool{}
	for i, f := range faults {
		at := fmt.Sprintf("$[%d]", i)
		for _, problem := range f.Problems() {
			s.At(at, f.ID+" "+problem)
		}
		if seen[f.ID] {
			s.At(at+".id", "is there twice")
		}
		seen[f.ID] = true
		if !slices.ContainsFunc(l.catalog.Types, func(t aircraft.Type) bool { return t.Fits(f.Has) }) {
			s.At(at+".has", "is had by no type")
		}
	}
}

func (l *loader) scales(s *exchange.Source, scales []lesson.Scale) {
	l.catalog.Scales = scales
	for i, scale := range scales {
		if err := scale.Check(); err != nil {
			s.At(fmt.Sprintf("$[%d]", i), err.Error())
		}
	}
}

// Surroundings are what a document of a type may refer to, with the standards
// packs in force.
func (c *Catalog) Surroundings(t aircraft.Type, packs []standard.Pack) checklist.Surroundings {
	s := checklist.Surroundings{Type: t, Elements: []string{}, Equipment: []string{}}
	for _, p := range packs {
		for _, task := range p.Tasks {
			for _, e := range task.Elements {
				s.Elements = append(s.Elements, e.ID)
			}
		}
	}
	for _, known := range append(slices.Clone(c.Types), t) {
		for _, e := range known.Equipment {
			if !slices.Contains(s.Equipment, e.ID) {
				s.Equipment = append(s.Equipment, e.ID)
			}
		}
	}
	return s
}

// Tables are what calculators work with.
func (c *Catalog) Tables() calc.Tables { return calc.Tables{Type: c.Type, Icing: c.Icing} }

// Type finds the newest version of a type.
func (c *Catalog) Type(id string) (aircraft.Type, bool) {
	return newest(c.Types, func(t aircraft.Type) (string, int) { return t.ID, t.Version }, id)
}

// TypeVersion finds one version of a type.
func (c *Catalog) TypeVersion(id string, version int) (aircraft.Type, bool) {
	return find(c.Types, func(t aircraft.Type) bool { return t.ID == id && t.Version == version })
}

// ListVersion finds one version of a checklist.
func (c *Catalog) ListVersion(id string, version int) (checklist.List, bool) {
	return find(c.Lists, func(l checklist.List) bool { return l.ID == id && l.Version == version })
}

// ListFor finds the newest list for a type.
func (c *Catalog) ListFor(aircraftType string) (checklist.List, bool) {
	return newest(c.Lists, func(l checklist.List) (string, int) { return l.AircraftType, l.Version }, aircraftType)
}

// Scale finds a grading scale.
// FlownItems are the items of a type's list as it is flown with nothing planned.
func (c *Catalog) FlownItems(t aircraft.Type) ([]checklist.Item, error) {
	list, known := c.ListFor(t.ID)
	if !known {
		return nil, fmt.Errorf("the %s has no list", t.Name)
	}
	flown, err := checklist.Tailor(list, nil, t, checklist.Aircraft{}, checklist.Day{})
	items := []checklist.Item{}
	for _, p := range flown.List.Places() {
		items = append(items, p.Item)
	}
	return items, err
}

func (c *Catalog) Scale(id string) (lesson.Scale, bool) {
	return find(c.Scales, func(s lesson.Scale) bool { return s.ID == id })
}

// Rig is what a type's stand is made from; false where it has none.
func (c *Catalog) Rig(aircraftType string) (stand.Rig, bool) {
	return find(c.Rigs, func(r stand.Rig) bool { return r.Type == aircraftType })
}

// Kit is what a type's practice stand is run from; false where it has none.
func (c *Catalog) Kit(aircraftType string) (stand.Kit, bool) {
	rig, rigged := c.Rig(aircraftType)
	typ, known := c.Type(aircraftType)
	out := stand.Kit{Type: typ, Rig: rig, Faults: []stand.Fault{}, Scenarios: []stand.Scenario{}}
	for _, f := range c.Faults {
		if typ.Fits(f.Has) {
			out.Faults = append(out.Faults, f)
		}
	}
	for _, s := range c.Scenarios {
		if s.Type == aircraftType {
			out.Scenarios = append(out.Scenarios, s)
		}
	}
	return out, rigged && known
}

// Course is all that a type is practised from; false where it has no stand.
func (c *Catalog) Course(aircraftType string) (practice.Course, bool) {
	kit, known := c.Kit(aircraftType)
	list, listed := c.ListFor(aircraftType)
	out := practice.Course{
		Kit: kit, List: list, Acts: []practice.Act{}, Questions: []practice.Question{}, Scale: c.Scales[0].ID,
	}
	if !known {
		return out, false
	}
	panel := stand.New(kit.Rig, kit.Type, stand.StandardDay, 1).Panel()
	for _, a := range c.Acts {
		if a.Fits(panel) {
			out.Acts = append(out.Acts, a)
		}
	}
	for _, q := range c.QuestionsFor(aircraftType) {
		out.Questions = append(out.Questions, practice.Question{
			ID: q.ID, Ask: q.Ask, Answer: q.Answer, Items: q.Items, Elements: q.Elements,
		})
	}
	return out, listed
}

// Stand is what scenarios of the practice stand name.
func (c *Catalog) Stand() stand.Library {
	return stand.Library{Rig: c.Rig, Type: c.Type, Fault: func(id string) (stand.Fault, bool) {
		return find(c.Faults, func(f stand.Fault) bool { return f.ID == id })
	}}
}

func find[T any](all []T, is func(T) bool) (T, bool) {
	if i := slices.IndexFunc(all, is); i >= 0 {
		return all[i], true
	}
	var none T
	return none, false
}

func newest[T any](all []T, key func(T) (string, int), id string) (best T, found bool) {
	highest := 0
	for _, one := range all {
		if k, version := key(one); k == id && version > highest {
			best, highest, found = one, version, true
		}
	}
	return best, found
}
