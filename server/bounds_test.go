package server_test

import (
	"bufio"
	"bytes"
	"context"
	"fmt"
	"net"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/server"
)

// Bounds of a request: what it may allocate for each byte that it sends and besides, and how
// long it may take. They are far above what any takes, and far below what grows without end.
const (
	allocatedPerByte = 60
	allocatedBesides = 48 << 20
	answeredWithin   = 8 * time.Second
)

// TestEveryRouteIsBounded: each operation that takes a body is sent ones that are too large,
// too deep, full of members and of objects, doubled and of another kind. None is answered with
// a failure of ours, and none takes more time or memory than its bytes are worth.
func TestEveryRouteIsBounded(t *testing.T) {
	at, _, clock := startAt(t, nil)
	c := as(t, at, demo.Ferreira)
	api, calls := apiOf(t), 0
	for path, methods := range api.Paths {
		for method, op := range methods {
			if len(op.RequestBody.Content) == 0 || op.OperationID == "take-school" {
				continue // the one is a file, told of below
			}
			to := path
			for _, p := range op.Parameters {
				to = strings.ReplaceAll(to, "{"+p.Name+"}", "018f0000-0000-7000-8000-00000000ffff")
			}
			for what, body := range map[string]string{
				"large":   `{"x":"` + strings.Repeat("x", 3<<20) + `"}`,
				"deep":    strings.Repeat(`{"x":`, 20_000) + "1" + strings.Repeat("}", 20_000),
				"arrays":  strings.Repeat("[", 100_000),
				"members": `{` + strings.TrimSuffix(strings.Repeat(`"x":0,`, 40_000), ",") + `}`,
				"objects": `{"events":[` + strings.TrimSuffix(strings.Repeat(`{},`, 60_000), ",") + `]}`,
				"numbers": `{"x":[` + strings.TrimSuffix(strings.Repeat(`1e999,`, 20_000), ",") + `]}`,
				"no JSON": strings.Repeat("\x00", 1000),
			} {
				var before, after runtime.MemStats
				runtime.ReadMemStats(&before)
				begun := time.Now()
				status, said := c.call(strings.ToUpper(method), to, body)
				took := time.Since(begun)
				runtime.ReadMemStats(&after)
				calls++
				assert.Less(t, status, 500, "%s %s %s: %.200s", method, path, what, said)
				assert.Less(t, took, answeredWithin, "%s %s %s", method, path, what)
				assert.Less(t, after.TotalAlloc-before.TotalAlloc, uint64(allocatedPerByte*len(body)+allocatedBesides),
					"%s %s %s", method, path, what)
				assert.Less(t, len(said), 64<<10, "%s %s %s: what is sent is not sent back", method, path, what)
				clock.pass(time.Minute) // guesses that were none keep nobody from the next
			}
		}
	}
	assert.Greater(t, calls, 400)
	status, said := c.call("PUT", "/api/v1/session/units", `{"altimeter":"hPa","altimeter":"inHg"}`)
	assert.Equal(t, 422, status, said)
	status, said = c.call("PUT", "/api/v1/session/units", `{"ALTIMETER":"hPa"}`)
	assert.Equal(t, 422, status, said)
}

// TestAStalledBodyIsLeft: whoever promises a body and sends a byte of it is left after a
// while, on every route that takes one, and by whatever way it says how long it is; what comes
// on slowly is waited for.
func TestAStalledBodyIsLeft(t *testing.T) {
	hash, err := everybodys()
	require.NoError(t, err)
	d := schooltest.Demo(t, hash)
	app, err := server.New(server.Options{
		Store: d.Store, Catalog: d.Catalog, Now: func() time.Time { return schooltest.Day.Add(11 * time.Hour) },
		Stall: time.Second,
	})
	require.NoError(t, err)
	t.Cleanup(app.Close)
	s := httptest.NewServer(app)
	t.Cleanup(s.Close)
	c := as(t, s.URL, demo.Ferreira)
	at := must(url.Parse(s.URL))
	cookies := ""
	for _, k := range c.Jar.Cookies(at) {
		cookies += k.String() + "; "
	}
	sends := func(method, path, length, begins string, then func(net.Conn)) (status int, took time.Duration) {
		line, err := net.Dial("tcp", at.Host)
		require.NoError(t, err)
		defer line.Close()
		_ = line.SetDeadline(time.Now().Add(20 * time.Second))
		begun := time.Now()
		fmt.Fprintf(line, "%s %s HTTP/1.1\r\nHost: %s\r\nContent-Type: application/json\r\nCookie: %s\r\n%s\r\n\r\n%s",
			method, path, at.Host, cookies, length, begins)
		if then != nil {
			then(line)
		}
		answer, err := http.ReadResponse(bufio.NewReader(line), nil)
		if err != nil {
			return 0, time.Since(begun) // the line was given up
		}
		_ = answer.Body.Close()
		return answer.StatusCode, time.Since(begun)
	}
	api := apiOf(t)
	var all sync.WaitGroup
	stalled := atomic.Int64{}
	for path, methods := range api.Paths {
		for method, op := range methods {
			if len(op.RequestBody.Content) == 0 {
				continue
			}
			to := path
			for _, p := range op.Parameters {
				to = strings.ReplaceAll(to, "{"+p.Name+"}", "018f0000-0000-7000-8000-00000000ffff")
			}
			for _, length := range []string{"Content-Length: 1000", "Transfer-Encoding: chunked"} {
				all.Go(func() {
					status, took := sends(strings.ToUpper(method), to, length,
						map[bool]string{true: "{", false: "1\r\n{\r\n"}[length[0] == 'C'], nil)
					stalled.Add(1)
					assert.NotContains(t, []int{200, 204}, status, path)
					assert.Less(t, status, 500, path)
					assert.Less(t, took, 10*time.Second, "%s %s %s", method, path, length)
				})
			}
		}
	}
	all.Wait()
	assert.Greater(t, stalled.Load(), int64(120))
	status, _ := sends("PUT", "/api/v1/session/units", "Content-Length: 2", "{", func(line net.Conn) {
		time.Sleep(600 * time.Millisecond)
		_, _ = line.Write([]byte("}"))
	})
	assert.Equal(t, 200, status, "what comes on is waited for")
}

// TestOnePersonDoesNotFillTheHouse: of what one person asks for at a time, only so much is
// open or held; somebody else is served meanwhile.
func TestOnePersonDoesNotFillTheHouse(t *testing.T) {
	at, _, _ := startAt(t, nil)
	greedy, other := as(t, at, demo.Brandt), as(t, at, demo.Moreau)
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	open := func(c *client) int {
		request, err := http.NewRequestWithContext(ctx, "GET", at+"/api/v1/feed/stream", nil)
		require.NoError(t, err)
		answer, err := c.Do(request)
		require.NoError(t, err)
		t.Cleanup(func() { _ = answer.Body.Close() })
		return answer.StatusCode
	}
	statuses := []int{}
	for range 15 {
		statuses = append(statuses, open(greedy))
	}
	assert.Equal(t, slices.Concat(slices.Repeat([]int{200}, 12), slices.Repeat([]int{429}, 3)), statuses)
	assert.Equal(t, 200, open(other))

	var all sync.WaitGroup
	var busy, served atomic.Int64
	for range 12 {
		all.Go(func() {
			status, _ := greedy.call("GET", "/api/v1/account/personal-data.zip", "")
			map[bool]*atomic.Int64{true: &busy, false: &served}[status == 429].Add(1)
		})
	}
	all.Wait()
	assert.Positive(t, served.Load())
	assert.Positive(t, busy.Load(), "one at a time")
	status, _ := other.call("GET", "/api/v1/account/personal-data.zip", "")
	assert.Equal(t, 200, status)

	mends := as(t, at, demo.Achterberg)
	recording := bytes.Repeat([]byte("12:00:00,1,2,3\n"), 40<<20/15)
	var refused atomic.Int64
	for range 4 {
		all.Go(func() {
			request, err := http.NewRequest("POST", at+"/api/v1/aircraft/QZ-AAA/recording", bytes.NewReader(recording))
			require.NoError(t, err)
			request.Header.Set("Content-Type", "application/octet-stream")
			answer, err := mends.Do(request)
			if err != nil { // it was told before it had sent everything
				refused.Add(1)
				return
			}
			_ = answer.Body.Close()
			if answer.StatusCode == 429 {
				refused.Add(1)
			}
			assert.Less(t, answer.StatusCode, 500)
		})
	}
	all.Wait()
	assert.Positive(t, refused.Load(), "four of 40 MB do not arrive at once")
}

// TestNothingOfAStrangersFileStays: whatever is sent to the first page without its code, as a
// form or as it is, is neither read nor left on the disk.
func TestNothingOfAStrangersFileStays(t *testing.T) {
	folder := t.TempDir()
	t.Setenv("TMPDIR", folder)
	at := start(t)
	c := visitor(t, at)
	for _, kind := range []string{"application/zip", "multipart/form-data; boundary=b"} {
		body := "--b\r\nContent-Disposition: form-data; name=\"file\"; filename=\"f\"\r\n\r\n" +
			strings.Repeat("x", 60<<20) + "\r\n--b--\r\n"
		request, err := http.NewRequest("POST", at+"/api/v1/setup/school", strings.NewReader(body))
		require.NoError(t, err)
		request.Header.Set("Content-Type", kind)
		request.Header.Set("Jetprimer-Code", uuid.NewString())
		request.Header.Set("Jetprimer-Key", "k")
		var before, after runtime.MemStats
		runtime.ReadMemStats(&before)
		answer, err := c.Do(request)
		runtime.ReadMemStats(&after)
		if err == nil { // else the line was given up before all was sent
			_ = answer.Body.Close()
			assert.Equal(t, 409, answer.StatusCode)
		}
		assert.Less(t, after.TotalAlloc-before.TotalAlloc, uint64(16<<20))
		left, err := filepath.Glob(filepath.Join(folder, "*"))
		require.NoError(t, err)
		assert.Empty(t, left)
	}
}
