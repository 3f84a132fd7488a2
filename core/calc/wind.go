package calc

import (
	"fmt"
	"math"

	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// wind parts the wind along and across each runway, by plane trigonometry:
// head = speed·cos(angle), cross = speed·sin(angle), angle from the runway's
// heading to where the wind comes from; magnetic = true − variation (east
// positive). Components are in knots to one decimal: a headwind is positive, a
// tail wind negative, a crosswind from the right positive. The limits are held
// to the gust. A variable wind counts whole as crosswind and as tail wind.
var wind = Definition{
	Name: "wind", Title: "Wind on the runways",
	Rule: "Take-off is into the wind as far as runways allow; what is left across it has a limit, of the aircraft " +
		"and of the student.",
	Source: "plane trigonometry",
	Fields: []form.Field{
		number("directionDeg", "from", "°", 0, nullable, circle), number("speedKt", "speed", "kt", 0),
		number("gustKt", "gusts", "kt", 0, optional, nullable),
		{Name: "reference", Label: "north", Kind: form.Choice, Choices: []string{"true", "magnetic"}},
		number("variationDegEast", "variation, east", "°", 1, signed),
		{Name: "runways", Label: "runways", Kind: form.Rows, AtLeast: 1, AtMost: 16, Each: []form.Field{
			text("name", "runway"), number("headingDegMagnetic", "heading", "°", 0, circle)}},
		{Name: "limits", Label: "limits", Kind: form.Inner, Each: []form.Field{
			number("crosswindKt", "crosswind", "kt", 0), number("tailwindKt", "tail wind", "kt", 0)}},
	},
	run: runWind,
}

// components are the parts of a wind on a runway, in knots to one decimal.
type components struct{ head, cross quantity.Value }

// part parts a wind; a direction that is not known counts whole both ways.
func part(known bool, angleDeg, speed float64) components {
	if !known {
		return components{rounded(-speed, 1), rounded(speed, 1)}
	}
	rad := angleDeg * math.Pi / 180
	return components{rounded(speed*math.Cos(rad), 1), rounded(speed*math.Sin(rad), 1)}
}

// runwayWind is one runway's answer.
type runwayWind struct {
	Name           string         `json:"name"`
	HeadwindKt     quantity.Value `json:"headwindKt"`
	CrosswindKt    quantity.Value `json:"crosswindKt"`
	GustHeadwindKt quantity.Value `json:"gustHeadwindKt"`
	GustCrossKt    quantity.Value `json:"gustCrosswindKt"`
	Within         bool           `json:"withinLimits"`
	Over           string         `json:"over"`
}

func runWind(in input) (form.Object, []Advice, error) {
	limits := in.Sub("limits")
	known := in.Has("directionDeg")
	from := in.Value("directionDeg").Float()
	if in.Text("reference") == "true" {
		from -= in.Value("variationDegEast").Float()
	}
	speed := in.Value("speedKt")
	gust := speed
	if in.Has("gustKt") {
		if gust = in.Value("gustKt"); gust.Below(speed) {
			return nil, nil, form.Bad("gustKt", "may not be below speedKt: %s below %s", gust, speed)
		}
	}
	if gust.Sign() == 0 {
		known = true // calm comes from nowhere
	}
	var all []runwayWind
	best := -1
	for i, r := range in.Rows("runways") {
		angle := from - r.Value("headingDegMagnetic").Float()
		steady, gusty := part(known, angle, speed.Float()), part(known, angle, gust.Float())
		one := runwayWind{
			Name: r.Text("name"), HeadwindKt: steady.head, CrosswindKt: steady.cross, GustHeadwindKt: gusty.head,
			GustCrossKt: gusty.cross,
		}
		one.Over = over(steady, gusty, limits)
		one.Within = one.Over == ""
		all = append(all, one)
		if one.Within && (best < 0 || one.HeadwindKt.Above(all[best].HeadwindKt) ||
			one.HeadwindKt.Cmp(all[best].HeadwindKt) == 0 && one.CrosswindKt.Abs().Below(all[best].CrosswindKt.Abs())) {
			best = i
		}
	}
	values := form.Object{member("runways", all)}
	if best < 0 {
		return append(values, member("best", nil),
				member("reason", "No runway is within the limits: "+all[0].Name+" "+all[0].Over+".")),
			[]Advice{
				{
					"no-runway",
					"No runway is within the limits of aircraft and student. Wait, or fly with somebody whose " +
						"limits allow it.",
				},
			}, nil
	}
	b := all[best]
	along := fmt.Sprintf("headwind %s kt", b.HeadwindKt)
	if b.HeadwindKt.Sign() < 0 {
		along = fmt.Sprintf("tail wind %s kt", b.HeadwindKt.Abs())
	}
	reason := fmt.Sprintf("Runway %s: %s, crosswind %s kt from the %s.", b.Name, along, b.CrosswindKt.Abs(),
		side(b.CrosswindKt))
	if b.CrosswindKt.Sign() == 0 {
		reason = fmt.Sprintf("Runway %s: %s, no crosswind.", b.Name, along)
	}
	var advice []Advice
	if !known {
		advice = append(advice, Advice{
			"variable",
			"The wind is variable: it counts whole as crosswind and as tail wind. Look at the sock before lining up.",
		})
	}
	if gust.Sub(speed).Above(quantity.Scaled(9, 0)) {
		advice = append(advice, Advice{
			"gusty",
			fmt.Sprintf("Gusts are %s kt above the wind: add half of that to the speeds the handbook allows it for.",
				gust.Sub(speed)),
		})
	}
	return append(values, member("best", b.Name), member("reason", reason)), advice, nil
}

// over says how a wind or its gusts pass the limits; empty when they do not.
func over(steady, gusty components, limits form.Record) string {
	cross, tail := limits.Value("crosswindKt"), limits.Value("tailwindKt")
	switch {
	case gusty.cross.Abs().Above(cross):
		return fmt.Sprintf("has %s, the limit is %s kt", inGusts("across", steady.cross, gusty.cross), cross)
	case gusty.head.Below(quantity.Value{}.Sub(tail)):
		return fmt.Sprintf("has %s, the limit is %s kt", inGusts("from behind", steady.head, gusty.head), tail)
	}
	return ""
}

// inGusts is a component of the wind in words, with what gusts make of it.
func inGusts(where string, steady, gusty quantity.Value) string {
	if steady.Cmp(gusty) == 0 {
		return fmt.Sprintf("%s kt %s", steady.Abs(), where)
	}
	return fmt.Sprintf("%s kt %s in gusts, %s kt steady", gusty.Abs(), where, steady.Abs())
}

func side(cross quantity.Value) string {
	if cross.Sign() < 0 {
		return "left"
	}
	return "right"
}
