package check

import "jetprimer/core/quantity"

// heading compares the heading indicator with the compass and, lined up, with
// the runway. Differences are taken around the circle, in degrees.
var heading = Definition{
	Name:  "heading",
	Title: "Heading",
	Rule:  "The indicator drifts and is set by the compass; lined up, it must show the runway, or it is the wrong runway.",
	Fields: []Field{
		{Name: "compassDeg", Label: "compass", Unit: "°", Kind: Number, Taken: ReadOff, Step: 1, Max: 360},
		{Name: "indicatorDeg", Label: "heading indicator", Unit: "°", Kind: Number, Taken: ReadOff, Step: 1, Max: 360},
		{Name: "runwayDeg", Label: "runway", Unit: "°", Kind: Number, Taken: ReadOff, Step: 1, Max: 360, Optional: true},
	},
	Limits: []Field{
		{Name: "toleranceDeg", Label: "within", Unit: "°", Kind: Number, Max: 180},
		{Name: "runwayToleranceDeg", Label: "of the runway within", Unit: "°", Kind: Number, Max: 180},
	},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		apart := aroundCircle(r.Value("compassDeg"), r.Value("indicatorDeg"))
		out.value("differenceDeg", apart)
		if apart.Above(l.Value("toleranceDeg")) {
			out.add(Caution, Recheck, "heading-differs", "", "Compass and heading indicator are %s° apart; %s° are allowed.", apart, l.Value("toleranceDeg")).
				because("gyro-or-magnet").do("set-heading")
		}
		if !r.Has("runwayDeg") {
			return
		}
		off := aroundCircle(r.Value("indicatorDeg"), r.Value("runwayDeg"))
		out.value("runwayDifferenceDeg", off)
		if off.Above(l.Value("runwayToleranceDeg")) {
			out.add(Abnormal, Stop, "runway-mismatch", "", "The heading indicator is %s° off the runway; %s° are allowed. Is this the runway that was cleared?", off, l.Value("runwayToleranceDeg")).
				because("wrong-runway", "gyro-or-magnet").do("stop-and-ask")
		}
	},
}

// aroundCircle is the smaller angle between two directions.
func aroundCircle(a, b quantity.Value) quantity.Value {
	apart := a.Sub(b).Abs()
	if full := quantity.Scaled(360, 0); apart.Above(quantity.Scaled(180, 0)) {
		return full.Sub(apart).Abs()
	}
	return apart
}

// database compares the last valid day of the navigation data with the day.
var database = Definition{
	Name:   "database",
	Title:  "Navigation data",
	Rule:   "Expired data still looks right. Its last day is read and compared with today.",
	Fields: []Field{{Name: "expires", Label: "last valid day", Kind: Day, Taken: ReadOff}},
	Limits: []Field{},
	needs:  []string{"date"},
	judge: func(in input, out *sheet) {
		last, today := in.reading.Text("expires"), in.conditions.Text("date")
		if today <= last {
			return
		}
		if in.instrument() {
			out.add(Abnormal, Stop, "database-expired", "", "The navigation data ended on %s; today is %s.", last, today).because("data-not-renewed").do("renew-data")
			return
		}
		out.add(Caution, Continue, "database-expired", "", "The navigation data ended on %s; today is %s.", last, today).
			because("data-not-renewed").do("write-squawk", "stay-in-daylight-vfr")
	},
}
