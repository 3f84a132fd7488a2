package check

import (
	"fmt"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// limitName names one limit of one check.
type limitName struct{ check, limit string }

// orders are pairs of limits of different checks that one engine cannot have the
// other way round: the first lies below the second, or at it where equal says so.
var orders = []struct {
	low, high limitName
	equal     bool
}{
	{limitName{"idle", "max"}, limitName{"magneto", "base"}, false},
	{limitName{"idle", "max"}, limitName{"lanes", "base"}, false},
	{limitName{"idle", "max"}, limitName{"static-rpm", "min"}, false},
	{limitName{"magneto", "base"}, limitName{"static-rpm", "max"}, false},
	{limitName{"lanes", "base"}, limitName{"static-rpm", "max"}, false},
	{limitName{"magneto", "dropMax"}, limitName{"magneto", "base"}, false},
	{limitName{"lanes", "dropMax"}, limitName{"lanes", "base"}, false},
	{limitName{"carb-heat", "dropMax"}, limitName{"magneto", "base"}, false},
	{limitName{"battery", "startMin"}, limitName{"charging", "voltsMin"}, true},
	{limitName{"turbine-start", "batteryMinVolts"}, limitName{"battery", "startMin"}, true},
	{limitName{"turbine-start", "fuelSpoolMinPercent"}, limitName{"turbine-start", "idleMinPercent"}, false},
	{limitName{"turbine-start", "idleMaxPercent"}, limitName{"deceleration", "startMin"}, false},
	{limitName{"magneto", "differenceMax"}, limitName{"magneto", "dropMax"}, true},
	{limitName{"lanes", "differenceMax"}, limitName{"lanes", "dropMax"}, true},
}

// sameTimes are times of a type that stand in its data twice: a duration that a
// timer shows, at least or at most, and the limit of the check that judges it.
var sameTimes = []struct {
	duration string
	most     bool
	limits   []limitName
}{
	{"crank", true, []limitName{{"piston-start", "crankMaxSeconds"}, {"diesel-start", "crankMaxSeconds"}}},
	{"starter-rest", false, []limitName{{"piston-start", "restMinSeconds"}, {"diesel-start", "restMinSeconds"}}},
	{"oil-pressure", true, []limitName{{"piston-start", "oilPressureSeconds"}, {"diesel-start", "oilPressureSeconds"}}},
	{"dwell", false, []limitName{{"magneto", "dwellMinSeconds"}, {"lanes", "dwellMinSeconds"}}},
	{"dwell", true, []limitName{{"magneto", "dwellMaxSeconds"}, {"lanes", "dwellMaxSeconds"}}},
	{"idle-hold", false, []limitName{{"idle", "seconds"}}},
	{"blades", true, []limitName{{"clutch", "bladesTurningMax"}}},
	{"clutch", true, []limitName{{"clutch", "lampOutMax"}}},
	{"light-off", true, []limitName{{"turbine-start", "lightOffMaxSeconds"}}},
	{"to-idle", true, []limitName{{"turbine-start", "toIdleMaxSeconds"}}},
	{"deceleration", false, []limitName{{"deceleration", "secondsMin"}}},
}

// laneLamps is the equipment of a type whose lamps show that a lane is off.
const laneLamps = "lane-lamps"

// mostPercent is the highest that anything read in percent goes: torque and
// spool speeds pass 100 by little.
var mostPercent = quantity.Scaled(150, 0)

// Impossible lists what cannot be of one aircraft, though each check's limits
// are sound by themselves: limits of two checks that contradict each other, a time
// that stands there twice and not alike, a limit finer than it is read, a band
// outside the scale of its gauge, a minimum to wait for that is beyond what is
// allowed, percent beyond any scale, two circuits of which nothing proves that one
// was off.
func Impossible(t aircraft.Type) []form.Problem {
	faults := impossible(t)
	for i, e := range t.Equipment {
		if e.Limits == nil {
			continue
		}
		for _, f := range impossible(t.With([]string{e.ID})) {
			if !slices.Contains(faults, f) {
				faults = append(faults, form.Problem{
					Field: fmt.Sprintf("$.equipment[%d].limits", i), Reason: "With " + e.Label + ": " + f.Reason,
				})
			}
		}
	}
	return form.SortProblems(faults)
}

func impossible(t aircraft.Type) []form.Problem {
	var faults []form.Problem
	for _, o := range orders {
		low, there := limitOf(t, o.low)
		high, also := limitOf(t, o.high)
		if !there || !also || low.Below(high) || o.equal && low.Cmp(high) == 0 {
			continue
		}
		faults = append(faults, form.Problem{
			Field: "$.limits." + o.low.check + "." + o.low.limit,
			Reason: fmt.Sprintf("%s, is not below %s. One of the two is misread.", o.low.describe(t, low),
				o.high.describe(t, high)),
		})
	}
	for name := range t.Limits {
		def, known := Find(name)
		if !known || def.NamedLimits != nil {
			continue
		}
		for _, f := range def.Limits {
			at := limitName{name, f.Name}
			if v, there := limitOf(t, at); there && at.unit(t, f) == "%" && v.Above(mostPercent) {
				faults = append(faults, form.Problem{
					Field:  "$.limits." + name + "." + f.Name,
					Reason: at.describe(t, v) + ", is beyond any scale in percent.",
				})
			}
		}
	}
	for _, g := range t.Gauges {
		faults = append(faults, outsideScale(t, g)...)
	}
	faults = append(faults, twoTimes(t)...)
	faults = append(faults, tooFine(t)...)
	faults = append(faults, unproven(t)...)
	for i, m := range t.Minimums {
		band, _ := t.Limits[gauges.Name][m.Gauge].(map[string]any)
		if most, known := asNumber(band["max"]); known && m.Value > most {
			called, unit := gaugeWords(&t, m.Gauge)
			faults = append(faults, form.Problem{
				Field: fmt.Sprintf("$.minimums[%d].value", i),
				Reason: fmt.Sprintf("the %s to wait for, %g %s, is above the highest allowed, %g %s.", called, m.Value,
					unit, most, unit),
			})
		}
	}
	return faults
}

// twoTimes lists the times that a timer and a check of the type tell differently.
func twoTimes(t aircraft.Type) []form.Problem {
	var faults []form.Problem
	for _, same := range sameTimes {
		for i, d := range t.Durations {
			seconds, field, words := d.MinSeconds, "minSeconds", "at least"
			if same.most {
				seconds, field, words = d.MaxSeconds, "maxSeconds", "at most"
			}
			for _, n := range same.limits {
				limit, there := limitOf(t, n)
				if d.ID == same.duration && there && limit.Float() != seconds {
					faults = append(faults, form.Problem{
						Field: fmt.Sprintf("$.durations[%d].%s", i, field),
						Reason: fmt.Sprintf("the timer says “%s” %s %g s; %s. The two are one time.", d.Label, words,
							seconds, n.describe(t, limit)),
					})
				}
			}
		}
	}
	return faults
}

// tooFine lists the limits that have more places than what is held to them is read
// to: rounding would move them.
func tooFine(t aircraft.Type) []form.Problem {
	var faults []form.Problem
	check := func(path, called string, f form.Field, raw any, decimals int) {
		v, err := quantity.Parse(fmt.Sprint(raw), quantity.MaxDecimals)
		if f.Kind != form.Number || raw == nil || err != nil || v.At(decimals).Cmp(v) == 0 {
			return
		}
		faults = append(faults, form.Problem{
			Field: path,
			Reason: fmt.Sprintf("%s, %s: %s is finer than it is read, to %d places. Round it to the stricter side.",
				called, f.Label, v, decimals),
		})
	}
	for name, limits := range t.Limits {
		def, known := Find(name)
		if !known {
			continue
		}
		for _, f := range def.Limits {
			decimals := f.Decimals
			if f.Unit == form.Speed {
				decimals = form.TachometerIn(t.Tachometer).Decimals
			}
			check("$.limits."+name+"."+f.Name, def.Title, f, limits[f.Name], decimals)
		}
		if def.NamedLimits == nil {
			continue
		}
		for gauge, raw := range limits {
			band, _ := raw.(map[string]any)
			for _, f := range def.NamedLimits.Each {
				check("$.limits."+name+"."+gauge+"."+f.Name, gauge, f, band[f.Name], f.Decimals)
			}
		}
	}
	return faults
}

// unproven lists double ignitions of which neither a drop nor a lamp proves that
// one circuit was off.
func unproven(t aircraft.Type) []form.Problem {
	var faults []form.Problem
	for _, name := range []string{magneto.Name, lanes.Name} {
		limits, has := t.Limits[name]
		least, given := asNumber(limits["dropMin"])
		if has && given && least <= 0 && (name == magneto.Name || !t.Has(laneLamps)) {
			faults = append(faults, form.Problem{
				Field:  "$.limits." + name + ".dropMin",
				Reason: "with no smallest drop and no lamp nothing proves that a side was off",
			})
		}
	}
	return faults
}

// outsideScale lists the ends of a gauge's bands that its scale does not show.
func outsideScale(t aircraft.Type, g aircraft.Gauge) []form.Problem {
	var faults []form.Problem
	if g.From == g.To {
		return nil
	}
	var walk func(path string, band map[string]any)
	walk = func(path string, band map[string]any) {
		for _, f := range gauges.NamedLimits.Each {
			if v, known := asNumber(band[f.Name]); known && f.Unit == "" && (v < g.From || v > g.To) {
				faults = append(faults, form.Problem{
					Field: path + "." + f.Name,
					Reason: fmt.Sprintf("%s: %s, %g %s, lies outside its scale, which goes from %g to %g.", g.Label,
						f.Label, v, g.Unit, g.From, g.To),
				})
			}
		}
		at, _ := band["at"].(map[string]any)
		for power, one := range at {
			if inner, ok := one.(map[string]any); ok {
				walk(path+".at."+power, inner)
			}
		}
	}
	band, _ := t.Limits[gauges.Name][g.ID].(map[string]any)
	walk("$.limits.gauges."+g.ID, band)
	return faults
}

// limitOf is a limit of a type as a number.
func limitOf(t aircraft.Type, n limitName) (quantity.Value, bool) {
	raw, known := t.Limits[n.check][n.limit]
	if !known {
		return quantity.Value{}, false
	}
	v, err := quantity.Parse(fmt.Sprint(raw), quantity.MaxDecimals)
	return v, err == nil
}

func (n limitName) unit(t aircraft.Type, f form.Field) string {
	if f.Unit != form.Speed {
		return f.Unit
	}
	return unitWords(form.TachometerIn(t.Tachometer).Unit)
}

// describe is a limit in a sentence: what it is called, its number, its page.
func (n limitName) describe(t aircraft.Type, v quantity.Value) string {
	def, _ := Find(n.check)
	f, _ := form.Find(def.Limits, n.limit)
	at := strings.TrimSpace(v.String() + " " + n.unit(t, f))
	if page := t.Provenance("limits." + n.check + "." + n.limit).Page; page != "" {
		at += " on page " + page
	}
	return fmt.Sprintf("%s, %s: %s", def.Title, f.Label, at)
}
