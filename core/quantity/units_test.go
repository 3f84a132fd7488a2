package quantity_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/quantity"
)

var american = quantity.Units{Temperature: "°F", Pressure: "inHg", Volume: "gal", Length: "ft", Speed: "mph"}

func parse(t require.TestingT, text string, decimals int) quantity.Value {
	v, err := quantity.Parse(text, decimals)
	require.NoError(t, err)
	return v
}

// TestALimitIsTheSameInAnyUnit: what is read in another unit compares exactly
// with a limit of the data.
func TestALimitIsTheSameInAnyUnit(t *testing.T) {
	for _, c := range []struct {
		read, unit, limit, base string
		want                    int
	}{
		{"212", "°F", "100", "°C", 0}, {"213", "°F", "100", "°C", 1}, {"211", "°F", "100", "°C", -1},
		{"-40", "°F", "-40", "°C", 0}, {"121", "°F", "49", "°C", 1}, {"120", "°F", "49", "°C", -1},
		{"10", "gal", "37.85411784", "L", 0}, {"30.00", "inHg", "1015.916600", "hPa", 0},
		{"1000", "ft", "304.8", "m", 0}, {"304.8", "m", "1000", "ft", 0}, {"23.0156", "mph", "20", "kt", 1},
		{"23", "mph", "20", "kt", -1},
	} {
		v, err := quantity.Converted(parse(t, c.read, 4), c.unit, c.base)
		require.NoError(t, err)
		assert.Equal(t, c.want, v.Cmp(parse(t, c.limit, 6)), "%s %s against %s %s: %s", c.read, c.unit, c.limit, c.base,
			v)
	}
	_, err := quantity.Converted(parse(t, "10", 0), "gal", "°C")
	assert.EqualError(t, err, "is not given in gal")
	_, err = quantity.Converted(parse(t, "999999", 0), "inHg", "hPa")
	assert.ErrorIs(t, err, quantity.ErrRange)
}

func TestWhatIsReadIsShownAsItWasRead(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		u := rapid.SampledFrom([]struct {
			unit, base string
			decimals   int
		}{{"°F", "°C", 1}, {"inHg", "hPa", 2}, {"gal", "L", 1}, {"mph", "kt", 1}, {"ft", "m", 0}}).Draw(t, "unit")
		read := quantity.Scaled(rapid.Int64Range(-2000, 20_000).Draw(t, "n"), u.decimals)
		v, err := quantity.Converted(read, u.unit, u.base)
		require.NoError(t, err)
		shown, unit := american.Show(v, u.base)
		require.Equal(t, u.unit, unit)
		require.Equal(t, 0, shown.Cmp(read), "%s %s became %s %s and %s", read, u.unit, v, u.base, shown)
		// A sentence rounds to hundredths of the base first, and still says the same.
		said := american.Say("It reads " + v.At(2).String() + " " + u.base + ".")
		require.Equal(t, "It reads "+read.String()+" "+u.unit+".", said)
	})
}

func TestSentencesInAnotherUnit(t *testing.T) {
	for text, want := range map[string]string{
		"The oil temperature reads 100 °C; the highest allowed is 118 °C.": "The oil temperature reads 212 °F; the " +
			"highest allowed is 244.4 °F.",
		"Normal is 20 to 25 °C, at best −5–0 °C.": "Normal is 68 to 77 °F, at best 23–32 °F.",
		"At 10 °C the engines are 10 °C apart; 15 °C apart is allowed.": "At 50 °F the engines are 18 °F apart; 27 " +
			"°F apart is allowed.",
		"Air is cooled by up to 30 °C, and -18 °C is reached.": "Air is cooled by up to 54 °F, and -0.4 °F is reached.",
		"Runway 20, 460 m available; 50 ft after 610 m.":       "Runway 20, 1509 ft available; 50 ft after 2001 ft.",
		"Set 1013.2 hPa, not 1009 hPa.":                        "Set 29.92 inHg, not 29.8 inHg.",
		"between 2 and 5 kt of 11 knots":                       "between 2.3 and 5.8 mph of 12.7 miles an hour",
		"42 L and 12.5 L/h for 20 min":                         "11.1 gal and 3.3 gal/h for 20 min",
		"2400 rpm, 4.5 inHg, QZ-100 m, 5mm, 3 min, v2 ft":      "2400 rpm, 4.5 inHg, QZ-100 m, 5mm, 3 min, v2 ft",
		"The time 12:30 kt is none.":                           "The time 12:30 kt is none.",
		"":                                                     "",
	} {
		assert.Equal(t, want, american.Say(text))
	}
	for _, same := range []string{
		"12.50 °C", "007 °C stays", "1.2.3 kt", "10", "10 to", "10 to 20", "−", "9999999999 kt",
	} {
		want := strings.ReplaceAll(same, "007", "7")
		assert.Equal(t, want, quantity.Units{}.Say(same))
	}
	assert.Equal(t, "reads 37.78 °C of 40 °C", quantity.Units{}.Say("reads 37.777778 °C of 40 °C"),
		"nobody reads more than hundredths")
}

// TestAnySentenceIsSaid: whatever a sentence holds, one without a choice of
// units keeps all but surplus digits, and nothing is lost around its numbers.
func TestAnySentenceIsSaid(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		parts := rapid.SliceOfN(rapid.OneOf(rapid.String(),
			rapid.SampledFrom([]string{"5", "−3.25", " to ", "–", " °C", " kt", " m", "between ", " and ", ".", "x"})),
			0, 12).Draw(t, "parts")
		text := strings.Join(parts, "")
		words := func(s string) string {
			return strings.Map(func(r rune) rune { return dropped(r, "−-.0123456789") }, s)
		}
		said := quantity.Units{}.Say(text)
		require.Equal(t, words(text), words(said))
		require.Equal(t, said, quantity.Units{}.Say(said), "said once is said")
		require.Equal(t, strings.Count(text, "x"), strings.Count(american.Say(text), "x"))
	})
}

// dropped is r, or nothing where it is one of the letters.
func dropped(r rune, letters string) rune {
	if strings.ContainsRune(letters, r) {
		return -1
	}
	return r
}

func TestChoicesOfUnits(t *testing.T) {
	assert.NoError(t, american.Check())
	assert.EqualError(t, quantity.Units{Speed: "km/h"}.Check(), "speed must be one of [kt mph]")
	own := quantity.Units{Temperature: "°C"}
	assert.Equal(t, quantity.Units{
		Temperature: "°C", Pressure: "inHg", Volume: "gal", Height: "ft", Length: "ft", Speed: "mph",
	}, own.Over(american).Whole())
	for _, s := range quantity.Settings() {
		assert.NotEmpty(t, s.Label)
		assert.Len(t, s.Choices, 2)
	}
	assert.Equal(t, []string{"°F"}, quantity.Convertible("°C"))
	assert.Equal(t, []string{"m"}, quantity.Convertible("ft"))
	assert.Empty(t, quantity.Convertible("rpm"))
}

// TestTracesAreConvertedAsReadingsAre: to what a trace can show, in either direction.
func TestTracesAreConvertedAsReadingsAre(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := parse(t, rapid.StringMatching(`-?[1-9][0-9]{0,3}\.[0-9]`).Draw(t, "number"), 1)
		pair := rapid.SampledFrom(
			[][2]string{{"°F", "°C"}, {"inHg", "hPa"}, {"mph", "kt"}, {"gal", "L"}, {"kt", "kt"}}).Draw(t, "units")
		want, err := quantity.Converted(v, pair[0], pair[1])
		require.NoError(t, err)
		by, plus, ok := quantity.Linear(pair[0], pair[1])
		require.True(t, ok)
		assert.InDelta(t, want.Float(), v.Float()*by+plus, 1e-4)
		back, less, ok := quantity.Linear(pair[1], pair[0])
		require.True(t, ok)
		assert.InDelta(t, v.Float(), want.Float()*back+less, 1e-4)
	})
	_, _, ok := quantity.Linear("gal", "°C")
	assert.False(t, ok)
}
