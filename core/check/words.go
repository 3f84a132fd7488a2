package check

// actions are the sentences for what to do, by code.
var actions = map[string]string{
	"throttle-idle-mixture-off": "Throttle to idle and mixture to cut-off: let the engine stop. Never back to BOTH with the throttle open.",
	"shut-down":                 "Shut the engine down now.",
	"isolate-battery":           "Battery master off: the starter must lose its current.",
	"keep-clear-of-propeller":   "Keep everyone clear of the propeller: treat it as live, with the key out as well.",
	"ground-aircraft":           "The aircraft stays on the ground until maintenance has looked at it.",
	"cool-starter":              "Let the starter cool for as long as its maker says, then ask maintenance before another try.",
	"set-base":                  "Set the run-up speed and let it settle, then measure again.",
	"clear-plugs":               "Clear the plugs: run-up power, mixture leaned to the peak, brakes held and watched, half a minute; then repeat the check once.",
	"lean-and-repeat":           "Lean the mixture to smooth running and repeat the check once.",
	"hold-heat-until-steady":    "Hold full heat until the speed is steady, then cold, then measure again.",
	"warm-up":                   "Wait at the warm-up speed until it has come up.",
	"use-external-power":        "Start from external power if the school allows it; that never makes a flat battery fit for flight.",
	"set-altimeters":            "Set every altimeter to the reported setting, then read them again.",
	"repeat-check":              "Repeat the check.",
	"write-squawk":              "Write it down for maintenance.",
	"stay-in-daylight-vfr":      "By day under visual rules it may be carried on with, recorded; the operator's rules decide.",
}

// actionOrder is the order in which actions are to be done.
var actionOrder = []string{
	"throttle-idle-mixture-off", "shut-down", "isolate-battery", "keep-clear-of-propeller",
	"ground-aircraft", "cool-starter", "set-base", "clear-plugs", "lean-and-repeat",
	"hold-heat-until-steady", "warm-up", "use-external-power", "set-altimeters",
	"repeat-check", "write-squawk", "stay-in-daylight-vfr",
}

// causes are the sentences for what most often lies behind a finding; %s is
// the side.
var causes = map[string]string{
	"dead-magneto":        "The %s magneto does not fire.",
	"switch-to-off":       "The switch was turned one notch too far, to OFF.",
	"ungrounded-magneto":  "The %s magneto is not switched off by the switch: its lead to ground is open.",
	"switch-fault":        "The ignition switch grounds neither magneto.",
	"throttle-moved":      "The throttle moved during the check.",
	"early-timing":        "The %s magneto is timed too early.",
	"fouled-plug":         "A plug fired by the %s magneto is fouled.",
	"over-rich":           "The mixture is too rich for this speed and altitude.",
	"late-timing":         "The %s magneto is timed too late.",
	"uneven-magnetos":     "The two magnetos are not timed or firing alike.",
	"switch-or-lead":      "The switch or the lead of the %s magneto makes poor contact.",
	"heat-cable-or-box":   "The heat does not reach the carburettor: cable, flap or hose.",
	"heat-flap-stays":     "The heat flap does not close fully.",
	"ice-in-carburettor":  "There was ice in the carburettor, and the heat has melted it.",
	"idle-adjustment":     "The idle speed or idle mixture is out of adjustment.",
	"pump-or-filter":      "The vacuum pump, its regulator or its filter.",
	"alternator-or-belt":  "The alternator, its belt, its field switch or its breaker.",
	"regulator":           "The voltage regulator.",
	"no-oil-to-gauge":     "No oil reaches the gauge: pump, level, a blocked line in the cold, or the gauge.",
	"starter-stuck":       "The starter has not let go of the engine, or its contactor has welded.",
	"flooded-or-dry":      "Too much fuel, or too little.",
	"altimeter-or-static": "The altimeter itself, its static source, or the elevation of the place it stands on.",
}
