package check

// lanes is the check of an engine with two electronic ignition lanes: a is the
// speed on lane A alone, with lane B switched off. It is judged as the magneto
// check is. Lamps are named by the lane that is switched off: lampOnB is shown
// while B is off, lampOutB is gone once B is back.
var lanes = Definition{
	Name:  "lanes",
	Title: "Lane check",
	Rule: "Each lane must run the engine alone, and its lamp must come on while it is off and go out when it is back. " +
		"A lamp that does not come on hides a lane that is not there.",
	Fields: []Field{
		{Name: "unit", Label: "Tachometer in", Kind: Choice, Choices: []string{"rpm", "percent"}},
		{Name: "base", Label: "both lanes", Unit: Speed, Kind: Number, Taken: ReadOff, Step: 10},
		{Name: "a", Label: "B off, A alone", Unit: Speed, Kind: Number, Taken: ReadOff, Step: 10, NullWhen: []string{"stoppedA"}},
		{Name: "lampOnB", Label: "lamp B came on", Kind: Flag, Taken: Watched, Optional: true},
		{Name: "roughA", Label: "rough on A", Kind: Flag, Taken: Watched, NullWhen: []string{"stoppedA"}},
		{Name: "stoppedA", Label: "stopped on A", Kind: Flag, Taken: Watched},
		{Name: "bothAfterA", Label: "both again", Unit: Speed, Kind: Number, Taken: ReadOff, Step: 10, NullWhen: []string{"stoppedA"}},
		{Name: "lampOutB", Label: "lamp B went out", Kind: Flag, Taken: Watched, Optional: true},
		{Name: "b", Label: "A off, B alone", Unit: Speed, Kind: Number, Taken: ReadOff, Step: 10, NullWhen: []string{"stoppedA", "stoppedB"}},
		{Name: "lampOnA", Label: "lamp A came on", Kind: Flag, Taken: Watched, Optional: true},
		{Name: "roughB", Label: "rough on B", Kind: Flag, Taken: Watched, NullWhen: []string{"stoppedA", "stoppedB"}},
		{Name: "stoppedB", Label: "stopped on B", Kind: Flag, Taken: Watched, NullWhen: []string{"stoppedA"}},
		{Name: "bothAfterB", Label: "both at the end", Unit: Speed, Kind: Number, Taken: ReadOff, Step: 10, NullWhen: []string{"stoppedA", "stoppedB"}},
		{Name: "lampOutA", Label: "lamp A went out", Kind: Flag, Taken: Watched, Optional: true},
		{Name: "secondsHeldA", Label: "held on A", Unit: "s", Kind: Number, Taken: Timed, Decimals: 1, Optional: true},
		{Name: "secondsHeldB", Label: "held on B", Unit: "s", Kind: Number, Taken: Timed, Decimals: 1, Optional: true},
	},
	Limits:  magneto.Limits,
	ordered: magneto.ordered,
	judge: func(in input, out *sheet) {
		twoLanes.judge(in, out)
		judgeLaneLamps(in.reading, out)
	},
}

var twoLanes = ignition{
	both: "both lanes",
	sides: [2]circuit{
		{name: "a", called: "lane A", low: "a", after: "bothAfterA", rough: "roughA", stopped: "stoppedA", held: "secondsHeldA", drop: "aDrop"},
		{name: "b", called: "lane B", low: "b", after: "bothAfterB", rough: "roughB", stopped: "stoppedB", held: "secondsHeldB", drop: "bDrop"},
	},
	causes: map[string]string{
		"dead-magneto":       "%s does not fire: its module, its supply or its pickup.",
		"switch-to-off":      "Both lanes were switched off.",
		"ungrounded-magneto": "%s is not switched off by its switch.",
		"switch-fault":       "The lane switches switch neither lane off.",
		"throttle-moved":     "The throttle moved during the check.",
		"early-timing":       "%s fires too early.",
		"fouled-plug":        "A plug fired by %s is fouled, or its lead is bad.",
		"over-rich":          "The mixture is too rich: the enrichener may still be open.",
		"late-timing":        "%s fires too late.",
		"uneven-magnetos":    "The two lanes do not fire alike.",
		"switch-or-lead":     "The switch or the supply of %s makes poor contact.",
	},
}

// judgeLaneLamps holds each lamp to what it must show while its lane is off
// and once it is back; the side is the lane that was switched off. Where the
// engine stopped, nothing else is judged.
func judgeLaneLamps(r Record, out *sheet) {
	offs := []struct{ lane, name, stopped, on, gone string }{
		{"b", "B", "stoppedA", "lampOnB", "lampOutB"},
		{"a", "A", "stoppedB", "lampOnA", "lampOutA"},
	}
	for _, o := range offs {
		if !r.Flag(o.stopped) && r.Has(o.on) && !r.Flag(o.on) {
			out.add(Abnormal, Stop, "no-annunciation", o.lane, "The lamp of lane %s did not come on while the lane was off.", o.name).
				because("lamp-or-monitor").do("ground-aircraft")
		}
	}
	for _, o := range offs {
		if !r.Flag(o.stopped) && r.Has(o.gone) && !r.Flag(o.gone) {
			out.add(Abnormal, Stop, "lane-failed", o.lane, "The lamp of lane %s stayed on with the lane switched back on.", o.name).
				because("lane-module").do("ground-aircraft")
		}
	}
}
