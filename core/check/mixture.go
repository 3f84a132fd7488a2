package check

// mixturePeak is the setting of the mixture by speed, for a fixed-pitch
// propeller or below the governing range: leaned to the highest speed, then
// enriched again by a part of the way. rise = peakRPM − startRPM, enrichment =
// peakRPM − setRPM, in rpm.
var mixturePeak = Definition{
	Name:  "mixture-peak",
	Title: "Mixture set by peak speed",
	Rule:  "Lean until the speed peaks, then enrich until it has fallen a little on the rich side: full power for the altitude, with a margin against heat.",
	Fields: []Field{
		{Name: "startRPM", Label: "full rich", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10},
		{Name: "peakRPM", Label: "highest", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10},
		{Name: "setRPM", Label: "as set", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10},
		{Name: "setSide", Label: "set on the side", Kind: Choice, Choices: []string{"rich", "lean"}},
	},
	Limits: []Field{
		{Name: "riseMin", Label: "rises at least", Unit: "rpm", Kind: Number},
		{Name: "enrichMin", Label: "enriched at least", Unit: "rpm", Kind: Number},
		{Name: "enrichMax", Label: "enriched at most", Unit: "rpm", Kind: Number},
	},
	ordered: [][2]string{{"enrichMin", "enrichMax"}},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		start, peak, set := r.Value("startRPM"), r.Value("peakRPM"), r.Value("setRPM")
		rise, enriched := peak.Sub(start), peak.Sub(set)
		out.value("rise", rise)
		out.value("enrichment", enriched)
		if rise.Sign() < 0 || enriched.Sign() < 0 {
			out.add(Invalid, Recheck, "peak-not-found", "", "The highest speed of %s rpm is below another one that was read, so it was not the peak.", peak).do("repeat-check")
			return
		}
		if rise.Below(l.Value("riseMin")) {
			out.add(Caution, Recheck, "already-lean", "", "Leaning raised the speed by %s rpm; at least %s rpm are expected. It was lean at full rich.", rise, l.Value("riseMin")).
				because("mixture-adjustment").do("repeat-check")
		}
		switch {
		case r.Text("setSide") == "lean":
			out.add(Caution, Recheck, "not-enriched", "", "The mixture is set on the lean side of the peak, where full power overheats the cylinders.").
				because("lever-not-moved-back").do("enrich-from-peak")
		case enriched.Below(l.Value("enrichMin")):
			out.add(Caution, Recheck, "not-enriched", "", "The speed was let fall %s rpm from the peak; at least %s rpm keep the cylinders cool.", enriched, l.Value("enrichMin")).
				because("lever-not-moved-back").do("enrich-from-peak")
		case enriched.Above(l.Value("enrichMax")):
			out.add(Caution, Recheck, "over-enriched", "", "The speed was let fall %s rpm from the peak; more than %s rpm gives power away.", enriched, l.Value("enrichMax")).
				because("lever-moved-too-far").do("repeat-check")
		}
	},
}

// idleMixture is the rise of speed while the mixture is drawn slowly to
// cut-off at idle: rise = peakRPM − idleRPM, in rpm.
var idleMixture = Definition{
	Name:  "idle-mixture",
	Title: "Idle mixture",
	Rule:  "Drawn slowly to cut-off, a well-set engine gains a few turns before it stops. No gain is a lean idle, a large one a rich idle that fouls the plugs.",
	Fields: []Field{
		{Name: "idleRPM", Label: "at idle", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10},
		{Name: "peakRPM", Label: "highest before it stops", Unit: "rpm", Kind: Number, Taken: ReadOff, Step: 10},
	},
	Limits: []Field{
		{Name: "riseMin", Label: "rises at least", Unit: "rpm", Kind: Number},
		{Name: "riseMax", Label: "rises at most", Unit: "rpm", Kind: Number},
	},
	ordered: [][2]string{{"riseMin", "riseMax"}},
	judge: func(in input, out *sheet) {
		l, rise := in.limits, in.reading.Value("peakRPM").Sub(in.reading.Value("idleRPM"))
		out.value("rise", rise)
		switch {
		case rise.Below(l.Value("riseMin")):
			out.add(Caution, Continue, "idle-lean", "", "The speed rose by %s rpm at cut-off; at least %s rpm are expected, so the idle mixture is lean.", rise, l.Value("riseMin")).
				because("idle-adjustment").do("write-squawk")
		case rise.Above(l.Value("riseMax")):
			out.add(Caution, Continue, "idle-rich", "", "The speed rose by %s rpm at cut-off; at most %s rpm are expected, so the idle mixture is rich.", rise, l.Value("riseMax")).
				because("idle-adjustment").do("write-squawk")
		}
	},
}
