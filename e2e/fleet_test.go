package e2e_test

import (
	"testing"

	"jetprimer/demo"
)

// TestACreepingMagnetoIsSeen: maintenance reads in the fleet what goes to its limit,
// opens the aircraft, sees where it goes, and the aircraft of the type beside it.
func TestACreepingMagnetoIsSeen(t *testing.T) {
	t.Parallel()
	url := serve(t)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Achterberg)
	p.open("/aircraft")
	p.within("[data-part=trends]", "QZ-AAB Magneto check, right drop: rising")
	p.click("[data-part=trends] a")
	p.within("[data-part=trend]", "It meets its limit in some")
	p.within("[data-part=finding]", "Right magneto 138 rpm and rough")
	p.click("[data-series='idle idle 1 rpm']")
	p.within("[data-part=trend]", "steady")

	small := browse(t, url, 390, 844)
	small.signIn(demo.Achterberg)
	small.open("/aircraft/QZ-AAB")
	small.within("[data-part=trend]", "It meets its limit in some")
	small.until("document.documentElement.scrollWidth <= 390")
	small.open("/aircraft")
	small.until("document.querySelector('[data-readings]')")
	small.until("document.documentElement.scrollWidth <= 390")
}
