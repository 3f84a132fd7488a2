package e2e_test

import (
	"bufio"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/mail"
)

// empty runs the program on an empty database, and returns where, with the
// one-time code that it prints.
func empty(t *testing.T) (url, code string) {
	t.Helper()
	d := schooltest.New(t)
	cmd := exec.Command(program, "serve", "--listen", "127.0.0.1:0")
	cmd.Env = append(os.Environ(), "JETPRIMER_DATABASE="+d.AppURL, "JETPRIMER_SECRET="+schooltest.Secret)
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	r := &running{cmd: cmd}
	t.Cleanup(func() { r.stop(os.Interrupt) })
	printed := bufio.NewScanner(out)
	for printed.Scan() {
		if found := regexp.MustCompile(`at (http://\S+)/setup with the one-time code (\S+)`).FindStringSubmatch(printed.Text()); found != nil {
			return found[1], found[2]
		}
	}
	t.Fatal("the program printed no code")
	return "", ""
}

// TestASchoolIsMadeFromTheCommandLine: beside another, from a file; what cannot
// be is named with its field, and nothing is made.
func TestASchoolIsMadeFromTheCommandLine(t *testing.T) {
	t.Parallel()
	d := demoSchool(t)
	create := func(file string) (string, error) {
		cmd := exec.Command(program, "school", "create", "-")
		cmd.Env = append(os.Environ(), "JETPRIMER_DATABASE="+d.AppURL, "JETPRIMER_SECRET="+schooltest.Secret)
		cmd.Stdin = strings.NewReader(file)
		out, err := cmd.CombinedOutput()
		return string(out), err
	}
	const file = `{"name": "Fen Row Flying", "timeZone": "Europe/Dublin", "units": {}, "chief": {"name": "Nell Abara", "email": "nell@fenrow.example", "password": ""},
		"bases": [{"id": "XFRW", "name": "Fen Row", "elevationFt": 61, "variationDegEast": 0, "runways": [{"name": "09", "headingDegMagnetic": 92, "lengthM": 700, "surface": "grass"}]}],
		"aircraft": [{"registration": "QZ-AAA", "type": "alder-110", "base": "XFRW"}],
		"students": [{"name": "Ode Finch", "email": "ode@fenrow.example", "learns": {"type": "alder-110", "startedOn": "2026-11-24"}}]}`
	out, err := create(strings.Replace(file, `"lengthM": 700`, `"lengthM": 7`, 1))
	assert.ErrorContains(t, err, "exit status 2")
	assert.Contains(t, out, "bases[0].runways[0].lengthM must be from 20")
	assert.Equal(t, 1, one[int](t, d, "select count(*) from schools"))
	out, err = create(file)
	require.NoError(t, err, out)
	assert.Regexp(t,
		`Nell Abara signs in by nell@fenrow.example with the password \S{16}\nOde Finch comes in at /join/\S+ with the code \S{10}`, out)
	out, err = create(file)
	assert.ErrorContains(t, err, "exit status 2", "the address belongs to somebody here")
	assert.Contains(t, out, "chief.email")
	assert.Equal(t, 2, one[int](t, d, "select count(*) from schools"))
}

// pick chooses an option of a searchable select by its words.
func (p *page) pick(name, words string) {
	p.Helper()
	p.fill("[name='"+name+"']", words)
	option := "[...document.querySelectorAll('[data-option]')].find((o) => o.innerText.trim() === " + js(words) + ")"
	p.until(option)
	eval[any](p, option+".click()")
}

// TestFromNothingToTheFirstLesson: the first page makes a school in one sitting;
// its first student comes in by link and code on a browser of their own; the
// first lesson is opened, and no file was touched.
func TestFromNothingToTheFirstLesson(t *testing.T) {
	t.Parallel()
	url, code := empty(t)
	p := browse(t, url, 1280, 800)
	p.open("/")
	p.see("Begin a school")
	p.named("setup-code", code, "school-name", "Fen Row Flying", "chief-name", "Nell Abara", "chief-email",
		"nell@fenrow.example", "chief-password", "seven slow herons",
		"base-id-0", "xfrw", "base-name-0", "Fen Row", "base-elevation-0", "61", "base-variation-0", "-2.5",
		"runway-0-0", "12", "heading-0-0", "92", "length-0-0", "700", "registration-0", "qz-fra",
		"student-name-0", "Ode Finch", "student-email-0", "ode@fenrow.example")
	p.pick("school-zone", "Europe/Dublin")
	p.pick("aircraft-type-0", "Sorrel 100")
	p.pick("student-type-0", "Sorrel 100")
	p.press("Begin the school")
	p.within("[role=alert]", "Base 1, runway 1, heading: is 92 degrees, and the runway is called 12.")
	p.named("runway-0-0", "09")
	p.press("Begin the school")
	p.see("Fen Row Flying has begun")
	welcome := p.text("[data-part=welcome]")
	found := regexp.MustCompile(`(/join/\S+) (\S+)$`).FindStringSubmatch(welcome)
	require.NotNil(t, found, welcome)

	ode := browse(t, url, 390, 844)
	ode.open(found[1])
	ode.named("join-code", strings.ToLower(found[2]))
	ode.press("Go on")
	ode.see("Ode Finch, student. You sign in by ode@fenrow.example.")
	ode.named("join-password", "kites over reeds", "join-again", "kites over reeds")
	ode.press("Come in")
	ode.see("Sign out")
	assert.True(t, eval[bool](ode, "document.documentElement.scrollWidth <= innerWidth"))

	p.press("Go on to Today")
	p.see("Waits for you")
	p.openLesson(demo.Person{Name: "Ode Finch"}, "QZ-FRA Sorrel 100")
	p.key(" ")
	p.within("[data-part=outbox]", "all marks at the school")
}

// comesIn takes an invitation on a browser of its own.
func comesIn(t *testing.T, url, link, code, password string) *page {
	t.Helper()
	p := browse(t, url, 1280, 800)
	p.open(link[strings.Index(link, "/join/"):])
	p.named("join-code", code)
	p.press("Go on")
	p.named("join-password", password, "join-again", password)
	p.press("Come in")
	p.see("Sign out")
	return p
}

// invite invites somebody, and returns the link and code that were shown.
func (p *page) invite(name, email string, roles ...string) (link, code string) {
	p.Helper()
	p.open("/people")
	p.click("[data-action=invite]")
	p.named("member-name", name, "member-email", email)
	p.click("[data-role=student]")
	for _, role := range roles {
		p.click("[data-role=" + role + "]")
	}
	p.click("[data-action=save-member]")
	p.until("document.querySelector('[data-code]')")
	return p.text("[data-link]"), p.text("[data-code]")
}

// TestASchoolDescribesItsOwnType: from an empty database, on three browsers: the
// chief begins the school and invites an instructor, describes a type from a
// page of its handbook and makes its list; the instructor holds every number to
// its page; the first lesson on it is marked, signed and acknowledged.
func TestASchoolDescribesItsOwnType(t *testing.T) {
	t.Parallel()
	url, code := empty(t)
	p := browse(t, url, 1280, 800)
	p.open("/")
	p.see("Begin a school")
	p.named("setup-code", code, "school-name", "Fen Row Flying", "chief-name", "Nell Abara", "chief-email",
		"nell@fenrow.example", "chief-password", "seven slow herons",
		"base-id-0", "xfrw", "base-name-0", "Fen Row", "base-elevation-0", "61", "base-variation-0", "-2.5",
		"runway-0-0", "09", "heading-0-0", "92", "length-0-0", "700", "registration-0", "qz-fra", "student-name-0",
		"Ode Finch", "student-email-0", "ode@fenrow.example")
	p.pick("school-zone", "Europe/Dublin")
	p.pick("aircraft-type-0", "Alder 110")
	p.pick("student-type-0", "Alder 110")
	p.press("Begin the school")
	p.see("Fen Row Flying has begun")
	found := regexp.MustCompile(`(/join/\S+) (\S+)$`).FindStringSubmatch(p.text("[data-part=welcome]"))
	require.NotNil(t, found)
	ode := comesIn(t, url, found[1], found[2], "kites over reeds")
	link, once := p.invite("Tor Lund", "tor@fenrow.example", "instructor")
	second := comesIn(t, url, link, once, "geese in october")

	p.open("/lists/alder-110")
	p.click("[data-action=describe-type]")
	p.named("name", "Heron 2", "source", "fictional type, Heron 2 handbook, revision 1")
	p.click("[data-from='kind carburettor']")
	p.click("[data-units=temperature] button:nth-of-type(2)")
	p.click("[data-action=describe]")
	p.within("[data-part=judged]", "can be judged: 2 of 15")
	pages, err := os.ReadFile("testdata/heron-2-handbook.txt")
	require.NoError(t, err)
	part := ""
	for _, line := range strings.Split(strings.TrimSpace(string(pages)), "\n") {
		number := strings.Fields(line)
		if number[0] == "#" {
			continue
		}
		path := strings.Split(number[0], ".")
		in := path[0]
		if in == "limits" {
			in += "." + path[1]
		}
		if in != part {
			p.click("[data-at='" + in + "']")
			p.until("document.querySelector('[data-number^=\"" + in + ".\"]')")
			part = in
		}
		if len(number) == 2 {
			eval[any](p,
				fmt.Sprintf("(s => { s.value = %q; s.dispatchEvent(new Event('change', {bubbles: true})) "+
					"})(document.querySelector('[name=%q]'))", number[1], number[0]))
			continue
		}
		p.named(number[0], number[1], number[0]+":page", number[2])
	}
	// A number that cannot be is said beside it, and what the handbook leaves out is left out.
	p.click("[data-at='limits.idle']")
	p.fill("[name='limits.idle.max']", "1750")
	p.within("[data-part=impossible]", "is not below Magneto check, run-up speed: 1700 rpm on page")
	p.fill("[name='limits.idle.max']", "750")
	p.click("[data-at='limits.charging']")
	p.click("[data-leave='limits.charging.splitMax']")
	p.within("[data-part=judged]", "can be judged: 15 of 15")
	p.see("everything is there: it can be held to its pages")
	p.click("[data-action=save]")
	p.within("[data-action=save]", "Saved")
	p.click("[data-tab=pages]")
	p.see("You wrote on this version.")

	second.open("/documents/type/heron-2/1")
	second.click("[data-tab=pages]")
	second.within("[data-action=confirm-type]", "numbers are not compared yet")
	eval[any](second, "document.querySelectorAll('[data-page]').forEach((b) => b.click())")
	second.click("[data-action=confirm-type]")
	second.see("held to the pages by Tor Lund")

	p.open("/documents/type/heron-2/1")
	p.click("[data-tab=text]")
	p.click("[data-at=list]")
	p.click("[data-action=start-list]")
	p.click("[data-action=open-list]")
	p.see("Heron 2, start to shutdown")
	p.within("[data-part=faults]", "no mistake")
	p.click("[data-action=review]")
	p.fromToday()
	p.click("[data-action=approve]")
	p.within("[role=alert]", "its numbers are confirmed first")
	list := eval[string](p, "location.pathname")
	p.open("/documents/type/heron-2/1")
	p.fromToday()
	p.click("[data-action=approve]")
	p.within(".steps .here", "in force")
	p.open(list)
	p.fromToday()
	p.click("[data-action=approve]")
	p.within(".steps .here", "in force")

	p.open("/aircraft")
	p.click("[data-action=add-aircraft]")
	p.named("registration", "qz-frh")
	p.pick("aircraft-type", "Heron 2")
	p.click("[data-action=save-aircraft]")
	p.within("[data-aircraft=QZ-FRH]", "Heron 2 version 1")

	second.openLesson(demo.Person{Name: "Ode Finch"}, "QZ-FRH Heron 2")
	second.finish()
	second.fill("[name=password]", "geese in october")
	second.click("[data-action=sign]")
	second.within("[data-part=signed]", "events, rules")
	lesson := eval[string](second, "location.pathname")
	ode.open(lesson)
	ode.click("[data-self=before-moving] button[aria-label$='With a word']")
	ode.click("[data-action=self-grade]")
	ode.fill("[name=password]", "kites over reeds")
	ode.click("[data-action=answer]")
	ode.within("[data-part=answer]", "● Acknowledged")
	took := effort(p, second, ode)
	t.Logf("about %s of typing and touching", took.Round(time.Second))
	assert.Less(t, took, 10*time.Minute)
}

// TestASchoolIsTakenOver: the file of one installation is brought in on the first
// page of another, with its key; its people sign in as before.
func TestASchoolIsTakenOver(t *testing.T) {
	t.Parallel()
	d := demoSchool(t)
	file := filepath.Join(t.TempDir(), "school.zip")
	out := exec.Command(program, "export-school", file)
	out.Env = append(os.Environ(), "JETPRIMER_DATABASE="+d.AppURL, "JETPRIMER_SECRET="+schooltest.Secret)
	said, err := out.Output()
	require.NoError(t, err)
	key := regexp.MustCompile(`its key is (\S+)`).FindStringSubmatch(string(said))
	require.NotNil(t, key, string(said))
	url, code := empty(t)
	p := browse(t, url, 1280, 800)
	p.open("/")
	p.click("[data-action=moved]")
	p.named("moved-code", code, "moved-key", "not the key of this file")
	p.do(chromedp.SetUploadFiles("[name=moved-file]", []string{file}))
	p.click("[data-action=take-over]")
	p.see("the key is not the one of this file")
	p.see("Nothing of it was kept.")
	p.named("moved-key", key[1])
	p.click("[data-action=take-over]")
	p.within("[data-part=taken]", "Tarn Hollow Flying School is here")
	p.press("Sign in")
	p.signInHere(demo.Ferreira)
	p.open("/school")
	p.see("14 students")
}

// TestThePeopleOfASchool: somebody is invited, changed, let go and back, and
// found by words.
func TestThePeopleOfASchool(t *testing.T) {
	t.Parallel()
	p := browse(t, serve(t), 1280, 800)
	p.signIn(demo.Whitlock)
	p.open("/people")
	p.see("21 people")
	p.click("[data-action=invite]")
	p.named("member-name", "Vera Holm", "member-email", "vera@school.example")
	p.click("[data-role=student]")
	p.click("[data-role=instructor]")
	p.click("[data-role=examiner]")
	p.click("[data-action=save-member]")
	p.within("[data-part=link-and-code]", "the code is shown this once")
	p.within("[data-part=invitations]", "Vera Holm vera@school.example instructor, examiner until")
	p.click("[data-action=withdraw-invitation]")
	p.until("!document.querySelector('[data-part=invitations]')")
	p.named("people-search", "bo maint")
	p.see("1 person")
	p.click("[data-person='" + demo.Achterberg.ID + "']")
	p.click("[data-role=instructor]")
	p.click("[data-action=save-member]")
	p.within("[data-person='"+demo.Achterberg.ID+"']", "maintenance, instructor")
	p.click("[data-person='" + demo.Achterberg.ID + "']")
	p.click("[data-action=let-go]")
	p.see("Nobody is found.")
	p.click("[name=with-left]")
	p.click("[data-person='" + demo.Achterberg.ID + "']")
	p.click("[data-action=take-back]")
	p.within("[data-person='"+demo.Achterberg.ID+"']", "bo@tarnhollow.example")

	// The school's letters go through a server of its own.
	caught := t.TempDir()
	in, err := mail.StartFolder(caught)
	require.NoError(t, err)
	t.Cleanup(func() { _ = in.Close() })
	p.open("/place")
	p.within("[data-part=letters]", "There is no server for letters")
	p.click("[data-action=own-letters]")
	p.named("letters-host", "127.0.0.1", "letters-port", in.URL[strings.LastIndex(in.URL, ":")+1:], "letters-from",
		"the office")
	p.click("[name=letters-secured]")
	p.click("[data-action=keep-letters]")
	p.within("[data-part=letters]", "must be an address")
	p.named("letters-from", "Tarn Hollow <office@tarnhollow.example>")
	p.click("[data-action=keep-letters]")
	p.within("[data-part=letters]", "go out through 127.0.0.1, from Tarn Hollow")
	p.click("[data-action=try-letters]")
	p.within("[data-part=letters]", "A letter has gone to "+demo.Whitlock.Email)
	p.open("/people")

	// A table: a wrong row is set aside, the others are taken with their codes.
	file := filepath.Join(t.TempDir(), "people.csv")
	require.NoError(t,
		os.WriteFile(file,
			[]byte("name,email,roles,number,type,instructor,since\nNora Pell,nora@school.example,student,S-31,Alder "+
				"110,tunde@tarnhollow.example,2026-11-23\n"+
				"Ole Brask,ole,student,S-32,oak-9,bo@tarnhollow.example,23.11.2026\n"), 0o600))
	p.click("[data-action=bring-in]")
	p.until("document.querySelector('[name=table-file]')")
	p.do(chromedp.SetUploadFiles("[name=table-file]", []string{file}))
	p.within("[data-part=sum]", "people.csv: 1 new, 0 changed, 0 as they are, 1 that cannot be taken.")
	p.within("[data-line='3']", "email must be an address")
	p.within("[data-action=take-table]", "1 rows still cannot be taken")
	p.click("[data-action=all-aside]")
	p.click("[data-action=take-table]")
	p.within("[data-part=welcome]", "Nora Pell")
	p.click("[data-action=send-letters]")
	p.within("[data-part=sent]", "1 of 1 have link and code by letter.")
	letters, err := filepath.Glob(filepath.Join(caught, "*.eml"))
	require.NoError(t, err)
	require.Len(t, letters, 2)
	p.key(kb.Escape)
	p.closed()
	p.within("[data-part=invitations]", "Nora Pell nora@school.example student until")

	// An aircraft is added, gets another thing from a day on, and retires.
	p.open("/aircraft")
	p.click("[data-action=add-aircraft]")
	p.named("registration", "qz-aaz")
	p.pick("aircraft-type", "Sorrel 100")
	p.named("aircraft-hours", "12,5")
	p.click("[data-action=save-aircraft]")
	p.see("write a point, as in 4120.5")
	p.named("aircraft-hours", "12.5")
	p.click("[data-action=save-aircraft]")
	p.within("[data-aircraft=QZ-AAZ]", "QZ-AAZ Sorrel 100 version 1, at XSTB nothing beyond the type 12.5 h")
	p.click("[data-aircraft=QZ-AAZ]")
	p.click("[data-tick=rescue-parachute]")
	p.slide("[name=equipment-from]", "2031-05-01")
	p.click("[data-action=save-aircraft]")
	p.within("[data-aircraft=QZ-AAZ]", "nothing beyond the type from 1 May 2031: rescue parachute")
	p.click("[data-aircraft=QZ-AAZ]")
	p.within("[data-part=equipment-change]", "written down by Sol Whitlock")
	p.slide("[name=retired-on]", schooltest.Day.Format(time.DateOnly))
	p.click("[data-action=save-aircraft]")
	p.until("!document.querySelector('[data-aircraft=QZ-AAZ]')")
	p.click("[name=with-retired]")
	p.within("[data-aircraft=QZ-AAZ]", "retired since")
}
