package e2e_test

import (
	"fmt"
	"os"
	"testing"

	"github.com/chromedp/chromedp"

	"jetprimer/demo"
)

func TestThrowaway(t *testing.T) {
	dir := "/tmp/shots"
	_ = os.MkdirAll(dir, 0o755)
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Okonjo)
	p.click("a.line[href^='/lessons/']")
	p.see("Out of limits: test again")
	fmt.Println(eval[string](p, "(s => s.scrollHeight + ' ' + s.clientHeight)(document.querySelector('.side'))"))
	p.shot(dir, "lesson")
	p.key("m")
	p.see("Keep the hours")
	p.shot(dir, "more")
	p.do(chromedp.KeyEvent("\u001b"))
	p.click("a.debrief")
	p.see("items observed")
	p.shot(dir, "debrief")
	p.do(chromedp.EmulateViewport(768, 1024))
	p.open("/today")
	p.click("a.line[href^='/lessons/']")
	p.see("Out of limits: test again")
	p.shot(dir, "lesson-tablet")
	p.do(chromedp.EmulateViewport(390, 844))
	p.shot(dir, "lesson-phone")
}
