package mail

import (
	"fmt"
	"io"
	"net"
	"os"
	"path/filepath"
	"sync/atomic"
	"time"

	"github.com/emersion/go-smtp"
)

// Folder takes letters as an SMTP server does, on this machine only, and keeps
// each as a file in a folder instead of sending it on.
type Folder struct {
	dir    string
	server *smtp.Server
	// URL is what Open takes.
	URL string
	n   atomic.Int64
}

// StartFolder begins to take letters into a folder, which is made when missing.
func StartFolder(dir string) (*Folder, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("making the folder for letters: %w", err)
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return nil, fmt.Errorf("listening for letters: %w", err)
	}
	s := &Folder{dir: dir, URL: "smtp://" + listener.Addr().String()}
	s.server = smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return &taking{s}, nil }))
	s.server.Domain, s.server.MaxRecipients, s.server.MaxMessageBytes = "localhost", 1, 1<<20
	s.server.ReadTimeout, s.server.WriteTimeout = 10*time.Second, 10*time.Second
	go func() { _ = s.server.Serve(listener) }() // it ends with Close
	return s, nil
}

// Close ends it; the letters stay.
func (s *Folder) Close() error { return s.server.Close() }

// taking is one connection.
type taking struct{ *Folder }

func (taking) Reset()                               {}
func (taking) Logout() error                        { return nil }
func (taking) Mail(string, *smtp.MailOptions) error { return nil }
func (taking) Rcpt(string, *smtp.RcptOptions) error { return nil }

// Data keeps a letter: it appears once it is whole.
func (t taking) Data(r io.Reader) error {
	data, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	name := filepath.Join(t.dir, fmt.Sprintf("%s-%d.eml", time.Now().UTC().Format("20060102-150405"), t.n.Add(1)))
	if err := os.WriteFile(name+".part", data, 0o600); err != nil {
		return err
	}
	return os.Rename(name+".part", name)
}
