package e2e_test

import (
	"fmt"
	"os"
	"regexp"
	"slices"
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

// walk is who looks at which views: the path, and what is seen there once it is drawn.
type walk struct {
	name  string
	who   *demo.Person
	views [][2]string
}

// walks lead past every place of the application; the running lesson stands for its id.
func walks() []walk {
	some := "0199c2f0-0000-7000-8000-000000000000"
	return []walk{
		{"nobody", nil, [][2]string{
			{"/sign-in", "A training record and a teaching aid"}, {"/verify", "Verify a record"},
			{"/help/measured", "the two drops"}, {"/shared/" + some + "/" + some, "The code"},
			{"/join/" + some + "/" + some, "The code you were given"}, {"/recover/" + some, "Back to your account"},
			{"/setup", "Sign in"}, {"/unlock", "Sign in"},
		}},
		{"instructor", &demo.Okonjo, [][2]string{
			{"/today", "Waits for you"}, {"/day", "Weather"}, {"/lessons/new", "everything here goes into the record"},
			{"/lessons/running", "Out of limits"}, {"/lessons/running/debrief", "to fix"},
			{"/students/" + demo.Moreau.ID, "stand in the way"}, {"/lists/alder-110", "Alder 110"},
			{"/reference/magneto", "agneto"}, {"/account", "Where you are signed in"}, {"/stand", "First start"},
			{"/stand/live/" + some, "Station"}, {"/stand/" + some, "Practice"},
		}},
		{"chief", &demo.Ferreira, [][2]string{
			{"/school", "lessons"}, {"/schedule", "This week"}, {"/policy", "in force today"},
			{"/documents/policy/policy/2", "lapses after days"}, {"/standards", "Tarn Hollow core"},
			{"/documents/pack/school-core/2", "ships with the program"}, {"/outlook", "Nothing can be told yet"},
			{"/compare", "The same lesson would get"}, {"/taught", "after a word or a hand"},
		}},
		{"administrator", &demo.Ferreira, [][2]string{
			{"/people", "people"}, {"/aircraft", "QZ-AAA"}, {"/aircraft/QZ-AAB", "It meets its limit"},
			{"/aircraft/QZ-AAB/recorder", "Drop the recorder"}, {"/place", "There is no server for letters"},
			{"/status", "What must be so"}, {"/audit-log", "signed in"},
		}},
	}
}

// TestEveryViewIsAccessible: nothing serious in any view, by day and by night.
func TestEveryViewIsAccessible(t *testing.T) {
	t.Parallel()
	script, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(t, err)
	axe, url := string(script), serve(t)
	for _, w := range walks() {
		t.Run(w.name, func(t *testing.T) {
			t.Parallel()
			p := browse(t, url, 1280, 800)
			running := ""
			if w.who != nil {
				p.signIn(*w.who)
				p.see("Today")
				const link = "document.querySelector(\"a.line[href^='/lessons/']\")"
				p.until(link)
				running = eval[string](p, link+".getAttribute('href')")
			}
			for _, view := range w.views {
				p.open(strings.Replace(view[0], "/lessons/running", running, 1))
				p.see(view[1])
				p.sound(axe, view[0])
			}
		})
	}
	t.Run("a type being described", func(t *testing.T) {
		t.Parallel()
		p := browse(t, url, 1280, 800)
		p.signIn(demo.Ferreira)
		p.open("/lists/alder-110")
		p.click("[data-action=describe-type]")
		p.named("name", "Alder 112", "source", "fictional type, Alder 112 handbook, revision 1")
		p.click("[data-from='copy alder-110']")
		p.click("[data-action=describe]")
		for _, part := range []string{"limits.magneto", "limits.gauges", "cockpit", "basics"} {
			p.click("[data-at='" + part + "']")
			p.sound(axe, part)
		}
		p.click("[data-tab=pages]")
		p.sound(axe, "page by page")
	})
}

// TestTheWalkLeadsPastEveryPlace: a place that is added to the router is looked at.
func TestTheWalkLeadsPastEveryPlace(t *testing.T) {
	t.Parallel()
	source, err := os.ReadFile("../web/src/router.ts")
	require.NoError(t, err)
	var seen []string
	for _, w := range walks() {
		for _, view := range w.views {
			seen = append(seen, view[0])
		}
	}
	places := 0
	for _, m := range regexp.MustCompile(`path: '(/[^']+)'`).FindAllStringSubmatch(string(source), -1) {
		if strings.HasPrefix(m[1], "/:rest") {
			continue
		}
		places++
		shape := regexp.MustCompile(`/:\w+\?`).ReplaceAllString(m[1], "(/[^/]+)?")
		shape = "^" + regexp.MustCompile(`:\w+`).ReplaceAllString(shape, "[^/]+") + "$"
		assert.True(t, slices.ContainsFunc(seen, regexp.MustCompile(shape).MatchString), "nobody looks at %s", m[1])
	}
	assert.Greater(t, places, 25)
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
	p.until("document.activeElement?.id === 'left'") // the first that is missing
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
