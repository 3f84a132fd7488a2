package check_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/quantity"
)

// TestLimitsOfATypeAreWhole: what is missing, unknown or crossed is listed
// under its check.
func TestLimitsOfATypeAreWhole(t *testing.T) {
	faults := check.LimitProblems(aircraft.Type{Limits: map[string]map[string]any{
		"idle": {"min": 550, "max": 750, "seconds": 5}, "suction": {"min": 5.4, "max": 4.5},
		"static-rpm": {"min": 2200}, "song": {},
		"gauges": {"oilPressure": map[string]any{"min": 25, "max": 20}}}})
	var said []string
	for _, f := range faults {
		said = append(said, f.Field+" "+f.Reason)
	}
	require.Len(t, said, 4)
	for i, want := range []string{
		"$.limits.gauges", "$.limits.song check \"song\" is not known", "$.limits.static-rpm limits.max is missing",
		"$.limits.suction limits.min (5.4) is above max (4.5)",
	} {
		assert.Contains(t, said[i], want)
	}
}

// TestUsualFindingsHaveTheirCauses: around its limits a check shows its
// findings, once each, with what lies behind them.
func TestUsualFindingsHaveTheirCauses(t *testing.T) {
	typ := aircraft.Type{ID: "x", Name: "X", Engines: 1, LeanOnGround: true, Limits: map[string]map[string]any{
		"suction": {"min": 4.5, "max": 5.4}, "hydraulics": {}}}
	var codes []string
	for _, u := range append(check.UsualFindings("suction", typ, quantity.Units{}),
		check.UsualFindings("hydraulics", typ, quantity.Units{})...) {
		codes = append(codes, u.Code)
		assert.NotEmpty(t, u.Causes, u.Code)
		assert.NotEmpty(t, u.Actions, u.Code)
	}
	assert.Equal(t, []string{"suction-low", "suction-high", "assist-stays-on", "no-assist", "pulls"}, codes)
	readings, _ := check.Edges("suction", typ)
	assert.Len(t, readings, 1+1+6, "sound, missing, three around each limit")
	none, _ := check.Edges("magneto", typ)
	assert.Empty(t, none)
}

// TestEachCheckHasItsUnitByType: a type whose tachometer shows percent has every
// speed in percent: what is typed, its limits, its sentences, its pictures.
func TestEachCheckHasItsUnitByType(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, typ := range c.Types {
		percent := typ.Tachometer == "percent"
		for _, d := range check.All() {
			if typ.Limits[d.Name] == nil {
				continue
			}
			reading, conditions, ok := check.Example(d.Name, typ, nil, 0)
			require.True(t, ok)
			at := check.Station{Type: typ, Conditions: conditions}
			shown := d.Show(at, reading)
			said := []string{d.Said(at, reading), shown.Unit}
			for _, b := range d.Fill(at, d.Fresh(at)).Boxes {
				said = append(said, b.Unit)
			}
			for _, s := range shown.Strips {
				said = append(said, s.Unit)
			}
			for _, u := range check.UsualFindings(d.Name, typ, quantity.Units{}) {
				said = append(said, u.Message)
			}
			words := strings.Join(said[:1], " ") + " " + strings.Join(said[2:], " ")
			assert.False(t, percent && strings.Contains(words, "rpm"), "%s %s: %s", typ.ID, d.Name, words)
		}
	}
	typ, _ := c.Type("juniper-h2")
	run := func(reading string) (string, error) {
		v, err := check.Run("idle", []byte(`{"aircraftType":"juniper-h2","reading":`+reading+`}`),
			func(string) (aircraft.Type, bool) { return typ, true })
		return string(v), err
	}
	v, err := run(`{"rpm":47.9,"seconds":6,"stopped":false}`)
	require.NoError(t, err)
	assert.Contains(t, v, "The idle speed is 47.9 %; the lowest allowed is 48 %.")
	_, err = run(`{"unit":"rpm","rpm":1400,"seconds":6,"stopped":false}`)
	assert.ErrorContains(t, err, "reading.unit must be percent: the tachometer of the type shows nothing else")
}
