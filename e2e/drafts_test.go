package e2e_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jetprimer/demo"
)

// TestUnsavedTextComesBack: what is typed into a draft is there again after the
// page went away without saving, at once as well as later, and undo takes it
// away.
func TestUnsavedTextComesBack(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Ferreira)
	const draft = "/documents/list/alder-110-full/6"
	p.open(draft)
	p.click("[data-item=walk-round] .plain")
	p.fill("[data-item=walk-round] input[name=response]", "done with a torch")
	p.open("/today") // within the moment in which text is gathered
	p.see("Waits for you")
	p.open(draft)
	p.see("What you typed on this device and had not saved is back.")
	p.within("[data-item=walk-round] .plain", "done with a torch")
	p.click("[data-action=undo]")
	p.within("[data-item=walk-round] .plain", "done, sun behind you")
	p.click("[data-action=redo]")
	p.click("[data-action=save]")
	p.within("[data-action=save]", "Saved")
	p.open(draft)
	p.within("[data-item=walk-round] .plain", "done with a torch")
	assert.NotContains(t, p.text("body"), "had not saved is back")

	// Keys move a line and take it out; every phase keeps its count.
	p.until("document.querySelector('[data-item=chocks] .plain')")
	eval[any](p, "document.querySelector('[data-item=chocks] .plain').focus()")
	order := "[...document.querySelectorAll('[data-phase-id=before-moving] [data-item]')].map((e) => " +
		"e.dataset.item).indexOf('chocks')"
	before := eval[int](p, order)
	eval[any](p,
		"document.activeElement.dispatchEvent(new KeyboardEvent('keydown', {key: 'ArrowUp', altKey: true, bubbles: true}))")
	p.until(order + " === " + string(rune('0'+before-1)))
	eval[any](p,
		"document.querySelector('[data-item=chocks] .plain').dispatchEvent(new KeyboardEvent('keydown', {key: "+
			"'Delete', bubbles: true}))")
	p.until("!document.querySelector('[data-item=chocks]')")
	p.within("[data-phase-id=before-moving] h3", "24 items")
}

// TestAMemoryAidIsWritten: letters with their items, and what they leave out;
// once in force it stands at its phase in the next lesson.
func TestAMemoryAidIsWritten(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Ferreira)
	p.open("/lists/sorrel-100")
	p.click("[data-phase=start]")
	p.click("[data-action=new-aid]")
	p.see("memory aid, version 1")
	p.within("[data-part=faults]", "2 mistakes")
	p.fill("[name=title]", "BAM, before the starter")
	p.fill("[name=source]", "school notes")
	p.click("[data-action=add-letter]")
	p.fill("[aria-label=Letter]", "B")
	p.fill("[aria-label=Word]", "Beacon, then look")
	p.choose("[name=items-0]", "beacon", "area-clear")
	p.within("[data-part=faults]", "no mistake")
	p.see("Critical items that no letter reminds of:")
	p.click("[data-action=review]")
	p.within(".steps .here", "reviewed")
	today := eval[string](p, "new Date().toISOString().slice(0, 10)")
	p.slide("[name=from]", today)
	p.click("[data-action=approve]")
	p.within(".steps .here", "in force from")
	p.open("/today")
	p.signOut()

	p.signIn(demo.Solheim)
	p.openLesson(demo.Marlowe, "QZ-AAE Sorrel 100")
	p.click("[data-row=beacon]")
	p.within(".live .letter.here", "B")
}
