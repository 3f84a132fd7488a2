package checklist

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/aircraft"
	"jetprimer/internal/parsertest"
)

func ptr[T any](v T) *T { return &v }

func autumn() facts {
	d := Day{
		OATC: ptr(4.0), DewPointC: ptr(2.5), WindKt: ptr(12.0), ElevationFt: ptr(412.0), QNHHPa: ptr(1013.25),
		Night: ptr(true), Rules: "IFR", EngineState: "cold", Exercises: []string{"stalls"},
	}
	return d.facts(aircraft.Type{Equipment: []aircraft.Equipment{{ID: "flaps"}, {ID: "autopilot", Optional: true}}},
		Aircraft{Equipment: []string{"winter-kit"}})
}

func TestConditions(t *testing.T) {
	for _, c := range []struct {
		text, plain string
		want        truth
		why         string
	}{
		{"", "", yes, ""},
		{"oat < 5", "oat < 5 °C", yes, "outside air is 4 °C"},
		{"oat < 4 °C", "oat < 4 °C", no, "outside air is 4 °C"},
		{"oat <= 4 C", "oat <= 4 °C", yes, "outside air is 4 °C"},
		{"oat > −10", "oat > -10 °C", yes, "outside air is 4 °C"},
		{"spread is 1.5", "spread is 1.5 °C", yes, "outside air and dew point are 1.5 °C apart"},
		{"gust >= 12 kt", "gust >= 12 kt", yes, "gusts are 12 kt"},
		{"densityAltitude < 0 ft", "densityAltitude < 0 ft", yes, "density altitude is -825 ft"},
		{"night and rules is IFR", "night and rules is IFR", yes, "it is night, rules are IFR"},
		{"night and rules is not IFR", "night and not rules is IFR", no, "rules are IFR"},
		{"not night or engine is hot", "not night or engine is hot", no, "it is night, engine is cold"},
		{"engine is hot or engine is cold", "engine is hot or engine is cold", yes, "engine is cold"},
		{"fitted(flaps)", "fitted(flaps)", yes, "fitted with flaps"},
		{"fitted(autopilot)", "fitted(autopilot)", no, "not fitted with autopilot"},
		{
			"fitted(winter-kit) and planned(stalls)", "fitted(winter-kit) and planned(stalls)", yes,
			"fitted with winter kit, planned for the flight: stalls",
		},
		{"firstFlight", "firstFlight", unknown, "first flight of the day is not known"},
		{"firstFlight and oat > 30", "firstFlight and oat > 30 °C", no, "outside air is 4 °C"},
		{"firstFlight or night", "firstFlight or night", yes, "it is night"},
		{"not firstFlight", "not firstFlight", unknown, "first flight of the day is not known"},
		{
			"not (night or oat > 5) or (night and oat > 5)", "not (night or oat > 5 °C) or night and oat > 5 °C", no,
			"it is night, outside air is 4 °C",
		},
		{
			"(night or firstFlight) and oat < 5", "(night or firstFlight) and oat < 5 °C", yes,
			"it is night, outside air is 4 °C",
		},
	} {
		parsed, err := ParseCondition(c.text)
		require.NoError(t, err, c.text)
		assert.Equal(t, c.plain, parsed.String(), c.text)
		got, why := parsed.eval(autumn())
		assert.Equal(t, c.want, got, c.text)
		assert.Equal(t, c.why, why, c.text)
	}
}

func TestMistakesInConditionsHaveTheirColumn(t *testing.T) {
	for text, want := range map[string]string{
		"oat":                  "column 4: the condition ends too early: it needs <, <=, >, >= or is after oat",
		"oat < cold":           `column 7: "cold" needs a number in °C after <`,
		"oat < 5 kt":           `column 9: "kt" is no unit of oat, which is in °C`,
		"oat < 5.5.5":          `column 7: "5.5.5" cannot be used`,
		"night oat":            `column 7: "oat" is not expected here`,
		"nihgt":                `column 1: "nihgt" is not known; known: oat,`,
		"rules is VRF":         `column 10: "VRF" must be one of VFR, IFR`,
		"rules < VFR":          `column 7: "<" needs is after rules`,
		"fitted autopilot":     `column 8: "autopilot" needs a name in parentheses`,
		"fitted()":             `column 8: ")" needs a name`,
		"fitted(autopilot":     "column 17: the condition ends too early: it needs a closing parenthesis",
		"(night":               "column 7: the condition ends too early: it needs a closing parenthesis",
		"night and":            "column 10: the condition ends too early",
		"night; drop":          `column 6: ';' has no meaning here`,
		"oat < 5 °C and ° oat": `column 16: '°' has no meaning here`,
		"\xff":                 "column 1: is not valid UTF-8",
	} {
		_, err := ParseCondition(text)
		assert.ErrorContains(t, err, want, text)
	}
	deep := ""
	for range 30 {
		deep += "("
	}
	_, err := ParseCondition(deep + "night")
	assert.ErrorContains(t, err, "nested more than 20 deep")
	for range 10 {
		deep += deep[:20]
		deep += "not night and not night and not night"
	}
	_, err = ParseCondition(deep)
	assert.ErrorContains(t, err, "400 are allowed")
}

// FuzzCondition: whatever is written is read or refused with a column inside
// it, and what is read means the same in its plain form.
func FuzzCondition(f *testing.F) {
	for _, text := range []string{
		"oat < 5 °C and not engine is hot", "fitted(a-b) or (planned(x) and night)", "not not night",
		strings.Repeat("(", 50_000), "rules is not VFR", "oat > −3.5",
	} {
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		var c Condition
		var err error
		parsertest.Run(t, []byte(text), func() { c, err = ParseCondition(text) })
		if err != nil {
			var at *ConditionError
			require.ErrorAs(t, err, &at)
			require.GreaterOrEqual(t, at.At, 1)
			require.LessOrEqual(t, at.At, len([]rune(text))+1)
			return
		}
		plain, err := ParseCondition(c.String())
		if len(c.String()) > maxConditionBytes {
			return // the units that were left out made it too long
		}
		require.NoError(t, err, c.String())
		require.Equal(t, c.String(), plain.String())
		for _, day := range []facts{autumn(), {}} {
			a, whyA := c.eval(day)
			b, whyB := plain.eval(day)
			require.Equal(t, a, b)
			require.Equal(t, whyA, whyB)
		}
	})
}

// TestConditionsInWords: what a card prints behind "if".
func TestConditionsInWords(t *testing.T) {
	for condition, want := range map[string]string{
		"":                            "",
		"oat < 4 °C":                  "outside air below 4 °C",
		"not oat < 4 °C":              "outside air at least 4 °C",
		"fitted(particle-separator)":  "fitted with particle separator",
		"not fitted(autopilot)":       "not fitted with autopilot",
		"engine is hot and night":     "engine is hot and it is night",
		"not (night or rules is IFR)": "it is day and rules are not IFR",
		"rules is IFR or (oat < 5 °C and spread < 4 °C)": "rules are IFR or (outside air below 5 °C and outside air " +
			"and dew point less than 4 °C apart)",
		"oat <": "oat <",
	} {
		assert.Equal(t, want, WhenWords(condition), condition)
	}
}
