package e2e_test

import (
	"bytes"
	"io"
	"net/http"
	"net/http/httptest"
	"net/http/httputil"
	"net/url"
	"strconv"
	"sync/atomic"
	"testing"
	"time"

	cdp "github.com/chromedp/cdproto/page"
	"github.com/chromedp/cdproto/storage"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
)

// renewing stands in front of a program; once it is told, the application it
// hands out is a newer one.
func renewing(t *testing.T, program string) (string, *atomic.Bool) {
	t.Helper()
	to, err := url.Parse(program)
	require.NoError(t, err)
	renewed := new(atomic.Bool)
	proxy := httptest.NewServer(&httputil.ReverseProxy{
		FlushInterval: -1,
		Rewrite: func(r *httputil.ProxyRequest) {
			r.SetURL(to)
			r.Out.Host = r.In.Host
			if r.In.URL.Path == "/sw.js" {
				r.Out.Header.Set("Accept-Encoding", "identity")
				r.Out.Header.Del("If-None-Match")
			}
		},
		ModifyResponse: func(r *http.Response) error {
			if r.Request.URL.Path != "/sw.js" || !renewed.Load() {
				return nil
			}
			body, err := io.ReadAll(r.Body)
			if err != nil {
				return err
			}
			body = append(body, "\n// newer\n"...)
			r.Body, r.ContentLength = io.NopCloser(bytes.NewReader(body)), int64(len(body))
			r.Header.Set("Content-Length", strconv.Itoa(len(body)))
			r.Header.Del("ETag")
			return nil
		},
	})
	t.Cleanup(proxy.CloseClientConnections)
	return proxy.URL, renewed
}

// otherTab is another tab of the same browser.
func (p *page) otherTab(t *testing.T) *page {
	t.Helper()
	ctx, cancel := chromedp.NewContext(p.ctx)
	t.Cleanup(cancel)
	tab := &page{TB: t, ctx: ctx, url: p.url}
	tab.begin(1280, 800)
	return tab
}

// TestANewerApplicationWaitsForTheLesson: it is not offered where a lesson is
// worked, cannot be taken from another tab meanwhile, and is taken on a
// person's word once the lesson is left, which goes on as it was.
func TestANewerApplicationWaitsForTheLesson(t *testing.T) {
	t.Parallel()
	behind, d := serveSchool(t)
	front, renewed := renewing(t, behind)
	p := browseKept(t, front, 1280, 800)
	p.signIn(demo.Okonjo)
	p.aboard()
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	lesson := p.lessonOf()
	p.key(" ")
	eval[any](p, "window.asBefore = true")
	renewed.Store(true)
	const waits = "(await navigator.serviceWorker.getRegistration()).waiting"
	later[any](p, "navigator.serviceWorker.getRegistration().then((r) => r.update()).then(() => true)")
	later[any](p,
		`new Promise((resolve) => { const look = async () => `+waits+
			` ? resolve(true) : setTimeout(look, 20); look() })`)
	p.key("p")
	p.live("Weight and balance")
	assert.False(t, eval[bool](p, "!!document.querySelector('[data-part=newer]')"), "nothing in the way of a lesson")

	other := p.otherTab(t)
	other.open("/today")
	other.click("[data-action=take-newer]")
	other.within("[data-part=newer]", "A lesson is open. The new version waits until it is left.")
	p.key(" ")
	p.live("Walk-round")
	assert.True(t, eval[bool](p, "window.asBefore"), "the page was not loaded anew")

	p.click("[aria-label='Back to Today']")
	p.click("[data-action=take-newer]")
	// A browser may hold the old one until its pages are closed; it says so.
	p.until("!window.asBefore && document.querySelector('[data-part=copy]') || " +
		"document.querySelector('[data-part=newer]')?.innerText.includes('Close every page')")
	taken := func() bool { // the page is loaded anew meanwhile, and cannot answer then
		out, err := chromedp.Run(p.ctx,
			chromedp.Evaluate[bool]("(async () => !("+waits+"))()", chromedp.EvalAwaitPromise))
		return err == nil && out
	}
	for tries := 0; tries == 0 || !taken(); tries++ { // the old one ends some time after its last page
		require.Less(t, tries, 10, "the newer application is taken once every page is closed")
		for _, one := range []*page{other, p} {
			one.do(chromedp.Navigate("about:blank"))
		}
		time.Sleep(time.Duration(tries) * time.Second)
		p.open("/today")
		p.until("navigator.serviceWorker.controller")
		time.Sleep(300 * time.Millisecond)
	}
	p.open("/lessons/" + lesson)
	p.live("Walk-round")
	p.local("0")
	assert.NotZero(t, kept(t, d, lesson))
}

// TestWhatABrowserClearedIsSaid: short of space it takes everything that is
// kept; that marks are lost is told, how many and of when.
func TestWhatABrowserClearedIsSaid(t *testing.T) {
	t.Parallel()
	behind, _ := serveSchool(t)
	net := relayTo(t, behind)
	p := browseKept(t, net.url, 1280, 800)
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	p.within("[data-part=outbox]", "all marks at the school")
	net.cut(true)
	p.key(" ")
	p.key(" ")
	p.within("[data-part=outbox]", "Not sent yet:")
	const local = "4" // two results, and the items opened after them
	p.local(local)
	p.until("document.cookie.includes('jetprimer-waiting=" + local + ".')")
	p.do(chromedp.Navigate("about:blank"))
	_, err := chromedp.Call(p.ctx, storage.ClearDataForOrigin, storage.ClearDataForOriginParams{
		Origin: net.url, StorageTypes: "indexeddb,cache_storage,service_workers,local_storage",
	})
	require.NoError(t, err)
	net.cut(false)
	p.open("/today")
	p.within("[data-part=cleared]", local+" marks of ")
	p.within("[data-part=cleared]", "that the school did not have are lost.")
	p.see("Sign out")
	p.open("/today")
	p.within("[data-part=cleared]", local+" marks of ") // until it was read
	p.click("[data-action=read-loss]")
	p.open("/today")
	p.see("Waits for you")
	assert.False(t, eval[bool](p, "!!document.querySelector('[data-part=cleared]')"))
}

// TestTwoTabletsWorkOneLesson: an observer is let in and marks on a second
// tablet, for a while without the school and with a clock eight years behind;
// both come to the same lesson, each stays at its own item.
func TestTwoTabletsWorkOneLesson(t *testing.T) {
	t.Parallel()
	behind, d := serveSchool(t)
	net := relayTo(t, behind)
	p := browseKept(t, behind, 1280, 800)
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	lesson := p.lessonOf()
	p.key("m")
	p.press(demo.Quist.Name)
	p.within("[data-part=outbox]", "all marks at the school")

	q := browseKept(t, net.url, 768, 1024)
	const eightYears = `{ const now = Date.now, off = 8 * 365 * 86400000, Real = Date
		window.Date = class extends Real { constructor(...a) { a.length ? super(...a) : super(now() - off) } static now() { return now() - off } } }`
	_, err := chromedp.Call(q.ctx, cdp.AddScriptToEvaluateOnNewDocument,
		cdp.AddScriptToEvaluateOnNewDocumentParams{Source: eightYears})
	require.NoError(t, err)
	q.signIn(demo.Quist)
	q.open("/lessons/" + lesson)
	q.live("Papers and list")
	net.cut(true)
	q.goTo("Walk-round")
	q.key("p")
	q.key("w")
	q.within("[data-part=outbox]", "Not sent yet:")
	p.key(" ")
	p.key(" ")
	p.live("Weight and balance")
	net.cut(false)
	eval[any](q, "dispatchEvent(new Event('online'))")
	q.local("0")
	const marks = "[...document.querySelectorAll('.row, .live')].map((r) => " +
		"[r.innerText.match(/Papers|Deferred|Weight|Walk|Covers/)?.[0], " +
		"r.querySelector('b')?.innerText.toLowerCase()]).filter(([, mark]) => mark).join(' ')"
	for _, one := range []*page{p, q} {
		one.until(marks + " === 'Papers,done Deferred,done Weight,passed Walk,prompted Covers,wrong'")
	}
	p.live("Weight and balance") // where it was left
	assert.Equal(t, "Rafael Quist",
		one[string](t, d,
			"select a.name from lesson_events e join accounts a on a.id = e.sent_by where e.lesson_id = $1 and "+
				"e.kind = 'prompt'", lesson))
	assert.Less(t, one[int](t, d, "select max(at_ms) from lesson_events where lesson_id = $1", lesson), 10*60_000,
		"the lesson's own clock counts")
	assert.Less(t,
		one[int](t, d, "select count(*) from lessons where id = $1 and opened_at < now() - interval '1 hour'", lesson),
		1)
}

// TestTheScreenMovesInOrder: what comes from elsewhere while a mark is being kept does
// not move the screen before it is, nor back after.
func TestTheScreenMovesInOrder(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	const heldBack = `{ const real = window.fetch
		window.fetch = async (...a) => { const r = await real(...a)
			const asked = String(a[0].url ?? a[0])
			if (asked.includes('?have=')) window.loaded = true
			if (r.ok && asked.includes('known=') && (await r.clone().text()).includes('"elsewhere"')) await new Promise((free) => (window.answer = free))
			return r } }`
	_, err := chromedp.Call(p.ctx, cdp.AddScriptToEvaluateOnNewDocument,
		cdp.AddScriptToEvaluateOnNewDocumentParams{Source: heldBack})
	require.NoError(t, err)
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	p.local("0")
	p.live("Papers and list")
	p.until("window.loaded")
	const fromElsewhere = `{ const event = { id: '01939f00-0000-7000-8000-000000000001', device: 'elsewhere', seq: 1, counter: 900, atMs: 1, wall: new Date().toISOString().replace(/\.\d+Z$/, 'Z'), kind: 'note', v: 1, payload: { words: 'cool' } }
		fetch('/api/v1' + location.pathname + '/events', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ events: [event] }) }) }`
	eval[any](p, fromElsewhere)
	p.until("window.answer")
	eval[any](p, `{ const r = indexedDB.open('jetprimer'); r.onsuccess = () => {
		const marks = r.result.transaction('marks', 'readwrite').objectStore('marks')
		const busy = () => { window.busy = true; if (!window.kept) marks.count().onsuccess = busy }
		busy() } }`)
	p.until("window.busy")
	p.key(" ")
	p.key(" ")
	eval[any](p, `window.seen = []; window.answer()
		setInterval(() => { const at = document.querySelector('.live h2').innerText; seen.at(-1) === at || seen.push(at) }, 5)
		setTimeout(() => { seen.push('kept'); window.kept = true }, 500)`)
	p.live("Weight and balance")
	time.Sleep(time.Second)
	assert.Regexp(t, "^Papers and list, kept, (Papers and list, )?(Deferred items, )?Weight and balance$",
		eval[string](p, "seen.join(', ')"))
}

// TestASessionThatEndedLosesNothing: ended at the school while the lesson runs;
// marks are kept, and go after the sign-in that is asked for.
func TestASessionThatEndedLosesNothing(t *testing.T) {
	t.Parallel()
	url, d := serveSchool(t)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	lesson := p.lessonOf()
	p.within("[data-part=outbox]", "all marks at the school")
	before := kept(t, d, lesson)
	require.NotZero(t, one[int](t, d, "with gone as (delete from sessions returning 1) select count(*) from gone"))
	p.key(" ")
	p.within("[data-part=outbox]", "Not sent yet: 2 marks kept on this device since")
	p.key(" ")
	p.live("Weight and balance") // the lesson goes on
	assert.Equal(t, before, kept(t, d, lesson))
	p.signInAgain(demo.Okonjo)
	p.live("Weight and balance")
	p.local("0")
	assert.Equal(t, before+4, kept(t, d, lesson))
}
