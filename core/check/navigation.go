package check

import (
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// heading compares the heading indicator with the compass and, lined up, with
// the runway. Differences are taken around the circle, in degrees.
var heading = Definition{
	Name:  "heading",
	Title: "Heading",
	Rule:  "The indicator drifts and is set by the compass; lined up, it must show the runway, or it is the wrong runway.",
	Fields: []form.Field{
		{Name: "compassDeg", Label: "compass", Unit: "°", Kind: form.Number, Taken: form.ReadOff, Step: 1, Max: 360},
		{
			Name: "indicatorDeg", Label: "heading indicator", Unit: "°", Kind: form.Number, Taken: form.ReadOff,
			Step: 1, Max: 360,
		},
		{
			Name: "runwayDeg", Label: "runway", Unit: "°", Kind: form.Number, Taken: form.ReadOff, Step: 1, Max: 360,
			Optional: true,
		},
	},
	Limits: []form.Field{
		{
			Name: "toleranceDeg", Label: "within", Unit: "°", Kind: form.Number, Max: 180,
			Silent: form.SilentHabit(10,
				"Compass and indicator are held to each other by habit, where the handbook gives no number."),
		},
		{
			Name: "runwayToleranceDeg", Label: "of the runway within", Unit: "°", Kind: form.Number, Max: 180,
			Silent: form.SilentHabit(10, "The runway's direction is rounded to ten degrees."),
		},
	},
	Scales: []Scale{
		{Label: "apart", Unit: "°", Of: "differenceDeg", Computed: true, High: "toleranceDeg"},
		{Label: "from the runway", Unit: "°", Of: "runwayDifferenceDeg", Computed: true, High: "runwayToleranceDeg"},
	},
	Causes:  []Cause{gyroOrMagnet, wrongRunway},
	Actions: orderedActions(setHeading, nameRunway, stopAndAsk, groundAircraft),
	example: func(s sample) map[string]any {
		return object("compassDeg", 200, "indicatorDeg",
			s.between(200-s.limit("toleranceDeg"), 200+s.limit("toleranceDeg"), 1), "runwayDeg", 200)
	},
	judge: func(in input, out *sheet) {
		r, l := in.reading, in.limits
		apart := aroundCircle(r.Value("compassDeg"), r.Value("indicatorDeg"))
		out.value("differenceDeg", apart)
		if apart.Above(l.Value("toleranceDeg")) {
			out.add(Caution, Recheck, "heading-differs", "",
				"Compass and heading indicator are %s° apart; %s° are allowed.", apart, l.Value("toleranceDeg")).
				because(gyroOrMagnet).do(setHeading)
		}
		if !r.Has("runwayDeg") {
			if in.conditions.Flag("onRunway") {
				out.add(Invalid, Recheck, "runway-unknown", "",
					"The aircraft stands on a runway, and nothing says which: the heading proves nothing.").
					do(nameRunway)
			}
			return
		}
		off := aroundCircle(r.Value("indicatorDeg"), r.Value("runwayDeg"))
		out.value("runwayDifferenceDeg", off)
		if off.Above(l.Value("runwayToleranceDeg")) {
			out.add(Abnormal, Stop, "runway-mismatch", "",
				"The heading indicator is %s° off the runway; %s° are allowed. Is this the runway that was cleared?",
				off, l.Value("runwayToleranceDeg")).
				because(wrongRunway, gyroOrMagnet).do(stopAndAsk)
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
	Name:  "database",
	Title: "Navigation data",
	Rule:  "Expired data still looks right. Its last day is read and compared with today.",
	Fields: []form.Field{
		{Name: "expires", Label: "last valid day", Kind: form.Day, Taken: form.ReadOff, Optional: true},
		{Name: "databases", Label: "databases", Kind: form.Rows, Optional: true, AtLeast: 1, AtMost: 12,
			Each: []form.Field{
				{Name: "name", Label: "database", Kind: form.Text, Max: 60},
				{Name: "expires", Label: "last valid day", Kind: form.Day, Taken: form.ReadOff},
			}},
	},
	Limits:  []form.Field{},
	needs:   []string{"date"},
	Scales:  []Scale{},
	Causes:  []Cause{dataNotRenewed},
	Actions: orderedActions(renewData, writeSquawk, stayInDaylightVfr, groundAircraft),
	given:   map[string]any{"date": "2026-11-24"},
	example: func(s sample) map[string]any {
		return object("expires", "2026-12-24")
	},
	sound: func(in input) error {
		one, several := in.reading.Has("expires"), len(in.reading.Rows("databases")) > 0
		switch {
		case !one && !several:
			return form.Bad("reading.expires",
				"is missing: a day such as 2026-11-24, or databases with a name and a day each")
		case one && several:
			return form.Bad("reading.expires", "and databases are given: one of the two")
		}
		return namedOnce("reading.databases", in.reading.Rows("databases"))
	},
	judge: func(in input, out *sheet) {
		if in.reading.Has("expires") {
			judgeExpiry(in, out, "", "The navigation data", in.reading.Text("expires"))
		}
		for _, d := range in.reading.Rows("databases") {
			judgeExpiry(in, out, d.Text("name"), "The database “"+d.Text("name")+"”", d.Text("expires"))
		}
	},
}

// judgeExpiry compares the last valid day of one database with the day.
func judgeExpiry(in input, out *sheet, side, called, last string) {
	today := in.conditions.Text("date")
	if today <= last {
		return
	}
	if in.instrument() {
		out.add(Abnormal, Stop, "database-expired", side, "%s ended on %s; today is %s.", called, last,
			today).because(dataNotRenewed).do(renewData)
		return
	}
	out.add(Caution, Continue, "database-expired", side, "%s ended on %s; today is %s.", called, last, today).
		because(dataNotRenewed).do(writeSquawk, stayInDaylightVfr)
}

var (
	gyroOrMagnet = because("gyro-or-magnet",
		"The indicator has drifted, or something magnetic lies near the compass.")
	wrongRunway    = because("wrong-runway", "The aircraft stands on another runway.")
	dataNotRenewed = because("data-not-renewed", "The data was not renewed in time.")
	stopAndAsk     = do(10, "stop-and-ask", "Do not roll: compare the runway's number with the clearance, and ask.")
	setHeading     = do(210, "set-heading",
		"Set the indicator by the compass, standing still or straight and level, and compare again.")
	nameRunway = do(212, "name-the-runway", "Name the runway, then compare again.")
	renewData  = do(220, "renew-data", "Renew the data, or do not fly by it.")
)
