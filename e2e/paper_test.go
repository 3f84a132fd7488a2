package e2e_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jetprimer/demo"
)

// TestALessonIsWrittenDownFromPaper: the chief instructor says that it was kept on paper
// and when; the list, the debrief and its times say so, and no clock runs.
func TestALessonIsWrittenDownFromPaper(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Ferreira)
	p.open("/lessons/new")
	p.among("Student", demo.Moreau.Name)
	p.among("Aircraft", "QZ-AAA Alder 110")
	p.click("[name=on-paper]")
	p.press("Open the lesson")
	p.see("The day on the paper must be a day")
	day := eval[string](p, "new Date(Date.now() - 3 * 86400000).toISOString().slice(0, 10)")
	p.slide("[name=paper-day]", day)
	p.slide("[name=paper-off]", "10:05")
	p.slide("[name=paper-on]", "11:20")
	p.within("[data-part=preview]", "items today")
	p.press("Open the lesson")
	p.live("Papers and list")
	p.within("header .clock", "from paper")
	p.within("[data-part=flag]", "written down from paper by "+demo.Ferreira.Name)
	p.key(" ")
	p.key("d")
	p.within("[data-part=paper]", "flown on "+day+", off 10:05, on 11:20, as read.")
	p.within("[data-part=times]", "1 h 15 min")
	p.within("[data-part=flag]", "written down from paper")
	assert.False(t, eval[bool](p, "!!document.querySelector('[data-part=strip] svg')"), "nothing is drawn in time")
}
