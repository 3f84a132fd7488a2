package lesson

import (
	"encoding/json"
	"fmt"

	"jetprimer/core/aircraft"
	"jetprimer/core/calc"
)

// TankTimer counts the time on the tank of the take-off, from the take-off on.
const TankTimer = "tank"

// FuelAboard is what was dipped before the lesson, in litres or as it was read.
type FuelAboard struct {
	Left  any `json:"left"`
	Right any `json:"right"`
}

// plan is the fuel plan of what was dipped: the tank for the take-off, and the
// minutes until the first change.
func (f *FuelAboard) plan(t aircraft.Type, method string) (tank string, minutes int, err error) {
	request := map[string]any{
		"aircraftType": t.ID, "leftL": f.Left, "rightL": f.Right, "burnLPerHour": t.Fuel.BurnLPerHour,
		"imbalanceMaxL": t.Fuel.ImbalanceMaxL,
	}
	if t.ID == "" {
		delete(request, "aircraftType")
	}
	if method != "" {
		request["method"] = method
	}
	data, err := json.Marshal(request)
	if err != nil {
		return "", 0, err
	}
	answer, err := calc.Run("fuel-plan", data, calc.Tables{Type: func(string) (aircraft.Type, bool) { return t, true }})
	if err != nil {
		return "", 0, err
	}
	var plan struct {
		Values struct {
			TakeoffTank        string `json:"takeoffTank"`
			FirstChangeMinutes int    `json:"firstChangeMinutes"`
		} `json:"values"`
	}
	if err := json.Unmarshal(answer, &plan); err != nil {
		return "", 0, err
	}
	return plan.Values.TakeoffTank, plan.Values.FirstChangeMinutes, nil
}

// tankTime is how long the engine may be fed from the tank of the take-off; none
// where the pilot does not choose it, or nothing was dipped.
func tankTime(t aircraft.Type, o Opened) *aircraft.Duration {
	if o.Fuel == nil || t.Fuel == nil || !t.Fuel.OneTank {
		return nil
	}
	method := ""
	if o.Day != nil {
		method = o.Day.FuelMethod
	}
	tank, minutes, err := o.Fuel.plan(t, method)
	if err != nil {
		return nil // it was refused when the lesson was opened
	}
	return &aircraft.Duration{
		ID: TankTimer, Label: fmt.Sprintf("on the %s tank", tank), MaxSeconds: float64(minutes * 60),
	}
}

// clock is a time as a person reads it: seconds below two minutes, then minutes
// and seconds.
func clock(seconds float64) string {
	whole := int(max(0, seconds))
	if whole < 120 {
		return fmt.Sprintf("%d s", whole)
	}
	return fmt.Sprintf("%d:%02d", whole/60, whole%60)
}
