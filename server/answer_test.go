package server_test

import (
	"bytes"
	"compress/gzip"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/lesson"
	"jetprimer/demo"
	"jetprimer/reports"
	"jetprimer/server/documents"
	"jetprimer/server/lessons"
)

// asked gives an answer as it came over the line.
func asked(c *client, path string, headers map[string]string) (*http.Response, []byte) {
	c.Helper()
	request, err := http.NewRequest("GET", c.url+path, nil)
	require.NoError(c, err)
	for name, value := range headers {
		request.Header.Set(name, value)
	}
	response, err := c.Do(request)
	require.NoError(c, err)
	defer response.Body.Close()
	body, err := io.ReadAll(response.Body)
	require.NoError(c, err)
	return response, body
}

// TestAnAnswerIsSentCompressedAndOnce: a large answer is compressed for who takes that, a
// small one is not, and what the asker has already is not sent again.
func TestAnAnswerIsSentCompressedAndOnce(t *testing.T) {
	tunde := as(t, start(t), demo.Okonjo)
	compressed := map[string]string{"Accept-Encoding": "gzip"}
	plain, body := asked(tunde, "/api/v1/library", map[string]string{"Accept-Encoding": "identity"})
	assert.Empty(t, plain.Header.Get("Content-Encoding"))
	small, smallBody := asked(tunde, "/api/v1/library", compressed)
	require.Equal(t, "gzip", small.Header.Get("Content-Encoding"))
	assert.Less(t, len(smallBody), len(body)/2)
	unpacked, err := gzip.NewReader(bytes.NewReader(smallBody))
	require.NoError(t, err)
	same, err := io.ReadAll(unpacked)
	require.NoError(t, err)
	assert.Equal(t, string(body), string(same))
	feed, _ := asked(tunde, "/api/v1/feed?after=9999999", compressed)
	assert.Empty(t, feed.Header.Get("Content-Encoding"), "one packet either way")

	tag := plain.Header.Get("ETag")
	require.NotEmpty(t, tag)
	assert.Equal(t, tag, small.Header.Get("ETag"))
	again, nothing := asked(tunde, "/api/v1/library", map[string]string{"If-None-Match": tag})
	assert.Equal(t, 304, again.StatusCode)
	assert.Empty(t, nothing)
	other, _ := asked(tunde, "/api/v1/today", map[string]string{"If-None-Match": tag})
	assert.Equal(t, 200, other.StatusCode)
	refused, told := asked(visitor(t, tunde.url), "/api/v1/library", map[string]string{"If-None-Match": tag})
	assert.Equal(t, 401, refused.StatusCode, "who may not ask is not told that nothing has changed")
	assert.Empty(t, refused.Header.Get("ETag"))
	assert.Contains(t, string(told), "Sign in")
}

// TestALessonIsOpenedOnAWeakSignal: a device that opened a lesson, and has the desk of its
// type, is sent under 15 kB, and what it is not sent is what it has.
func TestALessonIsOpenedOnAWeakSignal(t *testing.T) {
	tunde := as(t, start(t), demo.Okonjo)
	running := ask[reports.Today](tunde, "GET", "/today", "", 200).Running
	require.NotEmpty(t, running)
	for _, l := range running {
		path := "/api/v1/lessons/" + l.ID
		var all, rest lessons.LessonView
		_, whole := asked(tunde, path, nil)
		require.NoError(t, json.Unmarshal(whole, &all))
		kept, fresh := all.Events[:len(all.Events)-20], all.Events[len(all.Events)-20:]
		lean, body := asked(tunde, fmt.Sprintf("%s?have=%s&kit=%s", path, have(kept), all.KitHash),
			map[string]string{"Accept-Encoding": "gzip"})
		require.Equal(t, 200, lean.StatusCode)
		assert.Less(t, len(body), 15_000, "bytes over the line")
		unpacked, err := gzip.NewReader(bytes.NewReader(body))
		require.NoError(t, err)
		require.NoError(t, json.NewDecoder(unpacked).Decode(&rest))
		assert.Nil(t, rest.Book)
		assert.Nil(t, rest.Kit)
		assert.Nil(t, rest.State)
		assert.Equal(t, fresh, rest.Events)
		assert.Equal(t, len(all.Events), rest.Count)

		_, text := asked(tunde, "/api/v1/desk/"+all.Book.Type.ID, nil)
		var desk documents.DeskView
		require.NoError(t, json.Unmarshal(text, &desk))
		assert.Equal(t, desk.Kit.Hash, all.KitHash, "the desk of the day has the kit of a lesson of the day")
		_, other := asked(tunde, path+"?have=another:900&kit=none", nil)
		assert.Equal(t, len(whole), len(other), "what somebody else has is sent")
		for _, bad := range []string{"tablet", ":3", "tablet:", "tablet:0", "tablet:99999999999999999999"} {
			refused, told := asked(tunde, path+"?have="+bad, nil)
			assert.Equal(t, 422, refused.StatusCode, bad)
			assert.Contains(t, string(told), "have", bad)
		}
	}
}

// have is what a device with those events says it has.
func have(events []lesson.Event) string {
	last := map[string]int64{}
	for _, e := range events {
		last[e.Device] = max(last[e.Device], e.Seq)
	}
	var all []string
	for device, seq := range last {
		all = append(all, fmt.Sprintf("%s:%d", device, seq))
	}
	return strings.Join(all, "&have=")
}
