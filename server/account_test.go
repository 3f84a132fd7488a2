package server_test

import (
	"encoding/base32"
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/internal/onetime"
)

type accountView struct {
	Sessions []struct {
		ID, Device string
		This       bool
	}
	Second, Required, HasPin bool
	Signed                   []struct{ Subject, Student, Registration string }
}

// sets gives a JSON object of pairs of names and texts.
func sets(pairs ...string) string {
	out := map[string]string{}
	for i := 0; i < len(pairs); i += 2 {
		out[pairs[i]] = pairs[i+1]
	}
	text, _ := json.Marshal(out)
	return string(text)
}

// TestOnesOwnAccount: where one is signed in and what one signed; another
// password ends what was signed in by the old one.
func TestOnesOwnAccount(t *testing.T) {
	url := start(t)
	here, there := as(t, url, demo.Okonjo), as(t, url, demo.Okonjo)
	view := got[accountView](t, here, "GET", "/api/v1/account", "")
	require.Len(t, view.Sessions, 2)
	assert.NotEqual(t, view.Sessions[0].This, view.Sessions[1].This)
	require.NotEmpty(t, view.Signed)
	assert.Equal(t, "lesson", view.Signed[0].Subject)
	assert.NotEmpty(t, view.Signed[0].Student)
	status, text := as(t, url, demo.Solheim).call("POST", "/api/v1/account/sessions/end",
		sets("id", view.Sessions[0].ID))
	assert.Equal(t, 404, status, "another's session is nobody's: "+text)
	for _, s := range view.Sessions {
		if !s.This {
			got[any](t, here, "POST", "/api/v1/account/sessions/end", sets("id", s.ID))
		}
	}
	status, _ = there.call("GET", "/api/v1/session", "")
	assert.Equal(t, 401, status)

	there = as(t, url, demo.Okonjo)
	for body, want := range map[string]string{
		sets("password", "wrong", "next", "nine quiet herons"): "That is not your password. Nothing was " +
			"changed.",
		sets("password", demo.Password, "next", "short"):                  "at least 10 letters",
		sets("password", demo.Password, "next", "TundeOkonjo2026"):        "tried first",
		sets("password", demo.Password, "next", "administrator password"): "tried first",
	} {
		status, text := here.call("PUT", "/api/v1/account/password", body)
		assert.Equal(t, 422, status)
		assert.Contains(t, text, want)
	}
	got[any](t, here, "PUT", "/api/v1/account/password", sets("password", demo.Password, "next", "nine quiet herons"))
	got[any](t, here, "GET", "/api/v1/session", "")
	status, _ = there.call("GET", "/api/v1/session", "")
	assert.Equal(t, 401, status, "other sessions end")
	c := visitor(t, url)
	status, _ = c.call("POST", "/api/v1/session", sets("email", demo.Okonjo.Email, "password", demo.Password))
	assert.Equal(t, 401, status)
	got[any](t, c, "POST", "/api/v1/session", sets("email", demo.Okonjo.Email, "password", "nine quiet herons"))
}

// TestASecondFactor: one-time codes are set up, asked for, and serve once; a
// school may ask its chief and administrator for them.
func TestASecondFactor(t *testing.T) {
	at, _, clock := startAt(t, nil)
	url := at
	chief := as(t, url, demo.Ferreira)
	begin := func(c *client) []byte {
		made := got[struct {
			Words, URI string
			Picture    []byte
		}](t, c, "POST", "/api/v1/account/second", sets("password", demo.Password))
		assert.Contains(t, made.URI, made.Words)
		assert.True(t, strings.HasPrefix(string(made.Picture), "\x89PNG"))
		secret, err := base32.StdEncoding.WithPadding(base32.NoPadding).DecodeString(made.Words)
		require.NoError(t, err)
		return secret
	}
	code := func(secret []byte) string { return oneTimeCode(t, secret, onetime.StepAt(clock.time())) }
	in := func(c *client, who demo.Person, code string) (int, string) {
		return c.call("POST", "/api/v1/session", sets("email", who.Email, "password", demo.Password, "code", code))
	}
	got[any](t, chief, "PUT", "/api/v1/school/settings", `{"units":{},"secondFactor":true}`)
	status, text := chief.call("GET", "/api/v1/people", "")
	assert.Equal(t, 403, status, "it holds for who asks for it as well")
	assert.Contains(t, text, "set them up in your account first")
	got[any](t, as(t, url, demo.Okonjo), "GET", "/api/v1/briefing", "")
	status, _ = chief.call("PUT", "/api/v1/account/second", sets("code", "123456"))
	assert.Equal(t, 409, status, "nothing was begun")
	status, text = chief.call("POST", "/api/v1/account/second", sets("password", "guess"))
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "That is not your password")
	secret := begin(chief)
	status, text = chief.call("PUT", "/api/v1/account/second", sets("code", "000000"))
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "not the code that the authenticator shows now")
	got[any](t, chief, "PUT", "/api/v1/account/second", sets("code", code(secret)))
	got[any](t, chief, "GET", "/api/v1/people", "")
	status, _ = chief.call("POST", "/api/v1/account/second/end", sets("password", demo.Password))
	assert.Equal(t, 409, status, "the school asks for it")

	c := visitor(t, url)
	status, text = in(c, demo.Ferreira, "")
	assert.Equal(t, 401, status)
	assert.Contains(t, text, "Now the code that your authenticator shows.")
	assert.Contains(t, text, `"location":"body.code"`)
	status, _ = in(c, demo.Ferreira, code(secret))
	assert.Equal(t, 422, status, "the code that set it up is used")
	clock.pass(40 * time.Second)
	status, text = in(c, demo.Ferreira, code(secret))
	require.Equal(t, 200, status, text)
	status, _ = in(visitor(t, url), demo.Ferreira, code(secret))
	assert.Equal(t, 422, status, "a code serves once")
	clock.pass(time.Hour)
	last := 0
	for range 9 {
		last, _ = in(visitor(t, url), demo.Ferreira, "000000")
	}
	assert.Equal(t, 429, last, "codes are not guessed one after the other")
}

// TestComingBackToAnAccount: by a code that the school gives out, once; what
// signed in beside the password is gone, and another school's people are its own.
func TestComingBackToAnAccount(t *testing.T) {
	at, _, clock := startAt(t, nil)
	admin := as(t, at, demo.Whitlock)
	lost := as(t, at, demo.Quist)
	got[any](t, lost, "PUT", "/api/v1/session/pin", sets("password", demo.Password, "pin", "402817"))
	made := got[invited](t, admin, "POST", "/api/v1/people/"+demo.Quist.ID+"/recovery", "")
	recover := func(code, password string) (int, string) {
		return visitor(t, at).call("POST", "/api/v1"+made.Path, sets("code", code, "password", password))
	}
	status, text := recover("WRONGCODE1", "nine quiet herons")
	assert.Equal(t, 404, status)
	assert.Contains(t, text, "do not open an account")
	status, _ = recover(made.Code, "short")
	assert.Equal(t, 422, status)
	c := visitor(t, at)
	session := got[struct {
		Name   string
		HasPin bool
	}](t, c, "POST", "/api/v1"+made.Path, sets("code", strings.ToLower(made.Code), "password", "nine quiet herons"))
	assert.Equal(t, demo.Quist.Name, session.Name)
	assert.False(t, session.HasPin)
	status, _ = lost.call("GET", "/api/v1/session", "")
	assert.Equal(t, 401, status)
	status, _ = recover(made.Code, "ten quiet herons")
	assert.Equal(t, 404, status, "it serves once")
	made = got[invited](t, admin, "POST", "/api/v1/people/"+demo.Quist.ID+"/recovery", "")
	clock.pass(25 * time.Hour)
	status, _ = recover(made.Code, "ten quiet herons")
	assert.Equal(t, 404, status, "and for a day")
	status, _ = visitor(t, at).call("POST", "/api/v1/recover/"+demo.Okonjo.ID,
		sets("code", "", "password", "ten quiet herons"))
	assert.Equal(t, 422, status)
	status, text = visitor(t, at).call("POST", "/api/v1/recover/"+demo.Okonjo.ID,
		sets("code", "ANYTHING12", "password", "ten quiet herons"))
	assert.Equal(t, 404, status, "nobody asked for one: "+fmt.Sprint(text))
}

// oneTimeCode is what an authenticator with a secret shows at a step.
func oneTimeCode(t testing.TB, secret []byte, step int64) string {
	code, err := onetime.Code(secret, step)
	require.NoError(t, err)
	return code
}
