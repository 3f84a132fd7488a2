package server_test

import (
	"bytes"
	"crypto/ecdsa"
	"crypto/elliptic"
	cryptorand "crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
)

// send is call with a body of its own kind and headers.
func (c *client) send(method, path, kind string, body []byte, headers ...string) (int, string) {
	c.Helper()
	r, err := http.NewRequest(method, c.url+path, bytes.NewReader(body))
	require.NoError(c, err)
	r.Header.Set("Content-Type", kind)
	for i := 0; i < len(headers); i += 2 {
		r.Header.Set(headers[i], headers[i+1])
	}
	answer, err := c.Do(r)
	require.NoError(c, err)
	defer answer.Body.Close()
	said, err := io.ReadAll(answer.Body)
	require.NoError(c, err)
	return answer.StatusCode, string(said)
}

// TestAPictureIsAPictureAndNoMore: what is none, is another, says more than it
// shows, is too large or belongs to no finding is refused with its sentence.
func TestAPictureIsAPictureAndNoMore(t *testing.T) {
	tunde := as(t, start(t), demo.Okonjo)
	ravi := as(t, tunde.url, demo.Sandoval)
	picture := func(w, h int) []byte {
		var b bytes.Buffer
		require.NoError(t, jpeg.Encode(&b, image.NewGray(image.Rect(0, 0, w, h)), nil))
		return b.Bytes()
	}
	good := picture(40, 30)
	segment := []byte{0xFF, 0xE1, 0, 8, 'E', 'x', 'i', 'f', 0, 0}
	in := func(at int, more []byte) []byte { return append(append(bytes.Clone(good[:at]), more...), good[at:]...) }
	scan, size := bytes.Index(good, []byte{0xFF, 0xDA}), bytes.Index(good, []byte{0xFF, 0xC0})
	progressive, twice := bytes.Clone(good), append(bytes.Clone(good[:len(good)-2]), good[scan:]...)
	progressive[size+1] = 0xC2
	huge := bytes.Clone(good)
	copy(huge[size+5:], []byte{0x0F, 0xFF, 0x0F, 0xFF}) // 4095 by 4095
	bad := map[string][][]byte{
		"is no JPEG picture": {[]byte("Dear school"), good[:len(good)-8], good[:3]},
		"is broken":          {append(bytes.Clone(good[:len(good)-12]), 0xFF, 0xD9)},
		"carries metadata": {
			in(2, segment), in(scan, segment), in(size, segment), in(len(good)-2, segment),
			in(2, []byte{0xFF, 0xFE, 0, 6, 'h', 'e', 'r', 'e'}), in(2, []byte{0xFF, 0xE2, 0, 6, 'M', 'P', 'F', 0}),
		},
		"must be at most 4096 pixels a side": {picture(4097, 1), huge}, "is progressive": {progressive},
		"in one scan":        {twice},
		"behind the picture": {append(bytes.Clone(good), segment...), append(bytes.Clone(good), good...)},
	}
	hash := func(data []byte) string { return fmt.Sprintf("%x", sha256.Sum256(data)) }
	lesson := uuid.Must(uuid.NewV7()).String()
	status, body := tunde.call("POST", "/api/v1/lessons/"+lesson+"/events", batch(opening(demo.Okonjo.ID),
		event(2, "finding", map[string]any{"item": "papers", "words": "torn", "pictures": []string{hash(good)}})))
	require.Equal(t, 200, status, body)
	require.NotContains(t, body, "refused")
	keep := func(data []byte, as string) (int, string) {
		return tunde.send("PUT", "/api/v1/lessons/"+lesson+"/pictures/"+as, "image/jpeg", data)
	}
	large := append(bytes.Clone(good), make([]byte, 1<<20)...)
	other := picture(50, 30)
	n := 2
	for want, all := range bad {
		for _, data := range all {
			status, body := keep(data, hash(data))
			assert.Equal(t, 422, status, "it is not looked at")
			assert.Contains(t, body, "is named by no finding of this lesson")
			n++
			status, body = tunde.call("POST", "/api/v1/lessons/"+lesson+"/events",
				batch(event(n, "finding", map[string]any{
					"item": "papers", "words": "torn", "pictures": []string{hash(data)},
				})))
			require.Equal(t, 200, status, body)
			status, body = keep(data, hash(data))
			assert.Equal(t, 422, status, want)
			assert.Contains(t, body, want)
		}
	}
	status, body = keep(good, hash(other))
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "is not that of the picture")
	status, _ = keep(large, hash(large))
	assert.Equal(t, 413, status)
	for range 2 {
		status, body = keep(good, hash(good))
		assert.Equal(t, 204, status, "once, and the same once more: "+body)
	}
	for who, want := range map[*client]int{tunde: 200, as(t, tunde.url, demo.Achterberg): 200, ravi: 404} {
		status, body := who.call("GET", "/api/v1/lessons/"+lesson+"/pictures/"+hash(good), "")
		assert.Equal(t, want, status)
		if status == 200 {
			assert.Equal(t, string(good), body)
		}
	}
	shown := got[struct {
		Findings []struct {
			Lesson   string
			Pictures []string
		}
	}](t, as(t, tunde.url, demo.Achterberg), "GET", "/api/v1/aircraft/QZ-AAA/trends", "").Findings
	require.NotEmpty(t, shown)
	assert.Equal(t, lesson, shown[0].Lesson)
	seen := []string{}
	for _, f := range shown {
		seen = append(seen, f.Pictures...)
	}
	assert.Equal(t, []string{hash(good)}, seen,
		"maintenance sees it on the aircraft's page, and nothing that was refused")
}

// TestAPinIsCountedAndBounded: what somebody would try first is no PIN; it signs,
// is counted as a password is, and another browser's person acts in no one's name.
func TestAPinIsCountedAndBounded(t *testing.T) {
	url, _, clock := startAt(t, nil)
	tunde := as(t, url, demo.Okonjo)
	set := func(pin, password string) (int, string) {
		return tunde.call("PUT", "/api/v1/session/pin", fmt.Sprintf(`{"password":%q,"pin":%q}`, password, pin))
	}
	for pin, want := range map[string]string{
		"12345": "6 to 12 digits", "12345a": "6 to 12 digits", "777777": "one digit over and over",
		"345678": "count up or down", "987654": "count up or down",
	} {
		status, body := set(pin, demo.Password)
		assert.Equal(t, 422, status, pin)
		assert.Contains(t, body, want)
	}
	status, body := set("482915", "not it")
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "The PIN is as it was.")
	status, body = set("482915", demo.Password)
	require.Equal(t, 200, status, body)
	assert.Contains(t, body, `"hasPin":true`)
	sign := func(pin string) (int, string) {
		return tunde.call("POST", "/api/v1/lessons/"+uuid.Must(uuid.NewV7()).String()+"/sign",
			fmt.Sprintf(`{"pin":%q,"eventHash":%q,"event":%q}`, pin, strings.Repeat("0", 64),
				uuid.Must(uuid.NewV7()).String()))
	}
	status, _ = sign("482915")
	assert.Equal(t, 404, status, "the PIN is right; there is no such lesson")
	for range 5 {
		status, body = sign("000000")
		assert.Equal(t, 422, status)
		assert.Contains(t, body, "That is not your PIN.")
	}
	status, body = sign("482915")
	assert.Equal(t, 429, status, "tried often")
	assert.Contains(t, body, "Too many tries.")
	status, body = tunde.call("POST", "/api/v1/lessons/"+uuid.Must(uuid.NewV7()).String()+"/sign",
		fmt.Sprintf(`{"offline":{"key":"0123456789abcdef","at":"2026-11-24T10:00:00Z","signature":"AAAA"},"eventHash":%q,"event":%q}`, strings.Repeat("0", 64), uuid.Must(uuid.NewV7()).String()))
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "of a device whose PIN is no longer yours")

	key := must(ecdsa.GenerateKey(elliptic.P256(), cryptorand.Reader))
	public := must(key.PublicKey.Bytes())
	status, body = tunde.call("PUT", "/api/v1/session/pin",
		fmt.Sprintf(`{"password":%q,"pin":"482915","device":%q}`, demo.Password,
			base64.StdEncoding.EncodeToString(public)))
	assert.Equal(t, 429, status, "the password is counted with the PIN: "+body)
	clock.pass(time.Hour)
	status, body = tunde.call("PUT", "/api/v1/session/pin",
		fmt.Sprintf(`{"password":%q,"pin":"482915","device":%q}`, demo.Password,
			base64.StdEncoding.EncodeToString(public)))
	require.Equal(t, 200, status, body)
	fingerprint := sha256.Sum256(public)
	for at, want := range map[string]string{
		"1999-11-24T10:00:00Z": "offline.at is", "2099-11-24T10:00:00Z": "offline.at is",
		"2026-11-24T11:30:00Z": "There is no such record",
	} {
		lesson, event := uuid.NewString(), uuid.Must(uuid.NewV7()).String()
		digest := sha256.Sum256([]byte(strings.Join([]string{
			"jetprimer-promise", demo.SchoolID, lesson, strings.Repeat("0", 64), event, at,
		}, "\n")))
		r, s, err := ecdsa.Sign(cryptorand.Reader, key, digest[:])
		require.NoError(t, err)
		signature := append(r.FillBytes(make([]byte, 32)), s.FillBytes(make([]byte, 32))...)
		_, body = tunde.call("POST", "/api/v1/lessons/"+lesson+"/sign",
			fmt.Sprintf(`{"offline":{"key":"%x","at":%q,"signature":%q},"eventHash":%q,"event":%q}`, fingerprint[:8],
				at, base64.StdEncoding.EncodeToString(signature), strings.Repeat("0", 64), event))
		assert.Contains(t, body, want, at)
	}
	status, body = tunde.call("POST", "/api/v1/lessons/"+uuid.NewString()+"/sign",
		fmt.Sprintf(`{"pin":"482915","eventHash":%q,"event":%q}`, strings.Repeat("0", 64), uuid.NewString()))
	assert.Equal(t, 422, status, "an id of another kind")
	assert.Contains(t, body, "body.event")

	status, body = tunde.send("GET", "/api/v1/today", "application/json", nil, "Jetprimer-For", demo.Solheim.ID)
	assert.Equal(t, 401, status)
	assert.Contains(t, body, "Somebody else has signed in with this browser since.")
	status, _ = tunde.send("GET", "/api/v1/today", "application/json", nil, "Jetprimer-For", demo.Okonjo.ID)
	assert.Equal(t, 200, status)
}
