package check

import (
	"fmt"

	"jetprimer/core/quantity"
)

// pistonStart judges the start of a piston engine. Oil time runs from first
// firing; the longer cold limit serves only a cold engine in air below
// coldBelowC. The rest after the last try is not judged.
var pistonStart = Definition{
	Name:  "piston-start",
	Title: "Engine start",
	Rule: "The starter may turn only so long and needs its rest; the engine may not race while its oil is still thick; " +
		"oil pressure must come in time, or the engine is shut down.",
	Fields: []Field{
		{Name: "attempts", Label: "tries", Kind: Rows, AtLeast: 1, AtMost: 20, Each: []Field{
			{Name: "crankSeconds", Label: "cranked", Unit: "s", Kind: Number, Taken: Timed, Decimals: 1, Step: 1},
			{Name: "restSeconds", Label: "rested after", Unit: "s", Kind: Number, Taken: Timed, Decimals: 1, Step: 5},
		}},
		{Name: "fired", Label: "it runs", Kind: Flag, Taken: Watched},
		{Name: "rpmPeak", Label: "highest speed after firing", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 50, NullWhen: []string{"!fired"}},
		{Name: "secondsToOilPressure", Label: "oil pressure after", Unit: "s", Kind: Number, Taken: Timed, Decimals: 1, Step: 1, Nullable: true},
		{Name: "starterLampOut", Label: "starter lamp out", Kind: Flag, Taken: Watched},
		{Name: "chargeRestored", Label: "charging again", Kind: Flag, Taken: Watched, NullWhen: []string{"!fired"}},
	},
	Limits: []Field{
		{Name: "crankMaxSeconds", Label: "crank at most", Unit: "s", Kind: Number, Decimals: 1},
		{Name: "restMinSeconds", Label: "rest at least", Unit: "s", Kind: Number, Decimals: 1},
		{Name: "attemptsMax", Label: "tries at most", Kind: Number},
		{Name: "rpmMax", Label: "speed after firing at most", Unit: "rpm", Kind: Number},
		{Name: "rpmInspection", Label: "inspection above", Unit: "rpm", Kind: Number, Optional: true},
		{Name: "oilPressureSeconds", Label: "oil pressure within", Unit: "s", Kind: Number, Decimals: 1},
		{Name: "oilPressureSecondsCold", Label: "when cold within", Unit: "s", Kind: Number, Decimals: 1},
		{Name: "coldBelowC", Label: "cold is below", Unit: "°C", Kind: Number, Decimals: 1, Signed: true},
	},
	ordered: [][2]string{{"rpmMax", "rpmInspection"}, {"oilPressureSeconds", "oilPressureSecondsCold"}},
	judge:   judgePistonStart,
}

func judgePistonStart(in input, out *sheet) {
	r := in.reading
	fired := r.Flag("fired")
	if fired {
		judgeOilTime(in, out)
	}
	if !r.Flag("starterLampOut") {
		out.find(seen{
			Finding: Finding{"starter-engaged", "", "The starter lamp is still on: the starter has not let go."},
			outcome: Abnormal, decision: Stop,
			causes: []Cause{Cause{Code: "starter-stuck", Message: causes["starter-stuck"]}}, actions: []string{"shut-down", "isolate-battery", "ground-aircraft"},
		})
	}
	tries := r.Rows("attempts")
	tooMany := quantity.Scaled(int64(len(tries)), 0).Above(in.limits.Value("attemptsMax"))
	if tooMany {
		out.find(seen{
			Finding: Finding{"too-many-attempts", "", fmt.Sprintf("The starter was used %d times; %s tries are allowed.", len(tries), in.limits.Value("attemptsMax"))},
			outcome: Abnormal, decision: Stop,
			causes: []Cause{Cause{Code: "flooded-or-dry", Message: causes["flooded-or-dry"]}}, actions: []string{"cool-starter"},
		})
	}
	if fired {
		judgeStartSpeed(in, out)
	}
	judgeStarterDuty(in, out, tries)
	if fired && !r.Flag("chargeRestored") {
		out.find(seen{
			Finding: Finding{"not-charging", "", "The alternator does not charge after the start."},
			outcome: Caution, decision: Recheck,
			causes: []Cause{Cause{Code: "alternator-or-belt", Message: causes["alternator-or-belt"]}}, actions: []string{"repeat-check"},
		})
	}
	if !fired && !tooMany {
		out.find(seen{
			Finding: Finding{"no-start", "", fmt.Sprintf("The engine did not start in %d of %s tries.", len(tries), in.limits.Value("attemptsMax"))},
			outcome: Caution, decision: Recheck,
			causes: []Cause{Cause{Code: "flooded-or-dry", Message: causes["flooded-or-dry"]}}, actions: []string{"repeat-check"},
		})
	}
}

func judgeOilTime(in input, out *sheet) {
	limit := in.limits.Value("oilPressureSeconds")
	if in.conditions.Text("engineState") == "cold" && in.conditions.Has("oatC") &&
		in.conditions.Value("oatC").Below(in.limits.Value("coldBelowC")) {
		limit = in.limits.Value("oilPressureSecondsCold")
	}
	out.value("oilPressureLimitSeconds", limit)
	f := seen{outcome: Abnormal, decision: Stop, causes: []Cause{Cause{Code: "no-oil-to-gauge", Message: causes["no-oil-to-gauge"]}}, actions: []string{"shut-down", "ground-aircraft"}}
	switch seconds := in.reading.Value("secondsToOilPressure"); {
	case !in.reading.Has("secondsToOilPressure"):
		f.Finding = Finding{"no-oil-pressure", "", fmt.Sprintf("No oil pressure came; it must rise within %s s of first firing.", limit)}
	case seconds.Above(limit):
		f.Finding = Finding{"oil-pressure-late", "", fmt.Sprintf("Oil pressure came after %s s; it must rise within %s s of first firing.", seconds, limit)}
	default:
		return
	}
	out.find(f)
}

func judgeStartSpeed(in input, out *sheet) {
	peak, l := in.reading.Value("rpmPeak"), in.limits
	switch {
	case l.Has("rpmInspection") && peak.Above(l.Value("rpmInspection")):
		out.find(seen{
			Finding: Finding{"overspeed-inspection", "", fmt.Sprintf("The engine reached %s rpm after the start; above %s rpm it must be inspected.", peak, l.Value("rpmInspection"))},
			outcome: Abnormal, decision: Stop,
			causes: []Cause{Cause{Code: "throttle-moved", Message: causes["throttle-moved"]}}, actions: []string{"shut-down", "ground-aircraft"},
		})
	case peak.Above(l.Value("rpmMax")):
		out.find(seen{
			Finding: Finding{"overspeed-after-start", "", fmt.Sprintf("The engine reached %s rpm after the start; the limit is %s rpm.", peak, l.Value("rpmMax"))},
			outcome: Caution, decision: Continue, actions: []string{"write-squawk"},
		})
	}
}

func judgeStarterDuty(in input, out *sheet, tries []Record) {
	longest, shortest := quantity.Value{}, in.limits.Value("restMinSeconds")
	restCut := false
	for i, try := range tries {
		if crank := try.Value("crankSeconds"); crank.Above(longest) {
			longest = crank
		}
		if rest := try.Value("restSeconds"); i < len(tries)-1 && rest.Below(shortest) {
			shortest, restCut = rest, true
		}
	}
	if longest.Above(in.limits.Value("crankMaxSeconds")) {
		out.find(seen{
			Finding: Finding{"crank-too-long", "", fmt.Sprintf("The starter turned for %s s at a stretch; the limit is %s s.", longest, in.limits.Value("crankMaxSeconds"))},
			outcome: Caution, decision: Continue,
		})
	}
	if restCut {
		out.find(seen{
			Finding: Finding{"rest-too-short", "", fmt.Sprintf("The starter rested only %s s between tries; it needs %s s.", shortest, in.limits.Value("restMinSeconds"))},
			outcome: Caution, decision: Continue,
		})
	}
}
