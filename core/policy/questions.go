package policy

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/quantity"
	"jetprimer/core/schedule"
	"jetprimer/core/words"
)

// Choice is one of the ways in which a question is decided.
type Choice struct {
	ID    string `json:"id"`
	Words string `json:"words"`
}

// Row is one decision as it is asked: a number, one of some ways, or some of them.
type Row struct {
	Path  string `json:"path"`
	Group string `json:"group"`
	Label string `json:"label"`
	// Words say what schools do, and why.
	Words string `json:"words"`
	Unit  string `json:"unit,omitempty"`
	// Text is the number, in the units that the person reads.
	Text string `json:"text"`
	// Choices are there where one, or with Several some, are chosen.
	Choices []Choice `json:"choices"`
	Chosen  []string `json:"chosen"`
	Several bool     `json:"several"`
	// Fault says what is wrong with the decision as it stands.
	Problem string `json:"problem,omitempty"`
	// Was is what the policy says that it is compared with, where that differs.
	Was string `json:"was,omitempty"`
}

// question is how a decision is read and set.
type question struct {
	path, group, label, unit, words string
	low, high                       int
	number                          *number
	// one is one way, many are several.
	one     *way
	many    func(p *Policy) *[]string
	choices func(k Known) []Choice
}

// number is how a number is read and set: nil where the policy has none, which may
// be set only where empty says so.
type number struct {
	get   func(p Policy) *int
	set   func(p *Policy, n *int)
	empty bool
}

func counted(of func(p *Policy) *int) *number {
	return &number{get: func(p Policy) *int { return of(&p) }, set: func(p *Policy, n *int) { *of(p) = *n }}
}

// way is how the id of one choice is read and set.
type way struct {
	get func(p Policy) string
	set func(p *Policy, id string)
}

func worded(of func(p *Policy) *string) *way {
	return &way{get: func(p Policy) string { return *of(&p) }, set: func(p *Policy, id string) { *of(p) = id }}
}

// Known is what a policy chooses from besides its own words.
type Known struct {
	Scales []Choice `json:"scales"`
	Packs  []Choice `json:"packs"`
	// Types with more than one engine have an order of starting.
	Types []aircraft.Type `json:"types"`
}

func only(all ...Choice) func(Known) []Choice { return func(Known) []Choice { return all } }

var questions = []question{
	{path: "standing.enter.lessons", group: "Standing", label: "lessons in a row to be to standard", low: 1, high: 10,
		words: "Two are soon done and soon lost; most schools ask for three, so that one good day is not taken for " +
			"a skill.",
		number: counted(func(p *Policy) *int { return &p.Standing.Enter.Lessons })},
	{path: "standing.atLeast", group: "Standing", label: "level that counts as to standard", low: 2, high: 4,
		words:  "3 allows a slip that the student notices alone; 4 asks for none at all.",
		number: counted(func(p *Policy) *int { return &p.Standing.AtLeast })},
	{path: "standing.enter.touched", group: "Standing", label: "level of the newest of them", low: 2, high: 4,
		words:  "The last lesson before a standing shows it unprompted: 4.",
		number: counted(func(p *Policy) *int { return &p.Standing.Enter.Touched })},
	{path: "standing.enter.clearOfZero", group: "Standing", label: "lessons without an unsafe act", low: 1, high: 20,
		words:  "An unsafe act keeps a standing away until so many lessons have gone by without one.",
		number: counted(func(p *Policy) *int { return &p.Standing.Enter.ClearOfZero })},
	{path: "standing.lose.below", group: "Standing", label: "lessons below it that lose a standing", low: 1, high: 10,
		words:  "One slip is shown as a slip; two of the last three take the standing.",
		number: counted(func(p *Policy) *int { return &p.Standing.Lose.Below })},
	{path: "standing.lose.of", group: "Standing", label: "of the last so many lessons", low: 1, high: 10,
		words:  "The window in which slips add up.",
		number: counted(func(p *Policy) *int { return &p.Standing.Lose.Of })},
	{path: "standing.restore", group: "Standing", label: "lessons that bring back what was lost", low: 1, high: 10,
		words:  "What was once to standard comes back sooner than it was first reached.",
		number: counted(func(p *Policy) *int { return &p.Standing.Restore })},
	{path: "standing.lapseDays", group: "Standing", label: "lapses after days without a showing", unit: "days", low: 7,
		high:   730,
		words:  "Flows fade: most schools count two months, those with long winters more.",
		number: counted(func(p *Policy) *int { return &p.Standing.LapseDays })},
	{path: "standing.consolidated.lessons", group: "Standing", label: "lessons to be consolidated", low: 1, high: 20,
		words:  "What has held for so long, with more than one instructor, is no longer practised for its own sake.",
		number: counted(func(p *Policy) *int { return &p.Standing.Consolidated.Lessons })},
	{path: "standing.consolidated.instructors", group: "Standing", label: "instructors who have seen it", low: 1,
		high:   5,
		words:  "Two see different things.",
		number: counted(func(p *Policy) *int { return &p.Standing.Consolidated.Instructors })},
	{path: "standing.criticalLessons", group: "Readiness", label: "later lessons that answer a critical error", low: 1,
		high: 10,
		words: "The same item right in so many later lessons; where its condition does not come, the chief " +
			"instructor decides.",
		number: counted(func(p *Policy) *int { return &p.Standing.CriticalLessons })},
	{path: "standing.practiceCounts", group: "Readiness", label: "practice on the stand and in simulators",
		one: &way{
			get: func(p Policy) string { return strconv.FormatBool(p.Standing.PracticeCounts) },
			set: func(p *Policy, id string) { p.Standing.PracticeCounts = id == "true" },
		},
		words: "It is shown wherever it was done, and it is never aircraft time. Most schools let only what was " +
			"seen in an aircraft count toward the checkride.",
		choices: only(Choice{"false", "is shown, and does not count"}, Choice{"true", "counts like an aircraft"})},
	{path: "standing.standards", group: "Readiness", label: "standards that students are held to",
		many: func(p *Policy) *[]string { return &p.Standing.Standards },
		words: "As far as each covers the student’s class. A school that trains for several authorities names more " +
			"than one.", choices: func(k Known) []Choice {
			return k.Packs
		}},
	{path: "methods", group: "Lessons", label: "ways of working a list",
		many: func(p *Policy) *[]string { return &p.Methods },
		words: "Read and do for beginners and rare lists; flow, then verify, as airlines and most checkrides have " +
			"it. The first is the usual one.", choices: func(Known) []Choice {
			return methodChoices()
		}},
	{path: "scales", group: "Lessons", label: "scales that lessons are graded on",
		many: func(p *Policy) *[]string { return &p.Scales },
		words: "One scale makes lessons comparable at a glance; a coarse one says less of each. The first is the " +
			"usual one.", choices: func(k Known) []Choice {
			return k.Scales
		}},
	{path: "timeRule", group: "Lessons", label: "flight time",
		one:     worded(func(p *Policy) *string { return &p.TimeRule }),
		words:   "By the hour meter as the aircraft is charged, or from moving off to the shutdown as the log book has it.",
		choices: only(Choice{"hour-meter", "by the hour meter"}, Choice{"block", "from moving off to the shutdown"})},
	{path: "fuelMethod", group: "Aircraft", label: "tanks",
		one: worded(func(p *Policy) *string { return &p.FuelMethod }),
		words: "Starting on the lower tank and changing before the run-up proves both; starting on the fuller " +
			"leaves nothing to forget. Lists and errors follow.",
		choices: only(Choice{"prove-both", "start on the lower, take off on the fuller"},
			Choice{"fuller-first", "start and take off on the fuller"})},
	{path: "deadCut", group: "Aircraft", label: "switch tested at OFF",
		one: &way{
			get: func(p Policy) string { return strconv.FormatBool(p.DeadCut) },
			set: func(p *Policy, id string) { p.DeadCut = id == "true" },
		},
		words: "A moment at OFF at idle shows that both magnetos can be grounded. Some schools leave it to " +
			"maintenance: it can damage an exhaust when done with power on.",
		choices: only(Choice{"true", "tested"}, Choice{"false", "not tested"})},
	{path: "leaning", group: "Aircraft", label: "leaning on the ground",
		one: worded(func(p *Policy) *string { return &p.Leaning }),
		words: "Leaning keeps plugs clean where the maker allows it; some schools keep the lever forward on the " +
			"ground so that nobody takes off lean. Never leaves the mixture check off.",
		choices: only(Choice{"as-allowed", "where the maker allows it"}, Choice{"never", "never"})},
	{path: "breakers", group: "Aircraft", label: "a breaker that has opened",
		one: worded(func(p *Policy) *string { return &p.Breakers }),
		words: "It has a reason. Many schools allow one setting, once, after it has cooled and only when it is " +
			"needed; others leave it open and write it up. The item says so.",
		choices: only(Choice{"once", "set once, when needed"}, Choice{"never", "stays open, written up"})},
	{path: "passing", group: "Lessons", label: "a touch on a later line passes",
		one: &way{get: func(p Policy) string { return cmp.Or(p.Passing, lesson.Passings[0]) },
			set: func(p *Policy, id string) {
				if p.Passing = id; id == lesson.Passings[0] {
					p.Passing = "" // as policies from before it was asked have it
				}
			}},
		words: "Grading by exception passes what nobody marked. Some schools let critical items and measured " +
			"checks stop it, so that each of them has a mark or a number of its own.",
		choices: only(Choice{lesson.Passings[0], "everything in between"},
			Choice{lesson.Passings[1], "nothing critical, nothing measured"})},
	{path: "paper", group: "Lessons", label: "a lesson that was kept on paper is written down by",
		one: &way{get: func(p Policy) string { return cmp.Or(p.Paper, lesson.Papers[0]) },
			set: func(p *Policy, id string) {
				if p.Paper = id; id == lesson.Papers[0] {
					p.Paper = "" // as policies from before it was asked have it
				}
			}},
		words: "It counts like any other, says on every sheet that it comes from paper, and claims no minutes but " +
			"those that stand there. Some schools let whoever gave it write it down, some take none.",
		choices: only(Choice{lesson.Papers[0], "the chief instructor"}, Choice{lesson.Papers[1], "whoever gave it"},
			Choice{lesson.Papers[2], "nobody: there is no such lesson"})},
	{path: "turnBackFt", group: "Aircraft", label: "turning back is thought of from, above the field", unit: "ft",
		low: 200, high: 3000,
		words: "Below it the flight goes on ahead. Few put it below 700 ft with a student; empty is never.",
		number: &number{
			get: func(p Policy) *int { return p.TurnBackFt }, set: func(p *Policy, n *int) { p.TurnBackFt = n },
			empty: true,
		}},
	planned("leave", "somebody is on leave",
		"A lesson with somebody who is away is refused by most, since nobody would be there.",
		func(p *schedule.Planning) *string { return &p.Leave }),
	planned("shifts", "outside of an instructor’s hours",
		"Most warn, so that an early start can be agreed; those who pay by the shift refuse.",
		func(p *schedule.Planning) *string { return &p.Shifts }),
	planned("outOfService", "an aircraft that is not to be had", "In the workshop or lent: refused by most.",
		func(p *schedule.Planning) *string { return &p.OutOfService }),
	planned("grounded", "an aircraft that is grounded now",
		"It may fly again by then, so most warn; some plan nothing on it until it is returned.",
		func(p *schedule.Planning) *string { return &p.Grounded }),
	planned("prerequisites", "exercises before what they build on",
		"Spins before stalls, navigation before circuits: most warn, since a student may have flown them elsewhere.",
		func(p *schedule.Planning) *string { return &p.Prerequisites }),
	{path: "keepYears", group: "Records", label: "names are kept after somebody has left", unit: "years", low: 1,
		high: 60,
		words: "Authorities ask for some years of a training record, privacy for no more. After it a name is " +
			"replaced by a pseudonym; the signatures stay provable.",
		number: counted(func(p *Policy) *int { return &p.KeepYears })},
}

// planning is the group of what stands against a lesson that is planned.
const planning = "Planning"

// planned is what is done where something stands against a lesson; what was left
// empty reads as the usual.
func planned(path, label, words string, of func(p *schedule.Planning) *string) question {
	return question{path: "planning." + path, group: planning, label: "planned: " + label, words: words,
		one: &way{
			get: func(p Policy) string { usual := p.Planning.Usual(); return *of(&usual) },
			set: func(p *Policy, id string) { *of(&p.Planning) = id },
		},
		choices: only(Choice{schedule.Refuse, "refused"}, Choice{schedule.Warn, "warned of"},
			Choice{schedule.Allow, "said nothing of"})}
}

func methodChoices() []Choice {
	out := []Choice{}
	for _, w := range words.All().Methods {
		out = append(out, Choice{w.ID, w.Words})
	}
	return out
}

// Sheet is a policy as it is asked, question by question.
type Sheet struct {
	Rows []Row `json:"rows"`
	// Faults are mistakes that belong to no row.
	Problems []form.Problem `json:"problems"`
}

// SheetOf is the sheet of a policy, in the units of a person, beside another that
// it is compared with; nil for none.
func SheetOf(p Policy, older *Policy, k Known, u quantity.Units) Sheet {
	out := Sheet{Rows: []Row{}, Problems: []form.Problem{}}
	said := map[string]string{}
	for _, f := range p.Problems() {
		said[strings.TrimPrefix(f.Field, "$.")] = f.Reason
	}
	for _, q := range everyQuestion(p, k) {
		r := q.row(p, k, u)
		r.Problem = said[q.path]
		delete(said, q.path)
		if older != nil {
			if was := q.row(*older, k, u); !slices.Equal(was.Chosen, r.Chosen) || was.Text != r.Text {
				r.Was = was.text()
			}
		}
		out.Rows = append(out.Rows, r)
	}
	for _, f := range p.Problems() {
		if reason, left := said[strings.TrimPrefix(f.Field, "$.")]; left {
			out.Problems = append(out.Problems, form.Problem{Field: f.Field, Reason: reason})
		}
	}
	return out
}

// maxStages is how many stage checks a policy has at most.
const maxStages = 20

// everyQuestion are the questions with those of the stages and of the types with
// more than one engine.
func everyQuestion(p Policy, k Known) []question {
	out := slices.Clone(questions)
	at := slices.IndexFunc(out, func(q question) bool { return q.path == "methods" })
	for i, s := range p.Standing.Stages[:min(len(p.Standing.Stages), maxStages)] {
		out = slices.Insert(out, at+i,
			question{path: fmt.Sprintf("standing.stages[%d].days", i), group: "Readiness",
				label: "a passed stage check counts: " + s.Title, unit: "days", low: 1, high: 3650,
				words: "So long after it was flown, with an instructor other than the one who recommends.",
				number: &number{get: func(p Policy) *int {
					if i >= len(p.Standing.Stages) {
						return nil
					}
					return &p.Standing.Stages[i].Days
				}, set: func(p *Policy, n *int) { p.Standing.Stages[i].Days = *n }}})
	}
	at = slices.IndexFunc(out, func(q question) bool { return q.path == "turnBackFt" })
	for _, t := range k.Types {
		if t.Engines != 2 {
			continue
		}
		out = slices.Insert(out, at,
			question{path: "startOrders." + t.ID, group: "Aircraft", label: t.Name + ": engines started",
				words: "As the maker has it, or the other way round where the ramp or the battery asks for it.",
				one:   startOrder(t.ID),
				choices: only(Choice{"", "as the maker has it"},
					Choice{"1,2", t.EngineName(1) + ", then " + t.EngineName(2)}, Choice{
						"2,1", t.EngineName(2) + ", then " + t.EngineName(1),
					})})
	}
	return out
}

func (q question) row(p Policy, k Known, u quantity.Units) Row {
	r := Row{
		Path: q.path, Group: q.group, Label: q.label, Words: u.Say(q.words), Unit: u.For(q.unit), Choices: []Choice{},
		Chosen: []string{}, Several: q.many != nil,
	}
	if q.choices != nil {
		r.Choices = append(r.Choices, q.choices(k)...)
	}
	switch {
	case q.number != nil:
		if n := q.number.get(p); n != nil {
			shown, _ := u.Show(quantity.Scaled(int64(*n), 0), q.unit)
			r.Text = shown.String()
		}
	case q.one != nil:
		r.Chosen = []string{q.one.get(p)}
	case q.many != nil:
		r.Chosen = append(r.Chosen, *q.many(&p)...)
	}
	return r
}

// problems are the mistakes in how a policy decides the question. Choices that depend on
// what a school has are not looked at: the program may be told of them later.
func (q question) problems(p Policy) (out []form.Problem) {
	add := func(path, format string, args ...any) {
		out = append(out, form.Problem{Field: "$." + path, Reason: fmt.Sprintf(format, args...)})
	}
	ids := []string{}
	if q.choices != nil {
		for _, c := range q.choices(Known{}) {
			ids = append(ids, c.ID)
		}
	}
	switch {
	case q.number != nil:
		switch n := q.number.get(p); {
		case n == nil || *n >= q.low && *n <= q.high:
		case q.number.empty:
			add(q.path, "must be %d to %d %s, or left out for never", q.low, q.high, q.unit)
		default:
			add(q.path, "must be %d to %d, not %d", q.low, q.high, *n)
		}
	case q.one != nil:
		if have := q.one.get(p); !slices.Contains(ids, have) {
			add(q.path, "%q is none of %v", have, ids)
		}
	case q.many != nil:
		have := *q.many(&p)
		if len(have) == 0 {
			add(q.path, "must name at least one")
		}
		for i, one := range have {
			if len(ids) > 0 && !slices.Contains(ids, one) || slices.Contains(have[:i], one) {
				add(fmt.Sprintf("%s[%d]", q.path, i), "%q is not known, or is there twice", one)
			}
		}
	}
	return out
}

// startOrder is the order in which the engines of a type are started, as "2,1";
// empty is the maker's.
func startOrder(typ string) *way {
	return &way{
		get: func(p Policy) string {
			order := []string{}
			for _, n := range p.StartOrders[typ] {
				order = append(order, strconv.Itoa(n))
			}
			return strings.Join(order, ",")
		},
		set: func(p *Policy, id string) {
			orders := maps.Clone(p.StartOrders)
			if orders == nil {
				orders = map[string][]int{}
			}
			delete(orders, typ)
			if id != "" {
				orders[typ] = map[string][]int{"1,2": {1, 2}, "2,1": {2, 1}}[id]
			}
			p.StartOrders = orders
		},
	}
}

// text is what a row decides, in words.
func (r Row) text() string {
	if len(r.Choices) == 0 {
		if r.Text == "" {
			return "never"
		}
		return strings.TrimSpace(r.Text + " " + r.Unit)
	}
	words := []string{}
	for _, id := range r.Chosen {
		i := slices.IndexFunc(r.Choices, func(c Choice) bool { return c.ID == id })
		if i < 0 {
			words = append(words, id)
		} else {
			words = append(words, r.Choices[i].Words)
		}
	}
	return strings.Join(words, ", ")
}

// Edit is one decision: a number as it was typed, or what is chosen.
type Edit struct {
	Path   string   `json:"path"`
	Text   string   `json:"text,omitempty"`
	Chosen []string `json:"chosen,omitempty"`
}

// Apply makes one decision. The error is an form.Problem that names the path.
func Apply(p Policy, e Edit, k Known, u quantity.Units) (Policy, error) {
	all := everyQuestion(p, k)
	i := slices.IndexFunc(all, func(q question) bool { return q.path == e.Path })
	if i < 0 {
		return p, form.Bad("path", "%q is no decision of a policy", form.Clip(e.Path))
	}
	q := all[i]
	p.Standing.Stages = slices.Clone(p.Standing.Stages)
	if q.choices == nil {
		return q.setNumber(p, e.Text, u)
	}
	choices := q.choices(k)
	for _, id := range e.Chosen {
		if !slices.ContainsFunc(choices, func(c Choice) bool { return c.ID == id }) {
			return p, form.Bad(e.Path, "cannot be %q", form.Clip(id))
		}
	}
	if q.many != nil {
		*q.many(&p) = slices.Clone(e.Chosen)
		return p, nil
	}
	if len(e.Chosen) != 1 {
		return p, form.Bad(e.Path, "is decided one way")
	}
	q.one.set(&p, e.Chosen[0])
	return p, nil
}

func (q question) setNumber(p Policy, text string, u quantity.Units) (Policy, error) {
	text = strings.TrimSpace(text)
	if q.number.empty && text == "" {
		q.number.set(&p, nil)
		return p, nil
	}
	unit := u.For(q.unit)
	plain, why := form.PlainNumber(text, unit)
	if why != "" {
		return p, form.Bad(q.path, "is %s", why)
	}
	v, err := quantity.Parse(plain.String(), quantity.MaxDecimals)
	if err == nil {
		v, err = quantity.Converted(v, unit, q.unit)
	}
	if err != nil {
		return p, form.Bad(q.path, "is too large or too fine")
	}
	n, _ := v.At(0).Units()
	if unit == q.unit && v.Cmp(quantity.Scaled(n, 0)) != 0 {
		return p, form.Bad(q.path, "is a whole number")
	}
	if n < int64(q.low) || n > int64(q.high) {
		return p, form.Bad(q.path, "must be %d to %d%s", q.low, q.high, strings.TrimRight(" "+q.unit, " "))
	}
	whole := int(n)
	q.number.set(&p, &whole)
	return p, nil
}
