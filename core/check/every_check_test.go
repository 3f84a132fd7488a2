package check_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/check"
)

// bench is what each check is tried on: limits, and a reading within them.
var bench = map[string]struct{ limits, reading string }{
	"lanes": {`{"base":2000,"baseTolerance":50,"dropMax":180,"differenceMax":100,"dropMin":10,"recoveryTolerance":30,"dwellMinSeconds":2}`,
		`{"unit":"rpm","base":2000,"a":1900,"bothAfterA":2000,"b":1910,"bothAfterB":2000,"roughA":false,"roughB":false,"stoppedA":false,"stoppedB":false,"lampOnB":true,"lampOutB":true,"lampOnA":true,"lampOutA":true,"secondsHeldA":3}`},
	"control-unit": {
		`{"rpmSwingMax":300}`,
		`{"engineStopped":false,"lampSequenceComplete":true,"rpmSwing":300,"propellerCycled":true,"lampsOut":true}`,
	},
	"mixture-peak": {
		`{"riseMin":10,"enrichMin":20,"enrichMax":50}`,
		`{"startRPM":1700,"peakRPM":1750,"setRPM":1720,"setSide":"rich"}`,
	},
	"idle-mixture": {`{"riseMin":10,"riseMax":50}`, `{"idleRPM":600,"peakRPM":630}`},
	"static-rpm":   {`{"min":2280,"max":2400}`, `{"rpm":2300}`},
	"propeller": {
		`{"dropMin":200,"dropMax":500,"recoveryTolerance":25,"cyclesMin":3}`,
		`{"base":2200,"low":1900,"manifoldRose":true,"oilPressureDipped":true,"after":2200,"cycles":3}`,
	},
	"feather": {`{"dropMin":200,"dropMax":500,"recoveryTolerance":25}`, `{"base":1500,"low":1200,"after":1500}`},
	"governor-hold": {
		`{"governingMinRPM":2100,"rpmTolerance":25,"manifoldStepMinInHg":1}`,
		`{"rpmBefore":2200,"rpmAfter":2200,"manifoldBeforeInHg":20,"manifoldAfterInHg":22}`,
	},
	"battery": {`{"startMin":11.8}`, `{"volts":12.2}`},
	"fuel-pressure": {
		`{"idleMin":14,"runUpMin":16,"fullPowerMin":18,"max":35,"sagMax":3}`, `{"idle":18,"runUp":22,"fullPower":21}`,
	},
	"diesel-start": {`{"crankMaxSeconds":10,"restMinSeconds":20,"attemptsMax":3,"rpmMax":1500,"oilPressureSeconds":3,"oilPressureSecondsCold":5,"coldBelowC":-10}`,
		`{"glowLampOut":true,"attempts":[{"crankSeconds":3,"restSeconds":0}],"fired":true,"rpmPeak":1000,"secondsToOilPressure":2,"starterLampOut":true,"chargeRestored":true}`},
	"turbine-start": {`{"batteryMinVolts":24,"tailwindCautionKt":10,"fuelSpoolMinPercent":15,"fuelTempMaxC":150,"lightOffMaxSeconds":3,"tempLimitC":810,"tempAbsoluteMaxC":927,"secondsAboveLimitMax":10,"toIdleMaxSeconds":60,"idleMinPercent":59,"idleMaxPercent":65}`,
		`{"batteryVolts":24.5,"tailwindKt":5,"fuelAtSpoolPercent":16,"fuelAtTempC":90,"lightOffSeconds":2,"peakTempC":760,"secondsAboveLimit":0,"secondsToIdle":28,"idleSpoolPercent":62,"spoolAlwaysRising":true,"oilPressureAtIdle":true}`},
	"clutch":            {`{"lampOutMax":100,"bladesTurningMax":5}`, `{"bladesTurningSeconds":4,"lampOutSeconds":60}`},
	"needle-split":      {`{"splitMin":5}`, `{"splitPercent":8}`},
	"deceleration":      {`{"startMin":90,"secondsMin":2}`, `{"startSpoolPercent":92,"seconds":2.5,"flamedOut":false}`},
	"hydraulics":        {`{}`, `{"stiffWhenOff":true,"freeWhenOn":true,"residualPull":false}`},
	"low-rotor-warning": {`{"onMin":95,"onMax":98}`, `{"onAtPercent":97,"offAtPercent":98}`},
	"heading": {
		`{"toleranceDeg":10,"runwayToleranceDeg":10}`, `{"compassDeg":5,"indicatorDeg":358,"runwayDeg":2}`,
	},
	"database":       {`{}`, `{"expires":"2026-11-24"}`},
	"engines-differ": {`{"leftDrop":{"apartMax":40}}`, `{"leftDrop":{"left":80,"right":110}}`},
	"dead-cut":       {`{}`, `{"ranOnAtOff":false,"fellAtOff":true}`},
}

// onBench judges a check's sound reading with changes laid over it; more holds
// other members of the request, each with a comma before it.
func onBench(t *testing.T, name, changes, more string) check.Verdict {
	var reading map[string]any
	require.NoError(t, json.Unmarshal([]byte(bench[name].reading), &reading))
	limits := bench[name].limits
	if own, rest, found := strings.Cut(strings.TrimPrefix(more, `,"limits":{`), "}"); strings.HasPrefix(more,
		`,"limits":{`) && found {
		var laid map[string]any
		require.NoError(t, json.Unmarshal([]byte(limits), &laid))
		limits, more = with(laid, own), rest
	}
	return judge(t, name, fmt.Sprintf(`{"reading":%s,"limits":%s%s}`, with(reading, changes), limits, more))
}

// TestEveryCheckJustInsideAndJustOutside holds each finding's limit from both
// sides.
func TestEveryCheckJustInsideAndJustOutside(t *testing.T) {
	conditions := func(c string) string { return `,"conditions":{` + c + `}` }
	today := conditions(`"date":"2026-11-24"`)
	base := func(limits string) string { return `,"limits":{` + limits + `}` }
	for _, c := range []struct{ check, changes, more, want string }{
		{"lanes", ``, ``, sound},
		{"lanes", `"a":1820,"b":1830`, ``, sound},
		{
			"lanes", `"a":1819,"b":1830`, ``,
			"abnormal recheck [drop-excessive.a] <over-rich late-timing.a> (lean-and-repeat)",
		},
		{
			"lanes", `"b":1991`, ``,
			"abnormal stop [no-drop.b] <ungrounded-magneto.a early-timing.b> (keep-clear-of-propeller ground-aircraft)",
		},
		{"lanes",
			`"stoppedA":true,"a":null,"bothAfterA":null,"b":null,"bothAfterB":null,"roughA":null,"roughB":null,"stoppedB":null,"lampOnA":null,"lampOutA":null,"lampOnB":false`, ``,
			"abnormal stop [engine-stopped.a] <dead-magneto.a switch-to-off> (throttle-idle-mixture-off " +
				"ground-aircraft)"},
		{"lanes", `"a":2000,"b":2005`, base(`"dropMin":0`), sound},
		{
			"lanes", `"a":2000,"lampOnB":null,"lampOutB":null`, base(`"dropMin":0`),
			"abnormal stop [no-drop.a] <ungrounded-magneto.b early-timing.a> (keep-clear-of-propeller ground-aircraft)",
		},
		{"lanes", `"lampOnB":false`, ``, "abnormal stop [no-annunciation.b] <lamp-or-monitor> (ground-aircraft)"},
		{"lanes", `"lampOutA":false`, ``, "abnormal stop [lane-failed.a] <lane-module> (ground-aircraft)"},
		{
			"lanes", `"lampOnA":false,"secondsHeldA":1`, ``,
			"abnormal stop [held-too-short.a no-annunciation.a] <lamp-or-monitor> (ground-aircraft)",
		},
		{"control-unit", ``, ``, sound},
		{"control-unit", `"rpmSwing":301`, ``, "abnormal stop [swing-excessive] <control-unit-half> (ground-aircraft)"},
		{"control-unit", `"lampsOut":false`, ``, "abnormal stop [lamp-stays-on] <control-unit-half> (ground-aircraft)"},
		{
			"control-unit", `"engineStopped":true,"rpmSwing":null,"lampsOut":null`, ``,
			"abnormal stop [engine-stopped] <control-unit-half> (shut-down ground-aircraft)",
		},
		{
			"control-unit", `"propellerCycled":false`, ``,
			"caution recheck [sequence-incomplete] <test-cut-short> (repeat-check)",
		},
		{
			"control-unit", `"lampSequenceComplete":false`, `,"attempt":2`,
			"abnormal stop [sequence-incomplete] <test-cut-short> (ground-aircraft)",
		},
		{"mixture-peak", `"setRPM":1730`, ``, sound},
		{"mixture-peak", `"setRPM":1731`, ``, "caution recheck [not-enriched] <lever-not-moved-back> (enrich-from-peak)"},
		{"mixture-peak", `"setRPM":1700`, ``, sound},
		{"mixture-peak", `"setRPM":1699`, ``, "caution recheck [over-enriched] <lever-moved-too-far> (repeat-check)"},
		{
			"mixture-peak", `"setSide":"lean","setRPM":1600`, ``,
			"caution recheck [not-enriched] <lever-not-moved-back> (enrich-from-peak)",
		},
		{"mixture-peak", `"startRPM":1740`, ``, sound},
		{"mixture-peak", `"startRPM":1741`, ``, "caution recheck [already-lean] <mixture-adjustment> (repeat-check)"},
		{"mixture-peak", `"peakRPM":1699`, ``, "invalid recheck [peak-not-found] <> (repeat-check)"},
		{"mixture-peak", `"setRPM":1751`, `,"attempt":3`, "invalid recheck [peak-not-found] <> (repeat-check)"},
		{"idle-mixture", `"peakRPM":610`, ``, sound},
		{"idle-mixture", `"peakRPM":609`, ``, "caution continue [idle-lean] <idle-adjustment> (write-squawk)"},
		{"idle-mixture", `"peakRPM":650`, ``, sound},
		{"idle-mixture", `"peakRPM":651`, ``, "caution continue [idle-rich] <idle-adjustment> (write-squawk)"},
		{"static-rpm", `"rpm":2280`, base(`"fallPer1000Ft":30`), sound},
		{"static-rpm", `"rpm":2279`, base(`"fallPer1000Ft":30`), "invalid recheck [day-limit-unknown] <> (give-the-day)"},
		{"static-rpm", `"rpm":2191`, base(`"fallPer1000Ft":30`), "invalid recheck [day-limit-unknown] <> (give-the-day)"},
		{
			"static-rpm", `"rpm":2190`, base(`"fallPer1000Ft":30`),
			"abnormal stop [static-low] <power-missing> (ground-aircraft)",
		},
		// 3,721 ft
		{
			"static-rpm", `"rpm":2168`,
			base(`"fallPer1000Ft":30`) + conditions(`"elevationFt":2000,"qnhHPa":1013.2,"oatC":26`), sound,
		},
		{
			"static-rpm", `"rpm":2167`,
			base(`"fallPer1000Ft":30`) + conditions(`"elevationFt":2000,"qnhHPa":1013.2,"oatC":26`),
			"abnormal stop [static-low] <power-missing> (ground-aircraft)",
		},
		{
			"static-rpm", `"rpm":2290`,
			base(`"fallPer1000Ft":30`) + conditions(`"elevationFt":2000,"qnhHPa":1013.2,"oatC":26`),
			"caution recheck [static-high] <tachometer-or-propeller> (repeat-check)",
		},
		{"static-rpm", `"rpm":2280`, ``, sound},
		{"static-rpm", `"rpm":2279`, ``, "abnormal stop [static-low] <power-missing> (ground-aircraft)"},
		{"static-rpm", `"rpm":2401`, ``, "caution recheck [static-high] <tachometer-or-propeller> (repeat-check)"},
		{"propeller", `"low":2000`, ``, sound},
		{"propeller", `"low":2001`, ``, "abnormal stop [no-governing] <governor-or-oil lever-linkage> (ground-aircraft)"},
		{"propeller", `"low":1700`, ``, sound},
		{"propeller", `"low":1699`, ``, "caution recheck [pulled-too-far] <lever-moved-too-far> (repeat-check)"},
		{
			"propeller", `"manifoldRose":false,"oilPressureDipped":false`, ``,
			"caution recheck [tachometer-or-governor no-oil-response] <instrument-or-governor governor-or-oil> " +
				"(repeat-check)",
		},
		{"propeller", `"after":2175`, ``, sound},
		{"propeller", `"after":2174`, ``, "caution recheck [slow-recovery] <cold-oil> (repeat-check)"},
		{"propeller", `"cycles":2,"low":1600,"after":2000`, ``, "invalid recheck [too-few-cycles] <> (repeat-check)"},
		{"propeller", `"cycles":2,"low":2200`, ``, "invalid recheck [too-few-cycles] <> (repeat-check)"},
		{
			"propeller", `"low":1699`, `,"attempt":3`,
			"caution recheck [pulled-too-far] <lever-moved-too-far> (repeat-check)",
		},
		{
			"propeller", `"low":2200`, base(`"baseMin":2150`),
			"abnormal stop [no-governing] <governor-or-oil lever-linkage> (ground-aircraft)",
		},
		{
			"propeller", `"base":2149,"low":2140,"after":2149,"manifoldRose":false`, base(`"baseMin":2150`),
			"invalid recheck [tachometer-or-governor base-out-of-range] <instrument-or-governor> (set-base " +
				"repeat-check)",
		},
		{"feather", `"low":1499`, base(`"baseMax":1499`), "invalid recheck [base-out-of-range] <> (set-base)"},
		{"feather", `"low":1300`, ``, sound},
		{
			"feather", `"low":1301`, ``,
			"caution recheck [no-feather] <cold-oil feather-linkage-or-charge> (warm-hub-and-repeat)",
		},
		{
			"feather", `"low":1301`, `,"attempt":2`,
			"abnormal stop [no-feather] <cold-oil feather-linkage-or-charge> (ground-aircraft)",
		},
		{
			"feather", `"low":999`, `,"attempt":9`,
			"caution recheck [feather-too-deep] <lever-moved-too-far> (repeat-check)",
		},
		{"feather", `"low":999`, ``, "caution recheck [feather-too-deep] <lever-moved-too-far> (repeat-check)"},
		{"feather", `"after":1474`, ``, "caution recheck [slow-recovery] <cold-oil> (repeat-check)"},
		{"governor-hold", `"rpmAfter":2225`, ``, sound},
		{
			"governor-hold", `"rpmAfter":2174`, ``,
			"abnormal stop [governor-not-holding] <governor-or-oil> (ground-aircraft)",
		},
		{
			"governor-hold", `"rpmBefore":2099,"rpmAfter":2000`, ``,
			"invalid recheck [below-governing-range] <> (set-base)",
		},
		{
			"governor-hold", `"manifoldAfterInHg":20.9,"rpmAfter":2300`, ``,
			"invalid recheck [step-too-small] <> (repeat-check)",
		},
		{"battery", `"volts":11.8`, ``, sound},
		{"battery", `"volts":11.7`, ``, "abnormal stop [battery-low] <battery-flat> (use-external-power)"},
		{
			"battery", `"volts":11.7`, conditions(`"engineKind":"piston"`),
			"caution recheck [battery-low] <battery-flat> (use-external-power)",
		},
		{"fuel-pressure", `"idle":14,"runUp":21,"fullPower":18`, ``, sound},
		{
			"fuel-pressure", `"idle":13.9,"runUp":15.9,"fullPower":17.9`, ``,
			"abnormal stop [pressure-low.idle pressure-low.run-up pressure-low.full-power] <fuel-pump-or-filter> " +
				"(ground-aircraft)",
		},
		{
			"fuel-pressure", `"runUp":35.1,"fullPower":35`, ``,
			"abnormal stop [pressure-high.run-up] <fuel-regulator> (ground-aircraft)",
		},
		{"fuel-pressure", `"fullPower":19`, ``, sound},
		{
			"fuel-pressure", `"fullPower":18.9`, ``,
			"abnormal stop [pressure-sags] <fuel-pump-or-filter> (ground-aircraft)",
		},
		{"fuel-pressure", `"fullPower":null`, ``, sound},
		{
			"fuel-pressure", `"pumps":[{"name":"engine","pressure":14},{"name":"electric","pressure":13.9}]`, ``,
			"abnormal stop [pump-weak.electric] <fuel-pump> (ground-aircraft)",
		},
		{"diesel-start", `"secondsToOilPressure":3`, ``, sound},
		{
			"diesel-start", `"secondsToOilPressure":3.1`, ``,
			"abnormal stop [oil-pressure-late] <no-oil-to-gauge> (shut-down ground-aircraft)",
		},
		{"diesel-start", `"glowLampOut":false`, ``, "caution continue [cranked-on-glow] <> ()"},
		{
			"turbine-start",
			`"batteryVolts":24,"tailwindKt":10,"fuelAtSpoolPercent":15,"fuelAtTempC":150,"lightOffSeconds":3,"peakTempC":810,"secondsToIdle":60,"idleSpoolPercent":59`,
			``, sound,
		},
		{"turbine-start", `"batteryVolts":23.9`, ``, "abnormal stop [battery-low] <battery-flat> (use-external-power)"},
		{"turbine-start", `"tailwindKt":11`, ``, "caution continue [tail-wind] <> (turn-into-wind)"},
		{
			"turbine-start", `"fuelAtSpoolPercent":14.9`, ``,
			"abnormal stop [fuel-too-early] <gate-not-waited-for> (record-exceedance tell-maintenance shut-down)",
		},
		{
			"turbine-start", `"fuelAtSpoolPercent":14.9,"secondsToIdle":null,"idleSpoolPercent":null`, ``,
			"abnormal stop [fuel-too-early hung-start] <gate-not-waited-for weak-acceleration> (cut-fuel keep-motoring)",
		},
		{
			"turbine-start", `"fuelAtTempC":151`, ``,
			"abnormal stop [fuel-too-hot] <gate-not-waited-for> (record-exceedance tell-maintenance shut-down)",
		},
		{
			"turbine-start", `"lightOffSeconds":3.1,"oilPressureAtIdle":false`, ``,
			"abnormal stop [no-light-off] <igniter-or-fuel> (record-exceedance tell-maintenance shut-down)",
		},
		{
			"turbine-start", `"lightOffSeconds":null,"peakTempC":null,"secondsToIdle":null,"idleSpoolPercent":null`, ``,
			"abnormal stop [no-light-off] <igniter-or-fuel> (cut-fuel drain-and-vent)",
		},
		{
			"turbine-start", `"peakTempC":811,"secondsAboveLimit":10`, ``,
			"caution continue [temperature-transient] <> (record-exceedance)",
		},
		{
			"turbine-start", `"peakTempC":811,"secondsAboveLimit":10.1`, ``,
			"abnormal stop [hot-start] <weak-acceleration wind-or-early-fuel> (record-exceedance tell-maintenance " +
				"shut-down)",
		},
		{
			"turbine-start", `"peakTempC":811,"secondsAboveLimit":10.1,"secondsToIdle":null,"idleSpoolPercent":null`,
			``,
			"abnormal stop [hot-start] <weak-acceleration wind-or-early-fuel> (cut-fuel keep-motoring " +
				"record-exceedance)",
		},
		{
			"turbine-start", `"peakTempC":927,"secondsAboveLimit":1`, ``,
			"caution continue [temperature-transient] <> (record-exceedance)",
		},
		{
			"turbine-start", `"peakTempC":928,"secondsAboveLimit":1,"spoolAlwaysRising":false`, ``,
			"abnormal stop [hot-start] <weak-acceleration wind-or-early-fuel> (record-exceedance tell-maintenance " +
				"shut-down)",
		},
		{
			"turbine-start", `"secondsToIdle":60.1`, ``,
			"abnormal stop [hung-start] <weak-acceleration> (record-exceedance tell-maintenance shut-down)",
		},
		{
			"turbine-start", `"secondsToIdle":null,"idleSpoolPercent":null`, ``,
			"abnormal stop [hung-start] <weak-acceleration> (cut-fuel)",
		},
		{
			"turbine-start", `"spoolAlwaysRising":false,"secondsToIdle":null`, ``,
			"abnormal stop [hung-start] <weak-acceleration> (cut-fuel)",
		},
		{
			"turbine-start", `"idleSpoolPercent":65.1`, ``,
			"caution recheck [idle-out-of-range] <fuel-control> (repeat-check)",
		},
		{
			"turbine-start", `"idleSpoolPercent":58.9,"oilPressureAtIdle":false`, ``,
			"abnormal stop [idle-out-of-range no-oil-pressure] <fuel-control no-oil-to-gauge> (shut-down " +
				"ground-aircraft)",
		},
		{"clutch", `"bladesTurningSeconds":5,"lampOutSeconds":100`, ``, sound},
		{
			"clutch", `"bladesTurningSeconds":5.1`, ``,
			"abnormal stop [blades-late] <belts-slip> (shut-down ground-aircraft)",
		},
		{
			"clutch", `"lampOutSeconds":null`, ``,
			"abnormal stop [belt-lamp-late] <belt-actuator> (shut-down ground-aircraft)",
		},
		{"needle-split", `"splitPercent":5`, ``, sound},
		{"needle-split", `"splitPercent":4.9`, ``, "caution recheck [no-split] <freewheel> (repeat-from-higher-speed)"},
		{"needle-split", `"splitPercent":4.9`, `,"attempt":2`, "abnormal stop [no-split] <freewheel> (ground-aircraft)"},
		{"deceleration", `"startSpoolPercent":90,"seconds":2`, ``, sound},
		{"deceleration", `"seconds":1.9`, ``, "abnormal stop [deceleration-too-quick] <fuel-control> (ground-aircraft)"},
		{
			"deceleration", `"startSpoolPercent":89.9,"seconds":1`, ``,
			"invalid recheck [start-below-gate] <> (repeat-check)",
		},
		{
			"deceleration", `"startSpoolPercent":80,"seconds":null,"flamedOut":true`, ``,
			"abnormal stop [engine-stopped start-below-gate] <fuel-control> (shut-down ground-aircraft)",
		},
		{"hydraulics", `"stiffWhenOff":false`, ``, "abnormal stop [assist-stays-on] <hydraulic-valve> (ground-aircraft)"},
		{
			"hydraulics", `"freeWhenOn":false,"residualPull":true`, ``,
			"abnormal stop [no-assist pulls] <hydraulic-pump hydraulic-servo> (ground-aircraft)",
		},
		{"low-rotor-warning", `"onAtPercent":95`, ``, sound},
		{
			"low-rotor-warning", `"onAtPercent":94.9`, ``,
			"caution recheck [warning-out-of-band] <warning-unit> (repeat-check)",
		},
		{
			"low-rotor-warning", `"onAtPercent":98.1,"offAtPercent":null`, ``,
			"caution recheck [warning-out-of-band warning-stays-on] <warning-unit> (repeat-check)",
		},
		{"low-rotor-warning", `"onFromIdle":true,"onAtPercent":null`, ``, sound},
		{
			"low-rotor-warning", `"onFromIdle":true,"onAtPercent":null,"offAtPercent":98.1`, ``,
			"caution recheck [warning-out-of-band] <warning-unit> (repeat-check)",
		},
		{
			"low-rotor-warning", `"onFromIdle":true,"onAtPercent":null,"offAtPercent":null`, ``,
			"caution recheck [warning-stays-on] <warning-unit> (repeat-check)",
		},
		{
			"low-rotor-warning", `"onAtPercent":null`, ``,
			"abnormal stop [warning-silent] <warning-unit> (ground-aircraft)",
		},
		{"heading", `"compassDeg":8`, ``, sound},
		{"heading", `"compassDeg":9`, ``, "caution recheck [heading-differs] <gyro-or-magnet> (set-heading)"},
		{"heading", `"runwayDeg":9`, ``, "abnormal stop [runway-mismatch] <wrong-runway gyro-or-magnet> (stop-and-ask)"},
		{"heading", `"compassDeg":360,"indicatorDeg":0,"runwayDeg":null`, ``, sound},
		{
			"heading", `"runwayDeg":null`, conditions(`"onRunway":true`),
			"invalid recheck [runway-unknown] <> (name-the-runway)",
		},
		{
			"database",
			`"expires":null,"databases":[{"name":"terrain","expires":"2026-11-23"},{"name":"charts","expires":"2026-11-24"}]`,
			today, "abnormal stop [database-expired.terrain] <data-not-renewed> (renew-data)",
		},
		{"database", ``, today, sound},
		{"database", `"expires":"2026-11-23"`, today, "abnormal stop [database-expired] <data-not-renewed> (renew-data)"},
		{
			"database", `"expires":"2026-11-23"`, conditions(`"date":"2026-11-24","rules":"VFR"`),
			"caution continue [database-expired] <data-not-renewed> (write-squawk stay-in-daylight-vfr)",
		},
		{"engines-differ", `"leftDrop":{"left":80,"right":120}`, ``, sound},
		{
			"engines-differ", `"leftDrop":{"left":80,"right":121}`, ``,
			"caution recheck [engines-differ.leftDrop] <one-engine-weak> (repeat-check)",
		},
		{"dead-cut", ``, ``, "normal continue [] <> (idle-only)"},
		{
			"dead-cut", `"ranOnAtOff":true,"fellAtOff":null`, ``,
			"abnormal stop [ungrounded-magneto] <ground-lead-open> (keep-clear-of-propeller ground-aircraft idle-only)",
		},
		{"dead-cut", `"fellAtOff":false`, ``, "invalid recheck [did-not-fall] <> (repeat-check idle-only)"},
	} {
		v := onBench(t, c.check, c.changes, c.more)
		assert.Equal(t, c.want, summary(v), "%s %s %s", c.check, c.changes, c.more)
		for _, cause := range v.Causes {
			assert.Regexp(t, `^[A-Z].*\.$`, cause.Message, cause.Code)
		}
		for _, action := range v.Actions {
			assert.Regexp(t, `^[A-Z].*\.$`, action.Message, action.Code)
		}
		for _, f := range v.Findings {
			assert.Regexp(t, `^[A-Z][^<>]*[.?]( It did not clear when the check was repeated\.)?$`, f.Message)
			assert.NotContains(t, f.Message, "%!")
		}
	}
}

func TestEveryCheckIsOnTheBench(t *testing.T) {
	elsewhere := []string{"piston-start", "altimeter", "magneto", "carb-heat", "suction", "charging", "gauges", "idle"}
	for _, d := range check.All() {
		if _, here := bench[d.Name]; !here {
			assert.Contains(t, elsewhere, d.Name)
		}
	}
}

func TestDaysAndCirclesAreRefusedByName(t *testing.T) {
	for _, c := range []struct{ name, reading, want string }{
		{"database", `{"expires":"2026-02-29"}`, "reading.expires must be a day such as 2026-11-24"},
		{"heading", `{"compassDeg":361,"indicatorDeg":0}`, "reading.compassDeg may not be above 360: 361"},
		{"turbine-start", `{"batteryVolts":24}`, "reading.tailwindKt is missing: a number in kt"},
		{
			"mixture-peak", `{"startRPM":1,"peakRPM":2,"setRPM":1,"setSide":"up"}`,
			"reading.setSide must be one of rich, lean",
		},
		{"battery", `{"volts":1e999}`, "reading.volts"},
		{"battery", `{"volts":"12,4 V"}`, "reading.volts must be a number in V"},
	} {
		_, err := check.Run(c.name, []byte(`{"reading":`+c.reading+`,"limits":`+bench[c.name].limits+`}`), types)
		assert.ErrorContains(t, err, c.want)
	}
	_, err := check.Run("database", []byte(`{"reading":{"expires":"2026-11-24"}}`), types)
	assert.ErrorContains(t, err, "conditions.date is missing")
}
