package e2e_test

import (
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"

	"jetprimer/demo"
)

// TestAFahrenheitSchool: the chief sets the school's units, an instructor reads
// and types in them, and a student who reads others sees the same record in
// theirs, with what was read beside it.
func TestAFahrenheitSchool(t *testing.T) {
	t.Parallel()
	url := serve(t)
	p := browse(t, url, 1280, 800)
	choose := func(setting, unit string) {
		t.Helper()
		button := "[...document.querySelectorAll('[data-setting=" + setting +
			"] button')].find((b) => b.innerText === '" + unit + "')"
		p.until(button)
		eval[any](p, button+".click()")
		p.until(button + ".ariaPressed === 'true'")
	}
	p.signIn(demo.Ferreira)
	p.mine("units")
	p.press("Tarn Hollow Flying School: all who have not chosen")
	choose("temperature", "°F")
	choose("pressure", "inHg")
	choose("speed", "mph")
	p.key(kb.Escape)
	p.closed()
	p.signOut()

	p.signIn(demo.Okonjo)
	p.open("/day")
	p.see("Student’s crosswind, mph")
	p.until("document.querySelector('[name=student-cross]').value === '9.2'")
	p.fill("[name=report]", "METAR XTHW 261150Z 21010KT 9999 FEW030 05/01 Q1013")
	p.within("[data-part=sheet] .line-inhg", "altimeter setting")
	p.within("[data-runway='20']", "head 11.4 mph")
	p.open("/reference/gauges")
	p.within(".drags", "°F")
	p.open("/lists")

	p.open("/lessons/new")
	p.among("Student", demo.Moreau.Name)
	p.among("Aircraft", "QZ-AAA Alder 110")
	p.see("Outside air, °F")
	p.named("oat", "141")
	p.see("The outside air 141 is outside -76 to 140 °F.")
	p.named("oat", "41", "dew", "33.8", "qnh", "29.92")
	p.within("[data-part=preview]", "items today")
	p.press("Open the lesson")
	p.goTo("Pressures, temperatures")
	p.boxes("oilPressure", "80", "oilTemperature", "244", "fuelPressure", "4", "cylinderHead", "390")
	p.within("[data-part=verdict]", "The oil temperature reads 244 °F; normal is up to 224.6 °F.")
	p.boxes("oilTemperature", "245")
	p.within("[data-part=verdict]", "The oil temperature reads 245 °F; the highest allowed is 244.4 °F.")
	p.within("[data-action=keep-reading]", "■ Out of limits")
	p.click("[data-action=keep-reading]")
	p.until("document.querySelector('[data-action=repeat]')")
	p.until("document.querySelector('[data-local=\"0\"]')")
	path := eval[string](p, "location.pathname")

	p.open("/today")
	p.mine("units")
	choose("temperature", "°C")
	p.key(kb.Escape)
	p.closed()
	p.open(path)
	p.within("[data-part=verdict]", "The oil temperature reads 118.33 °C; the highest allowed is 118 °C.")
	p.click("[data-action=repeat]")
	p.within("[data-part=previous]", "oil temperature 118.33 °C (read as 245 °F)")
	p.open(path + "/debrief")
	p.see("118.33 °C")
	assert.False(t,
		eval[bool](p, "document.body.innerText.includes('undefined') || document.body.innerText.includes('[object')"))
}
