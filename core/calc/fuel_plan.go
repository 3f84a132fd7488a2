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
// run-up, and takes off on the fuller. The first change comes when the fuller has
// become emptier than the other by the allowed imbalance, or half an hour before
// it is dry. Whole minutes, rounded down. With one tank there is nothing to
// choose.
var fuelPlan = Definition{
	Name: "fuel-plan", Title: "Fuel tanks and the first change",
	Rule:   "Take-off is on the fuller tank; the first change is a time, not a feeling. A school that proves both starts on the lower.",
	Source: "imbalance and burn of the type, the school's method",
	Fields: []form.Field{number("leftL", "left", "L", 0), number("rightL", "right", "L", 0, optional, nullable), number("burnLPerHour", "burn", "L/h", 1),
		number("imbalanceMaxL", "imbalance at most", "L", 0, optional), {Name: "method", Label: "method", Kind: form.Choice, Choices: aircraft.FuelMethods, Optional: true}},
	run: func(in input) (form.Object, []Advice, error) {
		left, right, burn := in.Value("leftL"), in.Value("rightL"), in.Value("burnLPerHour")
		if burn.Sign() == 0 {
			return nil, nil, form.Bad("burnLPerHour", "must be above zero")
		}
		minutes := func(litres float64) quantity.Value {
			return quantity.Scaled(int64(math.Floor(litres/burn.Float()*60+1e-9)), 0)
		}
		if !in.Has("rightL") {
			return form.Object{member("startTank", nil), member("takeoffTank", nil), member("firstChangeMinutes", nil),
					member("imbalanceL", nil), member("enduranceMinutes", minutes(left.Float()))},
				[]Advice{{"one-tank", "One tank: there is nothing to choose."}}, nil
		}
		if !in.Has("imbalanceMaxL") {
			return nil, nil, form.Bad("imbalanceMaxL", "is missing: a number in L")
		}
		most := in.Value("imbalanceMaxL")
		lower, takeoff, low, high := "right", "left", right, left
		if right.Above(left) {
			lower, takeoff, low, high = "left", "right", left, right
		}
		start := lower
		if in.Text("method") == aircraft.FuelMethods[0] {
			start = takeoff
		}
		apart := high.Sub(low)
		// Burnt from the fuller tank until it lies the imbalance below the other,
		// or until half an hour's fuel is left in it.
		until := math.Min(apart.Add(most).Float(), math.Max(0, high.Float()-burn.Float()/2))
		var advice []Advice
		if apart.Above(most) {
			advice = append(advice, Advice{"imbalance", fmt.Sprintf("The tanks lie %s L apart; %s L is allowed. Balance them before the flight.", apart, most)})
		}
		if low.Sign() == 0 {
			advice = append(advice, Advice{"empty-tank", "The " + lower + " tank is empty: it cannot be proven, and is no reserve."})
			start = takeoff
		}
		return form.Object{member("startTank", start), member("takeoffTank", takeoff), member("firstChangeMinutes", minutes(until)),
			member("imbalanceL", apart), member("enduranceMinutes", minutes(left.Add(right).Float()))}, advice, nil
	},
}
