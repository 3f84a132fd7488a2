package api

import (
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestBodyTimeBoundsTheBodyOnly: a request that is answered for longer than its
// body may take to arrive is not given up; a body that does not arrive is.
func TestBodyTimeBoundsTheBodyOnly(t *testing.T) {
	const short = 100 * time.Millisecond
	read := make(chan error, 1)
	s := httptest.NewServer(InTime(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		_, err := io.ReadAll(r.Body)
		read <- err
		select {
		case <-r.Context().Done():
			w.WriteHeader(499)
		case <-time.After(3 * short):
		}
	}), short))
	defer s.Close()
	for _, method := range []string{http.MethodGet, http.MethodPost} {
		for _, body := range []string{"", `{"password":"x"}`} {
			r, err := http.NewRequest(method, s.URL, strings.NewReader(body))
			require.NoError(t, err)
			answer, err := s.Client().Do(r)
			require.NoError(t, err)
			answer.Body.Close()
			require.NoError(t, <-read)
			assert.Equal(t, http.StatusOK, answer.StatusCode, "%s with %q", method, body)
		}
	}
	line, err := net.Dial("tcp", s.Listener.Addr().String())
	require.NoError(t, err)
	defer line.Close()
	_, err = io.WriteString(line, "POST / HTTP/1.1\r\nHost: here\r\nContent-Length: 9\r\n\r\nhalf")
	require.NoError(t, err)
	assert.ErrorContains(t, <-read, "timeout")
}
