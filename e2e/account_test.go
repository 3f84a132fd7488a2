package e2e_test

import (
	"encoding/base32"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/internal/onetime"
)

// TestASecondFactorAndAWayBack: the school asks for one-time codes, the chief
// sets them up before anything else and signs in by them; who is locked out comes
// back by a code of the school.
func TestASecondFactorAndAWayBack(t *testing.T) {
	t.Parallel()
	url := serve(t)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Ferreira)
	p.mine("units")
	p.press("Tarn Hollow Flying School: all who have not chosen")
	p.press("asked for")
	p.until(
		"[...document.querySelectorAll('button')].some((b) => b.innerText === 'asked for' && b.ariaPressed === 'true')")
	p.key(kb.Escape)
	p.closed()
	p.open("/today")
	p.within("[data-part=must-second]", "Set them up here first")
	p.fill("[name=second-password]", demo.Password)
	p.click("[data-action=begin-second]")
	p.until("document.querySelector('[data-part=second] img')?.naturalWidth > 0")
	secret, err := base32.StdEncoding.WithPadding(base32.NoPadding).DecodeString(p.text("[data-secret]"))
	require.NoError(t, err)
	code := func(step int64) string {
		out, err := onetime.Code(secret, step)
		require.NoError(t, err)
		return out
	}
	p.fill("[name=second-code]", "000000")
	p.click("[data-action=keep-second]")
	p.see("That is not the code that the authenticator shows now.")
	now := onetime.StepAt(time.Now())
	p.fill("[name=second-code]", code(now))
	p.click("[data-action=keep-second]")
	p.see("From now on a code is asked for at each sign-in.")
	p.signOut()
	p.fill("#email", demo.Ferreira.Email)
	p.fill("#password", demo.Password)
	p.press("Sign in")
	p.see("Now the code that your authenticator shows.")
	p.fill("[name=sign-in-code]", code(now+1)) // a clock may be a step ahead
	p.press("Sign in")
	p.see("Sign out")

	p.open("/people")
	p.click("[data-action=place]")
	p.named("base-elevation-0", "19,5")
	p.click("[data-base=XSTB] [data-action=keep-base]")
	p.see("Stell Bay is kept.")
	p.click("[data-action=another-base]")
	p.named("base-id-2", "xfrw", "base-name-2", "Fen Row", "base-elevation-2", "61", "runway-2-0", "40", "heading-2-0",
		"90", "length-2-0", "700")
	p.click("[data-base=xfrw] [data-action=keep-base]")
	p.see("runway 1, name: must be 01 to 36")
	p.open("/people")
	p.click("[data-action=status]")
	p.within("[data-part=check]:nth-of-type(2)", "schema ● It is the newest.")
	p.open("/people")
	p.click("[data-action=done]")
	p.named("done-words", "one-time set up")
	p.click("[data-action=look]")
	p.within("[data-part=done]", "Ilse Ferreira one-time codes set up")
	p.open("/people")
	p.click("[data-person='" + demo.Quist.ID + "']")
	p.click("[data-action=recover]")
	p.within("[data-part=link-and-code]", "May come back until")
	link, once := p.text("[data-link]"), p.text("[data-code]")
	q := browse(t, link, 390, 844)
	q.open("")
	q.named("recover-code", once, "recover-password", "nine quiet herons", "recover-again", "nine quiet heron")
	q.press("Come in")
	q.see("The two passwords are not the same.")
	q.named("recover-again", "nine quiet herons")
	q.press("Come in")
	q.see("Sign out")
}

// TestTheOwnerIsTold: of a code that was given out to their account, until they have read it.
func TestTheOwnerIsTold(t *testing.T) {
	t.Parallel()
	url := serve(t)
	admin := browse(t, url, 1280, 800)
	admin.signIn(demo.Whitlock)
	status := later[int](admin,
		"fetch('/api/v1/people/"+demo.Okonjo.ID+"/recovery', { method: 'POST' }).then((r) => r.status)")
	require.Equal(t, 200, status)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Okonjo)
	p.within("[data-part=notice]", demo.Whitlock.Name+" gave out a code to come back to your account")
	p.do(chromedp.EmulateViewport(390, 844))
	require.LessOrEqual(t, eval[float64](p, "document.documentElement.scrollWidth"), 390.0)
	p.click("[data-action=read-notice]")
	p.until("!document.querySelector('[data-part=notice]')")
	p.open("/today")
	p.see("Waits for you")
	require.False(t, eval[bool](p, "!!document.querySelector('[data-part=notice]')"))
}
