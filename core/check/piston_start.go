package check

import (
	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// pistonStart judges the start of a piston engine. Oil time runs from first
// firing; the longer cold limit serves only a cold engine in air below
// coldBelowC. The rest after the last try is not judged.
var pistonStart = Definition{
	Name: "piston-start", fits: []string{"piston"},
	Title: "Engine start",
	Rule: "The starter may turn only so long and needs its rest; the engine may not race while its oil is still thick; " +
		"oil pressure must come in time, or the engine is shut down.",
	Fields: []form.Field{
		tachometerUnit,
		{Name: "switchAtStart", Label: "cranked on", Kind: form.Choice, Choices: aircraft.StartMagnetos,
			Optional: true},
		{Name: "attempts", Label: "tries", Kind: form.Rows, AtLeast: 1, AtMost: 20, Each: []form.Field{
			{
				Name: "crankSeconds", Label: "cranked", Unit: "s", Kind: form.Number, Taken: form.Timed, Timer: "crank",
				Decimals: 1, Step: 1,
			},
			{
				Name: "restSeconds", Label: "rested after", Unit: "s", Kind: form.Number, Taken: form.Timed,
				Timer: "starter-rest", Decimals: 1, Step: 5,
			},
		}},
		{Name: "fired", Label: "it runs", Kind: form.Flag, Taken: form.Watched, Usual: true},
		{
			Name: "rpmPeak", Label: "highest speed after firing", Unit: form.Speed, Kind: form.Number,
			Taken: form.ReadOff, Step: 50, NullWhen: []string{"!fired"},
		},
		{
			Name: "secondsToOilPressure", Label: "oil pressure after", Unit: "s", Kind: form.Number, Taken: form.Timed,
			Timer: "oil-pressure", Decimals: 1, Step: 1, Nullable: true,
		},
		{Name: "starterLampOut", Label: "starter lamp out", Kind: form.Flag, Taken: form.Watched, Usual: true},
		{
			Name: "chargeRestored", Label: "charging again", Kind: form.Flag, Taken: form.Watched, Usual: true,
			NullWhen: []string{"!fired"},
		},
	},
	Limits: []form.Field{
		{Name: "crankMaxSeconds", Label: "crank at most", Unit: "s", Kind: form.Number, Decimals: 1},
		{Name: "restMinSeconds", Label: "rest at least", Unit: "s", Kind: form.Number, Decimals: 1},
		{
			Name: "attemptsMax", Label: "tries at most", Kind: form.Number,
			Silent: form.SilentHabit(6, "The starter's maker gives it more often than the aircraft's."),
		},
		{Name: "rpmMax", Label: "speed after firing at most", Unit: form.Speed, Kind: form.Number},
		{
			Name: "rpmInspection", Label: "inspection above", Unit: form.Speed, Kind: form.Number, Optional: true,
			Silent: &form.Silent{Words: "Without it no inspection is asked for after an overspeed at the start."},
		},
		{Name: "oilPressureSeconds", Label: "oil pressure within", Unit: "s", Kind: form.Number, Decimals: 1},
		{Name: "oilPressureSecondsCold", Label: "when cold within", Unit: "s", Kind: form.Number, Decimals: 1},
		{Name: "coldBelowC", Label: "cold is below", Unit: "°C", Kind: form.Number, Decimals: 1, Signed: true},
	},
	Scales: []Scale{
		{Label: "cranked", Unit: "s", Of: "attempts.crankSeconds", High: "crankMaxSeconds"},
		{Label: "highest speed", Unit: form.Speed, Of: "rpmPeak", High: "rpmMax"},
		{Label: "oil pressure after", Unit: "s", Of: "secondsToOilPressure", High: "oilPressureSeconds",
			Followed: true},
	},
	ordered: [][2]string{{"rpmMax", "rpmInspection"}, {"oilPressureSeconds", "oilPressureSecondsCold"}},
	Causes:  []Cause{starterStuck, wrongMagneto, floodedOrDry, alternatorOrBelt, noOilToGauge, throttleTooFar},
	Actions: orderedActions(shutDown, isolateBattery, groundAircraft, coolStarter, repeatCheck, writeSquawk),
	example: func(s sample) map[string]any {
		return s.start()
	},
	judge: judgePistonStart,
}

func judgePistonStart(in input, out *sheet) {
	r := in.reading
	fired := r.Flag("fired")
	if fired {
		judgeOilTime(in, out)
	}
	if !r.Flag("starterLampOut") {
		out.add(Abnormal, Stop, "starter-engaged", "", "The starter lamp is still on: the starter has not let go.").
			because(starterStuck).do(shutDown, isolateBattery, groundAircraft)
	}
	tries := r.Rows("attempts")
	tooMany := quantity.Scaled(int64(len(tries)), 0).Above(in.limits.Value("attemptsMax"))
	if tooMany {
		out.add(Abnormal, Stop, "too-many-attempts", "", "The starter was used %d times; %s tries are allowed.",
			len(tries), in.limits.Value("attemptsMax")).
			because(floodedOrDry).do(coolStarter)
	}
	if fired {
		judgeStartSpeed(in, out)
	}
	judgeStarterDuty(in, out, tries)
	wrong := judgeStartMagneto(in, out)
	if fired && !r.Flag("chargeRestored") {
		out.add(Caution, Recheck, "not-charging", "",
			"The alternator does not charge after the start.").because(alternatorOrBelt).do(repeatCheck)
	}
	if !fired && !tooMany {
		f := out.add(Caution, Recheck, "no-start", "",
			"The engine has not started; %d of the %s tries allowed %s used.", len(tries),
			in.limits.Value("attemptsMax"), isOrAre(len(tries))).
			do(repeatCheck).again()
		if wrong {
			f.because(wrongMagneto)
		}
		f.because(floodedOrDry)
	}
}

func judgeOilTime(in input, out *sheet) {
	limit := in.limits.Value("oilPressureSeconds")
	if in.conditions.Text("engineState") == "cold" && in.conditions.Has("oatC") &&
		in.conditions.Value("oatC").Below(in.limits.Value("coldBelowC")) {
		limit = in.limits.Value("oilPressureSecondsCold")
	}
	out.value("oilPressureLimitSeconds", limit)
	switch seconds := in.reading.Value("secondsToOilPressure"); {
	case !in.reading.Has("secondsToOilPressure"):
		out.add(Abnormal, Stop, "no-oil-pressure", "",
			"No oil pressure came; it must rise within %s s of first firing.", limit).
			because(noOilToGauge).do(shutDown, groundAircraft)
	case seconds.Above(limit):
		out.add(Abnormal, Stop, "oil-pressure-late", "",
			"Oil pressure came after %s s; it must rise within %s s of first firing.", seconds, limit).
			because(noOilToGauge).do(shutDown, groundAircraft)
	}
}

func judgeStartSpeed(in input, out *sheet) {
	peak, l := in.reading.Value("rpmPeak"), in.limits
	switch {
	case l.Has("rpmInspection") && peak.Above(l.Value("rpmInspection")):
		out.add(Abnormal, Stop, "overspeed-inspection", "",
			"The engine reached %s after the start; above %s it must be inspected.", in.speed(peak),
			in.speed(l.Value("rpmInspection"))).
			because(throttleTooFar).do(shutDown, groundAircraft)
	case peak.Above(l.Value("rpmMax")):
		out.add(Caution, Continue, "overspeed-after-start", "",
			"The engine reached %s after the start; the limit is %s.", in.speed(peak),
			in.speed(l.Value("rpmMax"))).do(writeSquawk)
	}
}

func judgeStarterDuty(in input, out *sheet, tries []form.Record) {
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
		out.add(Caution, Continue, "crank-too-long", "", "The starter turned for %s s at a stretch; the limit is %s s.",
			longest, in.limits.Value("crankMaxSeconds"))
	}
	if restCut {
		out.add(Caution, Continue, "rest-too-short", "", "The starter rested only %s s between tries; it needs %s s.",
			shortest, in.limits.Value("restMinSeconds"))
	}
}

// judgeStartMagneto finds a magneto on while cranking that is not timed for it,
// and reports whether there was one.
func judgeStartMagneto(in input, out *sheet) bool {
	on := in.reading.Text("switchAtStart")
	if out.typ == nil || on == "" || out.typ.StartMagneto == "" || out.typ.StartMagneto == "both" ||
		on == out.typ.StartMagneto {
		return false
	}
	out.add(Caution, Continue, "wrong-magneto", "",
		"The starter turned with the switch at %s; only the %s magneto is timed for the start, the other kicks back.",
		map[string]string{"left": "LEFT", "right": "RIGHT", "both": "BOTH"}[on],
		out.typ.StartMagneto).because(wrongMagneto)
	return true
}

func isOrAre(n int) string {
	if n == 1 {
		return "is"
	}
	return "are"
}

var (
	throttleTooFar = because("throttle-too-far", "The throttle was too far open for the start.").to("power-lever",
		"The power lever was too far forward for the start.")
	wrongMagneto = because("wrong-magneto", "The magneto that is not timed for the start was on while cranking.").
			to("no magnetos", "An ignition that is not timed for the start was on while cranking.")
	starterStuck   = because("starter-stuck", "The starter has not let go of the engine, or its contactor has welded.")
	floodedOrDry   = because("flooded-or-dry", "Too much fuel, or too little.")
	isolateBattery = do(70, "isolate-battery", "Battery master off: the starter must lose its current.")
	coolStarter    = do(110, "cool-starter",
		"Let the starter cool for as long as its maker says, then ask maintenance before another try.")
)
