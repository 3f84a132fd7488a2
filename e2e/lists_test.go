package e2e_test

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/chromedp/cdproto/browser"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
)

// choose opens a select, finds each option by its id and takes it.
func (p *page) choose(css string, values ...string) {
	p.Helper()
	p.click(css)
	for _, v := range values {
		p.click("[data-option='" + v + "']")
	}
	p.key(kb.Escape)
	p.until("!document.querySelector('[data-option]')")
}

// fromToday brings what is approved next into force today.
func (p *page) fromToday() {
	p.Helper()
	p.until("document.querySelector('[name=from]')?.min")
	p.slide("[name=from]", eval[string](p, "document.querySelector('[name=from]').min"))
}

// download clicks a link and returns the file that came.
func (p *page) download(css string) []byte {
	p.Helper()
	dir := p.TempDir()
	_, err := chromedp.Call(p.ctx, browser.SetDownloadBehavior, browser.SetDownloadBehaviorParams{
		Behavior: browser.SetDownloadBehaviorBehaviorAllow, DownloadPath: dir,
		BrowserContextID: chromedp.FromContext(p.ctx).BrowserContextID,
	})
	require.NoError(p, err)
	p.click(css)
	for end := time.Now().Add(15 * time.Second); time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
		files, _ := filepath.Glob(dir + "/*")
		if len(files) == 1 && filepath.Ext(files[0]) != ".crdownload" {
			data, err := os.ReadFile(files[0])
			require.NoError(p, err)
			return data
		}
	}
	p.Fatal("no file came")
	return nil
}

// pdfText is the text of a PDF, read by another program than the one that
// wrote it.
func pdfText(t testing.TB, pdf []byte) string {
	t.Helper()
	file := filepath.Join(t.TempDir(), "card.pdf")
	require.NoError(t, os.WriteFile(file, pdf, 0o644))
	out, err := exec.Command("pdftotext", "-layout", file, "-").Output()
	require.NoError(t, err, "pdftotext of poppler-utils reads the card")
	return string(out)
}

// TestChiefRevisesAList: the list is edited, its differences seen, a bulletin
// laid over it with a condition; both are approved from tomorrow. Lessons of
// today keep the old list, lessons of tomorrow have the new one.
func TestChiefRevisesAList(t *testing.T) {
	t.Parallel()
	url, school := serveSchool(t)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Ferreira)
	p.open("/lists/rowan-180i")
	p.within("[data-type=rowan-180i]", "Rowan 180i")
	p.click("[data-action=new-list]")
	p.see("checklist, version 2")
	p.within("[data-part=faults]", "no mistake")

	// Words, place, a new item; mistakes are seen where they are made.
	p.click("[data-item=chocks] .plain")
	p.fill("[data-item=chocks] input[name=response]", "away, counted aloud")
	p.fill("[data-item=chocks] input[name=when]", "oat << 5")
	p.within("[data-item=chocks]", "column 6")
	p.within("[data-part=faults]", "1 mistake")
	assert.True(t, eval[bool](p, "document.querySelector('[data-action=review]').disabled"),
		"a draft with a mistake is not reviewed")
	p.key(kb.Escape)
	p.click("[data-action=undo]")
	p.within("[data-part=faults]", "no mistake")
	p.within("[data-item=chocks] .plain", "away, counted aloud")
	p.click("[data-item=chocks] [aria-label='Move down']")
	order := "[...document.querySelectorAll('[data-phase-id=before-moving] [data-item]')].map((e) => " +
		"e.dataset.item).join()"
	moved := eval[string](p, order)
	p.key("z") // typed into nothing: no undo without the control key
	assert.Equal(t, moved, eval[string](p, order))
	p.drag("[data-item=papers] .grip", "[data-item=walk-round] .grip")
	p.until(order + " !== '" + moved + "'")
	assert.Greater(t, eval[float64](p, order+".split(',').indexOf('papers')"), 1.0, "the first line was dragged down")
	p.click("[data-action=undo]")
	p.until(order + " === '" + moved + "'")
	p.click("[data-action=redo]")
	p.until(order + " !== '" + moved + "'")
	p.click("[data-action=undo]")

	p.click("[data-tab=differences]")
	p.within("[data-part=differences]", "≠ changed response away away, counted aloud")
	p.within(".item-chocks", "↕ moved")
	p.see("1 item differs.")
	p.click("[data-action=save]")
	p.within("[data-action=save]", "Saved")

	// The bulletin, with its condition and why.
	p.open("/lists/rowan-180i")
	p.click("[data-action=new-layer]")
	p.see("layer, version 1")
	p.choose("[name=rank]", "bulletin")
	p.fill("[name=title]", "Bulletin 7, fuel flow in the cold")
	p.fill("[name=source]", "Rowan bulletin 180-7")
	p.click("[data-action=add-change]")
	p.choose("[name=item-0]", "walk-round")
	p.fill("[name=set-0-response]", "complete, fuel line sleeves felt")
	p.fill("[name=why-0]", "Sleeves harden and crack below freezing.")
	p.fill("[name=when-0]", "oat < 0 °C")
	p.within("[data-part=faults]", "no mistake")
	p.click("[data-tab=flown]")
	p.see("0 changed")
	p.fill("[name=day-oat]", "-4")
	p.within("[data-flown=walk-round]",
		"≠ changed by Bulletin 7, fuel flow in the cold (response): Sleeves harden and crack below freezing. "+
			"[outside air is -4 °C]")

	layer := eval[string](p, "location.pathname")
	for _, document := range []string{"/documents/list/rowan-180i-full/2", layer} {
		p.open(document)
		p.click("[data-action=review]")
		p.within(".steps .here", "reviewed")
		p.click("[data-action=approve]")
		p.within(".steps .here", "in force from")
	}
	p.open("/documents/list/rowan-180i-full/2")
	p.click("[data-tab=trained]")
	p.within(".person-"+demo.Faye.ID, "version 1")
	p.click(".person-" + demo.Faye.ID + " [data-action=tell]")
	p.within(".person-"+demo.Faye.ID, "version 2 by Ilse Ferreira")
	p.signOut()

	// Today the old list serves.
	p.signIn(demo.Quist)
	p.openLesson(demo.Faye, "QZ-AAD Rowan 180i")
	lesson := eval[string](p, "location.pathname")
	assert.Contains(t, p.rows(), "chocks")
	p.within("[data-row=chocks]", "away")
	assert.NotContains(t, p.text("[data-row=chocks]"), "counted aloud")

	// Tomorrow the new one does; the lesson of today keeps its own.
	p.url = serveOn(t, school, schooltest.Day.AddDate(0, 0, 1)) // the session holds there as well
	p.openLesson(demo.Faye, "QZ-AAD Rowan 180i")
	p.within("[data-row=chocks]", "away, counted aloud")
	p.open(lesson)
	p.until("document.querySelector('.live h2')")
	assert.NotContains(t, p.text("[data-row=chocks]"), "counted aloud")
}

// drag moves the pointer from one element to another, as a hand does.
func (p *page) drag(from, to string) {
	p.Helper()
	at := func(css string) (x, y float64) {
		box := eval[[]float64](p,
			fmt.Sprintf("(r => [r.x + r.width / 2, r.y + r.height / "+
				"2])(document.querySelector(%q).getBoundingClientRect())", css))
		return box[0], box[1]
	}
	x, y := at(from)
	toX, toY := at(to)
	left := chromedp.MouseOption(chromedp.ButtonLeft)
	p.do(chromedp.MouseEvent(input.DispatchMouseEventTypeMousePressed, x, y, left, chromedp.ClickCount(1)))
	for step := 1.0; step <= 12; step++ {
		p.do(chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, x+(toX-x)*step/12, y+(toY+8-y)*step/12, left))
		time.Sleep(25 * time.Millisecond)
	}
	p.do(chromedp.MouseEvent(input.DispatchMouseEventTypeMouseReleased, toX, toY+8, left, chromedp.ClickCount(1)))
}

// TestATwinsLessonRightEngineFirst: the second engine's own checks follow its
// own start, and what is worked side by side is marked engine by engine.
func TestATwinsLessonRightEngineFirst(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Rask, "QZ-AAF Hornbeam Twin", "right first", "challenge and response")
	rows := p.rows()
	index := func(id string) int {
		for i, r := range rows {
			if r == id {
				return i
			}
		}
		t.Fatalf("no row %s in %v", id, rows)
		return 0
	}
	assert.Less(t, index("crank-2"), index("oil-pressure-2"))
	assert.Less(t, index("oil-pressure-2"), index("crank-1"), "the right engine runs before the left is cranked")
	assert.Contains(t, rows, "second-split-1")

	p.click("[data-row=crank-2]")
	p.live("Starter, right")
	p.see("student answers:")
	p.within(".panel", "right engine")

	// Whatever is said of the marks, the list stays where it is under the finger.
	for _, width := range []int64{390, 768, 1024, 1280} {
		p.do(chromedp.EmulateViewport(width, 800))
		assert.Equal(t, 0.0, eval[float64](p, `(() => {
			const list = document.querySelector('.list'), said = document.querySelector('[data-part=outbox]'), [words, top] = [said.innerText, list.getBoundingClientRect().top]
			said.innerText = 'Not sent yet: 112 marks and 2 pictures kept on this device since 17:53'
			const moved = list.getBoundingClientRect().top - top
			const hidden = said.scrollHeight > said.clientHeight ? 1000 : 0
			said.firstChild.data = words
			return moved + hidden })()`), "at %d", width)
	}

	// Magnetos of the right engine, then of the left, each judged as its own.
	p.click(".engine[data-row=magnetos-2]")
	p.live("Magnetos")
	p.within(".panel", "first try, right engine")
	p.see("left engine: not read yet")
	p.boxes("base", "2000", "left", "1890", "bothAfterLeft", "2000", "right", "1880", "bothAfterRight", "2000")
	p.within("[data-part=verdict]", "110 of 175 rpm ● within")
	p.key(kb.Enter)
	p.within(".panel", "Repeat the check")
	p.key(" ")
	p.live("Ignition")
	p.click(".engine[data-row=magnetos-1]")
	p.within(".panel", "right engine: Within limits")
	p.within("[data-part=outbox]", "all marks at the school")
	p.open(eval[string](p, "location.pathname"))
	p.within(".engine[data-row=magnetos-2], .engines [data-engine='2']", "right done")
}

// TestTheKneeCardIsPrinted: the PDF comes down, and another program reads what
// has to stand on it.
func TestTheKneeCardIsPrinted(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Brandt)
	p.open("/documents/list/alder-110-full/5")
	text := pdfText(t, p.download("[data-export=pdf]"))
	for _, want := range []string{"Alder 110", "Version 5, in force", "page 1 of", "BEFORE TAKE-OFF", "Magnetos",
		"Printed " + schooltest.Day.UTC().Format(time.DateOnly),
		"not an approved checklist", "if it is night"} {
		assert.Contains(t, text, want)
	}
	assert.Contains(t, string(p.download("[data-export=markdown]")), "- [ ] Brakes — set, pedals hard")
}

// TestABrokenFileIsExplained: every mistake of an imported file with its line,
// and a good table becomes a draft.
func TestABrokenFileIsExplained(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	bad, good := filepath.Join(dir, "bad.yaml"), filepath.Join(dir, "short.csv")
	require.NoError(t,
		os.WriteFile(bad,
			[]byte("id: x\ntitle: X\nversion: 1\naircraftType: alder-110\nsource: s\nphases:\n  - id: p\n    title: "+
				"P\n    items:\n      - {id: a, challenge: A, response: b, why: w, when: oat <}\n"), 0o644))
	require.NoError(t,
		os.WriteFile(good, []byte("phase;challenge;response;why\nStart;Master;on;power\nStart;Beacon;on;warns\n"),
			0o644))
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Okonjo)
	p.open("/lists/alder-110")
	p.click("[data-action=import]")
	p.until("document.querySelector('[name=import-file]')")
	p.do(chromedp.SetUploadFiles("[name=import-file]", []string{bad}))
	p.within("[data-part=mistakes]", "line 10 phases[0].items[0].when column")
	p.do(chromedp.SetUploadFiles("[name=import-file]", []string{good}))
	p.see("2 items in 1 phases.")
	p.fill("[name=import-title]", "Short start")
	p.click("[data-action=keep-import]")
	p.see("checklist, version 1")
	p.within("[data-phase-id=start]", "Master")
}

// TestAStudentLearnsAFlow: from memory, a wrong touch is said and counted.
func TestAStudentLearnsAFlow(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Moreau)
	p.open("/lists/alder-110")
	p.click("[data-phase=taxi]")
	p.see("Flow: Taxi")
	p.click("[data-action=learn]")
	p.within("[data-part=flow-words]", "Touch stop 1.")
	first := eval[string](p, "[...document.querySelectorAll('.spot')].map((s) => s.dataset.place).join()")
	require.Contains(t, first, "seat")
	p.do(chromedp.Click("[data-place=seat] circle"))
	p.within("[data-part=flow-words]", "Not seat and belts. Try again: stop 1.")
	for range 30 {
		if eval[bool](p, "document.querySelector('[data-part=flow-words]').innerText.startsWith('Done')") {
			break
		}
		for _, place := range eval[[]string](p, "[...document.querySelectorAll('.spot')].map((s) => s.dataset.place)") {
			eval[any](p,
				fmt.Sprintf("document.querySelector('[data-place=%s]').dispatchEvent(new MouseEvent('click', "+
					"{bubbles: true}))", place))
		}
		time.Sleep(20 * time.Millisecond)
	}
	p.within("[data-part=flow-words]", "stops right at the first touch")
	assert.False(t, eval[bool](p, "!!document.querySelector('[data-action=new-list]')"), "a student reads")
}

// TestListsOnASmallScreen: nothing scrolls sideways where lists are read.
func TestListsOnASmallScreen(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 390, 844)
	p.signIn(demo.Ferreira)
	for _, path := range []string{
		"/lists/hornbeam-twin", "/documents/list/alder-110-full/6", "/documents/layer/alder-sb-14/1",
		"/documents/aid/tarn-last-look/1", "/documents/type/willow-t5/1",
	} {
		p.open(path)
		p.until("document.querySelector('main h2, main h3, main .aid')")
		assert.True(t, eval[bool](p, "document.documentElement.scrollWidth <= innerWidth"), "%s: %v", path,
			eval[float64](p, "document.documentElement.scrollWidth"))
	}
}
