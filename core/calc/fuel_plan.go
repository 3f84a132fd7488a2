package calc

import (
	"fmt"
	"math"

	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// fuelPlan says which tank feeds the start and which the take-off, and when to
// change first. The start and the taxi prove the emptier tank; take-off is on
// the fuller one, and the first change comes when the fuller has become emptier
// than the other by the allowed imbalance, or half an hour before it is dry.
// Whole minutes, rounded down.
var fuelPlan = Definition{
	Name: "fuel-plan", Title: "Fuel tanks and the first change",
	Rule:   "Both tanks are proven before take-off, which is on the fuller one; the first change is a time, not a feeling.",
	Source: "imbalance and burn of the type",
	Fields: []form.Field{number("leftL", "left", "L", 0), number("rightL", "right", "L", 0), number("burnLPerHour", "burn", "L/h", 1), number("imbalanceMaxL", "imbalance at most", "L", 0)},
	run: func(in input) (form.Object, []Advice, error) {
		left, right, burn, most := in.Value("leftL"), in.Value("rightL"), in.Value("burnLPerHour"), in.Value("imbalanceMaxL")
		if burn.Sign() == 0 {
			return nil, nil, form.Bad("burnLPerHour", "must be above zero")
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
		return form.Object{member("startTank", start), member("takeoffTank", takeoff), member("firstChangeMinutes", minutes),
			member("imbalanceL", apart), member("enduranceMinutes", endurance)}, advice, nil
	},
}
