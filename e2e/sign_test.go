package e2e_test

import (
	"os"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/webauthn"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
)

const pin = "482915"

// setPin gives the person a PIN in the interface.
func (p *page) setPin() {
	p.Helper()
	p.mine("pin")
	p.named("pin-password", demo.Password, "new-pin", "123456", "new-pin-again", "123456")
	p.click("[data-action=keep-pin]")
	p.see("must not just count up or down")
	p.named("new-pin", pin, "new-pin-again", pin)
	p.click("[data-action=keep-pin]")
	p.within("[data-part=pin-kept]", "Your PIN is kept.")
	p.key(kb.Escape)
	p.closed()
}

// finish works a few items and ends the lesson, to its debrief.
func (p *page) finish() {
	p.Helper()
	p.key(" ")
	p.key("p")
	p.live("Weight and balance")
	p.key("d")
	p.press("End the lesson")
	p.until("document.querySelector('[data-action=sign]')")
}

// TestASignatureIsPromisedWithoutTheSchool: by PIN, with the device's own key.
// It is sealed when the school is reached, from just the events that were seen,
// or comes back with what was different.
func TestASignatureIsPromisedWithoutTheSchool(t *testing.T) {
	t.Parallel()
	url, d := serveSchool(t)
	net := relayTo(t, url)
	p := browseKept(t, net.url, 1280, 800)
	p.signIn(demo.Okonjo)
	p.setPin()
	p.aboard()
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	lesson := p.lessonOf()
	p.within("[data-part=outbox]", "all marks at the school")
	net.cut(true)
	p.finish()
	p.see("your PIN signs on this device")
	p.fill("[name=sign-pin]", "000000")
	p.click("[data-action=sign]")
	p.see("That is not the PIN. 4 tries are left.")
	p.fill("[name=sign-pin]", pin)
	p.click("[data-action=sign]")
	p.within("[data-part=promised]", "Signed on this device")
	net.cut(false)
	p.within("[data-part=signed]", "events, rules")
	assert.Equal(t, 1, one[int](t, d, "select count(*) from seals where lesson_id = $1", lesson))
	assert.Equal(t, "device",
		one[string](t, d, "select convert_from(content, 'utf8')::json->>'how' from seals where lesson_id = $1", lesson))

	// Somebody who sits in adds a mark that the signer has not seen.
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	second := p.lessonOf()
	p.within("[data-part=outbox]", "all marks at the school")
	p.key("m")
	p.press("Marit Solheim")
	p.closed()
	p.within("[data-part=outbox]", "all marks at the school")
	o := browse(t, url, 1280, 800)
	o.signIn(demo.Solheim)
	o.open("/lessons/" + second)
	o.live("Papers and list")
	net.cut(true)
	p.finish()
	p.fill("[name=sign-pin]", pin)
	p.click("[data-action=sign]")
	p.within("[data-part=promised]", "Signed on this device")
	o.goTo("Tow bar")
	o.key("w")
	o.within("[data-part=outbox]", "all marks at the school")
	net.cut(false)
	p.within("[data-part=came-back]", "The lesson has changed since this page showed it.")
	p.within("[data-part=came-back]", "Came since: item result Tow bar")
	p.click("[data-action=look-again]")
	p.fill("[name=sign-pin]", pin)
	p.click("[data-action=sign]")
	p.within("[data-part=signed]", "events, rules")
}

// TestAPinOpensTheDeviceWithoutTheSchool: for who was signed in, with counted
// tries and a limit of time; a clock that was set back is said.
func TestAPinOpensTheDeviceWithoutTheSchool(t *testing.T) {
	t.Parallel()
	d := demoSchool(t)
	school := start(t, d, "127.0.0.1:0")
	dir := t.TempDir()
	p, kill := browseIn(t, school.url, dir, 768, 1024)
	p.signIn(demo.Okonjo)
	p.setPin()
	p.aboard()
	school.stop(os.Interrupt)
	kill()

	p, _ = browseIn(t, school.url, dir, 768, 1024)
	p.open("/today")
	p.see("Your PIN opens what this device keeps of Tarn Hollow Flying School.")
	assert.NotContains(t, p.text("body"), "Piet", "nothing is shown before")
	p.fill("[name=pin]", "111222")
	p.press("Open")
	p.see("That is not the PIN. 4 tries are left.")
	seen := func(by string) {
		eval[any](p, `new Promise((done) => { const r = indexedDB.open('jetprimer'); r.onsuccess = () => { const s = r.result.transaction('people', 'readwrite').objectStore('people')
			s.getAll().onsuccess = (e) => { const one = e.target.result[0]; one.seen += `+by+
			`; s.put(one).onsuccess = () => { r.result.close(); done() } } } }).then(() => location.reload())`)
	}
	seen("3600_000")
	p.see("This device’s clock stands earlier than when it was last used")
	seen("-3600_000 - 73 * 3600_000")
	p.see("The time to work without the school is over on this device.")
	seen("73 * 3600_000")
	p.fill("[name=pin]", pin)
	p.press("Open")
	p.see("Waits for you")
	p.within("[data-part=away]", "The school is not reached.")
	eval[any](p, "sessionStorage.clear(), location.reload()")
	for _, left := range []string{"4 tries are", "3 tries are", "2 tries are", "One try is"} {
		p.fill("[name=pin]", "111222")
		p.press("Open")
		p.see(left + " left.")
	}
	p.fill("[name=pin]", "111222")
	p.press("Open")
	p.see("The PIN was tried too often.")
	eval[any](p, "location.reload()")
	p.see("The PIN was tried too often.")
	require.False(t, eval[bool](p, "!!document.querySelector('[name=pin]')"))
}

// TestTheStudentSaysHowTheySawIt: before the instructor's grades are shown, and
// acknowledges the record by an own sign-in, or does not.
func TestTheStudentSaysHowTheySawIt(t *testing.T) {
	t.Parallel()
	url, d := serveSchool(t)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	lesson := p.lessonOf()
	p.finish()
	p.fill("[name=password]", demo.Password)
	p.click("[data-action=sign]")
	p.within("[data-part=signed]", "events, rules")
	p.signOut()

	p.signIn(demo.Moreau)
	p.click("[href='/lessons/" + lesson + "'], [href='/lessons/" + lesson + "/debrief']")
	p.see("Your instructor’s grades are shown once you have said how you saw each phase.")
	assert.NotContains(t, p.text("body"), "Done after a word.")
	assert.NotContains(t, later[string](p, "fetch('/api/v1/lessons/"+lesson+"').then((r) => r.text())"),
		"Done after a word", "nor does the school send them")
	p.click("[data-self=before-moving] button[aria-label$='With a word']")
	p.fill("[name=self-words]", "I looked at the wrong page first.")
	p.click("[data-action=self-grade]")
	p.see("Done after a word.")
	p.within("[data-part=self]", "“I looked at the wrong page first.”")
	p.click("[data-action=refuse]")
	p.fill("[name=password]", demo.Password)
	p.click("[data-action=answer]")
	p.see("Say in words what you do not agree with.")
	p.fill("[name=answer-words]", "The second item was not prompted.")
	p.fill("[name=password]", demo.Password)
	p.click("[data-action=answer]")
	p.within("[data-part=answer]", "Not acknowledged")
	assert.Equal(t, 2, one[int](t, d, "select count(*) from seals where lesson_id = $1", lesson))
}

// TestAFingerSigns: a passkey of the device, made with the password and used to
// sign; at an address that is a number it says why there is none.
func TestAFingerSigns(t *testing.T) {
	t.Parallel()
	url, d := serveSchool(t)
	p := browse(t, strings.Replace(url, "127.0.0.1", "localhost", 1), 1280, 800)
	_, err := chromedp.Call(p.ctx, webauthn.Enable, webauthn.EnableParams{})
	require.NoError(t, err)
	_, err = chromedp.Call(p.ctx, webauthn.AddVirtualAuthenticator,
		webauthn.AddVirtualAuthenticatorParams{Options: &webauthn.VirtualAuthenticatorOptions{
			Protocol: webauthn.AuthenticatorProtocolCtap2, Transport: webauthn.AuthenticatorTransportInternal,
			HasResidentKey: true, HasUserVerification: true, IsUserVerified: true, AutomaticPresenceSimulation: true}})
	require.NoError(t, err)
	p.signIn(demo.Okonjo)
	p.mine("pin")
	p.fill("[name=pin-password]", demo.Password)
	p.click("[data-action=make-passkey]")
	p.within("[data-part=passkey]", "A passkey of yours is kept.")
	p.key(kb.Escape)
	p.closed()
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	lesson := p.lessonOf()
	p.finish()
	p.click("[data-action=sign-passkey]")
	p.within("[data-part=signed]", "events, rules")
	assert.Equal(t, "passkey",
		one[string](t, d, "select convert_from(content, 'utf8')::json->>'how' from seals where lesson_id = $1", lesson))

	o := browse(t, url, 1280, 800)
	o.signIn(demo.Okonjo)
	o.mine("pin")
	o.within("[data-part=passkey]", "Passkeys need a name in the address, not a number")
}
