package e2e_test

import (
	"bytes"
	"os/exec"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
)

// TestAMagnetoWithoutADropComesBackByARun: grounded at its reading, the next lesson is
// refused; maintenance measures it again in a run of its own, signs it, and returns the
// aircraft by it, and not by words alone.
func TestAMagnetoWithoutADropComesBackByARun(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 768, 1024)
	magnetos := func(right string) {
		p.boxes("base", "1750", "left", "1664", "bothAfterLeft", "1750", "right", right, "bothAfterRight", "1750")
		p.click("[data-action=keep-reading]")
	}
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	p.click("[data-row=magnetos]")
	magnetos("1750")
	p.within("[data-part=verdict]", "Keep everyone clear of the propeller")
	p.within("[data-part=verdict]", "needs another try without the finding")
	assert.False(t, eval[bool](p, "!!document.querySelector('.decide [data-decision=cleared]')"),
		"it was not tried again")
	p.click(".decide [name=told]")
	p.click("[data-option='" + demo.Achterberg.Name + "']")
	p.click(".decide [data-decision=grounded]")
	p.within("[data-part=verdict]", "Decided: grounded")
	p.within("[data-part=outbox]", "all marks at the school")
	p.open("/lessons/new")
	p.among("Student", demo.Moreau.Name)
	p.among("Aircraft", "QZ-AAA Alder 110, ■ on the ground")
	p.within("[data-part=preview]", "items today")
	p.press("Open the lesson")
	p.see("stays on the ground until it is returned: Magneto check:")
	p.open("/today")
	p.signOut()

	p.signInHere(demo.Achterberg)
	p.within("[data-part=waits]", "Magneto check:")
	p.click("a[href='/aircraft/QZ-AAA'][data-wait=decide]")
	p.click("[data-part=finding] [data-return]")
	p.within("[data-part=needs-run]", "Magneto check kept it on the ground")
	p.fill("[name=return-words]", "Ground lead renewed")
	assert.True(t, eval[bool](p, "document.querySelector('[data-action=return-aircraft]').disabled"),
		"words alone do not return it")
	p.press("Open a maintenance run")
	p.named("run-oat", "12", "run-qnh", "1013")
	p.click("[data-action=open-run]")
	p.live("Magnetos")
	assert.False(t, eval[bool](p, "!!document.querySelector('[data-mark=prompted], .oral, [data-action=pass-phase]')"),
		"there is nobody to grade")
	magnetos("1670")
	p.within("[data-part=verdict]", "Within limits")
	p.key(" ")
	p.click("a.debrief")
	p.within("[data-part=measured]", "Within limits")
	p.within("[data-part=measured]", "right drop 80 of 130 rpm")
	p.press("End the run")
	p.fill("[name=password]", demo.Password)
	p.click("[data-action=sign]")
	p.within("[data-part=signed]", demo.Achterberg.Name)
	p.click("[data-action=back-to-aircraft]")
	p.click("[data-part=finding] [data-return]")
	p.within("[data-part=runs]", "● Magneto check: Within limits.")
	p.fill("[name=return-words]", "Ground lead renewed")
	p.click("[data-action=return-aircraft]")
	p.within("aside", "Ground lead renewed; tested again: Magneto check: Within limits.")
	p.open("/today")
	p.signOut()

	p.signInHere(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	p.within("[data-part=outbox]", "all marks at the school")
}

// TestASignedMarkIsCorrected: the instructor corrects it and signs that, the student
// sees both results, and the exported record proves itself before and after.
func TestASignedMarkIsCorrected(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	lesson := p.lessonOf()
	p.within("[data-part=outbox]", "all marks at the school")
	p.finish()
	p.fill("[name=password]", demo.Password)
	p.click("[data-action=sign]")
	p.within("[data-part=signed]", "events, rules")
	prove := func(file []byte) string {
		cmd := exec.Command(program, "verify", "-")
		cmd.Stdin = bytes.NewReader(file)
		out, err := cmd.CombinedOutput()
		require.NoError(t, err, string(out))
		return string(out)
	}
	assert.NotContains(t, prove(p.download("[data-action=export-record]")), "corrected")

	p.until("document.querySelector('[data-action=correct]')")
	at := eval[string](p, "document.querySelector('[data-action=correct]').closest('article').dataset.item")
	p.click("[data-item='" + at + "'] [data-action=correct]")
	p.click("[data-correct=done]")
	p.click("[data-action=write-correction]")
	p.within("[data-item='"+at+"'] [role=alert]", "The reason")
	p.fill("[data-item='"+at+"'] [name=reason]", "I marked the line above by mistake")
	p.click("[data-action=write-correction]")
	p.within("[data-part=correction]", "To be corrected once it is signed")
	p.fill("[name=password]", demo.Password)
	p.click("[data-action=sign]")
	p.within("[data-part=correction]", "Corrected")
	p.within("[data-item='"+at+"'] [data-part=first]", "Signed first: prompted")
	assert.Contains(t, prove(p.download("[data-action=export-record]")),
		"1 mark was corrected after the first signature")
	p.open("/today")
	p.signOut()

	p.signInHere(demo.Moreau)
	p.open("/lessons/" + lesson + "/debrief")
	p.click("[data-self=before-moving] button[aria-label$='With a word']")
	p.click("[data-action=self-grade]")
	p.within("[data-part=correction]", "I marked the line above by mistake")
	p.within("[data-item='"+at+"'] [data-part=first]", "Signed first: prompted")
}
