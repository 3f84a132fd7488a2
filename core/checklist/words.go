package checklist

import (
	"fmt"
	"strings"
)

// Words is the condition as it is said behind "if", such as "outside air below
// 4 °C and particle separator is fitted"; empty for one that always holds.
func (c Condition) Words() string {
	if c.root == nil {
		return ""
	}
	return phrase(c.root, false)
}

// WhenWords are the words of an item's condition; one that cannot be read is
// given as it is written.
func WhenWords(when string) string {
	c, err := ParseCondition(when)
	if err != nil {
		return when
	}
	return c.Words()
}

// phrase is a part of a condition in words, or its contrary.
func phrase(n node, not bool) string {
	switch n := n.(type) {
	case negation:
		return phrase(n.of, !not)
	case comparison:
		return n.phrase(not)
	case choice:
		if not {
			return n.of.is() + " not " + spoken(n.word)
		}
		return n.of.is() + " " + spoken(n.word)
	case flag:
		words := n.of.yes
		if not {
			words = n.of.no
		}
		if n.of.TakesName {
			return fmt.Sprintf(words, spoken(n.name))
		}
		return words
	case join:
		word := " and "
		if n.or != not { // not (a and b) is not a, or not b
			word = " or "
		}
		parts := make([]string, len(n.parts))
		for i, p := range n.parts {
			parts[i] = phrase(p, not)
			if inner, joined := p.(join); joined && inner.or != n.or {
				parts[i] = "(" + parts[i] + ")"
			}
		}
		return strings.Join(parts, word)
	}
	return n.text(0)
}

// How comparisons are said, of a number and of how far two lie apart; contrary
// is what stands when one does not hold.
var (
	compared = map[string]string{
		"<": "below", "<=": "at most", ">": "above", ">=": "at least", "is": "at", "is not": "other than",
	}
	distant = map[string]string{
		"<": "less than", "<=": "at most", ">": "more than", ">=": "at least", "is": "just", "is not": "not just",
	}
	contrary = map[string]string{"<": ">=", "<=": ">", ">": "<=", ">=": "<", "is": "is not"}
)

func (c comparison) phrase(not bool) string {
	op := c.op
	if not {
		op = contrary[op]
	}
	if c.of.apart {
		return fmt.Sprintf("outside air and dew point %s %s %s apart", distant[op], c.written, c.unit)
	}
	return fmt.Sprintf("%s %s %s %s", c.of.Label, compared[op], c.written, c.unit)
}
