package e2e_test

import (
	"testing"

	"jetprimer/demo"
)

// TestInstructorsAreCompared: the chief instructor sees every line, as graded and
// fairly; an instructor their own and the school's middle.
func TestInstructorsAreCompared(t *testing.T) {
	t.Parallel()
	url := serve(t)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Ferreira)
	p.open("/school")
	p.click("[data-action=taught]")
	p.click("[data-taught]")
	p.within("[data-part=slips]", ":")
	p.click("[data-part=slips] a")
	p.until("location.pathname.endsWith('/debrief')")
	p.open("/taught")
	p.see("Which errors come before which findings")
	p.click("[data-reading=magneto]")
	p.within("[data-part=out-readings]", "QZ-A")
	p.open("/school")
	p.click("[data-action=compare]")
	p.within("[data-instructor='"+demo.Okonjo.ID+"']", "Tunde Okonjo")
	p.see("never a reason to judge a person")
	p.click("[data-instructor='" + demo.Okonjo.ID + "']")
	p.click("[data-view=raw]")
	p.see("Whoever teaches beginners grades lower here")
	lines := "document.querySelectorAll('[data-instructor]').length"
	p.until(lines + " > 2")

	own := browse(t, url, 390, 844)
	own.signIn(demo.Okonjo)
	own.open("/compare")
	own.within("[data-instructor='"+demo.Okonjo.ID+"']", "Tunde Okonjo")
	own.until(lines + " === 1")
}

// TestTheSheetOfOneInstructor: the school's sheet is narrowed to a class and to
// somebody's students, and what goes to its limit stands on maintenance's day.
func TestTheSheetOfOneInstructor(t *testing.T) {
	t.Parallel()
	url := serve(t)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Ferreira)
	p.open("/school")
	p.until("document.querySelectorAll('[data-student]').length > 10")
	p.pick("whose", demo.Solheim.Name)
	p.until("[...document.querySelectorAll('[data-student]')].length > 1 && " +
		"[...document.querySelectorAll('[data-student] small')].every((s) => s.innerText.startsWith('Marit Solheim'))")
	p.pick("class", "helicopter")
	p.until("document.querySelectorAll('main section').length === 1")
	p.see("Sanna Voss")

	o := browse(t, url, 768, 1024)
	o.signIn(demo.Achterberg)
	o.within("[data-part=trends]", "QZ-AAB")
	o.click("[data-part=trends] a")
	o.within("[data-part=trend]", "It meets its limit")
}
