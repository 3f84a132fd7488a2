package e2e_test

import (
	"context"
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"jetprimer/core/recorder"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/exchange"
)

// TestScreenshots draws the pictures of the documentation from the demo
// school, into the folder that JETPRIMER_SCREENSHOTS names.
func TestScreenshots(t *testing.T) {
	dir := os.Getenv("JETPRIMER_SCREENSHOTS")
	if dir == "" {
		t.Skip("JETPRIMER_SCREENSHOTS names no folder")
	}
	served, d := serveSchool(t)
	net := relayTo(t, served)
	p := browseKept(t, net.url, 1280, 800)
	p.signIn(demo.Okonjo)
	p.see("Waits for you")
	p.shot(dir, "today")
	p.open("/today")
	p.click("a.line[href^='/lessons/']")
	p.see("Out of limits: test again")
	p.shot(dir, "lesson-day")
	p.do(chromedp.EmulateViewport(768, 1024))
	p.shot(dir, "lesson-tablet")
	p.do(chromedp.EmulateViewport(1280, 800))
	p.press("Dark")
	p.shot(dir, "lesson-night")
	p.press("Bright")
	p.until("navigator.serviceWorker.controller?.state === 'activated'")
	net.cut(true)
	p.do(chromedp.EmulateViewport(390, 844))
	p.goTo("Suction")
	p.within("[data-part=outbox]", "kept on this device since")
	p.shot(dir, "lesson-phone")
	net.cut(false)
	p.within("[data-part=outbox]", "all marks at the school")
	p.do(chromedp.EmulateViewport(1280, 800))

	p.open("/today")
	p.click("details.past summary")
	p.click("details.past a.line")
	p.until("document.querySelector('[data-part=strip] svg')")
	eval[any](p, `(s => { s.setPointerCapture = () => {}; const b = s.getBoundingClientRect()
		s.dispatchEvent(new PointerEvent('pointerdown', { clientX: b.left + b.width * 0.55, clientY: b.top + 40, buttons: 1, pointerId: 1, bubbles: true })) })(document.querySelector('[data-part=strip] svg'))`)
	p.within("[data-part=then]", "marked")
	p.shot(dir, "debrief")
	papers := t.TempDir()

	p.open("/day")
	p.among("Aircraft", "QZ-AAA Alder 110")
	p.fill("[name=report]", "METAR XTHW 241150Z 20008G14KT 9999 FEW040 34/12 Q0996")
	p.named("left", "40", "right", "32", "run", "420", "over50", "690", "own-da", "2500")
	p.within("[data-element=who]", "If anything happens")
	p.shot(dir, "day")

	p.open("/students/" + demo.Lindqvist.ID)
	p.see("What closes it")
	p.shot(dir, "student")
	p.open("/today")
	p.signOut()
	p.signIn(demo.Ferreira)
	p.open("/schedule")
	p.see("This week")
	p.drag("[data-line='QZ-AAC'] [data-planned]:nth-of-type(2)", cell("QZ-AAA", schooltest.Day))
	p.within("[data-part=moved]", "Cannot be")
	p.click("[data-action=propose]")
	p.until("document.querySelector('[data-proposed]')")
	p.shot(dir, "schedule")
	p.open("/aircraft/QZ-AAB")
	p.within("[data-part=trend]", "It meets its limit")
	p.shot(dir, "aircraft")
	p.open("/lists/alder-110")
	p.click("[data-action=describe-type]")
	p.named("name", "Alder 112", "source", "fictional type, Alder 112 handbook data, rev 1")
	p.click("[data-from='copy alder-110']")
	p.click("[data-action=describe]")
	p.click("[data-at='limits.magneto']")
	for _, number := range [][2]string{{"base", "1800"}, {"dropMax", "150"}, {"differenceMax", "50"}} {
		p.named("limits.magneto."+number[0], number[1], "limits.magneto."+number[0]+":page", "4-17")
	}
	p.within("[data-part=waits]", "numbers without their page")
	p.slide("input[name=left]", "1660")
	p.shot(dir, "type-builder")
	p.open("/today")
	p.signOut()
	p.signIn(demo.Moreau)
	p.practise("alder-110", "alone", "cold-cylinder")
	p.readsTheDrops()
	p.click("[data-control='ignition LEFT']")
	p.seconds(4)
	eval[any](p, "scrollTo(0, 0)")
	p.shot(dir, "stand")
	p.click("[data-flag=roughLeft]")
	p.click("[data-action=keep-reading]")
	p.click("[data-action=abnormal]")
	q := browse(t, p.url, 1280, 800)
	q.signIn(demo.Okonjo)
	q.open("/stand")
	q.click("[data-watch]")
	q.until("parseFloat(document.querySelector('[data-gauge=speed] b')?.innerText) > 1000")
	q.do(chromedp.SetValue("[data-pick=fault]", "left-magneto-ungrounded"))
	eval[any](q, "document.querySelector('[data-pick=fault]').dispatchEvent(new Event('change'))")
	q.click("[data-action=slip]")
	q.within("[data-part=wished]", "Slipped in")
	q.shot(dir, "station")
	p.click("[data-action=decide]")
	p.click("[data-decide=grounded]")
	p.until("document.querySelector('[data-trace=speed] path.other')")
	p.shot(dir, "stand-debrief")
	p.practise("willow-t5", "guided", "tail-wind")
	p.lit()
	p.shot(dir, "stand-turbine")
	p.click("[data-action=leave]")
	p.open("/today")
	p.signOut()
	p.signIn(demo.Ferreira)

	// What is told across the school needs a grown one: that of a demo that runs, at the
	// address that JETPRIMER_GROWN names, or this one, which takes some minutes.
	if grown := os.Getenv("JETPRIMER_GROWN"); grown != "" {
		p = browse(t, grown, 1280, 800)
		p.signIn(demo.Ferreira)
	} else {
		require.NoError(t, demo.Grow(context.Background(), d.Store, d.Catalog, schooltest.Day, func(int, int) {}))
	}
	p.open("/school")
	p.click("[data-sort=stuck]")
	p.until("document.querySelector('[data-stuck]')")
	p.shot(dir, "school")
	p.open("/compare")
	p.click("[data-instructor='" + demo.Orlow.ID + "']")
	p.shot(dir, "compare")
	p.open("/taught")
	p.click("[data-taught]")
	p.shot(dir, "taught")
	flight := filepath.Join(papers, "flight.csv")
	alder, _ := d.Catalog.Type("alder-110")
	recording, err := os.Create(flight)
	require.NoError(t, err)
	_, err = exchange.WriteRecording(recording,
		recorder.Make(alder, recorder.Making{Seed: 2, Interval: 0.5, Noise: 0.001, RunUps: 1}).Track, alder)
	require.NoError(t, err)
	require.NoError(t, recording.Close())
	p.open("/aircraft/QZ-AAC/recorder")
	p.until("document.querySelector('input[type=file]')")
	p.do(chromedp.SetUploadFiles("input[type=file]", []string{flight}))
	p.see("One run-up was found.")
	p.shot(dir, "recorder")
}
