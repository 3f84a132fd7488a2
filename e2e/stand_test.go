package e2e_test

import (
	"testing"
	"time"

	"jetprimer/demo"
)

// TestAStudentOnThePracticeStand: starts an engine with the controls of its flow, meets
// what the needles show, goes back, decides, and is told what the server has run again.
func TestAStudentOnThePracticeStand(t *testing.T) {
	t.Parallel()
	url, _ := serveSchool(t)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Moreau)
	p.open("/stand")
	p.started("first-start")
	p.click("[data-action=sound]")
	p.within("[data-action=sound]", "sound on")
	p.click("[data-action=pause]")
	p.click("[data-action=back]")
	p.until("parseFloat(document.querySelector('[data-gauge=speed] b').innerText) < 500")
	p.click("[data-action=decide]")
	p.click("[data-decide=grounded]")
	p.within("[data-part=answer]", "Nothing was wrong")
	p.click("[data-action=leave]")
	p.click("[data-type=willow-t5]")
	p.click("[data-scenario=no-light]")
	p.within("[data-gauge=spool]", "0.0 %")
	p.click("[data-action=decide]")
	p.click("[data-decide=grounded]")
	p.within("[data-part=answer]", "igniter gives no spark")
	p.click("[data-action=leave]")
	p.click("[data-make='3']")
	p.within(".goal", "say whether you would go")
}

// started begins a scenario of the carburetted single and starts its engine.
func (p *page) started(scenario string) {
	p.Helper()
	p.click("[data-scenario=" + scenario + "]")
	p.within("[data-gauge=speed]", "0 rpm")
	p.click("[data-control=master]")
	p.slide("[data-control=mixture]", "1")
	p.slide("[data-control=throttle]", "0.15")
	for range 2 {
		p.held("[data-control=primer]", 100*time.Millisecond)
	}
	p.click("[data-control='ignition BOTH']")
	p.held("[data-control=starter]", 2500*time.Millisecond)
	p.until("parseFloat(document.querySelector('[data-gauge=speed] b').innerText) > 500")
}

// runUpOnTheStand brings a stand with a dead plug to its ignition check, one side alone.
func (p *page) runUpOnTheStand() {
	p.Helper()
	p.open("/stand")
	p.started("cold-cylinder")
	p.click("[data-control=avionics]")
	p.click("[data-control=brakes]")
	p.slide("[data-control=throttle]", "0.42")
	time.Sleep(14 * time.Second)
	p.click("[data-control='ignition RIGHT']")
	time.Sleep(5 * time.Second)
	p.click("[data-control='ignition BOTH']")
	time.Sleep(5 * time.Second)
	p.click("[data-control='ignition LEFT']")
	time.Sleep(5 * time.Second)
	p.click("[data-action=pause]")
}
