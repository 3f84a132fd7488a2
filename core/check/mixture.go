package check

import (
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// mixturePeak is the setting of the mixture by speed, for a fixed-pitch
// propeller or below the governing range: leaned to the highest speed, then
// enriched again by a part of the way. rise = peakRPM − startRPM, enrichment =
// peakRPM − setRPM, in rpm.
var mixturePeak = Definition{
	Name: "mixture-peak", fits: []string{"mixture", "leaning"},
	Title: "Mixture set by peak speed",
	Rule: "Lean until the speed peaks, then enrich until it has fallen a little on the rich side: full power for " +
		"the altitude, with a margin against heat.",
	Fields: []form.Field{
		{Name: "startRPM", Label: "full rich", Unit: "rpm", Kind: form.Number, Taken: form.ReadOff, Step: 10},
		{Name: "peakRPM", Label: "highest", Unit: "rpm", Kind: form.Number, Taken: form.ReadOff, Step: 10},
		{Name: "setRPM", Label: "as set", Unit: "rpm", Kind: form.Number, Taken: form.ReadOff, Step: 10},
		{Name: "setSide", Label: "set on the side", Kind: form.Choice, Choices: []string{"rich", "lean"}},
	},
	Limits: []form.Field{
		{
			Name: "riseMin", Label: "rises at least", Unit: "rpm", Kind: form.Number,
			Silent: form.SilentHabit(10, "The handbook says peak, then richer; how much is a school's habit."),
		},
		{
			Name: "enrichMin", Label: "enriched at least", Unit: "rpm", Kind: form.Number,
			Silent: form.SilentHabit(20, "The handbook says peak, then richer; how much is a school's habit."),
		},
		{
			Name: "enrichMax", Label: "enriched at most", Unit: "rpm", Kind: form.Number,
			Silent: form.SilentHabit(60, "The handbook says peak, then richer; how much is a school's habit."),
		},
	},
	Scales: []Scale{
		{Label: "rise to the peak", Unit: "rpm", Of: "rise", Computed: true, Low: "riseMin", Followed: true},
		{Label: "enriched from it", Unit: "rpm", Of: "enrichment", Computed: true, Low: "enrichMin", High: "enrichMax"},
	},
	ordered: [][2]string{{"enrichMin", "enrichMax"}},
	Causes:  []Cause{mixtureAdjustment, leverNotMovedBack, leverMovedTooFar},
	Actions: orderedActions(repeatCheck, enrichFromPeak, groundAircraft),
	example: func(s sample) map[string]any {
		rise := s.limit("riseMin") + 20
		return object("startRPM", s.speed(), "peakRPM", s.speed()+rise, "setRPM",
			s.speed()+rise-s.within("enrichMin", "enrichMax", 10), "setSide", "rich")
	},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		start, peak, set := r.Value("startRPM"), r.Value("peakRPM"), r.Value("setRPM")
		rise, enriched := peak.Sub(start), peak.Sub(set)
		out.value("rise", rise)
		out.value("enrichment", enriched)
		if rise.Sign() < 0 || enriched.Sign() < 0 {
			out.add(Invalid, Recheck, "peak-not-found", "",
				"The highest speed of %s rpm is below another one that was read, so it was not the peak.",
				peak).do(repeatCheck)
			return
		}
		if rise.Below(l.Value("riseMin")) {
			out.add(Caution, Recheck, "already-lean", "",
				"Leaning raised the speed by %s rpm; at least %s rpm are expected. It was lean at full rich.", rise,
				l.Value("riseMin")).
				because(mixtureAdjustment).do(repeatCheck)
		}
		switch {
		case r.Text("setSide") == "lean":
			out.add(Caution, Recheck, "not-enriched", "",
				"The mixture is set on the lean side of the peak, where full power overheats the cylinders.").
				because(leverNotMovedBack).do(enrichFromPeak).again()
		case enriched.Below(l.Value("enrichMin")):
			out.add(Caution, Recheck, "not-enriched", "",
				"The speed was let fall %s rpm from the peak; at least %s rpm keep the cylinders cool.", enriched,
				l.Value("enrichMin")).
				because(leverNotMovedBack).do(enrichFromPeak).again()
		case enriched.Above(l.Value("enrichMax")):
			out.add(Caution, Recheck, "over-enriched", "",
				"The speed was let fall %s rpm from the peak; more than %s rpm gives power away.", enriched,
				l.Value("enrichMax")).
				because(leverMovedTooFar).do(repeatCheck).again()
		}
	},
}

// idleMixture is the rise of speed while the mixture is drawn slowly to
// cut-off at idle: rise = peakRPM − idleRPM, in rpm.
var idleMixture = Definition{
	Name: "idle-mixture", fits: []string{"mixture"},
	Title: "Idle mixture",
	Rule: "Drawn slowly to cut-off, a well-set engine gains a few turns before it stops. No gain is a lean idle, a " +
		"large one a rich idle that fouls the plugs.",
	Fields: []form.Field{
		{Name: "idleRPM", Label: "at idle", Unit: "rpm", Kind: form.Number, Taken: form.ReadOff, Step: 10},
		{
			Name: "peakRPM", Label: "highest before it stops", Unit: "rpm", Kind: form.Number, Taken: form.ReadOff,
			Step: 10,
		},
	},
	Limits: []form.Field{
		{
			Name: "riseMin", Label: "rises at least", Unit: "rpm", Kind: form.Number,
			Silent: form.SilentHabit(10, "A rise of ten to fifty is what most carburettors and injectors are set to."),
		},
		{
			Name: "riseMax", Label: "rises at most", Unit: "rpm", Kind: form.Number,
			Silent: form.SilentHabit(50, "A rise of ten to fifty is what most carburettors and injectors are set to."),
		},
	},
	Scales: []Scale{
		{
			Label: "rise at cut-off", Unit: "rpm", Of: "rise", Computed: true, Low: "riseMin", High: "riseMax",
			Followed: true,
		},
	},
	ordered: [][2]string{{"riseMin", "riseMax"}},
	Causes:  []Cause{idleAdjustment},
	Actions: orderedActions(writeSquawk, groundAircraft),
	example: func(s sample) map[string]any {
		return object("idleRPM", 700, "peakRPM", 700+s.within("riseMin", "riseMax", 10))
	},
	judge: func(in input, out *sheet) {
		l, rise := in.limits, in.reading.Value("peakRPM").Sub(in.reading.Value("idleRPM"))
		out.value("rise", rise)
		switch {
		case rise.Below(l.Value("riseMin")):
			out.add(Caution, Continue, "idle-lean", "",
				"The speed %s at cut-off; a rise of at least %s rpm is expected, so the idle mixture is lean.",
				moved(quantity.Value{}.Sub(rise)), l.Value("riseMin")).
				because(idleAdjustment).do(writeSquawk)
		case rise.Above(l.Value("riseMax")):
			out.add(Caution, Continue, "idle-rich", "",
				"The speed rose by %s rpm at cut-off; at most %s rpm are expected, so the idle mixture is rich.", rise,
				l.Value("riseMax")).
				because(idleAdjustment).do(writeSquawk)
		}
	},
}

var (
	mixtureAdjustment = because("mixture-adjustment", "The carburettor or injection is set too lean, or air leaks in.").
				to("injection", "The injection is set too lean, or air leaks in.")
	leverNotMovedBack = because("lever-not-moved-back", "The lever was left at the peak.")
	enrichFromPeak    = do(160, "enrich-from-peak", "Find the peak again and enrich from it by the type's amount.")
)
