package check_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
)

// bounds are readings that lie between limits: a field, what it is held to,
// and which way is worse.
var bounds = []struct {
	check, field, limit string
	low                 bool // the limit is the least
}{
	{"suction", "inHg", "min", true}, {"suction", "inHg", "max", false}, {"battery", "volts", "startMin", true},
	{"static-rpm", "rpm", "min", true}, {"static-rpm", "rpm", "max", false},
	{"control-unit", "rpmSwing", "rpmSwingMax", false},
	{"fuel-pressure", "idle", "idleMin", true}, {"needle-split", "splitPercent", "splitMin", true},
	{"turbine-start", "fuelAtTempC", "fuelTempMaxC", false},
	{"turbine-start", "fuelAtSpoolPercent", "fuelSpoolMinPercent", true},
	{"turbine-start", "peakTempC", "tempAbsoluteMaxC", false},
	{"turbine-start", "lightOffSeconds", "lightOffMaxSeconds", false},
	{"turbine-start", "batteryVolts", "batteryMinVolts", true},
	{"clutch", "bladesTurningSeconds", "bladesTurningMax", false},
	{"clutch", "lampOutSeconds", "lampOutMax", false}, {"low-rotor-warning", "onAtPercent", "onMin", true},
	{"idle", "rpm", "min", true},
}

// numbersOf reads a JSON object of the test bench.
func numbersOf(t require.TestingT, text string) map[string]any {
	var out map[string]any
	require.NoError(t, json.Unmarshal([]byte(text), &out))
	return out
}

// benchOf is the sound reading and the limits of a check; those of the first
// checks are made here.
func benchOf(name string) (limits, reading string) {
	own := map[string][2]string{
		"suction": {`{"min":4.5,"max":5.4}`, `{"inHg":5}`},
		"idle":    {`{"min":550,"max":750,"seconds":5}`, `{"rpm":650,"seconds":6,"stopped":false}`},
	}
	if o, ok := own[name]; ok {
		return o[0], o[1]
	}
	return bench[name].limits, bench[name].reading
}

// TestFurtherOutIsNeverBetter: from a limit outwards, a reading that lies
// further out never gets a better outcome or decision; at the limit itself it
// is within it.
func TestFurtherOutIsNeverBetter(t *testing.T) {
	outcome := map[check.Outcome]int{check.Normal: 0, check.Caution: 1, check.Invalid: 2, check.Abnormal: 3}
	decision := map[check.Decision]int{check.Continue: 0, check.Recheck: 1, check.Stop: 2}
	for _, b := range bounds {
		t.Run(b.check+"/"+b.field+"/"+b.limit, func(t *testing.T) {
			limits, sound := benchOf(b.check)
			limit := numbersOf(t, limits)[b.limit].(float64)
			verdict := func(t require.TestingT, value float64) check.Verdict {
				reading := numbersOf(t, sound)
				reading[b.field] = value
				data, err := json.Marshal(reading)
				require.NoError(t, err)
				out, err := check.Run(b.check, []byte(fmt.Sprintf(`{"reading":%s,"limits":%s}`, data, limits)),
					func(string) (aircraft.Type, bool) { return aircraft.Type{}, false })
				require.NoError(t, err)
				var v check.Verdict
				require.NoError(t,
					json.Unmarshal([]byte(strings.Replace(string(out), `"values":{`, `"ignored":{`, 1)), &struct {
						Outcome  *check.Outcome
						Decision *check.Decision
					}{&v.Outcome, &v.Decision}))
				return v
			}
			rapid.Check(t, func(t *rapid.T) {
				steps := float64(rapid.IntRange(0, 240).Draw(t, "steps"))
				more := float64(rapid.IntRange(0, 240).Draw(t, "more"))
				step := limit / 500
				if b.low {
					step = -step
				}
				near, far := limit+step*steps, limit+step*(steps+more)
				a, z := verdict(t, near), verdict(t, far)
				require.GreaterOrEqual(t, outcome[z.Outcome], outcome[a.Outcome], "%v then %v", near, far)
				require.GreaterOrEqual(t, decision[z.Decision], decision[a.Decision], "%v then %v", near, far)
			})
			assert.NotEqual(t, check.Abnormal, verdict(t, limit).Outcome, "a reading equal to a limit is within it")
		})
	}
}

// BenchmarkVerdict measures one verdict, against the floor of reading and
// writing the same request as JSON.
func BenchmarkVerdict(b *testing.B) {
	limits, reading := benchOf("turbine-start")
	request := []byte(fmt.Sprintf(`{"reading":%s,"limits":%s}`, reading, limits))
	b.Run("verdict", func(b *testing.B) {
		for b.Loop() {
			_, err := check.Run("turbine-start", request,
				func(string) (aircraft.Type, bool) { return aircraft.Type{}, false })
			require.NoError(b, err)
		}
	})
	b.Run("json", func(b *testing.B) {
		for b.Loop() {
			var v any
			require.NoError(b, json.Unmarshal(request, &v))
			_, err := json.Marshal(v)
			require.NoError(b, err)
		}
	})
}
