package e2e_test

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"

	"jetprimer/demo"
)

// TestATurbineStart: both gates, timed by the timers, a transient, then a hot
// start that stops everything and offers its procedure; upright as well.
func TestATurbineStart(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 768, 1024)
	p.signIn(demo.Quist)
	p.openLesson(demo.Bello, "QZ-AAI Willow T5")
	p.click("[data-row=fuel-in]")
	p.within(".panel", "Turbine start")
	assert.True(t, eval[bool](p, "document.documentElement.scrollWidth <= innerWidth"))
	p.boxes("batteryVolts", "25.1", "tailwindKt", "0", "fuelAtSpoolPercent", "15", "fuelAtTempC", "150")
	p.click("[data-timer=lightOffSeconds]")
	p.within("[role=timer]", "light-off") // it stands above the list from now on, and moves it down
	p.click("[data-timer=secondsToIdle]")
	p.within("[role=timer]", "at most 3 s")
	p.within("[role=timer]", "idle reached")
	// each has run for long enough before it is stopped
	for _, timer := range []string{"lightOffSeconds", "secondsToIdle"} {
		p.until("Number(document.querySelector('#" + timer + "').value) >= 0.4")
	}
	p.click("[data-timer=lightOffSeconds]")
	p.click("[data-timer=secondsToIdle]")
	p.until("!document.querySelector('[role=timer]')")
	p.until("Number(document.querySelector('#secondsToIdle').value) >= 0.4")
	// How long the machine takes from a touch to the next is no reading: the person writes what they saw.
	p.boxes("lightOffSeconds", "2", "secondsToIdle", "40", "peakTempC", "905", "secondsAboveLimit", "6",
		"idleSpoolPercent", "62")
	p.click("[data-flag=spoolAlwaysRising]")
	p.click("[data-flag=oilPressureAtIdle]")
	p.within("[data-action=keep-reading]", "▲ Look again: go on. Keep this reading")
	p.within("[data-part=verdict]", "905 °C")
	p.click("[data-action=keep-reading]")

	p.click("[data-action=repeat]")
	p.within("[data-part=previous]", "Try 1: Look again, battery 25.1 V")
	p.boxes("batteryVolts", "24.2", "tailwindKt", "4", "fuelAtSpoolPercent", "16", "fuelAtTempC", "120",
		"lightOffSeconds", "2", "peakTempC", "928", "secondsAboveLimit", "1",
		"secondsToIdle", "40", "idleSpoolPercent", "60")
	p.click("[data-flag=spoolAlwaysRising]")
	p.click("[data-flag=oilPressureAtIdle]")
	p.within("[data-action=keep-reading]", "■ Out of limits: stop here")
	p.within("[data-part=verdict]", "→ Tell maintenance, with the numbers, before the next start.")
	p.click("[data-procedure=hot-turbine-start]")
	p.see("Fuel first, questions later.")
	p.click("[data-action=next-step]")
	p.within("[data-step='1'].now", "Keep motoring to cool it.")
	p.click("[data-action=hold]")
	p.within("[data-action=hold]", "s")
	p.key(kb.Escape)
	p.closed()
	p.click("[data-action=keep-reading]")
	p.within("[data-part=verdict]", "who was told")
}

// TestPercentAndTheKeys: a magneto check in percent, typed on the large keys; what cannot
// be used is said at once and the rest is kept.
func TestPercentAndTheKeys(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Solheim)
	p.openLesson(demo.Voss, "QZ-AAH Juniper H2")
	p.click("[data-row=magnetos]")
	p.live("Magnetos")
	p.click("[data-action=pad]")
	p.click("#base")
	for _, key := range []string{"7", "5", "next", "7", "0", ".", "9", "back", "5"} {
		p.click("[data-key='" + key + "']")
	}
	assert.Equal(t, []string{"75", "70.5"},
		eval[[]string](p, "['base', 'left'].map((id) => document.getElementById(id).value)"))
	for typed, why := range map[string]string{
		"70,500": "write 70500, or 70.500 with a point", "71 psi": "is not in", "-": "is not a plain number",
		"1e999": "is not a plain number",
	} {
		p.fill("#left", typed)
		p.see(why)
	}
	p.boxes("left", "70.5", "bothAfterLeft", "75", "right", "67.9", "bothAfterRight", "75")
	p.within("[data-part=verdict]", "The drop on the right magneto is 7.1 %; the limit is 7 %.")
	p.within("[data-action=keep-reading]", "■ Out of limits: test again")
	assert.Equal(t, "75", eval[string](p, "document.getElementById('base').value"), "the rest was kept")
}

// TestEveryInstrumentTakesItsReading: for a day, for rows that are added, for
// two engines side by side, the instrument has the boxes that its check needs.
func TestEveryInstrumentTakesItsReading(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Rask, "QZ-AAF Hornbeam Twin")
	p.click("[data-row=nav-data]")
	p.until("document.querySelector('#expires')")
	p.slide("#expires", "2020-01-01")
	p.within("[data-part=verdict]", "2020-01-01")
	p.click("[data-row=altimeters]")
	p.boxes("altimeters.0.setting", "1013", "altimeters.0.indicatedFt", "420")
	p.press("+ altimeters")
	p.boxes("altimeters.1.setting", "29.92", "altimeters.1.indicatedFt", "430")
	p.within("[data-part=verdict]", "an altimeter that is set to the elevation shows it, and proves nothing")
	for engine, drop := range map[string]string{"1": "1890", "2": "1850"} {
		p.click("[data-row=magnetos-" + engine + "], .engines [data-engine='" + engine + "']")
		p.until("document.querySelector('.engines [data-engine=\"" + engine + "\"].chosen')")
		p.boxes("base", "2000", "left", drop, "bothAfterLeft", "2000", "right", "1880", "bothAfterRight", "2000")
		p.click("[data-action=keep-reading]")
		p.within("[data-part=verdict]", "Within limits")
	}
	p.click("[data-row=engines-compared]")
	// taken over
	p.until("document.getElementById('leftDrop.left').value === '110' && " +
		"document.getElementById('leftDrop.right').value === '150'")
	p.boxes("manifold.left", "14", "manifold.right", "14", "oilPressure.left", "70", "oilPressure.right", "86",
		"oilTemperature.left", "80", "oilTemperature.right", "80",
		"propellerSeconds.left", "2", "propellerSeconds.right", "2")
	p.within("[data-part=verdict]", "Look again: test again")
	p.within("[data-part=verdict]", "16")
}

// TestAHotAndHighDay: from a pasted report to the spoken brief, the student's
// own numbers beside the computed ones, and what was not heard.
func TestAHotAndHighDay(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Okonjo)
	p.open("/day")
	p.among("Aircraft", "QZ-AAA Alder 110")
	p.fill("[name=report]", "XTHW 241150Z 20008KT 9999 FEW040 34/12 Q0996 GARBAGE")
	p.see("Not understood, and kept as written: GARBAGE.")
	p.within(".line-qnh", "altimeter setting, in 2 places report 996 hPa")
	p.within(".line-inhg", "29.41 inHg")
	p.within(".line-da", "3244 ft")
	p.see("The air is as thin as")
	p.within(".line-runway", "20")
	p.within(".line-prime", "2 strokes")
	p.named("left", "40", "right", "32")
	p.within(".line-takeoff", "left")
	p.within(".line-change", "70 min")
	p.fill("[name=own-da]", "2500")
	p.within(".line-da", "▲ -744 ft")
	p.fill("[name=own-takeoff]", "left")
	p.within(".line-takeoff", "● the same")
	p.named("run", "3x", "turn-back", "900")
	p.within("[data-wrong=takeoff-brief]", "Ground run must be a number in m")
	p.named("run", "420")
	p.within("[data-element=flying-by]", "at half of the run, 210 m, 40 knots")
	p.within("[data-element=no-runway-low]", "No runway left below 900 feet, 1312 feet on the altimeter")
	p.click("[data-element=runway]")
	p.within("[data-part=missing]", "Not heard: wind, configuration")
	p.click("[data-action=station]")
	p.see("Made up to practise with. It is no weather")
	p.until("document.querySelector('[name=report]').value.startsWith('METAR XTHW')")
	p.click("[data-switch=copying]")
	p.click("[data-action=station]")
	p.within("[data-part=broadcast]", "Tarn Hollow information")
	p.until("document.querySelector('[name=report]').value === ''") // the student copies it
}

// TestTheTimeOnATank: what was dipped makes the plan, the list follows the
// school's method, and the time on the tank runs from the take-off.
func TestTheTimeOnATank(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Ferreira)
	p.open("/policy")
	p.click("[data-version='policy 2']")
	p.click("[data-action=another]")
	p.until("location.pathname.endsWith('/3')")
	p.click("[data-choice='fuelMethod fuller-first']")
	p.within("[data-decision=fuelMethod]", "≠ today: start on the lower, take off on the fuller")
	p.click("[data-action=save]")
	p.within("[data-action=save]", "Saved")
	p.click("[data-tab=moves]")
	p.within("[data-part=moved]", "It would move none of 14 students")
	p.click("[data-action=review]")
	p.fromToday()
	p.click("[data-action=approve]")
	p.within(".steps .here", "in force")
	p.open("/today")
	p.signOut()
	p.signIn(demo.Okonjo)
	p.open("/lessons/new")
	p.among("Student", demo.Moreau.Name)
	p.among("Aircraft", "QZ-AAF Hornbeam Twin")
	p.within("[data-part=preview]", "items today")
	assert.False(t, eval[bool](p, "!!document.querySelector('[name=fuel-left]')"), "each engine has its own tank")
	p.among("Aircraft", "QZ-AAA Alder 110")
	p.named("fuel-left", "40")
	p.press("Open the lesson")
	p.see("The fuel in the right tank is not said yet: the plan needs both.")
	p.named("fuel-right", "32")
	p.within("[data-part=preview]", "items today")
	p.press("Open the lesson")
	p.until("document.querySelector('.live h2')")
	rows := p.rows()
	assert.Contains(t, rows, "fuel-fuller")
	assert.NotContains(t, rows, "fuel-lower", "the list follows the method")
	p.click("[data-row=time-noted]")
	p.live("Time")
	p.click("[data-mark=done]")
	p.within("[role=timer]", "on the left tank")
	p.within("[role=timer]", "change after 70 min")
}

// TestOralQuestions: asked at their item, answered on request, asked again in
// the debrief; the brief's elements are ticked as heard.
func TestOralQuestions(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Lindqvist, "QZ-AAC Alder 110")
	p.click("[data-row=magnetos]")
	p.within(".oral", "What drop on one magneto is allowed")
	assert.NotContains(t, p.text(".oral"), "At most 130")
	p.click(".oral [data-action=answer]")
	p.within(".oral", "At most 130 rpm, not more than 60 rpm apart, at least 20 rpm.")
	p.key("3")
	p.within(".oral", "asked: level 3")
	p.click("[data-action=another-question]")
	p.within(".oral", "One magneto shows no drop at all")
	p.click("[data-row=brief-normal]")
	p.click("[data-heard=runway]")
	p.click("[data-action=keep-brief]")
	p.within(".about", "Brief: 1 of 11 heard; not heard: wind, across and along")
	p.click("a.debrief")
	p.within("[data-asked=limit-magneto-drop]", "level 3")
	p.click("[data-part=oral-card] [data-card='4']")
	p.until("document.querySelectorAll('[data-asked]').length === 2")
}

// TestReferencePages: the reader drags a reading and the verdict follows.
func TestReferencePages(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Moreau)
	p.open("/reference")
	p.within("article h1", "Battery")
	p.click("[data-check=suction]")
	p.within("[data-part=verdict]", "● Within limits")
	p.within(".limits", "Alder 110 Hornbeam Twin")
	p.within("[data-part=usual]",
		"Suction is 4.4 inHg; the lowest allowed is 4.5 inHg. The vacuum pump, its regulator or its filter.")
	p.slide("input[name=inHg]", "4.2")
	p.within("[data-part=verdict]", "■ Out of limits: stop here")
	p.see("Suction is 4.2 inHg; the lowest allowed is 4.5 inHg.")
	p.click("[data-type=hornbeam-twin]")
	p.within("[data-part=verdict]", "● Within limits")
	for _, check := range []string{"turbine-start", "engines-differ", "gauges", "altimeter", "control-unit"} {
		p.click("[data-check=" + check + "]")
		p.within("[data-part=verdict]", "● Within limits")
	}
	p.do(chromedp.EmulateViewport(768, 1024))
	assert.True(t, eval[bool](p, "document.documentElement.scrollWidth <= innerWidth"))
}
