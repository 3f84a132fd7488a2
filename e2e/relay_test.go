package e2e_test

import (
	"io"
	"net"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"
)

// relay is the network between a browser and the program: a TCP relay that can
// be cut and restored, whatever browser stands before it.
type relay struct {
	url string
	mu  sync.Mutex
	off bool
	all map[net.Conn]bool
}

// relayTo stands in front of a program.
func relayTo(t testing.TB, url string) *relay {
	t.Helper()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	r := &relay{url: "http://" + listener.Addr().String(), all: map[net.Conn]bool{}}
	t.Cleanup(func() { r.cut(true); _ = listener.Close() })
	go func() {
		for {
			near, err := listener.Accept()
			if err != nil {
				return
			}
			far, err := net.Dial("tcp", strings.TrimPrefix(url, "http://"))
			if err != nil || !r.keep(near, far) {
				_ = near.Close()
				continue
			}
			go r.pass(near, far)
			go r.pass(far, near)
		}
	}()
	return r
}

// keep remembers a connection; false when the network is cut.
func (r *relay) keep(near, far net.Conn) bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.off {
		_ = far.Close()
		return false
	}
	r.all[near], r.all[far] = true, true
	return true
}

func (r *relay) pass(to, from net.Conn) {
	_, _ = io.Copy(to, from)
	_, _ = to.Close(), from.Close()
	r.mu.Lock()
	defer r.mu.Unlock()
	delete(r.all, to)
	delete(r.all, from)
}

// cut takes the network away, or gives it back.
func (r *relay) cut(off bool) {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.off = off
	for c := range r.all {
		if off {
			_ = c.Close()
		}
	}
}
