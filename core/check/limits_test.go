package check_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/quantity"
)

// TestLimitsOfATypeAreWhole: what is missing, unknown or crossed is listed
// under its check.
func TestLimitsOfATypeAreWhole(t *testing.T) {
	faults := check.LimitFaults(aircraft.Type{Limits: map[string]map[string]any{
		"idle": {"min": 550, "max": 750, "seconds": 5}, "suction": {"min": 5.4, "max": 4.5}, "static-rpm": {"min": 2200}, "song": {},
		"gauges": {"oilPressure": map[string]any{"min": 25, "max": 20}}}})
	var said []string
	for _, f := range faults {
		said = append(said, f.Path+" "+f.Reason)
	}
	require.Len(t, said, 4)
	for i, want := range []string{"$.limits.gauges", "$.limits.song check \"song\" is not known", "$.limits.static-rpm limits.max is missing", "$.limits.suction limits.min (5.4) is above max (4.5)"} {
		assert.Contains(t, said[i], want)
	}
}

// TestUsualFindingsHaveTheirCauses: around its limits a check shows its
// findings, once each, with what lies behind them.
func TestUsualFindingsHaveTheirCauses(t *testing.T) {
	typ := aircraft.Type{ID: "x", Name: "X", Engines: 1, LeanOnGround: true, Limits: map[string]map[string]any{
		"suction": {"min": 4.5, "max": 5.4}, "hydraulics": {}}}
	var codes []string
	for _, u := range append(check.UsualFindings("suction", typ, quantity.Units{}), check.UsualFindings("hydraulics", typ, quantity.Units{})...) {
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
