package e2e_test

import (
	"fmt"
	"strconv"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
)

// practise begins a scenario in a mode, and holds the time: it goes on by seconds.
func (p *page) practise(typ, mode, scenario string) {
	p.Helper()
	p.open("/stand")
	p.click("[data-type=" + typ + "]")
	p.click("[data-mode=" + mode + "]")
	p.click("[data-scenario=" + scenario + "]")
	p.until("document.querySelector('[data-live]')")
	p.click("[data-action=pause]")
	p.within("[data-action=pause]", "go on")
}

// seconds lets so many go by, at once.
func (p *page) seconds(n int) {
	p.Helper()
	eval[any](p,
		fmt.Sprintf("(() => { for (let i = 0; i < %d; i++) document.querySelector('[data-action=second]').click() })()",
			n))
}

// down presses on a control, and up lets it go.
func (p *page) down(css string) {
	p.Helper()
	p.until("document.querySelector('" + css + "')")
	eval[any](p,
		"document.querySelector('"+css+
			"').dispatchEvent(new PointerEvent('pointerdown', {bubbles: true, pointerId: 7}))")
}

func (p *page) up(css string) {
	p.Helper()
	eval[any](p,
		"document.querySelector('"+css+"').dispatchEvent(new PointerEvent('pointerup', {bubbles: true, pointerId: 7}))")
}

// crank turns the starter for so many seconds.
func (p *page) crank(n int) {
	p.Helper()
	p.down("[data-control=starter]")
	p.seconds(n)
	p.up("[data-control=starter]")
}

// needle is what a gauge shows.
func (p *page) needle(gauge string) float64 {
	p.Helper()
	v, err := strconv.ParseFloat(strings.Fields(strings.TrimPrefix(p.text("[data-gauge="+gauge+"] b"), "▲ "))[0], 64)
	require.NoError(p, err)
	return v
}

// outside waits for what is seen outside.
func (p *page) outside(words string) {
	p.Helper()
	p.until("document.querySelector('[data-part=outside]')?.getAttribute('aria-label').includes(" + js(words) + ")")
}

// running starts the engine of the carburetted single as it should be.
func (p *page) running() {
	p.Helper()
	p.click("[data-control=master]")
	p.slide("[data-control=mixture]", "1")
	p.slide("[data-control=throttle]", "0.15")
	for range 3 {
		p.down("[data-control=primer]")
		p.seconds(1)
		p.up("[data-control=primer]")
	}
	p.click("[data-control='ignition BOTH']")
	p.crank(3)
	p.seconds(2)
	require.Greater(p, p.needle("speed"), 400.0, "it runs")
}

// power brings the engine to a speed with the throttle, as near as it is set.
func (p *page) power(speed float64) {
	p.Helper()
	low, high := 0.0, 1.0
	for range 14 {
		at := (low + high) / 2
		p.slide("[data-control=throttle]", fmt.Sprintf("%.3f", at))
		p.seconds(6)
		switch now := p.needle("speed"); {
		case now > speed+10:
			high = at
		case now < speed-10:
			low = at
		default:
			return
		}
	}
}

// readsTheDrops brings the carburetted single to its ignition check, and reads it off the
// needle.
func (p *page) readsTheDrops() {
	p.Helper()
	p.click("[data-control=brakes]")
	p.running()
	p.click("[data-gauge=oilPressure]")
	p.until("document.querySelector('[data-gauge=oilPressure] b')")
	p.seconds(60)
	eval[any](p, "[...document.querySelectorAll('.tape .phase')].find((b) => b.title.startsWith('Run-up')).click()")
	p.within("[data-live]", "Brakes")
	p.power(1750)
	for range 12 { // on to the magnetos, as the list has it
		if strings.Contains(p.text("[data-live]"), "Magnetos") {
			break
		}
		if eval[bool](p, "!!document.querySelector('[data-action=done]')") {
			p.click("[data-action=done]")
		} else {
			p.click("[data-action=read]")
			eval[any](p, "document.querySelectorAll('[data-read]').forEach((b) => b.click())")
			p.click("[data-action=keep-reading]")
			p.click("[data-action=done]")
		}
		p.seconds(1)
	}
	p.within("[data-live]", "Magnetos")
	p.click("[data-action=read]")
	reads := func(path string) { p.Helper(); p.click("[data-read=" + path + "]") }
	reads("base")
	for _, side := range [][2]string{{"LEFT", "left"}, {"RIGHT", "right"}} {
		p.click("[data-control='ignition " + side[0] + "']")
		p.seconds(6)
		reads(side[1])
		p.click("[data-control='ignition BOTH']")
		p.seconds(5)
		reads(map[string]string{"left": "bothAfterLeft", "right": "bothAfterRight"}[side[1]])
	}
}

// TestAFloodedStart: a student who does not know the order is told what comes first,
// floods a cold engine, clears it by the procedure, and starts it.
func TestAFloodedStart(t *testing.T) {
	t.Parallel()
	url, _ := serveSchool(t)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Moreau)
	p.practise("alder-110", "guided", "first-start")
	p.within("[data-live]", "1.1 Brakes")
	p.click("[data-control=master]")
	p.within("[data-part=told]", "Master switch comes later. First brakes")
	p.click("[data-action=done]")
	p.within("[data-part=told]", "is not so yet")
	p.click("[data-control=brakes]")
	p.seconds(1)
	p.within("[data-live]", "Avionics")
	p.click("[data-action=ask]")
	p.within("[data-part=told]", "Avionics: off.")
	p.click("[data-action=done]")
	p.within("[data-live]", "Fuel selector")
	p.click("[data-action=done]")
	p.within("[data-live]", "Prime")
	p.click("[data-control='ignition BOTH']")
	p.slide("[data-control=mixture]", "1")
	for range 14 {
		p.down("[data-control=primer]")
		p.seconds(1)
		p.up("[data-control=primer]")
	}
	p.crank(5)
	p.seconds(3)
	assert.Less(t, p.needle("speed"), 300.0, "flooded, it does not run")
	p.slide("[data-control=mixture]", "0")
	p.slide("[data-control=throttle]", "1")
	for range 3 {
		p.crank(8)
		p.seconds(20)
	}
	p.slide("[data-control=mixture]", "1")
	p.slide("[data-control=throttle]", "0.15")
	for range 3 {
		if p.crank(4); p.needle("speed") > 400 {
			break
		}
		p.seconds(20)
	}
	p.seconds(3)
	assert.Greater(t, p.needle("speed"), 400.0, "cleared, it runs")
	p.click("[data-action=back]")
	p.seconds(1)
	p.click("[data-action=sound]")
	p.within("[data-action=sound]", "sound on")
	p.portionsAndWhatIsShown()
	p.hotStart()
}

// TestADeadPlug: alone, a student meets it at the run-up, reads the drops off the needle,
// says that it is not normal before anybody else does, grounds the aircraft, and sees in
// the debrief what the run came to on the server, with its traces and from any second.
func TestADeadPlug(t *testing.T) {
	t.Parallel()
	url, _ := serveSchool(t)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Moreau)
	p.practise("alder-110", "alone", "cold-cylinder")
	assert.True(t, eval[bool](p, "!document.querySelector('[data-gauge=oilPressure] b')"),
		"what is not looked at is not read")
	p.readsTheDrops()
	p.click("[data-flag=roughLeft]")
	p.click("[data-action=keep-reading]")
	p.until("document.querySelector('[data-action=read]').innerText.includes('again')")
	assert.False(t, eval[bool](p, "!!document.querySelector('[data-part=judged]')"),
		"the student says what it is before the rules do")
	p.click("[data-action=abnormal]")
	p.click("[data-action=decide]")
	p.fill("[aria-label=Why]", "the left drop is far beyond its limit")
	p.click("[data-decide=grounded]")
	p.within("[data-part=answer]", "● Right")
	p.within("[data-part=fault]", "after it showed")
	p.until("document.querySelector('[data-trace=speed] path.own')?.getAttribute('d').length > 500")
	p.until("document.querySelector('[data-trace=speed] path.other')")
	p.click("[data-trace=speed] svg")
	p.until("document.querySelector('[data-part=clock]') && document.querySelector('[data-gauge=speed] b')")
	p.click("[data-action=play]")
	p.until("parseFloat(document.querySelector('[data-gauge=speed] b').innerText) >= 0")
	p.click("[data-action=leave]")
	p.click("[data-practice]")
	p.within("[data-part=answer]", "● Right")
	p.within("body", "Lena Moreau")
	p.open("/students/" + demo.Moreau.ID)
	p.within("[data-practice]", "Run-up, Alder, second of three")
	p.within("[data-practice]", "● right")
}

// lit lights a turbine with the starter turning, too early.
func (p *page) lit() {
	p.Helper()
	p.click("[data-control=master]")
	p.down("[data-control=starter]")
	p.seconds(6)
	p.click("[data-control='throttle idle']")
	p.seconds(25)
}

// hotStart: a turbine with a weak battery and the wind from behind comes to its limit when
// it is lit too early, and the wear is told.
func (p *page) hotStart() {
	p.Helper()
	p.practise("willow-t5", "guided", "tail-wind")
	p.outside("14 kt from behind")
	p.lit()
	p.until("parseFloat(document.querySelector('[data-gauge=turbineTemperature] b').innerText.replace('▲ ', '')) > 600")
	p.seconds(20)
	p.up("[data-control=starter]")
	p.click("[data-control='throttle closed']")
	p.click("[data-action=decide]")
	p.click("[data-decide=grounded]")
	p.within("[data-part=answer]", "attery")
	p.within("[data-part=answer]", "The turbine was too hot for")
}

// TestTheInstructorLooksOn: from a second device an instructor sees a checkride as it is
// worked, slips an ungrounded magneto in, holds the stand and writes a note; the student
// is told nothing, misses it, and is graded so; a run with one changed byte is refused.
func TestTheInstructorLooksOn(t *testing.T) {
	t.Parallel()
	url, _ := serveSchool(t)
	p, q := browse(t, url, 1280, 800), browse(t, url, 1280, 800)
	p.signIn(demo.Moreau)
	q.signIn(demo.Okonjo)
	p.practise("alder-110", "checkride", "first-start")
	p.click("[data-control=brakes]")
	p.seconds(1)
	q.open("/stand")
	q.click("[data-watch]")
	q.until("document.querySelector('[data-control=brakes]')?.classList.contains('chosen')")
	q.within("[data-part=student-live]", "Avionics")
	p.within("[data-part=watched]", "looks on")
	q.do(chromedp.SetValue("[data-pick=fault]", "left-magneto-ungrounded"))
	eval[any](q, "document.querySelector('[data-pick=fault]').dispatchEvent(new Event('change'))")
	q.click("[data-action=slip]")
	q.within("[data-part=wished]", "Slipped in")
	q.click("[data-action=person]")
	p.outside("propeller area not clear")
	q.click("[data-action=freeze]")
	p.within("[data-part=frozen]", "holds the stand")
	q.fill("[aria-label=Note]", "Look outside before you crank.")
	q.click("[data-action=note]")
	q.click("[data-action=freeze]")
	p.until("!document.querySelector('[data-part=frozen]')")
	p.running()
	q.until("parseFloat(document.querySelector('[data-gauge=speed] b').innerText) > 400")
	p.click("[data-control='ignition RIGHT']")
	p.seconds(6)
	p.click("[data-control='ignition BOTH']")
	p.seconds(2)
	assert.NotContains(t, p.text("aside"), "magneto", "nothing is told in a checkride")
	eval[any](p, `(() => {
		const send = fetch
		window.fetch = async (request, ...more) => {
			if (request.method !== 'PUT' || window.changed) return send(request, ...more)
			const body = await request.text()
			window.changed = (await send(request.url, {method: 'PUT', headers: request.headers, body: body.replace('"value":1', '"value":0')})).status
			return send(new Request(request.url, {method: 'PUT', headers: request.headers, body}), ...more)
		}
	})()`)
	p.click("[data-action=decide]")
	p.click("[data-decide=normal-for-type]")
	p.within("[data-part=answer]", "Not enough")
	p.within("[data-part=answer]", "unsafe act")
	p.within("[data-part=note]", "Look outside before you crank.")
	p.within("[data-part=fault]", "Not noticed")
	p.until("window.changed === 422")
	q.within("[data-part=ended]", "has decided")
	q.click("[data-part=ended] a")
	q.within("[data-part=answer]", "Not enough")
}

// TestAScenarioIsWritten: an instructor writes one, tries it and keeps it; a student meets
// it. What waits without the school goes when it is there again.
func TestAScenarioIsWritten(t *testing.T) {
	t.Parallel()
	url, _ := serveSchool(t)
	q := browse(t, url, 1280, 800)
	q.signIn(demo.Okonjo)
	q.open("/stand")
	q.click("[data-action=write]")
	q.named("title", "Frost on Friday", "oat", "-6")
	q.click("[data-action=add-fault]")
	q.click("[data-action=save-scenario]")
	q.within(".problem, .notice", "dew")
	q.slide("[name=oat]", "6")
	q.click("[data-action=save-scenario]")
	q.within("[data-part=saved]", "Kept as frost-on-friday")
	q.click("[data-action=try-scenario]")
	q.until("document.querySelector('[data-live]')")

	p := browse(t, url, 390, 844)
	p.signIn(demo.Moreau)
	p.practise("alder-110", "alone", "frost-on-friday")
	eval[any](p, "window.kept = fetch, window.fetch = () => Promise.reject(new TypeError('no network'))")
	p.click("[data-action=decide]")
	p.click("[data-decide=grounded]")
	p.within("[data-part=waits]", "waits on this device")
	eval[any](p, "window.fetch = window.kept")
	p.click("[data-action=leave]")
	p.until("document.querySelector('[data-practice]')")
	p.within("[data-practice]", "Frost on Friday")
}

// portionsAndWhatIsShown: what is to be repeated begins where it is weak, with the way there
// shown; and in the mode that shows nobody else moves anything.
func (p *page) portionsAndWhatIsShown() {
	p.Helper()
	p.open("/stand")
	p.click("[data-portion]")
	p.until("document.querySelectorAll('[data-live]').length === 1")
	p.click("[data-action=leave]")
	p.practise("willow-t5", "shown", "turbine-first")
	assert.False(p, eval[bool](p, "!!document.querySelector('[data-action=decide]')"))
	p.seconds(20)
	p.until("document.querySelector('[data-control=master]').classList.contains('chosen')")
	p.seconds(70)
	require.Greater(p, p.needle("spool"), 30.0)
	p.click("[data-action=back]")
	p.seconds(12)
	p.click("[data-action=leave]")
	p.click("[data-make='3']")
	p.within(".goal", "say whether you would go")
}
