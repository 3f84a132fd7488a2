package e2e_test

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/check"
	"jetprimer/demo"
)

// magnetos fills the boxes of a magneto check.
func (p *page) magnetos(left, right string, rough bool) {
	p.Helper()
	if rough {
		p.click("[data-flag=roughRight]")
	}
	p.boxes("base", "1750", "left", left, "bothAfterLeft", "1750", "right", right, "bothAfterRight", "1750")
}

// live waits until the item with that challenge is the live one.
func (p *page) live(challenge string) { p.Helper(); p.within(".live h2", challenge) }

// closed waits until no dialog lies over the lesson.
func (p *page) closed() {
	p.Helper()
	p.until("[...document.querySelectorAll('.el-overlay')].every((o) => getComputedStyle(o).display === 'none')")
}

// TestFirstLesson is the whole story: an instructor opens a lesson, works the
// list, measures, finds, decides, ends and signs; the student and the chief
// instructor see what it did.
func TestFirstLesson(t *testing.T) {
	t.Parallel()
	url := serve(t)
	p := browse(t, url, 1280, 800)
	deferred := "[data-element=deck-inoperative-risk]"
	row := fmt.Sprintf("[data-student='%s']", demo.Moreau.ID)

	p.signIn(demo.Ferreira)
	p.open("/school")
	p.within(row, "1 lesson")
	rowBefore := p.text(row)
	p.signOut()
	p.signIn(demo.Moreau)
	p.within(deferred, "introduced")
	require.Contains(t, p.text("[data-part=readiness]"), "Not ready yet:")
	p.signOut()

	p.signIn(demo.Okonjo)
	p.press("Open a lesson")
	p.see("everything here goes into the record")
	p.press("Open the lesson")
	p.see("The student is not chosen yet.")
	p.among("Student", demo.Moreau.Name)
	p.among("Aircraft", "QZ-AAB Alder 110")
	p.see("QZ-AAB has 1 open finding: Right magneto 138 rpm")
	p.among("Aircraft", "QZ-AAA Alder 110")
	wind := "input[placeholder^='190/11']"
	p.fill(wind, "190 at 11")
	p.press("Open the lesson")
	p.see("is not written like 190/11, 190/11G18 or VRB/3")
	p.fill(wind, "190/11")
	p.fill("[name=oat]", "9,500")
	p.press("Open the lesson")
	p.see("“9,500”: write 9500, or 9.500 with a point.")
	p.fill("[name=oat]", "9.5")
	p.within("[data-part=preview]",
		"with Service bulletin 14, carburettor heat cable; Tarn Hollow supplement, Alder 110; Okonjo, fingers on "+
			"what you say")
	p.press("Open the lesson")
	p.live("Papers and list")

	// By key, by touch, prompted, left out, taken back.
	p.key(" ")
	p.live("Deferred items")
	p.click("[data-mark=done]")
	p.live("Weight and balance")
	p.key("p")
	p.live("Walk-round")
	p.goTo("Hour meter")
	p.key("w")
	p.live("Seats")
	p.key("z")
	p.live("Hour meter")
	p.key("o")
	p.live("Seats")
	p.within(".above", "noted left out")

	// The starter before the brakes: a broken precedence.
	p.goTo("Brakes")
	p.key("o")
	p.goTo("Starter")
	p.key(" ")
	p.live("Ignition")
	p.goTo("Brakes")
	p.key(" ")

	// A timer gives its seconds to the reading.
	p.goTo("Starter")
	p.see("It was done before “Brakes”, which must come first.")
	p.key("t")
	p.within("[role=timer]", "starter turning")
	crank := "Number(document.querySelector('[name=\"attempts.0.crankSeconds\"]').value) >= 0.3"
	p.until(crank)
	p.key("t")
	p.until("!document.querySelector('[role=timer]') && " + crank)

	// What a layer changed says so at its item.
	p.goTo("Rabbit line")
	p.within("[data-part=reason]",
		"added by Tarn Hollow supplement, Alder 110: Two gliders had to go round last spring.")

	// Magnetos: right side over its limit and rough.
	p.goTo("Magnetos")
	p.magnetos("1654", "1598", true)
	for _, words := range []string{"Out of limits: test again", "152 of 130 rpm ■ 22 rpm over",
		"96 of 130 rpm ● within",
		"The drop on the right magneto is 152 rpm; the limit is 130 rpm.", "Most often: A plug fired by the right " +
			"magneto is fouled.", "→ Clear the plugs"} {
		p.within("[data-part=verdict]", words)
	}
	p.key(kb.Enter)
	p.click("[data-action=finding]")
	p.see("Finding at Magnetos")
	p.click("[data-action=write-finding]")
	p.see("The decision is not chosen yet.")
	p.click(".el-dialog [data-decision=deferred]")
	p.click(".el-dialog [name=told]")
	p.click("[data-option='" + demo.Achterberg.Name + "']")
	p.fill(".el-dialog [name=why]", "the plugs are cleaned tonight")
	p.click("[data-action=write-finding]")
	p.within(".about", "Finding: The drop on the right magneto is 152 rpm")

	p.closed()
	p.click("[data-action=repeat]")
	p.see("second try")
	p.fill("#base", "1,750")
	p.see("write 1750, or 1.750 with a point")
	p.magnetos("1654", "1640", false)
	p.within("[data-part=verdict]", "Within limits")
	p.click("[data-action=keep-reading]")
	p.within("[data-part=verdict]", "Before: try 1, out of limits")

	p.key("e")
	p.see("Error at Magnetos")
	p.click("[data-error=not-compared]")
	p.closed()
	p.within(".about", "reading not compared with a limit")
	p.key("3")
	p.within(".about", "asked: level 3")
	p.key("?")
	p.see("Grade the question why")
	p.key(kb.Escape)
	p.closed()
	p.key(" ")
	p.live("Ignition")
	p.within("[data-part=outbox]", "all marks at the school")

	// Debrief: levels with reasons, an override with its reason, the signature.
	p.key("d")
	p.within("[data-item=crank]", "It was done before “Brakes”, which must come first.")
	p.within("[data-item=weight-balance]", "Done after a word. With a word")
	p.within("[data-item=magnetos]", "reading not compared with a limit")
	p.within("[data-item=hour-meter]", "It was left out. With a hand")
	p.within("[data-part=finding-reading]",
		"try 1: ■ out of limits. The drop on the right magneto is 152 rpm; the limit is 130 rpm.")
	p.within("[data-part=finding-reading] + [data-part=finding-reading]", "try 2: ● within limits")
	p.press("End the lesson")
	p.see("Your password, again")
	p.click("[data-item=hour-meter] button")
	p.click("[data-item=hour-meter] [data-action=override]")
	p.see("The level is not chosen yet.")
	p.click("[data-item=hour-meter] [data-level='3']")
	p.fill("[data-item=hour-meter] [name=reason]", "noted it while I spoke on the radio")
	p.click("[data-item=hour-meter] [data-action=override]")
	p.within("[data-item=hour-meter]",
		"Proposed With a hand; the instructor gave Own correction: noted it while I spoke on the radio")
	p.fill("[name=password]", "not the password")
	p.click("[data-action=sign]")
	p.see("That is not your password. Nothing was signed, and nothing was lost.")
	p.fill("[name=password]", demo.Password)
	p.click("[data-action=sign]")
	p.within("[data-part=signed]", "events, rules "+check.RulesVersion)
	p.signOut()

	p.signIn(demo.Moreau)
	p.within(deferred, "one more lesson at level 4, unprompted")
	p.see("A paraphrase for training records. The published standard governs")
	p.see("QZ-AAA Tunde Okonjo signed")
	p.see("Critical error on")
	p.signOut()

	p.signIn(demo.Ferreira)
	p.open("/school")
	p.within(row, "2 lessons")
	assert.NotEqual(t, rowBefore, p.text(row))
	assert.True(t,
		eval[bool](p,
			fmt.Sprintf("document.querySelector(%q).innerHTML.includes('equipment that does not work: practising')",
				row)))
	p.open("/students/" + demo.Okonjo.ID)
	p.see("There is no such record in your school")
}

// TestLiveLessonStandsStill: at 1280×800 nothing of the live lesson scrolls, and
// the live item keeps its place.
func TestLiveLessonStandsStill(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Okonjo)
	p.click("a.line[href^='/lessons/']")
	p.see("Out of limits: test again")
	assert.True(t,
		eval[bool](p,
			"document.documentElement.scrollHeight <= innerHeight && document.documentElement.scrollWidth <= innerWidth"))
	assert.True(t, eval[bool](p, "(s => s.scrollHeight <= s.clientHeight)(document.querySelector('.side'))"))
	top := eval[float64](p, "document.querySelector('.live').getBoundingClientRect().top")
	p.key(kb.ArrowUp)
	p.live("Run-up speed")
	assert.Equal(t, top, eval[float64](p, "document.querySelector('.live').getBoundingClientRect().top"))
}

// TestGradeByException: a lesson whose sixty and more items have five deviations
// takes at most thirty touches; one of them is undone whole.
func TestGradeByException(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	touches := 0
	touch := func(css string) { touches++; p.click(css) }
	for _, mark := range []string{"prompted", "helped", "wrong", "self-fixed", "left-out"} {
		touch("[data-mark=" + mark + "]")
		touch("[data-action=pass-phase]")
	}
	p.until("[...document.querySelectorAll('.phase.here')].some((e) => e.innerText.includes('Run-up'))")
	observed := func() int {
		return eval[int](p,
			"[...document.querySelectorAll('.phase title, .phase')].map((e) => /: (\\d+) of/.exec(e.title)?.[1] ?? "+
				"0).reduce((a, b) => a + Number(b), 0)")
	}
	assert.GreaterOrEqual(t, observed(), 60)
	assert.LessOrEqual(t, touches, 30)
	before := observed()
	p.click("[data-mark=undo]")
	p.until("[...document.querySelectorAll('.phase.here')].some((e) => e.innerText.includes('Taxi'))")
	assert.Less(t, observed(), before-5, "one undo takes back the whole pass")
}

// atMagnetos is a new lesson that stands at its magneto check.
func atMagnetos(t testing.TB) *page {
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	p.goTo("Magnetos")
	return p
}

// TestAMagnetoCheckByDrops: what people see is typed, two numbers and Enter.
func TestAMagnetoCheckByDrops(t *testing.T) {
	t.Parallel()
	p := atMagnetos(t)
	assert.Equal(t, "1750", eval[string](p, "document.querySelector('#base').value"))
	p.boxes("left", "90", "right", "100")
	p.within("[data-part=verdict]", "Within limits")
	p.within("[data-part=verdict]", "90 of 130 rpm ● within")
	p.key(kb.Enter)
	p.until("document.querySelector('[data-action=repeat]')")
}

// TestAMagnetoCheckByKeysAlone: what is typed goes into the first number that is missing,
// Enter to the next, and the last Enter keeps the reading; a text that is no number is not passed.
func TestAMagnetoCheckByKeysAlone(t *testing.T) {
	t.Parallel()
	p := atMagnetos(t)
	p.key("9")
	p.key("0")
	p.key(kb.Enter)
	p.key("-")
	p.key(kb.Enter)
	p.until("document.activeElement.id === 'right'")
	p.see("is not a plain number")
	p.key(kb.Backspace)
	for _, key := range []string{"1", "0", "0"} {
		p.key(key)
	}
	p.within("[data-part=verdict]", "90 of 130 rpm ● within")
	p.within("[data-part=verdict]", "100 of 130 rpm ● within")
	p.key(kb.Enter)
	p.until("document.querySelector('[data-action=repeat]')")
}

// TestAMagnetoCheckByTouch: on a touch device the large keys are there without
// asking, the first key goes into the first box, and no other keyboard comes.
func TestAMagnetoCheckByTouch(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 768, 1024)
	p.do(chromedp.EmulateViewport(768, 1024, chromedp.EmulateTouch, chromedp.EmulateMobile))
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	p.goTo("Magnetos")
	assert.Equal(t, "none", eval[string](p, "document.querySelector('#left').inputMode"))
	eval[any](p, "document.querySelector('#left').focus()")
	for _, key := range []string{"9", "0", "next", "next", "1", "0", "0"} {
		p.click("[data-key='" + key + "']")
	}
	p.within("[data-part=verdict]", "90 of 130 rpm ● within")
	p.within("[data-part=verdict]", "100 of 130 rpm ● within")
}
