package e2e_test

import (
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/accessibility"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
)

// sound fails for everything serious that the checker of accessible pages finds
// on what is shown by day, and of its colours by night, by the name of the view.
func (p *page) sound(axe, view string) {
	p.Helper()
	if !eval[bool](p, "typeof axe === 'object'") {
		eval[any](p, axe+"; 0")
	}
	for _, look := range [][2]string{{"day", ""}, {"night", ", runOnly: ['color-contrast']"}} {
		eval[any](p, fmt.Sprintf("document.documentElement.dataset.theme = %q", look[0]))
		found := later[[]string](p, `axe.run(document, { resultTypes: ['violations']`+look[1]+` }).then((r) => r.violations.filter((v) => ['serious', 'critical'].includes(v.impact))
		.flatMap((v) => v.nodes.slice(0, 3).map((n) => v.id + ': ' + n.target.join(' ') + ' ' + (n.any[0]?.message ?? n.all[0]?.message ?? '').slice(0, 140))))`)
		assert.Empty(p, found, view+" by "+look[0])
	}
}

// TestEveryViewIsAccessible: nothing serious in any main view, by day and by
// night.
func TestEveryViewIsAccessible(t *testing.T) {
	t.Parallel()
	script, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(t, err)
	axe := string(script)
	p := browse(t, serve(t), 1280, 800)
	p.open("/sign-in")
	p.see("A training record and a teaching aid")
	p.sound(axe, "sign-in")
	p.open("/verify")
	p.see("Verify a record")
	p.sound(axe, "verify")
	p.signIn(demo.Okonjo)
	p.see("Waits for you")
	p.sound(axe, "today")
	running := eval[string](p, "document.querySelector(\"a.line[href^='/lessons/']\").getAttribute('href')")
	for _, place := range [][2]string{{"/day", "Weather"}, {"/lessons/new", "everything here goes into the record"},
		{running, "Out of limits"}, {running + "/debrief", "to fix"},
		{"/students/" + demo.Moreau.ID, "stand in the way"}, {"/lists/alder-110", "Alder 110"}, {
			"/reference/magneto", "agneto",
		}} {
		p.open(place[0])
		p.see(place[1])
		p.sound(axe, place[0])
	}
	p.signOut()
	p.signIn(demo.Ferreira)
	p.open("/school")
	p.see("lessons")
	p.sound(axe, "school")
	for _, place := range [][2]string{{"/schedule", "This week"}, {"/policy", "in force today"},
		{"/documents/policy/policy/2", "lapses after days"}, {"/standards", "Tarn Hollow core"},
		{"/documents/pack/school-core/2", "ships with the program"}, {"/people", "people"}, {"/aircraft", "QZ-AAA"},
		{"/aircraft/QZ-AAB", "It meets its limit"}, {"/aircraft/QZ-AAB/recorder", "Drop the recorder"}, {
			"/outlook", "Nothing can be told yet",
		}, {"/stand", "First start"}, {"/compare", "The same lesson would get"}, {"/taught", "after a word or a hand"},
		{
			"/place", "There is no server for letters",
		}} {
		p.open(place[0])
		p.see(place[1])
		p.sound(axe, place[0])
	}
	p.open("/lists/alder-110")
	p.click("[data-action=describe-type]")
	p.named("name", "Alder 112", "source", "fictional type, Alder 112 handbook, revision 1")
	p.click("[data-from='copy alder-110']")
	p.click("[data-action=describe]")
	for _, part := range []string{"limits.magneto", "limits.gauges", "cockpit", "basics"} {
		p.click("[data-at='" + part + "']")
		p.sound(axe, "a type being described, "+part)
	}
	p.click("[data-tab=pages]")
	p.sound(axe, "a type page by page")
}

// tab walks to the element of that name with the tab key, once it can be touched.
func (p *page) tab(name string) {
	p.Helper()
	named := fmt.Sprintf("((e) => (e.ariaLabel ?? e.innerText ?? '').trim().startsWith(%q) || "+
		"(e.labels?.[0]?.innerText ?? '').trim().startsWith(%[1]q))", name)
	p.until("[...document.querySelectorAll('a, button:enabled, input:enabled, select:enabled')].some(" + named + ")")
	for range 80 {
		p.key(kb.Tab)
		if eval[bool](p, named+"(document.activeElement)") {
			return
		}
	}
	p.Fatalf("the tab key does not come to %q", name)
}

// TestALessonByKeyboardAlone: opened, worked, measured, ended and signed without
// a pointer.
func TestALessonByKeyboardAlone(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.open("/sign-in")
	p.tab("Address")
	p.key(demo.Okonjo.Email)
	p.tab("Password")
	p.key(demo.Password + kb.Enter)
	p.see("Waits for you")
	p.tab("Open the lesson")
	p.key(kb.Enter)
	p.within("[data-part=preview]", "items today")
	p.tab("Open the lesson")
	p.key(kb.Enter)
	p.live("Papers and list")
	p.key(" ")
	p.key("p")
	p.key("h")
	p.live("Walk-round")
	for range 5 {
		p.key("c") // the rest of the phase
	}
	p.live("Position")
	for i := 0; !strings.Contains(p.text(".live h2"), "Magnetos"); i++ {
		require.Less(t, i, 20)
		before := p.text(".live h2")
		p.key(kb.ArrowDown)
		p.until("document.querySelector('.live h2')?.innerText !== " + js(before))
	}
	p.key("r")
	p.until("document.activeElement?.matches('.boxes input')")
	p.key(kb.Tab)
	p.key("90" + kb.Tab + kb.Tab + "100")
	p.until("document.querySelector('[data-part=verdict]')")
	p.key(kb.Enter)
	p.until("document.querySelector('[data-action=repeat]')")
	p.key(kb.Escape)
	p.key(" ")
	p.key("z")
	p.live("Magnetos")
	p.key(" ")
	p.key("d")
	p.tab("End the lesson")
	p.key(kb.Enter)
	p.until("document.querySelector('[data-action=sign]')")
	p.tab("Your password")
	p.key(demo.Password + kb.Enter)
	p.within("[data-part=signed]", "events, rules")
}

// TestALessonByNamesAlone: what a screen reader is given of the live lesson,
// roles and names, is enough to work it.
func TestALessonByNamesAlone(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	named := func() map[string][]string {
		t.Helper()
		tree, err := chromedp.Call(p.ctx, accessibility.GetFullAXTree, accessibility.GetFullAXTreeParams{})
		require.NoError(t, err)
		out := map[string][]string{}
		for _, n := range tree.Nodes {
			if n.Role != nil && n.Name != nil && !n.Ignored {
				role, name := strings.Trim(string(n.Role.Value), `"`), strings.Trim(string(n.Name.Value), `"`)
				out[role] = append(out[role], name)
			}
		}
		return out
	}
	has := func(in []string, words string) {
		t.Helper()
		for _, name := range in {
			if strings.Contains(name, words) {
				return
			}
		}
		t.Errorf("nothing is named %q among %q", words, in)
	}
	tree := named()
	has(tree["toolbar"], "Marks")
	has(tree["region"], "Checklist")
	has(tree["heading"], "Papers and list")
	for _, name := range []string{
		"Done", "Prompted", "Helped", "Wrong", "Self-fixed", "Left out", "Not fitted", "Error", "Finding", "Undo",
		"rest of the phase is right",
	} {
		has(tree["button"], name)
	}
	press := func(name string) {
		t.Helper()
		eval[any](p,
			fmt.Sprintf("[...document.querySelectorAll('button')].find((b) => "+
				"b.innerText.trim().startsWith(%q)).click()", name))
	}
	press("Done")
	p.live("Deferred items")
	has(named()["heading"], "Deferred items")
	p.goTo("Magnetos")
	tree = named()
	has(tree["region"], "Magneto check")
	for _, name := range []string{"BOTH", "LEFT", "RIGHT"} {
		has(tree["textbox"], name)
	}
	p.boxes("left", "150", "right", "100")
	p.within("[data-part=verdict]", "Out of limits")
	has(named()["StaticText"], "Out of limits: test again")
}
