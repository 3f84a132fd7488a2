package aircraft

import (
	"cmp"
	"slices"
	"strings"
)

// Parts are what a type can have or lack, and what words about it therefore may
// name or may not.
var Parts = []string{
	"mixture", "carburettor", "injection", "choke", "primer", "magnetos", "lanes", "ignition", "glow", "throttle",
	"power-lever",
	"propeller", "propeller-lever", "feathering", "rotor", "clutch", "retractable-gear", "turbine", "diesel", "piston",
	"leaning", "engines-two",
}

// Has reports whether the type has a part, by its engine, its ignition and start,
// its propeller or rotor, and its own equipment.
func (t Type) Has(part string) bool {
	equipped := func(id string) bool {
		return slices.ContainsFunc(t.Equipment, func(e Equipment) bool { return e.ID == id })
	}
	switch part {
	case "piston", "diesel", "turbine":
		return t.EngineKind == part
	case "mixture": // what measures its own fuel has no lever for it
		return t.EngineKind == "piston" && t.StartType != "electronic"
	case "carburettor":
		return equipped("carburettor-heat")
	case "injection":
		return t.StartType == "injected"
	case "magnetos", "lanes":
		return t.Ignition == part
	case "ignition":
		return t.Ignition != "none"
	case "throttle":
		return !equipped("single-levers")
	case "power-lever":
		return equipped("single-levers")
	case "propeller":
		return t.Propeller != "none"
	case "propeller-lever":
		return t.Propeller == "constant-speed" && !equipped("single-levers")
	case "rotor":
		return t.Class == "helicopter"
	case "clutch":
		return equipped("belt-clutch")
	case "leaning":
		return t.LeanOnGround
	case "tank-choice":
		return t.Fuel != nil && t.Fuel.OneTank
	case "engines-two":
		return t.Engines > 1
	}
	return equipped(part)
}

// partWords are parts in words; others are called as they are written.
var partWords = map[string]string{
	"mixture": "a mixture lever", "leaning": "leaning on the ground", "propeller-lever": "a propeller lever",
	"rotor": "a rotor",
}

// PartWords says which types a part asks for, such as “with a mixture lever”.
func PartWords(part string) string {
	how, name := "with ", part
	if after, excluded := strings.CutPrefix(part, "no "); excluded {
		how, name = "without ", after
	}
	return how + cmp.Or(partWords[name], strings.ReplaceAll(name, "-", " "))
}

// Fits reports whether a type has all that words ask for and nothing that they
// exclude; "no " before a part excludes it.
func (t Type) Fits(asked []string) bool {
	return !slices.ContainsFunc(asked, func(part string) bool {
		if len(part) > 3 && part[:3] == "no " {
			return t.Has(part[3:])
		}
		return !t.Has(part)
	})
}
