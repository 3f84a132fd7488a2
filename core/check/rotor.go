package check

// clutch judges the engagement of a belt-driven rotor; times in seconds from
// the clutch switch. A time that never came counts as late.
var clutch = Definition{
	Name:  "clutch",
	Title: "Clutch and blades",
	Rule:  "The blades must turn within seconds of the clutch switch and the belt lamp must go out in time: belts that slip burn.",
	Fields: []Field{
		{Name: "bladesTurningSeconds", Label: "blades turning after", Unit: "s", Kind: Number, Taken: Timed, Decimals: 1, Step: 1, Nullable: true},
		{Name: "lampOutSeconds", Label: "belt lamp out after", Unit: "s", Kind: Number, Taken: Timed, Decimals: 1, Step: 5, Nullable: true},
	},
	Limits: []Field{
		{Name: "bladesTurningMax", Label: "blades within", Unit: "s", Kind: Number, Decimals: 1},
		{Name: "lampOutMax", Label: "lamp within", Unit: "s", Kind: Number, Decimals: 1},
	},
	judge: func(in input, out *sheet) {
		judgeLate(in, out, "bladesTurningSeconds", "bladesTurningMax", "blades-late", "The blades turned only after %s s; they must within %s s.",
			"The blades did not turn; they must within %s s.", "belts-slip")
		judgeLate(in, out, "lampOutSeconds", "lampOutMax", "belt-lamp-late", "The belt lamp went out only after %s s; it must within %s s.",
			"The belt lamp did not go out; it must within %s s.", "belt-actuator")
	},
}

// judgeLate finds a time above its limit, or one that never came.
func judgeLate(in input, out *sheet, field, limit, code, late, never, because string) {
	seconds, most := in.reading.Value(field), in.limits.Value(limit)
	switch {
	case !in.reading.Has(field):
		out.add(Abnormal, Stop, code, "", never, most).because(because).do("shut-down", "ground-aircraft")
	case seconds.Above(most):
		out.add(Abnormal, Stop, code, "", late, seconds, most).because(because).do("shut-down", "ground-aircraft")
	}
}

// needleSplit shows that the freewheel lets the rotor run on when the engine
// slows; the split is in percent.
var needleSplit = Definition{
	Name:   "needle-split",
	Title:  "Needle split",
	Rule:   "With the throttle snapped closed the rotor must run on by itself: without a freewheel there is no autorotation.",
	Fields: []Field{{Name: "splitPercent", Label: "needles apart by", Unit: "%", Kind: Number, Taken: ReadOff, Decimals: 1, Step: 1}},
	Limits: []Field{{Name: "splitMin", Label: "apart at least", Unit: "%", Kind: Number, Decimals: 1}},
	judge: func(in input, out *sheet) {
		split, least := in.reading.Value("splitPercent"), in.limits.Value("splitMin")
		if split.Below(least) {
			out.add(Caution, Recheck, "no-split", "", "The needles parted by %s %%; at least %s %% show that the freewheel lets go.", split, least).
				because("freewheel").do("repeat-from-higher-speed")
		}
	},
}

// deceleration times how a turbine runs down from a gate when the throttle is
// closed: too quick means that the fuel control may let it go out.
var deceleration = Definition{
	Name:  "deceleration",
	Title: "Deceleration",
	Rule:  "From the gate speed the spool must take its time to run down. Too quick, and a closed throttle in flight may put the flame out.",
	Fields: []Field{
		{Name: "startSpoolPercent", Label: "spool at the start", Unit: "%", Kind: Number, Taken: ReadOff, Decimals: 1, Step: 1},
		{Name: "seconds", Label: "to the lower mark", Unit: "s", Kind: Number, Taken: Timed, Decimals: 1, Step: 0.5, NullWhen: []string{"flamedOut"}},
		{Name: "flamedOut", Label: "flame went out", Kind: Flag, Taken: Watched},
	},
	Limits: []Field{
		{Name: "startMin", Label: "start from", Unit: "%", Kind: Number, Decimals: 1},
		{Name: "secondsMin", Label: "takes at least", Unit: "s", Kind: Number, Decimals: 1},
	},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		low := r.Value("startSpoolPercent").Below(l.Value("startMin"))
		if r.Flag("flamedOut") {
			out.add(Abnormal, Stop, "engine-stopped", "", "The flame went out when the throttle was closed.").because("fuel-control").do("shut-down", "ground-aircraft")
		} else if seconds := r.Value("seconds"); !low && seconds.Below(l.Value("secondsMin")) {
			out.add(Abnormal, Stop, "deceleration-too-quick", "", "The spool ran down in %s s; it must take at least %s s.", seconds, l.Value("secondsMin")).
				because("fuel-control").do("ground-aircraft")
		}
		if low {
			out.add(Invalid, Recheck, "start-below-gate", "", "The throttle was closed at %s %%; the timing counts from %s %% or more.", r.Value("startSpoolPercent"), l.Value("startMin")).
				do("repeat-check")
		}
	},
}

// hydraulics is the switching off and on of the assistance to the controls.
var hydraulics = Definition{
	Name:  "hydraulics",
	Title: "Hydraulics",
	Rule:  "Off, the controls must grow stiff; on, they must be free, and pull to no side: then both the assistance and its switch work.",
	Fields: []Field{
		{Name: "stiffWhenOff", Label: "stiff when off", Kind: Flag, Taken: Watched},
		{Name: "freeWhenOn", Label: "free when on", Kind: Flag, Taken: Watched},
		{Name: "residualPull", Label: "pulls to a side", Kind: Flag, Taken: Watched},
	},
	Limits: []Field{},
	judge: func(in input, out *sheet) {
		r := in.reading
		if !r.Flag("stiffWhenOff") {
			out.add(Abnormal, Stop, "assist-stays-on", "", "The controls stayed light with the hydraulics off: the switch does not let the pressure go.").
				because("hydraulic-valve").do("ground-aircraft")
		}
		if !r.Flag("freeWhenOn") {
			out.add(Abnormal, Stop, "no-assist", "", "The controls stayed stiff with the hydraulics on.").because("hydraulic-pump").do("ground-aircraft")
		}
		if r.Flag("residualPull") {
			out.add(Abnormal, Stop, "pulls", "", "The controls pull to one side with the hydraulics on.").because("hydraulic-servo").do("ground-aircraft")
		}
	},
}

// lowRotorWarning is the warning of low rotor speed, in percent of rotor speed,
// met while the speed is brought down and up again.
var lowRotorWarning = Definition{
	Name:  "low-rotor-warning",
	Title: "Low-rotor warning",
	Rule:  "Horn and lamp must come on inside their band as the rotor slows and go out as it recovers: in flight there are two seconds between them and the ground.",
	Fields: []Field{
		{Name: "onAtPercent", Label: "came on at", Unit: "%", Kind: Number, Taken: ReadOff, Decimals: 1, Step: 1, Nullable: true},
		{Name: "offAtPercent", Label: "went out at", Unit: "%", Kind: Number, Taken: ReadOff, Decimals: 1, Step: 1, Nullable: true},
	},
	Limits: []Field{
		{Name: "onMin", Label: "on from", Unit: "%", Kind: Number, Decimals: 1},
		{Name: "onMax", Label: "on to", Unit: "%", Kind: Number, Decimals: 1},
	},
	ordered: [][2]string{{"onMin", "onMax"}},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		if !r.Has("onAtPercent") {
			out.add(Abnormal, Stop, "warning-silent", "", "The low-rotor warning did not come on; it must from %s to %s %%.", l.Value("onMin"), l.Value("onMax")).
				because("warning-unit").do("ground-aircraft")
			return
		}
		if on := r.Value("onAtPercent"); on.Below(l.Value("onMin")) || on.Above(l.Value("onMax")) {
			out.add(Caution, Recheck, "warning-out-of-band", "", "The low-rotor warning came on at %s %%; its band is %s to %s %%.", on, l.Value("onMin"), l.Value("onMax")).
				because("warning-unit").do("repeat-check")
		}
		if !r.Has("offAtPercent") {
			out.add(Caution, Recheck, "warning-stays-on", "", "The low-rotor warning stayed on with the rotor back at speed.").because("warning-unit").do("repeat-check")
		}
	},
}
