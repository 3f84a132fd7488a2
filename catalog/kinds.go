package catalog

import (
	"fmt"

	"jetprimer/exchange"
)

// Kind is a kind of aircraft that a type can be described from: it has the
// checks, gauges, times and places of one that ships, and none of its numbers.
type Kind struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	Words string `json:"words"`
	// Like is the type whose shape it has.
	Like string `json:"like"`
}

func (l *loader) kinds(s *exchange.Source, kinds []Kind) {
	l.catalog.Kinds = kinds
	for i, k := range kinds {
		if _, known := l.catalog.Type(k.Like); !known {
			s.At(fmt.Sprintf("$[%d].like", i), fmt.Sprintf("%q is no known aircraft type", k.Like))
		}
	}
}
