package check_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
)

func none(string) (aircraft.Type, bool) { return aircraft.Type{}, false }

// TestBandsByPower: a gauge is held to the band of the power that it is read at;
// without one to the widest.
func TestBandsByPower(t *testing.T) {
	limits := `"limits":{"oil":{"min":55,"cautionMin":60,"cautionMax":95,"max":115,"at":{"idle":{"min":25,"cautionMin":25},"fullPower":{"max":110}}}}`
	for _, c := range []struct {
		power string
		oil   float64
		want  string
	}{
		{"idle", 25, "continue"}, {"idle", 24.99, "stop"}, {"idle", 115, "recheck"},
		{"runUp", 25, "stop"}, {"runUp", 55, "recheck"}, {"runUp", 60, "continue"},
		{"fullPower", 111, "stop"}, {"fullPower", 60, "continue"},
		{"", 25, "continue"}, {"", 115, "recheck"}, {"", 24, "stop"}, {"", 116, "stop"},
	} {
		conditions := ""
		if c.power != "" {
			conditions = fmt.Sprintf(`,"conditions":{"power":%q}`, c.power)
		}
		r, err := check.ParseRequest([]byte(fmt.Sprintf(`{"reading":{"oil":%g},%s%s}`, c.oil, limits, conditions)))
		require.NoError(t, err)
		v, err := check.Judge("gauges", r, none)
		require.NoError(t, err)
		assert.Equal(t, c.want, string(v.Decision), "%g at %q", c.oil, c.power)
	}
	for limits, field := range map[string]string{
		`{"oil":{"min":1,"max":2,"at":7}}`:                    "limits.oil.at",
		`{"oil":{"min":1,"max":2,"at":{"cruise":{"min":1}}}}`: "limits.oil.at.cruise",
		`{"oil":{"min":1,"max":2,"at":{"idle":3}}}`:           "limits.oil.at.idle",
		`{"oil":{"at":{}}}`:                                   "limits.oil.at",
		`{"oil":{"min":1,"max":2,"at":{"idle":{"least":1}}}}`: "limits.oil.at.idle.least",
	} {
		r, err := check.ParseRequest([]byte(`{"reading":{"oil":1},"limits":` + limits + `}`))
		require.NoError(t, err)
		_, err = check.Judge("gauges", r, none)
		assert.ErrorContains(t, err, field, limits)
	}
}

// TestGivenBandHoldsAtEveryPower: limits given with a request win over the
// type's own, also where the type's differ by power.
func TestGivenBandHoldsAtEveryPower(t *testing.T) {
	typed := aircraft.Type{ID: "alder", Name: "Alder 110", Engines: 1, Limits: map[string]map[string]any{
		"gauges": {
			"oil": map[string]any{"min": 55.0, "max": 115.0, "at": map[string]any{"idle": map[string]any{"min": 25.0}}},
		},
	}}
	find := func(string) (aircraft.Type, bool) { return typed, true }
	for limits, want := range map[string]string{
		``:                              "continue",
		`,"limits":{"oil":{"max":110}}`: "stop",
		`,"limits":{"oil":{"min":55}}`:  "stop",
		`,"limits":{"oil":{"min":55,"at":{"idle":{"min":30}}}}`: "continue",
	} {
		r, err := check.ParseRequest([]byte(`{"aircraftType":"alder","reading":{"oil":50},"conditions":{"power":"idle"}` + limits + `}`))
		require.NoError(t, err)
		v, err := check.Judge("gauges", r, find)
		require.NoError(t, err)
		assert.Equal(t, want, string(v.Decision), limits)
	}
}
