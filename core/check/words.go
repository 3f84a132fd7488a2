package check

import (
	"slices"

	"jetprimer/core/aircraft"
	"jetprimer/core/quantity"
)

// action is what to do, and its place in the order of doing: the lower number
// first. A check's own actions stand in its file, with a number between those
// of the actions around them.
type action struct {
	order         int
	code, message string
	instead       []variant
}

// variant is what is said instead to a type that has all of the parts; see
// aircraft.Type.Fits.
type variant struct {
	parts   []string
	message string
}

// do declares an action.
func do(order int, code, message string) action {
	return action{order: order, code: code, message: message}
}

// to gives the words for types with a part, or with "no " before it without.
func (a action) to(part, message string) action {
	a.instead = append(slices.Clone(a.instead), variant{[]string{part}, message})
	return a
}

// to is the same for a cause.
func (c Cause) to(part, message string) Cause {
	c.instead = append(slices.Clone(c.instead), variant{[]string{part}, message})
	return c
}

// fitting is what is said to a type, nil where none is known.
func fitting(t *aircraft.Type, message string, instead []variant) string {
	for _, v := range instead {
		if t != nil && t.Fits(v.parts) {
			return v.message
		}
	}
	return message
}

// CausesFor are the check's causes in the words of a type.
func (d Definition) CausesFor(t aircraft.Type) []Cause {
	out := slices.Clone(d.Causes)
	for i, c := range out {
		out[i] = Cause{Code: c.Code, Side: c.Side, Message: fitting(&t, c.Message, c.instead)}
	}
	return out
}

// ActionsFor are the check's actions in the words of a type.
func (d Definition) ActionsFor(t aircraft.Type) []Action {
	out := slices.Clone(d.Actions)
	for i, a := range out {
		out[i] = Action{Code: a.Code, Message: fitting(&t, a.Message, a.instead)}
	}
	return out
}

// Actions that several checks ask for.
var (
	shutDown             = do(60, "shut-down", "Shut the engine down now.")
	keepClearOfPropeller = do(80, "keep-clear-of-propeller",
		"Keep everyone clear of the propeller: treat it as live, with the key out as well.").
		to("rotor", "Keep everyone clear of the rotors: treat them as live, with the key out as well.")
	groundAircraft = do(100, "ground-aircraft",
		"The aircraft stays on the ground until maintenance has looked at it.")
	setBase          = do(130, "set-base", "Set the run-up speed and let it settle, then measure again.")
	useExternalPower = do(190, "use-external-power",
		"Start from external power if the school allows it; that never makes a flat battery fit for flight.")
	repeatCheck       = do(240, "repeat-check", "Repeat the check.")
	writeSquawk       = do(250, "write-squawk", "Write it down for maintenance.")
	stayInDaylightVfr = do(260, "stay-in-daylight-vfr",
		"By day under visual rules it may be carried on with, recorded; the operator's rules decide.")
)

// moved is how a speed moved, as a sentence goes on after "The speed": fallen is
// below zero where it rose.
func moved(fallen quantity.Value) string {
	switch fallen.Sign() {
	case 0:
		return "did not move"
	case -1:
		return "rose by " + fallen.Abs().String() + " rpm"
	}
	return "fell by " + fallen.String() + " rpm"
}

// because declares a cause: its code and its sentence, in which %s stands for
// the circuit that is blamed.
func because(code, message string) Cause { return Cause{Code: code, Message: message} }

// Causes that lie behind findings of several checks.
var (
	idleAdjustment = because("idle-adjustment", "The idle speed or idle mixture is out of adjustment.").
			to("no mixture", "The idle speed is out of adjustment.")
	alternatorOrBelt = because("alternator-or-belt", "The alternator, its belt, its field switch or its breaker.")
	noOilToGauge     = because("no-oil-to-gauge",
		"No oil reaches the gauge: pump, level, a blocked line in the cold, or the gauge.")
	leverMovedTooFar = because("lever-moved-too-far", "The lever was moved too far or held too long.")
	governorOrOil    = because("governor-or-oil", "The governor, or no oil to the propeller hub.")
	coldOil          = because("cold-oil", "Oil still cold and thick in the hub.")
	batteryFlat      = because("battery-flat", "The battery is flat, cold or old.")
	fuelControl      = because("fuel-control", "The fuel control is out of adjustment.")
)
