package e2e_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"

	"jetprimer/demo"
)

// cutOff names what of a page is cut off: the page itself where it goes beyond the screen's
// width, and words of controls, headings and figures that their own box does not show. What
// scrolls by itself, what says its whole name to a pointer, and what is only for a screen
// reader is left out.
const cutOff = `(() => {
	const out = []
	const wide = document.scrollingElement.scrollWidth - innerWidth
	const whose = (e) => (e.dataset.part || e.dataset.action || e.dataset.row || e.className || e.tagName) + ' “' + e.innerText.trim().replace(/\s+/g, ' ').slice(0, 40) + '”'
	if (wide > 1) {
		const beyond = [...document.querySelectorAll('main *')].filter((e) => e.getBoundingClientRect().right > innerWidth + 1 && !e.closest('.scrolls, [data-scrolls], table, svg'))
		out.push('the page is ' + wide + ' px too wide: ' + (beyond.length ? whose(beyond.at(-1)) : '?'))
	}
	for (const e of document.querySelectorAll('button, a, label, th, h1, h2, h3, legend, b, .figure')) {
		const style = getComputedStyle(e), box = e.getBoundingClientRect()
		if (!e.innerText?.trim() || !box.width || style.visibility === 'hidden' || e.closest('[title], [inert], .el-input, svg') || box.height < 4) continue
		if (style.overflowX !== 'visible' && e.scrollWidth > e.clientWidth + 1 && style.overflowX !== 'auto' && style.overflowX !== 'scroll') out.push('cut off: ' + whose(e))
	}
	return [...new Set(out)]
})()`

// TestNothingIsCutOff: the main views, and the stand of those types whose panels differ
// most, on a desk, on a tablet held upright and on a phone, show their words whole and need
// no scrolling to the side.
func TestNothingIsCutOff(t *testing.T) {
	t.Parallel()
	url, _ := serveSchool(t)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Ferreira)
	for _, view := range [][2]string{
		{"/today", "Waits"}, {"/day", "weather"}, {"/schedule", "This week"}, {"/school", "airplane"},
		{"/students/" + demo.Lindqvist.ID, "stand in the way"},
		{"/stand", "First start"}, {"/lists/alder-110", "Alder 110"}, {"/reference/magneto", "agneto"},
		{"/aircraft", "QZ-AAA"}, {"/aircraft/QZ-AAB", "limit"},
		{"/people", "Ferreira"}, {"/taught", "most prompted first"}, {"/compare", "compared"},
	} {
		p.open(view[0])
		p.see(view[1])
		for _, size := range [][2]int64{{1280, 800}, {768, 1024}, {390, 844}} {
			p.do(chromedp.EmulateViewport(size[0], size[1]))
			p.until("innerWidth === " + fmt.Sprint(size[0]))
			assert.Empty(t, eval[[]string](p, cutOff), "%s at %d px", view[0], size[0])
		}
	}
	eval[any](p,
		`document.body.insertAdjacentHTML('beforeend', '<main id=cut><button style="width:9px;overflow:hidden;white-space:nowrap">too long for it</button><p style="width:9999px">x</p></main>')`)
	assert.Len(t, eval[[]string](p, cutOff), 2, "both kinds are found")
	p.do(chromedp.EmulateViewport(1280, 800))
	for _, typ := range []string{"hornbeam-twin", "juniper-h2", "larch-d2", "willow-t5"} {
		p.open("/stand")
		p.click("[data-type=" + typ + "]")
		p.within("[data-type="+typ+"].on", " ")
		p.click("[data-mode=alone]")
		p.click("[data-scenario]")
		p.until("document.querySelector('[data-live]')")
		p.click("[data-action=pause]")
		for _, size := range [][2]int64{{390, 844}, {768, 1024}, {1280, 800}} {
			p.do(chromedp.EmulateViewport(size[0], size[1]))
			p.until("innerWidth === " + fmt.Sprint(size[0]))
			assert.Empty(t, eval[[]string](p, cutOff), "the stand of the %s at %d px", typ, size[0])
			hidden := eval[[]string](p,
				`[...document.querySelectorAll('[data-control]')].filter((e) => { const b = e.getBoundingClientRect(); return b.width < 24 || b.height < 24 }).map((e) => e.dataset.control)`)
			assert.Empty(t, hidden, "controls of the %s that no finger meets at %d px", typ, size[0])
		}
		assert.False(t, strings.Contains(p.text("main"), "undefined") || strings.Contains(p.text("main"), "NaN"), typ)
	}
}
