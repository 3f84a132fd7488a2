package e2e_test

import (
	"net/http"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
)

// TestHelpStandsBesideThePlace: from the bar, by its key and from the keys of a lesson; the
// whole guide has a search, and is read without a network as well.
func TestHelpStandsBesideThePlace(t *testing.T) {
	t.Parallel()
	url := serve(t)
	net := relayTo(t, url)
	p := browseKept(t, net.url, 1280, 800)
	p.open("/help/sign-in")
	p.within("[data-part=guide-page]", "The first time you have a link and a code")
	p.signIn(demo.Solheim)
	p.open("/schedule")
	p.press("Help")
	p.within("[data-part=help]", "Find next lessons proposes what brings the most readiness")
	p.click("[data-part=help] [data-page=policy]")
	p.within("[data-part=help]", "Whom it moves judges every student by both versions")
	p.key(kb.F1)
	p.until("!document.querySelector('[data-part=help]')")
	p.key(kb.F1)
	p.within("[data-part=help]", "Plan a lesson")
	p.click("[data-action=whole-guide]")
	p.within("[data-part=guide-page]", "Leave and hours")
	p.fill("[name=guide-search]", "drops enter")
	p.within("[data-part=guide-page]", "for magnetos the two drops, not four speeds")
	p.fill("[name=guide-search]", "kitchen")
	p.see("No page has all of these words.")
	p.fill("[name=guide-search]", "")
	p.until("navigator.serviceWorker.controller?.state === 'activated'")
	net.cut(true)
	p.open("/help/offline")
	p.within("[data-part=guide-page]", "Every mark is kept on the device before the screen moves")
	net.cut(false)

	answer, err := http.Get(url + "/api/v1/guide.pdf")
	require.NoError(t, err)
	answer.Body.Close()
	assert.Equal(t, "application/pdf", answer.Header.Get("Content-Type"))
}
