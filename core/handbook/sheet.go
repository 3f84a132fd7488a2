// Package handbook describes an aircraft type from its handbook, number by
// number: what is asked of its kind, in the handbook's own units, with the page
// of each; which checks can be judged already; what cannot be; and what stands
// between a draft and the second person who confirms it against the pages.
package handbook

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// Row is one number as it is asked.
type Row struct {
	Path  string `json:"path"`
	Label string `json:"label"`
	// Unit and Text are those of the handbook; Text is empty where none was typed.
	Unit string `json:"unit"`
	Text string `json:"text"`
	// Kept is the number in the unit of the rules, where that is another.
	Kept string `json:"kept,omitempty"`
	// Table says that it stands for a whole table, of which Text says how large it is.
	Table bool `json:"table,omitempty"`
	// Choices are there where words are chosen instead of a number.
	Choices []string `json:"choices,omitempty"`
	Page    string   `json:"page"`
	// Source says where the number comes from: page, habit, left, or nothing yet.
	Source string `json:"source" enum:",page,habit,left"`
	// MayLeave says that it may be left out; Words what is not judged then, and
	// Habit is the number that schools usually take, in Unit.
	MayLeave bool   `json:"mayLeave"`
	Words    string `json:"words,omitempty"`
	Habit    string `json:"habit,omitempty"`
	// Was is the number of what it is compared with, where that differs.
	Was *string `json:"was,omitempty"`
	// Lacks says what is asked for still: number, page, or nothing.
	Lacks string `json:"lacks" enum:",number,page"`
	// Fault says in a sentence why the number cannot be.
	Problem string `json:"problem,omitempty"`
}

// Part is a group of rows that are asked together: the limits of a check, or the
// speeds, times and the like of the type.
type Part struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	Words string `json:"words"`
	// Check is the check whose limits they are; empty for other parts.
	Check string `json:"check,omitempty"`
	Rows  []Row  `json:"rows"`
	// Given of Of rows have their number or are left out on purpose; Lacks counts
	// those that still need a number, Pages those whose source is not said.
	Given int `json:"given"`
	Of    int `json:"of"`
	Lacks int `json:"lacks"`
	Pages int `json:"pages"`
	// Judged says that the check can be judged as it stands.
	Judged bool `json:"judged"`
	// Fitted are the pieces of equipment that could have limits of their own for the
	// check, each named as Ask takes it.
	Fitted []Asked `json:"fitted,omitempty"`
	// Equipment says that these are limits of what may be fitted.
	Equipment bool `json:"equipment,omitempty"`
}

// Asked is a check that a type could have, or equipment that could change its limits.
type Asked struct {
	Check string `json:"check"`
	Title string `json:"title"`
}

// Page is what is to be compared on one page.
type Page struct {
	Page string `json:"page"`
	Rows []Row  `json:"rows"`
}

// Sheet is a type as it is described so far.
type Sheet struct {
	Parts []Part `json:"parts"`
	// Given of Of numbers are there or left out on purpose.
	Given int `json:"given"`
	Of    int `json:"of"`
	// Judged of Checks checks can be judged.
	Judged int `json:"judged"`
	Checks int `json:"checks"`
	// More are checks that the type could have besides; LeftOff those of them
	// that the handbook gives no limits for.
	More    []Asked `json:"more"`
	LeftOff []Asked `json:"leftOff"`
	// Faults are what cannot be, in sentences, with their paths.
	Problems []form.Problem `json:"problems"`
	// Waits are what stands between the draft and a second person.
	Waits []string `json:"waits"`
	// Pages are all numbers in the order of the handbook.
	Pages []Page `json:"pages"`
	// Changed are the rows that differ from what the type is compared with.
	Changed []Row `json:"changed"`
}

// SheetOf is the sheet of a type. older is what it is compared with: the type
// it came from or an earlier version; nil where there is none.
func SheetOf(t aircraft.Type, older *aircraft.Type) (Sheet, error) {
	out := Sheet{
		Parts: []Part{}, More: []Asked{}, LeftOff: []Asked{}, Problems: []form.Problem{}, Waits: []string{},
		Pages: []Page{}, Changed: []Row{},
	}
	own, err := cloned(t)
	if err != nil {
		return out, err
	}
	before := map[string]number{}
	if older != nil {
		then, err := cloned(*older)
		if err != nil {
			return out, err
		}
		for _, p := range parts(&then) {
			for _, n := range p.numbers {
				before[n.path] = n
			}
		}
	}
	out.Problems = problems(own)
	said := map[string]string{}
	for _, f := range out.Problems {
		said[strings.TrimPrefix(f.Field, "$.")] = f.Reason
	}
	units := quantity.Units{}
	if own.Handbook != nil {
		units = own.Handbook.Units
	}
	pages := 0
	for _, p := range parts(&own) {
		part := Part{ID: p.id, Title: p.title, Words: p.words, Check: p.check, Equipment: p.fitted, Rows: []Row{}}
		for _, n := range p.numbers {
			row := n.row(own.Provenance(n.path), units)
			row.Problem = said[n.path]
			if older != nil {
				row.was(n, before, units)
			}
			part.Rows = append(part.Rows, row)
			if row.Was != nil {
				changed := row
				changed.Label = p.title + ": " + row.Label
				out.Changed = append(out.Changed, changed)
			}
			part.Of++
			switch row.Lacks {
			case "number":
				part.Lacks++
			case "page":
				part.Pages++
				part.Given++
			default:
				part.Given++
			}
		}
		if p.check != "" {
			out.Checks++
			part.Judged = check.CheckLimits(p.check, own.Limits[p.check]) == nil
			if part.Judged {
				out.Judged++
			}
			for _, e := range own.Equipment {
				if e.Optional && e.Limits[p.check] == nil {
					part.Fitted = append(part.Fitted, Asked{fittedPath(e.ID, p.check), e.Label})
				}
			}
		}
		out.Given, out.Of, pages = out.Given+part.Given, out.Of+part.Of, pages+part.Pages
		out.Parts = append(out.Parts, part)
	}
	for _, d := range check.All() {
		asked := Asked{d.Name, d.Title}
		switch {
		case own.Handbook != nil && slices.Contains(own.Handbook.LeftOff, d.Name):
			out.LeftOff = append(out.LeftOff, asked)
		case own.Limits[d.Name] == nil && d.Fits(own):
			out.More = append(out.More, asked)
		}
	}
	out.Pages = byPage(out.Parts)
	out.Waits = waits(out, pages)
	return out, nil
}

// waits says what stands between a draft and the second person.
func waits(s Sheet, pages int) []string {
	out := []string{}
	count := func(n int, one, many string) {
		switch {
		case n == 1:
			out = append(out, "1 "+one)
		case n > 1:
			out = append(out, fmt.Sprintf("%d %s", n, many))
		}
	}
	count(len(s.Problems), "thing that cannot be", "things that cannot be")
	lacks := 0
	for _, p := range s.Parts {
		if p.Check == "" {
			lacks += p.Lacks
		}
	}
	count(lacks, "number that is no check's is missing", "numbers that are no check's are missing")
	count(pages, "number without its page", "numbers without their page")
	return out
}

// row is a number as it is asked, with what is said of its source.
func (n number) row(s aircraft.Provenance, units quantity.Units) Row {
	r := Row{Path: n.path, Label: n.label, Unit: units.For(n.field.Unit), Page: s.Page}
	silent := n.field.Silent
	r.MayLeave = n.field.Optional || silent != nil && silent.Zero
	if silent != nil {
		r.Words = silent.Words
		if silent.Habit != 0 {
			habit, _ := n.shown(valueOf(silent.Habit, n.field.Decimals), units)
			r.Habit = habit
		}
	}
	switch {
	case s.Page != "":
		r.Source = "page"
	case s.Habit:
		r.Source = "habit"
	case s.Left:
		r.Source = "left"
	}
	given := false
	if n.table != "" {
		r.Text, r.Table, given = n.table, true, true
	} else if len(n.field.Choices) > 0 {
		r.Choices, r.Text = n.field.Choices, n.choice()
		given = r.Text != ""
	} else if v, there := n.get(); there {
		given = true
		r.Text, r.Unit = n.shown(v, units)
		if s.As != "" && s.Unit == r.Unit {
			r.Text = s.As
		}
		if r.Unit != n.field.Unit {
			r.Kept = v.String() + " " + n.field.Unit
		}
	}
	switch {
	case !given && s.Left:
	case !given && n.field.Optional && !n.asked:
	case !given:
		r.Lacks = "number"
	case r.Source == "" && len(r.Choices) == 0:
		r.Lacks = "page"
	}
	return r
}

// shown is a value in the handbook's unit.
func (n number) shown(v quantity.Value, units quantity.Units) (text, unit string) {
	shown, unit := units.Show(v, n.field.Unit)
	return shown.String(), unit
}

// was notes what the number was before, where it differs.
func (r *Row) was(n number, before map[string]number, units quantity.Units) {
	then, known := before[n.path]
	was := ""
	switch {
	case n.table != "": // what of a table differs is seen in the grid
		return
	case !known:
	case len(n.field.Choices) > 0:
		was = then.choice()
	default:
		v, there := then.get()
		if now, same := n.get(); there && same && now.Cmp(v) == 0 {
			return
		}
		if there {
			was, _ = n.shown(v, units)
		}
	}
	if was != r.Text {
		r.Was = &was
	}
}

// byPage are all numbers that have a source or need one, page by page in the
// order of the handbook; habits come last.
func byPage(parts []Part) []Page {
	out := []Page{}
	for _, p := range parts {
		for _, r := range p.Rows {
			if r.Text == "" || len(r.Choices) > 0 {
				continue
			}
			name := r.Page
			if r.Source == "habit" {
				name = "our habit"
			}
			if name == "" {
				continue
			}
			r.Label = p.Title + ": " + r.Label
			i := slices.IndexFunc(out, func(g Page) bool { return g.Page == name })
			if i < 0 {
				out, i = append(out, Page{Page: name}), len(out)
			}
			out[i].Rows = append(out[i].Rows, r)
		}
	}
	slices.SortStableFunc(out, func(a, b Page) int { return comparePages(a.Page, b.Page) })
	return out
}

// comparePages orders pages as they lie in a handbook: 4-9 before 4-17, and the
// school's habits behind all of them.
func comparePages(a, b string) int {
	if c := cmp.Compare(habitLast(a), habitLast(b)); c != 0 {
		return c
	}
	for a != "" && b != "" {
		an, arest, aDigits := leading(a)
		bn, brest, bDigits := leading(b)
		if aDigits && bDigits {
			x, _ := strconv.Atoi(an)
			y, _ := strconv.Atoi(bn)
			if c := cmp.Compare(x, y); c != 0 {
				return c
			}
		} else if c := strings.Compare(an, bn); c != 0 {
			return c
		}
		a, b = arest, brest
	}
	return cmp.Compare(len(a), len(b))
}

func habitLast(page string) int {
	if page == "our habit" {
		return 1
	}
	return 0
}

// leading cuts the run of digits, or of anything else, that a text begins with.
func leading(s string) (run, rest string, digits bool) {
	digits = unicode.IsDigit(rune(s[0]))
	i := strings.IndexFunc(s, func(r rune) bool { return unicode.IsDigit(r) != digits })
	if i < 0 {
		i = len(s)
	}
	return s[:i], s[i:], digits
}
