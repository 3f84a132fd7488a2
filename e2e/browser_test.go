// Package e2e_test drives the real program in headless Chromium, and asserts
// what a person would read.
package e2e_test

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	devtools "github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/server"
)

var program string // the built program

func TestMain(m *testing.M) {
	// The school stands where it is late in the morning: what is next on Today
	// does not depend on when the tests are run.
	zone, err := time.LoadLocation(fmt.Sprintf("Etc/GMT%+d", time.Now().UTC().Hour()-11))
	if err != nil {
		panic(err)
	}
	schooltest.Day = time.Now().In(zone)
	dir, err := os.MkdirTemp("", "jetprimer-e2e-")
	if err != nil {
		panic(err)
	}
	defer os.RemoveAll(dir)
	program = filepath.Join(dir, "jetprimer")
	if out, err := exec.Command("go", "build", "-o", program, "../cmd/jetprimer").CombinedOutput(); err != nil {
		panic(fmt.Sprintf("%v: %s", err, out))
	}
	defer stopChromium()
	schooltest.Main(m)
}

// quick is a password hash that costs little, for tests.
var quick = argon2id.Params{Memory: 8 * 1024, Iterations: 1, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// everybodys is the hash of everybody's password, made once: tests that share
// it share the making of the demo school.
var everybodys = sync.OnceValues(func() (string, error) { return argon2id.CreateHash(demo.Password, &quick) })

// serve runs the program on a database with the demo school, and returns where.
func serve(t testing.TB) string {
	t.Helper()
	url, _ := serveSchool(t)
	return url
}

// serveOn serves a school as if it were another day.
func serveOn(t testing.TB, school *schooltest.Database, day time.Time) string {
	t.Helper()
	handler, err := server.New(server.Options{
		Store: school.Store, Catalog: school.Catalog, Now: func() time.Time { return day },
	})
	require.NoError(t, err)
	s := httptest.NewServer(handler)
	t.Cleanup(func() {
		handler.Close() // its streams end
		s.Close()
	})
	return s.URL
}

// serveSchool is serve, and gives the database as well.
func serveSchool(t testing.TB) (string, *schooltest.Database) {
	t.Helper()
	if _, err := os.Stat("../web/dist/index.html.br"); err != nil {
		t.Fatal("the screens are not built: run make build")
	}
	d := demoSchool(t)
	return start(t, d, "127.0.0.1:0").url, d
}

// demoSchool is a database with the demo school in it.
func demoSchool(t testing.TB) *schooltest.Database {
	t.Helper()
	hash, err := everybodys()
	require.NoError(t, err)
	return schooltest.Demo(t, hash)
}

// running is the program serving a school.
type running struct {
	url string
	cmd *exec.Cmd
}

// start runs the program on a school at an address; it is stopped with the test
// where it still runs.
func start(t testing.TB, d *schooltest.Database, listen string) *running {
	t.Helper()
	cmd := exec.Command(program, "serve", "--listen", listen, "--letters-near")
	cmd.Env = append(os.Environ(), "JETPRIMER_DATABASE="+d.AppURL, "JETPRIMER_SECRET="+schooltest.Secret)
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	r := &running{cmd: cmd}
	t.Cleanup(func() { r.stop(os.Interrupt) })
	line, err := bufio.NewReader(out).ReadString('\n')
	require.NoError(t, err)
	r.url = strings.TrimSpace(strings.TrimPrefix(line, "serving on "))
	return r
}

// stop ends the program by a signal, and waits until it is gone.
func (r *running) stop(how os.Signal) {
	if r.cmd.ProcessState != nil {
		return
	}
	_ = r.cmd.Process.Signal(how)
	_ = r.cmd.Wait()
}

// page is one browser tab at the program.
type page struct {
	testing.TB
	ctx context.Context
	url string
	// letters and touches count what a person's hands would have done.
	letters, touches int
}

// effort is how long a person would have been at it: five letters a second, and
// a second and a half for each thing found and touched.
func effort(pages ...*page) time.Duration {
	var all time.Duration
	for _, p := range pages {
		all += time.Duration(p.letters)*time.Second/5 + time.Duration(p.touches)*1500*time.Millisecond
	}
	return all
}

// browse opens a fresh profile of a browser at the given size, one that keeps no
// applications: what is not asked about being without the school need not
// bring the whole application aboard first.
func browse(t testing.TB, url string, width, height int64) *page {
	t.Helper()
	p := browseKept(t, url, width, height)
	_, err := chromedp.Call(p.ctx, devtools.AddScriptToEvaluateOnNewDocument,
		devtools.AddScriptToEvaluateOnNewDocumentParams{Source: "delete Navigator.prototype.serviceWorker"})
	require.NoError(t, err)
	return p
}

// browseKept is browse with a browser that keeps the application.
func browseKept(t testing.TB, url string, width, height int64) *page {
	t.Helper()
	browser, err := chromium()
	require.NoError(t, err)
	ctx, cancel := chromedp.NewContext(browser, chromedp.WithNewBrowserContext())
	t.Cleanup(cancel)
	p := &page{TB: t, ctx: ctx, url: url}
	p.begin(width, height)
	return p
}

// begin gives a page its size, and the focus that only one window has.
func (p *page) begin(width, height int64) {
	p.Helper()
	require.NoError(p, chromedp.Do(p.ctx, chromedp.EmulateViewport(width, height)))
	_, err := chromedp.Call(p.ctx, emulation.SetFocusEmulationEnabled,
		emulation.SetFocusEmulationEnabledParams{Enabled: true})
	require.NoError(p, err)
}

// chromium starts the browser that the stories share, each with a profile of its own.
var chromium = sync.OnceValues(func() (context.Context, error) {
	allocator, stop := chromedp.NewExecAllocator(context.Background(), flags...)
	ctx, cancel := chromedp.NewContext(allocator)
	stopChromium = func() { cancel(); stop() }
	return ctx, chromedp.Do(ctx) // the browser lives as long as ctx
})

var stopChromium = func() {}

var flags = append(chromedp.DefaultExecAllocatorOptions[:], chromedp.NoSandbox, chromedp.DisableGPU,
	chromedp.Flag("disable-quic", true), chromedp.Flag("force-prefers-reduced-motion", true),
	chromedp.Flag("disable-component-update", true), chromedp.Flag("disable-sync", true),
	// a page that is left is gone
	chromedp.Flag("disable-features", "Translate,BlinkGenPropertyTrees,BackForwardCache"))

// browseIn is browse with a browser of its own, and a folder that it keeps its things in,
// so that the next one finds them; kill ends it at once, as a crash does.
func browseIn(t testing.TB, url, dir string, width, height int64) (p *page, kill func()) {
	t.Helper()
	allocator, stop := chromedp.NewExecAllocator(context.Background(),
		append(slices.Clone(flags), chromedp.UserDataDir(dir))...)
	t.Cleanup(stop)
	ctx, cancel := chromedp.NewContext(allocator)
	t.Cleanup(cancel)
	p = &page{TB: t, ctx: ctx, url: url}
	p.begin(width, height) // the browser lives as long as ctx
	process := chromedp.FromContext(ctx).Browser.Process()
	return p, func() {
		require.NoError(t, process.Kill())
		stop()
	}
}

func (p *page) do(steps ...chromedp.Action[chromedp.Void]) {
	p.Helper()
	ctx, cancel := context.WithTimeout(p.ctx, 30*time.Second) // an element that stays hidden is waited for without end
	defer cancel()
	require.NoError(p, chromedp.Do(ctx, steps...))
}

// eval returns what an expression gives in the page.
func eval[T any](p *page, expression string) T {
	p.Helper()
	out, err := chromedp.Run(p.ctx, chromedp.Evaluate[T](expression))
	require.NoError(p, err, expression)
	return out
}

// later is eval for what comes later.
func later[T any](p *page, promise string) T {
	p.Helper()
	out, err := chromedp.Run(p.ctx, chromedp.Evaluate[T](promise, chromedp.EvalAwaitPromise))
	require.NoError(p, err, promise)
	return out
}

// until waits for an expression to hold, and fails with what the page shows.
func (p *page) until(expression string) {
	p.Helper()
	for end := time.Now().Add(2 * time.Minute); time.Now().Before(end); time.Sleep(100 * time.Millisecond) {
		ok, err := chromedp.Run(p.ctx, chromedp.Evaluate[bool]("!!("+expression+")"))
		if err == nil && ok {
			return
		}
	}
	p.Fatalf("waited in vain for %s on a page that shows:\n%s\nand in its side panel:\n%s", expression, p.text("body"),
		p.text(".side"))
}

// see waits for words on the page.
func (p *page) see(words string) { p.Helper(); p.within("body", words) }

// within waits for words inside an element.
func (p *page) within(css, words string) {
	p.Helper()
	p.until(fmt.Sprintf("document.querySelector(%q)?.innerText.replace(/\\s+/g, ' ').includes(%q)", css, words))
}

func (p *page) text(css string) string {
	out, err := chromedp.Run(p.ctx,
		chromedp.Evaluate[string](fmt.Sprintf("document.querySelector(%q)?.innerText ?? ''", css)))
	if err != nil {
		return err.Error()
	}
	return strings.Join(strings.Fields(out), " ")
}

func (p *page) open(path string) { p.Helper(); p.do(chromedp.Navigate(p.url + path)) }

// js is a value as it stands in a script.
func js(v any) string {
	data, _ := json.Marshal(v)
	return string(data)
}

// click clicks an element once it is there and stands still.
func (p *page) click(css string) {
	p.Helper()
	p.until(fmt.Sprintf("document.querySelector(%q) && !document.querySelector(%q).disabled", css, css))
	later[bool](p, fmt.Sprintf(`new Promise((still) => {
		const look = (was) => setTimeout(() => {
			const now = JSON.stringify(document.querySelector(%q)?.getBoundingClientRect())
			now === was ? still(true) : look(now)
		}, 17)
		look() })`, css))
	p.touches++
	p.do(chromedp.Click(css))
}

// press clicks the button or link that says exactly these words.
func (p *page) press(words string) {
	p.Helper()
	find := fmt.Sprintf("[...document.querySelectorAll('button, a')].find((b) => b.innerText.trim().split('\\n')[0] "+
		"=== %q && !b.disabled)", words)
	p.until(find)
	p.touches++
	eval[any](p, find+".click()")
}

// key presses a key on the page.
func (p *page) key(keys string) { p.Helper(); p.do(chromedp.KeyEvent(keys)) }

// fill puts text into a field at once, in place of what it holds.
func (p *page) fill(css, text string) {
	p.Helper()
	p.until(fmt.Sprintf("document.querySelector(%q)", css))
	eval[any](p, fmt.Sprintf("document.querySelector(%q).focus(), document.querySelector(%q).select()", css, css))
	p.letters, p.touches = p.letters+len(text), p.touches+1
	_, err := chromedp.Call(p.ctx, input.InsertText, input.InsertTextParams{Text: text})
	require.NoError(p, err)
}

func (p *page) signIn(who demo.Person) { p.Helper(); p.open("/sign-in"); p.signInHere(who) }

// signInHere signs in on the page that stands there, without loading it anew.
func (p *page) signInHere(who demo.Person) {
	p.Helper()
	p.fill("#email", who.Email)
	p.fill("#password", demo.Password)
	p.press("Sign in")
	p.see("Sign out")
}

func (p *page) signOut() {
	p.Helper()
	p.press("Sign out")
	p.see("A training record and a teaching aid")
}

// mine opens what a person sets for themselves, in their account.
func (p *page) mine(what string) {
	p.Helper()
	p.click("[data-action=account]")
	p.click("main [data-action=" + what + "]")
}

// among chooses one of many by its words: it stands in sight, or is found by
// typing.
func (p *page) among(row, words string) {
	p.Helper()
	chip := fmt.Sprintf("[...document.querySelectorAll('fieldset .choices > button')].find((b) => "+
		"b.innerText.trim() === %q)", words)
	p.until("document.querySelector('fieldset .choices > button')")
	if !eval[bool](p, "!!"+chip) {
		p.fill("input[name="+row+"]", words)
		option := fmt.Sprintf("[...document.querySelectorAll('[data-option]')].find((o) => o.innerText.trim() === %q)",
			words)
		p.until(option)
		eval[any](p, option+".click()")
	}
	p.until(chip + "?.ariaPressed === 'true' || (" + chip + "?.click(), false)")
}

// openLesson opens a lesson for a student in the interface, on an aircraft by
// its registration and type, and with other choices by their words.
func (p *page) openLesson(who demo.Person, aircraft string, choices ...string) {
	p.Helper()
	p.open("/lessons/new")
	p.among("Student", who.Name)
	p.among("Aircraft", aircraft)
	for _, c := range choices {
		p.press(c)
	}
	p.within("[data-part=preview]", "items today")
	p.press("Open the lesson")
	p.until("document.querySelector('.live h2')")
}

// rows are the ids of the lesson's items, in the order they stand.
func (p *page) rows() []string {
	p.Helper()
	return eval[[]string](p, "[...document.querySelectorAll('.row')].map((r) => r.dataset.row)")
}

// typed fills fields in turn: their selectors made of a pattern and a name.
func (p *page) typed(pattern string, pairs ...string) {
	p.Helper()
	for i := 0; i < len(pairs); i += 2 {
		p.fill(fmt.Sprintf(pattern, pairs[i]), pairs[i+1])
	}
}

// boxes fills boxes of a check by their ids.
func (p *page) boxes(pairs ...string) { p.Helper(); p.typed("[id='%s']", pairs...) }

// named fills fields by their names.
func (p *page) named(pairs ...string) { p.Helper(); p.typed("[name='%s']", pairs...) }

// slide moves a field to a value at once, as a slider or a date picker does.
func (p *page) slide(css, value string) {
	p.Helper()
	p.until(fmt.Sprintf("document.querySelector(%q)", css))
	eval[any](p,
		fmt.Sprintf("(i => { i.value = %q; i.dispatchEvent(new Event('input', {bubbles: true})) "+
			"})(document.querySelector(%q))", value, css))
}

// goTo opens an item of the lesson by its challenge.
func (p *page) goTo(challenge string) {
	p.Helper()
	find := fmt.Sprintf("[...document.querySelectorAll('.row')].find((r) => r.innerText.includes(%q))", challenge)
	p.until(find)
	eval[any](p, find+".click()")
	p.live(challenge)
}

// shot keeps a picture of what the page shows.
func (p *page) shot(dir, name string) {
	p.Helper()
	time.Sleep(250 * time.Millisecond) // fonts
	png, err := chromedp.Run(p.ctx, chromedp.CaptureScreenshot())
	require.NoError(p, err)
	require.NoError(p, os.WriteFile(filepath.Join(dir, name+".png"), png, 0o644))
}
