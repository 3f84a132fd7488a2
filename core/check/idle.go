package check

import "jetprimer/core/form"

// idle holds the closed-throttle speed to its band, after it was held long
// enough to settle.
var idle = Definition{
	Name: "idle", fits: []string{"no turbine"},
	Title: "Idle check",
	Rule:  "With the throttle closed the engine must keep running: it will have to on every approach.",
	Fields: []form.Field{
		tachometerUnit,
		{
			Name: "rpm", Label: "idle speed", Unit: form.Speed, Kind: form.Number, Taken: form.ReadOff, Step: 10,
			NullWhen: []string{"stopped"},
		},
		{
			Name: "seconds", Label: "held closed", Unit: "s", Kind: form.Number, Taken: form.Timed, Timer: "idle-hold",
			Decimals: 1, Step: 1, NullWhen: []string{"stopped"},
		},
		{Name: "stopped", Label: "engine stopped", Kind: form.Flag, Taken: form.Watched},
	},
	Limits: []form.Field{
		{Name: "min", Label: "lowest", Unit: form.Speed, Kind: form.Number},
		{Name: "max", Label: "highest", Unit: form.Speed, Kind: form.Number},
		{
			Name: "seconds", Label: "hold at least", Unit: "s", Kind: form.Number, Decimals: 1,
			Silent: form.SilentHabit(5, "How long the idle is watched is mostly a school's habit."),
		},
	},
	Scales: []Scale{
		{Label: "idle speed", Unit: form.Speed, Of: "rpm", Low: "min", High: "max", Followed: true},
		{Label: "held", Unit: "s", Of: "seconds", Low: "seconds"},
	},
	ordered: [][2]string{{"min", "max"}},
	Causes:  []Cause{idleAdjustment},
	Actions: orderedActions(groundAircraft, repeatCheck),
	example: func(s sample) map[string]any {
		return object("rpm", s.within("min", "max", s.step(10)), "seconds", s.limit("seconds")+1, "stopped", false)
	},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		rpm := r.Value("rpm")
		switch {
		case r.Flag("stopped"):
			out.add(Abnormal, Stop, "engine-stopped", "",
				"The engine stopped with the throttle closed.").because(idleAdjustment).do(groundAircraft)
		case r.Value("seconds").Below(l.Value("seconds")):
			out.add(Invalid, Recheck, "held-too-short", "",
				"Idle was held for %s s; %s s are needed to see that it keeps running.", r.Value("seconds"),
				l.Value("seconds")).do(repeatCheck)
		case rpm.Below(l.Value("min")):
			out.add(Caution, Recheck, "idle-low", "", "The idle speed is %s; the lowest allowed is %s.", in.speed(rpm),
				in.speed(l.Value("min"))).because(idleAdjustment).do(repeatCheck)
		case rpm.Above(l.Value("max")):
			out.add(Caution, Recheck, "idle-high", "", "The idle speed is %s; the highest allowed is %s.",
				in.speed(rpm), in.speed(l.Value("max"))).because(idleAdjustment).do(repeatCheck)
		}
	},
}
