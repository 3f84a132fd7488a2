package check

import "jetprimer/core/form"

// clutch judges the engagement of a belt-driven rotor; times in seconds from
// the clutch switch. A time that never came counts as late.
var clutch = Definition{
	Name: "clutch", fits: []string{"clutch"},
	Title: "Clutch and blades",
	Rule: "The blades must turn within seconds of the clutch switch and the belt lamp must go out in time: belts " +
		"that slip burn.",
	Fields: []form.Field{
		{
			Name: "bladesTurningSeconds", Label: "blades turning after", Unit: "s", Kind: form.Number,
			Taken: form.Timed, Timer: "blades", Decimals: 1, Step: 1, Nullable: true,
		},
		{
			Name: "lampOutSeconds", Label: "belt lamp out after", Unit: "s", Kind: form.Number, Taken: form.Timed,
			Timer: "clutch", Decimals: 1, Step: 5, Nullable: true,
		},
	},
	Limits: []form.Field{
		{Name: "bladesTurningMax", Label: "blades within", Unit: "s", Kind: form.Number, Decimals: 1},
		{Name: "lampOutMax", Label: "lamp within", Unit: "s", Kind: form.Number, Decimals: 1},
	},
	Scales: []Scale{
		{Label: "blades turning after", Unit: "s", Of: "bladesTurningSeconds", High: "bladesTurningMax",
			Followed: true},
		{Label: "belt lamp out after", Unit: "s", Of: "lampOutSeconds", High: "lampOutMax", Followed: true},
	},
	Causes:  []Cause{beltsSlip, beltActuator},
	Actions: orderedActions(shutDown, groundAircraft),
	example: func(s sample) map[string]any {
		return object("bladesTurningSeconds", s.between(0, s.limit("bladesTurningMax"), 0.5), "lampOutSeconds",
			s.between(s.limit("lampOutMax")/3, s.limit("lampOutMax"), 1))
	},
	judge: func(in input, out *sheet) {
		judgeLate(in, out, "bladesTurningSeconds", "bladesTurningMax", "blades-late",
			"The blades turned only after %s s; they must within %s s.",
			"The blades did not turn; they must turn within %s s.", beltsSlip)
		judgeLate(in, out, "lampOutSeconds", "lampOutMax", "belt-lamp-late",
			"The belt lamp went out only after %s s; it must within %s s.",
			"The belt lamp did not go out; it must go out within %s s.", beltActuator)
	},
}

// judgeLate finds a time above its limit, or one that never came.
func judgeLate(in input, out *sheet, field, limit, code, late, never string, cause Cause) {
	seconds, most := in.reading.Value(field), in.limits.Value(limit)
	switch {
	case !in.reading.Has(field):
		out.add(Abnormal, Stop, code, "", never, most).because(cause).do(shutDown, groundAircraft)
	case seconds.Above(most):
		out.add(Abnormal, Stop, code, "", late, seconds, most).because(cause).do(shutDown, groundAircraft)
	}
}

// needleSplit shows that the freewheel lets the rotor run on when the engine
// slows; the split is in percent.
var needleSplit = Definition{
	Name: "needle-split", fits: []string{"freewheel"},
	Title: "Needle split",
	Rule: "With the throttle snapped closed the rotor must run on by itself: without a freewheel there is no " +
		"autorotation.",
	Fields: []form.Field{
		{
			Name: "splitPercent", Label: "needles apart by", Unit: "%", Kind: form.Number, Taken: form.ReadOff,
			Decimals: 1, Step: 1,
		},
	},
	Limits: []form.Field{{Name: "splitMin", Label: "apart at least", Unit: "%", Kind: form.Number, Decimals: 1}},
	Scales: []Scale{
		{Label: "split", Unit: "%", Of: "splitPercent", Low: "splitMin", Followed: true},
	},
	Causes:  []Cause{freewheel},
	Actions: orderedActions(repeatFromHigherSpeed, groundAircraft),
	example: func(s sample) map[string]any {
		return object("splitPercent", s.between(s.limit("splitMin"), s.limit("splitMin")+6, 1))
	},
	judge: func(in input, out *sheet) {
		split, least := in.reading.Value("splitPercent"), in.limits.Value("splitMin")
		if split.Below(least) {
			out.add(Caution, Recheck, "no-split", "",
				"The needles parted by %s %%; at least %s %% show that the freewheel lets go.", split, least).
				because(freewheel).do(repeatFromHigherSpeed)
		}
	},
}

// deceleration times how a turbine runs down from a gate when the throttle is
// closed: too quick means that the fuel control may let it go out.
var deceleration = Definition{
	Name: "deceleration", fits: []string{"turbine"},
	Title: "Deceleration",
	Rule: "From the gate speed the spool must take its time to run down. Too quick, and a closed throttle in " +
		"flight may put the flame out.",
	Fields: []form.Field{
		{
			Name: "startSpoolPercent", Label: "spool at the start", Unit: "%", Kind: form.Number, Taken: form.ReadOff,
			Decimals: 1, Step: 1,
		},
		{
			Name: "seconds", Label: "to the lower mark", Unit: "s", Kind: form.Number, Taken: form.Timed,
			Timer: "deceleration", Decimals: 1, Step: 0.5, NullWhen: []string{"flamedOut"},
		},
		{Name: "flamedOut", Label: "flame went out", Kind: form.Flag, Taken: form.Watched},
	},
	Limits: []form.Field{
		{Name: "startMin", Label: "start from", Unit: "%", Kind: form.Number, Decimals: 1},
		{Name: "secondsMin", Label: "takes at least", Unit: "s", Kind: form.Number, Decimals: 1},
	},
	Scales: []Scale{
		{Label: "from", Unit: "%", Of: "startSpoolPercent", Low: "startMin"},
		{Label: "took", Unit: "s", Of: "seconds", Low: "secondsMin", Followed: true},
	},
	Causes:  []Cause{fuelControl},
	Actions: orderedActions(shutDown, groundAircraft, repeatCheck),
	example: func(s sample) map[string]any {
		return object("startSpoolPercent", s.between(s.limit("startMin"), s.limit("startMin")+2, 0.1), "seconds",
			s.between(s.limit("secondsMin"), s.limit("secondsMin")+2, 0.1), "flamedOut", false)
	},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		low := r.Value("startSpoolPercent").Below(l.Value("startMin"))
		if r.Flag("flamedOut") {
			out.add(Abnormal, Stop, "engine-stopped", "",
				"The flame went out when the throttle was closed.").because(fuelControl).do(shutDown, groundAircraft)
		} else if seconds := r.Value("seconds"); !low && seconds.Below(l.Value("secondsMin")) {
			out.add(Abnormal, Stop, "deceleration-too-quick", "",
				"The spool ran down in %s s; it must take at least %s s.", seconds, l.Value("secondsMin")).
				because(fuelControl).do(groundAircraft)
		}
		if low {
			out.add(Invalid, Recheck, "start-below-gate", "",
				"The throttle was closed at %s %%; the timing counts from %s %% or more.", r.Value("startSpoolPercent"),
				l.Value("startMin")).
				do(repeatCheck)
		}
	},
}

// hydraulics is the switching off and on of the assistance to the controls.
var hydraulics = Definition{
	Name: "hydraulics", fits: []string{"hydraulic-controls"},
	Title: "Hydraulics",
	Rule: "Off, the controls must grow stiff; on, they must be free, and pull to no side: then both the assistance " +
		"and its switch work.",
	Fields: []form.Field{
		{Name: "stiffWhenOff", Label: "stiff when off", Kind: form.Flag, Taken: form.Watched},
		{Name: "freeWhenOn", Label: "free when on", Kind: form.Flag, Taken: form.Watched},
		{Name: "residualPull", Label: "pulls to a side", Kind: form.Flag, Taken: form.Watched},
	},
	Limits:  []form.Field{},
	Scales:  []Scale{},
	Causes:  []Cause{hydraulicValve, hydraulicPump, hydraulicServo},
	Actions: orderedActions(groundAircraft),
	example: func(s sample) map[string]any {
		return object("stiffWhenOff", true, "freeWhenOn", true, "residualPull", false)
	},
	judge: func(in input, out *sheet) {
		r := in.reading
		if !r.Flag("stiffWhenOff") {
			out.add(Abnormal, Stop, "assist-stays-on", "",
				"The controls stayed light with the hydraulics off: the switch does not let the pressure go.").
				because(hydraulicValve).do(groundAircraft)
		}
		if !r.Flag("freeWhenOn") {
			out.add(Abnormal, Stop, "no-assist", "",
				"The controls stayed stiff with the hydraulics on.").because(hydraulicPump).do(groundAircraft)
		}
		if r.Flag("residualPull") {
			out.add(Abnormal, Stop, "pulls", "",
				"The controls pull to one side with the hydraulics on.").because(hydraulicServo).do(groundAircraft)
		}
	},
}

// lowRotorWarning is the warning of low rotor speed, in percent of rotor speed,
// met while the speed is brought down and up again, or, where it is on at idle,
// as it goes out on the way up.
var lowRotorWarning = Definition{
	Name: "low-rotor-warning", fits: []string{"low-rotor-warning"},
	Title: "Low-rotor warning",
	Rule: "Horn and lamp must come on inside their band as the rotor slows and go out as it recovers: in flight " +
		"there are two seconds between them and the ground.",
	Fields: []form.Field{
		{Name: "onFromIdle", Label: "on from idle", Kind: form.Flag, Taken: form.Watched, Optional: true},
		{
			Name: "onAtPercent", Label: "came on at", Unit: "%", Kind: form.Number, Taken: form.ReadOff, Decimals: 1,
			Step: 1, Nullable: true,
		},
		{
			Name: "offAtPercent", Label: "went out at", Unit: "%", Kind: form.Number, Taken: form.ReadOff, Decimals: 1,
			Step: 1, Nullable: true,
		},
	},
	Limits: []form.Field{
		{Name: "onMin", Label: "on from", Unit: "%", Kind: form.Number, Decimals: 1},
		{Name: "onMax", Label: "on to", Unit: "%", Kind: form.Number, Decimals: 1},
	},
	Scales: []Scale{
		{Label: "warning on at", Unit: "%", Of: "onAtPercent", Low: "onMin", High: "onMax", Followed: true},
	},
	ordered: [][2]string{{"onMin", "onMax"}},
	Causes:  []Cause{warningUnit},
	Actions: orderedActions(groundAircraft, repeatCheck),
	example: func(s sample) map[string]any {
		on := s.within("onMin", "onMax", 0.5)
		return object("onAtPercent", on, "offAtPercent", s.between(on, s.limit("onMax"), 0.5))
	},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		if r.Flag("onFromIdle") {
			judgeFromIdle(in, out)
			return
		}
		if !r.Has("onAtPercent") {
			out.add(Abnormal, Stop, "warning-silent", "",
				"The low-rotor warning did not come on; it must come on between %s and %s %%.", l.Value("onMin"),
				l.Value("onMax")).
				because(warningUnit).do(groundAircraft)
			return
		}
		if on := r.Value("onAtPercent"); on.Below(l.Value("onMin")) || on.Above(l.Value("onMax")) {
			out.add(Caution, Recheck, "warning-out-of-band", "",
				"The low-rotor warning came on at %s %%; its band is %s to %s %%.", on, l.Value("onMin"),
				l.Value("onMax")).
				because(warningUnit).do(repeatCheck)
		}
		if !r.Has("offAtPercent") {
			out.add(Caution, Recheck, "warning-stays-on", "",
				"The low-rotor warning stayed on with the rotor back at speed.").because(warningUnit).do(repeatCheck)
		}
	},
}

// judgeFromIdle judges a warning that was on at idle, where the rotor turns below
// its band, by where it goes out on the way up.
func judgeFromIdle(in input, out *sheet) {
	off, l := in.reading.Value("offAtPercent"), in.limits
	switch {
	case !in.reading.Has("offAtPercent"):
		out.add(Caution, Recheck, "warning-stays-on", "",
			"The low-rotor warning stayed on with the rotor at speed.").because(warningUnit).do(repeatCheck)
	case off.Below(l.Value("onMin")) || off.Above(l.Value("onMax")):
		out.add(Caution, Recheck, "warning-out-of-band", "",
			"The low-rotor warning went out at %s %% on the way up; its band is %s to %s %%.", off, l.Value("onMin"),
			l.Value("onMax")).
			because(warningUnit).do(repeatCheck)
	}
}

var (
	beltsSlip             = because("belts-slip", "The belts slip or are not drawn tight.")
	beltActuator          = because("belt-actuator", "The belt actuator or its switch.")
	freewheel             = because("freewheel", "The freewheel drags, or the speed was too low to show it.")
	hydraulicValve        = because("hydraulic-valve", "The hydraulic switch or its valve.")
	hydraulicPump         = because("hydraulic-pump", "The hydraulic pump, its drive or its fluid.")
	hydraulicServo        = because("hydraulic-servo", "A servo is out of rig, or air is in it.")
	warningUnit           = because("warning-unit", "The warning unit, its sender or its horn.")
	repeatFromHigherSpeed = do(230, "repeat-from-higher-speed", "Repeat once from a higher speed.")
)
