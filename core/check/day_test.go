package check_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
)

// TestLimitsOfTheDay: what an engine without a charger can give is held to the
// air around it, a rating limited in time to its time and speed, and neither
// passes for want of knowledge.
func TestLimitsOfTheDay(t *testing.T) {
	const full = `{"manifold":{"belowAmbientMaxInHg":1.5,"max":30}}`
	const rated = `{"torque":{"min":10,"max":100,"timedMax":110,"timedSeconds":300,"belowKt":60}}`
	high := `,"conditions":{"elevationFt":4500,"qnhHPa":1013.2,"power":"fullPower"}` // 25.36 inHg
	for _, c := range []struct{ reading, limits, more, want string }{
		{`{"manifold":23.87}`, full, high, sound},
		{`{"manifold":23.85}`, full, high, "abnormal stop [gauge-low.manifold] <> (ground-aircraft)"},
		{
			`{"manifold":28.4}`, full, `,"conditions":{"elevationFt":0,"qnhHPa":1013.2}`,
			"abnormal stop [gauge-low.manifold] <> (ground-aircraft)",
		},
		{`{"manifold":27}`, full, ``, "invalid recheck [day-limit-unknown.manifold] <> (give-the-day)"},
		{
			`{"manifold":30.1}`, full, ``,
			"abnormal stop [gauge-high.manifold day-limit-unknown.manifold] <> (ground-aircraft)",
		},
		{`{"torque":100}`, rated, ``, sound},
		{`{"torque":101}`, rated, ``, "caution continue [gauge-high.torque] <> (record-exceedance)"},
		{
			`{"torque":{"value":110,"seconds":300,"kt":59}}`, rated, ``,
			"caution continue [gauge-high.torque] <> (record-exceedance)",
		},
		{
			`{"torque":{"value":101,"seconds":301}}`, rated, ``,
			"abnormal stop [gauge-high.torque] <> (reduce-power record-exceedance ground-aircraft)",
		},
		{
			`{"torque":{"value":101,"kt":60}}`, rated, ``,
			"abnormal stop [gauge-high.torque] <> (reduce-power record-exceedance ground-aircraft)",
		},
		{
			`{"torque":{"value":110.01,"seconds":1}}`, rated, ``,
			"abnormal stop [gauge-high.torque] <> (reduce-power record-exceedance ground-aircraft)",
		},
		{
			`{"torque":60}`, `{"torque":{"min":10,"max":100,"dayLimitUnknown":"the table ends"}}`, ``,
			"invalid recheck [day-limit-unknown.torque] <> (give-the-day)",
		},
	} {
		v := judge(t, "gauges", fmt.Sprintf(`{"reading":%s,"limits":%s%s}`, c.reading, c.limits, c.more))
		assert.Equal(t, c.want, summary(v), "%s %s", c.reading, c.more)
	}
	for limits, wrong := range map[string]string{
		`{"torque":{"min":1}}`:                                       "limits.torque.max is missing",
		`{"torque":{"min":1,"max":3,"timedMax":4}}`:                  "limits.torque.timedSeconds",
		`{"torque":{"min":1,"max":3,"timedMax":2,"timedSeconds":1}}`: "limits.torque.max (3) is above timedMax (2)",
		`{"torque":{"min":1,"max":3,"belowKt":4}}`:                   "limits.torque.timedMax is missing",
	} {
		_, err := check.Run("gauges", []byte(`{"reading":{"torque":2},"limits":`+limits+`}`), types)
		assert.ErrorContains(t, err, wrong)
	}
	for reading, wrong := range map[string]string{
		`{"torque":{"seconds":4}}`:            "reading.torque must be",
		`{"torque":{"value":4,"seconds":-1}}`: "reading.torque.seconds may not be below zero",
		`{"torque":{"value":4,"minutes":1}}`:  "reading.torque must be",
	} {
		_, err := check.Run("gauges", []byte(`{"reading":`+reading+`,"limits":`+rated+`}`), types)
		assert.ErrorContains(t, err, wrong)
	}
}

// TestKnowledgeNeverLoosens: a reading that the day itself stops never passes for
// want of knowing the day, and what stops without knowing it is stopped by every
// day.
func TestKnowledgeNeverLoosens(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		elevation, oat, qnh := rapid.IntRange(-200, 9000).Draw(t, "elevationFt"), rapid.IntRange(-30, 45).Draw(t,
			"oatC"), rapid.IntRange(970, 1045).Draw(t, "qnhHPa")
		day := fmt.Sprintf(`,"conditions":{"elevationFt":%d,"oatC":%d,"qnhHPa":%d}`, elevation, oat, qnh)
		manifold := fmt.Sprintf(`{"reading":{"manifold":%d},"limits":{"manifold":{"belowAmbientMaxInHg":1.5,"max":31}}`,
			rapid.IntRange(15, 33).Draw(t, "inHg"))
		known, unknown := judge(t, "gauges", manifold+day+"}"), judge(t, "gauges", manifold+"}")
		require.NotEqual(t, check.Continue, unknown.Decision, "passed without the day: %s", manifold)
		if unknown.Decision == check.Stop {
			require.Equal(t, check.Stop, known.Decision, "%s%s", manifold, day)
		}
		speed := fmt.Sprintf(`{"reading":{"rpm":%d},"limits":{"min":2200,"max":2400,"fallPer1000Ft":25}`,
			rapid.IntRange(1800, 2600).Draw(t, "rpm"))
		known, unknown = judge(t, "static-rpm", speed+day+"}"), judge(t, "static-rpm", speed+"}")
		if rises := fmt.Sprintf("%s", known.Values[0].Value)[0] == '-'; !rises && known.Decision == check.Stop {
			require.NotEqual(t, check.Continue, unknown.Decision, "%s%s", speed, day)
		}
	})
}

// TestEquipmentChangesLimits: what is fitted is held to its own limits, field by field;
// where nobody says what is fitted the strictest counts, and naming it is never milder
// than that, nor stricter than what is true of the aircraft.
func TestEquipmentChangesLimits(t *testing.T) {
	typ := aircraft.Type{ID: "q", Name: "Q", Engines: 1, Limits: map[string]map[string]any{
		"static-rpm": {"min": 2200, "max": 2400}, "gauges": {"oilTemperature": map[string]any{"min": 40, "max": 110}}},
		Gauges: []aircraft.Gauge{{ID: "oilTemperature", Label: "oil temperature", Unit: "°C"}},
		Equipment: []aircraft.Equipment{{
			ID: "climb-propeller", Label: "climb propeller", Optional: true,
			Limits: map[string]map[string]any{"static-rpm": {"min": 2350, "max": 2500}},
		},
			{
				ID: "winter-kit", Label: "winter kit", Optional: true,
				Limits: map[string]map[string]any{"gauges": {"oilTemperature": map[string]any{"max": 100}}},
			},
			{ID: "plain", Label: "plain", Optional: true}}}
	require.Empty(t, check.LimitProblems(typ))
	own := func(id string) (aircraft.Type, bool) { return typ, id == "q" }
	run := func(name, reading, more string) check.Verdict {
		r, err := check.ParseRequest([]byte(`{"aircraftType":"q","reading":` + reading + more + `}`))
		require.NoError(t, err)
		v, err := check.Judge(name, r, own)
		require.NoError(t, err)
		return v
	}
	with := func(ids string) string { return `,"equipment":[` + ids + `]` }
	for _, c := range []struct {
		check, reading, more string
		want                 check.Decision
	}{
		{"static-rpm", `{"rpm":2300}`, with(``), check.Continue},
		{"static-rpm", `{"rpm":2300}`, with(`"plain"`), check.Continue},
		{"static-rpm", `{"rpm":2300}`, with(`"climb-propeller"`), check.Stop},
		{"static-rpm", `{"rpm":2450}`, with(`"climb-propeller","winter-kit"`), check.Continue},
		{"static-rpm", `{"rpm":2300}`, ``, check.Stop},
		{"static-rpm", `{"rpm":2450}`, ``, check.Stop},
		{"static-rpm", `{"rpm":2380}`, ``, check.Continue},
		{"gauges", `{"oilTemperature":39}`, with(`"winter-kit"`), check.Stop}, // its own lower end
	} {
		v := run(c.check, c.reading, c.more)
		if c.want == check.Continue {
			assert.Equal(t, check.Continue, v.Decision, "%s %s", c.reading, c.more)
		} else {
			assert.NotEqual(t, check.Continue, v.Decision, "%s %s", c.reading, c.more)
		}
	}
	_, err := check.Run("static-rpm", []byte(`{"aircraftType":"q","equipment":["propeller"],"reading":{"rpm":2300}}`),
		own)
	assert.ErrorContains(t, err, `equipment[0] "propeller" is nothing that a Q can have`)
	_, err = check.Run("static-rpm", []byte(`{"aircraftType":"q","equipment":"all","reading":{"rpm":2300}}`), own)
	assert.ErrorContains(t, err, "equipment must be a list of at most 64 ids")

	severity := map[check.Decision]int{check.Continue: 0, check.Recheck: 1, check.Stop: 2}
	rapid.Check(t, func(t *rapid.T) {
		name, reading := "static-rpm", fmt.Sprintf(`{"rpm":%d}`, rapid.IntRange(2000, 2700).Draw(t, "rpm"))
		if rapid.Bool().Draw(t, "gauge") {
			name, reading = "gauges", fmt.Sprintf(`{"oilTemperature":%d}`, rapid.IntRange(20, 130).Draw(t, "°C"))
		}
		unknown, worst := severity[run(name, reading, "").Decision], 0
		for _, fitted := range []string{``, `"climb-propeller"`, `"winter-kit"`, `"climb-propeller","winter-kit"`} {
			worst = max(worst, severity[run(name, reading, with(fitted)).Decision])
		}
		require.Equal(t, worst, unknown, "%s %s", name, reading)
	})

	for wrong, change := range map[string]func(*aircraft.Type){
		"at most 4 pieces of equipment": func(a *aircraft.Type) {
			for i := range 3 {
				a.Equipment = append(a.Equipment, aircraft.Equipment{
					ID: fmt.Sprint("e", i), Optional: true, Limits: a.Equipment[0].Limits,
				})
			}
		},
		"is of equipment that every aircraft has": func(a *aircraft.Type) { a.Equipment[0].Optional = false },
		"the type has no limits of this check": func(a *aircraft.Type) {
			a.Equipment[2].Limits = map[string]map[string]any{"suction": {"min": 1, "max": 2}}
		},
		"limits.min (2600) is above max (2500)": func(a *aircraft.Type) {
			a.Equipment[0].Limits = map[string]map[string]any{"static-rpm": {"min": 2600, "max": 2500}}
		},
	} {
		bad := typ
		bad.Equipment = append([]aircraft.Equipment{}, typ.Equipment...)
		change(&bad)
		assert.Contains(t, fmt.Sprint(check.LimitProblems(bad)), wrong)
		check.Impossible(bad)
	}
	none := typ
	none.Limits = nil // of a file from outside, and of a draft
	assert.NotEmpty(t, check.LimitProblems(none))
	assert.Empty(t, check.Impossible(none))
	none.Equipment = []aircraft.Equipment{
		{
			ID: "e", Optional: true,
			Limits: map[string]map[string]any{"static-rpm": nil, "gauges": {"oilTemperature": 5, "x": nil}, "song": {}},
		},
	}
	assert.Len(t, check.LimitProblems(none), 3)
	none.Limits = typ.Limits
	assert.NotEmpty(t, check.LimitProblems(none))
	check.Impossible(none)
}
