package progress

import (
	"slices"

	"jetprimer/core/aircraft"
	"jetprimer/core/standard"
)

// TrainsFor reports whether a student enrolled for a class, an engine kind and a
// way of starting trains on a type.
func TrainsFor(class, engineKind, startType string, t aircraft.Type) bool {
	return t.Class == class && t.EngineKind == engineKind && t.StartType == startType
}

// HeldTo are the standards packs that students of a class are held to: those
// the school's policy names, as far as they cover the class, the published
// standard first. A policy that names none holds to all.
func HeldTo(named []string, packs []standard.Pack, class string) []standard.Pack {
	var held []standard.Pack
	for _, p := range packs {
		if slices.Contains(p.Classes, class) && (len(named) == 0 || slices.Contains(named, p.ID)) {
			held = append(held, p)
		}
	}
	slices.SortStableFunc(held, func(a, b standard.Pack) int {
		switch {
		case a.Authority != "" && b.Authority == "":
			return -1
		case a.Authority == "" && b.Authority != "":
			return 1
		}
		return 0
	})
	return held
}

// Asked are the elements that students of each class are held to, by class.
func Asked(named []string, packs []standard.Pack) map[string][]string {
	out := map[string][]string{}
	for _, p := range packs {
		for _, class := range p.Classes {
			if _, done := out[class]; !done {
				out[class] = standard.Elements(HeldTo(named, packs, class), class)
			}
		}
	}
	return out
}
