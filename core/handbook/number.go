package handbook

import (
	"cmp"
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// number is one number of a type that a handbook gives: where it stands, what it
// is called, and how it is read and set.
type number struct {
	path, label string
	// field says its unit, resolution and whether it may be left out.
	field form.Field
	// asked numbers are asked for until they are left out, though they may be.
	asked bool
	get   func() (quantity.Value, bool)
	set   func(v quantity.Value)
	clear func()
	// choice is read and set in the place of a number, where the field is one.
	choice func() string
	choose func(string)
	// table is what there is of a table, which is typed as a grid and has one page.
	table string
}

// part is a group of numbers that are asked together.
type part struct {
	id, title, words string
	check            string // the check they are the limits of
	fitted           bool   // they hold where equipment is fitted
	numbers          []number
}

// checkPrefix stands before the name of a check in a part's id and in the paths
// of its limits.
const checkPrefix = "limits."

// parts are all the numbers of a type, in the order they are asked: the checks
// as a flight meets them, then speeds, winds, times, what is waited for, fuel
// and the preparation of a start. The functions work on t.
func parts(t *aircraft.Type) []part {
	var out []part
	for _, d := range check.All() {
		if t.Limits[d.Name] != nil {
			out = append(out, checkPart(t, d))
			for _, e := range t.Equipment {
				if own := e.Limits[d.Name]; own != nil {
					out = append(out, fittedPart(t, d, e, own))
				}
			}
		}
	}
	add := func(id, title, words string, numbers []number) {
		if len(numbers) > 0 {
			out = append(out, part{id: id, title: title, words: words, numbers: numbers})
		}
	}
	var speeds []number
	for i, s := range t.Speeds {
		speeds = append(speeds, whole("speeds."+s.ID, s.Label, "kt", &t.Speeds[i].Knots))
	}
	add("speeds", "Speeds", "As the airspeed indicator shows them; the take-off brief says them.", speeds)
	if t.Winds != nil {
		tail := whole("winds.tailwindKt", "tail wind at most", "kt", &t.Winds.TailwindKt)
		tail.field.Silent = &form.Silent{Words: "Without it no tail wind is allowed.", Zero: true}
		add("winds", "Winds", "What the maker has shown or allows.", []number{
			whole("winds.crosswindKt", "cross wind at most", "kt", &t.Winds.CrosswindKt), tail,
		})
	}
	var times []number
	for i, d := range t.Durations {
		least := seconds("durations."+d.ID+".minSeconds", d.Label+", at least", &t.Durations[i].MinSeconds)
		most := seconds("durations."+d.ID+".maxSeconds", d.Label+", at most", &t.Durations[i].MaxSeconds)
		times = append(times, least, most)
	}
	add("durations", "Times", "What is waited or counted: at least, at most, or both.", times)
	var waits []number
	for i, m := range t.Minimums {
		at := slices.IndexFunc(t.Gauges, func(g aircraft.Gauge) bool { return g.ID == m.Gauge })
		if at < 0 {
			continue // the type's own faults say so
		}
		g := t.Gauges[at]
		wait := exact("minimums."+m.Gauge+"."+m.Before,
			fmt.Sprintf("%s before %s", g.Label, strings.ReplaceAll(m.Before, "-", " ")), g.Unit, 1,
			&t.Minimums[i].Value)
		waits = append(waits, wait.mayBeZero(t))
	}
	add("minimums", "Waited for", "No more power before these are reached.", waits)
	if t.Fuel != nil {
		var fuel []number
		for i, tank := range t.Fuel.Tanks {
			fuel = append(fuel, whole("fuel.tanks."+tank.ID, tank.Label+", usable", "L", &t.Fuel.Tanks[i].UsableL))
		}
		fuel = append(fuel, whole("fuel.burnLPerHour", "burnt an hour", "L/h", &t.Fuel.BurnLPerHour))
		if t.Fuel.OneTank {
			apart := whole("fuel.imbalanceMaxL", "tanks apart by at most", "L", &t.Fuel.ImbalanceMaxL)
			apart.field.Silent = &form.Silent{Words: "Without it the plan changes tanks by the hour only.", Zero: true}
			fuel = append(fuel, apart)
		}
		add("fuel", "Fuel", "What can be used, and what an hour takes.", fuel)
	}
	if p := t.Prime; p != nil {
		numbers := []number{exact("prime.preheatBelowC", "warmed first below", "°C", 0, &p.PreheatBelowC),
			whole("prime.hotWithinMinutes", "counts as hot after it ran for", "min", &p.HotWithinMinutes),
			whole("prime.warmWithinMinutes", "counts as warm for", "min", &p.WarmWithinMinutes)}
		numbers[0] = numbers[0].mayBeZero(t)
		numbers = append(numbers, tabled("prime.rows", "the table", fmt.Sprintf("%d rows", len(p.Rows)+1)))
		add("prime", "Preparing a start", "The table of how the engine is primed stands beside it.", numbers)
	}
	if p := t.Power; p != nil {
		add("power", "Power by height and heat", "The limit of the day is read between the numbers of the grid.",
			[]number{tabled("power", "the table", fmt.Sprintf("%d × %d", len(p.AltitudesFt), len(p.OATC)))})
	}
	return out
}

// whole is a whole number, 0 where it is not given.
func whole(path, label, unit string, at *int) number {
	return number{path: path, label: label, field: form.Field{Name: path, Label: label, Unit: unit, Kind: form.Number},
		get:   func() (quantity.Value, bool) { return quantity.Scaled(int64(*at), 0), *at != 0 },
		set:   func(v quantity.Value) { n, _ := v.At(0).Units(); *at = int(n) },
		clear: func() { *at = 0 }}
}

func exact(path, label, unit string, decimals int, at *float64) number {
	return number{path: path, label: label,
		field: form.Field{
			Name: path, Label: label, Unit: unit, Kind: form.Number, Decimals: decimals, Signed: unit == "°C",
		},
		get:   func() (quantity.Value, bool) { return valueOf(*at, decimals), *at != 0 },
		set:   func(v quantity.Value) { *at = v.At(decimals).Float() },
		clear: func() { *at = 0 }}
}

// tabled stands for a whole table, of which only the page is asked.
func tabled(path, label, what string) number {
	return number{
		path: path, label: label, table: what, get: func() (quantity.Value, bool) { return quantity.Value{}, true },
		set: func(quantity.Value) {}, clear: func() {},
	}
}

// mayBeZero is a number of which 0 is one like any other: it is given unless the
// description began without numbers and this one was not typed since.
func (n number) mayBeZero(t *aircraft.Type) number {
	given := n.get
	n.get = func() (quantity.Value, bool) {
		v, there := given()
		h := t.Handbook
		if there || h == nil || h.From == nil || !h.From.Blank {
			return v, true
		}
		_, typed := h.Numbers[n.path]
		return v, typed
	}
	return n
}

func seconds(path, label string, at *float64) number {
	n := exact(path, label, "s", 1, at)
	n.field.Optional = true
	return n
}

func valueOf(f float64, decimals int) quantity.Value {
	v, _ := quantity.Parse(strconv.FormatFloat(f, 'f', -1, 64), quantity.MaxDecimals)
	return v.At(decimals)
}

// checkPart are the limits of one check of a type.
func checkPart(t *aircraft.Type, d check.Definition) part {
	return limitsOf(t, d, part{id: checkPrefix + d.Name, title: d.Title, words: d.Rule, check: d.Name},
		t.Limits[d.Name])
}

// fittedPath is where the limits of a check stand that hold where equipment is fitted.
func fittedPath(equipment, check string) string {
	return "equipment." + equipment + "." + checkPrefix + check
}

// fittedPart are the limits of a check that differ where equipment is fitted: each may
// be left as it is.
func fittedPart(t *aircraft.Type, d check.Definition, e aircraft.Equipment, own map[string]any) part {
	out := limitsOf(t, d, part{id: fittedPath(e.ID, d.Name), fitted: true, title: d.Title + ", with " + e.Label,
		words: "Where it is fitted these hold; what is empty stays as without it."}, own)
	for i := range out.numbers {
		out.numbers[i].asked, out.numbers[i].field.Optional = false, true
	}
	return out
}

// limitsOf lists the numbers of an object of limits, under the id of a part.
func limitsOf(t *aircraft.Type, d check.Definition, out part, own map[string]any) part {
	speeds := form.TachometerIn(t.Tachometer)
	for _, f := range d.Limits {
		if f.Unit == form.Speed {
			f.Unit, f.Decimals = speeds.Unit, speeds.Decimals
			if f.Unit == "percent" { // habits are those of engines read in rpm
				f.Unit = "%"
				if f.Silent != nil && f.Silent.Habit != 0 {
					f.Silent = &form.Silent{Words: f.Silent.Words, Zero: f.Silent.Zero}
				}
			}
		}
		n := limit(out.id+"."+f.Name, f.Label, f, own)
		n.asked = f.Silent != nil
		out.numbers = append(out.numbers, n)
	}
	if d.NamedLimits == nil {
		return out
	}
	names := slices.Sorted(maps.Keys(own))
	if d.Name == "gauges" { // in the order of the type's own instruments
		names = nil
		for _, g := range t.Gauges {
			names = append(names, g.ID)
		}
	}
	for _, name := range names {
		band, isBand := own[name].(map[string]any)
		if !isBand {
			band = map[string]any{}
			own[name] = band
		}
		label, unit := d.NameWords(*t, name)
		path := out.id + "." + name
		for _, f := range d.NamedLimits.Each {
			if !ofGauge(f, unit) {
				continue
			}
			f.Unit = cmp.Or(f.Unit, unit)
			n := limit(path+"."+f.Name, label+", "+f.Label, f, band)
			n.asked = f.Name == "min" || f.Name == "max"
			out.numbers = append(out.numbers, n)
		}
		at, _ := band["at"].(map[string]any)
		for _, power := range check.Powers {
			one, there := at[power].(map[string]any)
			if !there {
				continue
			}
			for _, f := range d.NamedLimits.Each {
				if f.Kind == form.Number && ofGauge(f, unit) {
					f.Unit, f.Optional = cmp.Or(f.Unit, unit), true
					out.numbers = append(out.numbers,
						limit(path+".at."+power+"."+f.Name,
							fmt.Sprintf("%s at %s, %s", label, check.PowerWords[power], f.Label), f, one))
				}
			}
		}
	}
	return out
}

// ofGauge reports whether a part of a band can be of a gauge with a unit: what an
// engine takes from the air is a manifold's, a rating limited in time one of power.
func ofGauge(f form.Field, unit string) bool {
	switch f.Name {
	case "belowAmbientMaxInHg":
		return unit == "inHg"
	case "timedMax", "timedSeconds", "belowKt":
		return unit == "inHg" || unit == "%" || unit == "rpm" || unit == "°C"
	}
	return f.Kind != form.Text
}

// limit is a member of an object of limits.
func limit(path, label string, f form.Field, of map[string]any) number {
	return number{path: path, label: label, field: f,
		get: func() (quantity.Value, bool) {
			raw, there := of[f.Name]
			if _, isText := raw.(string); !there || isText || raw == nil {
				return quantity.Value{}, false
			}
			data, err := json.Marshal(raw)
			if err != nil {
				return quantity.Value{}, false
			}
			v, err := quantity.Parse(string(data), quantity.MaxDecimals)
			return v.At(f.Decimals), err == nil
		},
		set:    func(v quantity.Value) { of[f.Name] = v.At(f.Decimals).Float() },
		clear:  func() { delete(of, f.Name) },
		choice: func() string { s, _ := of[f.Name].(string); return s },
		choose: func(s string) {
			if s == "" {
				delete(of, f.Name)
			} else {
				of[f.Name] = s
			}
		},
	}
}

// cloned is a type that shares nothing with t.
func cloned(t aircraft.Type) (aircraft.Type, error) {
	data, err := json.Marshal(t)
	if err != nil {
		return t, fmt.Errorf("copying the type: %w", err)
	}
	var out aircraft.Type
	if err := json.Unmarshal(data, &out); err != nil {
		return t, fmt.Errorf("copying the type: %w", err)
	}
	if out.Limits == nil {
		out.Limits = map[string]map[string]any{}
	}
	return out, nil
}

// finest is the step of a field's resolution, in words.
func finest(decimals int) string {
	if decimals == 0 {
		return "whole numbers"
	}
	return "steps of " + strconv.FormatFloat(math.Pow10(-decimals), 'f', -1, 64)
}
