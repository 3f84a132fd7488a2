package e2e_test

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
)

// TestStandardsAreWrittenAndCovered: a pack is copied, changed, and brought in from
// a table; what became of an element is said with its reason; a link is made where
// coverage shows that none is.
func TestStandardsAreWrittenAndCovered(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Ferreira)
	p.open("/standards")
	p.click("[data-copy=school-core]")
	p.see("Tarn Hollow core, our own")
	p.click("[data-was=core-brakes]")
	p.see("replaces[0].why is missing: standing carries over with its reason")
	p.fill("[data-element=core-brakes] [aria-label='element of an earlier edition']", "core-brakes-old")
	p.fill("[data-element=core-brakes] [aria-label='why its standing carries over']", "the same in fewer words")
	p.until("!document.querySelector('.pack .problem')")
	p.fill("[name='new-element-core']", "keeps the ramp tidy")
	p.key(kb.Enter)
	p.until("document.querySelector('[data-element=keeps-the-ramp-tidy]')")
	p.click("[data-action=save]")
	p.within("[data-action=save]", "Saved")
	p.click("[data-tab=coverage]")
	p.within("[data-element=keeps-the-ramp-tidy]", "no item")
	p.click("[data-action=only-missing]")
	p.within("[data-part=missing]", "1 of")

	p.click("[data-tab=text]")
	p.click("[data-element=core-notices] [aria-label$='take it away']")
	p.click("[data-tab=differences]")
	p.pick("compare", "Tarn Hollow core, version 2, in force")
	p.within("[data-pair=keeps-the-ramp-tidy][data-how=new]", "Begins as not yet seen.")
	p.within("[data-part=gone]", "standing lost: of 1")
	p.click("[data-action=only-differing]")
	p.pick("became-core-notices", "keeps the ramp tidy")
	p.fill("[data-pair=core-notices][data-how=became] .why input", "read aloud in one round")
	p.key(kb.Enter)
	p.within("[data-part=gone]", "the standing of every element goes on")
	p.within("[data-pair=core-notices]", "What was shown of it counts for the new element.")
	p.click("[data-action=save]")
	p.within("[data-action=save]", "Saved")

	dir := t.TempDir()
	bring := func(name, table string) {
		file := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(file, []byte(table), 0o600))
		p.do(chromedp.SetUploadFiles("input[name=pack-table]", []string{file}))
	}
	p.click("[data-tab=text]")
	p.until("document.querySelector('input[name=pack-table]')")
	bring("first.csv", "task,kind,text\nramp,feat,tidy\n")
	p.see("Line 2: has the kind \"feat\", which is none of knowledge, risk, skill.")
	bring("second.csv", "task,kind,text\nramp,skill,tidy\n")
	p.until("document.querySelector('[data-task=ramp] [data-element=tidy]')")
	p.click("[data-action=undo]")
	p.until("document.querySelector('[data-element=keeps-the-ramp-tidy]')")

	p.open("/standards")
	p.click("[data-action=import]")
	own := filepath.Join(dir, "own.yaml")
	require.NoError(t,
		os.WriteFile(own,
			[]byte("id: fen-row\ntitle: Fen Row standards\nversion: 1\nstatus: school\nnote: our own\nclasses: "+
				"[helicopter]\ntasks:\n  - {id: ramp, title: Ramp, elements: [{id: ramp-tidy, kind: skill, text: "+
				"keeps the ramp tidy}]}\n"), 0o600))
	p.do(chromedp.SetUploadFiles("[name=import-file]", []string{own}))
	p.see("No mistake was found.")
	p.click("[data-action=keep-import]")
	p.until("location.pathname === '/documents/pack/fen-row/1'")
	p.until("document.querySelector('[data-element=ramp-tidy]')")
	p.click("[data-action=review]")
	p.within("[aria-label='State of this version']", "reviewed "+schooltest.Day.Format("2 Jan")+", Ilse Ferreira")

	p.open("/lists/sorrel-100")
	p.click("[data-action=new-list]")
	p.until("location.pathname.startsWith('/documents/list')")
	p.click("[data-tab=coverage]")
	p.until("document.querySelector('[data-part=missing]')")
	missing := p.text("[data-part=missing]")
	element := eval[string](p,
		"[...document.querySelectorAll('[data-element]')].find((r) => r.querySelectorAll('.item').length === 1 && "+
			"r.querySelector('.item button')).dataset.element")
	row := "[data-element=" + element + "]"
	p.click(row + " .item button")
	p.until("document.querySelector('" + row + "').classList.contains('bare')")
	p.until("document.querySelector('[data-part=missing]').innerText !== " + js(missing))
	p.pick("link-"+element, "Belts")
	p.within(row+" .item", "Belts")
	p.until("document.querySelector('[data-part=missing]').innerText === " + js(missing))
	p.within("[data-part=faults]", "no mistake")
}

// TestANameIsErasedInPeople: of somebody who was let go, once it is typed.
func TestANameIsErasedInPeople(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Whitlock)
	p.open("/people")
	person := "[data-person='" + demo.Petrescu.ID + "']"
	p.click(person)
	p.click("[data-action=let-go]")
	p.click("[name=with-left]")
	p.within(person, "has left")
	p.click(person)
	p.see("The name is kept for 10 years after somebody left.")
	p.named("erase-name", "somebody else")
	p.click("[data-action=erase]")
	p.see("is not the person's")
	p.named("erase-name", demo.Petrescu.Name)
	p.click("[data-action=erase]")
	p.within(person, "Former member")
	p.within(person, "the name is gone")
}

// TestTheShapeOfADescribedType: gauges with their scales and powers, places moved by
// keys, a table of power whose edges are held where that is safe, and a word for
// each thing that cannot be.
func TestTheShapeOfADescribedType(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Ferreira)
	p.open("/lists/willow-t5")
	p.click("[data-action=describe-type]")
	p.named("name", "Wren 2", "source", "fictional type, Wren 2 handbook, revision 1")
	p.click("[data-from='copy willow-t5']")
	p.click("[data-action=describe]")
	p.click("[data-at='limits.gauges']")
	p.fill("[data-gauge-of=torque] label:nth-of-type(3) input", "0")
	p.fill("[data-gauge-of=torque] label:nth-of-type(4) input", "90")
	p.key(kb.Enter)
	p.within("[data-part=impossible]", "torque: highest, 100 %, lies outside its scale, which goes from 0 to 90.")
	p.fill("[data-gauge-of=torque] label:nth-of-type(4) input", "110")
	p.key(kb.Enter)
	p.until("!document.querySelector('[data-part=impossible]')")
	p.named("limits.gauges.torque.max", "10O")
	p.within("[data-number='limits.gauges.torque.max']", "is not a plain number in %")
	p.named("limits.gauges.torque.max", "100")
	p.click("[data-at=power]")
	p.fill("[data-cell='0 3']", "200")
	p.key(kb.Enter)
	p.click("[data-switch=hot]")
	p.within("[data-part=impossible]", "the limit falls towards the hot edge")
	p.click("[data-switch=hot]")
	p.until("!document.querySelector('[data-part=impossible]')")
	p.click("[data-at=cockpit]")
	at := eval[string](p, "document.querySelector('[data-place=rotor]').getAttribute('aria-label')")
	eval[any](p, "document.querySelector('[data-place=rotor]').focus()")
	p.key(kb.ArrowDown + kb.ArrowRight)
	p.until("document.querySelector('[data-place=rotor]').getAttribute('aria-label') !== " + js(at))
	p.click("[data-at=fuel]")
	p.fill("[name=new-tank]", "Left")
	p.key(kb.Enter)
	p.until("document.querySelector(\"[name='fuel.tanks.left']\")")
	p.click("[data-switch=one-tank]")
	p.within("[data-part=impossible]", "where one tank at a time is chosen there are two, left and right")
	p.fill("[name=new-tank]", "Right")
	p.key(kb.Enter)
	p.named("fuel.tanks.left", "120", "fuel.tanks.right", "120")
	p.click("[aria-label='main: take it away']")
	p.until("!document.querySelector('[data-part=impossible]')")
	p.click("[data-action=end-fuel]")
	p.click("[data-action=begin-fuel]")
	p.named("fuel.tanks.main", "250", "fuel.burnLPerHour", "105")
	p.click("[data-at=minimums]")
	p.pick("new-minimum", "transmission oil temperature")
	p.within("[data-wait=transmissionTemperature]", "before the run-up")
	p.named("minimums.transmissionTemperature.run-up", "20")
	p.click("[aria-label='oilTemperature: not waited for']")
	p.until("!document.querySelector('[data-wait=oilTemperature]')")
	p.click("[data-at=winds]")
	p.click("[data-action=end-winds]")
	p.click("[data-action=begin-winds]")
	p.named("winds.crosswindKt", "25")
	p.until("!document.querySelector('[data-part=impossible]')")
	p.click("[data-at='limits.hydraulics']")
	p.see("No number is asked for: it is seen or not.")
	p.click("[data-action=leave-off]")
	p.see("is left off: the handbook gives no limits")
}
