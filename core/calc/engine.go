package calc

import (
	"fmt"
	"math"
	"slices"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/quantity"
)

// IcingBand is a part of the general carburettor icing chart: outside air from
// FromC to ToC, and a relative humidity of at least HumidityMinPercent.
type IcingBand struct {
	Band               string `json:"band"`
	FromC              int64  `json:"fromC"`
	ToC                int64  `json:"toC"`
	HumidityMinPercent int64  `json:"humidityMinPercent"`
}

// carbIce gives the relative humidity by the Magnus formula over water, with
// a = 17.625 and b = 243.04 °C (Alduchov and Eskridge, 1996), good from −40 to
// 50 °C, and the band of the icing chart in the data.
//
//	RH = 100·e^(a·Td/(b+Td)) / e^(a·T/(b+T))
var carbIce = Definition{
	Name: "carb-ice", Title: "Carburettor icing",
	Rule:   "Fuel that evaporates and air that is throttled cool the carburettor by up to 30 °C: ice grows in it on days that are not cold at all.",
	Source: "Magnus formula, Alduchov and Eskridge 1996; a general chart in the data",
	Fields: []check.Field{number("oatC", "outside air", "°C", 1, signed), number("dewPointC", "dew point", "°C", 1, signed)},
	run: func(in input) (check.Object, []Advice, error) {
		oat, dew := in.Value("oatC"), in.Value("dewPointC")
		if dew.Above(oat) {
			return nil, nil, check.Bad("dewPointC", "may not be above oatC: %s above %s", dew, oat)
		}
		for name, v := range map[string]quantity.Value{"oatC": oat} {
			if err := within(name, v, -40, 50, "°C"); err != nil {
				return nil, nil, err
			}
		}
		if err := within("dewPointC", dew, -60, 50, "°C"); err != nil {
			return nil, nil, err
		}
		const a, b = 17.625, 243.04
		humidity := rounded(100*math.Exp(a*dew.Float()/(b+dew.Float())-a*oat.Float()/(b+oat.Float())), 0)
		band := "none"
		for _, z := range in.tables.Icing {
			if !oat.Below(quantity.Scaled(z.FromC, 0)) && !oat.Above(quantity.Scaled(z.ToC, 0)) && !humidity.Below(quantity.Scaled(z.HumidityMinPercent, 0)) {
				band = z.Band
				break
			}
		}
		advice := []Advice{}
		if band != "none" {
			advice = append(advice, Advice{"ice-" + band, map[string]string{
				"light":    "Ice may form at low power: heat before the throttle is closed, and look for a drop while taxiing.",
				"moderate": "Ice forms at low power and may form in cruise: heat fully, for half a minute, before take-off and at every change of power.",
				"serious":  "Ice forms at any power: check with heat while taxiing, before take-off and often in flight; expect the engine to run rough as it melts.",
			}[band]})
		}
		advice = append(advice, Advice{"general-chart", "This is a general chart: engines differ, and rain, wet grass and cloud make ice where it shows none."})
		return check.Object{member("humidityPercent", humidity), member("band", band)}, advice, nil
	},
}

// prime finds the plan of the start in the type's own table, by the state of
// the engine and the outside air.
var prime = Definition{
	Name: "prime", Title: "Prime for the start",
	Rule:   "A cold engine needs fuel it can burn, a hot one has too much: the plan is made before the hand is on the starter.",
	Source: "the type's own table",
	Fields: []check.Field{aircraftTypeField,
		{Name: "engineState", Label: "engine", Kind: check.Choice, Choices: []string{"cold", "warm", "hot"}, Optional: true},
		number("lastRunMinutes", "minutes since it ran", "min", 0, optional), number("oatC", "outside air", "°C", 1, signed)},
	run: runPrime,
}

func runPrime(in input) (check.Object, []Advice, error) {
	table := in.typ.Prime
	if table == nil {
		return nil, nil, check.Bad("aircraftType", "the %s has no table for priming", in.typ.Name)
	}
	state := in.Text("engineState")
	switch {
	case state != "" && in.Has("lastRunMinutes"):
		return nil, nil, check.Bad("lastRunMinutes", "stands beside engineState: give one of the two")
	case state == "" && !in.Has("lastRunMinutes"):
		return nil, nil, check.Bad("engineState", "is missing: one of cold, warm, hot, or lastRunMinutes")
	case state == "":
		state = engineState(in.Value("lastRunMinutes"), *table)
	}
	oat := in.Value("oatC")
	if err := within("oatC", oat, -60, 60, "°C"); err != nil {
		return nil, nil, err
	}
	i := slices.IndexFunc(table.Rows, func(r aircraft.PrimeRow) bool {
		return r.Engine == state && (r.BelowC == nil || oat.Float() < *r.BelowC)
	})
	if i < 0 {
		return nil, nil, check.Bad("engineState", "%q has no row in the table of the %s for %s °C", state, in.typ.Name, oat)
	}
	row := table.Rows[i]
	preheat := state == "cold" && oat.Float() < table.PreheatBelowC
	advice := []Advice{}
	if preheat {
		advice = append(advice, Advice{"preheat", fmt.Sprintf("Below %g °C the engine is warmed before it is cranked: cold oil does not reach its bearings.", table.PreheatBelowC)})
	}
	if row.Note != "" {
		advice = append(advice, Advice{"note", sentence(row.Note)})
	}
	flooded := fmt.Sprintf("If it floods: throttle %s, mixture %s.", table.Flooded.Throttle, table.Flooded.Mixture)
	if table.Flooded.Note != "" {
		flooded += " " + sentence(table.Flooded.Note)
	}
	advice = append(advice, Advice{"if-flooded", flooded})
	return check.Object{member("engineState", state), member("method", row.Method), member("amount", rounded(row.Amount, 1)), member("unit", row.Unit),
		member("throttle", row.Throttle), member("mixture", row.Mixture), member("preheat", preheat)}, advice, nil
}

// engineState tells from the minutes since an engine ran how warm it still is.
func engineState(minutes quantity.Value, table aircraft.Prime) string {
	switch {
	case !minutes.Above(quantity.Scaled(int64(table.HotWithinMinutes), 0)):
		return "hot"
	case !minutes.Above(quantity.Scaled(int64(table.WarmWithinMinutes), 0)):
		return "warm"
	}
	return "cold"
}

// sentence begins with a capital letter and ends with a full stop.
func sentence(words string) string {
	if words == "" {
		return ""
	}
	out := []rune(words)
	if out[0] >= 'a' && out[0] <= 'z' {
		out[0] -= 'a' - 'A'
	}
	if last := out[len(out)-1]; last != '.' {
		out = append(out, '.')
	}
	return string(out)
}

// powerLimit reads the type's table of power over pressure altitude and
// temperature, in straight lines between its nodes (bilinear), to one decimal.
// Beyond an edge the edge's value is used where the table says that this is on
// the safe side; elsewhere there is no answer, never an extrapolation.
var powerLimit = Definition{
	Name: "power-limit", Title: "Power limit of the day",
	Rule:   "What the engine may give, and what it can give, falls with altitude and temperature; the number is known before power is raised.",
	Source: "the type's own table, bilinear between its nodes",
	Fields: []check.Field{aircraftTypeField, number("pressureAltitudeFt", "pressure altitude", "ft", 0, signed), number("oatC", "outside air", "°C", 1, signed)},
	run: func(in input) (check.Object, []Advice, error) {
		table := in.typ.Power
		if table == nil {
			return nil, nil, check.Bad("aircraftType", "the %s has no table of power", in.typ.Name)
		}
		value, held, err := bilinear(*table, in.Value("pressureAltitudeFt"), in.Value("oatC"))
		if err != nil {
			return nil, nil, err
		}
		advice := []Advice{}
		for _, edge := range held {
			advice = append(advice, Advice{"held-" + edge, "Beyond the " + edge + " edge of the table its last value is used: that is on the safe side."})
		}
		return check.Object{member("limit", value), member("unit", table.Unit), member("label", table.Label), member("held", held)}, advice, nil
	},
}

// bilinear reads a table; held names the edges whose values were used.
func bilinear(t aircraft.Table, altitudeFt, oatC quantity.Value) (quantity.Value, []string, error) {
	held := []string{}
	axis := func(name, low, high, unit string, v float64, nodes []int) (i int, part float64, err error) {
		last := len(nodes) - 1
		switch {
		case v < float64(nodes[0]):
			if !slices.Contains(t.Hold, low) {
				return 0, 0, check.Bad(name, "must be at least %d %s: the table goes no further, and is not extended", nodes[0], unit)
			}
			held = append(held, low)
			return 0, 0, nil
		case v > float64(nodes[last]):
			if !slices.Contains(t.Hold, high) {
				return 0, 0, check.Bad(name, "must be at most %d %s: the table goes no further, and is not extended", nodes[last], unit)
			}
			held = append(held, high)
			return last - 1, 1, nil
		}
		for i = 0; i < last-1 && v > float64(nodes[i+1]); i++ {
		}
		return i, (v - float64(nodes[i])) / float64(nodes[i+1]-nodes[i]), nil
	}
	a, alongA, err := axis("pressureAltitudeFt", "low-altitude", "high-altitude", "ft", altitudeFt.Float(), t.AltitudesFt)
	if err != nil {
		return quantity.Value{}, nil, err
	}
	c, alongC, err := axis("oatC", "cold", "hot", "°C", oatC.Float(), t.OATC)
	if err != nil {
		return quantity.Value{}, nil, err
	}
	lower := t.Values[a][c]*(1-alongC) + t.Values[a][c+1]*alongC
	upper := t.Values[a+1][c]*(1-alongC) + t.Values[a+1][c+1]*alongC
	return rounded(lower*(1-alongA)+upper*alongA, 1), held, nil
}

// fuelPlan says which tank feeds the start and which the take-off, and when to
// change first. The start and the taxi prove the emptier tank; take-off is on
// the fuller one, and the first change comes when the fuller has become emptier
// than the other by the allowed imbalance, or half an hour before it is dry.
// Whole minutes, rounded down.
var fuelPlan = Definition{
	Name: "fuel-plan", Title: "Fuel tanks and the first change",
	Rule:   "Both tanks are proven before take-off, which is on the fuller one; the first change is a time, not a feeling.",
	Source: "imbalance and burn of the type",
	Fields: []check.Field{number("leftL", "left", "L", 0), number("rightL", "right", "L", 0), number("burnLPerHour", "burn", "L/h", 1), number("imbalanceMaxL", "imbalance at most", "L", 0)},
	run: func(in input) (check.Object, []Advice, error) {
		left, right, burn, most := in.Value("leftL"), in.Value("rightL"), in.Value("burnLPerHour"), in.Value("imbalanceMaxL")
		if burn.Sign() == 0 {
			return nil, nil, check.Bad("burnLPerHour", "must be above zero")
		}
		start, takeoff, low, high := "right", "left", right, left
		if right.Above(left) {
			start, takeoff, low, high = "left", "right", left, right
		}
		apart := high.Sub(low)
		// Burnt from the fuller tank until it lies the imbalance below the other,
		// or until half an hour's fuel is left in it.
		until := math.Min(apart.Add(most).Float(), math.Max(0, high.Float()-burn.Float()/2))
		minutes := quantity.Scaled(int64(math.Floor(until/burn.Float()*60+1e-9)), 0)
		var advice []Advice
		if apart.Above(most) {
			advice = append(advice, Advice{"imbalance", fmt.Sprintf("The tanks lie %s L apart; %s L is allowed. Balance them before the flight.", apart, most)})
		}
		endurance := quantity.Scaled(int64(math.Floor((left.Add(right)).Float()/burn.Float()*60+1e-9)), 0)
		if low.Sign() == 0 {
			advice = append(advice, Advice{"empty-tank", "The " + start + " tank is empty: it cannot be proven, and is no reserve."})
			start = takeoff
		}
		return check.Object{member("startTank", start), member("takeoffTank", takeoff), member("firstChangeMinutes", minutes),
			member("imbalanceL", apart), member("enduranceMinutes", endurance)}, advice, nil
	},
}

// halfWaySpeed is the airspeed to see at half of the run allowed: with a steady
// acceleration the speed over the ground grows with the root of the distance,
// so at half way it is √½ of that at lift-off. One decimal, in knots.
var halfWaySpeed = Definition{
	Name: "half-way-speed", Title: "Speed at half of the run",
	Rule:   "What is not seen at half of the run allowed is not seen at its end: throttle closed, and stop.",
	Source: "uniform acceleration, v² = 2as",
	Fields: []check.Field{number("liftOffKt", "lift-off speed", "kt", 0), number("headwindKt", "headwind", "kt", 1, signed)},
	run: func(in input) (check.Object, []Advice, error) {
		off, head := in.Value("liftOffKt"), in.Value("headwindKt")
		if !head.Below(off) {
			return nil, nil, check.Bad("headwindKt", "must be below liftOffKt: %s is not below %s", head, off)
		}
		return check.Object{member("halfWayKt", halfWay(off.Float(), head.Float()))}, []Advice{{"fades",
			"Real acceleration fades as speed grows, and obstacles are not in this: it is the least to expect, not a promise."}}, nil
	},
}

func halfWay(liftOffKt, headwindKt float64) quantity.Value {
	return rounded(headwindKt+math.Sqrt(0.5)*(liftOffKt-headwindKt), 1)
}
