package checklist

import (
	"fmt"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"jetprimer/core/aircraft"
	"jetprimer/core/quantity"
)

// A Condition says on which days, aircraft and lessons an item or a layer's
// change applies. It is written like
//
//	oat < 5 °C and not engine is hot
//	night or rules is IFR
//	fitted(autopilot) and (planned(stalls) or firstFlight)
//
// Numbers are compared with < <= > >= and "is", words with "is"; flags stand
// alone; "not", "and" and "or" bind in that order, parentheses group. A number
// is in the variable's own unit, or carries the one it is in.
type Condition struct {
	root node
}

// ConditionError is a mistake in a condition: At is the column, from 1, counted
// in characters.
type ConditionError struct {
	At     int
	Reason string
}

func (e *ConditionError) Error() string { return fmt.Sprintf("column %d: %s", e.At, e.Reason) }

// Variable is something about the day that a condition may ask for.
type Variable struct {
	Name  string `json:"name"`
	Label string `json:"label"`
	// Unit is that of a number; Choices are the words of a word; a variable
	// with neither is a flag.
	Unit    string   `json:"unit,omitempty"`
	Choices []string `json:"choices,omitempty"`
	// apart marks how far two numbers lie apart.
	apart bool
	// TakesName marks what is asked of a name, such as fitted(autopilot).
	TakesName bool `json:"takesName,omitempty"`
	// yes and no tell a flag's two states in a sentence.
	yes, no string
}

// Variables lists what conditions may ask for.
var Variables = []Variable{
	{Name: "oat", Label: "outside air", Unit: "°C"},
	{Name: "dewPoint", Label: "dew point", Unit: "°C"},
	{Name: "spread", Label: "spread of outside air and dew point", Unit: "°C", apart: true},
	{Name: "wind", Label: "wind", Unit: "kt"},
	{Name: "gust", Label: "gusts", Unit: "kt"},
	{Name: "elevation", Label: "elevation", Unit: "ft"},
	{Name: "densityAltitude", Label: "density altitude", Unit: "ft"},
	{Name: "rules", Label: "rules", Choices: []string{"VFR", "IFR"}},
	{Name: "engine", Label: "engine", Choices: []string{"cold", "warm", "hot"}},
	{Name: "fuelMethod", Label: "the school’s fuel method", Choices: aircraft.FuelMethods},
	{Name: "night", Label: "night", yes: "it is night", no: "it is day"},
	{
		Name: "firstFlight", Label: "first flight of the day", yes: "it is the first flight of the day",
		no: "it is not the first flight of the day",
	},
	{Name: "fitted", Label: "equipment fitted", TakesName: true, yes: "fitted with %s", no: "not fitted with %s"},
	{
		Name: "planned", Label: "exercise planned", TakesName: true, yes: "planned for the flight: %s",
		no: "not planned for the flight: %s",
	},
}

// truth is yes, no or not known.
type truth int

const (
	no truth = iota
	unknown
	yes
)

// facts answer for the variables of one day.
type facts struct {
	numbers map[string]quantity.Value
	words   map[string]string
	flags   map[string]bool
	named   map[string][]string
}

// node is a part of a condition; eval gives its truth and, in words, why.
type node interface {
	eval(f facts) (truth, string)
	text(outer int) string
}

// unknown says that the day does not tell the variable.
func (v Variable) unknown() string { return v.is() + " not known" }

// is is the label with its verb.
func (v Variable) is() string {
	if strings.HasSuffix(v.Label, "s") {
		return v.Label + " are"
	}
	return v.Label + " is"
}

type comparison struct {
	of    Variable
	op    string
	value quantity.Value
	// written is the value in the unit that it is written in.
	written quantity.Value
	unit    string
}

func (c comparison) text(int) string {
	return fmt.Sprintf("%s %s %s %s", c.of.Name, c.op, c.written, c.unit)
}

func (c comparison) eval(f facts) (truth, string) {
	v, known := f.numbers[c.of.Name]
	if !known {
		return unknown, c.of.unknown()
	}
	cmp := v.Cmp(c.value)
	holds := map[string]bool{"<": cmp < 0, "<=": cmp <= 0, ">": cmp > 0, ">=": cmp >= 0, "is": cmp == 0}[c.op]
	if c.of.apart {
		return truthOf(holds), fmt.Sprintf("outside air and dew point are %s %s apart", v, c.of.Unit)
	}
	return truthOf(holds), fmt.Sprintf("%s %s %s", c.of.is(), v, c.of.Unit)
}

type choice struct {
	of   Variable
	word string
}

func (c choice) text(int) string { return c.of.Name + " is " + c.word }

func (c choice) eval(f facts) (truth, string) {
	word, known := f.words[c.of.Name]
	if !known {
		return unknown, c.of.unknown()
	}
	return truthOf(word == c.word), c.of.is() + " " + spoken(word)
}

// spoken is a word of a condition as it is said.
func spoken(word string) string { return strings.ReplaceAll(word, "-", " ") }

type flag struct {
	of   Variable
	name string // of what is asked, where the variable takes a name
}

func (c flag) text(int) string {
	if c.of.TakesName {
		return c.of.Name + "(" + c.name + ")"
	}
	return c.of.Name
}

func (c flag) eval(f facts) (truth, string) {
	holds, known := f.flags[c.of.Name]
	if c.of.TakesName {
		holds, known = slices.Contains(f.named[c.of.Name], c.name), true
	}
	say := c.of.no
	switch {
	case !known:
		return unknown, c.of.unknown()
	case holds:
		say = c.of.yes
	}
	if c.of.TakesName {
		say = fmt.Sprintf(say, spoken(c.name))
	}
	return truthOf(holds), say
}

func truthOf(holds bool) truth {
	if holds {
		return yes
	}
	return no
}

type negation struct{ of node }

func (n negation) text(int) string { return "not " + n.of.text(3) }

func (n negation) eval(f facts) (truth, string) {
	t, why := n.of.eval(f)
	return yes - t, why
}

// join is "and" or "or" of several parts.
type join struct {
	or    bool
	parts []node
}

func (j join) text(outer int) string {
	word, level := " and ", 2
	if j.or {
		word, level = " or ", 1
	}
	parts := make([]string, len(j.parts))
	for i, p := range j.parts {
		parts[i] = p.text(level + 1)
	}
	if text := strings.Join(parts, word); outer <= level {
		return text
	}
	return "(" + strings.Join(parts, word) + ")"
}

// eval takes the first part that decides; where none does, all parts together
// are the reason.
func (j join) eval(f facts) (truth, string) {
	decides, result := no, yes
	if j.or {
		decides, result = yes, no
	}
	var all, open []string
	for _, p := range j.parts {
		t, why := p.eval(f)
		if t == decides {
			return t, why
		}
		if t == unknown {
			result, open = unknown, append(open, why)
		}
		all = append(all, why)
	}
	if result == unknown {
		all = open
	}
	return result, strings.Join(all, ", ")
}

// String is the condition in its plain form: parsed again it is the same.
func (c Condition) String() string {
	if c.root == nil {
		return ""
	}
	return c.root.text(0)
}

// eval is the truth on a day; an empty condition always holds.
func (c Condition) eval(f facts) (truth, string) {
	if c.root == nil {
		return yes, ""
	}
	return c.root.eval(f)
}

// Names lists what the condition asks for by a variable that takes names, such
// as the equipment asked for by fitted.
func (c Condition) Names(variable string) []string {
	var out []string
	var walk func(n node)
	walk = func(n node) {
		switch n := n.(type) {
		case flag:
			if n.of.Name == variable && n.name != "" {
				out = append(out, n.name)
			}
		case negation:
			walk(n.of)
		case join:
			for _, p := range n.parts {
				walk(p)
			}
		}
	}
	walk(c.root)
	return out
}

// The bounds of a condition: nobody reads a longer one.
const (
	maxConditionBytes = 400
	maxConditionDepth = 20
)

// ParseCondition reads a condition; an empty text always holds. The error is a
// *ConditionError.
func ParseCondition(text string) (Condition, error) {
	if strings.TrimSpace(text) == "" {
		return Condition{}, nil
	}
	if len(text) > maxConditionBytes {
		return Condition{}, &ConditionError{1, fmt.Sprintf("has %d bytes; %d are allowed", len(text),
			maxConditionBytes)}
	}
	p := &conditionParser{}
	if err := p.scan(text); err != nil {
		return Condition{}, err
	}
	root, err := p.any(0)
	if err != nil {
		return Condition{}, err
	}
	if t := p.peek(); t.kind != end {
		return Condition{}, p.wrong(t, "is not expected here; join parts with and, or")
	}
	return Condition{root}, nil
}

type tokenKind int

const (
	end tokenKind = iota
	word
	number
	unit
	symbol
)

type token struct {
	kind tokenKind
	text string
	at   int
}

type conditionParser struct {
	tokens []token
	next   int
}

func (p *conditionParser) peek() token { return p.tokens[p.next] }

func (p *conditionParser) take() token {
	t := p.tokens[p.next]
	if t.kind != end {
		p.next++
	}
	return t
}

func (p *conditionParser) takeIf(text string) bool {
	if p.peek().kind != end && p.peek().text == text {
		p.next++
		return true
	}
	return false
}

func (p *conditionParser) wrong(t token, format string, args ...any) error {
	reason := fmt.Sprintf(format, args...)
	if t.kind == end {
		return &ConditionError{t.at, "the condition ends too early: it " + reason}
	}
	return &ConditionError{t.at, fmt.Sprintf("%q %s", t.text, reason)}
}

// scan splits the text into tokens.
func (p *conditionParser) scan(text string) error {
	if !utf8.ValidString(text) {
		return &ConditionError{1, "is not valid UTF-8"}
	}
	runes := []rune(text)
	for i := 0; i < len(runes); {
		from := i
		kind := symbol
		switch r := runes[i]; {
		case r == ' ':
			i++
			continue
		case isWordRune(r) && !isDigit(r):
			kind = word
			for i < len(runes) && (isWordRune(runes[i]) || runes[i] == '-') {
				i++
			}
		case isDigit(r), (r == '-' || r == '−') && i+1 < len(runes) && isDigit(runes[i+1]):
			kind = number
			for i++; i < len(runes) && (isDigit(runes[i]) || runes[i] == '.'); i++ {
			}
		case r == '°' && i+1 < len(runes) && (runes[i+1] == 'C' || runes[i+1] == 'F'):
			kind, i = unit, i+2
		case (r == '<' || r == '>') && i+1 < len(runes) && runes[i+1] == '=':
			i += 2
		case strings.ContainsRune("<>()", r):
			i++
		default:
			return &ConditionError{i + 1, fmt.Sprintf("%q has no meaning here", r)}
		}
		p.tokens = append(p.tokens, token{kind, string(runes[from:i]), from + 1})
	}
	p.tokens = append(p.tokens, token{end, "", len(runes) + 1})
	return nil
}

func isDigit(r rune) bool { return r >= '0' && r <= '9' }

func isWordRune(r rune) bool {
	return r < utf8.RuneSelf && (unicode.IsLetter(r) || isDigit(r) || r == '_')
}

func (p *conditionParser) any(depth int) (node, error) { return p.joined(depth, "or", p.all) }

func (p *conditionParser) all(depth int) (node, error) { return p.joined(depth, "and", p.one) }

func (p *conditionParser) joined(depth int, with string, part func(int) (node, error)) (node, error) {
	first, err := part(depth)
	if err != nil {
		return nil, err
	}
	parts := []node{first}
	for p.takeIf(with) {
		another, err := part(depth)
		if err != nil {
			return nil, err
		}
		parts = append(parts, another)
	}
	if len(parts) == 1 {
		return first, nil
	}
	return join{with == "or", parts}, nil
}

func (p *conditionParser) one(depth int) (node, error) {
	if depth > maxConditionDepth {
		return nil, p.wrong(p.peek(), "is nested more than %d deep", maxConditionDepth)
	}
	if p.takeIf("not") {
		of, err := p.one(depth + 1)
		return negation{of}, err
	}
	if p.takeIf("(") {
		inner, err := p.any(depth + 1)
		if err == nil && !p.takeIf(")") {
			err = p.wrong(p.peek(), "needs a closing parenthesis before it")
		}
		return inner, err
	}
	t := p.take()
	if t.kind != word {
		return nil, p.wrong(t, "needs one of %s here", variableNames())
	}
	i := slices.IndexFunc(Variables, func(v Variable) bool { return v.Name == t.text })
	if i < 0 {
		return nil, p.wrong(t, "is not known; known: %s", variableNames())
	}
	switch v := Variables[i]; {
	case v.TakesName:
		return p.named(v)
	case v.Unit != "":
		return p.compared(v)
	case len(v.Choices) > 0:
		return p.chosen(v)
	default:
		return flag{of: v}, nil
	}
}

func (p *conditionParser) named(v Variable) (node, error) {
	if !p.takeIf("(") {
		return nil, p.wrong(p.peek(), "needs a name in parentheses after %s", v.Name)
	}
	name := p.take()
	if name.kind != word {
		return nil, p.wrong(name, "needs a name, such as %s(autopilot)", v.Name)
	}
	if !p.takeIf(")") {
		return nil, p.wrong(p.peek(), "needs a closing parenthesis before it")
	}
	return flag{v, name.text}, nil
}

func (p *conditionParser) compared(v Variable) (node, error) {
	op := p.take()
	if !slices.Contains([]string{"<", "<=", ">", ">=", "is"}, op.text) || op.kind == end {
		return nil, p.wrong(op, "needs <, <=, >, >= or is after %s", v.Name)
	}
	n := p.take()
	if n.kind != number {
		return nil, p.wrong(n, "needs a number in %s after %s", v.Unit, op.text)
	}
	c := comparison{of: v, op: op.text, unit: v.Unit}
	var err error
	if c.written, err = quantity.Parse(strings.Replace(n.text, "−", "-", 1), 1); err != nil {
		return nil, p.wrong(n, "cannot be used: %v", err)
	}
	c.value = c.written
	u := p.peek()
	written, isUnit := conditionUnits[u.text]
	if u.kind != unit && u.kind != word || !isUnit {
		return c, nil
	}
	p.take()
	c.unit = written
	if c.value, err = quantity.Converted(c.written, written, v.Unit); err != nil || v.apart && written != v.Unit {
		return nil, p.wrong(u, "is no unit of %s, which is in %s", v.Name, v.Unit)
	}
	return c, nil
}

// conditionUnits are the units that a number in a condition may carry, by how
// they are written.
var conditionUnits = map[string]string{
	"C": "°C", "°C": "°C", "F": "°F", "°F": "°F", "kt": "kt", "mph": "mph", "ft": "ft", "m": "m",
}

func (p *conditionParser) chosen(v Variable) (node, error) {
	if op := p.take(); op.text != "is" {
		return nil, p.wrong(op, "needs is after %s", v.Name)
	}
	negated := p.takeIf("not")
	t := p.take()
	if !slices.Contains(v.Choices, t.text) {
		return nil, p.wrong(t, "must be one of %s", strings.Join(v.Choices, ", "))
	}
	if negated {
		return negation{choice{v, t.text}}, nil
	}
	return choice{v, t.text}, nil
}

func variableNames() string {
	names := make([]string, len(Variables))
	for i, v := range Variables {
		names[i] = v.Name
	}
	return strings.Join(names, ", ")
}
