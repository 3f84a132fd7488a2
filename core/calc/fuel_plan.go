package calc

import (
	"fmt"
	"math"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// fuelPlan says which tank feeds the start and which the take-off, and when to
// change first, by the school's method: fuller-first starts and takes off on the
// fuller tank; prove-both starts and taxies on the lower one, changes before the
// run-up, and takes off on the fuller. A tank below the type's least is not used
// where the other has enough. The first change comes when the fuller has become
// emptier than the other by the allowed imbalance, or half an hour before it is
// dry; not before the climb is over. Whole minutes, rounded down. With one tank
// there is nothing to choose.
var fuelPlan = Definition{
	Name: "fuel-plan", Title: "Fuel tanks and the first change",
	Rule: "Take-off is on the fuller tank; the first change is a time, not a feeling. A school that proves both " +
		"starts on the lower.",
	Source: "imbalance, burn and least contents of the type, the school's method",
	Fields: []form.Field{text("aircraftType", "aircraft type", optional),
		number("leftL", "left", "L", 0), number("rightL", "right", "L", 0, optional, nullable),
		number("burnLPerHour", "burn", "L/h", 1, optional),
		number("imbalanceMaxL", "imbalance at most", "L", 0, optional),
		number("leastStartL", "a start from at least", "L", 0, optional),
		number("leastTakeOffL", "a take-off from at least", "L", 0, optional),
		number("climbMinutes", "the climb lasts", "min", 0, optional),
		number("intervalMinutes", "own interval on a tank", "min", 0, optional),
		{Name: "method", Label: "method", Kind: form.Choice, Choices: aircraft.FuelMethods, Optional: true}},
	run: runFuelPlan,
}

// tanks is a plan being made.
type tanks struct {
	input
	advice []Advice
}

// known is a number of the request, or else the type's own; false where neither
// gives one.
func (t *tanks) known(name string, own func(aircraft.Fuel) int) (quantity.Value, bool) {
	if t.Has(name) {
		return t.Value(name), true
	}
	if t.typ.Fuel == nil || own(*t.typ.Fuel) == 0 {
		return quantity.Value{}, false
	}
	return quantity.Scaled(int64(own(*t.typ.Fuel)), 0), true
}

func (t *tanks) advise(code, format string, args ...any) {
	t.advice = append(t.advice, Advice{code, fmt.Sprintf(format, args...)})
}

func runFuelPlan(in input) (form.Object, []Advice, error) {
	t := &tanks{input: in}
	left, right := in.Value("leftL"), in.Value("rightL")
	burn, known := t.known("burnLPerHour", func(f aircraft.Fuel) int { return f.BurnLPerHour })
	switch {
	case !known:
		return nil, nil, form.Bad("burnLPerHour", "is missing: a number in L/h, or a type that gives one")
	case burn.Sign() == 0:
		return nil, nil, form.Bad("burnLPerHour", "must be above zero")
	}
	minutes := func(litres float64) quantity.Value {
		return quantity.Scaled(int64(math.Floor(litres/burn.Float()*60+1e-9)), 0)
	}
	if !in.Has("rightL") {
		t.advise("one-tank", "One tank: there is nothing to choose.")
		t.enough("the tank", left, "start", "leastStartL")
		t.enough("the tank", left, "take-off", "leastTakeOffL")
		return form.Object{member("startTank", nil), member("takeoffTank", nil), member("firstChangeMinutes", nil),
			member("imbalanceL", nil), member("enduranceMinutes", minutes(left.Float()))}, t.advice, nil
	}
	most, known := t.known("imbalanceMaxL", func(f aircraft.Fuel) int { return f.ImbalanceMaxL })
	if !known {
		return nil, nil, form.Bad("imbalanceMaxL", "is missing: a number in L, or a type that gives one")
	}
	lower, fuller, low, high := "right", "left", right, left
	if right.Above(left) {
		lower, fuller, low, high = "left", "right", left, right
	}
	apart := high.Sub(low)
	// Burnt from the fuller tank until it lies the imbalance below the other,
	// or until half an hour's fuel is left in it.
	change := minutes(math.Min(apart.Add(most).Float(), math.Max(0, high.Float()-burn.Float()/2)))
	if apart.Above(most) {
		t.advise("imbalance", "The tanks lie %s L apart; %s L is allowed. Balance them before the flight.", apart, most)
	}
	start := lower
	if in.Text("method") == aircraft.FuelMethods[0] {
		start = fuller
	}
	if low.Sign() == 0 {
		t.advise("empty-tank", "The %s tank is empty: it cannot be proven, and is no reserve.", lower)
		start = fuller
	}
	if start == lower && !t.tankServes(lower, low, fuller, high, "start", "leastStartL") {
		start = fuller
	}
	if start == fuller {
		t.enough("the "+fuller+" tank", high, "start", "leastStartL")
	}
	t.enough("the "+fuller+" tank", high, "take-off", "leastTakeOffL")
	climb, known := t.known("climbMinutes", func(f aircraft.Fuel) int { return f.ClimbMinutes })
	switch {
	case known && change.Below(climb):
		t.advise("change-too-soon",
			"The first change falls after %s min, before the climb of %s min is over: more fuel, or balance the tanks.",
			change, climb)
	case change.Sign() == 0:
		t.advise("change-too-soon",
			"The fuller tank holds less than half an hour: the first change would come before the take-off.")
	}
	values := form.Object{member("startTank", start), member("takeoffTank", fuller),
		member("firstChangeMinutes", change),
		member("imbalanceL", apart), member("enduranceMinutes", minutes(left.Add(right).Float()))}
	if own := in.Value("intervalMinutes"); own.Sign() > 0 {
		values = append(values, member("intervalMinutes", own))
		if own.Above(change) {
			t.advise("interval-too-long",
				"Your own interval of %s min is longer than the %s min that the tanks allow for the first change.", own,
				change)
		}
	}
	return values, t.advice, nil
}

// least is the type's least for a use.
func (t *tanks) least(name string) (quantity.Value, bool) {
	return t.known(name, func(f aircraft.Fuel) int {
		if name == "leastStartL" {
			return f.LeastStartL
		}
		return f.LeastTakeOffL
	})
}

// tankServes reports whether a tank holds enough for a use; where it does not and
// the other one does, that is said.
func (t *tanks) tankServes(name string, holds quantity.Value, other string, otherHolds quantity.Value, use,
	field string) bool {
	least, known := t.least(field)
	if !known || !holds.Below(least) {
		return true
	}
	if !otherHolds.Below(least) {
		t.advise("tank-low", "The %s tank holds %s L; a %s needs %s L: the %s tank is used.", name, holds, use, least,
			other)
	}
	return false
}

// enough says where what is used holds too little for a use: then no tank serves.
func (t *tanks) enough(name string, holds quantity.Value, use, field string) {
	if least, known := t.least(field); known && holds.Below(least) {
		t.advise("no-fuel", "No %s: %s holds %s L, and a %s needs %s L.", use, name, holds, use, least)
	}
}
