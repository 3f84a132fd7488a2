package e2e_test

import (
	"context"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"jetprimer/core/recorder"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/exchange"
)

// TestTheChiefFindsWhoIsStuck: on the sheet, with what stands in the way and the
// lessons behind it; books what is proposed, and is told of what it meets.
func TestTheChiefFindsWhoIsStuck(t *testing.T) {
	t.Parallel()
	url, d := serveSchool(t)
	owner, err := pgx.Connect(context.Background(), d.OwnerURL)
	require.NoError(t, err)
	defer owner.Close(context.Background())
	_, err = owner.Exec(context.Background(), "update courses set met = '[25,25,25,25,25,24]' where student_id = $1",
		demo.Lindqvist.ID)
	require.NoError(t, err)
	p := browse(t, url, 1280, 800)
	p.signIn(demo.Ferreira)
	p.open("/school")
	p.see("1 stuck")
	p.click("[data-sort=stuck]")
	p.until("document.querySelector('[data-student]').dataset.student === '" + demo.Lindqvist.ID + "'")
	eval[bool](p,
		"document.querySelector(\"[data-student='"+demo.Lindqvist.ID+
			"'] [data-cell='3']\").dispatchEvent(new PointerEvent('pointerdown', {bubbles: true}))")
	p.within("[data-part=told]", "Kofi Lindqvist")
	p.click("[data-student='" + demo.Lindqvist.ID + "']")
	p.within("[data-part=readiness]", "stand in the way")
	p.within("[data-part=forecast]", "it takes 8")
	p.until("document.querySelectorAll('[data-practise]').length > 3")
	p.click("[data-element] .history:enabled")
	p.until("document.querySelector('.shown a[href$=\"/debrief\"]')")

	day := schooltest.Day.AddDate(0, 0, 8)
	for day.Weekday() != time.Monday {
		day = day.AddDate(0, 0, 1)
	}
	p.open("/schedule?by=student&from=" + day.Format(time.DateOnly))
	p.click("[data-action=propose]")
	kofi := "[data-proposed='" + demo.Lindqvist.ID + "']"
	p.until("document.querySelector(" + js(kofi) + ")")
	p.click(kofi + " [data-action=book-proposed]")
	p.until("document.querySelector(\"[data-line='" + demo.Lindqvist.ID + "'] [data-planned]\")")
	at := eval[string](p,
		"document.querySelector(\"[data-line='"+demo.Lindqvist.ID+"'] [data-planned]\").innerText.slice(0, 5)")
	on := eval[string](p,
		"document.querySelector(\"[data-line='"+demo.Lindqvist.ID+
			"'] [data-planned]\").closest('[data-day]').dataset.day")
	p.plan(demo.Lindqvist, "QZ-AAB Alder 110", on, at, "once")
	p.see("Kofi Lindqvist with")

	p.open("/school")
	p.click("[data-action=outlook]")
	p.within("[data-part=none]", "Nothing can be told yet")
}

// TestARecorderFileBecomesACheck: its columns are found, its run-up stands beside what
// was typed, and the instructor takes it into the lesson.
func TestARecorderFileBecomesACheck(t *testing.T) {
	t.Parallel()
	url, d := serveSchool(t)
	typ, _ := d.Catalog.Type("alder-110")
	file := filepath.Join(t.TempDir(), "flight.csv")
	out, err := os.Create(file)
	require.NoError(t, err)
	_, err = exchange.WriteRecording(out,
		recorder.Make(typ, recorder.Making{Seed: 2, Interval: 0.5, Noise: 0.001, RunUps: 1}).Track, typ)
	require.NoError(t, err)
	require.NoError(t, out.Close())
	p := browse(t, url, 768, 1024)
	p.signIn(demo.Okonjo)
	p.open("/aircraft/QZ-AAC")
	p.click("[data-action=recorder]")
	p.see("Drop the recorder’s file here")
	p.do(chromedp.SetUploadFiles("input[type=file]", []string{file}))
	p.see("One run-up was found.")
	magneto := "[data-check=magneto]"
	p.within(magneto, "Within limits")
	p.within(magneto, "typed it was out of limits")
	p.until("document.querySelector('[data-runup] svg path')")
	p.click("[data-take=magneto]")
	p.within(magneto, "taken into the lesson")
	p.until("!document.querySelector('[data-take=magneto]')")
	rubbish := filepath.Join(t.TempDir(), "rubbish.csv")
	require.NoError(t, os.WriteFile(rubbish, []byte("no recording\n"), 0o600))
	p.do(chromedp.SetUploadFiles("input[type=file]", []string{rubbish}))
	p.see("has no line of names with numbers behind it")
}
