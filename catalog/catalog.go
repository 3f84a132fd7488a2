// Package catalog holds what ships as data: aircraft types, checklists,
// standards packs, scales and policies. Every file is read strictly; a mistake
// is reported with its file, its line and the reason.
package catalog

import (
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"path"
	"slices"
	"strings"

	"github.com/goccy/go-yaml"
	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/parser"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/progress"
	"jetprimer/core/standard"
)

//go:embed types stock checklists standards policies
var shipped embed.FS

// Catalog is a set of data that fits together: every list's type, checks and
// elements exist.
type Catalog struct {
	Types  []aircraft.Type
	Lists  []checklist.List
	Packs  []standard.Pack
	Scales []lesson.Scale
	// Exercises are what a lesson may be planned for.
	Exercises []Exercise
	Policy    progress.Policy
}

// Exercise is something that a lesson may be planned for.
type Exercise struct {
	ID    string `json:"id"`
	Label string `json:"label"`
}

// Mistake is what is wrong in a file. Line counts from 1; 0 means the file as
// a whole.
type Mistake struct {
	File   string
	Line   int
	Reason string
}

func (m Mistake) Error() string { return fmt.Sprintf("%s:%d: %s", m.File, m.Line, m.Reason) }

// Shipped is the catalog that comes with the program.
func Shipped() (*Catalog, error) { return Load(shipped) }

// Load reads the folders types, stock, checklists, standards and policies. The error
// joins a Mistake for everything that is wrong.
func Load(files fs.FS) (*Catalog, error) {
	l := &loader{files: files, catalog: &Catalog{}, stock: map[string]map[string]any{}}
	l.each("types", func(s *source) { decode(s, s.aircraftType) })
	l.each("standards", func(s *source) {
		decode(s, func(p standard.Pack) {
			s.report(p.Faults())
			l.catalog.Packs = append(l.catalog.Packs, p)
		})
	})
	l.one("policies/exercises.yaml", func(s *source) { decode(s, func(e []Exercise) { l.catalog.Exercises = e }) })
	l.each("stock", func(s *source) { decode(s, s.stockItems) })
	l.each("checklists", func(s *source) { decode(s, s.shippedList) })
	l.one("policies/scales.yaml", func(s *source) { decode(s, s.scales) })
	l.one("policies/progress.yaml", func(s *source) {
		decode(s, func(p progress.Policy) {
			l.catalog.Policy = p
			if err := p.Check(); err != nil {
				s.at("$", err.Error())
			}
		})
	})
	if err := errors.Join(l.mistakes...); err != nil {
		return nil, err
	}
	return l.catalog, nil
}

// ParsePack reads one standards pack, YAML or JSON, as a school brings it.
func ParsePack(name string, data []byte) (standard.Pack, error) {
	l := &loader{}
	s := l.open(name, data)
	var pack standard.Pack
	decode(s, func(p standard.Pack) {
		pack = p
		s.report(p.Faults())
	})
	return pack, errors.Join(l.mistakes...)
}

type loader struct {
	files    fs.FS
	catalog  *Catalog
	stock    map[string]map[string]any
	mistakes []error
}

func (l *loader) each(folder string, read func(*source)) {
	names, err := fs.Glob(l.files, folder+"/*.yaml")
	if err == nil && len(names) == 0 {
		err = errors.New("holds no .yaml file")
	}
	if err != nil {
		l.mistakes = append(l.mistakes, Mistake{folder, 0, err.Error()})
		return
	}
	for _, name := range names {
		l.one(name, read)
	}
}

func (l *loader) one(name string, read func(*source)) {
	data, err := fs.ReadFile(l.files, name)
	if err != nil {
		l.mistakes = append(l.mistakes, Mistake{name, 0, err.Error()})
		return
	}
	read(l.open(name, data))
}

func (l *loader) open(name string, data []byte) *source {
	return &source{loader: l, name: path.Clean(name), data: data}
}

func (s *source) aircraftType(t aircraft.Type) {
	s.report(t.Faults())
	for _, name := range slices.Sorted(maps.Keys(t.Limits)) {
		if err := check.CheckLimits(name, t.Limits[name]); err != nil {
			s.at("$.limits."+name, err.Error())
		}
	}
	s.catalog.Types = append(s.catalog.Types, t)
}

func (s *source) scales(scales []lesson.Scale) {
	s.catalog.Scales = scales
	for i, scale := range scales {
		if err := scale.Check(); err != nil {
			s.at(fmt.Sprintf("$[%d]", i), err.Error())
		}
	}
}

// checklist checks a list and what it refers to outside itself.
func (s *source) checklist(list checklist.List) {
	s.report(list.Faults())
	s.catalog.Lists = append(s.catalog.Lists, list)
	t, known := s.catalog.Type(list.AircraftType)
	if !known {
		s.at("$.aircraftType", fmt.Sprintf("%q is no known aircraft type", list.AircraftType))
		return
	}
	elements := map[string]bool{}
	for _, pack := range s.catalog.Packs {
		for _, task := range pack.Tasks {
			for _, e := range task.Elements {
				elements[e.ID] = true
			}
		}
	}
	for p, phase := range list.Phases {
		for i, item := range phase.Items {
			at := fmt.Sprintf("$.phases[%d].items[%d]", p, i)
			if item.Check != "" && t.Limits[item.Check] == nil {
				s.at(at+".check", fmt.Sprintf("%q is no check that the %s has limits for", item.Check, t.Name))
			}
			for g, name := range item.Gauges {
				if t.Limits["gauges"][name] == nil {
					s.at(fmt.Sprintf("%s.gauges[%d]", at, g), fmt.Sprintf("%q is no gauge that the %s has limits for", name, t.Name))
				}
			}
			if len(t.Cockpit) > 0 && item.Place != "" && !slices.ContainsFunc(t.Cockpit, func(p aircraft.Place) bool { return p.ID == item.Place }) {
				s.at(at+".place", fmt.Sprintf("%q is no place in the cockpit of the %s", item.Place, t.Name))
			}
			s.names(at+".when", item.When)
			for field, ids := range map[string][]string{"elements": item.Elements, "knowledge": item.Knowledge} {
				for e, id := range ids {
					if !elements[id] {
						s.at(fmt.Sprintf("%s.%s[%d]", at, field, e), fmt.Sprintf("%q is in no standards pack", id))
					}
				}
			}
		}
	}
}

// names checks that a condition asks for equipment and exercises that exist.
func (s *source) names(at, when string) {
	condition, err := checklist.ParseCondition(when)
	if err != nil {
		return // Faults has reported it
	}
	for _, name := range condition.Names("fitted") {
		fitted := func(t aircraft.Type) bool {
			return slices.ContainsFunc(t.Equipment, func(e aircraft.Equipment) bool { return e.ID == name })
		}
		if !slices.ContainsFunc(s.catalog.Types, fitted) {
			s.at(at, fmt.Sprintf("%q is equipment of no type", name))
		}
	}
	for _, name := range condition.Names("planned") {
		if !slices.ContainsFunc(s.catalog.Exercises, func(e Exercise) bool { return e.ID == name }) {
			s.at(at, fmt.Sprintf("%q is no exercise", name))
		}
	}
}

// source is one file being read.
type source struct {
	*loader
	name string
	data []byte
	tree *ast.File // parsed when the first mistake needs a line
}

// decode reads the whole file into a T, and hands a readable one on to then.
func decode[T any](s *source, then func(T)) {
	var out T
	if err := yaml.UnmarshalWithOptions(s.data, &out, yaml.Strict()); err != nil {
		m := Mistake{s.name, 0, err.Error()}
		var located yaml.Error
		if errors.As(err, &located) {
			m.Reason = located.GetMessage()
			if token := located.GetToken(); token != nil {
				m.Line = token.Position.Line
			}
		}
		s.mistakes = append(s.mistakes, m)
		return
	}
	then(out)
}

func (s *source) report(faults []aircraft.Fault) {
	for _, f := range faults {
		s.at(f.Path, f.Reason)
	}
}

// at reports a mistake at a path; where the path does not exist, its nearest
// existing parent gives the line.
func (s *source) at(where, reason string) {
	m := Mistake{s.name, 0, strings.TrimPrefix(strings.TrimPrefix(where, "$"), ".") + " " + reason}
	if s.tree == nil {
		s.tree, _ = parser.ParseBytes(s.data, 0) // what cannot be parsed has no lines
	}
	for at := where; s.tree != nil && at != ""; {
		if p, err := yaml.PathString(at); err == nil {
			if node, err := p.FilterFile(s.tree); err == nil && node != nil {
				m.Line = node.GetToken().Position.Line
				break
			}
		}
		cut := strings.LastIndexAny(at, ".[")
		if cut < 0 {
			break
		}
		at = at[:cut]
	}
	s.mistakes = append(s.mistakes, m)
}

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
func (c *Catalog) Scale(id string) (lesson.Scale, bool) {
	return find(c.Scales, func(s lesson.Scale) bool { return s.ID == id })
}

// Book finds what a lesson with that opening event is folded against.
func (c *Catalog) Book(opened lesson.Opened) (lesson.Book, error) {
	t, ok := c.TypeVersion(opened.AircraftType, opened.TypeVersion)
	if !ok {
		return lesson.Book{}, fmt.Errorf("aircraft type %s version %d is not in the catalog", opened.AircraftType, opened.TypeVersion)
	}
	list, ok := c.ListVersion(opened.List, opened.ListVersion)
	if !ok || list.AircraftType != t.ID {
		return lesson.Book{}, fmt.Errorf("checklist %s version %d for the %s is not in the catalog", opened.List, opened.ListVersion, t.Name)
	}
	if _, ok := c.Scale(opened.Scale); !ok {
		return lesson.Book{}, fmt.Errorf("scale %s is not in the catalog", opened.Scale)
	}
	return lesson.Book{Type: t, List: list}, nil
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
