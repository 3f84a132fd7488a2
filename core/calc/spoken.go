package calc

import (
	"slices"
	"strconv"
	"strings"
	"unicode"
)

// digitWords are the digits as they are said, on the radio too.
var digitWords = map[string]int{"zero": 0, "oh": 0, "one": 1, "two": 2, "three": 3, "tree": 3, "four": 4, "fower": 4,
	"five": 5, "fife": 5, "six": 6, "seven": 7,
	"eight": 8, "ait": 8, "nine": 9, "niner": 9}

// tens are the numbers that one word says whole.
var tens = map[string]int{"ten": 10, "eleven": 11, "twelve": 12, "thirteen": 13, "fourteen": 14, "fifteen": 15,
	"sixteen": 16, "seventeen": 17, "eighteen": 18, "nineteen": 19,
	"twenty": 20, "thirty": 30, "forty": 40, "fifty": 50, "sixty": 60, "seventy": 70, "eighty": 80, "ninety": 90}

// mostSpoken bounds a number that is said in words.
const mostSpoken = 1_000_000

// spoken are the numbers that a text says in words: fifty, nine hundred and
// twelve, one two zero, six five. Each run of such words is read both as a sum and
// as digits in a row, and its parts as well, since people say it either way.
func spoken(text string) []string {
	words := strings.FieldsFunc(strings.ToLower(text),
		func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	var out []string
	var run []string
	flush := func() {
		for from := range run {
			for to := from + 1; to <= len(run) && to <= from+8; to++ {
				for _, n := range []string{summed(run[from:to]), inARow(run[from:to])} {
					if n != "" && !slices.Contains(out, n) {
						out = append(out, n)
					}
				}
			}
		}
		run = nil
	}
	for _, w := range words {
		_, digit := digitWords[w]
		_, ten := tens[w]
		_, err := strconv.Atoi(w)
		switch {
		case digit || ten || w == "hundred" || w == "thousand" || err == nil && len(w) <= 4:
			run = append(run, w)
		case w == "and" && len(run) > 0:
		default:
			flush()
		}
	}
	flush()
	return out
}

// inARow reads words as digits one after another, empty where one is none.
func inARow(words []string) string {
	var b strings.Builder
	for _, w := range words {
		n, digit := digitWords[w]
		if !digit {
			return ""
		}
		b.WriteString(strconv.Itoa(n))
	}
	return b.String()
}

// summed reads words as one number, empty where they are none.
func summed(words []string) string {
	whole, part, last := 0, 0, 1000
	for _, w := range words {
		n, ten := tens[w]
		digit, isDigit := digitWords[w]
		figure, err := strconv.Atoi(w)
		switch {
		case w == "hundred" && part > 0 && part < 100:
			part, last = part*100, 100
		case w == "thousand" && part > 0 && whole == 0:
			whole, part, last = part*1000, 0, 1000
		case ten && last > n && (last >= 100 || last == 1000):
			part, last = part+n, 10
			if n < 20 {
				last = 1
			}
		case isDigit && digit > 0 && last > 1:
			part, last = part+digit, 1
		case err == nil && last == 1000 && part == 0:
			part, last = figure, 1
		default:
			return ""
		}
	}
	if whole+part == 0 || whole+part > mostSpoken {
		return ""
	}
	return strconv.Itoa(whole + part)
}
