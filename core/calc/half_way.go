package calc

import (
	"math"

	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// halfWaySpeed is the airspeed to see at half of the ground run computed: with a
// steady acceleration the speed over the ground grows with the root of the
// distance, so at half way it is √½ of that at lift-off. One decimal, in knots.
// The point to be flying by is another: all of the run, with a margin.
var halfWaySpeed = Definition{
	Name: "half-way-speed", Title: "Speed at half of the ground run",
	Rule:   "What is not seen at half of the ground run will not be flying at the point that decides.",
	Source: "uniform acceleration, v² = 2as",
	Fields: []form.Field{
		number("liftOffKt", "lift-off speed", "kt", 0), number("headwindKt", "headwind", "kt", 1, signed),
	},
	run: func(in input) (form.Object, []Advice, error) {
		off, head := in.Value("liftOffKt"), in.Value("headwindKt")
		if !head.Below(off) {
			return nil, nil, form.Bad("headwindKt", "must be below liftOffKt: %s is not below %s", head, off)
		}
		return form.Object{member("halfWayKt", halfWay(off.Float(), head.Float()))}, []Advice{{"fades",
			"Real acceleration fades as speed grows, and obstacles are not in this: it is the least to expect, not " +
				"a promise."}}, nil
	},
}

func halfWay(liftOffKt, headwindKt float64) quantity.Value {
	return rounded(headwindKt+math.Sqrt(0.5)*(liftOffKt-headwindKt), 1)
}
