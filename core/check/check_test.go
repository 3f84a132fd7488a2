package check_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/form"
	"jetprimer/internal/parsertest"
)

// alder is a type as the catalog has it, and strict the same with leaning on
// the ground forbidden.
func types(id string) (aircraft.Type, bool) {
	t := aircraft.Type{ID: id, Name: "Alder 110", Engines: 1, LeanOnGround: id == "alder",
		Limits: map[string]map[string]any{
			"magneto": {"base": 1750, "baseTolerance": 25, "dropMax": 130, "differenceMax": 60, "dropMin": 20,
				"recoveryTolerance": 25, "dwellMinSeconds": 2, "dwellMaxSeconds": 10},
			"carb-heat": {"dropMin": 50, "dropMax": 150, "recoveryTolerance": 25},
			"idle":      {"min": 550, "max": 750, "seconds": 5},
			"suction":   {"min": 4.5, "max": 5.4},
			"charging":  {"voltsMin": 13.2, "voltsMax": 14.8, "ampsMin": 0, "splitMax": 10},
			"gauges": {"oilPressure": map[string]any{"min": 25, "cautionMin": 55, "cautionMax": 95, "max": 115},
				"oilTemperature": map[string]any{"min": 24, "cautionMin": 38, "max": 118, "lowDecision": "warm-up"}},
			"piston-start": {"crankMaxSeconds": 10, "restMinSeconds": 20, "attemptsMax": 3, "rpmMax": 1200,
				"rpmInspection":      2700,
				"oilPressureSeconds": 30, "oilPressureSecondsCold": 60, "coldBelowC": -7},
			"altimeter": {"toleranceFt": 75},
		}}
	return t, id == "alder" || id == "strict"
}

// judge runs a check the way every caller does: bytes in, bytes out.
func judge(t require.TestingT, name, request string) check.Verdict {
	out, err := check.Run(name, []byte(request), types)
	require.NoError(t, err, request)
	var v check.Verdict
	require.NoError(t, json.Unmarshal(out, &v))
	again, err := json.Marshal(v)
	require.NoError(t, err)
	require.Equal(t, string(out), string(again), "a kept verdict keeps its bytes")
	check.NamesOnly(t, v)
	return v
}

// summary is a verdict in one line: outcome decision [codes] <causes> (actions).
func summary(v check.Verdict) string {
	var findings, causes, actions []string
	side := func(s string) string {
		if s != "" {
			return "." + s
		}
		return ""
	}
	for _, f := range v.Findings {
		findings = append(findings, f.Code+side(f.Side))
	}
	for _, c := range v.Causes {
		causes = append(causes, c.Code+side(c.Side))
	}
	for _, a := range v.Actions {
		actions = append(actions, a.Code)
	}
	return fmt.Sprintf("%s %s [%s] <%s> (%s)", v.Outcome, v.Decision,
		strings.Join(findings, " "), strings.Join(causes, " "), strings.Join(actions, " "))
}

// with lays changes over a sound reading; a nil deletes a field.
func with(base map[string]any, changes string) string {
	reading := maps.Clone(base)
	var over map[string]any
	if err := json.Unmarshal([]byte("{"+changes+"}"), &over); err != nil {
		panic(changes)
	}
	maps.Copy(reading, over)
	out, _ := json.Marshal(reading)
	return string(out)
}

func soundMagneto() map[string]any {
	return map[string]any{"unit": "rpm", "base": 1750, "left": 1654, "bothAfterLeft": 1750, "right": 1660,
		"bothAfterRight": 1750,
		"roughLeft":      false, "roughRight": false, "stoppedLeft": false, "stoppedRight": false}
}

const sound = "normal continue [] <> ()"

func TestMagneto(t *testing.T) {
	stopLeft := `"stoppedLeft":true,"left":null,"bothAfterLeft":null,"right":null,"bothAfterRight":null`
	for _, c := range []struct{ name, reading, more, want string }{
		{"within limits", ``, ``, sound},
		{"drop equal to its limit", `"left":1620,"right":1650`, ``, sound},
		{
			"drop one over", `"left":1619,"right":1650`, ``,
			"abnormal recheck [drop-excessive.left] <over-rich late-timing.left> (lean-and-repeat)",
		},
		{"drop equal to the smallest", `"left":1730,"right":1725`, ``, sound},
		{
			"drop one below the smallest", `"left":1731,"right":1720`, ``,
			"abnormal stop [no-drop.left] <ungrounded-magneto.right early-timing.left> (keep-clear-of-propeller " +
				"ground-aircraft)",
		},
		{
			"no drop at all on the right", `"right":1750`, ``,
			"abnormal stop [no-drop.right] <ungrounded-magneto.left early-timing.right> (keep-clear-of-propeller " +
				"ground-aircraft)",
		},
		{
			"the speed rose", `"right":1760`, ``,
			"abnormal stop [no-drop.right] <ungrounded-magneto.left throttle-moved early-timing.right> " +
				"(keep-clear-of-propeller ground-aircraft)",
		},
		{
			"no drop on either side", `"left":1750,"right":1750`, ``,
			"abnormal stop [no-drop.left no-drop.right] <switch-fault ungrounded-magneto.right early-timing.left " +
				"ungrounded-magneto.left early-timing.right> (keep-clear-of-propeller ground-aircraft)",
		},
		{"difference equal to its limit", `"left":1630,"right":1690`, ``, sound},
		{
			"difference one over", `"left":1629,"right":1690`, ``,
			"abnormal recheck [difference-excessive.left] <uneven-magnetos> (clear-plugs)",
		},
		{
			"difference larger on the right", `"left":1700,"right":1630`, ``,
			"abnormal recheck [difference-excessive.right] <uneven-magnetos> (clear-plugs)",
		},
		{
			"difference is not judged beside an excessive drop", `"left":1700,"right":1598`, ``,
			"abnormal recheck [drop-excessive.right] <over-rich late-timing.right> (lean-and-repeat)",
		},
		{
			"excessive and rough", `"right":1598,"roughRight":true`, ``,
			"abnormal recheck [drop-excessive.right] <fouled-plug.right> (clear-plugs)",
		},
		{
			"rough within limits", `"roughLeft":true`, ``,
			"caution recheck [rough-running.left] <fouled-plug.left> (clear-plugs)",
		},
		{
			"both sides excessive, left first", `"left":1600,"right":1600`, ``,
			"abnormal recheck [drop-excessive.left drop-excessive.right] <over-rich late-timing.left " +
				"late-timing.right> (lean-and-repeat)",
		},
		{
			"stopped on the left, nothing after", stopLeft, ``,
			"abnormal stop [engine-stopped.left] <dead-magneto.left switch-to-off> (throttle-idle-mixture-off " +
				"ground-aircraft)",
		},
		{
			"stopped on the right", `"stoppedRight":true,"right":null,"bothAfterRight":null`, ``,
			"abnormal stop [engine-stopped.right] <dead-magneto.right switch-to-off> (throttle-idle-mixture-off " +
				"ground-aircraft)",
		},
		{
			"base at the edge of its tolerance",
			`"base":1775,"left":1680,"bothAfterLeft":1775,"right":1690,"bothAfterRight":1775`, ``, sound,
		},
		{
			"base beyond its tolerance hides an excessive drop",
			`"base":1780,"left":1600,"bothAfterLeft":1780,"right":1690,"bothAfterRight":1780`, ``,
			"invalid recheck [base-out-of-range] <> (set-base)",
		},
		{
			"a missing drop outranks a wrong base",
			`"base":1800,"left":1800,"bothAfterLeft":1800,"right":1700,"bothAfterRight":1800`, ``,
			"abnormal stop [no-drop.left base-out-of-range] <ungrounded-magneto.right early-timing.left> " +
				"(keep-clear-of-propeller ground-aircraft)",
		},
		{
			"a stopped engine outranks a wrong base", `"base":1900,` + stopLeft, ``,
			"abnormal stop [engine-stopped.left base-out-of-range] <dead-magneto.left switch-to-off> " +
				"(throttle-idle-mixture-off ground-aircraft)",
		},
		{"recovery at the edge", `"bothAfterRight":1725`, ``, sound},
		{
			"slow recovery on the right", `"bothAfterRight":1724`, ``,
			"caution recheck [slow-recovery.right] <switch-or-lead.left> (repeat-check)",
		},
		{
			"slow recovery on the left leaves the right drop unjudged", `"bothAfterLeft":1700,"right":1500`, ``,
			"caution recheck [slow-recovery.left] <switch-or-lead.right> (repeat-check)",
		},
		{"base moved", `"bothAfterRight":1776`, ``, "caution recheck [base-moved.right] <throttle-moved> (repeat-check)"},
		{
			"held too short", `"secondsHeldLeft":1.9,"secondsHeldRight":2`, ``,
			"invalid recheck [held-too-short.left] <> (repeat-check)",
		},
		{
			"held too long", `"secondsHeldLeft":10,"secondsHeldRight":10.1`, ``,
			"caution continue [held-too-long.right] <> (repeat-check)",
		},
		{
			"held too short does not hide the other side", `"secondsHeldLeft":1,"right":1600`, ``,
			"abnormal recheck [drop-excessive.right held-too-short.left] <over-rich late-timing.right> " +
				"(lean-and-repeat repeat-check)",
		},
		{
			"second try escalates", `"roughLeft":true`, `,"attempt":2`,
			"abnormal stop [rough-running.left] <fouled-plug.left> (ground-aircraft)",
		},
		{
			"an invalid try never escalates", `"base":1800,"bothAfterLeft":1800,"bothAfterRight":1800`, `,"attempt":3`,
			"invalid recheck [base-out-of-range] <> (set-base)",
		},
		{
			"stop leaves only its own actions", `"left":1750,"right":1600`, ``,
			"abnormal stop [no-drop.left drop-excessive.right] <ungrounded-magneto.right early-timing.left " +
				"over-rich late-timing.right> (keep-clear-of-propeller ground-aircraft)",
		},
		{"half an rpm is rounded to the field", `"left":1619.5,"right":1650`, ``, sound},
		{"a limit of the request replaces the type's", `"left":1619,"right":1650`, `,"limits":{"dropMax":131}`, sound},
		{
			"the dead cylinder is named",
			`"right":1598,"roughRight":true,"egtC":[{"both":700,"left":730,"right":735},{"both":705,"left":740,"right":520}]`,
			``, "abnormal recheck [drop-excessive.right cold-cylinder.right] <fouled-plug.right> (clear-plugs)",
		},
		{
			"a dead plug is named though the drop is within limits",
			`"egtC":[{"both":700,"left":730,"right":735},{"both":705,"left":740,"right":520}]`, ``,
			"caution recheck [cold-cylinder.right] <fouled-plug.right> (clear-plugs)",
		},
		{"a needle's own scatter is no dead plug", `"egtC":[{"both":700,"left":676,"right":735}]`, ``, sound},
		{
			"a fall that the type calls one", `"egtC":[{"both":700,"left":690,"right":735}]`,
			`,"limits":{"egtFallMinC":10}`, "caution recheck [cold-cylinder.left] <fouled-plug.left> (clear-plugs)",
		},
		{
			"what hands moved is asked again as often as it takes", `"bothAfterRight":1800`, `,"attempt":5`,
			"caution recheck [base-moved.right] <throttle-moved> (repeat-check)",
		},
	} {
		v := judge(t, "magneto",
			fmt.Sprintf(`{"aircraftType":"alder","reading":%s%s}`, with(soundMagneto(), c.reading), c.more))
		assert.Equal(t, c.want, summary(v), c.name)
		if c.name == "the dead cylinder is named" {
			assert.Contains(t, v.Causes[0].Message, "cylinder 2")
		}
	}
	v := judge(t, "magneto", `{"aircraftType":"strict","reading":`+with(soundMagneto(), `"roughLeft":true`)+`}`)
	assert.Equal(t, "caution recheck [rough-running.left] <fouled-plug.left> (repeat-check)", summary(v),
		"a type that forbids leaning on the ground")
}

func TestMagnetoBytes(t *testing.T) {
	out, err := check.Run("magneto", []byte(`{"limits":{"base":75.0,"baseTolerance":1,"dropMax":7,"differenceMax":3,"dropMin":1.50,"recoveryTolerance":1},
		"reading":`+with(soundMagneto(),
		`"unit":"percent","base":75,"left":69.96,"bothAfterLeft":75,"right":67.4,"bothAfterRight":75`)+`}`), types)
	require.NoError(t, err)
	assert.Equal(t, `{"check":"magneto","outcome":"abnormal","decision":"recheck",`+
		`"values":{"leftDrop":5,"rightDrop":7.6,"difference":2.6},`+
		`"limits":{"base":75,"baseTolerance":1,"dropMax":7,"differenceMax":3,"dropMin":1.5,"recoveryTolerance":1},`+
		`"findings":[{"code":"drop-excessive","side":"right","message":"The drop on the right magneto is 7.6 %; the limit is 7 %."}],`+
		`"causes":[{"code":"over-rich","message":"The mixture is too rich for this speed and altitude."},{"code":"late-timing","side":"right","message":"The right magneto is timed too late."}],`+
		`"actions":[{"code":"lean-and-repeat","message":"Lean the mixture to smooth running and repeat the check once."}]}`, string(out))
}

func TestOtherChecks(t *testing.T) {
	start := func(changes string) string {
		return with(map[string]any{"attempts": []any{map[string]any{"crankSeconds": 4, "restSeconds": 0}},
			"fired":   true,
			"rpmPeak": 1100, "secondsToOilPressure": 8, "starterLampOut": true, "chargeRestored": true}, changes)
	}
	tries := func(n int, crank, rest float64) string {
		rows := make([]string, n)
		for i := range rows {
			rows[i] = fmt.Sprintf(`{"crankSeconds":%v,"restSeconds":%v}`, crank, rest)
		}
		return `"attempts":[` + strings.Join(rows, ",") + `]`
	}
	notFired := `"fired":false,"rpmPeak":null,"secondsToOilPressure":null,"chargeRestored":null`
	ifr, day := `,"conditions":{"rules":"IFR"}`, `,"conditions":{"rules":"VFR","night":false}`
	place := `,"conditions":{"elevationFt":412,"qnhHPa":1013.2,"rules":"%s"}`
	stood, cloud := fmt.Sprintf(place, "VFR"), fmt.Sprintf(place, "IFR")
	alts := func(a, b string) string { return `{"altimeters":[{` + a + `},{` + b + `}]}` }
	set := `"setting":1013,"indicatedFt":430`
	for _, c := range []struct{ check, reading, more, want string }{
		{"carb-heat", `{"base":1750,"hot":1700,"coldAfter":1775}`, ``, sound},
		{
			"carb-heat", `{"base":1750,"hot":1740,"coldAfter":1776}`, `,"attempt":2`,
			"caution recheck [ice-cleared] <carburettor-ice> (hold-heat-until-steady)",
		},
		{
			"carb-heat", `{"base":1750,"hot":1776,"coldAfter":1750}`, `,"attempt":2`,
			"caution recheck [rise-with-heat] <carburettor-ice lean-mixture> (hold-heat-until-steady)",
		},
		{
			"carb-heat", `{"base":1750,"hot":1775,"coldAfter":1750}`, ``,
			"abnormal stop [no-heat] <heat-cable-or-box> (ground-aircraft)",
		},
		{
			"carb-heat", `{"base":1750,"hot":1701,"coldAfter":1750}`, ``,
			"abnormal stop [no-heat] <heat-cable-or-box> (ground-aircraft)",
		},
		{
			"carb-heat", `{"base":1750,"hot":1599,"coldAfter":1724}`, ``,
			"caution recheck [drop-excessive heat-stays-on] <over-rich heat-flap-stays> (repeat-check)",
		},
		{"idle", `{"rpm":550,"seconds":5,"stopped":false}`, ``, sound},
		{
			"idle", `{"rpm":549,"seconds":5,"stopped":false}`, ``,
			"caution recheck [idle-low] <idle-adjustment> (repeat-check)",
		},
		{
			"idle", `{"rpm":751,"seconds":5,"stopped":false}`, `,"attempt":2`,
			"abnormal stop [idle-high] <idle-adjustment> (ground-aircraft)",
		},
		{"idle", `{"rpm":400,"seconds":4.9,"stopped":false}`, ``, "invalid recheck [held-too-short] <> (repeat-check)"},
		{
			"idle", `{"rpm":null,"seconds":null,"stopped":true}`, ``,
			"abnormal stop [engine-stopped] <idle-adjustment> (ground-aircraft)",
		},
		{"suction", `{"inHg":4.5}`, ifr, sound},
		{"suction", `{"inHg":4.44}`, ``, "abnormal stop [suction-low] <pump-or-filter> (ground-aircraft)"},
		{
			"suction", `{"inHg":4.4}`, day,
			"caution continue [suction-low] <pump-or-filter> (write-squawk stay-in-daylight-vfr)",
		},
		{
			"suction", `{"inHg":4.4}`, `,"conditions":{"rules":"VFR","night":true}`,
			"abnormal stop [suction-low] <pump-or-filter> (ground-aircraft)",
		},
		{"suction", `{"inHg":5.5}`, day, "caution recheck [suction-high] <pump-or-filter> (repeat-check)"},
		{"charging", `{"meter":"battery","sides":[{"volts":13.2,"amps":0}]}`, ``, sound},
		{"charging", `{"meter":"battery","sides":[{"amps":0}]}`, ``, sound},
		{
			"charging", `{"meter":"load","sides":[{"amps":0}]}`, ``,
			"abnormal stop [not-charging] <alternator-or-belt> (ground-aircraft)",
		},
		{
			"charging", `{"meter":"battery","sides":[{"volts":14,"amps":-1}]}`, ``,
			"abnormal stop [not-charging] <alternator-or-belt> (ground-aircraft)",
		},
		{
			"charging", `{"meter":"load","sides":[{"volts":13.1,"amps":20},{"volts":14.9,"amps":31}]}`, ``,
			"abnormal stop [not-charging.1 over-voltage.2 load-split] <alternator-or-belt regulator> (ground-aircraft)",
		},
		{
			"charging", `{"meter":"load","sides":[{"volts":14,"amps":20},{"volts":14,"amps":30.1}]}`, ``,
			"caution recheck [load-split] <regulator> (repeat-check)",
		},
		{"gauges", `{"oilPressure":55,"oilTemperature":118}`, ``, sound},
		{"gauges", `{"oilPressure":54.99}`, ``, "caution recheck [gauge-low.oilPressure] <> (repeat-check)"},
		{"gauges", `{"oilPressure":24}`, ``, "abnormal stop [gauge-low.oilPressure] <> (shut-down ground-aircraft)"},
		{
			"gauges", `{"oilTemperature":10,"oilPressure":96}`, ``,
			"caution recheck [gauge-low.oilTemperature gauge-high.oilPressure] <> (warm-up)",
		},
		{
			"gauges", `{"oilTemperature":60,"oilPressure":96}`, `,"attempt":2`,
			"abnormal stop [gauge-high.oilPressure] <> (ground-aircraft)",
		},
		{
			"gauges", `{"oilTemperature":10,"oilPressure":96}`, `,"attempt":2`,
			"caution recheck [gauge-low.oilTemperature gauge-high.oilPressure] <> (warm-up)",
		},
		{"gauges", `{"oilTemperature":10}`, `,"attempt":4`, "caution recheck [gauge-low.oilTemperature] <> (warm-up)"},
		{
			"gauges", `{"oilTemperature":119}`, ``,
			"abnormal stop [gauge-high.oilTemperature] <> (reduce-power shut-down ground-aircraft)",
		},
		{"piston-start", start(``), ``, sound},
		{"piston-start", start(`"secondsToOilPressure":30`), ``, sound},
		{
			"piston-start", start(`"secondsToOilPressure":30.1`), `,"conditions":{"engineState":"warm","oatC":-20}`,
			"abnormal stop [oil-pressure-late] <no-oil-to-gauge> (shut-down ground-aircraft)",
		},
		{"piston-start", start(`"secondsToOilPressure":59`), `,"conditions":{"engineState":"cold","oatC":-7.1}`, sound},
		{
			"piston-start", start(`"secondsToOilPressure":59`), `,"conditions":{"engineState":"cold","oatC":-7}`,
			"abnormal stop [oil-pressure-late] <no-oil-to-gauge> (shut-down ground-aircraft)",
		},
		{
			"piston-start", start(`"secondsToOilPressure":null,"starterLampOut":false`), ``,
			"abnormal stop [no-oil-pressure starter-engaged] <no-oil-to-gauge starter-stuck> (shut-down " +
				"isolate-battery ground-aircraft)",
		},
		{"piston-start", start(`"rpmPeak":1201`), ``, "caution continue [overspeed-after-start] <> (write-squawk)"},
		{
			"piston-start", start(`"rpmPeak":2701`), ``,
			"abnormal stop [overspeed-inspection] <throttle-too-far> (shut-down ground-aircraft)",
		},
		{"piston-start", start(tries(2, 10.1, 19.9)), ``, "caution continue [crank-too-long rest-too-short] <> ()"},
		{"piston-start", start(tries(4, 5,
			30)), ``, "abnormal stop [too-many-attempts] <flooded-or-dry> (cool-starter)"},
		{
			"piston-start", start(`"chargeRestored":false`), ``,
			"caution recheck [not-charging] <alternator-or-belt> (repeat-check)",
		},
		{"piston-start", start(notFired), `,"attempt":3`, "caution recheck [no-start] <flooded-or-dry> (repeat-check)"},
		{"piston-start", start(notFired), ``, "caution recheck [no-start] <flooded-or-dry> (repeat-check)"},
		{
			"piston-start", start(notFired + "," + tries(4, 5, 30)), ``,
			"abnormal stop [too-many-attempts] <flooded-or-dry> (cool-starter)",
		},
		{"altimeter", alts(set, `"setting":29.92,"indicatedFt":487`), stood, sound},
		{
			"altimeter", alts(set, `"setting":1013.2,"indicatedFt":488`), stood,
			"caution continue [altimeter-out.2] <altimeter-or-static> (write-squawk stay-in-daylight-vfr)",
		},
		{
			"altimeter", alts(set, `"setting":1013.2,"indicatedFt":488`), cloud,
			"abnormal stop [altimeter-out.2] <altimeter-or-static> (ground-aircraft)",
		},
		{
			"altimeter", alts(`"setting":1013,"indicatedFt":340`, `"setting":1013,"indicatedFt":480`), cloud,
			"abnormal stop [altimeters-disagree] <altimeter-or-static> (ground-aircraft)",
		},
		{
			"altimeter", alts(`"setting":1013,"indicatedFt":412`, `"setting":1013,"indicatedFt":412`),
			`,"conditions":{"elevationFt":412}`, "caution continue [not-proven] <> (compare-setting)",
		},
		{
			"altimeter", alts(`"setting":1013,"indicatedFt":12`, `"setting":1013,"indicatedFt":412`),
			`,"conditions":{"elevationFt":412,"rules":"VFR"}`,
			"caution continue [altimeters-disagree not-proven] <altimeter-or-static> (compare-setting write-squawk " +
				"stay-in-daylight-vfr)",
		},
		{
			"altimeter", alts(set, `"setting":1012.7,"indicatedFt":900`), stood,
			"caution recheck [setting-wrong.2] <> (set-altimeters)",
		},
		{
			"altimeter", alts(`"setting":1012.9,"indicatedFt":430`, `"setting":1013.6,"indicatedFt":430`), stood,
			"caution recheck [settings-differ] <> (set-altimeters)",
		},
	} {
		v := judge(t, c.check, fmt.Sprintf(`{"aircraftType":"alder","reading":%s%s}`, c.reading, c.more))
		assert.Equal(t, c.want, summary(v), "%s %s%s", c.check, c.reading, c.more)
	}
}

func TestRequestsThatCannotBeUsed(t *testing.T) {
	ok := with(soundMagneto(), ``)
	for _, c := range []struct{ check, request, want string }{
		{"magneto", `[]`, "request must be one JSON object"},
		{"magneto", `{"reading":{}} {}`, "request must be one JSON object with nothing after it"},
		{"magneto", `{`, "request is not valid JSON"},
		{"magneto", `{}`, "reading is missing"},
		{"magnito", `{"reading":{}}`, `check "magnito" is not known`},
		{"magneto", `{"reading":` + ok + `}`, "limits.base is missing: a number in rpm"},
		{"magneto", `{"aircraftType":"spruce","reading":` + ok + `}`, `aircraftType "spruce" is not a known type`},
		{
			"magneto", `{"aircraftType":"alder","engine":2,"reading":` + ok + `}`,
			"engine must be 1 to 1 for the Alder 110",
		},
		{
			"magneto", `{"aircraftType":"alder","attempt":0,"reading":` + ok + `}`,
			"attempt must be a whole number from 1 to 99",
		},
		{
			"magneto", `{"aircraftType":"alder","reading":{"unit":"rpm","base":1e999}}`,
			"reading.base is not a number an instrument can show",
		},
		{
			"magneto", `{"aircraftType":"alder","reading":` + with(soundMagneto(), `"left":"1650"`) + `}`,
			"reading.left must be a number in rpm",
		},
		{
			"magneto", `{"aircraftType":"alder","reading":` + with(soundMagneto(), `"left":null`) + `}`,
			"reading.left may not be null here",
		},
		{
			"magneto", `{"aircraftType":"alder","reading":` + with(soundMagneto(), `"left":-1`) + `}`,
			"reading.left may not be below zero",
		},
		{
			"magneto", `{"aircraftType":"alder","reading":` + with(soundMagneto(), `"lift":1650`) + `}`,
			"reading.lift is not known here",
		},
		{
			"magneto", `{"aircraftType":"alder","reading":` + with(soundMagneto(), `"unit":"rps"`) + `}`,
			"reading.unit must be one of rpm, percent",
		},
		{
			"magneto", `{"aircraftType":"alder","limits":{"dropMin":131},"reading":` + ok + `}`,
			"limits.dropMin (131) is above dropMax (130)",
		},
		{"magneto", `{"aircraftType":"alder","speed":1,"reading":` + ok + `}`, "speed is not known here"},
		{
			"suction", `{"aircraftType":"alder","conditions":{"rules":"SVFR"},"reading":{"inHg":5}}`,
			"conditions.rules must be one of VFR, IFR",
		},
		{
			"suction", `{"aircraftType":"alder","conditions":{"date":"2026-02-29"},"reading":{"inHg":5}}`,
			"conditions.date must be a day",
		},
		{"gauges", `{"aircraftType":"alder","reading":{}}`, "reading must hold at least one gauge"},
		{"gauges", `{"aircraftType":"alder","reading":{"manifold":20}}`, "limits.manifold is missing"},
		{
			"gauges",
			`{"aircraftType":"alder","limits":{"oilPressure":{"cautionMin":120}},"reading":{"oilPressure":60}}`,
			"limits.oilPressure.cautionMin (120) is above",
		},
		{
			"charging", `{"aircraftType":"alder","reading":{"meter":"load","sides":[]}}`,
			"reading.sides must be a list of 1 to 2 entries, not 0",
		},
		{
			"charging", `{"aircraftType":"alder","reading":{"meter":"load","sides":[{"volts":14}]}}`,
			"reading.sides[0].amps is missing",
		},
		{
			"altimeter", `{"aircraftType":"alder","reading":{"altimeters":[{"setting":1013,"indicatedFt":1}]}}`,
			"conditions.elevationFt is missing",
		},
		{
			"piston-start",
			`{"aircraftType":"alder","reading":{"attempts":[{"crankSeconds":3,"restSeconds":0}],"fired":true,"rpmPeak":null,"secondsToOilPressure":3,"starterLampOut":true,"chargeRestored":true}}`,
			"reading.rpmPeak may not be null here",
		},
	} {
		_, err := check.Run(c.check, []byte(c.request), types)
		var input form.Problem
		if assert.ErrorAs(t, err, &input, c.request) {
			assert.Contains(t, err.Error(), c.want)
		}
	}
}

// TestWorseIsNeverBetter: a larger drop on one side, the rest equal and judged,
// never lowers outcome or decision; and swapping the sides swaps the findings.
func TestWorseIsNeverBetter(t *testing.T) {
	rank := map[check.Outcome]int{check.Normal: 0, check.Caution: 1, check.Invalid: 2, check.Abnormal: 3}
	rapid.Check(t, func(t *rapid.T) {
		left := rapid.IntRange(1400, 1730).Draw(t, "left")
		right := rapid.IntRange(1400, 1730).Draw(t, "right")
		rough := rapid.Bool().Draw(t, "rough")
		run := func(left, right int, roughLeft, roughRight bool) check.Verdict {
			return judge(t, "magneto", fmt.Sprintf(`{"aircraftType":"alder","reading":%s}`, with(soundMagneto(),
				fmt.Sprintf(`"left":%d,"right":%d,"roughLeft":%v,"roughRight":%v`, left, right, roughLeft,
					roughRight))))
		}
		v := run(left, right, rough, false)
		larger := min(left, right) - rapid.IntRange(0, 200).Draw(t, "more")
		worse := run(larger, right, rough, false)
		if left <= right {
			require.GreaterOrEqual(t, rank[worse.Outcome], rank[v.Outcome])
		}
		swapped := strings.NewReplacer("left", "right", "right",
			"left").Replace(summary(run(right, left, false, rough)))
		inOrder := summary(v)
		require.ElementsMatch(t,
			strings.Fields(strings.NewReplacer("[", " ", "]", " ", "<", " ", ">", " ").Replace(inOrder)),
			strings.Fields(strings.NewReplacer("[", " ", "]", " ", "<", " ", ">", " ").Replace(swapped)))
	})
}

func FuzzRun(f *testing.F) {
	f.Add("magneto", `{"aircraftType":"alder","reading":`+with(soundMagneto(), ``)+`}`)
	f.Add("gauges", `{"aircraftType":"alder","reading":{"oilPressure":60}}`)
	f.Add("gauges", `{"":0}`)
	f.Add("gauges", `{"reading":`+strings.Repeat(`{"a":`, 50_000))
	f.Add("charging", `{"aircraftType":"alder","reading":{"meter":"load","sides":[{"volts":14,"amps":3}]}}`)
	f.Add("altimeter",
		`{"aircraftType":"alder","conditions":{"elevationFt":4},"reading":{"altimeters":[{"setting":29.92,"indicatedFt":1}]}}`)
	f.Fuzz(func(t *testing.T, name, request string) {
		var out []byte
		var err error
		parsertest.Run(t, []byte(request), func() { out, err = check.Run(name, []byte(request), types) })
		if err != nil {
			var input form.Problem
			require.ErrorAs(t, err, &input)
			require.NotContains(t, err.Error(), "\n")
			return
		}
		again, err := check.Run(name, []byte(request), types)
		require.NoError(t, err)
		require.Equal(t, string(out), string(again))
	})
}
