package e2e_test

import (
	"context"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
)

// aboard waits until the application itself is kept on the device.
func (p *page) aboard() {
	p.Helper()
	p.press("Today")
	p.until("navigator.serviceWorker.controller?.state === 'activated'")
	p.click("[data-action=take-along]")
	p.within("[data-part=copy]", "Nothing is missing.")
}

// local waits until so many marks are only on this device.
func (p *page) local(n string) {
	p.Helper()
	p.until("document.querySelector('[data-part=outbox]')?.dataset.local === " + js(n))
}

// signInAgain goes on from a lesson whose sign-in has ended: a browser that was
// killed may have lost it.
func (p *page) signInAgain(who demo.Person) {
	p.Helper()
	const asks = "document.querySelector('[data-action=sign-in-again]')"
	p.until(asks + " || document.querySelector('[data-part=outbox]')?.dataset.local === '0'")
	if !eval[bool](p, "!!"+asks) {
		return
	}
	p.click("[data-action=sign-in-again]")
	p.fill("#email", who.Email)
	p.fill("#password", demo.Password)
	p.press("Sign in")
	p.until("document.querySelector('.live h2')")
}

// said are the events of a lesson, in their order: kind and payload.
func said(t *testing.T, d *schooltest.Database, lesson string) []string {
	t.Helper()
	conn, err := pgx.Connect(context.Background(), d.OwnerURL)
	require.NoError(t, err)
	defer func() { _ = conn.Close(context.Background()) }()
	rows, err := conn.Query(context.Background(),
		"select kind || ' ' || payload::text from lesson_events where lesson_id = $1 and kind <> 'lesson-opened' "+
			"order by counter, device, seq", lesson)
	require.NoError(t, err)
	out, err := pgx.CollectRows(rows, pgx.RowTo[string])
	require.NoError(t, err)
	return out
}

// TestALessonSurvivesWithoutTheSchool: a lesson begun online, the school gone
// for the whole run-up, the page reloaded meanwhile, the browser killed and
// opened again, the school back: the record is the one that was made online,
// event by event.
func TestALessonSurvivesWithoutTheSchool(t *testing.T) {
	t.Parallel()
	d := demoSchool(t)
	school := start(t, d, "127.0.0.1:0")
	address := strings.TrimPrefix(school.url, "http://")
	dir := t.TempDir()
	p, kill := browseIn(t, school.url, dir, 1280, 800)
	before := func(p *page) { p.key(" "); p.key("p"); p.live("Weight and balance") }
	runUp := func(p *page) {
		p.goTo("Magnetos")
		p.boxes("left", "90", "right", "100")
		p.within("[data-part=verdict]", "90 of 130 rpm ● within")
		p.key(kb.Enter)
		p.until("document.querySelector('[data-action=repeat]')")
	}
	after := func(p *page) { p.key(" "); p.live("Ignition"); p.key("w"); p.key("o"); p.live("Heat control force") }

	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	online := p.lessonOf()
	before(p)
	runUp(p)
	after(p)
	p.local("0")

	p.open("/today")
	p.aboard()
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	lesson := p.lessonOf()
	before(p)
	p.within("[data-part=outbox]", "all marks at the school")
	school.stop(os.Kill)
	runUp(p)
	p.within("[data-part=outbox]", "marks kept on this device since")
	p.open("/lessons/" + lesson) // reloaded, with no server at all
	p.live("Magnetos")
	p.see("90 of 130 rpm ● within")
	after(p)
	time.Sleep(time.Second) // it is counted once what was touched is painted
	local := eval[string](p, "document.querySelector('[data-part=outbox]').dataset.local")
	kill()

	p, _ = browseIn(t, school.url, dir, 1280, 800)
	p.open("/lessons/" + lesson)
	p.local(local)
	p.within("[data-part=outbox]", "Not sent yet: "+local+" marks kept on this device since")
	start(t, d, address)
	p.signInAgain(demo.Okonjo)
	p.local("0")
	p.within("[data-part=outbox]", "all marks at the school")
	assert.Equal(t, said(t, d, online), said(t, d, lesson))
}

// TestALessonIsOpenedWithoutTheSchool: opened cold with no server at all, on an
// aircraft and with a student that the device knows.
func TestALessonIsOpenedWithoutTheSchool(t *testing.T) {
	t.Parallel()
	d := demoSchool(t)
	school := start(t, d, "127.0.0.1:0")
	dir := t.TempDir()
	p, kill := browseIn(t, school.url, dir, 768, 1024)
	p.signIn(demo.Okonjo)
	p.aboard()
	school.stop(os.Interrupt)
	kill()

	p, _ = browseIn(t, school.url, dir, 768, 1024)
	p.open("/")
	p.within("[data-part=away]", "The school is not reached. What stands here is of")
	p.openLesson(demo.Lindqvist, "QZ-AAF Hornbeam Twin")
	lesson := p.lessonOf()
	p.key(" ")
	p.key("p")
	p.live("Weight and balance")
	p.within("[data-part=outbox]", "Not sent yet:")
	p.open("/lessons/" + lesson + "/debrief")
	p.see("Done after a word.")
	start(t, d, strings.TrimPrefix(school.url, "http://"))
	p.open("/lessons/" + lesson)
	p.until("document.querySelector('#email, .live h2')")
	if eval[bool](p, "!!document.querySelector('#email')") { // a browser that was killed may have lost its sign-in
		p.fill("#email", demo.Okonjo.Email)
		p.fill("#password", demo.Password)
		p.press("Sign in")
	}
	p.live("Weight and balance")
	p.within("[data-part=outbox]", "all marks at the school")
	assert.Equal(t, 5, len(said(t, d, lesson)))
}

// TestTwoTabsSendOnce: marks of one tab are sent by either, one at a time; a
// reply that is cut short leaves what it did not speak of waiting.
func TestTwoTabsSendOnce(t *testing.T) {
	t.Parallel()
	url, d := serveSchool(t)
	net := relayTo(t, url)
	p := browseKept(t, net.url, 1280, 800)
	p.gated()
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	lesson := p.lessonOf()
	p.within("[data-part=outbox]", "all marks at the school")
	before := kept(t, d, lesson)
	other := p.otherTab(t)
	other.open("/today")
	other.see("Waits for you")
	net.cut(true)
	for range 3 {
		p.key(" ")
	}
	p.live("Walk-round")
	p.within("[data-part=outbox]", "Not sent yet:")
	other.within("[data-part=outbox]", "marks kept on this device since")
	net.cut(false)
	other.until("!document.querySelector('[data-part=outbox]')")
	p.local("0")
	assert.Equal(t, before+6, kept(t, d, lesson))

	eval[any](p, `window.fetch = ((f) => async (...a) => { const answer = await f(...a)
		if (!String(a[0]?.url).includes('/events') || window.whole) return answer
		window.whole = true
		const said = await answer.json()
		return new Response(JSON.stringify({ answers: said.answers.slice(0, 1) }), { headers: { 'Content-Type': 'application/json' } }) })(window.fetch)`)
	p.key(" ")
	p.live("Covers")
	p.until("window.whole")
	p.local("0")
	assert.Equal(t, before+8, kept(t, d, lesson), "sent once more, and there once")
}
