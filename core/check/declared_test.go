package check_test

import (
	"encoding/json"
	"fmt"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/check"
	"jetprimer/core/form"
)

// TestChecksDeclareThemselves: the entry form is made from these, so every
// field needs a label, and every flag that a field leans on must exist.
func TestChecksDeclareThemselves(t *testing.T) {
	names := map[string]bool{}
	for _, d := range check.All() {
		assert.False(t, names[d.Name], d.Name)
		names[d.Name] = true
		assert.NotEmpty(t, d.Title, d.Name)
		assert.NotEmpty(t, d.Rule, d.Name)
		known := map[string]form.Field{}
		for _, f := range d.Fields {
			known[f.Name] = f
		}
		fields := append(append([]form.Field{}, d.Fields...), d.Limits...)
		for _, f := range fields {
			fields = append(fields, f.Each...)
		}
		for _, f := range fields {
			at := d.Name + "." + f.Name
			assert.NotEmpty(t, f.Label, at)
			assert.Equal(t, f.Kind == form.Choice, len(f.Choices) > 0, at)
			assert.Equal(t, f.Kind == form.Rows, len(f.Each) > 0, at)
			for _, flag := range f.NullWhen {
				assert.Equal(t, form.Flag, known[strings.TrimPrefix(flag, "!")].Kind, at)
			}
		}
		_, found := check.Find(d.Name)
		assert.True(t, found)
		text, err := json.Marshal(d)
		require.NoError(t, err)
		assert.NotContains(t, string(text), ":null", "the screens walk the lists")
	}
}

// TestEveryMessageIsASentenceWithItsNumbers walks bad readings of every check.
func TestEveryMessageIsASentenceWithItsNumbers(t *testing.T) {
	sentence := regexp.MustCompile(`^[A-Za-z0-9].*\.$`)
	placeholders := regexp.MustCompile(`%[a-z!(]|\{|\}|<nil>`)
	seen := map[string]bool{}
	for _, c := range [][2]string{
		{"magneto", with(soundMagneto(), `"stoppedLeft":true`)},
		{"magneto", with(soundMagneto(), `"left":1750,"right":1760`)},
		{"magneto", with(soundMagneto(), `"base":1900`)},
		{"magneto", with(soundMagneto(), `"left":1500,"roughLeft":true,"right":1550`)},
		{"magneto", with(soundMagneto(), `"left":1630,"right":1720,"roughRight":true`)},
		{"magneto", with(soundMagneto(), `"bothAfterLeft":1700,"bothAfterRight":1800`)},
		{"magneto", with(soundMagneto(), `"secondsHeldLeft":1,"secondsHeldRight":30`)},
		{"carb-heat", `{"base":1750,"hot":1740,"coldAfter":1700}`},
		{"carb-heat", `{"base":1750,"hot":1500,"coldAfter":1800}`},
		{"carb-heat", `{"base":1750,"hot":1500,"coldAfter":1750}`},
		{"idle", `{"rpm":400,"seconds":6,"stopped":false}`}, {"idle", `{"rpm":900,"seconds":6,"stopped":false}`},
		{"idle", `{"rpm":600,"seconds":1,"stopped":false}`}, {"idle", `{"rpm":null,"seconds":null,"stopped":true}`},
		{"suction", `{"inHg":3}`}, {"suction", `{"inHg":6}`},
		{"charging", `{"meter":"battery","sides":[{"volts":12,"amps":-4},{"volts":16,"amps":40}]}`},
		{"gauges", `{"oilPressure":10,"oilTemperature":130}`}, {"gauges", `{"oilPressure":100,"oilTemperature":30}`},
		{
			"piston-start",
			`{"attempts":[{"crankSeconds":20,"restSeconds":1},{"crankSeconds":2,"restSeconds":1},{"crankSeconds":2,"restSeconds":1},{"crankSeconds":2,"restSeconds":0}],"fired":true,"rpmPeak":1300,"secondsToOilPressure":null,"starterLampOut":false,"chargeRestored":false}`,
		},
		{
			"piston-start",
			`{"attempts":[{"crankSeconds":2,"restSeconds":0}],"fired":false,"rpmPeak":null,"secondsToOilPressure":null,"starterLampOut":true,"chargeRestored":null}`,
		},
	} {
		for attempt := 1; attempt <= 2; attempt++ {
			v := judge(t, c[0], fmt.Sprintf(`{"aircraftType":"alder","attempt":%d,"reading":%s}`, attempt, c[1]))
			require.NotEmpty(t, v.Findings, c)
			messages := []string{}
			for _, f := range v.Findings {
				seen[c[0]+" "+f.Code] = true
				messages = append(messages, f.Message)
			}
			for _, x := range v.Causes {
				messages = append(messages, x.Message)
			}
			for _, a := range v.Actions {
				messages = append(messages, a.Message)
			}
			for _, m := range messages {
				assert.Regexp(t, sentence, m)
				assert.NotRegexp(t, placeholders, m)
			}
			if attempt == 2 && v.Decision == check.Recheck {
				// by time, by heat, by hand
				mended := map[string]bool{"ice-cleared": true, "gauge-low": true, "no-start": true, "base-moved": true}
				assert.True(t, v.Outcome == check.Invalid || mended[v.Findings[0].Code],
					"%s is tested again for ever: %s", c[0], summary(v))
			}
		}
	}
	assert.Greater(t, len(seen), 30, "findings met: %v", seen)
}

func TestLimitsOfATypeAreChecked(t *testing.T) {
	assert.NoError(t, check.CheckLimits("idle", map[string]any{"min": 550, "max": 750, "seconds": 5}))
	for _, c := range []struct {
		name   string
		limits map[string]any
		want   string
	}{
		{"idol", nil, `check "idol" is not known`},
		{"idle", map[string]any{"min": 550, "max": 750}, "limits.seconds is missing"},
		{"idle", map[string]any{"min": 800, "max": 750, "seconds": 5}, "limits.min (800) is above max (750)"},
		{"idle", map[string]any{"min": "low", "max": 750, "seconds": 5}, "limits.min must be a number in rpm"},
		{"gauges", map[string]any{"oil": map[string]any{"min": 1}}, "limits.oil.max is missing"},
		{
			"gauges", map[string]any{"oil": map[string]any{"min": 5, "max": 9, "cautionMax": 10}},
			"limits.oil.cautionMax (10) is above max (9)",
		},
		{
			"gauges", map[string]any{"oil": map[string]any{"min": 5, "max": 9, "lowDecision": "wait"}},
			"limits.oil.lowDecision must be one of warm-up",
		},
	} {
		assert.ErrorContains(t, check.CheckLimits(c.name, c.limits), c.want)
	}
}

// TestScalesStandOnWhatIsDeclared: each scale is drawn of a field or value that
// there is, between limits that there are.
func TestScalesStandOnWhatIsDeclared(t *testing.T) {
	for _, d := range check.All() {
		fields := map[string]bool{}
		for _, f := range d.Fields {
			fields[f.Name] = true
			for _, inner := range f.Each {
				fields[f.Name+"."+inner.Name] = true
			}
		}
		limits := map[string]bool{"": true, "elevationFt": true}
		for _, l := range d.Limits {
			limits[l.Name] = true
		}
		for _, s := range d.Scales {
			assert.NotEmpty(t, s.Label, d.Name)
			assert.Equal(t, !s.Computed, fields[s.Of], "%s draws %s", d.Name, s.Of)
			for _, name := range []string{s.Low, s.High, s.CautionHigh, s.Around, s.Within} {
				assert.True(t, limits[name], "%s: %s has no limit %s", d.Name, s.Of, name)
			}
			assert.NotEmpty(t, s.Low+s.High+s.CautionHigh+s.Within, "%s: %s", d.Name, s.Of)
		}
	}
}
