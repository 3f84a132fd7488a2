package calc_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/calc"
	"jetprimer/core/quantity"
	"jetprimer/core/weather"
)

// TestTheDayOnOneSheet: a pasted report becomes every number that the aircraft
// has a use for; what cannot be used is said where it belongs, and the rest
// stays.
func TestTheDayOnOneSheet(t *testing.T) {
	typ, _ := tables.Type("alder")
	field := weather.Aerodrome{
		ID: "XTHW", ElevationFt: 412, VariationDegEast: 3,
		Runways: []weather.Runway{
			{Name: "02", HeadingDegMagnetic: 18, LengthM: 920},
			{Name: "20", HeadingDegMagnetic: 198, LengthM: 920, Surface: "asphalt"},
		},
	}
	typed := calc.FreshDay(quantity.Units{})
	plan := func() calc.Sheet { return calc.PlanDay(typed, typ, nil, field, tables.Icing) }
	value := func(s calc.Sheet, id string) calc.Line {
		for _, l := range s.Lines {
			if l.ID == id {
				return l
			}
		}
		return calc.Line{}
	}
	empty := plan()
	assert.Empty(t, empty.Lines)
	assert.Empty(t, empty.Wrong)
	assert.True(t, empty.Asks.Engine)

	typed.Report = "METAR XTHW 241150Z 21010KT 9999 FEW030 30/12 Q1000"
	s := plan()
	assert.Equal(t, "altimeter setting, in 1 place", value(s, "qnh").Label)
	assert.Equal(t, "20", s.Runway)
	assert.Equal(t, "For the start: nose towards 207° magnetic, into 10 kt.", s.Nose)
	require.Len(t, s.Runways, 2)
	assert.Equal(t, calc.RunwayLine{
		Name: "20", Along: "head 9.9 kt", Across: "cross 1.6 kt from right", Words: "within limits", State: "within",
	}, s.Runways[0])
	assert.Equal(t, "out", s.Runways[1].State)
	assert.Equal(t, "39.7", value(s, "half").Value)
	assert.Empty(t, s.Sentences, "no brief without a run")

	typed.Run, typed.Own = "310", map[string]string{
		"qnh": "1000", "inhg": "abc", "da": "1", "runway": "20", "half": "40",
	}
	s = plan()
	assert.NotEmpty(t, s.Sentences)
	assert.Equal(t, &calc.Compared{Words: "the same", State: "within"}, value(s, "qnh").Own)
	assert.Equal(t, "“abc” is no number", value(s, "inhg").Own.Words)
	assert.Equal(t, "attend", value(s, "da").Own.State)
	assert.Equal(t, "the same", value(s, "runway").Own.Words)
	assert.Equal(t, "within", value(s, "half").Own.State)

	typed.StudentCross, typed.Runway, typed.Run = "1", "02", "three hundred"
	s = plan()
	assert.Equal(t, "02", s.Runway)
	assert.Equal(t, "has 1.6 kt across, the limit is 1 kt", s.Runways[0].Words,
		"the lesser of the type's and the student's")
	assert.Contains(t, s.Wrong["takeoff-brief"], "Ground run must be a number in m")
	typed.StudentCross = "lots"
	assert.Contains(t, plan().Wrong["wind"], "student’s crosswind")
	assert.NotEmpty(t, value(plan(), "qnh").Value, "the rest stays")
}

// TestTheDayInOtherUnits: the same day typed and shown in °F, inHg, gallons,
// feet and miles an hour comes to the same numbers.
func TestTheDayInOtherUnits(t *testing.T) {
	typ, _ := tables.Type("alder")
	field := weather.Aerodrome{
		ID: "XTHW", ElevationFt: 412, VariationDegEast: 3,
		Runways: []weather.Runway{{Name: "20", HeadingDegMagnetic: 198, LengthM: 920}},
	}
	american := quantity.Units{
		Temperature: "°F", Pressure: "inHg", Volume: "gal", Length: "ft", Height: "m", Speed: "mph",
	}
	typed := calc.FreshDay(american)
	assert.Equal(t, "9.2", typed.StudentCross)
	assert.Equal(t, "274", typed.TurnBack)
	typed.Report, typed.Run = "METAR XTHW 241150Z 21010KT 9999 FEW030 30/12 Q1000", "1017"
	typed.Own, typed.Said = map[string]string{"half": "45.7", "inhg": "29.53"}, "runway 20, 3018 feet, run 1017 feet"
	s := calc.PlanDay(typed, typ, nil, field, tables.Icing)
	assert.Empty(t, s.Wrong)
	lines := map[string]calc.Line{}
	for _, l := range s.Lines {
		lines[l.ID] = l
	}
	assert.Equal(t, "inhg", s.Lines[0].ID, "the setting that is read stands first")
	assert.Equal(t, "altimeter setting, in 1 place", lines["inhg"].Label)
	assert.Equal(t, []string{"1000", "hPa"}, []string{lines["qnh"].Value, lines["qnh"].Unit})
	assert.Equal(t, []string{"45.7", "mph", "the same"},
		[]string{lines["half"].Value, lines["half"].Unit, lines["half"].Own.Words})
	assert.Equal(t, "m", lines["da"].Unit)
	assert.Equal(t, "head 11.4 mph", s.Runways[0].Along)
	assert.Equal(t, "To 15.2 m", s.Asks.Over50)
	require.NotEmpty(t, s.Sentences)
	assert.Equal(t, "Runway 20, 3018 ft available.", s.Sentences[0].Text)
	assert.Empty(t, s.Sentences[0].Missing)

	typed.Run = "1017 ft"
	assert.Contains(t, calc.PlanDay(typed, typ, nil, field, tables.Icing).Wrong["takeoff-brief"],
		"Ground run must be a number")
	typed.StudentCross = "1"
	assert.Equal(t, "has 1.8 mph across, the limit is 1 mph",
		calc.PlanDay(typed, typ, nil, field, tables.Icing).Runways[0].Words)
}
