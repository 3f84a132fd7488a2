package check

import (
	"fmt"
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
}

// mostPercent is the highest that anything read in percent goes: torque and
// spool speeds pass 100 by little.
var mostPercent = quantity.Scaled(150, 0)

// Impossible lists what cannot be of one aircraft, though each check's limits
// are sound by themselves: limits of two checks that contradict each other, a
// band outside the scale of its gauge, a minimum to wait for that is beyond what
// is allowed, percent beyond any scale.
func Impossible(t aircraft.Type) []aircraft.Fault {
	var faults []aircraft.Fault
	for _, o := range orders {
		low, there := limitOf(t, o.low)
		high, also := limitOf(t, o.high)
		if !there || !also || low.Below(high) || o.equal && low.Cmp(high) == 0 {
			continue
		}
		faults = append(faults, aircraft.Fault{Path: "$.limits." + o.low.check + "." + o.low.limit,
			Reason: fmt.Sprintf("%s, is not below %s. One of the two is misread.", o.low.said(t, low), o.high.said(t, high))})
	}
	for name := range t.Limits {
		def, known := Find(name)
		if !known || def.NamedLimits != nil {
			continue
		}
		for _, f := range def.Limits {
			at := limitName{name, f.Name}
			if v, there := limitOf(t, at); there && at.unit(t, f) == "%" && v.Above(mostPercent) {
				faults = append(faults, aircraft.Fault{Path: "$.limits." + name + "." + f.Name, Reason: at.said(t, v) + ", is beyond any scale in percent."})
			}
		}
	}
	for _, g := range t.Gauges {
		faults = append(faults, outsideScale(t, g)...)
	}
	for i, m := range t.Minimums {
		band, _ := t.Limits[gauges.Name][m.Gauge].(map[string]any)
		if most, known := asNumber(band["max"]); known && m.Value > most {
			called, unit := gaugeWords(&t, m.Gauge)
			faults = append(faults, aircraft.Fault{Path: fmt.Sprintf("$.minimums[%d].value", i),
				Reason: fmt.Sprintf("the %s to wait for, %g %s, is above the highest allowed, %g %s.", called, m.Value, unit, most, unit)})
		}
	}
	return aircraft.SortFaults(faults)
}

// outsideScale lists the ends of a gauge's bands that its scale does not show.
func outsideScale(t aircraft.Type, g aircraft.Gauge) []aircraft.Fault {
	var faults []aircraft.Fault
	if g.From == g.To {
		return nil
	}
	var walk func(path string, band map[string]any)
	walk = func(path string, band map[string]any) {
		for _, f := range gauges.NamedLimits.Each {
			if v, known := asNumber(band[f.Name]); known && (v < g.From || v > g.To) {
				faults = append(faults, aircraft.Fault{Path: path + "." + f.Name,
					Reason: fmt.Sprintf("%s: %s, %g %s, lies outside its scale, which goes from %g to %g.", g.Label, f.Label, v, g.Unit, g.From, g.To)})
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

// said is a limit in a sentence: what it is called, its number, its page.
func (n limitName) said(t aircraft.Type, v quantity.Value) string {
	def, _ := Find(n.check)
	f, _ := form.Find(def.Limits, n.limit)
	at := strings.TrimSpace(v.String() + " " + n.unit(t, f))
	if page := t.Provenance("limits." + n.check + "." + n.limit).Page; page != "" {
		at += " on page " + page
	}
	return fmt.Sprintf("%s, %s: %s", def.Title, f.Label, at)
}
