package e2e_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
)

// cell is where a line and a day of the schedule meet.
func cell(line string, day time.Time) string {
	return fmt.Sprintf("[data-cell][data-line='%s'][data-day='%s']", line, day.Format(time.DateOnly))
}

// plan plans a lesson in the dialog, once it is open.
func (p *page) plan(student demo.Person, aircraft, on, at, weeks string) {
	p.Helper()
	p.click("[data-action=plan]")
	p.pick("book-student", student.Name)
	p.pick("book-aircraft", aircraft)
	p.slide("[name=book-on]", on)
	p.slide("[name=book-at]", at)
	p.press(weeks)
	p.click("[data-action=book]")
}

// TestAWeekIsPlannedOnItsPage: planned each week, dragged, refused in words with
// the ways in which it would go, put back, moved by keys, stretched, proposed,
// taken off with who stands by, and read by a calendar.
func TestAWeekIsPlannedOnItsPage(t *testing.T) {
	t.Parallel()
	url := serve(t)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Okonjo)
	monday := schooltest.Day.AddDate(0, 0, 8)
	for monday.Weekday() != time.Monday {
		monday = monday.AddDate(0, 0, 1)
	}
	tuesday, day := monday.AddDate(0, 0, 1), monday.Format(time.DateOnly)
	p.open("/schedule?from=" + day)
	p.within("[data-part=grid]", "QZ-AAI")
	p.plan(demo.Sandoval, "QZ-AAA Alder 110", day, "10:00", "2 weeks")
	p.within(cell("QZ-AAA", monday), "10:00 Ravi")
	p.plan(demo.Brandt, "QZ-AAA Alder 110", day, "10:30", "once")
	p.see("Ravi Sandoval with Tunde Okonjo on QZ-AAA.")
	p.click("[data-instead='11:30']")
	p.within(cell("QZ-AAA", monday), "11:30 Odile")

	// Put on another's time and aircraft it is refused, and stays; a way that is
	// offered is taken and put back.
	odile := cell("QZ-AAA", monday) + " [data-planned]:nth-of-type(2)"
	id := eval[string](p, "document.querySelector("+js(odile)+").dataset.planned")
	odile = "[data-planned='" + id + "']"
	p.drag(odile, cell("QZ-AAC", tuesday))
	p.within("[data-part=moved]", "Moved: Odile Brandt")
	p.within(cell("QZ-AAC", tuesday), "11:30 Odile")
	p.click("[data-action=put-back]")
	p.within(cell("QZ-AAA", monday), "11:30 Odile")
	p.open("/schedule?days=1&from=" + day)
	p.within(cell("QZ-AAA", monday), "11:30 Odile")
	p.drag(odile, "[data-line='QZ-AAA'] [data-planned]:not("+odile+")")
	p.within("[data-part=moved]", "Cannot be: Odile Brandt")
	p.within("[data-part=moved]", "Ravi Sandoval")
	p.until("document.querySelector('[data-part=moved] [data-instead]')")
	p.click("[data-action=put-back]")
	p.until("!document.querySelector('[data-part=moved]')")
	p.within(cell("QZ-AAA", monday), "11:30 Odile")

	// The same by keys: up and on a quarter of an hour, half an hour longer.
	eval[any](p, "document.querySelector("+js(odile)+").focus()")
	for _, key := range []string{"m", kb.ArrowDown, kb.ArrowRight} {
		p.key(key)
	}
	p.until("document.querySelector('[data-ghost]')?.innerText.includes('11:45')")
	p.key(kb.Enter)
	p.within("[data-part=moved]", "11:45, QZ-AAB")
	p.within(cell("QZ-AAB", monday), "11:45 Odile")
	before := eval[float64](p, "document.querySelector("+js(odile)+").getBoundingClientRect().width")
	p.drag(odile+" .edge", "[data-line='QZ-AAB'] .tick:nth-of-type(5)")
	p.until(fmt.Sprintf("document.querySelector(%s).getBoundingClientRect().width > %f", js(odile), before+20))

	// What is proposed says why, and is booked as it stands.
	p.open("/schedule?by=student&from=" + day)
	p.click("[data-action=propose]")
	p.until("document.querySelector('[data-proposed]')")
	proposed := eval[string](p, "document.querySelector('[data-proposed]').dataset.proposed")
	p.press("why this")
	p.within("[data-part=why]", "of the readiness")
	p.click("[data-action=book-proposed]")
	p.until("document.querySelector(\"[data-line='" + proposed + "'] [data-planned]\")")

	// Leave is drawn; who stands by is told of what becomes free.
	p.click("[data-action=away]")
	p.slide("[name=away-from]", tuesday.Format(time.DateOnly))
	p.slide("[name=away-to]", tuesday.Format(time.DateOnly))
	p.fill("[name=away-why]", "a course")
	p.click("[data-action=note-away]")
	p.within("[data-away]", "a course")
	p.open("/schedule?by=instructor&from=" + day)
	p.within(cell(demo.Okonjo.ID, tuesday), "a course")
	p.click("[data-action=stand-by]")
	p.pick("standby-student", demo.Halloran.Name)
	p.slide("[name=standby-from]", day)
	p.slide("[name=standby-to]", day)
	p.click("[data-action=save-standby]")
	p.until("document.querySelector('[data-standby]')")
	p.click(odile)
	p.fill("[name=cancel-why]", "fog")
	p.click("[data-action=cancel-booking]")
	p.within("[data-part=standby]", "Jun Halloran stands by and could take its time.")
	p.until("!document.querySelector(" + js(odile) + ")")

	p.open("/schedule")
	p.click("[data-action=calendar]")
	p.click("[data-action=renew-calendar]")
	p.until("document.querySelector('[data-part=address]')")
	assert.Contains(t,
		later[string](p,
			"fetch(document.querySelector('[data-part=address]').innerText, {credentials: 'omit'}).then((r) => "+
				"r.text())"), "SUMMARY:Ravi Sandoval\\, QZ-AAA")

	// A student sees that something is booked, and what is their own.
	o := browse(t, url, 390, 844)
	o.signIn(demo.Sandoval)
	o.open("/schedule?from=" + day)
	o.within(cell("QZ-AAA", monday), "10:00 Ravi")
	require.NotContains(t, o.text("[data-part=grid]"), "Odile")
}
