package e2e_test

import (
	"os"
	"slices"
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
)

// touch changes the last digit of a reading and resolves with the
// milliseconds until the new verdict has been painted.
const touch = `new Promise((resolve, reject) => {
	const box = document.querySelector('#right')
	const word = () => document.querySelector('[data-part=verdict] h3')?.textContent
	const before = word(), begun = performance.now()
	const painted = () => requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - begun)))
	const watch = new MutationObserver(() => {
		const now = word()
		if (!now || now === before) return
		watch.disconnect()
		painted()
	})
	watch.observe(document.querySelector('.panel'), { childList: true, subtree: true, characterData: true })
	setTimeout(() => reject(new Error('no verdict')), 5000)
	box.value = box.value === '1640' ? '1598' : '1640'
	box.dispatchEvent(new Event('input', { bubbles: true }))
})`

// BenchmarkTouchToVerdict measures, in the browser with its processor slowed
// four times, from the touch to the painted verdict.
func BenchmarkTouchToVerdict(b *testing.B) {
	p := browseKept(b, serve(b), 1280, 800)
	p.signIn(demo.Okonjo)
	p.click("a.line[href^='/lessons/']")
	p.click("[data-action=repeat]")
	p.magnetos("1654", "1598", false)
	p.within("[data-part=verdict]", "Out of limits")
	p.slowed(b, touch)
}

// edit is one letter typed into an item of a list being written; it resolves
// with the milliseconds until the line above the field shows it, painted.
const edit = `new Promise((resolve, reject) => {
	const row = document.querySelector('.item.chosen'), box = row.querySelector('input[name=response]')
	const begun = performance.now()
	box.value = box.value.endsWith('!') ? box.value.slice(0, -1) : box.value + '!'
	box.dispatchEvent(new Event('input', { bubbles: true }))
	const end = setTimeout(() => reject(new Error('not painted')), 5000)
	const look = () => row.querySelector('.plain').innerText.includes(box.value)
		? requestAnimationFrame(() => setTimeout(() => { clearTimeout(end); resolve(performance.now() - begun) }))
		: setTimeout(look)
	look()
})`

// BenchmarkEditThousandItems measures, with the processor slowed four times,
// from a letter typed in a list of a thousand items to the painted line.
func BenchmarkEditThousandItems(b *testing.B) {
	p := browseKept(b, serve(b), 1280, 800)
	p.signIn(demo.Ferreira)
	made := eval[string](p, `(() => {
		const phases = Array.from({ length: 10 }, (_, p) => ({ id: 'p' + p, title: 'Phase ' + p, items: Array.from({ length: 100 }, (_, i) =>
			({ id: 'i' + p + '-' + i, challenge: 'Item ' + i, response: 'set', why: 'because', noStandard: 'made up' })) }))
		const r = new XMLHttpRequest()
		r.open('POST', '/api/v1/library/list', false)
		r.setRequestHeader('Content-Type', 'application/json')
		r.send(JSON.stringify({ document: { id: 'long', title: 'Long', version: 1, aircraftType: 'alder-110', source: 'made up', phases } }))
		return r.status + ' ' + r.responseText.slice(0, 200)
	})()`)
	require.Contains(b, made, "200 ")
	p.open("/documents/list/long/1")
	p.until("document.querySelector('[data-item=i5-50] .plain')")
	eval[any](p, "document.querySelector('[data-item=i5-50] .plain').click()")
	p.until("document.querySelector('.item.chosen input[name=response]')")
	p.slowed(b, edit)
}

// slowed runs a script that resolves with milliseconds, the processor slowed
// four times, and reports the median and the 95th percentile.
func (p *page) slowed(b *testing.B, script string) {
	_, err := chromedp.Call(p.ctx, emulation.SetCPUThrottlingRate, emulation.SetCPUThrottlingRateParams{Rate: 4})
	require.NoError(b, err)
	var took []float64
	for b.Loop() {
		ms, err := chromedp.Run(p.ctx, chromedp.Evaluate[float64](script, chromedp.EvalAwaitPromise))
		require.NoError(b, err)
		took = append(took, ms)
	}
	slices.Sort(took)
	b.ReportMetric(took[len(took)/2], "ms-median")
	b.ReportMetric(took[len(took)*95/100], "ms-p95")
	b.ReportMetric(0, "ns/op")
}

// mark is one mark by key, a quarter of a second after the one before, as fast
// as a hand goes on; it resolves with the milliseconds until the next item is
// painted as the live one: the mark is in IndexedDB before.
const mark = `new Promise((resolve, reject) => setTimeout(() => {
	const live = () => document.querySelector('.live h2')?.textContent
	const before = live(), begun = performance.now()
	const end = setTimeout(() => reject(new Error('nothing moved')), 5000)
	const watch = new MutationObserver(() => {
		if (live() === before) return
		watch.disconnect()
		clearTimeout(end)
		requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - begun)))
	})
	watch.observe(document.querySelector('.list'), { childList: true, subtree: true, characterData: true })
	window.dispatchEvent(new KeyboardEvent('keydown', { key: window.back ? 'ArrowUp' : 'p', bubbles: true }))
	window.back = !window.back
}, 250))`

// BenchmarkMarkDurableAndShown measures, with the processor slowed four times,
// from a key to the painted next item, the mark in IndexedDB before it.
func BenchmarkMarkDurableAndShown(b *testing.B) {
	p := browseKept(b, serve(b), 1280, 800)
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	p.slowed(b, mark)
}

// BenchmarkColdOpenOffline measures, with no server and the processor slowed
// four times, from the address to a lesson that can be marked.
func BenchmarkColdOpenOffline(b *testing.B) {
	d := demoSchool(b)
	school := start(b, d, "127.0.0.1:0")
	p := browseKept(b, school.url, 1280, 800)
	p.signIn(demo.Okonjo)
	p.aboard()
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	p.within("[data-part=outbox]", "all marks at the school")
	lesson := p.lessonOf()
	p.key(" ")
	p.until("document.querySelector('[data-part=outbox]').dataset.local === '0'")
	school.stop(os.Interrupt)
	_, err := chromedp.Call(p.ctx, emulation.SetCPUThrottlingRate, emulation.SetCPUThrottlingRateParams{Rate: 4})
	require.NoError(b, err)
	var took []float64
	for b.Loop() {
		p.open("/lessons/" + lesson)
		p.until("document.querySelector('.live h2') && document.querySelector('[data-mark=done]')")
		took = append(took, eval[float64](p, "performance.now()"))
	}
	slices.Sort(took)
	b.ReportMetric(took[len(took)/2], "ms-median")
	b.ReportMetric(took[len(took)*95/100], "ms-p95")
	b.ReportMetric(0, "ns/op")
}

// BenchmarkSyncTwoHundredMarks measures, with the processor slowed four times,
// from the school being there again to a lesson's 200 marks being held.
func BenchmarkSyncTwoHundredMarks(b *testing.B) {
	url, _ := serveSchool(b)
	net := relayTo(b, url)
	p := browseKept(b, net.url, 1280, 800)
	p.signIn(demo.Okonjo)
	p.aboard()
	var took []float64
	for b.Loop() {
		b.StopTimer()
		p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
		p.within("[data-part=outbox]", "all marks at the school")
		net.cut(true)
		for range 8 {
			p.key("c")
		}
		p.until("Number(document.querySelector('[data-part=outbox]').dataset.local) >= 100")
		_, err := chromedp.Call(p.ctx, emulation.SetCPUThrottlingRate, emulation.SetCPUThrottlingRateParams{Rate: 4})
		require.NoError(b, err)
		net.cut(false)
		b.StartTimer()
		took = append(took, later[float64](p, `new Promise((resolve) => { const begun = performance.now()
			dispatchEvent(new Event('online'))
			const look = () => document.querySelector('[data-part=outbox]').dataset.local === '0' ? resolve(performance.now() - begun) : setTimeout(look, 5)
			look() })`))
		_, err = chromedp.Call(p.ctx, emulation.SetCPUThrottlingRate, emulation.SetCPUThrottlingRateParams{Rate: 1})
		require.NoError(b, err)
	}
	slices.Sort(took)
	b.ReportMetric(took[len(took)/2], "ms-median")
	b.ReportMetric(0, "ns/op")
}

// frames is the mean time between two painted frames over a second of them.
const frames = `new Promise((resolve) => {
	let n = 0, begun
	const turn = (at) => {
		begun ??= at
		if (n++ < 60) requestAnimationFrame(turn)
		else resolve((at - begun) / 60)
	}
	requestAnimationFrame(turn)
})`

// BenchmarkStandFrames measures, with the processor slowed four times, how long a frame of
// the practice stand takes while its engine runs: the carburetted single, and the twin with
// its two engines. Sixty a second are 16.7 ms.
func BenchmarkStandFrames(b *testing.B) {
	for _, of := range [][2]string{{"alder-110", "first-start"}, {"hornbeam-twin", "twin-first"}} {
		b.Run(of[0], func(b *testing.B) {
			p := browseKept(b, serve(b), 1280, 800)
			p.signIn(demo.Okonjo)
			p.practise(of[0], "shown", of[1])
			p.seconds(90) // its engines run
			p.click("[data-action=pause]")
			p.slowed(b, frames)
		})
	}
}
