package check

import (
	"slices"

	"jetprimer/core/form"
)

// lanes is the check of an engine with two electronic ignition lanes: a is the
// speed on lane A alone, with lane B switched off. It is judged as the magneto
// check is. Lamps are named by the lane that is switched off: lampOnB is shown
// while B is off, lampOutB is gone once B is back.
var lanes = Definition{
	Name: "lanes", fits: []string{"lanes"},
	Title: "Lane check",
	Rule: "Each lane must run the engine alone, and its lamp must come on while it is off and go out when it is back. " +
		"A lamp that does not come on hides a lane that is not there.",
	Fields: []form.Field{
		{Name: "unit", Label: "Tachometer in", Kind: form.Choice, Choices: []string{"rpm", "percent"}},
		{Name: "base", Label: "both lanes", Unit: form.Speed, Kind: form.Number, Taken: form.ReadOff, Step: 10},
		{
			Name: "a", Label: "B off, A alone", Unit: form.Speed, Kind: form.Number, DropsFrom: "base",
			Taken: form.ReadOff, Step: 10, NullWhen: []string{"stoppedA"},
		},
		{Name: "lampOnB", Label: "lamp B came on", Kind: form.Flag, Taken: form.Watched, Optional: true},
		{Name: "roughA", Label: "rough on A", Kind: form.Flag, Taken: form.Watched, NullWhen: []string{"stoppedA"}},
		{Name: "stoppedA", Label: "stopped on A", Kind: form.Flag, Taken: form.Watched},
		{
			Name: "bothAfterA", Label: "both again", Unit: form.Speed, Kind: form.Number, Taken: form.ReadOff, Step: 10,
			NullWhen: []string{"stoppedA"},
		},
		{Name: "lampOutB", Label: "lamp B went out", Kind: form.Flag, Taken: form.Watched, Optional: true},
		{
			Name: "b", Label: "A off, B alone", Unit: form.Speed, Kind: form.Number, DropsFrom: "bothAfterA",
			Taken: form.ReadOff, Step: 10, NullWhen: []string{"stoppedA", "stoppedB"},
		},
		{Name: "lampOnA", Label: "lamp A came on", Kind: form.Flag, Taken: form.Watched, Optional: true},
		{
			Name: "roughB", Label: "rough on B", Kind: form.Flag, Taken: form.Watched,
			NullWhen: []string{"stoppedA", "stoppedB"},
		},
		{Name: "stoppedB", Label: "stopped on B", Kind: form.Flag, Taken: form.Watched, NullWhen: []string{"stoppedA"}},
		{
			Name: "bothAfterB", Label: "both at the end", Unit: form.Speed, Kind: form.Number, Taken: form.ReadOff,
			Step: 10, NullWhen: []string{"stoppedA", "stoppedB"},
		},
		{Name: "lampOutA", Label: "lamp A went out", Kind: form.Flag, Taken: form.Watched, Optional: true},
		{
			Name: "secondsHeldA", Label: "held on A", Unit: "s", Kind: form.Number, Taken: form.Timed, Timer: "dwell",
			Decimals: 1, Optional: true,
		},
		{
			Name: "secondsHeldB", Label: "held on B", Unit: "s", Kind: form.Number, Taken: form.Timed, Timer: "dwell",
			Decimals: 1, Optional: true,
		},
	},
	Limits: laneLimits(),
	Scales: []Scale{
		{
			Label: "drop on A", Unit: form.Speed, Of: "aDrop", Side: "a", Computed: true, Low: "dropMin",
			High: "dropMax", Followed: true,
		},
		{
			Label: "drop on B", Unit: form.Speed, Of: "bDrop", Side: "b", Computed: true, Low: "dropMin",
			High: "dropMax", Followed: true,
		},
		{Label: "difference", Unit: form.Speed, Of: "difference", Last: true, Computed: true, High: "differenceMax"},
	},
	Trace:   []string{"base", "a", "bothAfterA", "b", "bothAfterB"},
	ordered: magneto.ordered,
	Causes:  append(twoLanes.list(), lampOrMonitor, laneModule),
	Actions: orderedActions(groundAircraft, throttleIdleLanesOff, keepClearOfPropeller, setBase, clearPlugs,
		leanAndRepeat, repeatCheck),
	example: func(s sample) map[string]any {
		r := s.sides("a", "b", "bothAfterA", "bothAfterB", "A", "B")
		r["lampOnA"], r["lampOutA"], r["lampOnB"], r["lampOutB"] = true, true, true, true
		return r
	},
	judge: func(in input, out *sheet) {
		twoLanes.judge(in, out)
		judgeLaneLamps(in.reading, out)
	},
}

// laneLimits are those of magnetos, but that a lamp can stand for the smallest drop,
// and that no exhaust temperatures are read.
func laneLimits() []form.Field {
	limits := slices.DeleteFunc(slices.Clone(magneto.Limits),
		func(f form.Field) bool { return f.Name == "egtFallMinC" })
	for i, f := range limits {
		if f.Name == "dropMin" {
			limits[i].Silent = &form.Silent{
				Words: "Where lamps show that a lane is off no drop is needed. Without lamps something must prove it.",
				Habit: 10, Zero: true,
			}
		}
	}
	return limits
}

var twoLanes = ignition{
	both: "both lanes", stop: throttleIdleLanesOff,
	sides: [2]circuit{
		{
			name: "a", called: "lane A", low: "a", after: "bothAfterA", rough: "roughA", stopped: "stoppedA",
			held: "secondsHeldA", drop: "aDrop", proof: lampProof("lampOnB", "lampOutB"),
		},
		{
			name: "b", called: "lane B", low: "b", after: "bothAfterB", rough: "roughB", stopped: "stoppedB",
			held: "secondsHeldB", drop: "bDrop", proof: lampProof("lampOnA", "lampOutA"),
		},
	},
	blames: blames{
		because("dead-magneto", "%s does not fire: its module, its supply or its pickup."),
		because("switch-to-off", "Both lanes were switched off."),
		because("ungrounded-magneto", "%s is not switched off by its switch."),
		because("switch-fault", "The lane switches switch neither lane off."),
		because("throttle-moved", "The throttle moved during the check."),
		because("early-timing", "%s fires too early."),
		because("fouled-plug", "A plug fired by %s is fouled, or its lead is bad."),
		because("over-rich", "It runs too rich: what enriches it for the start may still be open."),
		because("late-timing", "%s fires too late."),
		because("uneven-magnetos", "The two lanes do not fire alike."),
		because("switch-or-lead", "The switch or the supply of %s makes poor contact."),
	},
}

// lampProof says that a lane was off while its lamp was on, and came back: where
// the type asks for no drop, that proves what a drop would.
func lampProof(on, out string) func(form.Record) bool {
	return func(r form.Record) bool { return r.Flag(on) && (!r.Has(out) || r.Flag(out)) }
}

// judgeLaneLamps holds each lamp to what it must show while its lane is off
// and once it is back; the side is the lane that was switched off. Where the
// engine stopped, nothing else is judged.
func judgeLaneLamps(r form.Record, out *sheet) {
	offs := []struct{ lane, name, stopped, on, gone string }{
		{"b", "B", "stoppedA", "lampOnB", "lampOutB"},
		{"a", "A", "stoppedB", "lampOnA", "lampOutA"},
	}
	for _, o := range offs {
		if !r.Flag(o.stopped) && r.Has(o.on) && !r.Flag(o.on) {
			out.add(Abnormal, Stop, "no-annunciation", o.lane,
				"The lamp of lane %s did not come on while the lane was off.", o.name).
				because(lampOrMonitor).do(groundAircraft)
		}
	}
	for _, o := range offs {
		if !r.Flag(o.stopped) && r.Has(o.gone) && !r.Flag(o.gone) {
			out.add(Abnormal, Stop, "lane-failed", o.lane,
				"The lamp of lane %s stayed on with the lane switched back on.", o.name).
				because(laneModule).do(groundAircraft)
		}
	}
}

// throttleIdleLanesOff is what throttleIdleMixtureOff is to an engine without a
// mixture lever.
var throttleIdleLanesOff = do(50, "throttle-idle-mixture-off",
	"Throttle to idle and both lanes off: let the engine stop. Never switch the other lane back on with the "+
		"throttle open.")

var (
	lampOrMonitor = because("lamp-or-monitor", "The lamp, or what watches the lane.")
	laneModule    = because("lane-module", "The lane did not come back: its module, supply or pickup.")
)
