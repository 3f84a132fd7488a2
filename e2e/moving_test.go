package e2e_test

import (
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"

	"jetprimer/demo"
)

// held presses on an element for a while.
func (p *page) held(css string, long time.Duration) {
	p.Helper()
	p.until("document.querySelector('" + css + "')")
	eval[any](p, "document.querySelector('"+css+"').dispatchEvent(new PointerEvent('pointerdown', {bubbles: true}))")
	time.Sleep(long)
	eval[any](p, "document.querySelector('"+css+"')?.dispatchEvent(new PointerEvent('pointerup', {bubbles: true}))")
}

// TestEyesOutside: while the aircraft moves under the user's hands a calm page
// takes an error, a finding and the stop, and nothing else; what was noted is
// put into words in the debrief, and nothing is signed before.
func TestEyesOutside(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 768, 1024)
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	assert.False(t, eval[bool](p, "!!document.querySelector('[data-action=eyes-outside]')"),
		"nothing moves before the taxi")
	p.goTo("Way ahead")
	p.click("[data-action=eyes-outside]")
	p.within("[data-part=calm]", "Eyes outside")
	before := eval[int](p, "document.querySelectorAll('.row').length")
	p.key(" ")
	p.key("p")
	p.click("[data-mark=noted-error]")
	p.within("[data-mark=noted-error]", "1 to be said later")
	p.click("[data-mark=noted-finding]")
	p.within("[data-mark=noted-finding]", "1 to be said later")
	p.held("[data-action=hold-to-leave]", 300*time.Millisecond)
	p.within("[data-part=calm]", "Eyes outside")
	p.held("[data-action=hold-to-leave]", 1800*time.Millisecond)
	p.until("!document.querySelector('[data-part=calm]')")
	p.live("Way ahead") // no key marked anything
	assert.Equal(t, before, eval[int](p, "document.querySelectorAll('.row').length"))
	p.click("[data-action=eyes-outside]")
	p.click("[data-action=stopped]")
	p.until("!document.querySelector('[data-part=calm]')")

	// A mark held for longer takes words with it.
	p.held("[data-mark=prompted]", 800*time.Millisecond)
	p.fill("[name=mark-words]", "Looked only left.")
	p.click("[data-action=keep-words]")
	p.live("Brakes")
	p.click("[data-action=eyes-outside]")
	p.until("document.querySelector('[data-part=calm]')")
	p.key("x")
	p.until("!document.querySelector('[data-part=calm]')")

	p.key("d")
	p.see("Noted, to be said")
	p.press("End the lesson")
	p.see("An error was noted and is not said yet.")
	p.until("document.querySelector('[data-action=sign]')?.disabled")
	p.click("[data-noted] [data-action=say-noted]")
	p.see("What kind of error it was is not chosen yet.")
	p.click("[name=noted-kind]")
	p.click("[data-option=eyes-inside]")
	p.click("[data-noted] [data-action=say-noted]")
	p.see("eyes inside too long")
	p.until("document.querySelectorAll('[data-noted]').length === 1")
	p.click("[data-action=take-back]")
	p.until("!document.querySelector('[data-noted]') && !document.querySelector('[data-action=sign]').disabled")
	p.do(chromedp.EmulateViewport(1280, 800))
}

// TestAFullDeviceSaysSo: what it cannot keep stays on the page, says so, and
// goes to the school; nothing is lost.
func TestAFullDeviceSaysSo(t *testing.T) {
	t.Parallel()
	url, d := serveSchool(t)
	net := relayTo(t, url)
	p := browseKept(t, net.url, 1280, 800)
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	p.within("[data-part=outbox]", "all marks at the school")
	lesson := p.lessonOf()
	before := kept(t, d, lesson)
	net.cut(true)
	eval[any](p, `(() => { const put = IDBObjectStore.prototype.put
		IDBObjectStore.prototype.put = function (...a) { if (this.name === 'marks') throw new DOMException('full', 'QuotaExceededError'); return put.apply(this, a) } })()`)
	p.key(" ")
	p.live("Deferred items")
	p.within("[data-part=outbox]",
		"This device’s storage is full. 2 marks only on this page: leave it open until the school holds them")
	net.cut(false)
	p.until("document.querySelector('[data-part=outbox]').dataset.local === '0'")
	assert.Equal(t, before+2, kept(t, d, lesson))
}
