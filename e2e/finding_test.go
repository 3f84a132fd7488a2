package e2e_test

import (
	"bytes"
	"context"
	"image"
	"image/color"
	"image/jpeg"
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
)

// photograph is a picture as a camera writes it: lying on its side, and saying
// how to turn it and where it was taken.
func photograph(t *testing.T) []byte {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, 400, 200))
	for x := range 400 {
		for y := range 200 {
			img.Set(x, y, color.RGBA{uint8(x), uint8(y), 90, 255})
		}
	}
	var plain bytes.Buffer
	require.NoError(t, jpeg.Encode(&plain, img, nil))
	tiff := []byte("Exif\x00\x00MM\x00\x2a\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03" +
		"\x00\x00\x00\x01\x00\x06\x00\x00\x00\x00\x00\x00" + "GPS of the ramp")
	app1 := append([]byte{0xFF, 0xE1, byte((len(tiff) + 2) >> 8), byte(len(tiff) + 2)}, tiff...)
	return append(append(append([]byte{}, plain.Bytes()[:2]...), app1...), plain.Bytes()[2:]...)
}

func one[T any](t *testing.T, d *schooltest.Database, query string, args ...any) (out T) {
	t.Helper()
	conn, err := pgx.Connect(context.Background(), d.OwnerURL)
	require.NoError(t, err)
	defer func() { _ = conn.Close(context.Background()) }()
	require.NoError(t, conn.QueryRow(context.Background(), query, args...).Scan(&out))
	return out
}

// TestAFindingWithAPictureGroundsTheAircraft: written without the school, its
// picture shrunk, upright and silent; it keeps the aircraft on the ground until
// maintenance returns it, and a lesson opened without the school meanwhile is
// kept and flagged.
func TestAFindingWithAPictureGroundsTheAircraft(t *testing.T) {
	t.Parallel()
	url, d := serveSchool(t)
	net := relayTo(t, url)
	dir := t.TempDir()
	camera, letter := filepath.Join(dir, "camera.jpg"), filepath.Join(dir, "letter.jpg")
	require.NoError(t, os.WriteFile(camera, photograph(t), 0o644))
	require.NoError(t, os.WriteFile(letter, []byte("Dear instructor"), 0o644))
	p := browseKept(t, net.url, 768, 1024)
	p.signIn(demo.Okonjo)
	p.aboard()
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	lesson := p.lessonOf()
	p.within("[data-part=outbox]", "all marks at the school")
	net.cut(true)
	p.goTo("Propeller")
	p.key("f")
	p.do(chromedp.SetUploadFiles("input[name=picture]", []string{letter}))
	p.within("form [role=alert]", "This file is no picture that the browser can read. Nothing was taken.")
	p.do(chromedp.SetUploadFiles("input[name=picture]", []string{camera}))
	p.until("document.querySelector('.el-dialog .picture img')?.naturalHeight === 400") // upright
	p.fill("textarea[name=words]", "Nick in the leading edge, 3 mm")
	p.click(".el-dialog [data-decision=grounded]")
	p.click(".el-dialog [name=told]")
	p.click("[data-option='" + demo.Achterberg.Name + "']")
	p.click("[data-action=write-finding]")
	p.closed()
	p.within("[data-part=outbox]", "and 1 picture kept on this device")
	net.cut(false)
	p.within("[data-part=outbox]", "all marks at the school")
	p.until("document.querySelector('[data-part=outbox]').innerText === 'all marks at the school'")
	var data []byte
	for len(data) == 0 {
		if one[int](t, d, "select count(*) from pictures where lesson_id = $1", lesson) == 1 {
			data = one[[]byte](t, d, "select data from pictures where lesson_id = $1", lesson)
		}
	}
	assert.NotContains(t, string(data), "Exif")
	assert.NotContains(t, string(data), "GPS")
	size, err := jpeg.DecodeConfig(bytes.NewReader(data))
	require.NoError(t, err)
	assert.Equal(t, [2]int{200, 400}, [2]int{size.Width, size.Height})

	// On the ground: refused where the school is asked, kept and flagged where it is not.
	p.open("/lessons/new")
	p.among("Student", demo.Moreau.Name)
	p.among("Aircraft", "QZ-AAA Alder 110, ■ on the ground")
	p.within("[data-part=preview]", "items today")
	p.press("Open the lesson")
	p.see("stays on the ground until it is returned: Nick in the leading edge, 3 mm")
	net.cut(true)
	p.press("Open the lesson")
	p.until("document.querySelector('.live h2')")
	second := p.lessonOf()
	p.key(" ")
	net.cut(false)
	p.within("[data-part=outbox]", "all marks at the school")
	p.open("/lessons/" + second)
	p.within("[data-part=flag]", "opened without the school while QZ-AAA stood on the ground: Nick in the leading edge")
	p.click("a.back")
	p.signOut()

	p.signInHere(demo.Achterberg)
	event := one[string](t, d, "select event_id::text from findings where lesson_id = $1", lesson)
	p.click("[data-return='" + event + "']")
	p.fill("textarea[name=return-words]", "Dressed out, within the blade's limits")
	assert.True(t, eval[bool](p, "document.querySelector('[data-action=return-aircraft]').disabled"),
		"a re-test is asked for")
	p.fill("textarea[name=return-retest]", "Ground run, 2310 rpm static, smooth")
	p.click("[data-action=return-aircraft]")
	p.until("!document.querySelector(\"[data-return='" + event + "']\")")
	p.signOut()

	p.signInHere(demo.Okonjo)
	p.openLesson(demo.Moreau, "QZ-AAA Alder 110")
	p.within("[data-part=outbox]", "all marks at the school")
}
