package quantity_test

import (
	"encoding/json"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/quantity"
	"jetprimer/internal/parsertest"
)

func TestParseBringsTextToItsResolution(t *testing.T) {
	for _, c := range []struct {
		text     string
		decimals int
		want     string
	}{
		{"1750", 0, "1750"}, {"1750.4", 0, "1750"}, {"1750.5", 0, "1751"}, {"-0.5", 0, "-1"},
		{"12.50", 2, "12.5"}, {"0.25", 1, "0.3"}, {"1.005", 2, "1.01"}, {"-0.04", 1, "0"},
		{"1.2e3", 0, "1200"}, {"29921e-3", 2, "29.92"}, {"0", 3, "0"}, {"0e999", 0, "0"}, {"5e-999", 2, "0"},
		{"0.05", 1, "0.1"},
	} {
		v, err := quantity.Parse(c.text, c.decimals)
		require.NoError(t, err, c.text)
		assert.Equal(t, c.want, v.String(), c.text)
	}
}

func TestParseRefusesWhatNoInstrumentShows(t *testing.T) {
	for _, text := range []string{
		"", "-", "+1", "1,5", "1.", ".5", "01", "1e", "1e+-2", "0x10", "NaN", "Infinity", "12 rpm", "--1",
	} {
		_, err := quantity.Parse(text, 1)
		assert.ErrorIs(t, err, quantity.ErrSyntax, text)
	}
	for _, text := range []string{"1e999", "-1e999", "99999999999999999999", "1000001"} {
		_, err := quantity.Parse(text, 0)
		assert.ErrorIs(t, err, quantity.ErrRange, text)
	}
}

func TestDifferencesAreExact(t *testing.T) {
	a, _ := quantity.Parse("12.4", 1)
	b, _ := quantity.Parse("12.1", 1)
	limit, _ := quantity.Parse("0.3", 1)
	assert.False(t, a.Sub(b).Above(limit), "12.4 − 12.1 is equal to 0.3, not above it")
	assert.Equal(t, "12.35", a.Sub(quantity.Scaled(5, 2)).String())
	assert.Equal(t, "-3", quantity.Scaled(-25, 1).At(0).String())
}

func TestPrintedFormReadsBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.Int64Range(-1_000_000, 1_000_000).Draw(t, "n")
		decimals := rapid.IntRange(0, quantity.MaxDecimals).Draw(t, "decimals")
		v := quantity.Scaled(n, decimals)
		text, err := json.Marshal(v)
		require.NoError(t, err)
		back, err := quantity.Parse(string(text), decimals)
		require.NoError(t, err)
		require.Equal(t, v, back)
		f, err := strconv.ParseFloat(string(text), 64)
		require.NoError(t, err)
		require.InDelta(t, v.Float(), f, 1e-9)
	})
}

func FuzzParse(f *testing.F) {
	for _, seed := range []string{"1750", "-12.5", "1e999", "1e-999999999", "0.000001", "1e-3", "-", "٣"} {
		f.Add(seed, 2)
	}
	f.Fuzz(func(t *testing.T, text string, decimals int) {
		decimals = ((decimals % 7) + 7) % 7
		var v quantity.Value
		var err error
		parsertest.Run(t, []byte(text), func() { v, err = quantity.Parse(text, decimals) })
		if err != nil {
			return
		}
		require.True(t, json.Valid([]byte(text)), "accepted %q, which JSON does not", text)
		back, err := quantity.Parse(v.String(), decimals)
		require.NoError(t, err)
		require.Equal(t, v, back)
	})
}
