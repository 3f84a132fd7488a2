package e2e_test

import (
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
)

// prove drops a file into the page for auditors.
func (p *page) prove(file string) {
	p.Helper()
	p.until("document.querySelector('input[type=file]')")
	p.do(chromedp.SetUploadFiles("input[type=file]", []string{file}))
}

// TestARecordIsProvedByAnybody: exported by a button and by the command line;
// proved by the command line without a database and by the page without a
// sign-in, which sends nothing.
func TestARecordIsProvedByAnybody(t *testing.T) {
	t.Parallel()
	url, d := serveSchool(t)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Okonjo)
	p.click("details.past summary")
	p.click("details.past a.line")
	p.until("document.querySelector('[data-part=strip] svg')")
	lesson := p.lessonOf()
	file := p.download("[data-action=export-record]")
	sheet := pdfText(t, p.download("[data-action=grade-sheet]"))
	for _, words := range []string{
		"Grade sheet, ", "with Tunde Okonjo", "What was not right at once", "Tunde Okonjo signed",
		"head of the school's chain: seal ", "A training record, not an approved checklist.",
	} {
		assert.Contains(t, sheet, words)
	}
	cmd := exec.Command(program, "export-record", "--school", demo.SchoolID, "--lesson", lesson)
	cmd.Env = append(os.Environ(), "JETPRIMER_DATABASE="+d.AppURL, "JETPRIMER_SECRET="+schooltest.Secret)
	own, err := cmd.Output()
	require.NoError(t, err)

	dir := t.TempDir()
	good, bad, letter := filepath.Join(dir, "good.json"), filepath.Join(dir, "bad.json"), filepath.Join(dir,
		"letter.json")
	require.NoError(t, os.WriteFile(good, file, 0o644))
	require.NoError(t, os.WriteFile(bad, bytes.Replace(file, []byte("Tunde"), []byte("Tunda"), 1), 0o644))
	require.NoError(t, os.WriteFile(letter, []byte(`{"dear":"auditor"}`), 0o644))
	verify := func(in []byte, args ...string) (string, int) {
		cmd := exec.Command(program, append([]string{"verify"}, args...)...)
		cmd.Stdin = bytes.NewReader(in)
		out, _ := cmd.CombinedOutput()
		return string(out), cmd.ProcessState.ExitCode()
	}
	said, code := verify(nil, good)
	assert.Zero(t, code)
	assert.Regexp(t,
		`^lesson of .* with Tunde Okonjo in QZ-.*: signed by Tunde Okonjo on .* \(seal \d+, key [0-9a-f]{16}, \d+ events, rules .*\)\n$`, said)
	said, code = verify(own, "-")
	assert.Zero(t, code, said)
	said, code = verify(nil, bad)
	assert.Equal(t, 1, code)
	assert.Contains(t, said, "the record is not as the school signed it")
	said, code = verify(nil, letter)
	assert.Equal(t, 1, code)
	assert.Contains(t, said, "this is no record of a lesson")
	said, code = verify(own, "-", "--key", "0000000000000000")
	assert.Equal(t, 1, code)
	assert.Contains(t, said, "not with 0000000000000000")

	p.signOut()
	p.press("Verify a record that was exported")
	p.until("document.querySelector('input[type=file]')")
	eval[any](p,
		"window.fetch = ((f) => (...a) => { if (!String(a[0]?.url ?? a[0]).includes('/assets/')) (window.asked ??= "+
			"[]).push(String(a[0]?.url ?? a[0])); return f(...a) })(window.fetch)")
	p.prove(good)
	p.within("[data-part=proved]", "Proved: as it was signed")
	p.within("[data-part=proved]", "Tunde Okonjo signed on")
	p.prove(bad)
	p.within("[data-part=not-proved]", "the record is not as the school signed it")
	p.prove(letter)
	p.within("[data-part=not-proved]", "this is no record of a lesson")
	assert.Equal(t, 0, eval[int](p, "(window.asked ?? []).length"), "nothing is sent anywhere")
}

// TestARecordIsShared: by link and code, for a time; who looked is seen, and it
// is withdrawn at will. An examiner sees what is shared with them.
func TestARecordIsShared(t *testing.T) {
	t.Parallel()
	url, _ := serveSchool(t)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Petrescu)
	p.within("[data-part=shared]", demo.Brandt.Name)
	p.signOut()
	p.signIn(demo.Moreau)
	p.click("[data-action=share-record]")
	p.fill("[name=share-whom]", "Examiner Ionescu")
	p.click("[data-action=share]")
	p.within("[data-part=link-and-code]", "the code is shown this once")
	code := p.text("[data-code]")
	path := eval[string](p, "new URL(document.querySelector('[data-link]').innerText).pathname")

	o := browse(t, url, 390, 844)
	look := func(code string) {
		o.open(path)
		o.fill("[name=look-name]", "E. Ionescu")
		o.fill("[name=look-code]", code)
		o.press("Look at it")
	}
	look("WRONGCODE1")
	o.see("This link and code do not open a record")
	look(code)
	o.see(demo.Moreau.Name)
	o.within("[data-part=readiness]", "stand in the way")
	record := o.download("[data-record]")
	assert.Contains(t, string(record), `"kind":"jetprimer-record"`)

	p.open("/students/" + demo.Moreau.ID)
	p.click("[data-action=share-record]")
	p.see("E. Ionescu looked at the record")
	p.click("[data-action=withdraw]")
	p.see("withdrawn")
	look(code)
	o.see("This link and code do not open a record")
}
