package mail_test

import (
	"context"
	"io"
	"mime"
	"mime/quotedprintable"
	"net"
	netmail "net/mail"
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/form"
	"jetprimer/internal/parsertest"
	"jetprimer/mail"
)

func open(t *testing.T, url, from string) *mail.Sender {
	server, err := mail.ParseServer(url, from)
	require.NoError(t, err)
	office, err := mail.Open(server, mail.Anywhere)
	require.NoError(t, err)
	return office
}

// TestASchoolsServerLiesOutside: what a school of a host names is reached on the
// internet only, whatever its name comes to, and what cannot be one is refused by
// its field.
func TestASchoolsServerLiesOutside(t *testing.T) {
	in, err := mail.StartFolder(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = in.Close() })
	sound, err := mail.ParseServer(in.URL, "a@b.example")
	require.NoError(t, err)
	for _, host := range []string{
		"127.0.0.1", "localhost", "::1", "::ffff:127.0.0.1", "10.1.2.3", "169.254.169.254", "fe80::1", "fd00::1",
		"100.64.0.1", "0.0.0.0",
	} {
		server := sound
		server.Host = host
		office, err := mail.Open(server, mail.Outside)
		require.NoError(t, err)
		err = office.Send(context.Background(), mail.Message{To: "a@b.example", Subject: "s", Text: "t"})
		assert.ErrorContains(t, err, "it is not on the internet", host)
	}
	for field, spoil := range map[string]func(*mail.Server){
		"host": func(s *mail.Server) { s.Host = "smtp.example/x" }, "port": func(s *mail.Server) { s.Port = 0 },
		"user": func(s *mail.Server) { s.Password = "a\r\nQUIT" },
		"from": func(s *mail.Server) { s.From = "the office" },
	} {
		server := sound
		spoil(&server)
		var input form.Problem
		require.ErrorAs(t, server.Check(), &input)
		assert.Equal(t, field, input.Field)
	}
}

// TestALetterArrives: as it was written, whatever letters it holds; what cannot
// be sent says why, and no address smuggles a header in.
func TestALetterArrives(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "letters")
	in, err := mail.StartFolder(dir)
	require.NoError(t, err)
	t.Cleanup(func() { _ = in.Close() })
	office := open(t, in.URL, "Tarn Hollow ✈ <office@tarnhollow.example>")
	require.NoError(t, err)
	text := "Łena, your code is\n\n.\nABC\n" + strings.Repeat("long ", 60) + "\n"
	require.NoError(t,
		office.Send(context.Background(), mail.Message{
			To: "lena@tarnhollow.example", Subject: "Tarn Hollow läßt bitten", Text: text,
		}))
	files, err := filepath.Glob(filepath.Join(dir, "*.eml"))
	require.NoError(t, err)
	require.Len(t, files, 1)
	f, err := os.Open(files[0])
	require.NoError(t, err)
	defer f.Close()
	letter, err := netmail.ReadMessage(f)
	require.NoError(t, err)
	subject, err := new(mime.WordDecoder).DecodeHeader(letter.Header.Get("Subject"))
	require.NoError(t, err)
	assert.Equal(t, "Tarn Hollow läßt bitten", subject)
	assert.Equal(t, "<lena@tarnhollow.example>", letter.Header.Get("To"))
	body, err := io.ReadAll(quotedprintable.NewReader(letter.Body))
	require.NoError(t, err)
	assert.Equal(t, text, strings.ReplaceAll(string(body), "\r\n", "\n"))

	for _, bad := range []mail.Message{
		{To: "lena"}, {To: "lena@x.example\r\nBcc: all@x.example"}, {To: "a@x.example", Subject: "a\nBcc: b"},
	} {
		assert.Error(t, office.Send(context.Background(), bad), bad.To)
	}
	for _, bad := range [][2]string{
		{"", "a@b.example"}, {"http://x:25", "a@b.example"}, {"smtp://x", "a@b.example"}, {"smtp://x:25", "nobody"},
		{"smtp://x:70000", "a@b.example"},
	} {
		server, err := mail.ParseServer(bad[0], bad[1])
		if err == nil {
			_, err = mail.Open(server, mail.Anywhere)
		}
		assert.Error(t, err, bad)
	}
	gone, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	require.NoError(t, gone.Close())
	nowhere := open(t, "smtp://"+gone.Addr().String(), "a@b.example")
	assert.ErrorContains(t, nowhere.Send(context.Background(), mail.Message{To: "a@b.example"}),
		"reaching the server for letters")
}

// TestLettersGoOutOneByOne: many at once arrive each whole and each in a file of
// its own, and a stand-in that has ended takes none.
func TestLettersGoOutOneByOne(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "letters")
	in, err := mail.StartFolder(dir)
	require.NoError(t, err)
	office := open(t, in.URL, "office@tarnhollow.example")
	const many = 12
	failed := make(chan error, many)
	for i := range many {
		go func() {
			failed <- office.Send(context.Background(), mail.Message{
				To: "lena@tarnhollow.example", Subject: "code", Text: strings.Repeat("c", i+1),
			})
		}()
	}
	for range many {
		require.NoError(t, <-failed)
	}
	files, err := filepath.Glob(filepath.Join(dir, "*"))
	require.NoError(t, err)
	assert.Len(t, files, many)
	sizes := map[int64]bool{}
	for _, f := range files {
		assert.Equal(t, ".eml", filepath.Ext(f), "none is half written")
		info, err := os.Stat(f)
		require.NoError(t, err)
		sizes[info.Size()] = true
	}
	assert.Len(t, sizes, many, "each is another")
	require.NoError(t, in.Close())
	assert.Error(t,
		office.Send(context.Background(), mail.Message{To: "lena@tarnhollow.example", Subject: "code", Text: "c"}))

	cancelled, cancel := context.WithCancel(context.Background())
	cancel()
	assert.Error(t, office.Send(cancelled, mail.Message{To: "lena@tarnhollow.example"}))
}

// TestAServerThatSaysTooMuchIsLeft: one whose greeting has no end, one that never says
// anything while nobody waits any more: the line is given up, and little of it is held.
func TestAServerThatSaysTooMuchIsLeft(t *testing.T) {
	listens := func(says func(net.Conn)) string {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		require.NoError(t, err)
		t.Cleanup(func() { _ = l.Close() })
		go func() {
			for {
				c, err := l.Accept()
				if err != nil {
					return
				}
				go func() { says(c); _ = c.Close() }()
			}
		}()
		return "smtp://" + l.Addr().String()
	}
	sent := atomic.Int64{}
	endless := open(t, listens(func(c net.Conn) {
		for {
			n, err := io.WriteString(c, "220-"+strings.Repeat("welcome ", 100)+"\r\n")
			if sent.Add(int64(n)); err != nil {
				return
			}
		}
	}), "a@b.example")
	parsertest.Run(t, nil, func() {
		err := endless.Send(context.Background(), mail.Message{To: "a@b.example", Subject: "s", Text: "t"})
		assert.ErrorContains(t, err, "says more than the 262144 bytes that are heard")
	})
	silent := open(t, listens(func(c net.Conn) { _, _ = io.Copy(io.Discard, c) }), "a@b.example")
	ctx, cancel := context.WithTimeout(context.Background(), 200*time.Millisecond)
	defer cancel()
	begun := time.Now()
	assert.Error(t, silent.Send(ctx, mail.Message{To: "a@b.example", Subject: "s", Text: "t"}))
	assert.Less(t, time.Since(begun), 10*time.Second)
}

// TestErrorsTellNothingOfTheHost: neither the resolver that this machine asks nor whom a
// letter was for.
func TestErrorsTellNothingOfTheHost(t *testing.T) {
	nowhere := open(t, "smtp://smtp.nowhere.invalid:25", "a@b.example")
	err := nowhere.Send(context.Background(), mail.Message{To: "lena@tarnhollow.example", Subject: "s", Text: "t"})
	require.ErrorContains(t, err, "its name smtp.nowhere.invalid is not known on the internet")
	assert.NotContains(t, err.Error(), "lookup")
	assert.NotContains(t, err.Error(), ":53")
	assert.NotContains(t, err.Error(), "lena@")
}
