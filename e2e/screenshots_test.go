package e2e_test

import (
	"os"
	"testing"

	"github.com/chromedp/chromedp"

	"jetprimer/demo"
)

// TestScreenshots draws the pictures of the documentation from the demo
// school, into the folder that JETPRIMER_SCREENSHOTS names.
func TestScreenshots(t *testing.T) {
	dir := os.Getenv("JETPRIMER_SCREENSHOTS")
	if dir == "" {
		t.Skip("JETPRIMER_SCREENSHOTS names no folder")
	}
	p := browse(t, serve(t), 1280, 800)
	p.open("/sign-in")
	p.see("Jet Primer")
	p.shot(dir, "sign-in")

	p.signIn(demo.Okonjo)
	p.see("Waiting for a signature")
	p.shot(dir, "today")
	p.press("Open a lesson")
	p.see("Engine")
	p.shot(dir, "open-lesson")

	p.open("/today")
	p.click("a.line[href^='/lessons/']")
	p.see("Out of limits: test again")
	p.shot(dir, "lesson-day")
	for _, size := range []struct {
		name          string
		width, height int64
	}{{"lesson-tablet", 768, 1024}, {"lesson-phone", 390, 844}} {
		p.do(chromedp.EmulateViewport(size.width, size.height))
		p.shot(dir, size.name)
	}
	p.do(chromedp.EmulateViewport(1280, 800))
	p.press("Night")
	p.shot(dir, "lesson-night")
	p.press("Day")
	p.click("a.debrief")
	p.see("End the lesson")
	p.shot(dir, "debrief")

	p.open("/students/" + demo.Lindqvist.ID)
	p.see("What closes it")
	p.shot(dir, "student")
	p.open("/school")
	p.see("14 students")
	p.shot(dir, "school")
}
