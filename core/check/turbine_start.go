package check

// turbineStart judges the start of a turbine. Two gates stand before the fuel:
// enough spool speed (percent) and a residual temperature (°C) below its limit.
// Times are in seconds, winds in knots; lightOffSeconds runs from fuel to
// light-off, secondsToIdle from fuel to a self-sustaining idle.
var turbineStart = Definition{
	Name:  "turbine-start",
	Title: "Turbine start",
	Rule: "Voltage and wind first, then the two gates before the fuel: spool speed up, residual temperature down. " +
		"After light-off the temperature may not pass its limit and the spool may not hang.",
	Fields: []Field{
		{Name: "batteryVolts", Label: "battery", Unit: "V", Kind: Number, Taken: ReadOff, Decimals: 1, Step: 0.1},
		{Name: "tailwindKt", Label: "wind from behind", Unit: "kt", Kind: Number, Taken: ReadOff, Step: 1},
		{Name: "fuelAtSpoolPercent", Label: "spool at fuel", Unit: "%", Kind: Number, Taken: ReadOff, Decimals: 1, Step: 0.5},
		{Name: "fuelAtTempC", Label: "temperature at fuel", Unit: "°C", Kind: Number, Taken: ReadOff, Step: 5, Signed: true},
		{Name: "lightOffSeconds", Label: "light-off after", Unit: "s", Kind: Number, Taken: Timed, Decimals: 1, Step: 1, Nullable: true},
		{Name: "peakTempC", Label: "highest temperature", Unit: "°C", Kind: Number, Taken: ReadOff, Step: 5, Nullable: true},
		{Name: "secondsAboveLimit", Label: "above the limit for", Unit: "s", Kind: Number, Taken: Timed, Decimals: 1, Step: 1},
		{Name: "spoolAlwaysRising", Label: "spool always rising", Kind: Flag, Taken: Watched},
		{Name: "secondsToIdle", Label: "idle after", Unit: "s", Kind: Number, Taken: Timed, Decimals: 1, Step: 1, Nullable: true},
		{Name: "idleSpoolPercent", Label: "spool at idle", Unit: "%", Kind: Number, Taken: ReadOff, Decimals: 1, Step: 0.5, Nullable: true},
		{Name: "oilPressureAtIdle", Label: "oil pressure at idle", Kind: Flag, Taken: Watched},
	},
	Limits: []Field{
		{Name: "batteryMinVolts", Label: "battery at least", Unit: "V", Kind: Number, Decimals: 1},
		{Name: "tailwindCautionKt", Label: "wind from behind up to", Unit: "kt", Kind: Number},
		{Name: "fuelSpoolMinPercent", Label: "fuel from", Unit: "%", Kind: Number, Decimals: 1},
		{Name: "fuelTempMaxC", Label: "fuel below", Unit: "°C", Kind: Number},
		{Name: "lightOffMaxSeconds", Label: "light-off within", Unit: "s", Kind: Number, Decimals: 1},
		{Name: "tempLimitC", Label: "temperature limit", Unit: "°C", Kind: Number},
		{Name: "tempAbsoluteMaxC", Label: "never above", Unit: "°C", Kind: Number},
		{Name: "secondsAboveLimitMax", Label: "above the limit at most", Unit: "s", Kind: Number, Decimals: 1},
		{Name: "toIdleMaxSeconds", Label: "idle within", Unit: "s", Kind: Number, Decimals: 1},
		{Name: "idleMinPercent", Label: "idle from", Unit: "%", Kind: Number, Decimals: 1},
		{Name: "idleMaxPercent", Label: "idle to", Unit: "%", Kind: Number, Decimals: 1},
	},
	ordered: [][2]string{{"tempLimitC", "tempAbsoluteMaxC"}, {"idleMinPercent", "idleMaxPercent"}},
	judge:   judgeTurbineStart,
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
		out.add(Abnormal, Stop, "battery-low", "", "The battery gives %s V; at least %s V are needed, or the start runs hot.", v, l.Value("batteryMinVolts")).
			because("battery-flat").do("use-external-power")
	}
	if v := r.Value("tailwindKt"); v.Above(l.Value("tailwindCautionKt")) {
		out.add(Caution, Continue, "tail-wind", "", "The wind from behind is %s kt; above %s kt it blows hot gas back into the engine.", v, l.Value("tailwindCautionKt")).
			do("turn-into-wind")
	}
	if v := r.Value("fuelAtSpoolPercent"); v.Below(l.Value("fuelSpoolMinPercent")) {
		out.add(Abnormal, Stop, "fuel-too-early", "", "Fuel went in at %s %% spool; not before %s %%.", v, l.Value("fuelSpoolMinPercent")).
			because("gate-not-waited-for").do("cut-fuel", "keep-motoring")
	}
	if v := r.Value("fuelAtTempC"); v.Above(l.Value("fuelTempMaxC")) {
		out.add(Abnormal, Stop, "fuel-too-hot", "", "Fuel went in at %s °C; the engine must first be motored to %s °C or less.", v, l.Value("fuelTempMaxC")).
			because("gate-not-waited-for").do("cut-fuel", "keep-motoring")
	}
}

// judgeLightOff reports whether the fuel lit in time.
func judgeLightOff(in input, out *sheet) bool {
	seconds, most := in.reading.Value("lightOffSeconds"), in.limits.Value("lightOffMaxSeconds")
	switch {
	case !in.reading.Has("lightOffSeconds"):
		out.add(Abnormal, Stop, "no-light-off", "", "The fuel did not light; it must within %s s.", most).
			because("igniter-or-fuel").do("cut-fuel", "drain-and-vent")
	case seconds.Above(most):
		out.add(Abnormal, Stop, "no-light-off", "", "The fuel lit only after %s s; it must within %s s.", seconds, most).
			because("igniter-or-fuel").do("cut-fuel", "drain-and-vent")
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
		out.add(Abnormal, Stop, "hot-start", "", "The temperature reached %s °C; %s °C may never be passed.", peak, l.Value("tempAbsoluteMaxC")).
			because("weak-acceleration", "wind-or-early-fuel").do("cut-fuel", "keep-motoring", "record-exceedance")
	case above.Above(l.Value("secondsAboveLimitMax")):
		out.add(Abnormal, Stop, "hot-start", "", "The temperature reached %s °C and stayed above %s °C for %s s; %s s are allowed.", peak, limit, above, l.Value("secondsAboveLimitMax")).
			because("weak-acceleration", "wind-or-early-fuel").do("cut-fuel", "keep-motoring", "record-exceedance")
	default:
		out.add(Caution, Continue, "temperature-transient", "", "The temperature reached %s °C, above %s °C for %s s of the %s s allowed.", peak, limit, above, l.Value("secondsAboveLimitMax")).
			do("record-exceedance")
		return true
	}
	return false
}

func judgeTurbineIdle(in input, out *sheet) {
	r, l := in.reading, in.limits
	seconds, most := r.Value("secondsToIdle"), l.Value("toIdleMaxSeconds")
	switch {
	case !r.Flag("spoolAlwaysRising"):
		out.add(Abnormal, Stop, "hung-start", "", "The spool stopped rising before idle.").because("weak-acceleration").do("cut-fuel")
	case !r.Has("secondsToIdle"):
		out.add(Abnormal, Stop, "hung-start", "", "The engine did not reach idle; it must within %s s.", most).because("weak-acceleration").do("cut-fuel")
	case seconds.Above(most):
		out.add(Abnormal, Stop, "hung-start", "", "The engine took %s s to idle; it must be there within %s s.", seconds, most).because("weak-acceleration").do("cut-fuel")
	}
	idle, least, highest := r.Value("idleSpoolPercent"), l.Value("idleMinPercent"), l.Value("idleMaxPercent")
	if r.Has("idleSpoolPercent") && (idle.Below(least) || idle.Above(highest)) {
		out.add(Caution, Recheck, "idle-out-of-range", "", "The spool idles at %s %%; it must be from %s to %s %%.", idle, least, highest).
			because("fuel-control").do("repeat-check")
	}
	if !r.Flag("oilPressureAtIdle") {
		out.add(Abnormal, Stop, "no-oil-pressure", "", "There is no oil pressure at idle.").because("no-oil-to-gauge").do("shut-down", "ground-aircraft")
	}
}
