package check

import (
	"maps"
	"slices"
	"strings"

	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/weather"
)

// gauges holds any of a type's gauges to a normal band, a caution band around
// it and hard limits. Numbers are taken to hundredths of the gauge's own unit.
var gauges = Definition{
	Name:    "gauges",
	byPower: true,
	Title:   "Pressures and temperatures",
	Rule:    "Every needle in its band before power goes up; a temperature that is low only needs time.",
	Fields:  []form.Field{},
	Limits:  []form.Field{},
	NamedReading: &form.Field{
		Name: "reading", Label: "gauge", Kind: form.Named, Taken: form.ReadOff, Decimals: 2, Signed: true,
	},
	NamedLimits: &form.Field{
		Name: "limits", Label: "gauge", Kind: form.Named, Each: []form.Field{
			{Name: "min", Label: "lowest", Kind: form.Number, Decimals: 2, Signed: true, Optional: true},
			{
				Name: "cautionMin", Label: "normal from", Kind: form.Number, Decimals: 2, Signed: true, Optional: true,
				Silent: &form.Silent{Words: "Without it all from the lowest on is normal."},
			},
			{
				Name: "cautionMax", Label: "normal to", Kind: form.Number, Decimals: 2, Signed: true, Optional: true,
				Silent: &form.Silent{Words: "Without it all up to the highest is normal."},
			},
			{Name: "max", Label: "highest", Kind: form.Number, Decimals: 2, Signed: true, Optional: true},
			{
				Name: "lowDecision", Label: "when low", Kind: form.Choice, Choices: []string{"warm-up"}, Optional: true,
				Silent: &form.Silent{
					Words: "Without it a low number stops the flight; with it the engine only needs time.",
				},
			},
			{
				Name: "belowAmbientMaxInHg", Label: "below the day's pressure by at most", Unit: "inHg",
				Kind: form.Number, Decimals: 2, Optional: true,
				Silent: &form.Silent{
					Words: "For the manifold of an engine without a charger at full power: it can give what the air " +
						"around it gives, less this.",
				},
			},
			{
				Name: "timedMax", Label: "highest for a limited time", Kind: form.Number, Decimals: 2, Signed: true,
				Optional: true, Silent: &form.Silent{Words: "Without it the highest holds at all times."},
			},
			{
				Name: "timedSeconds", Label: "for at most", Unit: "s", Kind: form.Number, Optional: true,
				Silent: &form.Silent{Words: "Needed with the highest for a limited time."},
			},
			{
				Name: "belowKt", Label: "only below", Unit: "kt", Kind: form.Number, Optional: true,
				Silent: &form.Silent{Words: "Without it the limited time holds at any speed."},
			},
			{
				Name: "dayLimitUnknown", Label: "the day's limit is not known because", Kind: form.Text, Max: 300,
				Optional: true,
			},
		},
	},
	ordered: [][2]string{
		{"min", "max"}, {"min", "cautionMin"}, {"min", "cautionMax"},
		{"cautionMin", "cautionMax"}, {"cautionMin", "max"}, {"cautionMax", "max"}, {"max", "timedMax"},
	},
	Scales: []Scale{},
	Causes: []Cause{},
	Actions: orderedActions(reducePower, shutDown, recordRating, groundAircraft, coolDown, repeatCheck, giveTheDay,
		warmUp),
	example: func(s sample) map[string]any {
		return s.named()
	},
	judge: func(in input, out *sheet) {
		for _, name := range in.reading.Names() {
			judgeLowGauge(gaugeOf(name, in, out), out)
		}
		for _, name := range in.reading.Names() {
			judgeHighGauge(gaugeOf(name, in, out), out)
		}
		for _, name := range in.reading.Names() {
			judgeUnknownDay(gaugeOf(name, in, out), out)
		}
	},
}

// gauge is one needle with its limits.
type gauge struct {
	name, called, unit string
	in                 input
	value              quantity.Value
	limits             form.Record
}

func gaugeOf(name string, in input, out *sheet) gauge {
	g := gauge{name: name, in: in, value: in.reading.Value(name), limits: in.limits.Sub(name)}
	g.called, g.unit = gaugeWords(out.typ, name)
	return g
}

func (g gauge) withUnit(v quantity.Value) string { return withUnit(v, g.unit) }

// temperature reports whether the needle shows one: what is too cold needs time,
// what is too hot needs less power.
func (g gauge) temperature() bool {
	return g.unit == "°C" || g.unit == "" && strings.Contains(strings.ToLower(g.name), "temp") ||
		g.limits.Text("lowDecision") == "warm-up"
}

// lubricant reports whether the needle shows the pressure of oil: the engine's,
// a gearbox's or a transmission's.
func (g gauge) lubricant() bool {
	name := strings.ToLower(g.name)
	return strings.HasSuffix(name, "pressure") &&
		slices.ContainsFunc([]string{"oil", "gearbox", "transmission"},
			func(part string) bool { return strings.Contains(name, part) })
}

// cold reports whether the oil that the needle shows the pressure of was read
// below its normal band.
func (g gauge) cold() bool {
	names := []string{strings.TrimSuffix(g.name, "Pressure") + "Temperature"}
	if g.name == "engineOilPressure" {
		names = append(names, "oilTemperature")
	}
	for _, name := range names {
		band := g.in.limits.Sub(name)
		normal := band.Value("min")
		if band.Has("cautionMin") {
			normal = band.Value("cautionMin")
		}
		if g.in.reading.Has(name) && g.in.reading.Value(name).Below(normal) {
			return true
		}
	}
	return false
}

// fieldPressure is the pressure of the air around the aircraft, in inHg to
// hundredths, where the day's numbers are known.
func (in input) fieldPressure() (quantity.Value, bool) {
	c := in.conditions
	if !c.Has("elevationFt") || !c.Has("qnhHPa") {
		return quantity.Value{}, false
	}
	return weather.FieldPressureInHg(c.Value("elevationFt"), c.Value("qnhHPa")), true
}

func judgeLowGauge(g gauge, out *sheet) {
	l := g.limits
	var low *seen
	switch {
	case l.Has("min") && g.value.Below(l.Value("min")):
		low = out.add(Abnormal, Stop, "gauge-low", g.name, "The %s reads %s; the lowest allowed is %s.", g.called,
			g.withUnit(g.value), g.withUnit(l.Value("min")))
	case g.belowTheDay() != nil:
		least := g.belowTheDay()
		low = out.add(Abnormal, Stop, "gauge-low", g.name, "The %s reads %s; the air of the day gives at least %s.",
			g.called, g.withUnit(g.value), g.withUnit(*least))
	case l.Has("cautionMin") && g.value.Below(l.Value("cautionMin")):
		low = out.add(Caution, Recheck, "gauge-low", g.name, "The %s reads %s; normal is from %s.", g.called,
			g.withUnit(g.value), g.withUnit(l.Value("cautionMin"))).do(repeatCheck)
	default:
		return
	}
	switch {
	case l.Text("lowDecision") == "warm-up":
		low.outcome, low.decision, low.actions = Caution, Recheck, nil
		low.do(warmUp).again()
	case low.decision == Stop && g.lubricant():
		low.do(shutDown, groundAircraft)
	case low.decision == Stop:
		low.do(groundAircraft)
	}
}

// belowTheDay is the least that the air of the day gives, where the needle shows
// less than it.
func (g gauge) belowTheDay() *quantity.Value {
	pressure, known := g.in.fieldPressure()
	if !g.limits.Has("belowAmbientMaxInHg") || !known {
		return nil
	}
	least := pressure.Sub(g.limits.Value("belowAmbientMaxInHg"))
	if !g.value.Below(least) {
		return nil
	}
	return &least
}

func judgeHighGauge(g gauge, out *sheet) {
	l := g.limits
	switch {
	case l.Has("max") && g.value.Above(l.Value("max")) && l.Has("timedMax") && !g.value.Above(l.Value("timedMax")):
		g.judgeTimed(out)
	case l.Has("max") && g.value.Above(l.Value("max")):
		most := l.Value("max")
		if l.Has("timedMax") {
			most = l.Value("timedMax")
		}
		high := out.add(Abnormal, Stop, "gauge-high", g.name, "The %s reads %s; the highest allowed is %s.", g.called,
			g.withUnit(g.value), g.withUnit(most))
		if l.Has("timedMax") {
			high.do(reducePower, recordRating)
		} else if g.temperature() {
			high.do(reducePower, shutDownUnlessItFalls)
		}
		high.do(groundAircraft)
	case l.Has("cautionMax") && g.value.Above(l.Value("cautionMax")):
		high := out.add(Caution, Recheck, "gauge-high", g.name, "The %s reads %s; normal is up to %s.", g.called,
			g.withUnit(g.value), g.withUnit(l.Value("cautionMax")))
		switch {
		case g.temperature():
			high.do(coolDown).again()
		case g.lubricant() && g.cold():
			high.Message += " The oil is still cold, and thick."
			high.do(warmUp).again()
		default:
			high.do(repeatCheck)
		}
	}
}

// judgeTimed judges a rating that is allowed for a time, and below a speed. What
// was not taken of the two is not judged, and said.
func (g gauge) judgeTimed(out *sheet) {
	l, held := g.limits, g.in.held[g.name]
	allowed := g.withUnit(l.Value("max")) + " may be passed for " + l.Value("timedSeconds").String() + " s"
	if l.Has("belowKt") {
		allowed += " below " + l.Value("belowKt").String() + " kt"
	}
	beyond := ""
	switch {
	case held.seconds != nil && held.seconds.Above(l.Value("timedSeconds")):
		beyond = "It was held for " + held.seconds.String() + " s."
	case l.Has("belowKt") && held.kt != nil && !held.kt.Below(l.Value("belowKt")):
		beyond = "It was used at " + held.kt.String() + " kt."
	}
	if beyond != "" {
		out.add(Abnormal, Stop, "gauge-high", g.name, "The %s reads %s; %s. %s", g.called, g.withUnit(g.value), allowed,
			beyond).
			do(reducePower, recordRating, groundAircraft)
		return
	}
	f := out.add(Caution, Continue, "gauge-high", g.name, "The %s reads %s; %s.", g.called, g.withUnit(g.value),
		allowed).do(recordRating)
	if held.seconds == nil {
		f.Message += " The time was not taken."
	}
}

// judgeUnknownDay finds a limit of the day that cannot be had. What is beyond
// the type's own limit has been found already, and outranks it.
func judgeUnknownDay(g gauge, out *sheet) {
	why := g.limits.Text("dayLimitUnknown")
	if _, known := g.in.fieldPressure(); g.limits.Has("belowAmbientMaxInHg") && !known {
		why = "the elevation and the pressure setting of the day are not given"
	}
	if why != "" {
		out.add(Invalid, Recheck, "day-limit-unknown", g.name,
			"The %s reads %s, and its limit of the day is not known: %s.", g.called, g.withUnit(g.value),
			why).do(giveTheDay)
	}
}

// soundBand refuses bands that do not say what they must.
func soundBand(path string, band form.Record) error {
	for _, edge := range []string{"min", "max"} {
		if !band.Has(edge) && !band.Has("belowAmbientMaxInHg") {
			return form.Bad(path+"."+edge, "is missing: a number")
		}
	}
	switch {
	case band.Has("timedMax") && !band.Has("max"):
		return form.Bad(path+".max", "is missing: a limited time is beside what holds at all times")
	case band.Has("timedMax") != band.Has("timedSeconds"):
		return form.Bad(path+".timedSeconds", "and timedMax go together: a limit, and for how long it may be used")
	case band.Has("belowKt") && !band.Has("timedMax"):
		return form.Bad(path+".timedMax", "is missing: belowKt is the speed below which it may be used")
	}
	return nil
}

// held is for how long a needle stood where it was read, and at which airspeed.
type held struct{ seconds, kt *quantity.Value }

var heldFields = []form.Field{
	{Name: "seconds", Label: "held for", Unit: "s", Kind: form.Number, Taken: form.Timed, Decimals: 1, Optional: true},
	{Name: "kt", Label: "at", Unit: "kt", Kind: form.Number, Optional: true},
}

// bareGauges splits a reading of gauges into its numbers and what was said beside
// them: {"value": 102, "seconds": 40, "kt": 35}.
func bareGauges(reading map[string]any) (map[string]any, map[string]held, error) {
	bare, beside := map[string]any{}, map[string]held{}
	for name, raw := range reading {
		object, isObject := raw.(map[string]any)
		_, timed := object["seconds"]
		_, sped := object["kt"]
		_, inUnit := object["unit"]
		if !isObject || !timed && !sped && inUnit {
			bare[name] = raw
			continue
		}
		own, rest := map[string]any{}, maps.Clone(object)
		for _, f := range heldFields {
			if v, given := rest[f.Name]; given {
				own[f.Name] = v
				delete(rest, f.Name)
			}
		}
		r, err := form.RPM.Read("reading."+form.Clip(name), own, heldFields)
		if err != nil {
			return nil, nil, err
		}
		beside[name] = held{optional(r, "seconds"), optional(r, "kt")}
		bare[name] = rest
		if v, given := rest["value"]; given && len(rest) == 1 {
			bare[name] = v
		}
	}
	return bare, beside, nil
}

// heldSchema is the JSON Schema of a gauge's number with what was said beside it.
func heldSchema() map[string]any {
	s := form.Schema(append([]form.Field{{Name: "value", Kind: form.Number, Signed: true}}, heldFields...))
	s["properties"].(map[string]any)["unit"] = map[string]any{"type": "string"}
	return s
}

var (
	warmUp   = do(180, "warm-up", "Wait at the warm-up speed until it has come up.")
	coolDown = do(178, "cool-down",
		"Let it cool: nose into the wind, less power, cowl flaps open, mixture rich; then read it again.").
		to("rotor", "Let it cool: nose into the wind, the collective down, the engine at idle; then read it again.").
		to("turbine", "Let it cool: nose into the wind, the engine at idle; then read it again.").
		to("no mixture", "Let it cool: nose into the wind, less power; then read it again.").
		to("no cowl-flaps", "Let it cool: nose into the wind, less power, mixture rich; then read it again.")
	reducePower = do(55, "reduce-power", "Power back now.").
			to("rotor", "Lower the collective and bring the power back now.")
	shutDownUnlessItFalls = do(61, "shut-down", "If it does not fall at once, shut the engine down.")
	recordRating          = do(92, "record-exceedance",
		"Write down the highest number and for how long, for maintenance.")
	giveTheDay = do(245, "give-the-day",
		"Give the day's temperature, pressure setting and elevation, or look the limit up in the handbook, then "+
			"read it again.")
)
