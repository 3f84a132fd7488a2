package quantity

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

// spelled are units as they are written out in a sentence.
var spelled = map[string]string{"feet": "ft", "metres": "m", "knots": "kt", "litres": "L"}

var writtenOut = map[string]string{
	"ft": "feet", "m": "metres", "kt": "knots", "mph": "miles an hour", "L": "litres", "gal": "gallons",
}

// Say is a sentence of the rules with its numbers as a person reads them: each
// that stands before a unit of the data, and the first of two with "to", "…" or
// a dash between them, or "and" after "between". A number with "apart" behind
// it, or after "by" or "by up to", is how far things lie apart. Numbers that
// need no conversion are given to hundredths at most.
func (u Units) Say(text string) string {
	var b strings.Builder
	written := 0
	for i := 0; i < len(text); {
		if text[i] < '0' || text[i] > '9' || inWord(text[:i]) {
			i++
			continue
		}
		start := i - len(sign(text[:i]))
		g := readGroup(text, start)
		i = g.first
		if g.unit == "" {
			continue
		}
		before := text[:start]
		b.WriteString(text[written:start])
		apart := strings.HasPrefix(text[g.end:], " apart")
		b.WriteString(u.group(g, apart || strings.HasSuffix(before, "by ") || strings.HasSuffix(before, "by up to ")))
		i, written = g.end, g.end
	}
	if written == 0 {
		return text
	}
	return b.String() + text[written:]
}

// inWord reports whether a digit after this text is part of a word or of
// another number.
func inWord(before string) bool {
	r, _ := utf8.DecodeLastRuneInString(before)
	if name, hyphened := strings.CutSuffix(before, "-"); hyphened {
		r, _ = utf8.DecodeLastRuneInString(name)
		return name != "" && unicode.IsLetter(r)
	}
	return before != "" && (unicode.IsLetter(r) || unicode.IsDigit(r) || r == '.' || r == '/' || r == ':')
}

// sign is the minus at the end of a text, where it belongs to a number after
// it.
func sign(before string) string {
	for _, s := range []string{"−", "-"} {
		if rest, ok := strings.CutSuffix(before, s); ok && !inWord(rest) {
			return s
		}
	}
	return ""
}

// group is one number or more with their unit; where no unit stands behind
// them it is empty, and first is the end of the first number.
type group struct {
	numbers    []numeral
	unit, word string
	first, end int
}

// numeral is a number in a text, and what joins it to the next.
type numeral struct {
	value Value
	minus string
	join  string
}

func readGroup(text string, at int) group {
	g := group{}
	between := strings.HasSuffix(text[:at], "between ")
	for {
		n, next, ok := readNumeral(text, at)
		if g.first == 0 {
			g.first = next
		}
		if !ok {
			return g
		}
		g.numbers = append(g.numbers, n)
		if unit, word, end := readUnit(text, next); unit != "" {
			g.unit, g.word, g.end = unit, word, end
			return g
		}
		join := joint(text[next:], between)
		if join == "" || len(g.numbers) > 3 {
			return g
		}
		g.numbers[len(g.numbers)-1].join = join
		at = next + len(join)
	}
}

func joint(text string, between bool) string {
	for _, j := range []string{" to ", " … ", "–", " – ", "-"} {
		if strings.HasPrefix(text, j) {
			return j
		}
	}
	if between && strings.HasPrefix(text, " and ") {
		return " and "
	}
	return ""
}

func readNumeral(text string, at int) (n numeral, next int, ok bool) {
	for _, s := range []string{"−", "-"} {
		if strings.HasPrefix(text[at:], s) {
			n.minus = s
			at += len(s)
			break
		}
	}
	end, decimals := at, 0
	for end < len(text) && text[end] >= '0' && text[end] <= '9' {
		end++
	}
	if end+1 < len(text) && text[end] == '.' && text[end+1] >= '0' && text[end+1] <= '9' {
		end++
		for end < len(text) && text[end] >= '0' && text[end] <= '9' {
			end++
			decimals++
		}
	}
	digits := strings.TrimLeft(text[at:end], "0")
	if digits == "" || digits[0] == '.' {
		digits = "0" + digits
	}
	v, err := Parse(digits, min(decimals, MaxDecimals))
	if err != nil || end == at {
		return n, max(end, at), false
	}
	if n.minus != "" {
		v.n = -v.n
	}
	n.value = v
	return n, end, true
}

// readUnit is the unit of the data behind a number, as it is written and where
// it ends; none when there is another word.
func readUnit(text string, at int) (base, word string, end int) {
	rest, spaced := strings.CutPrefix(text[at:], " ")
	if !spaced {
		return "", "", 0
	}
	word = rest
	if i := strings.IndexFunc(rest, func(r rune) bool { return !unicode.IsLetter(r) && r != '°' && r != '/' }); i >= 0 {
		word = rest[:i]
	}
	base = word
	if short, ok := spelled[word]; ok {
		base = short
	}
	if _, ok := between(base, base); !ok {
		return "", "", 0
	}
	return base, word, at + 1 + len(word)
}

// group is the numbers and their unit as a person reads them.
func (u Units) group(g group, difference bool) string {
	var b strings.Builder
	word := g.word
	for _, n := range g.numbers {
		v, to := u.shown(n.value, g.unit, difference)
		if to != g.unit {
			word = to
			if g.word != g.unit {
				word = writtenOut[to]
			}
		}
		if v.decimals > 2 {
			v = v.At(2)
		}
		said := v.String()
		if to == g.unit && v.decimals == n.value.decimals {
			said = v.digits()
		}
		if n.minus == "−" {
			said = strings.Replace(said, "-", "−", 1)
		}
		b.WriteString(said)
		b.WriteString(n.join)
	}
	return b.String() + " " + word
}

// digits is v with every digit of its resolution: 12.50 stays 12.50.
func (v Value) digits() string {
	text := v.String()
	if v.decimals == 0 {
		return text
	}
	_, fraction, point := strings.Cut(text, ".")
	if !point {
		text += "."
	}
	return text + strings.Repeat("0", int(v.decimals)-len(fraction))
}
