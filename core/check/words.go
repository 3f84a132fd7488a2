package check

// action is what to do, and its place in the order of doing: the lower number
// first. A check's own actions stand in its file, with a number between those
// of the actions around them.
type action struct {
	order         int
	code, message string
}

// Actions that several checks ask for.
var (
	shutDown             = action{60, "shut-down", "Shut the engine down now."}
	keepClearOfPropeller = action{80, "keep-clear-of-propeller", "Keep everyone clear of the propeller: treat it as live, with the key out as well."}
	groundAircraft       = action{100, "ground-aircraft", "The aircraft stays on the ground until maintenance has looked at it."}
	setBase              = action{130, "set-base", "Set the run-up speed and let it settle, then measure again."}
	useExternalPower     = action{190, "use-external-power", "Start from external power if the school allows it; that never makes a flat battery fit for flight."}
	repeatCheck          = action{240, "repeat-check", "Repeat the check."}
	writeSquawk          = action{250, "write-squawk", "Write it down for maintenance."}
	stayInDaylightVfr    = action{260, "stay-in-daylight-vfr", "By day under visual rules it may be carried on with, recorded; the operator's rules decide."}
)

// because declares a cause: its code and its sentence, in which %s stands for
// the circuit that is blamed.
func because(code, message string) Cause { return Cause{Code: code, Message: message} }

// Causes that lie behind findings of several checks.
var (
	idleAdjustment   = because("idle-adjustment", "The idle speed or idle mixture is out of adjustment.")
	alternatorOrBelt = because("alternator-or-belt", "The alternator, its belt, its field switch or its breaker.")
	noOilToGauge     = because("no-oil-to-gauge", "No oil reaches the gauge: pump, level, a blocked line in the cold, or the gauge.")
	leverMovedTooFar = because("lever-moved-too-far", "The lever was moved too far or held too long.")
	governorOrOil    = because("governor-or-oil", "The governor, or no oil to the propeller hub.")
	coldOil          = because("cold-oil", "Oil still cold and thick in the hub.")
	batteryFlat      = because("battery-flat", "The battery is flat, cold or old.")
	fuelControl      = because("fuel-control", "The fuel control is out of adjustment.")
)
