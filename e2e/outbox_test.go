package e2e_test

import (
	"testing"

	cdp "github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
)

// kept counts the lesson's events at the school.
func kept(t *testing.T, d *schooltest.Database, lesson string) int {
	t.Helper()
	return one[int](t, d, "select count(*) from lesson_events where lesson_id = $1", lesson)
}

// lessonOf is the id of the lesson that the page shows.
func (p *page) lessonOf() string {
	p.Helper()
	return eval[string](p, "location.pathname.split('/')[2]")
}

// TestMarksAreTheirMakers: marks that wait when their maker signs out are not
// sent by whoever signs in next on the same tablet; they go with their own.
func TestMarksAreTheirMakers(t *testing.T) {
	t.Parallel()
	url, d := serveSchool(t)
	net := relayTo(t, url)
	p := browseKept(t, net.url, 1280, 800)
	p.gated()
	p.signIn(demo.Solheim)
	p.openLesson(demo.Halloran, "QZ-AAC Alder 110")
	p.within("[data-part=outbox]", "all marks at the school")
	lesson := p.lessonOf()
	before := kept(t, d, lesson)
	net.cut(true)
	p.key(" ")
	p.within("[data-part=outbox]", "Not sent yet: 2 marks kept on this device")
	net.cut(false)
	p.holdBack(lesson) // the school is there again, and takes everything but these marks
	p.click("a.back")
	p.signOut()
	p.signInHere(demo.Okonjo)
	p.press("Open a lesson")
	p.among("Student", demo.Moreau.Name)
	p.among("Aircraft", "QZ-AAA Alder 110")
	p.within("[data-part=preview]", "items today")
	p.press("Open the lesson")
	p.until("document.querySelector('.live h2')")
	p.release()
	p.key(" ")
	p.within("[data-part=outbox]", "all marks at the school; 2 marks of somebody else wait for them")
	assert.Equal(t, before, kept(t, d, lesson), "nobody else's sign-in sends them")
	p.click("a.back")
	p.signOut()
	p.signInHere(demo.Solheim)
	p.click("a[href='/lessons/" + lesson + "']")
	p.within("[data-part=outbox]", "all marks at the school")
	p.see("1.1 Papers and list")
	assert.Equal(t, before+2, kept(t, d, lesson), "their maker's sign-in does")
}

// TestARefusedMarkHasAWayOut: what the school will not take is shown with its
// reason, can be sent again or let go, and holds nothing else up.
func TestARefusedMarkHasAWayOut(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.gated()
	p.signIn(demo.Solheim)
	p.openLesson(demo.Halloran, "QZ-AAC Alder 110")
	p.within("[data-part=outbox]", "all marks at the school")
	stuck := p.lessonOf()
	p.answer(stuck, 422, "the lesson is closed by the chief instructor")
	p.key(" ")
	p.within("[data-part=refused]",
		"was refused: the lesson is closed by the chief instructor. It is kept on this device.")
	p.within("[data-part=outbox]", "2 marks refused by the school")
	p.release()
	p.click("[data-part=refused] [data-action=send-again]")
	p.until("document.querySelectorAll('[data-part=refused]').length === 1")
	p.click("[data-part=refused] [data-action=let-go]")
	p.within("[data-part=outbox]", "all marks at the school")

	p.holdBack(stuck)
	p.key("p")
	p.within("[data-part=outbox]", "Not sent yet:")
	p.click("a.back")
	p.press("Open a lesson")
	p.among("Student", demo.Moreau.Name)
	p.among("Aircraft", "QZ-AAA Alder 110")
	p.within("[data-part=preview]", "items today")
	p.press("Open the lesson")
	p.until("document.querySelector('.live h2')")
	other := p.lessonOf()
	require.NotEqual(t, stuck, other)
	p.key(" ")
	p.until("window.sent['" + other + "'] > 0") // one stuck lesson holds no other up
}

// gated lets a test stand between the screens and the school, and counts in
// sent the batches of each lesson that the school took.
func (p *page) gated() {
	p.Helper()
	const script = `(() => {
		const school = window.fetch
		window.sent = {}
		window.gates = {}
		window.fetch = async (...asked) => {
			const request = new Request(...asked)
			const lesson = new URL(request.url).pathname.match(/lessons\/([^/]+)\/events/)?.[1]
			const gate = window.gates[lesson]
			if (gate && !gate.status) throw new TypeError('no network')
			if (gate) return new Response(JSON.stringify(gate), { status: gate.status, headers: { 'Content-Type': 'application/problem+json' } })
			const answer = await school(request)
			if (lesson && answer.ok) window.sent[lesson] = (window.sent[lesson] ?? 0) + 1
			return answer
		}
	})()`
	_, err := chromedp.Call(p.ctx, cdp.AddScriptToEvaluateOnNewDocument,
		cdp.AddScriptToEvaluateOnNewDocumentParams{Source: script})
	require.NoError(p, err)
}

// holdBack makes sending the lesson's marks fail as a broken network does.
func (p *page) holdBack(lesson string) { p.Helper(); p.answer(lesson, 0, "") }

// answer makes the school's answer to the lesson's marks another: a status with
// a reason, or none at all for 0.
func (p *page) answer(lesson string, status int, reason string) {
	p.Helper()
	eval[any](p, "window.gates["+js(lesson)+"] = "+js(map[string]any{"status": status, "detail": reason}))
}

// release gives the school's own answers back.
func (p *page) release() { p.Helper(); eval[any](p, "window.gates = {}") }
