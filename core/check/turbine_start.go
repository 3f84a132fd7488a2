package check

import "jetprimer/core/form"

// turbineStart judges the start of a turbine. Two gates stand before the fuel:
// enough spool speed (percent) and a residual temperature (°C) below its limit.
// Times are in seconds, winds in knots; lightOffSeconds runs from fuel to
// light-off, secondsToIdle from fuel to a self-sustaining idle.
var turbineStart = Definition{
	Name: "turbine-start", fits: []string{"turbine"},
	Title: "Turbine start",
	Rule: "Voltage and wind first, then the two gates before the fuel: spool speed up, residual temperature down. " +
		"After light-off the temperature may not pass its limit and the spool may not hang.",
	Fields: []form.Field{
		{
			Name: "batteryVolts", Label: "battery", Unit: "V", Kind: form.Number, Taken: form.ReadOff, Decimals: 1,
			Step: 0.1,
		},
		{Name: "tailwindKt", Label: "wind from behind", Unit: "kt", Kind: form.Number, Taken: form.ReadOff, Step: 1},
		{
			Name: "fuelAtSpoolPercent", Label: "spool at fuel", Unit: "%", Kind: form.Number, Taken: form.ReadOff,
			Decimals: 1, Step: 0.5,
		},
		{
			Name: "fuelAtTempC", Label: "temperature at fuel", Unit: "°C", Kind: form.Number, Taken: form.ReadOff,
			Step: 5, Signed: true,
		},
		{
			Name: "lightOffSeconds", Label: "light-off after", Unit: "s", Kind: form.Number, Taken: form.Timed,
			Timer: "light-off", Decimals: 1, Step: 1, Nullable: true,
		},
		{
			Name: "peakTempC", Label: "highest temperature", Unit: "°C", Kind: form.Number, Taken: form.ReadOff,
			Step: 5, Nullable: true,
		},
		{
			Name: "secondsAboveLimit", Label: "above the limit for", Unit: "s", Kind: form.Number, Taken: form.Timed,
			Decimals: 1, Step: 1,
		},
		{Name: "spoolAlwaysRising", Label: "spool always rising", Kind: form.Flag, Taken: form.Watched},
		{
			Name: "secondsToIdle", Label: "idle after", Unit: "s", Kind: form.Number, Taken: form.Timed,
			Timer: "to-idle", Decimals: 1, Step: 1, Nullable: true,
		},
		{
			Name: "idleSpoolPercent", Label: "spool at idle", Unit: "%", Kind: form.Number, Taken: form.ReadOff,
			Decimals: 1, Step: 0.5, Nullable: true,
		},
		{Name: "oilPressureAtIdle", Label: "oil pressure at idle", Kind: form.Flag, Taken: form.Watched},
	},
	Limits: []form.Field{
		{Name: "batteryMinVolts", Label: "battery at least", Unit: "V", Kind: form.Number, Decimals: 1},
		{Name: "tailwindCautionKt", Label: "wind from behind up to", Unit: "kt", Kind: form.Number},
		{Name: "fuelSpoolMinPercent", Label: "fuel from", Unit: "%", Kind: form.Number, Decimals: 1},
		{Name: "fuelTempMaxC", Label: "fuel below", Unit: "°C", Kind: form.Number},
		{Name: "lightOffMaxSeconds", Label: "light-off within", Unit: "s", Kind: form.Number, Decimals: 1},
		{Name: "tempLimitC", Label: "temperature limit", Unit: "°C", Kind: form.Number},
		{Name: "tempAbsoluteMaxC", Label: "never above", Unit: "°C", Kind: form.Number},
		{Name: "secondsAboveLimitMax", Label: "above the limit at most", Unit: "s", Kind: form.Number, Decimals: 1},
		{Name: "toIdleMaxSeconds", Label: "idle within", Unit: "s", Kind: form.Number, Decimals: 1},
		{Name: "idleMinPercent", Label: "idle from", Unit: "%", Kind: form.Number, Decimals: 1},
		{Name: "idleMaxPercent", Label: "idle to", Unit: "%", Kind: form.Number, Decimals: 1},
	},
	Scales: []Scale{
		{Label: "battery", Unit: "V", Of: "batteryVolts", Low: "batteryMinVolts", Followed: true},
		{Label: "tail wind", Unit: "kt", Of: "tailwindKt", CautionHigh: "tailwindCautionKt"},
		{Label: "spool at fuel", Unit: "%", Of: "fuelAtSpoolPercent", Low: "fuelSpoolMinPercent"},
		{Label: "temperature at fuel", Unit: "°C", Of: "fuelAtTempC", High: "fuelTempMaxC"},
		{Label: "light-off after", Unit: "s", Of: "lightOffSeconds", High: "lightOffMaxSeconds", Followed: true},
		{
			Label: "peak temperature", Unit: "°C", Of: "peakTempC", CautionHigh: "tempLimitC", High: "tempAbsoluteMaxC",
			Followed: true,
		},
		{Label: "above the limit for", Unit: "s", Of: "secondsAboveLimit", High: "secondsAboveLimitMax"},
		{Label: "idle after", Unit: "s", Of: "secondsToIdle", High: "toIdleMaxSeconds", Followed: true},
		{Label: "idle spool", Unit: "%", Of: "idleSpoolPercent", Low: "idleMinPercent", High: "idleMaxPercent"},
	},
	ordered: [][2]string{{"tempLimitC", "tempAbsoluteMaxC"}, {"idleMinPercent", "idleMaxPercent"}},
	Causes: []Cause{
		batteryFlat, gateNotWaitedFor, igniterOrFuel, weakAcceleration, windOrEarlyFuel, fuelControl, noOilToGauge,
	},
	Actions: orderedActions(turnIntoWind, useExternalPower, cutFuel, keepMotoring, drainAndVent, recordExceedance,
		tellMaintenance, repeatCheck, shutDown, groundAircraft),
	example: func(s sample) map[string]any {
		return object("batteryVolts", s.between(s.limit("batteryMinVolts"), s.limit("batteryMinVolts")+2, 0.1),
			"tailwindKt", 0,
			"fuelAtSpoolPercent", s.between(s.limit("fuelSpoolMinPercent"), s.limit("fuelSpoolMinPercent")+3, 0.1),
			"fuelAtTempC", s.between(0, s.limit("fuelTempMaxC"), 5), "lightOffSeconds",
			s.between(0, s.limit("lightOffMaxSeconds"), 0.1),
			"peakTempC", s.between(s.limit("tempLimitC")-120, s.limit("tempLimitC"), 5), "secondsAboveLimit", 0,
			"spoolAlwaysRising", true,
			"secondsToIdle", s.between(s.limit("toIdleMaxSeconds")/3, s.limit("toIdleMaxSeconds"), 1),
			"idleSpoolPercent", s.within("idleMinPercent", "idleMaxPercent", 0.1), "oilPressureAtIdle", true)
	},
	sound: func(in input) error {
		r, limit := in.reading, in.limits.Value("tempLimitC")
		above := r.Value("secondsAboveLimit")
		switch {
		case r.Has("lightOffSeconds") && !r.Has("peakTempC"):
			return form.Bad("reading.peakTempC", "may be null only where there was no light-off")
		case above.Sign() > 0 && r.Has("peakTempC") && !r.Value("peakTempC").Above(limit):
			return form.Bad("reading.secondsAboveLimit",
				"is %s s though the peak of %s °C never passed the limit of %s °C", above, r.Value("peakTempC"), limit)
		}
		return nil
	},
	judge: judgeTurbineStart,
}

func judgeTurbineStart(in input, out *sheet) {
	judgeTurbineGates(in, out)
	if judgeLightOff(in, out) && judgePeak(in, out) {
		judgeTurbineIdle(in, out)
	}
}

func judgeTurbineGates(in input, out *sheet) {
	r, l := in.reading, in.limits
	if v := r.Value("batteryVolts"); v.Below(l.Value("batteryMinVolts")) {
		out.add(Abnormal, Stop, "battery-low", "",
			"The battery gives %s V; at least %s V are needed, or the start runs hot.", v, l.Value("batteryMinVolts")).
			because(batteryFlat).do(useExternalPower)
	}
	if v := r.Value("tailwindKt"); v.Above(l.Value("tailwindCautionKt")) {
		out.add(Caution, Continue, "tail-wind", "",
			"The wind from behind is %s kt; above %s kt it blows hot gas back into the engine.", v,
			l.Value("tailwindCautionKt")).
			do(turnIntoWind)
	}
	if v := r.Value("fuelAtSpoolPercent"); v.Below(l.Value("fuelSpoolMinPercent")) {
		out.add(Abnormal, Stop, "fuel-too-early", "", "Fuel went in at %s %% spool; not before %s %%.", v,
			l.Value("fuelSpoolMinPercent")).
			because(gateNotWaitedFor).do(unlessIdling(in, cutFuel, keepMotoring)...)
	}
	if v := r.Value("fuelAtTempC"); v.Above(l.Value("fuelTempMaxC")) {
		out.add(Abnormal, Stop, "fuel-too-hot", "",
			"Fuel went in at %s °C; the engine must first be motored to %s °C or less.", v, l.Value("fuelTempMaxC")).
			because(gateNotWaitedFor).do(unlessIdling(in, cutFuel, keepMotoring)...)
	}
}

// unlessIdling are the actions for a start that is going on; once idle was reached
// there is nothing left to break off, and maintenance decides what follows.
func unlessIdling(in input, now ...action) []action {
	if in.reading.Has("secondsToIdle") {
		return []action{recordExceedance, tellMaintenance, shutDownNormally}
	}
	return now
}

// judgeLightOff reports whether the fuel lit in time.
func judgeLightOff(in input, out *sheet) bool {
	seconds, most := in.reading.Value("lightOffSeconds"), in.limits.Value("lightOffMaxSeconds")
	switch {
	case !in.reading.Has("lightOffSeconds"):
		out.add(Abnormal, Stop, "no-light-off", "", "The fuel did not light; it must light within %s s.", most).
			because(igniterOrFuel).do(cutFuel, drainAndVent)
	case seconds.Above(most):
		out.add(Abnormal, Stop, "no-light-off", "", "The fuel lit only after %s s; it must within %s s.", seconds,
			most).
			because(igniterOrFuel).do(unlessIdling(in, cutFuel, drainAndVent)...)
	default:
		return true
	}
	return false
}

// judgePeak reports whether the temperature stayed within what is allowed.
func judgePeak(in input, out *sheet) bool {
	r, l := in.reading, in.limits
	peak, limit, above := r.Value("peakTempC"), l.Value("tempLimitC"), r.Value("secondsAboveLimit")
	switch {
	case !r.Has("peakTempC") || !peak.Above(limit):
		return true
	case peak.Above(l.Value("tempAbsoluteMaxC")):
		out.add(Abnormal, Stop, "hot-start", "", "The temperature reached %s °C; %s °C may never be passed.", peak,
			l.Value("tempAbsoluteMaxC")).
			because(weakAcceleration, windOrEarlyFuel).do(unlessIdling(in, cutFuel, keepMotoring, recordExceedance)...)
	case above.Above(l.Value("secondsAboveLimitMax")):
		out.add(Abnormal, Stop, "hot-start", "",
			"The temperature reached %s °C and stayed above %s °C for %s s; %s s are allowed.", peak, limit, above,
			l.Value("secondsAboveLimitMax")).
			because(weakAcceleration, windOrEarlyFuel).do(unlessIdling(in, cutFuel, keepMotoring, recordExceedance)...)
	default:
		out.add(Caution, Continue, "temperature-transient", "",
			"The temperature reached %s °C, above %s °C for %s s of the %s s allowed.", peak, limit, above,
			l.Value("secondsAboveLimitMax")).
			do(recordExceedance)
		return true
	}
	return false
}

func judgeTurbineIdle(in input, out *sheet) {
	r, l := in.reading, in.limits
	seconds, most := r.Value("secondsToIdle"), l.Value("toIdleMaxSeconds")
	switch {
	case !r.Flag("spoolAlwaysRising"):
		out.add(Abnormal, Stop, "hung-start", "",
			"The spool stopped rising before idle.").because(weakAcceleration).do(unlessIdling(in, cutFuel)...)
	case !r.Has("secondsToIdle"):
		out.add(Abnormal, Stop, "hung-start", "", "The engine did not reach idle; it must reach it within %s s.",
			most).because(weakAcceleration).do(unlessIdling(in, cutFuel)...)
	case seconds.Above(most):
		out.add(Abnormal, Stop, "hung-start", "", "The engine took %s s to idle; it must be there within %s s.",
			seconds, most).because(weakAcceleration).do(unlessIdling(in, cutFuel)...)
	}
	idle, least, highest := r.Value("idleSpoolPercent"), l.Value("idleMinPercent"), l.Value("idleMaxPercent")
	if r.Has("idleSpoolPercent") && (idle.Below(least) || idle.Above(highest)) {
		out.add(Caution, Recheck, "idle-out-of-range", "", "The spool idles at %s %%; it must be from %s to %s %%.",
			idle, least, highest).
			because(fuelControl).do(repeatCheck)
	}
	if !r.Flag("oilPressureAtIdle") {
		out.add(Abnormal, Stop, "no-oil-pressure", "",
			"There is no oil pressure at idle.").because(noOilToGauge).do(shutDown, groundAircraft)
	}
}

var (
	gateNotWaitedFor = because("gate-not-waited-for", "The gate was not waited for.")
	igniterOrFuel    = because("igniter-or-fuel", "The igniter, or no fuel at the nozzles.")
	weakAcceleration = because("weak-acceleration",
		"The spool accelerates too slowly: a weak battery, or fuel too early.")
	windOrEarlyFuel = because("wind-or-early-fuel", "Wind from behind, or heat left from the last run.")
	cutFuel         = do(20, "cut-fuel", "Cut the fuel now.")
	keepMotoring    = do(30, "keep-motoring",
		"Keep the starter turning, within its limit, until the temperature has fallen.")
	drainAndVent = do(40, "drain-and-vent",
		"Let the fuel drain and the engine air for as long as the handbook says before another try.")
	recordExceedance = do(90, "record-exceedance",
		"Write down the highest temperature and the seconds above the limit for maintenance.")
	tellMaintenance  = do(94, "tell-maintenance", "Tell maintenance, with the numbers, before the next start.")
	shutDownNormally = do(96, "shut-down", "Where the handbook asks for it, a normal shut-down with its cool-down.")
	turnIntoWind     = do(120, "turn-into-wind", "Turn the aircraft into the wind before the next start.")
)
