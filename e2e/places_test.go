package e2e_test

import (
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"

	"jetprimer/demo"
)

// TestMarksWaitForTheNetwork: without a network marks are kept and counted,
// verdicts still come, and everything arrives once it is back.
func TestMarksWaitForTheNetwork(t *testing.T) {
	t.Parallel()
	net := relayTo(t, serve(t))
	p := browseKept(t, net.url, 1280, 800)
	p.signIn(demo.Solheim)
	p.openLesson(demo.Halloran, "QZ-AAC Alder 110")
	p.within("[data-part=outbox]", "all marks at the school")
	net.cut(true)
	p.key(" ")
	p.live("Deferred items")
	p.key("p")
	p.live("Weight and balance")
	p.within("[data-part=outbox]", "Not sent yet:")
	p.within("[data-part=outbox]", "marks kept on this device")
	p.click("[data-row=suction]")
	p.live("Suction")
	p.fill("#inHg", "4.2")
	p.within("[data-part=verdict]", "Look again: go on")
	p.see("Suction is 4.2 inHg; the lowest allowed is 4.5 inHg.")
	net.cut(false)
	p.within("[data-part=outbox]", "all marks at the school")
	here := eval[string](p, "location.pathname")
	p.open(here)
	p.see("1.2 Deferred items read and accepted prompted")
}

func TestFlowThenVerify(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Quist)
	p.openLesson(demo.Castell, "QZ-AAC Alder 110", "flow, then verify")
	p.see("Found by list")
	p.goTo("Weight and balance")
	p.key(" ")
	p.live("Walk-round")
	p.goTo("Papers and list")
	p.key("s")
	p.live("Deferred items")
	p.key(kb.ArrowDown)
	p.live("Weight and balance")
	p.key("d")
	p.within("[data-item=papers]", "Missed in the flow, found by the student's own check with the list. Own correction")
	p.press("Show every item")
	p.within("[data-item=inoperative]", "Passed when the next item was opened. Alone")
	p.within("[data-item=weight-balance]", "Right, unprompted, in order and in time.")
}

func TestOtherPeoplesPlaces(t *testing.T) {
	t.Parallel()
	url := serve(t)
	p := browse(t, url, 1280, 800)
	p.open("/school")
	p.see("Address")
	p.fill("#email", "tunde")
	p.fill("#password", "x")
	p.press("Sign in")
	p.see("The address is not one: it needs an @")
	assert.Equal(t, "tunde", eval[string](p, "document.querySelector('#email').value"), "what was typed stays")
	p.fill("#email", demo.Solheim.Email)
	p.press("Sign in")
	p.see("Address and password do not belong together.")
	p.fill("#password", demo.Password)
	p.press("Sign in")
	p.see("14 students")
	assert.Equal(t, "/school", eval[string](p, "location.pathname"), "sign-in leads where one was going")

	// Another instructor's running lesson can be read, not marked.
	p.open("/today")
	p.click("a.line[href^='/lessons/']")
	p.see("Another instructor’s lesson: you can look.")
	assert.False(t, eval[bool](p, "!!document.querySelector('[data-mark=done]')"))
	p.signOutFrom("/today")

	p.signIn(demo.Moreau)
	p.see("Not ready yet:")
	p.open("/school")
	p.see("This is not open to the role student.")
	p.open("/lessons/new")
	p.see("This is not open to the role student.")
	p.open("/students/" + demo.Brandt.ID)
	p.see("There is no such record in your school, or it is not open to you.")
	p.signOutFrom("/today")

	p.signIn(demo.Petrescu)
	p.open("/students/" + demo.Brandt.ID)
	p.see("Ready for the checkride standards")
	p.signOutFrom("/today")

	p.signIn(demo.Achterberg)
	p.see("QZ-AAB Alder 110 ▲ 1 open")
	p.within("[data-part=plan]", "booked")
	assert.NotContains(t, p.text("body"), demo.Lindqvist.Name, "maintenance sees aircraft, not students")
	assert.NotContains(t, p.text("body"), "Kofi")
}

func (p *page) signOutFrom(path string) {
	p.Helper()
	p.open(path)
	p.signOut()
}

func TestChiefSortsAndReads(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Ferreira)
	p.open("/school")
	p.see("14 students")
	first := func() string { return eval[string](p, "document.querySelector('a.row').dataset.student") }
	assert.Equal(t, demo.Brandt.ID, first(), "the one who is ready stands first")
	p.within("a.row", "ready")
	p.press("name")
	p.until("document.querySelector('a.row').dataset.student === '" + demo.Castell.ID + "'")
	assert.True(t, eval[bool](p, "document.documentElement.scrollWidth <= innerWidth"), "nothing scrolls sideways")
	p.click("[data-student='" + demo.Aune.ID + "']")
	p.see("Mireille Aune")
	p.see("■ lapsed")
	p.see("What closes it")
	p.press("Dark")
	assert.Equal(t, "night", eval[string](p, "document.documentElement.dataset.theme"))
}

func TestSmallScreensDoNotScrollSideways(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 390, 844)
	p.signIn(demo.Okonjo)
	for _, path := range []string{"/today", "/lessons/new", "/students/" + demo.Brandt.ID} {
		p.open(path)
		p.see("Sign out")
		p.until("document.querySelector('main, form')")
		assert.True(t, eval[bool](p, "document.documentElement.scrollWidth <= innerWidth"), path)
	}
	p.open("/today")
	p.click("a.line[href^='/lessons/']")
	p.see("Out of limits: test again")
	assert.True(t, eval[bool](p, "document.documentElement.scrollWidth <= innerWidth"))
	assert.GreaterOrEqual(t,
		eval[float64](p,
			"Math.min(...[...document.querySelectorAll('[data-mark]')].map((b) => b.getBoundingClientRect().height))"),
		56.0)
}
