package handbook

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// Edit is what a person did to one number: typed it, named its page, took the
// habit, or left it out. Members that are nil stay as they are.
type Edit struct {
	Path string `json:"path"`
	// Text is the number as the handbook has it; empty takes it away.
	Text *string `json:"text,omitempty"`
	Page *string `json:"page,omitempty"`
	// Habit takes the number that schools usually take.
	Habit bool `json:"habit,omitempty"`
	// Left says that the handbook gives none and it is left out; false asks for it
	// again.
	Left *bool `json:"left,omitempty"`
}

// Apply makes one edit. The error is an form.Problem that names the path and
// says what is wrong with what was typed.
func Apply(t aircraft.Type, e Edit) (aircraft.Type, error) {
	out, err := cloned(t)
	if err != nil {
		return t, err
	}
	n, known := find(&out, e.Path)
	if !known {
		return t, form.Bad(e.Path, "is no number of the %s", t.Name)
	}
	if out.Handbook == nil {
		out.Handbook = &aircraft.Handbook{}
	}
	units, stands := out.Handbook.Units, out.Provenance(e.Path)
	silent := n.field.Silent
	switch {
	case e.Habit && (silent == nil || silent.Habit == 0):
		return t, form.Bad(e.Path, "has no usual number")
	case e.Habit:
		n.set(valueOf(silent.Habit, n.field.Decimals))
		stands = aircraft.Provenance{Habit: true}
	case e.Left != nil && *e.Left:
		switch {
		case n.field.Optional:
			n.clear()
		case silent != nil && silent.Zero:
			n.set(quantity.Scaled(0, n.field.Decimals))
		default:
			return t, form.Bad(e.Path, "cannot be left out: the check is not judged without it")
		}
		stands = aircraft.Provenance{Left: true}
	case e.Left != nil:
		n.clear()
		stands = aircraft.Provenance{}
	}
	if n.table != "" && (e.Text != nil || e.Left != nil) {
		return t, form.Bad(e.Path, "is typed as a table; only its page stands here")
	}
	if e.Text != nil {
		if stands, err = n.typed(*e.Text, stands, units); err != nil {
			return t, err
		}
	}
	if e.Page != nil {
		page := strings.TrimSpace(*e.Page)
		if len(page) > aircraft.MaxPage {
			return t, form.Bad(e.Path, "has a page of more than %d characters", aircraft.MaxPage)
		}
		stands.Page = page
		if page != "" {
			stands.Habit, stands.Left = false, false
		}
	}
	if out.Handbook.Numbers == nil {
		out.Handbook.Numbers = map[string]aircraft.Provenance{}
	}
	_, there := n.get()
	if !there && n.choice == nil && !stands.Told() || len(n.field.Choices) > 0 && n.choice() == "" {
		delete(out.Handbook.Numbers, e.Path)
	} else {
		out.Handbook.Numbers[e.Path] = stands
	}
	return out, nil
}

// typed sets the number from what was typed in the handbook's unit.
func (n number) typed(text string, s aircraft.Provenance, units quantity.Units) (aircraft.Provenance, error) {
	text = strings.TrimSpace(text)
	s.Habit, s.Left, s.As, s.Unit = false, false, "", ""
	if len(n.field.Choices) > 0 {
		if text != "" && !slices.Contains(n.field.Choices, text) {
			return s, form.Bad(n.path, "is one of %s, or nothing", strings.Join(n.field.Choices, ", "))
		}
		n.choose(text)
		return s, nil
	}
	if text == "" {
		n.clear()
		return s, nil
	}
	unit := units.For(n.field.Unit)
	plain, why := form.PlainNumber(text, unit)
	if why != "" {
		return s, form.Bad(n.path, "is %s", why)
	}
	v, err := quantity.Parse(plain.String(), quantity.MaxDecimals)
	if err != nil {
		return s, form.Bad(n.path, "is too large or too fine to be a number of a handbook")
	}
	if v.Sign() < 0 && !n.field.Signed && unit == n.field.Unit {
		return s, form.Bad(n.path, "cannot be below 0")
	}
	if unit == n.field.Unit {
		if v.Cmp(v.At(n.field.Decimals)) != 0 {
			return s, form.Bad(n.path, "is read in %s", finest(n.field.Decimals))
		}
	} else {
		s.As, s.Unit = plain.String(), unit
		if v, err = quantity.Converted(v, unit, n.field.Unit); err != nil {
			return s, form.Bad(n.path, "%v", err)
		}
	}
	if limit := quantity.Scaled(largest, 0); v.Abs().Above(limit) {
		return s, form.Bad(n.path, "is beyond anything an aircraft shows")
	}
	n.set(v)
	return s, nil
}

// largest bounds every number of a handbook.
const largest = 100_000

func find(t *aircraft.Type, path string) (number, bool) {
	for _, p := range parts(t) {
		for _, n := range p.numbers {
			if n.path == path {
				return n, true
			}
		}
	}
	return number{}, false
}

// Ask puts a check among those of the type, or leaves it off: the handbook gives
// no limits for it. What was typed for a check that is left off is gone.
func Ask(t aircraft.Type, name string, asked bool) (aircraft.Type, error) {
	out, err := cloned(t)
	if err != nil {
		return t, err
	}
	for i, e := range out.Equipment {
		for _, d := range check.All() {
			if name == fittedPath(e.ID, d.Name) {
				return askFitted(out, i, d.Name, asked)
			}
		}
	}
	d, known := check.Find(name)
	if !known || asked && !d.Fits(out) {
		return t, form.Bad("check", "%q is no check of such a type", name)
	}
	if out.Handbook == nil {
		out.Handbook = &aircraft.Handbook{}
	}
	h := out.Handbook
	h.LeftOff = slices.DeleteFunc(h.LeftOff, func(n string) bool { return n == name })
	switch {
	case asked && out.Limits[name] == nil:
		out.Limits[name] = map[string]any{}
	case !asked:
		leaveOff(&out, name)
	}
	return out, nil
}

// askFitted gives a piece of equipment limits of its own for a check, or takes them away.
func askFitted(t aircraft.Type, at int, name string, asked bool) (aircraft.Type, error) {
	e := &t.Equipment[at]
	switch {
	case !asked:
		withoutLimits(&t, at, name)
	case !e.Optional || t.Limits[name] == nil:
		return t, form.Bad("check",
			"%s can change only limits that the type has, and only where it may be fitted or not", e.Label)
	case e.Limits == nil:
		e.Limits = map[string]map[string]any{name: {}}
	case e.Limits[name] == nil:
		e.Limits[name] = map[string]any{}
	}
	return t, nil
}

// withoutLimits takes the limits of a check away from a piece of equipment.
func withoutLimits(t *aircraft.Type, at int, name string) {
	e := &t.Equipment[at]
	if delete(e.Limits, name); len(e.Limits) == 0 {
		e.Limits = nil
	}
	if t.Handbook != nil {
		maps.DeleteFunc(t.Handbook.Numbers, func(path string, _ aircraft.Provenance) bool {
			return strings.HasPrefix(path, fittedPath(e.ID, name)+".")
		})
	}
}

// besides are the parts that a handbook may have or not, beside checks: limits of
// wind, tanks, the table of priming and that of power.
var besides = map[string]func(t *aircraft.Type, has bool){
	"winds": func(t *aircraft.Type, has bool) { t.Winds = fresh(has, aircraft.Winds{}) },
	"fuel": func(t *aircraft.Type, has bool) {
		t.Fuel = fresh(has, aircraft.Fuel{Tanks: []aircraft.Tank{{ID: "main", Label: "main"}}})
	},
	"prime": func(t *aircraft.Type, has bool) {
		t.Prime = fresh(has, aircraft.Prime{
			Rows:    []aircraft.PrimeRow{{Engine: "cold", Method: "primer", Unit: "strokes"}},
			Flooded: aircraft.PrimeRow{Method: "none", Unit: "strokes"},
		})
	},
	"power": func(t *aircraft.Type, has bool) {
		full := []float64{100, 100, 100, 100}
		t.Power = fresh(has, aircraft.Table{
			Label: "torque for take-off at most", Unit: "%", AltitudesFt: []int{0, 4000, 8000},
			OATC: []int{-20, 0, 20, 40}, Values: [][]float64{full, full, full},
		})
	},
}

func fresh[T any](has bool, begins T) *T {
	if !has {
		return nil
	}
	return &begins
}

// Have begins a part that the handbook has besides its checks, with nothing in it
// yet, or takes it away.
func Have(t aircraft.Type, part string, has bool) (aircraft.Type, error) {
	set, known := besides[part]
	if !known {
		return t, form.Bad("part", "%q is none of %s", part, strings.Join(slices.Sorted(maps.Keys(besides)), ", "))
	}
	out, err := cloned(t)
	if err == nil {
		set(&out, has)
	}
	return out, err
}

func leaveOff(t *aircraft.Type, name string) {
	delete(t.Limits, name)
	maps.DeleteFunc(t.Handbook.Numbers, func(path string, _ aircraft.Provenance) bool {
		return strings.HasPrefix(path, checkPrefix+name+".")
	})
	t.Handbook.LeftOff = append(t.Handbook.LeftOff, name)
	slices.Sort(t.Handbook.LeftOff)
	for i := range t.Equipment {
		withoutLimits(t, i, name)
	}
}

// Blank is a type that has what the model has, and none of its numbers: its
// checks, gauges, times and places, to be filled in from a handbook.
func Blank(model aircraft.Type) (aircraft.Type, error) {
	out, err := Copy(model)
	if err != nil {
		return out, err
	}
	out.Handbook.From.Blank = true
	for _, p := range parts(&out) {
		for _, n := range p.numbers {
			n.clear()
			if len(n.field.Choices) > 0 {
				n.choose("")
			}
		}
	}
	for _, band := range out.Limits["gauges"] { // another handbook's powers
		if own, ok := band.(map[string]any); ok {
			delete(own, "at")
		}
	}
	for i := range out.Gauges {
		out.Gauges[i].From, out.Gauges[i].To = 0, 0
	}
	for i := range out.Equipment {
		out.Equipment[i].Limits = nil
	}
	out.Prime, out.Power, out.StartOrderWhy = nil, nil, ""
	return out, nil
}

// Copy is a type with all that the model has, to be changed where the handbook
// differs. No page of the model's handbook is one of its own.
func Copy(model aircraft.Type) (aircraft.Type, error) {
	out, err := cloned(model)
	if err != nil {
		return out, err
	}
	h := aircraft.Handbook{From: &aircraft.Origin{Type: model.ID, Version: model.Version}}
	if model.Handbook != nil {
		h.Units = model.Handbook.Units
	}
	out.ID, out.Name, out.Source, out.Version, out.Handbook = "", "", "", 1, &h
	return out, nil
}

// Settle is the type as it goes to the second person: checks that still lack
// limits are left off. The error says what stands in the way.
func Settle(t aircraft.Type) (aircraft.Type, error) {
	if t.Handbook == nil {
		return t, fmt.Errorf("nothing says where the numbers stand: open the type and name the page of each")
	}
	out, err := cloned(t)
	if err != nil {
		return t, err
	}
	sheet, err := SheetOf(out, nil)
	if err != nil {
		return t, err
	}
	if len(sheet.Waits) > 0 {
		return t, fmt.Errorf("%s", strings.Join(sheet.Waits, ", "))
	}
	for _, p := range sheet.Parts {
		if p.Check != "" && !p.Judged {
			leaveOff(&out, p.Check)
		}
		if p.Equipment && p.Given == 0 {
			if out, err = Ask(out, p.ID, false); err != nil {
				return t, err
			}
		}
	}
	there := map[string]bool{}
	for _, p := range parts(&out) {
		for _, n := range p.numbers {
			there[n.path] = true
		}
	}
	// what was said of a tank that is gone
	maps.DeleteFunc(out.Handbook.Numbers, func(path string, _ aircraft.Provenance) bool { return !there[path] })
	return out, nil
}

// Compared reports what of the type nobody says was compared with its page: the
// labels of the numbers that are not among the paths.
func Compared(t aircraft.Type, paths []string) ([]string, error) {
	sheet, err := SheetOf(t, nil)
	if err != nil {
		return nil, err
	}
	missed := []string{}
	for _, p := range sheet.Pages {
		for _, r := range p.Rows {
			if !slices.Contains(paths, r.Path) {
				missed = append(missed, r.Label)
			}
		}
	}
	return missed, nil
}

// problems are all that cannot be of a type that is being described. Limits that
// are only missing are no fault yet: they are asked for.
func problems(t aircraft.Type) []form.Problem {
	out := []form.Problem{}
	asked := map[string]bool{} // what is only missing is asked for
	for _, p := range parts(&t) {
		for _, n := range p.numbers {
			if _, there := n.get(); !there {
				asked["$."+n.path] = true
			}
		}
	}
	for i, s := range t.Speeds {
		asked[fmt.Sprintf("$.speeds[%d].knots", i)] = s.Knots == 0
	}
	for _, f := range t.Problems() {
		if !asked[f.Field] {
			out = append(out, f)
		}
	}
	for _, d := range check.All() {
		own := t.Limits[d.Name]
		if own == nil {
			continue
		}
		if !d.Fits(t) {
			out = append(out, form.Problem{
				Field:  "$.limits." + d.Name,
				Reason: fmt.Sprintf("%s: a type of this kind has nothing to check so.", d.Title),
			})
			continue
		}
		out = append(out, crossed(t, d)...)
	}
	for i, e := range t.Equipment {
		if e.Limits == nil {
			continue
		}
		fitted := t.With([]string{e.ID})
		for _, d := range check.All() {
			if e.Limits[d.Name] == nil || t.Limits[d.Name] == nil {
				continue
			}
			for _, f := range crossed(fitted, d) {
				out = append(out, form.Problem{
					Field:  fmt.Sprintf("$.equipment[%d].limits.%s", i, d.Name),
					Reason: "With " + e.Label + ": " + f.Reason,
				})
			}
		}
	}
	out = append(out, check.Impossible(t)...)
	out = append(out, changedSince(t)...)
	return form.SortProblems(out)
}

// crossed are the limits of one check that contradict each other, in sentences.
func crossed(t aircraft.Type, d check.Definition) []form.Problem {
	var out []form.Problem
	values := map[string]number{}
	for _, n := range checkPart(&t, d).numbers {
		values[n.path] = n
	}
	for path, low := range values {
		at := strings.LastIndexByte(path, '.')
		for _, pair := range d.Ordered() {
			if path[at+1:] != pair[0] {
				continue
			}
			high, known := values[path[:at+1]+pair[1]]
			a, there := low.get()
			if !known || !there {
				continue
			}
			if b, also := high.get(); also && a.Above(b) {
				out = append(out, form.Problem{
					Field: "$." + path,
					Reason: fmt.Sprintf("%s: %s, %s, lies above %s, %s. One of the two is misread.", d.Title, low.label,
						a, high.label, b),
				})
			}
		}
	}
	return out
}

// changedSince are numbers that are no longer what the handbook is said to have.
func changedSince(t aircraft.Type) []form.Problem {
	var out []form.Problem
	for _, p := range parts(&t) {
		for _, n := range p.numbers {
			s := t.Provenance(n.path)
			if s.As == "" {
				continue
			}
			v, there := n.get()
			as, err := quantity.Parse(s.As, quantity.MaxDecimals)
			if err == nil {
				as, err = quantity.Converted(as, s.Unit, n.field.Unit)
			}
			if err != nil || !there || as.At(n.field.Decimals).Cmp(v) != 0 {
				out = append(out, form.Problem{
					Field: "$." + n.path,
					Reason: fmt.Sprintf("%s: %s %s of the handbook is not the %s %s that is kept.", n.label, s.As,
						s.Unit, v, n.field.Unit),
				})
			}
		}
	}
	return out
}
