package check

import (
	"cmp"
	"slices"
)

// Scale declares one printed scale of a check: what stands on it and between
// which limits it has to lie. Screens and reference pages draw it as it is
// declared here.
type Scale struct {
	Label string `json:"label"`
	Unit  string `json:"unit,omitempty"`
	// Of is the field of the reading, or of each of its rows ("sides.volts");
	// or, where Computed, the verdict's value of that name.
	Of       string `json:"of"`
	Computed bool   `json:"computed,omitempty"`
	// Low and High name limits. CautionHigh is a limit that may be passed for a
	// time, or recorded.
	Low         string `json:"low,omitempty"`
	High        string `json:"high,omitempty"`
	CautionHigh string `json:"cautionHigh,omitempty"`
	// Side is the side of the findings that are about this scale.
	Side string `json:"side,omitempty"`
	// Last is judged only when every scale before it lies within its limits.
	Last bool `json:"last,omitempty"`
	// Around names the limit or condition in the middle of a tolerance, empty
	// for zero; Within names the tolerance.
	Around string `json:"around,omitempty"`
	Within string `json:"within,omitempty"`
}

// scales are the scales of each check, in the order one reads them. Checks of
// named gauges draw one for each gauge; checks of what is only seen have none.
var scales = map[string][]Scale{
	"battery": {{Label: "voltage", Unit: "V", Of: "volts", Low: "startMin"}},
	"piston-start": {{Label: "cranked", Unit: "s", Of: "attempts.crankSeconds", High: "crankMaxSeconds"}, {Label: "highest speed", Unit: "rpm", Of: "rpmPeak", High: "rpmMax"},
		{Label: "oil pressure after", Unit: "s", Of: "secondsToOilPressure", High: "oilPressureSeconds"}},
	"diesel-start": {{Label: "cranked", Unit: "s", Of: "attempts.crankSeconds", High: "crankMaxSeconds"}, {Label: "highest speed", Unit: "rpm", Of: "rpmPeak", High: "rpmMax"},
		{Label: "oil pressure after", Unit: "s", Of: "secondsToOilPressure", High: "oilPressureSeconds"}},
	"turbine-start": {{Label: "battery", Unit: "V", Of: "batteryVolts", Low: "batteryMinVolts"}, {Label: "tail wind", Unit: "kt", Of: "tailwindKt", CautionHigh: "tailwindCautionKt"},
		{Label: "spool at fuel", Unit: "%", Of: "fuelAtSpoolPercent", Low: "fuelSpoolMinPercent"}, {Label: "temperature at fuel", Unit: "°C", Of: "fuelAtTempC", High: "fuelTempMaxC"},
		{Label: "light-off after", Unit: "s", Of: "lightOffSeconds", High: "lightOffMaxSeconds"},
		{Label: "peak temperature", Unit: "°C", Of: "peakTempC", CautionHigh: "tempLimitC", High: "tempAbsoluteMaxC"},
		{Label: "above the limit for", Unit: "s", Of: "secondsAboveLimit", High: "secondsAboveLimitMax"},
		{Label: "idle after", Unit: "s", Of: "secondsToIdle", High: "toIdleMaxSeconds"}, {Label: "idle spool", Unit: "%", Of: "idleSpoolPercent", Low: "idleMinPercent", High: "idleMaxPercent"}},
	"clutch":    {{Label: "blades turning after", Unit: "s", Of: "bladesTurningSeconds", High: "bladesTurningMax"}, {Label: "belt lamp out after", Unit: "s", Of: "lampOutSeconds", High: "lampOutMax"}},
	"altimeter": {{Label: "altimeter", Unit: "ft", Of: "altimeters.indicatedFt", Around: "elevationFt", Within: "toleranceFt"}},
	"heading":   {{Label: "apart", Unit: "°", Of: "differenceDeg", Computed: true, High: "toleranceDeg"}, {Label: "from the runway", Unit: "°", Of: "runwayDifferenceDeg", Computed: true, High: "runwayToleranceDeg"}},
	"magneto": {{Label: "left drop", Unit: Speed, Of: "leftDrop", Side: "left", Computed: true, Low: "dropMin", High: "dropMax"}, {Label: "right drop", Unit: Speed, Of: "rightDrop", Side: "right", Computed: true, Low: "dropMin", High: "dropMax"},
		{Label: "difference", Unit: Speed, Of: "difference", Last: true, Computed: true, High: "differenceMax"}},
	"lanes": {{Label: "drop on A", Unit: Speed, Of: "aDrop", Side: "a", Computed: true, Low: "dropMin", High: "dropMax"}, {Label: "drop on B", Unit: Speed, Of: "bDrop", Side: "b", Computed: true, Low: "dropMin", High: "dropMax"},
		{Label: "difference", Unit: Speed, Of: "difference", Last: true, Computed: true, High: "differenceMax"}},
	"control-unit": {{Label: "swing", Unit: "rpm", Of: "rpmSwing", High: "rpmSwingMax"}},
	"carb-heat": {{Label: "drop with heat", Unit: "rpm", Of: "drop", Computed: true, Low: "dropMin", High: "dropMax"},
		{Label: "back on cold", Unit: "rpm", Of: "recovery", Computed: true, Within: "recoveryTolerance"}},
	"mixture-peak": {{Label: "rise to the peak", Unit: "rpm", Of: "rise", Computed: true, Low: "riseMin"}, {Label: "enriched from it", Unit: "rpm", Of: "enrichment", Computed: true, Low: "enrichMin", High: "enrichMax"}},
	"propeller": {{Label: "drop", Unit: "rpm", Of: "drop", Computed: true, Low: "dropMin", High: "dropMax"}, {Label: "recovery", Unit: "rpm", Of: "recovery", Computed: true, Within: "recoveryTolerance"},
		{Label: "cycles", Of: "cycles", Low: "cyclesMin"}},
	"governor-hold": {{Label: "speed changed by", Unit: "rpm", Of: "rpmChange", Computed: true, Within: "rpmTolerance"}, {Label: "power changed by", Unit: "inHg", Of: "manifoldStepInHg", Computed: true, Low: "manifoldStepMinInHg"},
		{Label: "speed before", Unit: "rpm", Of: "rpmBefore", Low: "governingMinRPM"}},
	"feather":           {{Label: "drop", Unit: "rpm", Of: "drop", Computed: true, Low: "dropMin", High: "dropMax"}, {Label: "recovery", Unit: "rpm", Of: "recovery", Computed: true, Within: "recoveryTolerance"}},
	"needle-split":      {{Label: "split", Unit: "%", Of: "splitPercent", Low: "splitMin"}},
	"deceleration":      {{Label: "from", Unit: "%", Of: "startSpoolPercent", Low: "startMin"}, {Label: "took", Unit: "s", Of: "seconds", Low: "secondsMin"}},
	"low-rotor-warning": {{Label: "warning on at", Unit: "%", Of: "onAtPercent", Low: "onMin", High: "onMax"}},
	"suction":           {{Label: "suction", Unit: "inHg", Of: "inHg", Low: "min", High: "max"}},
	"charging":          {{Label: "voltage", Unit: "V", Of: "sides.volts", Low: "voltsMin", High: "voltsMax"}, {Label: "current", Unit: "A", Of: "sides.amps", Low: "ampsMin"}},
	"fuel-pressure": {{Label: "idle", Unit: "psi", Of: "idle", Low: "idleMin", High: "max"}, {Label: "run-up", Unit: "psi", Of: "runUp", Low: "runUpMin", High: "max"},
		{Label: "full power", Unit: "psi", Of: "fullPower", Low: "fullPowerMin", High: "max"}, {Label: "sag", Unit: "psi", Of: "sag", Computed: true, High: "sagMax"}},
	"idle":         {{Label: "idle speed", Unit: "rpm", Of: "rpm", Low: "min", High: "max"}, {Label: "held", Unit: "s", Of: "seconds", Low: "seconds"}},
	"static-rpm":   {{Label: "static speed", Unit: "rpm", Of: "rpm", Low: "min", High: "max"}},
	"idle-mixture": {{Label: "rise at cut-off", Unit: "rpm", Of: "rise", Computed: true, Low: "riseMin", High: "riseMax"}},
}

// timersOf names the duration of the type that a timed field counts; where the
// field's name alone does not tell, that of the check stands before it.
var timersOf = map[string]string{
	"crankSeconds": "crank", "restSeconds": "starter-rest", "secondsToOilPressure": "oil-pressure", "lightOffSeconds": "light-off", "secondsToIdle": "to-idle",
	"bladesTurningSeconds": "blades", "lampOutSeconds": "clutch", "secondsHeldLeft": "dwell", "secondsHeldRight": "dwell", "secondsHeldA": "dwell", "secondsHeldB": "dwell",
	"idle.seconds": "idle-hold", "deceleration.seconds": "deceleration",
}

// timed are the fields with their timers, in rows as well.
func timed(check string, fields []Field) []Field {
	out := slices.Clone(fields)
	for i := range out {
		f := &out[i]
		f.Timer = cmp.Or(timersOf[f.Name], timersOf[check+"."+f.Name])
		if len(f.Each) > 0 {
			f.Each = timed(check, f.Each)
		}
	}
	return out
}
